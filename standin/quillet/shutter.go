package quillet

import (
	"fmt"
	"math"
	"time"
)

// The operating kinds of a relay module, and the styles of the buttons wired to it.
const (
	kindTwin    = "twin"    // two outputs, each for itself
	kindShutter = "shutter" // one motor, up and down
	stylePush   = "push"    // a button that springs back: one press runs, the next stops
	styleLatch  = "latch"   // a switch that stays: the output follows it

	handledHere  = "module" // its buttons switch its outputs
	leftToClient = "client" // its buttons are only told
)

const (
	// restNeeded is what a motor needs between directions, or the relay's contacts weld.
	restNeeded = 300 * time.Millisecond
	// ownRest is how long the module itself waits after its own buttons' runs.
	ownRest = time.Second
	// longestRun is how long a press of a button runs the motor at most.
	longestRun = 90 * time.Second
	motorWatts = 140
)

// Module is a relay module with two outputs and two wall buttons, and the shutter's motor that is wired to it.
// It breaks, as a real one would, when it is told to power the motor both ways, or to turn it without a rest.
type Module struct {
	Kind     string `json:"kind"`
	Style    string `json:"style"`
	Reversed bool   `json:"reversed"`
	// Leaves says that its wall buttons are only told, and switch nothing by themselves.
	Leaves bool    `json:"leaves,omitempty"`
	On     [2]bool `json:"on"`
	// Place is how far open the shutter is, in percent, at Placed.
	Place  float64   `json:"place"`
	Placed time.Time `json:"placed"`
	Burnt  bool      `json:"burnt,omitempty"`
	Dark   bool      `json:"dark,omitempty"` // its fuse is out
	// Log is what happened to it that should not have.
	Log []string `json:"log,omitempty"`

	wiring  Wiring
	offAt   [2]time.Time
	byHand  [2]bool // switched on by its own button last
	pressed [2]bool
	stopAt  time.Time
	tapped  int // which button goes up again at tapEnd
	tapEnd  time.Time
	clicks  []click // that are still to be told
}

// click is that a wall button went down or up.
type click struct {
	button int
	down   bool
}

// Wiring is what nobody can change from afar: how the motor is wired, and how long its way is.
type Wiring struct {
	Crossed  bool // output 1 lowers
	Up, Down float64
}

// NewModule returns a module as it left the factory, with an open shutter.
func NewModule(w Wiring, now time.Time) *Module {
	return &Module{Kind: kindShutter, Style: stylePush, Place: 100, Placed: now, wiring: w}
}

// direction is 1 while the motor runs up, -1 while it runs down.
func (m *Module) direction() float64 {
	if m.Burnt || m.Dark || m.On[0] == m.On[1] {
		return 0
	}
	if m.On[0] != m.wiring.Crossed {
		return 1
	}
	return -1
}

// Running is 1 while the shutter is raised, -1 while it is lowered, else 0.
func (m *Module) Running() int { return int(m.direction()) }

// Advance moves the shutter to a moment, and ends what its own buttons began long ago.
func (m *Module) Advance(now time.Time) {
	ran := now.Sub(m.Placed).Seconds()
	if ran > 0 {
		switch direction := m.direction(); {
		case direction > 0:
			m.Place += 100 * ran / m.wiring.Up
		case direction < 0:
			m.Place -= 100 * ran / m.wiring.Down
		}
		m.Place = min(max(m.Place, 0), 100)
	}
	m.Placed = now
	if !m.tapEnd.IsZero() && !now.Before(m.tapEnd) {
		m.tapEnd = time.Time{}
		m.Press(m.tapped, false, now)
	}
	if !m.stopAt.IsZero() && !now.Before(m.stopAt) {
		m.off(now)
	}
}

// Watts is what the motor draws: nothing at the ends of its way.
func (m *Module) Watts() float64 {
	const atEnd = 0.01
	direction := m.direction()
	if direction == 0 || (direction > 0 && m.Place >= 100-atEnd) || (direction < 0 && m.Place <= atEnd) {
		return 0
	}
	return motorWatts
}

// Next returns when something at the module happens by itself; it is false when nothing does.
func (m *Module) Next() (time.Time, bool) {
	next := m.stopAt
	if next.IsZero() || (!m.tapEnd.IsZero() && m.tapEnd.Before(next)) {
		next = m.tapEnd
	}
	if m.Watts() > 0 {
		left := (100 - m.Place) / 100 * m.wiring.Up
		if m.direction() < 0 {
			left = m.Place / 100 * m.wiring.Down
		}
		if end := m.Placed.Add(time.Duration(math.Ceil(left*1000)+1) * time.Millisecond); next.IsZero() || end.Before(next) {
			next = end
		}
	}
	return next, !next.IsZero()
}

// Tell switches an output, as the hub asks for it.
func (m *Module) Tell(output int, on bool, now time.Time) {
	m.Advance(now)
	if m.Burnt || m.Dark {
		return
	}
	other := 1 - output
	if on && m.byHand[other] && (m.On[other] || now.Sub(m.offAt[other]) < ownRest) {
		m.note(now, "output %d was asked for while the buttons run the other way: not done", output+1)
		return
	}
	m.set(output, on, now)
	if on {
		m.byHand[output] = false
	}
}

// set switches an output; this is where the relay breaks.
func (m *Module) set(output int, on bool, now time.Time) {
	if m.On[output] == on {
		return
	}
	other := 1 - output
	switch {
	case on && m.On[other]:
		m.burn(now, "both directions at once")
		return
	case on && now.Sub(m.offAt[other]) < restNeeded:
		m.burn(now, fmt.Sprintf("the other direction after only %d ms", now.Sub(m.offAt[other]).Milliseconds()))
		return
	}
	if !on {
		m.offAt[output] = now
	}
	m.On[output], m.stopAt = on, time.Time{}
}

func (m *Module) burn(now time.Time, why string) {
	m.note(now, "burnt out: %s", why)
	m.Burnt, m.On = true, [2]bool{}
}

func (m *Module) note(now time.Time, format string, args ...any) {
	const kept = 20
	m.Log = append(m.Log, now.Format("15:04:05.000 ")+fmt.Sprintf(format, args...))
	m.Log = m.Log[max(0, len(m.Log)-kept):]
}

func (m *Module) off(now time.Time) {
	m.set(0, false, now)
	m.set(1, false, now)
	m.stopAt = time.Time{}
}

// Press holds one of the two wall buttons down, or lets go of it; 0 is the upper. The plate lets only one be down.
func (m *Module) Press(button int, down bool, now time.Time) {
	m.Advance(now)
	if m.pressed[button] == down || (down && m.pressed[1-button]) {
		return
	}
	m.pressed[button] = down
	if m.Burnt || m.Dark {
		return
	}
	m.clicks = append(m.clicks, click{button, down})
	if m.Leaves {
		return
	}
	output := button
	if m.Reversed {
		output = 1 - button
	}
	runs := m.On[0] || m.On[1]
	switch {
	case m.Style == styleLatch && !down:
		m.set(output, false, now)
	case !down:
	case m.Kind == kindTwin && m.Style == stylePush:
		m.start(output, !m.On[output], now)
	case m.Style == stylePush && runs:
		m.off(now)
	default:
		m.start(output, true, now)
	}
}

// told returns what its buttons did since it was asked last.
func (m *Module) told() []click {
	all := m.clicks
	m.clicks = nil
	return all
}

// handledBy is who acts on its buttons, as the module says it.
func (m *Module) handledBy() string {
	if m.Leaves {
		return leftToClient
	}
	return handledHere
}

// Tap presses a wall button as a finger does in passing.
func (m *Module) Tap(button int, now time.Time) {
	const short = 150 * time.Millisecond
	m.Press(button, true, now)
	if m.pressed[button] {
		m.tapped, m.tapEnd = button, now.Add(short)
	}
}

// start switches an output for its button, which waits where the motor needs a rest.
func (m *Module) start(output int, on bool, now time.Time) {
	if other := 1 - output; on && (m.On[other] || now.Sub(m.offAt[other]) < ownRest) {
		m.note(now, "button %d pressed too soon after the other: not done", output+1)
		return
	}
	m.set(output, on, now)
	m.byHand[output] = on
	if on && m.Kind == kindShutter {
		m.stopAt = now.Add(longestRun)
	}
}

// Set changes one of the module's options. Everything is switched off by that.
func (m *Module) Set(option, value string, now time.Time) {
	m.Advance(now)
	if m.Burnt || m.Dark {
		return
	}
	switch {
	case option == "kd" && (value == kindTwin || value == kindShutter) && value != m.Kind:
		m.off(now)
		m.Kind = value
	case option == "bs" && (value == stylePush || value == styleLatch):
		m.Style = value
	case option == "ha" && (value == handledHere || value == leftToClient):
		m.Leaves = value == leftToClient
	case option == "rv" && (value == "0" || value == "1"):
		m.off(now)
		m.Reversed = value == "1"
	}
}

// Power takes the fuse out, or puts it in again.
func (m *Module) Power(on bool, now time.Time) {
	m.Advance(now)
	if m.Dark == !on {
		return
	}
	m.off(now)
	m.Dark = !on
}

// Renew puts a new module in place of a burnt one, with the options as they were.
func (m *Module) Renew(now time.Time) {
	m.Advance(now)
	m.Burnt, m.On = false, [2]bool{}
}
