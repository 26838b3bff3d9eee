package engine

import (
	"amvek/core/cause"
	"amvek/core/hold"
	"amvek/core/state"
	"amvek/core/thing"
)

// ProgramActor is the actor of writes by other programs, which attend to nothing.
const ProgramActor = "program"

// attending takes f, which a hand does at one property, or a step that is allowed to.
func (e *Engine) attending(s *slot, f func()) {
	e.attended = s
	f()
	e.attended = nil
}

// refused stops a command that would switch on a device that is attended only when nobody attends: rules,
// schedules, scenes, what shows through when a hold ends, and what could not be delivered before. What
// asked for it is taken away, so that nothing brings it up again later, and written down.
func (e *Engine) refused(s *slot, w why) bool {
	device := e.devices[s.ref.Device]
	if device == nil || !device.AttendedOnly || e.attended == s || !e.starts(s) {
		return false
	}
	v := s.state.Stack.Effective()
	inner := e.follow(w, cause.Entry{Kind: cause.Refused, Device: s.ref.Device, Name: s.ref.Name, Value: v})
	for e.starts(s) {
		if top := s.state.Stack.Top(); top != nil {
			s.state.Stack.Release(top.Owner)
			continue
		}
		// It stays as it is, or goes to rest where that is not known.
		stays := s.Reported
		if stays.IsNone() {
			stays = s.property.Rest()
		}
		s.state.Stack.Base = hold.Base{Value: stays, Since: e.now, Cause: inner.id}
	}
	if effective := s.state.Stack.Effective(); effective == s.Reported {
		s.state.Target, s.state.Certainty = effective, state.Confirmed
		s.state.Failure, s.state.Unreached, s.state.Stray = "", false, thing.Value{}
	}
	e.touch(s)
	return true
}

// starts reports whether the value in effect would set the device going though nobody allowed it.
func (e *Engine) starts(s *slot) bool {
	if top := s.state.Stack.Top(); top != nil && top.Unattended {
		return false
	}
	return s.property.Starts(s.Reported, s.state.Stack.Effective())
}
