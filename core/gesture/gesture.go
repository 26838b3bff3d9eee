// Package gesture makes out of what a key sends the gestures that were meant: presses into pressed twice or three times,
// downs and ups into all of them. It knows no device, no clock and no timer: it is told what came when, and says when it
// is to be asked again.
package gesture

import (
	"slices"
	"time"
)

// What a key can send.
const (
	Down  = "down"
	Up    = "up"
	Press = "press"
)

// What a key can give besides, by itself or made here.
const (
	Double  = "double"
	Triple  = "triple"
	Hold    = "hold"
	Release = "release"
)

// counted are the gestures of so many presses in a row.
var counted = []string{Press, Double, Triple}

// Rank is where a gesture stands among all, from the plainest on; what is not known comes last.
func Rank(g string) int {
	order := []string{Press, Double, Triple, Hold, Release, Down, Up}
	if at := slices.Index(order, g); at >= 0 {
		return at
	}
	return len(order)
}

// Timing is how presses are told apart.
type Timing struct {
	// Within is how soon after a press the next one must begin to belong to it.
	Within time.Duration
	// Hold is how long a key is down until it is held.
	Hold time.Duration
	// Limit is how long a key counts as held at most: the message that it was released may have been lost.
	Limit time.Duration
}

// Usual is the timing of a device for which nobody has chosen another.
func Usual() Timing {
	return Timing{Within: 400 * time.Millisecond, Hold: 500 * time.Millisecond, Limit: time.Minute}
}

// Wanted is which of the gestures made here mean something at a key. Nothing is waited for that means nothing.
type Wanted struct {
	// Presses is how many in a row mean something, from 1 to 3; 0 counts as 1.
	Presses int
	// Held says that it matters whether a key is held.
	Held bool
}

// Want takes up that a gesture means something.
func (w *Wanted) Want(gesture string) {
	switch gesture {
	case Double, Triple:
		w.Presses = max(w.Presses, slices.Index(counted, gesture)+1)
	case Hold, Release:
		w.Held = true
	}
}

// Made returns which gestures can be made from what a key sends; those that it sends itself are none of them.
func Made(sent []string) []string {
	can := func(gesture string) bool { return !slices.Contains(sent, gesture) }
	var all []string
	switch {
	case slices.Contains(sent, Down) && slices.Contains(sent, Up):
		all = []string{Press, Double, Triple, Hold, Release}
	case slices.Contains(sent, Press) && can(Double):
		all = []string{Double, Triple}
	}
	return slices.DeleteFunc(all, func(g string) bool { return !can(g) })
}

// Key is what one key is at. The zero key is up, and nothing was done to it.
type Key struct {
	down    bool
	held    bool
	told    bool // whether this press was given as it began
	presses int  // that are over and not given yet
	since   time.Time
	due     time.Time
}

// Due returns when [Key.Wake] is to be called if nothing comes before; zero for never.
func (k *Key) Due() time.Time { return k.due }

// Shift moves all that is remembered by so much: the clock was set.
func (k *Key) Shift(by time.Duration) {
	for _, t := range []*time.Time{&k.since, &k.due} {
		if !t.IsZero() {
			*t = t.Add(by)
		}
	}
}

// Take takes what a key sent and returns the gestures that are complete now, in order. What it does not know it passes
// over, besides that whatever was pressed before is complete.
func (k *Key) Take(now time.Time, sent string, wanted Wanted, timing Timing) []string {
	given := k.Wake(now, wanted, timing) // what fell due before
	switch sent {
	case Down:
		if k.down { // the message that it went up was lost
			given = append(given, k.lift(now, wanted, timing)...)
		}
		k.down, k.since = true, now
		switch {
		case wanted.Held:
			k.due = now.Add(timing.Hold)
		case wanted.Presses <= 1: // there is nothing else that it could become
			k.told = true
			given = append(given, Press)
		default:
			k.due = now.Add(timing.Limit)
		}
	case Up:
		if k.down {
			given = append(given, k.lift(now, wanted, timing)...)
		}
	case Press:
		given = append(given, k.pressed(now, wanted, timing)...)
	default:
		given = append(given, k.complete()...)
	}
	return given
}

// Wake returns the gestures that are complete because time went by.
func (k *Key) Wake(now time.Time, wanted Wanted, timing Timing) []string {
	var given []string
	for !k.due.IsZero() && !k.due.After(now) {
		at := k.due
		k.due = time.Time{}
		switch {
		case !k.down:
			given = append(given, k.complete()...)
		case k.held: // it was never heard that it was released
			given = append(given, Release)
			*k = Key{}
		case wanted.Held:
			given = append(given, k.complete()...)
			given = append(given, Hold)
			k.held, k.due = true, at.Add(timing.Limit)
		default:
			given = append(given, k.complete()...)
			*k = Key{}
		}
	}
	return given
}

// lift takes that the key went up.
func (k *Key) lift(now time.Time, wanted Wanted, timing Timing) []string {
	held, told := k.held, k.told
	k.down, k.held, k.told, k.due = false, false, false, time.Time{}
	switch {
	case held:
		return []string{Release}
	case told:
		return nil
	}
	return k.pressed(now, wanted, timing)
}

// pressed takes that a press is over.
func (k *Key) pressed(now time.Time, wanted Wanted, timing Timing) []string {
	k.presses++
	if k.presses >= max(1, wanted.Presses) {
		return k.complete()
	}
	k.due = now.Add(timing.Within)
	return nil
}

// complete gives the presses that were waiting whether another would follow.
func (k *Key) complete() []string {
	n := k.presses
	k.presses = 0
	if !k.down {
		k.due = time.Time{}
	}
	if n == 0 {
		return nil
	}
	return []string{counted[min(n, len(counted))-1]}
}
