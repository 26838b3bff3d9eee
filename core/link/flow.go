package link

import (
	"math"
	"time"
)

const (
	// smoothEvery is how often a smoothed value is told while it moves.
	smoothEvery = 50 * time.Millisecond
	// smoothEnough is the share of the way at which a smoothed value has arrived.
	smoothEnough = 0.002
	// waitingAtMost is how many values a delay holds; the oldest are left out.
	waitingAtMost = 4096
)

// Surroundings are what stages need to know beyond what comes in.
type Surroundings interface {
	// At returns where the targets are, in the unit in which they are set; false where that is not known.
	At() (float64, bool)
	// Expression returns what the expression of a stage comes to; false where it is not known.
	Expression(stage int, coming float64) (float64, bool)
	// Passed is told each value that leaves a stage; the source counts as stage -1.
	Passed(stage int, now time.Time, v float64)
}

// Flow is the stages of a link at work. It is not safe for several goroutines. The zero Flow passes everything.
type Flow struct {
	stages  []Stage
	working []working
}

// working is what a stage remembers.
type working struct {
	last   float64 // that passed, or to which it goes
	now    float64 // where a smoothed value is
	known  bool    // whether last is
	at     time.Time
	due    time.Time
	rest   bool // whether a value waits
	coming []waiting
}

type waiting struct {
	at time.Time
	v  float64
}

// NewFlow returns the stages of a link at work. They must be without problems.
func NewFlow(stages []Stage) *Flow {
	return &Flow{stages: stages, working: make([]working, len(stages))}
}

// Take takes a value of the source, and calls out with each that leaves the last stage.
func (f *Flow) Take(now time.Time, v float64, around Surroundings, out func(float64)) {
	f.Wake(now, around, out)
	if math.IsNaN(v) || math.IsInf(v, 0) {
		return
	}
	around.Passed(-1, now, v)
	f.on(0, now, v, around, out)
}

// on takes a value into a stage, and what leaves that into the next.
func (f *Flow) on(i int, now time.Time, v float64, around Surroundings, out func(float64)) {
	for ; i < len(f.stages); i++ {
		passes := false
		if v, passes = f.through(i, now, v, around); !passes {
			return
		}
		around.Passed(i, now, v)
	}
	out(v)
}

// Due returns when [Flow.Wake] is to be called if nothing comes before; zero for never.
func (f *Flow) Due() time.Time {
	at, _ := f.next()
	return at
}

func (f *Flow) next() (at time.Time, stage int) {
	for i := range f.working {
		if due := f.working[i].due; !due.IsZero() && (at.IsZero() || due.Before(at)) {
			at, stage = due, i
		}
	}
	return at, stage
}

// Wake lets those values go on whose time has come.
func (f *Flow) Wake(now time.Time, around Surroundings, out func(float64)) {
	for {
		at, i := f.next()
		if at.IsZero() || at.After(now) {
			return
		}
		if v, passes := f.woken(i, at); passes {
			around.Passed(i, at, v)
			f.on(i+1, at, v, around, out)
		}
	}
}

// Shift moves all that is remembered by so much: the clock was set.
func (f *Flow) Shift(by time.Duration) {
	for i := range f.working {
		w := &f.working[i]
		for _, t := range []*time.Time{&w.at, &w.due} {
			if !t.IsZero() {
				*t = t.Add(by)
			}
		}
		for j := range w.coming {
			w.coming[j].at = w.coming[j].at.Add(by)
		}
	}
}

// Forget lets what adds up begin anew at where the targets are: somebody else has set them.
func (f *Flow) Forget() {
	for i := range f.stages {
		if f.stages[i].Kind == Relative {
			f.working[i].known = false
		}
	}
}

// through takes a value into a stage, and returns what leaves it at once.
func (f *Flow) through(i int, now time.Time, v float64, around Surroundings) (float64, bool) {
	s, w := &f.stages[i], &f.working[i]
	switch s.Kind {
	case Changes:
		if w.known && v == w.last {
			return 0, false
		}
		w.last, w.known = v, true
	case DeadBand:
		if w.known && math.Abs(v-w.last) < s.Width {
			return 0, false
		}
		w.last, w.known = v, true
	case Limit:
		return w.limited(now, v, s.PerSecond)
	case Smooth:
		return w.smoothed(now, v)
	case Delay:
		if len(w.coming) >= waitingAtMost {
			w.coming = w.coming[1:]
		}
		w.coming = append(w.coming, waiting{now.Add(duration(s.Seconds)), v})
		w.due = w.coming[0].at
		return 0, false
	case Map:
		return s.mapped(v), true
	case Bounds:
		return min(s.High, max(s.Low, v)), true
	case ZeroOff:
		if v <= s.Below {
			return 0, true
		}
	case Relative:
		if !w.known {
			start, known := around.At()
			if !known {
				start = 0
			}
			w.last, w.known = f.back(i, start), true
		}
		w.last = min(s.High, max(s.Low, w.last+v*s.Step))
		return w.last, true
	case Expression:
		return around.Expression(i, v)
	}
	return v, true
}

// back returns what leaves a stage where this comes out at the end.
func (f *Flow) back(stage int, v float64) float64 {
	for i := len(f.stages) - 1; i > stage; i-- {
		if s := &f.stages[i]; s.Kind == Map {
			v = s.unmapped(v)
		}
	}
	return v
}

// limited lets a value pass if the last one did so long ago; else it waits, in the place of the one that waits.
func (w *working) limited(now time.Time, v, perSecond float64) (float64, bool) {
	if every := duration(1 / perSecond); w.known && now.Before(w.at.Add(every)) {
		w.last, w.rest, w.due = v, true, w.at.Add(every)
		return 0, false
	}
	w.at, w.known, w.rest, w.due = now, true, false, time.Time{}
	return v, true
}

// smoothed begins to go to a value. The first one is there at once.
func (w *working) smoothed(now time.Time, v float64) (float64, bool) {
	if !w.known {
		w.last, w.now, w.known, w.at = v, v, true, now
		return v, true
	}
	if w.due.IsZero() { // it rested where it was
		w.at, w.due = now, now.Add(smoothEvery)
	}
	w.last = v
	return 0, false
}

// woken returns what leaves a stage as its time comes.
func (f *Flow) woken(i int, at time.Time) (float64, bool) {
	s, w := &f.stages[i], &f.working[i]
	w.due = time.Time{}
	switch s.Kind {
	case Limit:
		w.at, w.rest = at, false
		return w.last, true
	case Delay:
		v := w.coming[0].v
		if w.coming = w.coming[1:]; len(w.coming) > 0 {
			w.due = w.coming[0].at
		}
		return v, true
	case Smooth:
		// A first-order low pass: what is left of the way shrinks by 1/e in each time constant.
		was := w.last - w.now
		left := was * math.Exp(-at.Sub(w.at).Seconds()/s.Seconds)
		w.at = at
		if math.Abs(left) <= smoothEnough*max(1, math.Abs(w.last)) {
			w.now = w.last
			return w.now, was != 0
		}
		w.now, w.due = w.last-left, at.Add(smoothEvery)
		return w.now, true
	}
	return 0, false
}

func duration(seconds float64) time.Duration { return time.Duration(seconds * float64(time.Second)) }
