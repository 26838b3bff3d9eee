package almanac

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// Meeus, Astronomical Algorithms, examples 25.a and 28.a: 1992 October 13, 0 h TD.
func TestTheSunStandsWhereThePublishedExamplePutsIt(t *testing.T) {
	declination, equation := solar(time.Date(1992, 10, 13, 0, 0, 0, 0, time.UTC))
	assert.InDelta(t, -7.78507, declination, 1e-4)
	assert.InDelta(t, 13+42.6/60, equation, 0.02)
}

// Far from the present each term counts, also those that are small today. The figures are those of the equations as they were
// checked against the examples and a second program: they are here so that no term is lost.
func TestNoTermOfTheSunIsLost(t *testing.T) {
	for year, want := range map[int][2]float64{
		-1000: {-5.228043544, -11.737138592},
		1600:  {-4.773878457, -11.205184410},
		2500:  {-4.845860837, -10.154250060},
		5000:  {-4.941395482, -5.423900841},
	} {
		declination, equation := solar(time.Date(year, 3, 8, 5, 30, 0, 0, time.UTC))
		assert.InDelta(t, want[0], declination, 1e-8, "year %d", year)
		assert.InDelta(t, want[1], equation, 1e-8, "year %d", year)
	}
}

func TestTheSunsHeightAndTheEdgesOfADay(t *testing.T) {
	zone := time.FixedZone("", 3600)
	mill := Place{Latitude: 52.1, Longitude: 5.3}
	sun := mill.On(time.Date(2026, 11, 28, 3, 0, 0, 0, zone))
	for at, want := range map[time.Time]float64{sun.Rise: horizon, sun.Set: horizon, sun.Dawn: twilight, sun.Dusk: twilight} {
		assert.InDelta(t, want, mill.Height(at), 0.01)
	}
	assert.Greater(t, mill.Height(sun.Noon), mill.Height(sun.Noon.Add(-5*time.Minute)))
	assert.Greater(t, mill.Height(sun.Noon), mill.Height(sun.Noon.Add(5*time.Minute)))
	for _, at := range []time.Time{sun.Rise, sun.Set, sun.Dawn, sun.Dusk, sun.Noon} {
		assert.Equal(t, zone, at.Location())
		assert.Equal(t, 28, at.Day(), "of the day that was asked for")
	}
	assert.Equal(t, PolarDay, Place{Latitude: 78, Longitude: 15}.On(time.Date(2026, 6, 21, 0, 0, 0, 0, zone)).Polar)
	night := Place{Latitude: 78, Longitude: 15}.On(time.Date(2026, 12, 21, 0, 0, 0, 0, zone))
	assert.Equal(t, PolarNight, night.Polar)
	assert.True(t, night.Rise.IsZero() && night.Set.IsZero())
}
