package light

import (
	"fmt"
	"slices"
	"time"

	"amvek/core/document"
	"amvek/core/thing"
)

// EffectKind is a way in which light moves by itself.
type EffectKind string

// The ways in which light moves.
const (
	Drift   EffectKind = "drift"   // slowly around the colors of a palette
	Candle  EffectKind = "candle"  // as a candle flickers
	Embers  EffectKind = "embers"  // as embers glow and fade
	Storm   EffectKind = "storm"   // dark and restless, with lightning now and then
	Pulse   EffectKind = "pulse"   // swells and ebbs
	Sunrise EffectKind = "sunrise" // from the first red to daylight, once
)

// Travel is how the lamps of an effect go together.
type Travel string

// The ways in which lamps go together.
const (
	Together Travel = "together" // all the same
	Onward   Travel = "onward"   // each a little later than the one before, so that it travels
	ByChance Travel = "chance"   // each by itself
)

// Effect is light that moves by itself: a function of time, of chance and of what is set here, and of nothing else.
type Effect struct {
	Kind EffectKind `json:"kind" enum:"drift,candle,embers,storm,pulse,sunrise"`
	// Lights are lights of rooms whose lamps move; Lamps are devices besides, in the order in which it travels.
	Lights []string `json:"lights,omitempty" maxItems:"40" doc:"Ids of the lights of rooms whose lamps move."`
	Lamps  []string `json:"lamps,omitempty" maxItems:"200" doc:"Ids of devices that move besides, in the order in which it travels."`
	// Palette are the colors that it goes through; none for those that are usual for the kind.
	Palette []thing.Value `json:"palette,omitempty" maxItems:"20" doc:"Colors that it goes through, in x and y; absent for those that are usual."`
	Travel  Travel        `json:"travel,omitempty" enum:",together,onward,chance" doc:"How its lamps go together; absent as is usual for the kind."`
	// RoundSeconds is how long a drift around all colors, a pulse, or a sunrise takes; 0 for what is usual.
	RoundSeconds float64 `json:"roundSeconds,omitempty" minimum:"0" maximum:"86400" doc:"How long a round of a drift, a pulse or a sunrise takes; absent for what is usual."`
	// Pace is how fast a candle, embers or a storm are, in percent of what is natural; 0 is 100.
	Pace float64 `json:"pace,omitempty" minimum:"0" maximum:"1000" doc:"How fast a candle, embers or a storm are, in percent; absent for 100."`
	// Level is how bright it is at its brightest, in percent; 0 is 100.
	Level float64 `json:"level,omitempty" minimum:"0" maximum:"100" doc:"How bright it is at its brightest, in percent; absent for 100."`
	// Depth is how much its brightness moves, in percent of all that it can; nil is what is usual for the kind.
	Depth *float64 `json:"depth,omitempty" minimum:"0" maximum:"100" doc:"How much its brightness moves, in percent; absent for what is usual."`
	// AllStop says that a hand that takes one of its lamps ends it for all; else the others go on.
	AllStop bool `json:"allStop,omitempty" doc:"A hand that takes one of its lamps ends it for all; else the others go on."`
	// Seconds is after how long it ends by itself; 0 for when it is stopped.
	Seconds float64 `json:"seconds,omitempty" minimum:"0" maximum:"86400" doc:"After how long it ends by itself; absent for when it is stopped."`
	// ByLamps lets lamps that can do it by themselves do so, instead of being sent each step.
	ByLamps bool `json:"byLamps,omitempty" doc:"Lamps that can do it by themselves do so, in their own way and at their own speed."`
	// Flashing allows it to flash more often than three times a second.
	Flashing bool `json:"flashing,omitempty" doc:"It may flash more often than three times a second, which can harm people with photosensitive epilepsy."`
}

// Check returns an error naming the field that is wrong.
func (e *Effect) Check(hasLight, hasLamp func(id string) bool) error {
	if _, known := usualRound[e.Kind]; !known {
		return document.Wrong("kind", "%q is no way in which light moves", e.Kind)
	}
	if len(e.Lights) == 0 && len(e.Lamps) == 0 {
		return document.Wrong("lights", "choose a room, or lamps")
	}
	for i, id := range e.Lights {
		if !hasLight(id) {
			return document.Wrong(fmt.Sprintf("lights[%d]", i), "there is no such light")
		}
	}
	for i, id := range e.Lamps {
		if !hasLamp(id) {
			return document.Wrong(fmt.Sprintf("lamps[%d]", i), "there is no such lamp")
		}
		if slices.Contains(e.Lamps[:i], id) {
			return document.Wrong(fmt.Sprintf("lamps[%d]", i), "it is there twice")
		}
	}
	for i, c := range e.Palette {
		if c.Kind != thing.KindColor || !(c.Number > 0 && c.Second > 0 && c.Number+c.Second < 1) {
			return document.Wrong(fmt.Sprintf("palette[%d]", i), "this is no color")
		}
	}
	switch {
	case e.RoundSeconds != 0 && !(e.RoundSeconds >= 0.1 && e.RoundSeconds <= 86400):
		return document.Wrong("roundSeconds", "from 0.1 s to 24 h")
	case e.Kind == Pulse && !e.Flashing && e.Round() < shortestPulse:
		return document.Wrong("roundSeconds", "more than three pulses a second can harm people: choose a slower one, or allow it to flash")
	case e.Pace != 0 && !(e.Pace >= 1 && e.Pace <= 1000):
		return document.Wrong("pace", "from 1 to 1000 %%")
	case e.Level != 0 && !(e.Level >= 1 && e.Level <= 100):
		return document.Wrong("level", "a level is from 1 to 100 %%")
	case e.Depth != nil && !(*e.Depth >= 0 && *e.Depth <= 100):
		return document.Wrong("depth", "from 0 to 100 %%")
	}
	return nil
}

// Flashes that come more often than three times within a second can provoke seizures: WCAG 2.2, 2.3.1, where a flash is a pair of
// opposing changes by 10 % or more of the greatest relative luminance. What is within that goes as fast as it likes.
const (
	shortestPulse = time.Second / 3
	// slightest is how much quick flickering may change the light, of the greatest: less than what counts as a flash.
	slightest = 0.08
)

var usualRound = map[EffectKind]time.Duration{
	Drift: 4 * time.Minute, Candle: 0, Embers: 0, Storm: 0, Pulse: 4 * time.Second, Sunrise: 30 * time.Minute,
}

// Round is how long a drift around all colors, a pulse, or a sunrise takes.
func (e *Effect) Round() time.Duration {
	if e.RoundSeconds > 0 {
		return seconds(e.RoundSeconds)
	}
	return usualRound[e.Kind]
}

// Lasts is after how long it ends by itself; 0 for never.
func (e *Effect) Lasts() time.Duration {
	if e.Kind == Sunrise && e.Seconds == 0 {
		return e.Round()
	}
	return seconds(e.Seconds)
}

var usualDepth = map[EffectKind]float64{Drift: 0, Candle: 45, Embers: 70, Storm: 100, Pulse: 70, Sunrise: 100}

func (e *Effect) depth() float64 {
	if e.Depth != nil {
		return *e.Depth / 100
	}
	return usualDepth[e.Kind] / 100
}

func (e *Effect) travel() Travel {
	switch {
	case e.Travel != "":
		return e.Travel
	case e.Kind == Drift:
		return Onward
	case e.Kind == Candle || e.Kind == Embers:
		return ByChance
	}
	return Together
}

func (e *Effect) pace() float64 {
	if e.Pace > 0 {
		return e.Pace / 100
	}
	return 1
}

// level is how bright it is at its brightest, from 0 to 1.
func (e *Effect) level() float64 {
	if e.Level > 0 {
		return e.Level / 100
	}
	return 1
}

// palette are the colors that it goes through, one at least.
func (e *Effect) palette() []XY {
	if len(e.Palette) == 0 {
		return usualPalette[e.Kind]
	}
	all := make([]XY, len(e.Palette))
	for i, c := range e.Palette {
		all[i] = Of(c)
	}
	return all
}

var usualPalette = map[EffectKind][]XY{
	Drift:   {FromHueSaturation(48, 75), FromHueSaturation(28, 90), FromHueSaturation(345, 60), FromHueSaturation(285, 55)},
	Candle:  {OfWhite(1850)},
	Embers:  {FromHueSaturation(6, 96), FromHueSaturation(18, 94), FromHueSaturation(30, 88)},
	Storm:   {FromHueSaturation(222, 55), OfWhite(7500)},
	Pulse:   {OfWhite(2700)},
	Sunrise: {FromHueSaturation(4, 96), FromHueSaturation(16, 92), OfWhite(2000), OfWhite(2700), OfWhite(4500)},
}

// Colors are those that it goes through: its own, or those that are usual for its kind.
func (e *Effect) Colors() []XY { return slices.Clone(e.palette()) }

// Usual returns what counts of an effect where nothing else is said: its round, its depth in percent, and how its lamps go together.
func (e *Effect) Usual() (round time.Duration, depth float64, travel Travel) {
	bare := Effect{Kind: e.Kind}
	return bare.Round(), usualDepth[e.Kind], bare.travel()
}

// Every is how long after a frame the next one comes: as soon as it can be seen, and not more than 20 a second.
func (e *Effect) Every() time.Duration {
	const quickest = 50 * time.Millisecond
	within := func(d, slowest time.Duration) time.Duration { return min(max(d, quickest), slowest) }
	switch e.Kind {
	case Drift:
		return within(e.Round()/240, time.Second)
	case Pulse:
		return within(e.Round()/40, time.Second/2)
	case Sunrise:
		return within(e.Round()/600, 2*time.Second)
	case Embers:
		return within(time.Duration(float64(100*time.Millisecond)/e.pace()), time.Second/2)
	}
	return quickest
}

// Scaled is how long an effect would have gone on for, to be as far as another of its kind is after some time.
func (e *Effect) Scaled(before *Effect, since time.Duration) time.Duration {
	if a, b := before.Round(), e.Round(); a > 0 && b > 0 {
		return time.Duration(float64(since) * float64(b) / float64(a))
	}
	return time.Duration(float64(since) * before.pace() / e.pace())
}
