package engine

import (
	"fmt"
	"time"

	"amvek/core/cause"
	"amvek/core/home"
	"amvek/core/state"
	"amvek/core/thing"
)

// disputeMemory is how long the tries of one dispute count together: who is set back again and again within it
// is in a fight that the owner should know of.
const disputeMemory = 10 * time.Minute

// policy returns how differences of a device are dealt with.
func (e *Engine) policy(id string) home.Agreement {
	if d := e.devices[id]; d != nil && d.Agreement != nil {
		return *d.Agreement
	}
	return home.Agreement{Policy: home.Believe}
}

// differs takes that a device says another value than what is in effect, and it is neither passing nor late.
func (e *Engine) differs(s *slot, v thing.Value) {
	policy := e.policy(s.ref.Device)
	switch policy.Policy {
	case home.SetAgain:
		e.setAgain(s, v, policy.Times())
	case home.Ask:
		e.openDifference(s, v, 0)
	default:
		e.changedAtDevice(s, v)
	}
}

func (e *Engine) found(s *slot, v thing.Value, note string) why {
	origin := e.origin()
	origin.Kind, origin.Value, origin.Device, origin.Name = cause.Differs, v, s.ref.Device, s.ref.Name
	origin.Note = fmt.Sprintf("It should be %s: %s", s.property.Say(s.state.Target), note)
	return why{id: e.inputEntry()}
}

// setAgain asks once more for what a device does not stay at, and tells when that was done in vain too often.
func (e *Engine) setAgain(s *slot, v thing.Value, times int) {
	st := &s.state
	if e.now.Sub(st.Disputes.Since) > disputeMemory {
		st.Disputes = state.Disputes{Since: e.now}
	}
	if st.Disputes.Count >= times {
		e.openDifference(s, v, st.Disputes.Count)
		return
	}
	st.Disputes.Count++
	w := e.found(s, v, fmt.Sprintf("set again, %d of %d.", st.Disputes.Count, times))
	e.change(s, v, w)
	e.command(s, 0, w)
}

// openDifference leaves a difference for the owner to settle.
func (e *Engine) openDifference(s *slot, v thing.Value, tries int) {
	st := &s.state
	if st.Difference != nil && st.Difference.Found == v {
		return
	}
	note := "the owner is asked."
	if tries > 0 {
		note = fmt.Sprintf("it was set again %d times in vain, the owner is told.", tries)
	}
	w := e.found(s, v, note)
	st.Difference = &state.Difference{Since: e.now, Believed: st.Target, Found: v, Cause: w.id, Tries: tries}
	st.Certainty, st.Failure, st.Unreached, st.Stray = state.Confirmed, "", false, thing.Value{}
	e.change(s, v, w)
	e.touch(s)
}

// Verbs of an InputAgree.
const (
	AgreeBelieve = "believe" // the device is right
	AgreeSet     = "set"     // it shall be as it was asked for
)

// agree takes how a hand settles an open difference.
func (e *Engine) agree(in *Input) {
	s := e.find(in.Device, in.Name)
	if s == nil || s.state.Difference == nil {
		return
	}
	found := s.state.Difference.Found
	s.state.Difference, s.state.Disputes = nil, state.Disputes{}
	origin := e.origin()
	origin.Kind, origin.Value = cause.Written, s.state.Target
	if in.Verb == AgreeBelieve {
		origin.Value = found
		e.inputEntry()
		s.state.Aim(found)
		e.handWrite(s, found, "", in.Doer.Hand(), why{})
		e.apply(s, 0, why{}) // a firm hold asks again
		return
	}
	e.inputEntry()
	e.as(s, in.Doer, false, func() { e.command(s, 0, why{}) })
}
