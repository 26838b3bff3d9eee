// Package sensor proves a sensor by another one: it compares what both said over the time that they hung side
// by side; and it learns what lamps give a sensor that sees them. It reads no history itself and changes nothing.
package sensor

import (
	"errors"
	"math"
	"slices"
	"sort"
	"time"
)

const (
	// shortestOverlap and fewestPairs are needed before anything is said.
	shortestOverlap = 30 * time.Minute
	fewestPairs     = 6
	// mostPairs is at how many moments the two are compared at most, spread evenly.
	mostPairs = 600
	// widestGap is how far apart readings may be for what lies between to be known: a sensor that reads the same
	// has no reading in its history until it reads something else.
	widestGap = 3 * time.Hour
	// wideEnough is how many spreads the readings must range over for a slope to be told from noise.
	wideEnough = 12
)

// Sample is one reading.
type Sample struct {
	At    time.Time
	Value float64
}

// Pair is what both sensors said at a moment.
type Pair struct {
	At         time.Time `json:"at"`
	Suspect    float64   `json:"suspect"`
	Trusted    float64   `json:"trusted"`
	Difference float64   `json:"difference" doc:"Trusted less suspect."`
}

// Comparison is what comes of two sensors side by side.
type Comparison struct {
	Pairs []Pair    `json:"pairs"`
	From  time.Time `json:"from"`
	To    time.Time `json:"to"`
	// Offset is the median of the differences, Spread their median absolute deviation, times 1.4826 so that it is
	// the standard deviation of normal noise (P. J. Rousseeuw, C. Croux, 1993: Alternatives to the median
	// absolute deviation).
	Offset float64 `json:"offset"`
	Spread float64 `json:"spread"`
	// Slope and SlopeOffset fit a line by the median of the slopes between pairs (P. K. Sen, 1968); 0 where the
	// readings do not range far enough.
	Slope       float64 `json:"slope,omitempty"`
	SlopeOffset float64 `json:"slopeOffset,omitempty"`
	Range       float64 `json:"range" doc:"How far the suspect's readings range."`
	// Frozen says that the suspect did not change though the trusted one did.
	Frozen bool `json:"frozen,omitempty"`
}

// Why two sensors cannot be compared.
var (
	ErrNoOverlap = errors.New("the two have no readings from the same time")
	ErrTooShort  = errors.New("the two hung side by side for too short a time; half an hour is the least, some hours are better")
	ErrTooFew    = errors.New("there are too few readings to compare")
)

// Compare compares two sensors at every moment at which one of them said something, each read off the line
// between its readings. Numbers that are none are left out.
func Compare(suspect, trusted []Sample) (Comparison, error) {
	suspect, trusted = sane(suspect), sane(trusted)
	if len(suspect) == 0 || len(trusted) == 0 {
		return Comparison{}, ErrNoOverlap
	}
	from, to := later(suspect[0].At, trusted[0].At), earlier(suspect[len(suspect)-1].At, trusted[len(trusted)-1].At)
	if !to.After(from) {
		return Comparison{}, ErrNoOverlap
	}
	if to.Sub(from) < shortestOverlap {
		return Comparison{}, ErrTooShort
	}
	var moments []time.Time
	for _, list := range [][]Sample{suspect, trusted} {
		for _, s := range list {
			if !s.At.Before(from) && !s.At.After(to) {
				moments = append(moments, s.At)
			}
		}
	}
	slices.SortFunc(moments, time.Time.Compare)
	moments = slices.CompactFunc(moments, time.Time.Equal)
	c := Comparison{From: from, To: to, Pairs: []Pair{}}
	for i := range min(len(moments), mostPairs) {
		at := moments[i]
		if len(moments) > mostPairs {
			at = moments[i*(len(moments)-1)/(mostPairs-1)]
		}
		s, okS := valueAt(suspect, at)
		t, okT := valueAt(trusted, at)
		if okS && okT {
			c.Pairs = append(c.Pairs, Pair{at, s, t, t - s})
		}
	}
	if len(c.Pairs) < fewestPairs {
		return Comparison{}, ErrTooFew
	}
	c.estimate()
	return c, nil
}

func (c *Comparison) estimate() {
	differences, values, trusted := make([]float64, len(c.Pairs)), make([]float64, len(c.Pairs)), make([]float64, len(c.Pairs))
	for i, p := range c.Pairs {
		differences[i], values[i], trusted[i] = p.Difference, p.Suspect, p.Trusted
	}
	c.Offset = median(differences)
	deviations := make([]float64, len(differences))
	for i, d := range differences {
		deviations[i] = math.Abs(d - c.Offset)
	}
	c.Spread = 1.4826 * median(deviations)
	c.Range = slices.Max(values) - slices.Min(values)
	trustedRange := slices.Max(trusted) - slices.Min(trusted)
	c.Frozen = c.Range == 0 && trustedRange > 0 && trustedRange > 4*c.Spread/wideEnough
	if c.Range < wideEnough*c.Spread || c.Range == 0 {
		return
	}
	var slopes []float64
	step := max(1, len(c.Pairs)/120) // all pairs of at most 120 moments
	for i := 0; i < len(c.Pairs); i += step {
		for j := i + step; j < len(c.Pairs); j += step {
			if run := c.Pairs[j].Suspect - c.Pairs[i].Suspect; math.Abs(run) > c.Range/4 {
				slopes = append(slopes, (c.Pairs[j].Trusted-c.Pairs[i].Trusted)/run)
			}
		}
	}
	if len(slopes) < fewestPairs {
		return
	}
	slope := median(slopes)
	if slope <= 0 {
		return
	}
	rests := make([]float64, len(c.Pairs))
	for i, p := range c.Pairs {
		rests[i] = p.Trusted - slope*p.Suspect
	}
	c.Slope, c.SlopeOffset = slope, median(rests)
}

// valueAt reads a value off the line between two readings; it is false where they lie too far apart.
func valueAt(list []Sample, at time.Time) (float64, bool) {
	i := sort.Search(len(list), func(i int) bool { return !list[i].At.Before(at) })
	if i < len(list) && list[i].At.Equal(at) {
		return list[i].Value, true
	}
	if i == 0 || i == len(list) {
		return 0, false
	}
	before, after := list[i-1], list[i]
	gap := after.At.Sub(before.At)
	if gap > widestGap {
		return 0, false
	}
	share := float64(at.Sub(before.At)) / float64(gap)
	return before.Value + share*(after.Value-before.Value), true
}

func median(values []float64) float64 {
	sorted := slices.Sorted(slices.Values(values))
	n := len(sorted)
	if n%2 == 1 {
		return sorted[n/2]
	}
	return (sorted[n/2-1] + sorted[n/2]) / 2
}

// sane returns the samples that are numbers, in order.
func sane(list []Sample) []Sample {
	out := make([]Sample, 0, len(list))
	for _, s := range list {
		if !math.IsNaN(s.Value) && !math.IsInf(s.Value, 0) {
			out = append(out, s)
		}
	}
	slices.SortStableFunc(out, func(a, b Sample) int { return a.At.Compare(b.At) })
	return out
}

func later(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}

func earlier(a, b time.Time) time.Time {
	if a.Before(b) {
		return a
	}
	return b
}
