package engine_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

var (
	whiteLamp = thing.Description{Properties: []thing.Property{
		{Name: "brightness", Title: "Brightness", Role: thing.RoleBrightness, Type: thing.TypeNumber, Maximum: 100, Resolution: 1, Writable: true, Fades: true},
		{Name: "white", Title: "White", Role: thing.RoleColorTemperature, Type: thing.TypeNumber, Minimum: 2200, Maximum: 6500, Resolution: 10, Writable: true},
	}}
	bothLamp = thing.Description{Properties: []thing.Property{
		{Name: "brightness", Title: "Brightness", Role: thing.RoleBrightness, Type: thing.TypeNumber, Maximum: 100, Resolution: 1, Writable: true, Fades: true},
		{
			Name: "white", Title: "White", Role: thing.RoleColorTemperature, Type: thing.TypeNumber, Minimum: 2200, Maximum: 6500, Resolution: 10, Writable: true,
			Excludes: []string{"color"},
		},
		{Name: "color", Title: "Color", Role: thing.RoleColor, Type: thing.TypeColor, Writable: true, Excludes: []string{"white"}},
	}}
)

func at(clock string) almanac.Daily { return almanac.Daily{Anchor: almanac.ByClock, Clock: clock} }

// evening falls from 80 % and 4000 K at 18:00 to 20 % and 2200 K at midnight.
func evening() *light.DayCurve {
	return &light.DayCurve{Title: "Evening", Points: []light.DayPoint{
		{At: at("18:00"), Level: 80, Kelvin: 4000}, {At: at("23:59"), Level: 20, Kelvin: 2200}, {At: at("08:00"), Level: 80, Kelvin: 4000},
	}}
}

// curved is a room whose lamps follow a day curve: one with white, one of white and colors, one that only dims, at 21:00.
func curved(t require.TestingT) *bench {
	b := newBench(t)
	b.now = time.Date(2026, 11, 21, 21, 0, 0, 0, time.UTC)
	b.followers()
	b.report("tall", "brightness", thing.Number(0))
	b.report("tall", "white", thing.Number(5000))
	b.report("tint", "brightness", thing.Number(0))
	b.report("tint", "color", thing.Color(0.6, 0.35))
	b.commands = nil
	return b
}

// followers defines the room of [curved].
func (b *bench) followers() *bench {
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRoom, ID: "mill", Room: &home.Room{Title: "Mill room"}})
	for id, d := range map[string]thing.Description{"lamp": lampDescription, "tall": whiteLamp, "tint": bothLamp} {
		b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: id, Thing: &home.Device{
			Title: id, Room: "mill", Connection: "wire", Hardware: id, Description: d,
		}})
	}
	b.curve(evening())
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRoomLight, ID: "light", RoomLight: &light.RoomLight{
		Title: "Mill room", Rooms: []string{"mill"}, Curve: "curve",
	}})
	return b
}

func (b *bench) curve(doc *light.DayCurve) {
	require.NoError(b.t, doc.Check())
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindCurve, ID: "curve", Curve: doc})
}

func (b *bench) on(device string) {
	b.do(engine.Input{Kind: engine.InputWrite, Device: device, Name: "brightness", Value: thing.Boolean(true), Doer: somebody})
}

func (b *bench) off(device string) {
	b.do(engine.Input{Kind: engine.InputWrite, Device: device, Name: "brightness", Value: thing.Boolean(false), Doer: somebody})
}

// done lets devices say that they have done what they were told, and returns the commands as "device property value".
func (b *bench) done() (said []string) {
	told := slices.Clone(b.commands)
	b.commands = nil
	for _, c := range told {
		said = append(said, c.Device+" "+c.Name+" "+rule.Say(c.Value))
		b.report(c.Device, c.Name, c.Value)
	}
	return said
}

// until lets time pass until a moment, and devices do what they are told.
func (b *bench) until(end time.Time) (said []string) {
	for {
		next, more := b.engine.NextDeadline()
		if !more || next.After(end) {
			b.now = end
			return append(said, b.done()...)
		}
		b.now = next
		b.do(engine.Input{Kind: engine.InputTick})
		said = append(said, b.done()...)
	}
}

func TestALampThatIsSwitchedOnStartsOnItsCurve(t *testing.T) {
	b := curved(t)
	b.on("tall")
	first := b.done()
	assert.Equal(t, []string{"tall white 2840", "tall brightness 43"}, first, "at once what the curve says, and in its white")
	assert.Empty(t, b.until(b.now.Add(time.Minute)), "and nothing else within a minute")
	later := b.until(b.now.Add(time.Hour))
	assert.NotEmpty(t, later, "then it goes on")
	assert.Less(t, len(later), 40)
	level := b.brightness("tall").Target
	assert.Less(t, level.Number, 40.0)
	for _, e := range b.entries {
		assert.False(t, e.Kind == cause.Commanded && e.At.After(b.now.Add(-time.Hour)), "of its steps nothing is written down")
	}
}

func TestAHandLeavesTheCurveUntilTheLampWasOff(t *testing.T) {
	b := curved(t)
	b.on("tall")
	b.done()
	b.hand("tall", 90)
	assert.Equal(t, []string{"tall brightness 90"}, b.done())
	id, follows := b.engine.InCurve(thing.Ref{Device: "tall", Name: "white"})
	assert.True(t, follows, "how white it is nobody has said")
	assert.Equal(t, "curve", id)
	for _, said := range b.until(b.now.Add(time.Hour)) {
		assert.Contains(t, said, "white")
	}
	assert.Equal(t, thing.Number(90), b.brightness("tall").Target)
	b.off("tall")
	assert.Equal(t, []string{"tall brightness 0"}, b.done())
	assert.Empty(t, b.until(b.now.Add(time.Hour)), "a lamp that is off is told nothing")
	b.on("tall")
	assert.Equal(t, []string{"tall white 2270", "tall brightness 23"}, b.done(), "off and on, it is back on the curve")
}

func TestWhatIsSwitchedOnAtTheLampGoesToItsCurve(t *testing.T) {
	b := curved(t)
	b.report("tall", "brightness", thing.Number(100))
	assert.Equal(t, []string{"tall white 2840", "tall brightness 43"}, b.done())
	b.until(b.now.Add(time.Minute))
	b.report("lamp", "brightness", thing.Number(12))
	assert.Empty(t, b.done(), "at a level of its own it was set to that")
	b.report("tall", "brightness", thing.Number(70))
	assert.Empty(t, b.done(), "dimmed there while it is on, it stays so")
	_, follows := b.engine.InCurve(thing.Ref{Device: "tall", Name: "brightness"})
	assert.False(t, follows)
}

func TestALevelThatIsSaidIsLeftAndTheWhiteFollows(t *testing.T) {
	b := curved(t)
	b.hand("tall", 10)
	assert.Equal(t, []string{"tall white 2840", "tall brightness 10"}, b.done())
}

func TestASceneWithATonePutsNoOtherToneFirst(t *testing.T) {
	b := curved(t)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindScene, ID: "film", SceneDoc: &light.Scene{Title: "Film", Targets: []light.Target{
		{Device: "tall", Property: "brightness", Value: thing.Number(30)}, {Device: "tall", Property: "white", Value: thing.Number(2400)},
		{Device: "tint", Property: "brightness", Value: thing.Number(30)}, {Device: "tint", Property: "color", Value: thing.Color(0.2, 0.2)},
	}}})
	b.do(engine.Input{Kind: engine.InputScene, Scene: "film", Doer: somebody})
	assert.ElementsMatch(t, []string{"tall white 2400", "tall brightness 30", "tint color " + rule.Say(thing.Color(0.2, 0.2)), "tint brightness 30"}, b.done())
	assert.Empty(t, b.until(b.now.Add(2*time.Hour)), "and it stays as it is")
}

func TestALampOfColorsComesOnInTheWhiteOfItsCurve(t *testing.T) {
	b := curved(t)
	b.on("tint")
	assert.Equal(t, []string{"tint white 2840", "tint brightness 43"}, b.done(), "whatever color it had")
	b.do(engine.Input{Kind: engine.InputWrite, Device: "tint", Name: "color", Value: thing.Color(0.2, 0.2), Doer: somebody})
	b.done()
	for _, said := range b.until(b.now.Add(time.Hour)) {
		assert.Contains(t, said, "brightness", "its color is by hand")
	}
}

func TestAllOfARoomComesOn(t *testing.T) {
	b := curved(t)
	b.do(engine.Input{Kind: engine.InputLight, ID: "light", Verb: string(light.On), Doer: somebody})
	assert.ElementsMatch(t, []string{"lamp brightness 43", "tall white 2840", "tall brightness 43", "tint white 2840", "tint brightness 43"}, b.done())
	b.do(engine.Input{Kind: engine.InputLight, ID: "light", Verb: string(light.LevelTo), Value: thing.Number(80), Doer: somebody})
	b.done()
	b.do(engine.Input{Kind: engine.InputLight, ID: "light", Verb: string(light.On), Doer: somebody})
	assert.Equal(t, []string{"lamp brightness 43", "tall brightness 43", "tint brightness 43"}, b.done(), "on again, they are back on the curve")
}

func TestWithoutACurveALampComesOnAsItWas(t *testing.T) {
	b := newBench(t)
	b.on("lamp")
	assert.Equal(t, []string{"lamp brightness 100"}, b.done())
	b.hand("lamp", 30)
	b.done()
	b.on("lamp")
	assert.Empty(t, b.done(), "it is on")
	b.off("lamp")
	b.done()
	b.on("lamp")
	assert.Equal(t, []string{"lamp brightness 30"}, b.done())
}

func TestARuleSwitchesOnToTheCurve(t *testing.T) {
	b := curved(t)
	b.rule("motion", rule.Rule{
		Whenever: &rule.Condition{Device: "sensor", Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)},
		Do:       []rule.Step{{Kind: rule.StepHold, Device: "tall", Property: "brightness", Value: thing.Boolean(true)}},
	})
	b.report("sensor", "motion", thing.Boolean(true))
	assert.Equal(t, []string{"tall white 2840", "tall brightness 43"}, b.done())
	assert.NotEmpty(t, b.until(b.now.Add(time.Hour)), "what is held follows too")
	b.report("sensor", "motion", thing.Boolean(false))
	assert.Equal(t, []string{"tall brightness 0"}, b.done())
	b.rule("each", rule.Rule{
		When: press,
		Do:   []rule.Step{{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Boolean(true)}},
	})
	b.do(engine.Input{Kind: engine.InputEvent, Device: "dial", Name: "press"})
	assert.Equal(t, []string{"lamp brightness 30"}, b.done())
}

func TestASceneMayFollowACurve(t *testing.T) {
	b := curved(t)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRoomLight, ID: "light", RoomLight: &light.RoomLight{Title: "Mill room", Rooms: []string{"mill"}}})
	scene := &light.Scene{Title: "Evening", Targets: []light.Target{{Device: "lamp", Property: "brightness", Value: thing.Number(99), Curve: "curve"}}}
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindScene, ID: "evening", SceneDoc: scene})
	b.do(engine.Input{Kind: engine.InputScene, Scene: "evening", Doer: somebody})
	assert.Equal(t, []string{"lamp brightness 43"}, b.done())
	assert.NotEmpty(t, b.until(b.now.Add(time.Hour)))
	assert.True(t, b.engine.InEffect(scene), "it is in effect as long as it is followed")
	assert.Equal(t, "curve", b.engine.Capture([]string{"lamp"})[0].Curve, "and captured, it follows on")
	b.hand("lamp", 50)
	assert.False(t, b.engine.InEffect(scene))
}

func TestASceneMayFollowAnotherValue(t *testing.T) {
	b := newBench(t)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindScene, ID: "pair", SceneDoc: &light.Scene{Title: "Pair", Targets: []light.Target{
		{Device: "lamp", Property: "brightness", Value: thing.Number(1), Expression: `value("other", "brightness") / 2.0`, Follows: true},
	}}})
	b.hand("other", 60)
	b.done()
	b.do(engine.Input{Kind: engine.InputScene, Scene: "pair", Doer: somebody})
	assert.Equal(t, []string{"lamp brightness 30"}, b.done())
	b.hand("other", 80)
	assert.ElementsMatch(t, []string{"other brightness 80"}, b.done())
	assert.Equal(t, []string{"lamp brightness 40"}, b.done(), "as soon as the other is there")
	b.hand("lamp", 5)
	b.done()
	b.hand("other", 20)
	b.done()
	assert.Empty(t, b.done(), "a hand leaves it")
}

func TestACurveThatIsChangedIsFollowedAtOnce(t *testing.T) {
	b := curved(t)
	b.on("lamp")
	b.done()
	b.curve(&light.DayCurve{Title: "Evening", Points: []light.DayPoint{{At: at("12:00"), Level: 60}}})
	assert.Equal(t, []string{"lamp brightness 60"}, b.done())
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindCurve, ID: "curve"})
	assert.Empty(t, b.until(b.now.Add(24*time.Hour)), "without it, all stays as it is")
	b.off("lamp")
	b.done()
	b.on("lamp")
	assert.Equal(t, []string{"lamp brightness 60"}, b.done())
}

func TestARoomThatFollowsAnotherCurveDoesSoAtOnce(t *testing.T) {
	b := curved(t)
	b.on("lamp")
	b.done()
	b.until(b.now.Add(10 * time.Second))
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindCurve, ID: "steady", Curve: &light.DayCurve{
		Title: "Steady", Points: []light.DayPoint{{At: at("12:00"), Level: 5}},
	}})
	room := func(curve string) {
		b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRoomLight, ID: "light", RoomLight: &light.RoomLight{
			Title: "Mill room", Rooms: []string{"mill"}, Curve: curve,
		}})
	}
	room("steady")
	assert.Equal(t, []string{"lamp brightness 5"}, b.done())
	room("")
	assert.Empty(t, b.until(b.now.Add(2*time.Hour)), "without one it stays as it is")
}

func TestAfterARestartACurveIsFollowedOn(t *testing.T) {
	b := curved(t)
	b.on("lamp")
	b.done()
	b.until(b.now.Add(10 * time.Second))
	again := b.restartedAfter(nil, 90*time.Minute, (*bench).followers)
	assert.Equal(t, []string{"lamp brightness 26"}, again.done(), "to where it is by now")
	assert.NotEmpty(t, again.until(again.now.Add(time.Hour)))
}

func TestWhereTheClockIsSetACurveIsFollowedFromThere(t *testing.T) {
	b := curved(t)
	b.on("lamp")
	b.done()
	b.until(b.now.Add(10 * time.Second))
	b.now = b.now.Add(2 * time.Hour)
	b.do(engine.Input{Kind: engine.InputClock, By: 2 * time.Hour})
	assert.Equal(t, []string{"lamp brightness 23"}, b.done())
	assert.NotEmpty(t, b.until(b.now.Add(time.Hour)))
}

func TestALampOfTwoRoomsFollowsTheCurveOfItsOwn(t *testing.T) {
	b := curved(t)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindCurve, ID: "steady", Curve: &light.DayCurve{
		Title: "Steady", Points: []light.DayPoint{{At: at("12:00"), Level: 5}},
	}})
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRoomLight, ID: "a-all", RoomLight: &light.RoomLight{
		Title: "All", Lamps: []string{"tall"}, Curve: "steady",
	}})
	assert.Equal(t, "curve", b.engine.CurveOf("tall"))
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRoomLight, ID: "light", RoomLight: &light.RoomLight{
		Title: "Mill room", Rooms: []string{"mill"}, Curve: "curve", Circuits: map[string]light.Circuit{"tall": {Curve: light.NoCurve}},
	}})
	assert.Equal(t, "steady", b.engine.CurveOf("tall"), "left out of its own, it follows the other")
}

// brightness returns the state of how bright a lamp is.
func (b *bench) brightness(device string) state.PropertyState {
	st, there := b.engine.PropertyState(thing.Ref{Device: device, Name: "brightness"})
	require.True(b.t, there)
	return st
}

// Whatever hands, scenes, switches and time do: a lamp that follows shows what its curve says as nearly as can be seen, and one that a
// hand has set is left alone.
func TestFollowersAreWhereTheirCurveIsLaw(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := curved(t)
		doc := evening()
		for range rapid.IntRange(1, 25).Draw(t, "deeds") {
			device := rapid.SampledFrom([]string{"lamp", "tall", "tint"}).Draw(t, "device")
			switch rapid.IntRange(0, 5).Draw(t, "deed") {
			case 0:
				b.on(device)
			case 1:
				b.off(device)
			case 2:
				b.hand(device, float64(rapid.IntRange(1, 100).Draw(t, "level")))
			case 3:
				b.do(engine.Input{Kind: engine.InputLight, ID: "light", Verb: string(light.On), Doer: somebody})
			default:
				b.until(b.now.Add(time.Duration(rapid.IntRange(1, 600).Draw(t, "minutes")) * time.Minute))
			}
			b.done()
		}
		b.until(b.now.Add(2 * time.Second))
		course := doc.Course(b.now, almanac.Place{Latitude: 51.5, Longitude: -2.6})
		for _, device := range []string{"lamp", "tall", "tint"} {
			st := b.brightness(device)
			if _, follows := b.engine.InCurve(thing.Ref{Device: device, Name: "brightness"}); !follows {
				continue
			}
			want, _ := course.At(light.LevelTrack, b.now)
			off := light.LevelTrack.Noticeable(want, st.Target.Number)
			assert.True(t, off <= 1.01 || want-st.Target.Number < 1.01 && want-st.Target.Number > -1.01, "%s is at %g, its curve at %g", device, st.Target.Number, want)
		}
	})
}
