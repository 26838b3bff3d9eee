package engine

import (
	"math"
	"time"

	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// rampGap is the least time between two values of a ramp.
const rampGap = 500 * time.Millisecond

// beginRamp begins to bring numbers to others; it is true where the run waits for that.
func (e *Engine) beginRamp(r *ruleState, f *state.Frame, step *rule.Step, w why) (waits bool) {
	id := f.ID
	span := rule.Seconds(step.ForSeconds)
	ramp := &state.Ramp{Began: e.now, Ends: e.now.Add(span), Gap: span}
	for _, s := range e.aims(step, f.Member()) {
		now := s.state.Stack.Effective()
		if now.Kind != thing.KindNumber {
			now = s.Reported
		}
		to := e.valueOf(r.chance(), step, s)
		switch {
		case to.Kind != thing.KindNumber:
			e.set(s, step, to, r.owner(), w) // of a group one that only switches
		case now.Kind != thing.KindNumber:
			e.set(s, step, to, r.owner(), w) // from where is not known
		case now != to:
			ramp.Aims = append(ramp.Aims, state.RampAim{Ref: s.ref, From: now.Number, To: to.Number})
			values := math.Abs(to.Number-now.Number) / max(s.property.Resolution, math.Abs(to.Number-now.Number)/500)
			if step.Even {
				values *= steepest
			}
			ramp.Gap = min(ramp.Gap, max(rampGap, time.Duration(float64(span)/values)))
		}
	}
	if f = r.frame(id); f == nil {
		return true // what followed from it ended the run
	}
	if len(ramp.Aims) == 0 {
		return false
	}
	f.Ramp = ramp
	e.pause(r, f, ramp.Gap, w)
	return true
}

// steepest is about how much faster than on the average a ramp that looks even changes where it is fastest.
const steepest = 3

// evenly returns where a ramp is after a share of its time, from 0 to 1, so that it looks even: brightness by its lightness
// (CIE 1976 L*), white by its reciprocal temperature, of which equal steps look about equally large. Anything else goes straight.
func evenly(p *thing.Property, from, to, share float64) float64 {
	straight := func(a, b float64) float64 { return a + (b-a)*share }
	switch {
	case p.Role == thing.RoleBrightness && p.Maximum > p.Minimum:
		size := p.Maximum - p.Minimum
		lightness := func(v float64) float64 { return light.Lightness((v - p.Minimum) / size) }
		return p.Minimum + size*light.Luminance(straight(lightness(from), lightness(to)))
	case p.Role == thing.RoleColorTemperature && from > 0 && to > 0:
		return 1 / straight(1/from, 1/to)
	}
	return straight(from, to)
}

// goOnRamp writes the values of this moment, and lets the run go on once all are where they were to go.
func (e *Engine) goOnRamp(r *ruleState, id uint64, w why) {
	f := r.frame(id)
	ramp, step := f.Ramp, stepAt(r, f.At)
	f.Ramp, f.ResumeAt = nil, time.Time{}
	if step == nil {
		e.proceed(r, id, w)
		return
	}
	over := !e.now.Before(ramp.Ends)
	share := 1.0
	if !over {
		share = float64(e.now.Sub(ramp.Began)) / float64(ramp.Ends.Sub(ramp.Began))
	}
	var left []state.RampAim
	for _, aim := range ramp.Aims {
		s := e.at(aim.Ref)
		if s == nil || (!aim.Last.IsNone() && s.state.Stack.Base.Value != aim.Last) {
			continue
		}
		v := thing.Number(aim.From + (aim.To-aim.From)*share)
		if step.Even {
			v.Number = evenly(s.property, aim.From, aim.To, share)
		}
		if grain := s.property.Resolution; grain > 0 && !over {
			v.Number = math.Round(v.Number/grain) * grain
		}
		if v = e.within(s, v); v != aim.Last {
			e.set(s, step, v, r.owner(), w)
			aim.Last = v
		}
		left = append(left, aim)
	}
	if f = r.frame(id); f == nil {
		return // what followed from it ended the run
	}
	if over || len(left) == 0 {
		e.proceed(r, id, w)
		return
	}
	ramp.Aims = left
	f.Ramp = ramp
	e.pause(r, f, min(ramp.Gap, ramp.Ends.Sub(e.now)), w)
}
