package engine

import (
	"fmt"

	"amvek/core/cause"
	"amvek/core/hold"
	"amvek/core/state"
	"amvek/core/thing"
)

// may says whether somebody may set a device going. It is the one place that says so for what is attended only, and every
// way to a device goes through it: a person who is there may, and so may a step that its owner has allowed to, by name.
func (e *Engine) may(device string, by cause.By, allowed bool) bool {
	return !e.AttendedOnly(device) || by.Attends() || allowed
}

// mayAsk says so for an action: one that only stops the device, or makes it known, sets nothing going.
func (e *Engine) mayAsk(device string, action *thing.Action, by cause.By, allowed bool) bool {
	return action.Role == thing.RoleStop || action.Role == thing.RoleIdentify || e.may(device, by, allowed)
}

// Forbids says why somebody may not do what an input says, before anything is done; "" where they may.
func (e *Engine) Forbids(in *Input) string {
	const reason = "%s is attended only: nobody but a person who is there may set it going."
	d := e.devices[in.Device]
	if d == nil {
		return ""
	}
	forbidden := false
	switch s := e.find(in.Device, in.Name); {
	case in.Kind == InputInvoke:
		action := e.Action(in.Device, in.Name)
		forbidden = action != nil && !e.mayAsk(in.Device, action, in.Doer, false)
	case s == nil || e.may(in.Device, in.Doer, false):
	case in.Kind == InputWrite || in.Kind == InputKeep:
		forbidden = s.property.Starts(s.Reported, in.Value)
	case in.Kind == InputAgree && in.Verb == AgreeSet:
		forbidden = s.property.Starts(s.Reported, s.state.Target)
	}
	if !forbidden {
		return ""
	}
	return fmt.Sprintf(reason, d.Title)
}

// as takes f, which somebody does at one property, or a step that may be allowed to set it going.
func (e *Engine) as(s *slot, by cause.By, allowed bool, f func()) {
	if e.may(s.ref.Device, by, allowed) {
		e.attending(s, f)
		return
	}
	f()
}

// attending takes f while somebody attends to a property.
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
