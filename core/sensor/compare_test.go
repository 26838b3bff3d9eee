package sensor_test

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/sensor"
	"amvek/core/thing"
)

var start = time.Date(2026, 11, 20, 6, 0, 0, 0, time.UTC)

// readings are taken every so often of what the room is like, as a sensor says it.
func readings(every, last time.Duration, says func(room float64, i int) float64) (all []sensor.Sample) {
	for at, i := time.Duration(0), 0; at <= last; at, i = at+every, i+1 {
		room := 60 + 15*math.Sin(2*math.Pi*at.Hours()/6)
		all = append(all, sensor.Sample{At: start.Add(at), Value: says(room, i)})
	}
	return all
}

func honest(room float64, _ int) float64 { return room }

func TestAnOffsetIsFoundFromTheOverlap(t *testing.T) {
	c, err := sensor.Compare(
		readings(5*time.Minute, 4*time.Hour, func(room float64, i int) float64 { return room + 3 + 0.3*float64(i%3-1) }),
		readings(7*time.Minute, 4*time.Hour, honest))
	require.NoError(t, err)
	assert.InDelta(t, -3, c.Offset, 0.2)
	assert.InDelta(t, 0.4, c.Spread, 0.3)
	assert.Greater(t, len(c.Pairs), 60)
	assert.InDelta(t, 4, c.To.Sub(c.From).Hours(), 0.2)
	assert.InDelta(t, 1, c.Slope, 0.05, "the range allows a slope, and it is right")
}

func TestAbsurdReadingsDoNotDisturb(t *testing.T) {
	c, err := sensor.Compare(
		readings(5*time.Minute, 4*time.Hour, func(room float64, i int) float64 {
			switch i % 10 {
			case 3:
				return 1e6
			case 7:
				return math.NaN()
			}
			return room + 3
		}),
		readings(5*time.Minute, 4*time.Hour, honest))
	require.NoError(t, err)
	assert.InDelta(t, -3, c.Offset, 0.2)
}

func TestASlopeIsFoundWhereTheRangeAllowsIt(t *testing.T) {
	c, err := sensor.Compare(
		readings(5*time.Minute, 12*time.Hour, func(room float64, _ int) float64 { return (room - 6) / 0.9 }),
		readings(5*time.Minute, 12*time.Hour, honest))
	require.NoError(t, err)
	assert.InDelta(t, 0.9, c.Slope, 0.01)
	assert.InDelta(t, 6, c.SlopeOffset, 0.5)
	noisy, err := sensor.Compare(
		readings(5*time.Minute, time.Hour, func(room float64, i int) float64 { return 20 + float64(i%2) }),
		readings(5*time.Minute, time.Hour, func(float64, int) float64 { return 21 }))
	require.NoError(t, err)
	assert.Zero(t, noisy.Slope)
}

func TestAFrozenSensorIsNoticed(t *testing.T) {
	c, err := sensor.Compare(readings(10*time.Minute, 48*time.Hour, func(float64, int) float64 { return 55 }), readings(10*time.Minute, 48*time.Hour, honest))
	require.NoError(t, err)
	assert.True(t, c.Frozen)
}

func TestWhatCannotBeComparedSaysWhy(t *testing.T) {
	day := readings(5*time.Minute, 4*time.Hour, honest)
	var nextWeek []sensor.Sample
	for _, s := range day {
		nextWeek = append(nextWeek, sensor.Sample{At: s.At.Add(7 * 24 * time.Hour), Value: s.Value})
	}
	for name, c := range map[string]struct {
		suspect, trusted []sensor.Sample
		err              error
	}{
		"nothing":      {nil, day, sensor.ErrNoOverlap},
		"other times":  {day, nextWeek, sensor.ErrNoOverlap},
		"a moment":     {day[:3], day, sensor.ErrTooShort},
		"three in all": {[]sensor.Sample{day[0], day[20], day[40]}, []sensor.Sample{day[0], day[30], day[40]}, sensor.ErrTooFew},
		"not a number": {[]sensor.Sample{{At: start, Value: math.NaN()}}, day, sensor.ErrNoOverlap},
	} {
		_, err := sensor.Compare(c.suspect, c.trusted)
		assert.ErrorIs(t, err, c.err, name)
	}
}

// Whatever is wrong with the sensor by a constant, applying what was found makes the difference vanish.
func TestApplyingWhatWasFoundMakesTheDifferenceVanish(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		wrong := rapid.Float64Range(-20, 20).Draw(t, "wrong")
		says := func(room float64, i int) float64 { return room + wrong }
		trusted := readings(7*time.Minute, 6*time.Hour, honest)
		c, err := sensor.Compare(readings(5*time.Minute, 6*time.Hour, says), trusted)
		if err != nil {
			t.Fatal(err)
		}
		a := thing.Adjustment{Offset: c.Offset}
		again, err := sensor.Compare(readings(5*time.Minute, 6*time.Hour, func(room float64, i int) float64 { return a.Calibrate(says(room, i)) }), trusted)
		if err != nil || math.Abs(again.Offset) > 1e-9 {
			t.Fatalf("%v %v", again.Offset, err)
		}
	})
}
