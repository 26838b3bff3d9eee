// Package rhythm learns how often a device speaks by itself, so that its silence is noticed after its own
// time and not after a fixed number of hours. It knows the time by argument alone and watches nothing itself.
package rhythm

import (
	"math"
	"slices"
	"time"
)

const (
	// Burst is within what several messages are one: a device says all its values at once.
	Burst = time.Second
	// remembered is how many gaps between messages are remembered, needed how many make a regular rhythm.
	remembered = 24
	needed     = 8
	// regularSpread is how far the longest of the remembered gaps may be above the median for the rhythm to be regular.
	regularSpread = 1.5
	// patience is how many regular gaps may pass in silence: one message may get lost on the way.
	patience = 2.5
	// days is over how many days the longest gap of a device that speaks irregularly is looked for, and settled
	// how long it must have been listened to.
	days    = 7
	settled = 24 * time.Hour
	// longestPatience is how many times the longest gap may pass in silence.
	longestPatience = 1.5
	// shortest and longest are limits of what is called silence.
	shortest = 30 * time.Second
	longest  = 7 * 24 * time.Hour
)

// Kind says how a rhythm is known.
type Kind string

// The kinds.
const (
	Unknown   Kind = "unknown"   // too little was heard yet
	Regular   Kind = "regular"   // it speaks at about equal times
	Irregular Kind = "irregular" // it speaks when something changes, but never was silent for longer than the longest gap
)

// Day is the longest gap that ended on a day.
type Day struct {
	Day     int64   `json:"day"` // since 1970
	Seconds float64 `json:"seconds"`
}

// Rhythm is what is remembered of when a device spoke. The zero value has heard nothing.
type Rhythm struct {
	Heard time.Time `json:"heard,omitzero"`
	// Listening is since when it was listened to again, while it was not heard since.
	Listening time.Time `json:"listening,omitzero"`
	// Since is since when it is listened to without interruption.
	Since time.Time `json:"since,omitzero"`
	Gaps  []float64 `json:"gaps,omitempty"` // in seconds, the newest last
	Days  []Day     `json:"days,omitempty"`
}

// Clone returns a copy that shares nothing with r.
func (r *Rhythm) Clone() Rhythm {
	clone := *r
	clone.Gaps, clone.Days = slices.Clone(r.Gaps), slices.Clone(r.Days)
	return clone
}

// Hear takes that the device spoke, and reports whether a new gap was learned.
func (r *Rhythm) Hear(at time.Time) bool {
	if r.Heard.IsZero() || at.Before(r.Heard) {
		r.Heard, r.Listening = at, time.Time{}
		if r.Since.IsZero() || at.Before(r.Since) {
			r.Since = at
		}
		return false
	}
	gap := at.Sub(r.Heard)
	if gap < Burst {
		return false
	}
	r.Heard = at
	if len(r.Gaps) >= remembered {
		r.Gaps = append(r.Gaps[:0], r.Gaps[1:]...)
	}
	r.Gaps = append(r.Gaps, gap.Seconds())
	today := at.Unix() / 86400
	if n := len(r.Days); n > 0 && r.Days[n-1].Day == today {
		r.Days[n-1].Seconds = max(r.Days[n-1].Seconds, gap.Seconds())
		return true
	}
	r.Days = append(r.Days, Day{today, gap.Seconds()})
	if len(r.Days) > days {
		r.Days = r.Days[1:]
	}
	return true
}

// Interrupted takes that nobody could listen until now: what lies between the last word and the next is no
// gap. What was learned stays, and silence counts from now.
func (r *Rhythm) Interrupted(now time.Time) { r.Heard, r.Listening = time.Time{}, now }

// Learned is what a rhythm comes to.
type Learned struct {
	Kind Kind `json:"kind" enum:"unknown,regular,irregular"`
	// EverySeconds is the usual gap of a regular rhythm, the longest gap of an irregular one.
	EverySeconds float64 `json:"everySeconds"`
	// SilentAfterSeconds is how long a silence means that something is wrong, 0 when that is not known.
	SilentAfterSeconds float64 `json:"silentAfterSeconds"`
	// From is from how many gaps it was learned.
	From int `json:"from" doc:"From how many gaps between messages it was learned."`
}

// Learn returns what is known. A device that also speaks at odd times, because something changed, has an
// irregular rhythm, which is known after a day; periodic says whether it speaks by itself at all, as a
// sensor does and a lamp does not.
func (r *Rhythm) Learn(now time.Time, periodic bool) Learned {
	n := len(r.Gaps)
	if n >= needed {
		var room [remembered]float64 // a device is looked at after each of its words: no memory is asked for
		sorted := append(room[:0], r.Gaps...)
		slices.Sort(sorted)
		median := sorted[n/2]
		if sorted[n-1] <= regularSpread*median && sorted[0] >= median/regularSpread {
			return Learned{Regular, median, limited(median * patience), n}
		}
	}
	if !periodic || n < needed || now.Sub(r.Since) < settled {
		return Learned{Kind: Unknown, From: n}
	}
	most := 0.0
	for _, d := range r.Days {
		most = max(most, d.Seconds)
	}
	return Learned{Irregular, most, limited(most * longestPatience), n}
}

func limited(seconds float64) float64 {
	return min(max(seconds, shortest.Seconds()), longest.Seconds())
}

// SilentAt returns when silence is to be noticed, if it lasts; it is false while nothing is known. Times are
// rounded up to a grid by their length, so that many devices are looked at together.
func (r *Rhythm) SilentAt(now time.Time, periodic bool) (time.Time, bool) {
	learned := r.Learn(now, periodic)
	from := r.Heard
	if from.IsZero() {
		from = r.Listening
	}
	if learned.SilentAfterSeconds == 0 || from.IsZero() {
		return time.Time{}, false
	}
	after := time.Duration(learned.SilentAfterSeconds * float64(time.Second))
	grid := 10 * time.Second
	switch {
	case after >= 20*time.Minute:
		grid = 10 * time.Minute
	case after >= 5*time.Minute:
		grid = time.Minute
	}
	at := from.Add(after)
	seconds := math.Ceil(float64(at.UnixNano())/float64(grid)) * float64(grid)
	return time.Unix(0, int64(seconds)).In(at.Location()), true
}
