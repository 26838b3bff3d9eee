package lumbrook

import (
	"errors"
	"math"
	"slices"
	"time"
)

const (
	maximumFloor = 100 // of 250
	maximumSoft  = 50  // tenths of a second
)

// setUp changes how a lamp is set up; b.mu is held.
func (l *Lamp) setUp(c Change) error {
	dims := l.Kind != "switch"
	switch {
	case c.Floor != nil && (!dims || *c.Floor < 0 || *c.Floor > maximumFloor):
		return errors.New("bad-floor")
	case c.Soft != nil && (!dims || *c.Soft < 0 || *c.Soft > maximumSoft):
		return errors.New("bad-soft")
	case c.Back != nil && !slices.Contains([]string{"last", "off", "on"}, *c.Back):
		return errors.New("bad-back")
	case c.Output != nil && (l.Kind != "dim" || !slices.Contains([]string{"trailing", "leading", "switched"}, *c.Output)):
		return errors.New("bad-output")
	}
	if c.Floor != nil {
		l.Floor = *c.Floor
	}
	if c.Soft != nil {
		l.Soft = *c.Soft
	}
	if c.Back != nil {
		l.Back = *c.Back
	}
	if c.Output != nil {
		l.Output = *c.Output
	}
	return nil
}

// steady is the least level at which the lamp does not flicker as it is driven: by the leading edge of the wave a lamp of this
// make, which wants the trailing one, is steady only high up.
func (l *Lamp) steady() float64 {
	if l.Output == "leading" {
		return 4 * float64(l.Steady)
	}
	return float64(l.Steady)
}

// driven is the level at which the lamp is really driven: between its lowest and full, or full where it is only switched.
func (l *Lamp) driven(now time.Time) float64 {
	if l.Output == "switched" {
		return 250
	}
	return float64(l.Floor) + l.level(now)*l.restless(now)*float64(250-l.Floor)/250
}

// rest ends what a lamp does by itself.
func (l *Lamp) rest() {
	if l.Self != "" {
		l.Self = "none"
	}
}

// restless is how much of its light a lamp gives at a moment that flickers or glows by itself, from 0 to 1.
func (l *Lamp) restless(now time.Time) float64 {
	t := float64(now.UnixMilli()) / 1000
	switch l.Self {
	case "candle":
		return 0.85 + 0.1*math.Sin(5.1*t)*math.Sin(1.7*t)
	case "embers":
		return 0.55 + 0.4*math.Sin(0.9*t)*math.Sin(0.37*t)
	default:
		return 1
	}
}

// PowerCut takes the power from all lamps and gives it back; each does what it is set up to do then.
func (b *Bridge) PowerCut() {
	b.mu.Lock()
	for _, l := range b.lamps {
		if l.Back != "last" {
			l.Lit = l.Back == "on"
		}
		l.over = 0
		b.tell(`{"lamp":"` + l.ID + `"}`)
	}
	b.mu.Unlock()
}
