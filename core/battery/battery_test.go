package battery_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/battery"
)

var start = time.Date(2026, 11, 1, 0, 0, 0, 0, time.UTC)

// falling are readings twice a day, rounded as devices do, with what is odd about them.
func falling(from, perDay float64, days int, odd func(i int, percent float64) float64) (all []battery.Reading) {
	for i := range days * 2 {
		percent := from - perDay*float64(i)/2
		all = append(all, battery.Reading{At: start.Add(time.Duration(i) * 12 * time.Hour), Percent: odd(i, float64(int(percent*2+0.5))/2)})
	}
	return all
}

func plain(_ int, percent float64) float64 { return percent }

func TestAFallingBatteryIsProjected(t *testing.T) {
	p, ok := battery.Project(falling(80, 2, 10, plain))
	require.True(t, ok)
	assert.InDelta(t, 2, p.PerDay, 0.1)
	assert.InDelta(t, 40, p.EmptyAt.Sub(start).Hours()/24, 2)
	assert.False(t, p.Soonest.After(p.EmptyAt) || p.Latest.Before(p.EmptyAt))
	assert.InDelta(t, 9.5, p.OverDays, 0.1)
}

func TestOddReadingsDoNotDisturb(t *testing.T) {
	cold, ok := battery.Project(falling(80, 2, 10, func(i int, percent float64) float64 {
		if i%7 == 3 {
			return percent - 6 // a cold night
		}
		return percent
	}))
	require.True(t, ok)
	assert.InDelta(t, 2, cold.PerDay, 0.3)
	assert.True(t, cold.Latest.After(cold.Soonest.Add(24*time.Hour)), "and it is said that one is less sure")
}

func TestAReplacedBatteryBeginsAnew(t *testing.T) {
	readings := append(falling(30, 4, 6, plain), func() (after []battery.Reading) {
		for _, r := range falling(100, 1, 8, plain) {
			after = append(after, battery.Reading{At: r.At.Add(6 * 24 * time.Hour), Percent: r.Percent})
		}
		return after
	}()...)
	p, ok := battery.Project(readings)
	require.True(t, ok)
	assert.InDelta(t, 1, p.PerDay, 0.1)
}

func TestTooLittleSaysNothing(t *testing.T) {
	for name, readings := range map[string][]battery.Reading{
		"none": nil, "one": falling(80, 2, 1, plain)[:1], "an hour": {{start, 80}, {start.Add(30 * time.Minute), 79}, {start.Add(time.Hour), 70}},
		"steady": falling(80, 0, 20, plain), "rising": falling(50, -1, 5, plain),
	} {
		_, ok := battery.Project(readings)
		assert.False(t, ok, name)
	}
}

func TestWhateverIsReadTheBoundsAreInOrder(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var readings []battery.Reading
		at := start
		for range rapid.IntRange(0, 300).Draw(t, "n") {
			at = at.Add(time.Duration(rapid.IntRange(0, 48).Draw(t, "hours")) * time.Hour)
			readings = append(readings, battery.Reading{At: at, Percent: rapid.Float64Range(0, 100).Draw(t, "percent")})
		}
		p, ok := battery.Project(readings)
		if ok && (p.Soonest.After(p.EmptyAt) || p.Latest.Before(p.EmptyAt) || p.Soonest.Before(readings[0].At) || p.PerDay <= 0) {
			t.Fatalf("%+v", p)
		}
	})
}
