package sensor_test

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/sensor"
)

// at makes samples of values, so far apart from each other.
func at(every time.Duration, values ...float64) (all []sensor.Sample) {
	for i, v := range values {
		all = append(all, sensor.Sample{At: start.Add(time.Duration(i) * every), Value: v})
	}
	return all
}

func compared(t *testing.T, suspect, trusted []sensor.Sample) sensor.Comparison {
	c, err := sensor.Compare(suspect, trusted)
	require.NoError(t, err)
	return c
}

func TestTheLimitsOfAComparisonAreExact(t *testing.T) {
	six := at(6*time.Minute, 1, 2, 3, 4, 5, 6) // half an hour, six moments
	assert.Len(t, compared(t, six, six).Pairs, 6, "half an hour and six moments are enough")
	_, err := sensor.Compare(at(6*time.Minute-time.Second, 1, 2, 3, 4, 5, 6), six)
	assert.ErrorIs(t, err, sensor.ErrTooShort)
	_, err = sensor.Compare(at(8*time.Minute, 1, 2, 3, 4, 5), at(8*time.Minute, 1, 2, 3, 4, 5))
	assert.ErrorIs(t, err, sensor.ErrTooFew, "five moments are not")

	// Between readings three hours apart what lies between is known; farther apart it is not.
	minutes := at(10*time.Minute, make([]float64, 40)...)
	c := compared(t, at(3*time.Hour, 0, 90), minutes)
	require.Len(t, c.Pairs, 19)
	assert.InDelta(t, 5, c.Pairs[1].Suspect, 1e-9, "a third of the way at a third of the time, and so on")
	assert.InDelta(t, 90, c.Pairs[18].Suspect, 1e-9)
	_, err = sensor.Compare(at(3*time.Hour+time.Second, 0, 90), minutes)
	assert.ErrorIs(t, err, sensor.ErrTooFew)

	// Between its first and its last reading, and neither before nor after.
	c = compared(t, at(30*time.Minute, 7, 9), at(5*time.Minute, make([]float64, 20)...))
	assert.Equal(t, start, c.From)
	assert.Equal(t, start.Add(30*time.Minute), c.To)
	assert.Len(t, c.Pairs, 7)
}

func TestTheEstimatesAreThoseOfTheirFormulas(t *testing.T) {
	// Differences 1, 2, 3, 4, 5, 6: the median lies between 3 and 4, the deviations from it are 2.5, 1.5, 0.5, 0.5, 1.5, 2.5.
	c := compared(t, at(6*time.Minute, 0, 0, 0, 0, 0, 0), at(6*time.Minute, 1, 2, 3, 4, 5, 6))
	assert.InDelta(t, 3.5, c.Offset, 1e-12)
	assert.InDelta(t, 1.4826*1.5, c.Spread, 1e-12)
	assert.Zero(t, c.Range)
	assert.True(t, c.Frozen, "it did not change, the trusted one ranged over 5, far more than a third of the spread")
	// Seven: the one in the middle.
	assert.InDelta(t, 4, compared(t, at(6*time.Minute, 0, 0, 0, 0, 0, 0, 0), at(6*time.Minute, 1, 2, 9, 4, 5, 3, 7)).Offset, 1e-12)
	// Neither changed: nobody is frozen.
	assert.False(t, compared(t, at(6*time.Minute, 4, 4, 4, 4, 4, 4), at(6*time.Minute, 4, 4, 4, 4, 4, 4)).Frozen)
	// The suspect changed a little: it is not frozen.
	assert.False(t, compared(t, at(6*time.Minute, 4, 4, 4, 4, 4, 5), at(6*time.Minute, 1, 2, 3, 4, 5, 6)).Frozen)

	// A line through all: the slope and what is left at zero.
	line := compared(t, at(6*time.Minute, 0, 10, 20, 30, 40, 50, 60), at(6*time.Minute, 3, 12, 21, 30, 39, 48, 57))
	assert.InDelta(t, 0.9, line.Slope, 1e-12)
	assert.InDelta(t, 3, line.SlopeOffset, 1e-12)
	// One that falls while the other rises has none.
	assert.Zero(t, compared(t, at(6*time.Minute, 0, 10, 20, 30, 40, 50, 60), at(6*time.Minute, 33, 28, 23, 18, 13, 8, 3)).Slope)
	assert.Zero(t, compared(t, at(6*time.Minute, 0, 10, 20, 30, 40, 50, 60), at(6*time.Minute, 5, 5, 5, 5, 5, 5, 5)).Slope, "nor has one that stays")
}

// Of many moments six hundred are compared, from the first to the last.
func TestManyReadingsAreComparedAtSixHundredMoments(t *testing.T) {
	values := make([]float64, 2000)
	for i := range values {
		values[i] = math.Sin(float64(i) / 50)
	}
	all := at(time.Minute, values...)
	c := compared(t, all, all)
	require.Len(t, c.Pairs, 600)
	assert.Equal(t, all[0].At, c.Pairs[0].At)
	assert.Equal(t, all[len(all)-1].At, c.Pairs[599].At)
	for i := 1; i < len(c.Pairs); i++ {
		require.True(t, c.Pairs[i].At.After(c.Pairs[i-1].At), "each moment once, in order")
	}
	assert.Len(t, compared(t, all[:600], all[:600]).Pairs, 600, "so many are all compared")
}
