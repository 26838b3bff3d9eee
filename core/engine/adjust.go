package engine

import (
	"math"
	"time"

	"amvek/core/home"
	"amvek/core/state"
	"amvek/core/thing"
)

// adjusting is how a sensor's readings are taken, and where their smoothing stands.
type adjusting struct {
	by     thing.Adjustment
	smooth float64
	at     time.Time
}

// adjust returns what a raw reading comes to at a moment: calibrated, smoothed, rounded, and within the
// property's limits.
func (a *adjusting) adjust(p *thing.Property, raw thing.Value, now time.Time) thing.Value {
	v := a.by.Calibrate(raw.Number)
	if a.by.SmoothSeconds > 0 {
		if !a.at.IsZero() && now.After(a.at) {
			// The exponential average of readings that come at any times.
			v = a.smooth + (v-a.smooth)*(1-math.Exp(-now.Sub(a.at).Seconds()/a.by.SmoothSeconds))
		}
		a.smooth, a.at = v, now
	}
	v = a.by.Round(v)
	if p.Limited() {
		v = min(max(v, p.Minimum), p.Maximum)
	}
	return thing.Number(v)
}

// adjust takes from a device's definition how a property's readings are taken. A reading that is there is
// taken anew.
func (e *Engine) adjust(s *slot, d *home.Device) {
	by, there := d.Adjustments[s.ref.Name]
	switch {
	case !there && s.adjusting == nil:
		return
	case there && s.adjusting != nil && s.adjusting.by == by:
		return
	}
	raw := s.state.Raw
	if raw.IsNone() {
		raw = s.Reported
	}
	s.adjusting = nil
	if there {
		s.adjusting = &adjusting{by: by}
	}
	s.attach()
	if e.loading || raw.Kind != thing.KindNumber {
		return
	}
	e.read(s, raw)
}

// read takes a raw reading of a sensor.
func (e *Engine) read(s *slot, raw thing.Value) {
	v := raw
	s.state.Raw = thing.Value{}
	if s.adjusting != nil {
		s.state.Raw = raw
		v = s.adjusting.adjust(s.property, raw, e.now)
	}
	if v == s.Reported {
		return
	}
	s.state.Certainty = state.Confirmed
	e.change(s, v, why{})
}
