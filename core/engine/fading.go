package engine

import (
	"math"
	"time"

	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/state"
	"amvek/core/thing"
)

// A lamp that cannot fade, or whose owner prefers so, is faded by the hub: frames go out as those of effects do, even to the eye, and at
// the end one command with where it was to go. Until then the command counts as under way.

// driven is how the hub drives a property of a lamp, where that is not as its device says.
type driven struct {
	least float64 // below which it is not driven while it is on, in percent of its range
	byHub bool    // whether the hub fades it
}

// fading is a fade that the hub makes.
type fading struct {
	from        thing.Value
	told        box // where it was so far
	began, next time.Time
	ends        time.Time
	command     uint64
}

const (
	// fadeStep is the least time between two steps of a fade, and mostSteps how many it has at most. Radio lamps take about five messages
	// a second; what is more they do not hear, and the last one must be heard.
	fadeStep  = 250 * time.Millisecond
	mostSteps = 200
	// shortestFade is the shortest one that steps so far apart make; a shorter one is one command.
	shortestFade = time.Second
)

// bindDriven takes from a device how its lamp is driven. Where its levels mean something else now, a lamp that is on is told anew.
func (e *Engine) bindDriven(d *home.Device, slots []slot) {
	for i := range slots {
		s, by := &slots[i], driven{}
		if s.property.Writable {
			by.byHub = d.FadedByHub(s.property)
			if d.Lighting != nil && s.ref.Name == d.Light() && s.property.Role == thing.RoleBrightness {
				by.least = d.Lighting.LeastLevel
			}
		}
		before := s.driven
		if s.driven = nil; by != (driven{}) {
			s.driven = &by
		}
		if !e.loading && before.leastLevel() != s.driven.leastLevel() && s.state.Target.Number > s.property.Minimum {
			e.commandAgain = true
			e.apply(s, 0, why{})
			e.commandAgain = false
		}
	}
}

func (d *driven) leastLevel() float64 {
	if d == nil {
		return 0
	}
	return d.least / 100
}

// told is what a device is told for a value: a level spread over what lies above the least that it does not flicker at.
func (s *slot) told(v thing.Value) thing.Value {
	least, p := s.driven.leastLevel(), s.property
	if least == 0 || v.Kind != thing.KindNumber || v.Number <= p.Minimum {
		return v
	}
	share := (v.Number - p.Minimum) / (p.Maximum - p.Minimum)
	return thing.Number(p.Minimum + (p.Maximum-p.Minimum)*(least+share*(1-least)))
}

// meant undoes told. What is below the least level is as little as there is.
func (s *slot) meant(v thing.Value) thing.Value {
	least, p := s.driven.leastLevel(), s.property
	if least == 0 || v.Kind != thing.KindNumber || v.Number <= p.Minimum {
		return v
	}
	share := ((v.Number-p.Minimum)/(p.Maximum-p.Minimum) - least) / (1 - least)
	grain := math.Max(p.Resolution, 0.1)
	level := math.Round((p.Minimum+(p.Maximum-p.Minimum)*share)/grain) * grain
	return thing.Number(math.Min(p.Maximum, math.Max(p.Minimum+grain, level)))
}

// fadesHere begins to fade a property to its target where the hub does that; it is false where it does not.
func (e *Engine) fadesHere(s *slot, fade time.Duration) bool {
	if fade < shortestFade || s.driven == nil || !s.driven.byHub || e.still || e.atOnce {
		return false
	}
	from := s.Reported
	if from.IsNone() || from.Kind != s.state.Target.Kind || from.Kind != thing.KindNumber && from.Kind != thing.KindColor {
		return false
	}
	if !s.noticed(from, s.state.Target) {
		return false
	}
	if s.property.Role != thing.RoleBrightness {
		lamp := e.find(s.ref.Device, e.devices[s.ref.Device].Light())
		if lamp == nil || lamp.property.Extinguishes(lamp.Reported) {
			return false // nobody sees its tone
		}
	}
	s.fading = &fading{from: from, began: e.now, ends: e.now.Add(fade), command: s.state.Command}
	s.fading.told.take(from)
	s.state.FadeEnds = s.fading.ends
	e.planFade(s)
	return true
}

// worthFading is how many just noticeable differences a change has at least that is made in steps.
const worthFading = 2

// noticed reports whether a change is large enough for a fade to be seen.
func (s *slot) noticed(from, to thing.Value) bool {
	size := s.property.Maximum - s.property.Minimum
	switch {
	case s.property.Role == thing.RoleBrightness && size > 0:
		percent := func(v thing.Value) float64 { return (v.Number - s.property.Minimum) / size * 100 }
		return light.LevelTrack.Noticeable(percent(from), percent(to)) >= worthFading
	case s.property.Role == thing.RoleColorTemperature && from.Number > 0 && to.Number > 0:
		return light.WhiteTrack.Noticeable(from.Number, to.Number) >= worthFading
	default:
		return from != to
	}
}

func (e *Engine) planFade(s *slot) {
	f := s.fading
	step := max(fadeStep, f.ends.Sub(f.began)/mostSteps)
	f.next = e.now.Add(min(step, f.ends.Sub(e.now)))
	e.schedule(timer{at: f.next, kind: timerFade, slot: s})
}

// goOnFading tells a lamp where it is to be now, and at the end where it was to go.
func (e *Engine) goOnFading(s *slot) {
	f, st := s.fading, &s.state
	if st.Certainty != state.Pending || st.Command != f.command {
		e.endFade(s)
		return
	}
	if !e.now.Before(f.ends) {
		e.endFade(s)
		e.out = append(e.out, Output{Kind: OutputCommand, Command: st.Command, Device: s.ref.Device, Name: s.ref.Name, Value: s.told(st.Target), Cause: st.Asked})
		return
	}
	v := s.between(f.from, st.Target, float64(e.now.Sub(f.began))/float64(f.ends.Sub(f.began)))
	f.told.take(v)
	e.out = append(e.out, Output{
		Kind: OutputFrame, Fade: fadeStep, Frame: []light.Target{{Device: s.ref.Device, Property: s.ref.Name, Value: s.told(v)}},
	})
	e.planFade(s)
}

// endFade ends a fade where it is.
func (e *Engine) endFade(s *slot) {
	if s.fading != nil {
		s.fading = nil
		s.state.FadeEnds = time.Time{}
		e.touch(s)
	}
}

// between is where a fade is at a share of it, even to the eye. What goes on or off is dark at its end alone.
func (s *slot) between(from, to thing.Value, share float64) thing.Value {
	if from.Kind == thing.KindColor {
		return light.Of(from).Between(light.Of(to), share).Value()
	}
	v := evenly(s.property, from.Number, to.Number, share)
	if s.property.Role == thing.RoleBrightness {
		v = math.Max(v, s.property.Minimum+math.Max(s.property.Resolution, 0.1))
	}
	return thing.Number(v)
}

// strays reports whether a device says something that a fade had not been at: somebody has its lamp.
func (s *slot) strays(v thing.Value) bool {
	if s.fading == nil {
		return false
	}
	if s.property.Extinguishes(v) && !s.property.Extinguishes(s.fading.from) {
		return true
	}
	return !s.fading.told.has(v, s.echoMargin())
}

// takenWhileFading ends a fade since somebody has the lamp: its frames are taken back, and what the device says is theirs.
func (e *Engine) takenWhileFading(s *slot, v thing.Value) {
	s.state.Certainty, s.state.SettleUntil = state.Confirmed, time.Time{}
	e.endFade(s)
	e.out = append(e.out, Output{Kind: OutputStill, Frame: []light.Target{{Device: s.ref.Device, Property: s.ref.Name}}})
	e.differs(s, v)
}
