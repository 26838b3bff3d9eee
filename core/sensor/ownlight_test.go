package sensor_test

import (
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/sensor"
)

// sample is a reading so long after the start.
func sample(after time.Duration, value float64) sensor.Sample {
	return sensor.Sample{At: start.Add(after), Value: value}
}

func TestWhatALampGivesIsReadOffItsSwitching(t *testing.T) {
	lamp := sensor.Lamp{Device: "stair"}
	readings := at(time.Minute, 2)
	for i := range 4 {
		on := time.Duration(i+1) * time.Hour
		lamp.Light = append(lamp.Light, sample(on, 0.5), sample(on+20*time.Minute, 0))
		readings = append(readings, sample(on+3*time.Second, 32), sample(on+20*time.Minute+3*time.Second, 2))
	}
	o, err := sensor.LearnOwnLight(readings, []sensor.Lamp{lamp})
	require.NoError(t, err)
	require.Len(t, o.Lamps, 1)
	assert.InDelta(t, 60, o.Lamps[0].Lux, 0.1, "half of its light is 30 lx, seven times: what it was before the first is not known")
	assert.Equal(t, 7, o.Lamps[0].Times)
	assert.True(t, o.Lamps[0].Sure)
	assert.Less(t, o.Lamps[0].Spread, 1.0)
	assert.InDelta(t, -30, o.Switchings[0].Explained, 0.1)
	assert.InDelta(t, 0, o.Left, 0.1)
}

func TestWhatIsLearnedIsSaidWithHowSureItIs(t *testing.T) {
	off := func(after time.Duration) []sensor.Sample { return []sensor.Sample{sample(0, 1), sample(after, 0)} }
	_, err := sensor.LearnOwnLight(nil, []sensor.Lamp{{Device: "a", Light: off(time.Hour)}})
	assert.ErrorIs(t, err, sensor.ErrNoReadings)
	_, err = sensor.LearnOwnLight(at(time.Minute, 5, math.NaN(), 5), []sensor.Lamp{{Device: "a"}})
	assert.ErrorIs(t, err, sensor.ErrNeverChange)

	readings := []sensor.Sample{sample(0, 40), sample(time.Hour+2*time.Minute, 10)}
	o, err := sensor.LearnOwnLight(readings, []sensor.Lamp{{Device: "a", Light: off(time.Hour)}})
	require.NoError(t, err, "two minutes after it is soon enough")
	assert.InDelta(t, 30, o.Lamps[0].Lux, 0.1)
	assert.False(t, o.Lamps[0].Sure || o.Sure, "once is not enough")
	readings[1] = sample(time.Hour+2*time.Minute+time.Second, 10)
	o, err = sensor.LearnOwnLight(readings, []sensor.Lamp{{Device: "a", Light: off(time.Hour)}})
	assert.ErrorIs(t, err, sensor.ErrNeverChange)
	assert.Equal(t, 1, o.Lamps[0].Unseen)

	// What fades over hours cannot be told from the daylight, and what changes by little not from noise.
	slow := sensor.Lamp{Device: "a", Light: []sensor.Sample{sample(0, 1)}}
	for i := range 20 {
		slow.Light = append(slow.Light, sample(time.Hour+time.Duration(i)*15*time.Second, 1-float64(i+1)/20))
	}
	_, err = sensor.LearnOwnLight(at(time.Minute, make([]float64, 120)...), []sensor.Lamp{slow})
	assert.ErrorIs(t, err, sensor.ErrNeverChange)
	little := sensor.Lamp{Device: "a", Light: []sensor.Sample{sample(0, 1), sample(time.Hour, 0.95)}}
	_, err = sensor.LearnOwnLight(at(time.Minute, make([]float64, 120)...), []sensor.Lamp{little})
	assert.ErrorIs(t, err, sensor.ErrNeverChange)
}

// The sensor says so before the lamp does, and at the very moment at which the lamp goes off again.
func TestASensorMayBeQuickerThanTheLamp(t *testing.T) {
	lamp, readings := sensor.Lamp{Device: "stair"}, at(time.Minute, 2)
	for i := range 4 {
		on := time.Duration(i+1) * time.Hour
		lamp.Light = append(lamp.Light, sample(on, 1), sample(on+time.Minute, 0))
		readings = append(readings, sample(on-3*time.Second, 62), sample(on+time.Minute-4*time.Second, 2))
	}
	o, err := sensor.LearnOwnLight(readings, []sensor.Lamp{lamp})
	require.NoError(t, err)
	assert.InDelta(t, 60, o.Lamps[0].Lux, 0.1)
	assert.Less(t, o.Left, 0.1, "not one of them was taken for another")
}

// Two lamps that were always switched together give together what was read, and neither is sure.
func TestLampsThatWereAlwaysSwitchedTogether(t *testing.T) {
	one, other := sensor.Lamp{Device: "one"}, sensor.Lamp{Device: "other"}
	readings := at(time.Minute, 0)
	for i := range 10 {
		when, lit := time.Duration(i+1)*time.Hour, float64(1-i%2)
		one.Light, other.Light = append(one.Light, sample(when, lit)), append(other.Light, sample(when+5*time.Second, lit))
		readings = append(readings, sample(when+10*time.Second, 80*lit))
	}
	o, err := sensor.LearnOwnLight(readings, []sensor.Lamp{one, other})
	require.NoError(t, err)
	assert.InDelta(t, 80, o.Lamps[0].Lux+o.Lamps[1].Lux, 0.5)
	assert.False(t, o.Lamps[0].Sure || o.Lamps[1].Sure)
	assert.True(t, o.Sure, "their sum is")
}

// Whatever the lamps give, by night and by day, with clouds and with lies now and then, is found within a few of its standard errors; a
// lamp that the sensor does not see gives nothing.
func TestSharesAreFoundAgain(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		truth := rapid.SliceOfN(rapid.Float64Range(0, 300), 1, 6).Draw(t, "shares")
		truth[0] = 0
		r := rand.New(rand.NewPCG(rapid.Uint64().Draw(t, "chance"), 7))
		lamps, lit := make([]sensor.Lamp, len(truth)), make([]float64, len(truth))
		for i := range lamps {
			lamps[i].Light = []sensor.Sample{{At: start, Value: 0}}
		}
		day := func(at time.Duration) float64 { // half of it is night
			return math.Max(0, math.Sin(at.Hours()/24*2*math.Pi)) * 800 * (1 + 0.02*r.NormFloat64())
		}
		var readings []sensor.Sample
		for at := time.Duration(0); at < 14*24*time.Hour; at += time.Duration(1800+r.IntN(3600)) * time.Second {
			readings = append(readings, sample(at, reads(r, day(at), truth, lit)))
			for i := range lamps {
				if r.Float64() < 0.35 {
					lit[i] = float64(r.IntN(5)) / 4
					lamps[i].Light = append(lamps[i].Light, sample(at+time.Minute+time.Duration(i)*time.Second, lit[i]))
				}
			}
			lie := 0.0
			if r.Float64() < 0.05 {
				lie = 400
			}
			readings = append(readings, sample(at+time.Minute+20*time.Second, reads(r, day(at), truth, lit)+lie))
		}
		o, err := sensor.LearnOwnLight(readings, lamps)
		if err != nil {
			t.Fatal(err)
		}
		for i, l := range o.Lamps {
			if math.Abs(l.Lux-truth[i]) > 5*l.Spread+2 {
				t.Fatalf("lamp %d gives %.1f lx and was found to give %.1f ± %.1f", i, truth[i], l.Lux, l.Spread)
			}
			if l.Spread > 20 {
				t.Fatalf("lamp %d is no surer than ± %.1f lx of two weeks", i, l.Spread)
			}
		}
	})
}

// reads is what a sensor reads that is never exact.
func reads(r *rand.Rand, daylight float64, shares, lit []float64) float64 {
	for i, share := range shares {
		daylight += share * lit[i]
	}
	return math.Max(0, math.Round(daylight+0.3*r.NormFloat64()))
}
