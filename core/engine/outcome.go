package engine

import (
	"time"

	"amvek/core/state"
)

// outcome takes what became of a command.
func (e *Engine) outcome(in *Input) {
	s := e.find(in.Device, in.Name)
	if s == nil || s.state.Command != in.Command || s.state.Certainty == state.Confirmed {
		return // an action, or overtaken by a later command
	}
	switch {
	case !in.OK:
		e.fail(s, in.Reason, in.Unreached)
		if in.Unreached {
			e.retryLater(s)
		}
		if first := max(e.reached[in.Device], e.reached[e.devices[in.Device].Connection]); in.Unreached && in.Command < first {
			e.again(in.Device) // it was on its way while the device was found again
		}
	case in.Assumed:
		s.state.Certainty = state.Assumed
		e.change(s, s.state.Target, why{id: s.state.Asked, depth: s.state.Depth})
		e.done(s, why{id: s.state.Asked, depth: s.state.Depth})
	}
}

// A command that reached nobody though its connection is up is tried again, after this long and then twice as long each time, so
// often at most. Where the connection is down, all that it missed is told once it is up.
const (
	firstRetry  = 2 * time.Second
	retriesMost = 5
)

// retryLater plans to try a command again that reached nobody.
func (e *Engine) retryLater(s *slot) {
	if s.missed >= retriesMost {
		return
	}
	s.retryAt = e.now.Add(firstRetry << s.missed)
	s.missed++
	e.schedule(timer{at: s.retryAt, kind: timerRetry, slot: s})
}

// retry tries a command again that reached nobody, unless its way is known to be lost.
func (e *Engine) retry(s *slot) {
	s.retryAt = time.Time{}
	d := e.devices[s.ref.Device]
	if st := &s.state; st.Certainty != state.Failed || !st.Unreached || d == nil || e.lost[d.Connection] || (s.driver != nil && !s.driver.free()) {
		return
	}
	asked := s.state.Asked
	e.command(s, 0, why{id: asked, depth: s.state.Depth, silent: true})
	s.state.Asked = asked // what comes of it follows from what was asked for at first
}

// again commands what could not be delivered to a device.
func (e *Engine) again(device string) {
	slots := e.byDevice[device]
	for i := range slots {
		s := &slots[i]
		if s.state.Certainty == state.Failed && s.state.Unreached && (s.driver == nil || s.driver.free()) {
			e.command(s, max(0, s.state.FadeEnds.Sub(e.now)), why{})
		}
	}
}
