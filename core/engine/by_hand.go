package engine

import (
	"amvek/core/cause"
	"amvek/core/hold"
	"amvek/core/state"
)

func (e *Engine) writable(in *Input) *slot {
	s := e.find(in.Device, in.Name)
	if s == nil || !s.property.Writable {
		return nil
	}
	return s
}

func (e *Engine) writeByHand(in *Input) {
	s := e.writable(in)
	if s == nil || s.property.CheckSet(in.Value) != nil {
		return
	}
	e.origin().Kind = cause.Written
	e.inputEntry()
	e.as(s, in.Doer, false, func() { e.write(s, in.Value, true, in.Doer.Hand(), 0, why{}) })
}

// HandOwner is the owner of what a person keeps.
const HandOwner = "hand"

func (e *Engine) holdByHand(in *Input) {
	s := e.writable(in)
	if s == nil || s.property.Check(in.Value) != nil {
		return
	}
	e.origin().Kind = cause.Kept
	id := e.inputEntry()
	s.state.Stack.Place(hold.Hold{Owner: HandOwner, Level: hold.Hand, Value: in.Value, Since: e.now, Until: in.Until, Cause: id})
	if !in.Until.IsZero() {
		e.schedule(timer{at: in.Until, kind: timerHold, slot: s, owner: HandOwner})
	}
	e.commandAgain = s.state.Certainty == state.Failed
	e.as(s, in.Doer, false, func() { e.apply(s, 0, why{}) })
	e.commandAgain = false
}

func (e *Engine) letGo(in *Input) {
	s := e.writable(in)
	if s == nil || s.state.Stack.Find(in.Owner) == nil {
		return
	}
	e.origin().Kind = cause.LetGo
	e.inputEntry()
	s.state.Stack.Release(in.Owner)
	e.as(s, in.Doer, false, func() { e.apply(s, 0, why{}) })
}
