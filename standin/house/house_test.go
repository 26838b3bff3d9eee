package house

import (
	"testing"
	"time"
	_ "time/tzdata"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var morning = time.Date(2026, 11, 20, 5, 0, 0, 0, time.UTC)

func mill(t *testing.T) *House {
	zone, err := time.LoadLocation("Europe/London")
	require.NoError(t, err)
	return New(morning, zone, 51.5, -2.6)
}

func TestLightComesFromTheSunAndTheLamps(t *testing.T) {
	h := mill(t)
	night, noon := morning.Add(-3*time.Hour), morning.Add(7*time.Hour)
	assert.Zero(t, h.Outdoors(night))
	assert.Greater(t, h.Outdoors(noon), 2000.0)
	for _, room := range Rooms {
		assert.Zero(t, h.Light(room, night))
		assert.Greater(t, h.Light(room, noon), 1.0, room)
	}
	assert.Greater(t, h.Light("Galley", noon), h.Light("Landing", noon), "south window and north window")
	h.Lit(func(room string) float64 { return map[string]float64{"Landing": 36}[room] })
	assert.Equal(t, 36.0, h.Light("Landing", night), "a sensor sees its own lamp")
}

func TestWarmthStaysLivableAndTheOpenDoorIsFelt(t *testing.T) {
	shut, open := mill(t), mill(t)
	require.NoError(t, open.SetOpening("Hall door", true))
	for hour := range 48 {
		at := morning.Add(time.Duration(hour) * time.Hour)
		shut.Advance(at)
		open.Advance(at)
		for _, room := range []string{"Hall", "Galley", "Mill room", "Landing", "West room"} {
			assert.InDelta(t, 17, shut.Warmth(room), 6, room)
		}
		assert.InDelta(t, shut.Air(at), shut.Warmth("Yard"), 1.5, "outdoors is as warm as the air")
	}
	assert.Less(t, open.Warmth("Hall"), shut.Warmth("Hall")-3)
	assert.InDelta(t, shut.Warmth("Landing"), open.Warmth("Landing"), 0.01)
}

func TestEverybodyLivesTheSameDayForTheSameDate(t *testing.T) {
	live := func() (visited map[string][]string, doors int) {
		h := mill(t)
		visited = map[string][]string{}
		before := h.State().People
		h.OnMove(func() {
			now := h.State().People
			for who, place := range now {
				if before[who] != place {
					visited[who] = append(visited[who], place)
				}
			}
			before = now
		})
		h.OnOpening(func() { doors++ })
		h.Live(true)
		for now := morning; now.Before(morning.Add(24 * time.Hour)); {
			next, ok := h.NextMove(now)
			require.True(t, ok)
			require.True(t, next.After(now))
			now = next
			h.LiveOn(now)
		}
		return visited, doors
	}
	first, doors := live()
	again, doorsAgain := live()
	assert.Equal(t, first, again)
	assert.Equal(t, doors, doorsAgain)
	assert.Zero(t, doors%2, "what is opened is shut again")
	assert.Len(t, first, len(People))
	assert.Contains(t, first["Nell"], Out)
	assert.Contains(t, first["Tove"], "Mill room")
	assert.Contains(t, first["Ivo"], "Glasshouse")
	assert.Contains(t, first["Runa"], "Reading loft")
}

func TestWhoEntersInTheDarkReachesForThePlate(t *testing.T) {
	h := mill(t)
	var dark []string
	h.OnDark(func(room string) { dark = append(dark, room) })
	h.Live(true)
	for now := morning; now.Before(morning.Add(5 * time.Hour)); {
		next, _ := h.NextMove(now)
		now = next
		h.LiveOn(now)
	}
	assert.Contains(t, dark, "Galley", "Ivo is up before the sun")
	assert.NotContains(t, dark, "Wheel room", "by then it is day")
}

func TestOnlyRoomsCanBeWalkedTo(t *testing.T) {
	h := mill(t)
	assert.Error(t, h.Walk("Nell", "Attic"))
	assert.Error(t, h.Walk("Stranger", "Landing"))
	assert.NoError(t, h.Walk("Nell", "Landing"))
	assert.True(t, h.Somebody("Landing"))
	require.Error(t, h.Restore([]byte(`{}`)))
	require.Error(t, h.Restore([]byte(`none`)))
	assert.True(t, h.Somebody("Landing"), "what cannot be read changes nothing")
}

func TestTheHouseHasDampWaterAndThingsToOpen(t *testing.T) {
	h := mill(t)
	changes := 0
	h.OnOpening(func() { changes++ })
	require.NoError(t, h.SetOpening("Cat flap", true))
	require.NoError(t, h.SetOpening("Cat flap", true))
	require.NoError(t, h.Pour("Wash house", true))
	assert.Equal(t, 2, changes, "what does not change is not told")
	assert.True(t, h.Open("Cat flap"))
	assert.True(t, h.Wet("Wash house"))
	assert.Error(t, h.SetOpening("Trapdoor", true))
	assert.Error(t, h.Pour("Cellar", true))
	h.Advance(morning.Add(8 * time.Hour))
	for _, room := range Rooms {
		assert.InDelta(t, 60, h.Damp(room), 40, room)
	}
	assert.Greater(t, h.Damp("Glasshouse"), h.Damp("Mill room"))
	for day := range 20 {
		assert.InDelta(t, 90, h.River(morning.AddDate(0, 0, day)), 60)
	}
	before := h.River(morning)
	h.Dam(true)
	assert.InDelta(t, before+dammed, h.River(morning), 0.001)
	h.Wind("Weir gate", true)
	assert.InDelta(t, before+dammed-drained, h.River(morning), 0.001)
	h.Dam(false)
	h.Wind("Weir gate", false)
	assert.InDelta(t, before, h.River(morning), 0.001)
	warm := mill(t)
	warm.Heat("Glasshouse", 2)
	warm.Advance(morning.Add(4 * time.Hour))
	assert.Greater(t, warm.Warmth("Glasshouse"), mill(t).Warmth("Glasshouse"))
}
