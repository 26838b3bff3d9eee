// Package battery projects from what a battery said when it will be empty. It reads no history itself.
package battery

import (
	"slices"
	"time"
)

const (
	// replaced is a rise, in percent, that means another battery.
	replaced = 8
	// most is how many readings are looked at, spread evenly over the time.
	most = 120
	// longEnough and fallenEnough are needed before anything is said.
	longEnough   = 24 * time.Hour
	fallenEnough = 1.0
	// farthestDays is how far ahead a projection means anything.
	farthestDays = 5 * 365
)

// Reading is what a battery said.
type Reading struct {
	At      time.Time
	Percent float64
}

// Projection says when a battery will be empty.
type Projection struct {
	EmptyAt time.Time `json:"emptyAt"`
	// Soonest and Latest bound it: eight in ten of the slopes between readings lie within.
	Soonest time.Time `json:"soonest"`
	Latest  time.Time `json:"latest"`
	PerDay  float64   `json:"perDay" doc:"Percent a day."`
	// OverDays is over how many days it was observed.
	OverDays float64 `json:"overDays"`
}

// Project fits a line through the readings since the battery was last replaced, by the median of the slopes
// between all pairs of them (P. K. Sen, 1968: Estimates of the regression coefficient based on Kendall's tau), which
// a few odd readings do not disturb. It is false while there is too little to go by, or nothing is used up.
func Project(readings []Reading) (Projection, bool) {
	readings = sinceReplaced(readings)
	if len(readings) < 3 {
		return Projection{}, false
	}
	first, last := readings[0], readings[len(readings)-1]
	if last.At.Sub(first.At) < longEnough || first.Percent-last.Percent < fallenEnough {
		return Projection{}, false
	}
	readings = thinned(readings)
	var slopes []float64 // percent a day
	for i := range readings {
		for j := i + 1; j < len(readings); j++ {
			if days := readings[j].At.Sub(readings[i].At).Hours() / 24; days > 0.1 {
				slopes = append(slopes, (readings[i].Percent-readings[j].Percent)/days)
			}
		}
	}
	slices.Sort(slopes)
	at := func(share float64) float64 { return slopes[int(share*float64(len(slopes)-1))] }
	middle := at(0.5)
	if middle <= 0 {
		return Projection{}, false
	}
	empty := func(perDay float64) time.Time {
		days := float64(farthestDays)
		if perDay > 0 {
			days = min(days, last.Percent/perDay)
		}
		return last.At.Add(time.Duration(days * 24 * float64(time.Hour)))
	}
	return Projection{
		EmptyAt:  empty(middle),
		Soonest:  empty(at(0.9)),
		Latest:   empty(at(0.1)),
		PerDay:   middle,
		OverDays: last.At.Sub(first.At).Hours() / 24,
	}, true
}

func sinceReplaced(readings []Reading) []Reading {
	from := 0
	for i := 1; i < len(readings); i++ {
		if readings[i].Percent-readings[i-1].Percent >= replaced {
			from = i
		}
	}
	return readings[from:]
}

func thinned(readings []Reading) []Reading {
	if len(readings) <= most {
		return readings
	}
	few := make([]Reading, most)
	for i := range few {
		few[i] = readings[i*(len(readings)-1)/(most-1)]
	}
	return few
}
