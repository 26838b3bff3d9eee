package engine

import (
	"time"

	"amvek/core/hold"
	"amvek/core/home"
	"amvek/core/state"
	"amvek/core/thing"
)

// Properties that exclude each other, such as the color of a lamp and its white, are one thing with several faces: at any
// moment one of them is in effect, the one with the highest hold, or else the newest. The others are aside: nothing is known
// of them and nothing is commanded, but what was written to them and who holds them waits, and shows again when what is above
// it goes.

// others calls f for each property that a property excludes.
func (e *Engine) others(s *slot, f func(other *slot)) {
	for _, name := range s.property.Excludes {
		if other := e.find(s.ref.Device, name); other != nil && other != s {
			f(other)
		}
	}
}

// rank says how much what is wanted of a property matters: the level of its hold, 0 without one, and since when. It is false
// where nothing is wanted.
func rank(s *slot) (level hold.Level, since time.Time, wanted bool) {
	if top := s.state.Stack.Top(); top != nil {
		return top.Level, top.Since, true
	}
	base := &s.state.Stack.Base
	return 0, base.Since, !base.Value.IsNone()
}

// inEffect returns which of a property and those that it excludes is in effect, and sets the others aside. Of two that are
// wanted alike it is the one that was just asked for.
func (e *Engine) inEffect(s *slot, w why) *slot {
	best := s
	level, since, wanted := rank(s)
	e.others(s, func(other *slot) {
		l, at, is := rank(other)
		if is && (!wanted || l > level || (l == level && at.After(since))) {
			best, level, since, wanted = other, l, at, true
		}
	})
	e.others(best, func(other *slot) { e.setAside(other, w) })
	return best
}

// setAside takes that a property is no longer in effect, since another that it excludes is.
func (e *Engine) setAside(s *slot, w why) {
	st := &s.state
	if st.Target.IsNone() && s.Reported.IsNone() {
		return
	}
	if st.Certainty == state.Pending {
		e.fail(s, "Something else that excludes it was set.", false)
	}
	st.Target, st.Certainty, st.Failure, st.Unreached = thing.Value{}, state.Unknown, "", false
	st.SettleUntil, st.Stray, st.Before, st.Difference, st.Interrupted = time.Time{}, thing.Value{}, thing.Value{}, nil, false
	e.change(s, thing.Value{}, w)
}

// aside reports whether a property is not in effect, since another that it excludes is.
func (e *Engine) aside(s *slot) (is bool) {
	if s.state.Target.IsNone() {
		e.others(s, func(other *slot) { is = is || !other.state.Target.IsNone() })
	}
	return is
}

// supplants takes that a device says a property's value while another was in effect that it excludes: an old state that
// arrives late, or somebody's doing at the device. It is false where nothing of the kind is so.
func (e *Engine) supplants(s *slot, v thing.Value) bool {
	var before *slot
	e.others(s, func(other *slot) {
		if !other.state.Target.IsNone() {
			before = other
		}
	})
	switch {
	case before == nil:
		return false
	case before.state.Certainty == state.Pending || e.now.Before(before.state.SettleUntil):
		return true // perhaps late: what is in effect is judged when it has settled
	case e.policy(s.ref.Device).Policy == home.SetAgain:
		e.command(before, 0, why{})
	default:
		e.changedAtDevice(s, v)
	}
	return true
}

// Aside reports whether a property is not in effect, since another that it excludes is.
func (e *Engine) Aside(ref thing.Ref) bool {
	s := e.at(ref)
	return s != nil && e.aside(s)
}
