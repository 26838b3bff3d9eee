package thing

import (
	"errors"
	"math"
	"time"
)

// Adjustment says how a sensor's readings are taken: calibrated, then smoothed, then rounded. The zero value
// takes them as they come.
type Adjustment struct {
	// Offset is added, after multiplying by Slope; a Slope of 0 means 1.
	Offset float64 `json:"offset"`
	Slope  float64 `json:"slope,omitempty"`
	// From is since when it counts for the history; zero is for all of it.
	From time.Time `json:"from,omitzero" doc:"Since when it counts for the history; absent for all of it."`
	// SmoothSeconds is the time constant of the smoothing; 0 is none.
	SmoothSeconds float64 `json:"smoothSeconds,omitempty" minimum:"0" maximum:"86400"`
	// Precision is what values are rounded to; 0 leaves them.
	Precision float64 `json:"precision,omitempty" minimum:"0" maximum:"1000"`
}

const (
	leastSlope = 0.2
	mostSlope  = 5
)

// Check returns an error when the adjustment is no sensible one.
func (a *Adjustment) Check() error {
	for _, v := range []float64{a.Offset, a.Slope, a.SmoothSeconds, a.Precision} {
		if math.IsNaN(v) || math.IsInf(v, 0) {
			return errors.New("offset: this is no number")
		}
	}
	switch {
	case a.Slope != 0 && (a.Slope < leastSlope || a.Slope > mostSlope):
		return errors.New("slope: a sensor that far off is not one to calibrate")
	case a.SmoothSeconds < 0:
		return errors.New("smoothSeconds: it cannot be negative")
	case a.Precision < 0:
		return errors.New("precision: it cannot be negative")
	}
	return nil
}

// Calibrate returns what a raw number means.
func (a *Adjustment) Calibrate(raw float64) float64 {
	slope := a.Slope
	if slope == 0 {
		slope = 1
	}
	return raw*slope + a.Offset
}

// Round returns a number at the adjustment's precision.
func (a *Adjustment) Round(v float64) float64 {
	if a.Precision <= 0 {
		return v
	}
	// Dividing by the inverse keeps 0.1 steps exact.
	inverse := 1 / a.Precision
	return math.Round(v*inverse) / inverse
}
