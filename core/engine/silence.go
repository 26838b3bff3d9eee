package engine

import (
	"time"

	"amvek/core/cause"
	"amvek/core/home"
	"amvek/core/rhythm"
	"amvek/core/state"
)

// watch listens to whether a device still speaks.
type watch struct {
	id        string
	state     state.DeviceState
	at        time.Time // when silence would be noticed; zero while nothing is scheduled
	unreached bool      // it cannot be reached, which is known and said elsewhere
	dirty     bool
	gone      bool
}

// sensor reports whether a device can be expected to speak by itself: one that is only listened to. What is
// also commanded speaks when it is switched, which may be never.
func sensor(d *home.Device) bool {
	if d.Connection == "" {
		return false // the home itself, which says what it says when it changes
	}
	for i := range d.Description.Properties {
		if d.Description.Properties[i].Writable {
			return false
		}
	}
	return len(d.Description.Properties) > 0
}

// watchDevice begins to listen to a device, or no longer does.
func (e *Engine) watchDevice(id string, d *home.Device) *watch {
	w := e.watches[id]
	if !sensor(d) {
		if w != nil {
			w.gone = true
			delete(e.watches, id)
		}
		return nil
	}
	if w == nil {
		w = &watch{id: id}
		e.watches[id] = w
	}
	return w
}

func (e *Engine) touchWatch(w *watch) {
	if !w.dirty && !w.gone {
		w.dirty = true
		e.dirtyWatches = append(e.dirtyWatches, w)
	}
}

// learnedOften is after how many more gaps a rhythm that is known is kept anew.
const learnedOften = 16

// said takes that a device said something about a property. What it says many times within a moment is told
// to its watch once, so that a flood of reports touches nothing but the property itself.
func (e *Engine) said(s *slot) {
	if now := e.now.UnixNano(); now-s.heard >= int64(rhythm.Burst) || now < s.heard {
		s.heard = now
		e.heard(s.watch)
	}
}

// heard takes that a device said something.
func (e *Engine) heard(w *watch) {
	w.unreached = false
	if w.state.Silent {
		w.state.Silent, w.state.SilentSince = false, time.Time{}
		w.state.Rhythm.Interrupted(e.now) // the silence is no gap to learn
		e.origin().Kind = cause.HeardAgain
		e.inputEntry()
		e.touchWatch(w)
	}
	if w.state.Rhythm.Hear(e.now) && (len(w.state.Rhythm.Gaps) < learnedOften || e.now.Unix()%learnedOften == 0) {
		e.touchWatch(w)
	}
	if w.at.IsZero() {
		e.listen(w)
	}
}

// listen schedules when the silence of a device is to be noticed.
func (e *Engine) listen(w *watch) {
	at, known := w.state.Rhythm.SilentAt(e.now, true)
	if !known {
		return
	}
	w.at = at
	e.schedule(timer{at: at, kind: timerSilence, watch: w})
}

// missed runs when a device might have fallen silent.
func (e *Engine) missed(w *watch) {
	w.at = time.Time{}
	device := e.devices[w.id]
	if w.state.Silent || device == nil {
		return
	}
	if w.unreached || e.lost[device.Connection] {
		w.state.Rhythm.Interrupted(e.now)
		e.listen(w)
		return
	}
	if at, known := w.state.Rhythm.SilentAt(e.now, true); !known || at.After(e.now) {
		e.listen(w)
		return
	}
	w.state.Silent, w.state.SilentSince = true, e.now
	e.inputEntry()
	e.touchWatch(w)
	e.signal(signalSilent+w.id, why{})
}

// DeviceState returns what is remembered of a device that speaks by itself, and what its rhythm comes to; it is
// false for a device that does not.
func (e *Engine) DeviceState(id string) (state.DeviceState, rhythm.Learned, bool) {
	w := e.watches[id]
	if w == nil {
		return state.DeviceState{}, rhythm.Learned{}, false
	}
	return w.state.Clone(), w.state.Rhythm.Learn(e.now, true), true
}

// FellSilent reports whether a device speaks no more though it usually speaks more often.
func (e *Engine) FellSilent(id string) bool {
	w := e.watches[id]
	return w != nil && w.state.Silent
}
