package light_test

import (
	"encoding/json"
	"math"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/almanac"
	"amvek/core/light"
	"amvek/core/thing"
)

var (
	weir    = almanac.Place{Latitude: 51.5, Longitude: -2.6}
	tromso  = almanac.Place{Latitude: 69.6, Longitude: 18.9}
	clocked = func(hour string) almanac.Daily { return almanac.Daily{Anchor: almanac.ByClock, Clock: hour} }
	sunset  = almanac.Daily{Anchor: almanac.BySunset}
	sunrise = almanac.Daily{Anchor: almanac.BySunrise}
)

func london(t require.TestingT) *time.Location {
	zone, err := time.LoadLocation("Europe/London")
	require.NoError(t, err)
	return zone
}

// household is a curve such as people draw: warm and low at night, bright and cool by day.
func household() *light.DayCurve {
	return &light.DayCurve{Title: "Living rooms", Points: []light.DayPoint{
		{At: clocked("05:30"), Level: 20, Kelvin: 2200},
		{At: sunrise, Level: 70, Kelvin: 3000},
		{At: clocked("13:00"), Level: 100, Kelvin: 4200},
		{At: sunset, Level: 70, Kelvin: 3000},
		{At: clocked("22:30"), Level: 20, Kelvin: 2200},
	}}
}

func TestACurveGoesThroughItsPoints(t *testing.T) {
	zone := london(t)
	c := household()
	for _, day := range []time.Time{
		time.Date(2026, 6, 21, 12, 0, 0, 0, zone), time.Date(2026, 12, 21, 12, 0, 0, 0, zone), time.Date(2026, 3, 29, 12, 0, 0, 0, zone), // the clock changes
	} {
		course := c.Course(day, weir)
		for i, at := range c.On(day, weir) {
			level, ok := course.At(light.LevelTrack, at)
			require.True(t, ok)
			assert.InDelta(t, c.Points[i].Level, level, 1e-6, "%d at %s", i, at)
			kelvin, ok := course.At(light.WhiteTrack, at)
			require.True(t, ok)
			assert.InDelta(t, c.Points[i].Kelvin, kelvin, 1e-6)
		}
	}
	summer, winter := c.On(time.Date(2026, 6, 21, 12, 0, 0, 0, zone), weir), c.On(time.Date(2026, 12, 21, 12, 0, 0, 0, zone), weir)
	assert.Equal(t, 21, summer[3].Hour(), "sunset in June")
	assert.Equal(t, 16, winter[3].Hour(), "and in December")
	assert.Equal(t, summer[4].Hour(), winter[4].Hour())
}

func TestBetweenTwoPointsACurveOnlyRisesOrOnlyFalls(t *testing.T) {
	zone := london(t)
	day := time.Date(2026, 9, 1, 0, 0, 0, 0, zone)
	c := household()
	course := c.Course(day, weir)
	ats := c.On(day, weir)
	slices.SortFunc(ats, time.Time.Compare)
	for i := 1; i < len(ats); i++ {
		from, _ := course.At(light.LevelTrack, ats[i-1])
		to, _ := course.At(light.LevelTrack, ats[i])
		last := from
		for at := ats[i-1]; at.Before(ats[i]); at = at.Add(time.Minute) {
			now, _ := course.At(light.LevelTrack, at)
			assert.GreaterOrEqual(t, (now-last)*math.Copysign(1, to-from), -1e-9, "%s", at)
			last = now
		}
	}
}

func TestACurveOfOnePointIsLevel(t *testing.T) {
	c := &light.DayCurve{Title: "Always", Points: []light.DayPoint{{At: sunset, Level: 40}}}
	course := c.Course(time.Date(2026, 9, 1, 3, 0, 0, 0, london(t)), weir)
	for hour := range 48 {
		level, ok := course.At(light.LevelTrack, course.From.Add(time.Duration(hour)*time.Hour))
		require.True(t, ok)
		assert.InDelta(t, 40, level, 1e-9)
	}
	_, ok := course.At(light.WhiteTrack, course.From)
	assert.False(t, ok, "of white it says nothing")
	_, leaves := course.Leaves(light.LevelTrack, 40, light.Reach{Low: 1, High: 100, Grain: 1}, course.From)
	assert.False(t, leaves)
	assert.False(t, c.Says(light.WhiteTrack))
}

func TestWhereTheSunDoesNotRiseACurveGoesByNoon(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Oslo")
	require.NoError(t, err)
	c := &light.DayCurve{Title: "North", Points: []light.DayPoint{{At: sunrise, Level: 80}, {At: sunset, Level: 30}, {At: clocked("23:00"), Level: 10}}}
	dark, bright := time.Date(2026, 12, 21, 0, 0, 0, 0, zone), time.Date(2026, 6, 21, 0, 0, 0, 0, zone)
	ats := c.On(dark, tromso)
	assert.Equal(t, ats[0], ats[1], "it rises and sets at noon")
	assert.Equal(t, 11, ats[0].Hour())
	ats = c.On(bright, tromso)
	assert.InDelta(t, 24, ats[1].Sub(ats[0]).Hours(), 0.01, "and where it does not set, at the midnights around")
	for _, day := range []time.Time{dark, bright} {
		course := c.Course(day, tromso)
		level, ok := course.At(light.LevelTrack, day.Add(23*time.Hour))
		require.True(t, ok)
		assert.InDelta(t, 10, level, 1e-6)
	}
}

func TestOfPointsThatComeTogetherTheLaterWrittenCounts(t *testing.T) {
	c := &light.DayCurve{Title: "Twice", Points: []light.DayPoint{{At: clocked("08:00"), Level: 20}, {At: clocked("08:00"), Level: 60}, {At: clocked("20:00"), Level: 5}}}
	day := time.Date(2026, 9, 1, 0, 0, 0, 0, london(t))
	level, _ := c.Course(day, weir).At(light.LevelTrack, day.Add(8*time.Hour))
	assert.InDelta(t, 60, level, 1e-6)
}

func TestWhatIsWrongWithACurveIsSaidWhereItIs(t *testing.T) {
	for place, points := range map[string][]light.DayPoint{
		"points: a curve needs":         nil,
		"points[0]/at/clock: \"25:00\"": {{At: clocked("25:00"), Level: 50}},
		"points[1]: say how":            {{At: sunset, Level: 50}, {At: sunrise}},
		"from 1 to 100":                 {{At: sunset, Level: 0.5}},
		"from 1000 to 25000":            {{At: sunset, Kelvin: 300}},
		"every day of the week":         {{At: almanac.Daily{Anchor: almanac.BySunset, Weekdays: []time.Weekday{time.Monday}}, Level: 50}},
		"48 points at most":             slices.Repeat([]light.DayPoint{{At: sunset, Level: 50}}, 49),
	} {
		assert.ErrorContains(t, (&light.DayCurve{Title: "x", Points: points}).Check(), place)
	}
	assert.ErrorContains(t, (&light.DayCurve{Points: household().Points}).Check(), "title")
	assert.NoError(t, household().Check())
}

// anyCurve draws a curve of points by clock and sun, at any place and season.
func anyCurve(t *rapid.T) (*light.DayCurve, almanac.Place, time.Time) {
	c := &light.DayCurve{Title: "Any"}
	for range rapid.IntRange(1, 8).Draw(t, "points") {
		p := light.DayPoint{Level: rapid.Float64Range(1, 100).Draw(t, "level"), Kelvin: rapid.Float64Range(1500, 8000).Draw(t, "kelvin")}
		p.At = rapid.SampledFrom([]almanac.Daily{
			sunrise, sunset, clocked(time.Time{}.Add(time.Duration(rapid.IntRange(0, 1439).Draw(t, "minute")) * time.Minute).Format("15:04")),
		}).Draw(t, "at")
		if p.At.Anchor != almanac.ByClock {
			p.At.OffsetMinutes = rapid.IntRange(-300, 300).Draw(t, "offset")
		}
		c.Points = append(c.Points, p)
	}
	require.NoError(t, c.Check())
	place := almanac.Place{Latitude: rapid.Float64Range(-70, 70).Draw(t, "latitude"), Longitude: rapid.Float64Range(-20, 20).Draw(t, "longitude")}
	return c, place, time.Date(2026, 1, 1+rapid.IntRange(0, 364).Draw(t, "day"), 0, 0, 0, 0, london(t))
}

// A curve is continuous: within a second it goes nowhere that could be seen, unless two of its points are minutes apart.
func TestCurvesAreContinuousLaw(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c, place, day := anyCurve(t)
		course := c.Course(day, place)
		at := day.Add(time.Duration(rapid.IntRange(0, 86_399).Draw(t, "second")) * time.Second)
		for _, track := range []light.Track{light.LevelTrack, light.WhiteTrack} {
			a, _ := course.At(track, at)
			b, _ := course.At(track, at.Add(time.Second))
			// From one end to the other is some 43 steps of lightness, or 40 of white; a cubic is at most 3 times as steep as that within a minute.
			assert.Less(t, track.Noticeable(a, b), 45.0*3/60, "%s at %s: %g, %g", track, at, a, b)
		}
	})
}

// The course of a day goes on as that of the next day begins, so midnight is not seen.
func TestCurvesGoOnAtMidnightLaw(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c, place, day := anyCurve(t)
		midnight := time.Date(2026, day.Month(), day.Day()+1, 0, 0, 0, 0, day.Location())
		for _, track := range []light.Track{light.LevelTrack, light.WhiteTrack} {
			a, _ := c.Course(day, place).At(track, midnight)
			b, _ := c.Course(midnight, place).At(track, midnight)
			assert.InDelta(t, a, b, 1e-6)
		}
	})
}

// Whoever follows a curve is never further from it than can be seen or the lamp can show, and tells no more than that needs.
func TestFollowingACurveLaw(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c, place, day := anyCurve(t)
		course := c.Course(day, place)
		reach := light.Reach{Low: 1, High: 100, Grain: rapid.SampledFrom([]float64{0, 0.4, 1, 5}).Draw(t, "grain")}
		end := day.Add(24 * time.Hour)
		first, _ := course.At(light.LevelTrack, day)
		shown := reach.Within(first)
		for now := day; ; {
			next, leaves := course.Leaves(light.LevelTrack, shown, reach, now)
			until := end
			if leaves && next.Before(end) {
				until = next
			}
			for at := now; at.Before(until.Add(-2 * time.Second)); at = at.Add(5 * time.Minute) {
				v, _ := course.At(light.LevelTrack, at)
				assert.False(t, light.LevelTrack.Noticeable(v, shown) > 1+1e-6 && math.Abs(v-shown) > reach.Grain+1e-6, "at %s it is %g, and %g is shown", at, v, shown)
			}
			if !leaves || !next.Before(end) {
				return
			}
			v, _ := course.At(light.LevelTrack, next)
			told := reach.Within(v)
			assert.NotEqual(t, shown, told, "what is told is another value")
			shown, now = told, next
		}
	})
}

func TestWhatALampShowsOfACurve(t *testing.T) {
	dims := dimmable("a", 0).Light
	assert.Equal(t, light.LevelTrack, light.TrackOf(dims))
	assert.Empty(t, light.TrackOf(switched("b", false, 0).Light), "a lamp that only switches follows none")
	assert.Equal(t, thing.Number(40), light.ValueOf(dims, 40))
	shown, ok := light.ShownOf(dims, thing.Number(40))
	assert.True(t, ok)
	assert.InDelta(t, 40, shown, 1e-9)
	assert.InDelta(t, 1, light.ReachOf(dims).Within(0), 1e-9, "it is never put out by a curve")

	white := tunable("c", 0, 2700).White
	assert.Equal(t, light.WhiteTrack, light.TrackOf(white))
	assert.InDelta(t, white.Minimum, light.ReachOf(white).Within(1000), 1e-9)

	color := colored("d", 0).Color
	kelvin, ok := light.ShownOf(color, light.ValueOf(color, 3000))
	assert.True(t, ok)
	assert.InDelta(t, 3000, kelvin, 15, "a lamp of colors shows the color of the white")
	_, ok = light.ShownOf(white, thing.Boolean(true))
	assert.False(t, ok)
}

func FuzzCurve(f *testing.F) {
	text, err := json.Marshal(household())
	require.NoError(f, err)
	f.Add(text, int64(1_790_000_000))
	f.Add([]byte(`{"title":"x","points":[{"at":{"anchor":"sunset","offsetMinutes":-720},"level":1}]}`), int64(0))
	f.Fuzz(func(t *testing.T, data []byte, unix int64) {
		var c light.DayCurve
		if json.Unmarshal(data, &c) != nil || c.Check() != nil || unix < 0 || unix > 4_000_000_000 {
			return
		}
		now := time.Unix(unix, 0).UTC()
		course := c.Course(now, tromso)
		level, ok := course.At(light.LevelTrack, now)
		require.Equal(t, c.Says(light.LevelTrack), ok)
		require.True(t, !ok || level >= 1-1e-6 && level <= 100+1e-6, "%g", level)
		course.Leaves(light.WhiteTrack, 2700, light.Reach{Low: 2200, High: 6500, Grain: 1}, now)
	})
}
