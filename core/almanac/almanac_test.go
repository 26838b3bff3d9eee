package almanac_test

import (
	"testing"
	"time"
	_ "time/tzdata"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/almanac"
)

var (
	mill   = almanac.Place{Latitude: 51.5, Longitude: -2.6}
	north  = almanac.Place{Latitude: 69.65, Longitude: 18.95}
	london = zone("Europe/London")
	oslo   = zone("Europe/Oslo")
)

func zone(name string) *time.Location {
	z, err := time.LoadLocation(name)
	if err != nil {
		panic(err)
	}
	return z
}

// The wanted times are those of an independent program (SunCalc 2.0.2, computed once).
func TestSunAgreesWithAnIndependentProgram(t *testing.T) {
	for _, c := range sunTable {
		place := almanac.Place{Latitude: c.latitude, Longitude: c.longitude}
		noon, err := time.Parse(time.RFC3339, c.noon)
		require.NoError(t, err)
		sun := place.On(noon)
		for _, pair := range []struct {
			name string
			got  time.Time
			want string
		}{{"rise", sun.Rise, c.rise}, {"set", sun.Set, c.set}, {"dawn", sun.Dawn, c.dawn}, {"dusk", sun.Dusk, c.dusk}} {
			want, err := time.Parse(time.RFC3339, pair.want)
			require.NoError(t, err)
			assert.WithinDuration(t, want, pair.got, 90*time.Second, "%s at %v on %s", pair.name, place, c.noon)
		}
	}
}

func TestPolarDayAndNightAreSaid(t *testing.T) {
	midsummer := north.On(time.Date(2026, 6, 21, 12, 0, 0, 0, oslo))
	assert.Equal(t, almanac.PolarDay, midsummer.Polar)
	assert.True(t, midsummer.Rise.IsZero())
	midwinter := north.On(time.Date(2026, 12, 21, 12, 0, 0, 0, oslo))
	assert.Equal(t, almanac.PolarNight, midwinter.Polar)
	assert.False(t, midwinter.Dawn.IsZero(), "there is still twilight at noon")
}

func TestSunIsOrderedAndOnItsDay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		place := almanac.Place{Latitude: rapid.Float64Range(-60, 60).Draw(t, "latitude"), Longitude: rapid.Float64Range(-7, 7).Draw(t, "longitude")}
		day := time.Date(2026, 1, 1, 12, 0, 0, 0, london).AddDate(0, 0, rapid.IntRange(0, 3650).Draw(t, "day"))
		sun := place.On(day)
		require.Equal(t, almanac.NotPolar, sun.Polar)
		require.True(t, sun.Rise.Before(sun.Noon) && sun.Noon.Before(sun.Set))
		require.Equal(t, day.YearDay(), sun.Rise.YearDay())
		require.InDelta(t, -0.833, place.Height(sun.Rise), 0.05)
		require.InDelta(t, -0.833, place.Height(sun.Set), 0.05)
	})
}

func TestWallClockAcrossClockChanges(t *testing.T) {
	at := func(month time.Month, day, hour, minute int) string {
		return almanac.WallClock(2026, month, day, hour, minute, london).Format(time.RFC3339)
	}
	assert.Equal(t, "2026-03-29T02:30:00+01:00", at(time.March, 29, 1, 30), "skipped by the clock: moved forward by the gap")
	assert.Equal(t, "2026-10-25T01:30:00+01:00", at(time.October, 25, 1, 30), "comes twice: the first is meant")
	assert.Equal(t, "2026-10-25T02:30:00Z", at(time.October, 25, 2, 30))
	assert.Equal(t, "2026-03-29T00:59:00Z", at(time.March, 29, 0, 59))
	assert.Equal(t, "2026-07-01T07:00:00+01:00", at(time.July, 1, 7, 0))
}

func TestNextComesOncePerChosenDay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		daily := almanac.Daily{Anchor: rapid.SampledFrom([]almanac.Anchor{almanac.ByClock, almanac.BySunrise, almanac.BySunset}).Draw(t, "anchor")}
		if daily.Anchor == almanac.ByClock {
			daily.Clock = time.Date(2026, 1, 1, rapid.IntRange(0, 23).Draw(t, "hour"), rapid.IntRange(0, 59).Draw(t, "minute"), 0, 0, time.UTC).Format("15:04")
		} else {
			daily.OffsetMinutes = rapid.IntRange(-180, 180).Draw(t, "offset")
		}
		require.NoError(t, daily.Check())
		after := time.Date(2026, rapid.SampledFrom([]time.Month{3, 7, 10}).Draw(t, "month"), rapid.IntRange(20, 31).Draw(t, "day"), 0, 0, 0, 0, london)
		previous := time.Time{}
		for range 6 {
			next, ok := daily.Next(after, mill)
			require.True(t, ok)
			require.True(t, next.After(after))
			if !previous.IsZero() { // a sun time near midnight may come twice on a calendar day, but not twice for one sunset
				require.InDelta(t, 24, next.Sub(previous).Hours(), 1.2)
			}
			previous, after = next, next
		}
	})
}

func TestNextKeepsToItsWeekdays(t *testing.T) {
	daily := almanac.Daily{Anchor: almanac.ByClock, Clock: "06:50", Weekdays: []time.Weekday{time.Saturday}}
	next, ok := daily.Next(time.Date(2026, 11, 23, 7, 0, 0, 0, london), mill)
	require.True(t, ok)
	assert.Equal(t, "2026-11-28T06:50:00Z", next.Format(time.RFC3339))
}

func TestNextSkipsDaysWithoutSunrise(t *testing.T) {
	daily := almanac.Daily{Anchor: almanac.BySunrise}
	next, ok := daily.Next(time.Date(2026, 12, 1, 0, 0, 0, 0, oslo), north)
	require.True(t, ok)
	assert.Equal(t, time.January, next.Month(), "the sun comes back in January")
}

func TestCheckNamesTheField(t *testing.T) {
	assert.ErrorContains(t, almanac.Daily{Anchor: almanac.ByClock, Clock: "25:00"}.Check(), "clock:")
	assert.ErrorContains(t, almanac.Daily{Anchor: "moon"}.Check(), "anchor:")
	assert.ErrorContains(t, almanac.Daily{Anchor: almanac.BySunset, OffsetMinutes: 900}.Check(), "offsetMinutes:")
	assert.ErrorContains(t, almanac.Daily{Anchor: almanac.BySunset, Weekdays: []time.Weekday{9}}.Check(), "weekdays:")
}
