package link

import (
	"slices"
	"time"
)

// Place says where in a link a value was seen.
type Place string

// The places.
const (
	AtSource  Place = "source"    // it came in
	AtStage   Place = "stage"     // it left the stage of the index
	AtTarget  Place = "target"    // the target of the index was set to it
	Confirmed Place = "confirmed" // the target of the index said that it is at it
)

// Sample is a value that was seen in a link.
type Sample struct {
	Number uint64    `json:"number" doc:"Counts the samples of the link, from 1."`
	At     time.Time `json:"at"`
	Place  Place     `json:"place" enum:"source,stage,target,confirmed"`
	Index  int       `json:"index" doc:"Which stage or target; 0 for the source."`
	Value  float64   `json:"value"`
	// Milliseconds is how long after it was asked for a target confirmed.
	Milliseconds float64 `json:"milliseconds,omitempty" doc:"How long after it was asked for it was confirmed."`
}

// recordFor is how long samples are kept.
const recordFor = 10 * time.Minute

// Record is what was seen in a link lately. The zero Record is empty and keeps nothing.
type Record struct {
	// Most is how many samples are kept.
	Most    int
	number  uint64
	samples []Sample
	begin   int // of those that are kept
}

// Add takes a sample, and gives it its number.
func (r *Record) Add(s Sample) {
	if r.Most <= 0 {
		return
	}
	r.number++
	s.Number = r.number
	r.samples = append(r.samples, s)
	for r.begin < len(r.samples) && (len(r.samples)-r.begin > r.Most || s.At.Sub(r.samples[r.begin].At) > recordFor) {
		r.begin++
	}
	if r.begin > len(r.samples)/2 {
		r.samples = append(r.samples[:0], r.samples[r.begin:]...)
		r.begin = 0
	}
}

// Clear forgets what was seen. The numbers go on.
func (r *Record) Clear() { r.samples, r.begin = nil, 0 }

// Since returns a copy of the samples after a number, the oldest first.
func (r *Record) Since(number uint64) []Sample {
	kept := r.samples[r.begin:]
	at, _ := slices.BinarySearchFunc(kept, number+1, func(s Sample, n uint64) int {
		switch {
		case s.Number < n:
			return -1
		case s.Number > n:
			return 1
		}
		return 0
	})
	return slices.Clone(kept[at:])
}

// Shift moves all that was seen by so much: the clock was set.
func (r *Record) Shift(by time.Duration) {
	for i := range r.samples {
		r.samples[i].At = r.samples[i].At.Add(by)
	}
}

// Tried is what leaves each place while samples of a source go through stages, without any link being at work.
func Tried(stages []Stage, in []Sample, at float64, expression func(stage int, coming float64) (float64, bool)) []Sample {
	const most = 1 << 16
	t := &trying{record: Record{Most: most}, at: at, expression: expression}
	f := NewFlow(stages)
	var now time.Time
	out := func(v float64) { t.record.Add(Sample{At: now, Place: AtTarget, Value: v}) }
	until := func(end time.Time) {
		for due := f.Due(); !due.IsZero() && !due.After(end); due = f.Due() {
			now = due
			f.Wake(now, t, out)
		}
	}
	for _, s := range in {
		until(s.At)
		now = s.At
		f.Take(now, s.Value, t, out)
	}
	if len(in) > 0 {
		until(in[len(in)-1].At.Add(recordFor))
	}
	return t.record.Since(0)
}

// trying is what stages are told while they are tried.
type trying struct {
	record     Record
	at         float64
	expression func(stage int, coming float64) (float64, bool)
}

func (t *trying) At() (float64, bool) { return t.at, true }
func (t *trying) Expression(stage int, coming float64) (float64, bool) {
	return t.expression(stage, coming)
}

func (t *trying) Passed(stage int, now time.Time, v float64) {
	if stage < 0 {
		t.record.Add(Sample{At: now, Place: AtSource, Value: v})
		return
	}
	t.record.Add(Sample{At: now, Place: AtStage, Index: stage, Value: v})
}
