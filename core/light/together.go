package light

import (
	"errors"
	"fmt"
	"math"

	"amvek/core/thing"
)

// Verb is what is done to the light of a room.
type Verb string

// What can be done to the light of a room. Value is what goes with it.
const (
	Off      Verb = "off"      // all lamps off
	On       Verb = "on"       // all lamps on, as their day curve says, or else as they were last on
	Follow   Verb = "follow"   // what is on follows its day curve again
	Full     Verb = "full"     // all lamps on and as bright as they go, in a neutral white, such as for cleaning
	LevelTo  Verb = "level"    // the brightest lamp to so many percent, the others in proportion
	LevelBy  Verb = "levelBy"  // brighter, or darker where below 0, by so many percent: what is on
	WhiteTo  Verb = "white"    // white of so many kelvin
	WhiteBy  Verb = "whiteBy"  // cooler, or warmer where below 0, by so many steps
	ColorTo  Verb = "color"    // a color
	Next     Verb = "next"     // the next of its scenes; the first where none of them is in effect
	NextOff  Verb = "nextOff"  // the next of its scenes, and off after the last
	Previous Verb = "previous" // the scene before
)

// Takes is what kind of value goes with a verb.
func (v Verb) Takes() thing.Kind {
	switch v {
	case LevelTo, LevelBy, WhiteTo, WhiteBy:
		return thing.KindNumber
	case ColorTo:
		return thing.KindColor
	default:
		return thing.None
	}
}

// Known reports whether there is such a verb.
func (v Verb) Known() bool {
	switch v {
	case Off, On, Follow, Full, LevelTo, LevelBy, WhiteTo, WhiteBy, ColorTo, Next, NextOff, Previous:
		return true
	}
	return false
}

// Check returns what is wrong with a value that is to go with a verb that there is.
func (v Verb) Check(value thing.Value) error {
	takes := v.Takes()
	switch n := value.Number; {
	case value.Kind != takes && takes == thing.KindNumber:
		return errors.New("it takes a number")
	case value.Kind != takes && takes == thing.KindColor:
		return errors.New("it takes a color")
	case value.Kind != takes:
		return errors.New("it takes no value")
	case v == LevelTo && !(n >= 0 && n <= 100):
		return errors.New("a level is from 0 to 100 %")
	case v == WhiteTo && !(n >= Warmest && n <= Coolest):
		return fmt.Errorf("white is from %d to %d K", Warmest, Coolest)
	}
	return nil
}

// Lamp is a lamp of a room as it is.
type Lamp struct {
	Device string
	Light  *thing.Property // by which it is dimmed, or switched
	At     thing.Value     // what that is at
	White  *thing.Property // its color temperature; nil where it has none
	Kelvin float64         // what that is at; 0 where it is not known
	Color  *thing.Property // nil where it has none
	Effect *thing.Property // by which it moves by itself; nil where it does not
	Circuit
	// Share is its level beside the brightest lamp's, from 0 to 1, as it was before the light was made so dark that rounding lost it;
	// 0 where nothing is remembered.
	Share float64
}

func (l *Lamp) dims() bool { return l.Light.Type == thing.TypeNumber }

// Level is how bright the lamp is, in percent of what it can be; one that only switches is at 100 while it is on.
func (l *Lamp) Level() float64 {
	switch {
	case !l.dims() && l.At.True():
		return 100
	case l.dims() && l.At.Kind == thing.KindNumber && l.At.Number > l.Light.Minimum:
		return (l.At.Number - l.Light.Minimum) / (l.Light.Maximum - l.Light.Minimum) * 100
	}
	return 0
}

// at returns the value at which the lamp is at a level in percent. What is above 0 is never off.
func (l *Lamp) at(level float64) thing.Value {
	if level <= 0 {
		return l.Light.Rest()
	}
	if !l.dims() {
		return thing.Boolean(true)
	}
	low, high, grain := l.Light.Minimum, l.Light.Maximum, l.Light.Resolution
	v := low + min(level, 100)/100*(high-low)
	if grain > 0 {
		v = low + math.Round((v-low)/grain)*grain
	}
	least := low + max(grain, (high-low)/100)
	return thing.Number(min(max(v, least), high))
}

// LevelOf is how bright a room is: the level of its brightest lamp that can be dimmed, in percent, or 100 where only such are on that
// switch.
func LevelOf(lamps []Lamp) float64 {
	most, switched := 0.0, 0.0
	for i := range lamps {
		if level := lamps[i].Level(); lamps[i].dims() {
			most = max(most, level)
		} else {
			switched = max(switched, level)
		}
	}
	if most == 0 {
		return switched
	}
	return most
}

const (
	// neutral is the white for seeing well, in kelvin.
	neutral = 4000
	// whiteStep is how much cooler or warmer a step is, in reciprocal megakelvin: of these, equal steps look about equally large.
	whiteStep = 25
	// UsualWhite is the white of a lamp of which it is not known.
	UsualWhite = 2700
)

// Do returns what becomes of lamps by what is done to all of them; the verbs of scenes are not for it. What a lamp cannot do it leaves out,
// and what it is at already is not told anew.
func Do(lamps []Lamp, verb Verb, value thing.Value) (targets []Target) {
	set := func(l *Lamp, p *thing.Property, v thing.Value) {
		if p != l.Light || v != l.At {
			targets = append(targets, Target{Device: l.Device, Property: p.Name, Value: v})
		}
	}
	switch verb {
	case Off:
		for i := range lamps {
			set(&lamps[i], lamps[i].Light, lamps[i].at(0))
		}
	case On, Follow:
		for i := range lamps {
			if l := &lamps[i]; verb == On || l.Level() > 0 {
				set(l, l.Light, thing.Boolean(true))
			}
		}
	case Full:
		for i := range lamps {
			l := &lamps[i]
			set(l, l.Light, l.at(100))
			if p, v := l.white(neutral); p != nil {
				set(l, p, v)
			}
		}
	case LevelTo:
		level(lamps, min(max(value.Number, 0), 100), set)
	case LevelBy:
		now := LevelOf(lamps)
		to := now + value.Number
		if now == 0 && value.Number <= 0 {
			return nil // dark cannot become darker
		}
		level(lamps, min(max(to, 1), 100), set) // a step darker does not put it out
	case WhiteTo, WhiteBy, ColorTo:
		for _, l := range toned(lamps) {
			if p, v := l.tone(verb, value); p != nil {
				set(l, p, v)
			}
		}
	}
	return targets
}

// level brings the brightest lamp to a level in percent, and the others with it: those that are on keep their proportions. Where all is
// off, all come on, those that only switch from where they join.
func level(lamps []Lamp, to float64, set func(*Lamp, *thing.Property, thing.Value)) {
	now := LevelOf(lamps)
	for i := range lamps {
		l := &lamps[i]
		switch {
		case to == 0:
			set(l, l.Light, l.at(0))
		case !l.dims():
			// Only where the level passes the lamp's limit: what somebody switched is left so.
			if up := to >= l.Joins(); up != (now >= l.Joins()) || now == 0 {
				set(l, l.Light, thing.Boolean(up))
			}
		case now == 0:
			set(l, l.Light, l.at(to*share(l, 1)))
		case l.Level() > 0:
			set(l, l.Light, l.at(to*share(l, min(1, l.Level()/now))))
		}
	}
}

// share is a lamp's level beside the brightest lamp's: what is remembered, or else what it is now.
func share(l *Lamp, now float64) float64 {
	if l.Share > 0 {
		return l.Share
	}
	return now
}

// Shares are the levels of lamps that are on beside the brightest lamp's, by device; those of lamps that remember theirs are these.
func Shares(lamps []Lamp) map[string]float64 {
	now := LevelOf(lamps)
	all := map[string]float64{}
	for i := range lamps {
		if l := &lamps[i]; l.dims() && l.Level() > 0 && now > 0 {
			all[l.Device] = share(l, min(1, l.Level()/now))
		}
	}
	return all
}

// toned are the lamps whose tone is changed with the room's: those that are on, or all where none is.
func toned(lamps []Lamp) (all []*Lamp) {
	dark := LevelOf(lamps) == 0
	for i := range lamps {
		if l := &lamps[i]; !l.OwnTone && (dark || l.Level() > 0) {
			all = append(all, l)
		}
	}
	return all
}

// tone returns what of the lamp changes its tone, and to what; nil where it has only one.
func (l *Lamp) tone(verb Verb, value thing.Value) (*thing.Property, thing.Value) {
	switch verb {
	case WhiteTo:
		return l.white(value.Number)
	case WhiteBy:
		from := l.Kelvin
		if from <= 0 {
			from = UsualWhite
		}
		return l.white(1e6 / max(1e6/from-value.Number*whiteStep, 1))
	default:
		if l.Color != nil {
			return l.Color, value
		}
		if l.White == nil {
			return nil, thing.Value{}
		}
		return l.white(Of(value).NearestWhite(l.White.Minimum, l.White.Maximum))
	}
}

// white returns what of the lamp makes it white, and its value for a temperature in kelvin: a lamp of colors alone shows the color of
// that white.
func (l *Lamp) white(kelvin float64) (*thing.Property, thing.Value) {
	switch {
	case l.OwnTone:
		return nil, thing.Value{}
	case l.White != nil:
		v := min(max(kelvin, l.White.Minimum), l.White.Maximum)
		if grain := l.White.Resolution; grain > 0 {
			v = min(max(math.Round(v/grain)*grain, l.White.Minimum), l.White.Maximum)
		}
		return l.White, thing.Number(v)
	case l.Color != nil:
		return l.Color, OfWhite(kelvin).Value()
	}
	return nil, thing.Value{}
}
