package engine_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/state"
	"amvek/core/thing"
)

// plainLamp cannot fade.
func plainLamp() thing.Description {
	return thing.Description{Properties: []thing.Property{
		{Name: "brightness", Title: "Brightness", Role: thing.RoleBrightness, Type: thing.TypeNumber, Maximum: 100, Resolution: 1, Writable: true},
		{Name: "white", Title: "White", Role: thing.RoleColorTemperature, Type: thing.TypeNumber, Minimum: 2200, Maximum: 6500, Resolution: 10, Writable: true},
	}}
}

func (b *bench) driven(by *home.Lighting) {
	d := &home.Device{Title: "lamp", Connection: "wire", Hardware: "lamp", Description: plainLamp(), Lighting: by}
	d.FitLighting()
	require.NoError(b.t, d.Check())
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "lamp", Thing: d})
}

// tried is that somebody tries a scene that fades the lamp to a brightness, in so many seconds.
func tried(brightness, seconds float64) engine.Input {
	return engine.Input{
		Kind: engine.InputTry, Targets: []light.Target{{Device: "lamp", Property: "brightness", Value: thing.Number(brightness)}},
		FadeSeconds: seconds, Doer: somebody,
	}
}

// fade sets the lamp with a fade, and returns the levels of the frames until it is over, with the time of each.
func (b *bench) fade(to, seconds float64) (levels []float64) {
	b.do(tried(to, seconds))
	return b.steps(time.Duration(seconds * float64(time.Second)))
}

// steps returns the levels that the lamp is told in frames for a while, and lets it say that it is there.
func (b *bench) steps(span time.Duration) (levels []float64) {
	end := b.now.Add(span)
	for {
		next, more := b.engine.NextDeadline()
		if !more || next.After(end) {
			b.now = end
			return levels
		}
		b.now = next
		for _, out := range b.yields(engine.Input{Kind: engine.InputTick}, engine.OutputFrame) {
			levels = append(levels, out.Frame[0].Value.Number)
			b.report("lamp", "brightness", out.Frame[0].Value)
		}
	}
}

func TestTheHubFadesALampThatCannot(t *testing.T) {
	b := newBench(t)
	b.driven(nil)
	b.report("lamp", "brightness", thing.Number(0))
	b.commands = nil
	levels := b.fade(80, 4)
	assert.Len(t, levels, 15, "four a second")
	assert.True(t, slices.IsSorted(levels), "it only rises")
	assert.Less(t, levels[len(levels)/2], 30.0, "half as light are 18 % of the light")
	require.Len(t, b.commands, 1, "at the end, where it was to go")
	assert.Equal(t, thing.Number(80), b.commands[0].Value)
	assert.Zero(t, b.commands[0].Fade)
	b.report("lamp", "brightness", thing.Number(80))
	assert.Equal(t, state.Confirmed, b.state("lamp").Certainty)

	// What comes meanwhile takes its place.
	b.commands = nil
	b.do(tried(10, 10))
	b.steps(2 * time.Second)
	b.hand("lamp", 50)
	require.Len(t, b.commands, 1)
	assert.Equal(t, thing.Number(50), b.commands[0].Value)
	assert.Empty(t, b.steps(time.Minute), "nothing of the fade is left")
	assert.Len(t, b.commands, 1)

	// Too small to be seen, or too short, it is one command.
	b.report("lamp", "brightness", thing.Number(50))
	assert.Empty(t, b.fade(51, 4))
	b.report("lamp", "brightness", thing.Number(51))
	assert.Empty(t, b.fade(100, 0.1))

	b.driven(&home.Lighting{Fades: home.ByItself})
	b.report("lamp", "brightness", thing.Number(100))
	b.commands = nil
	assert.Empty(t, b.fade(0, 4), "the owner prefers so")
	assert.Equal(t, 4*time.Second, b.commands[0].Fade)
}

func TestAHandAtALampEndsItsFade(t *testing.T) {
	b := newBench(t)
	b.driven(nil)
	b.report("lamp", "brightness", thing.Number(100))
	b.do(tried(0, 20))
	b.steps(5 * time.Second)
	b.report("lamp", "brightness", thing.Number(70))
	assert.NotEmpty(t, b.steps(time.Second), "that was one of its steps")
	b.commands = nil
	stilled := b.yields(engine.Input{Kind: engine.InputReport, Device: "lamp", Name: "brightness", Value: thing.Number(5)}, engine.OutputStill)
	assert.Len(t, stilled, 1, "what waits of it is taken back")
	assert.Empty(t, b.steps(time.Minute))
	assert.Empty(t, b.commands)
	assert.Equal(t, thing.Number(5), b.state("lamp").Target)
	assert.True(t, b.state("lamp").Stack.Base.ByHand)
}

func TestAfterARestartAFadeOfTheHubIsBroughtToItsEnd(t *testing.T) {
	b := newBench(t)
	b.driven(nil)
	b.report("lamp", "brightness", thing.Number(100))
	b.do(tried(0, 20))
	b.steps(5 * time.Second)
	kept := b.state("lamp")
	assert.False(t, kept.FadeEnds.IsZero())

	b.commands, b.engine = nil, engine.New(1000, 1000)
	b.engine.BeginLoading(b.now)
	b.driven(nil)
	b.engine.Load(state.Saved{Properties: map[thing.Ref]state.PropertyState{{Device: "lamp", Name: "brightness"}: throughJSON(t, kept)}})
	b.do(engine.Input{Kind: engine.InputStart})
	b.do(engine.Input{Kind: engine.InputConnection, Connection: "wire", Up: true})
	b.steps(time.Minute)
	require.Len(t, b.commands, 1)
	assert.Equal(t, thing.Number(0), b.commands[0].Value)
}

func TestALampIsDrivenAboveWhereItFlickers(t *testing.T) {
	b := newBench(t)
	b.driven(&home.Lighting{LeastLevel: 20, Fades: home.ByItself})
	b.report("lamp", "brightness", thing.Number(0))
	for _, x := range []struct{ set, told float64 }{{100, 100}, {50, 60}, {1, 20.8}, {0, 0}} {
		b.commands = nil
		b.hand("lamp", x.set)
		require.Len(t, b.commands, 1)
		assert.InDelta(t, x.told, b.commands[0].Value.Number, 1e-9)
		b.report("lamp", "brightness", b.commands[0].Value)
		assert.InDelta(t, x.set, b.state("lamp").Reported.Number, 1e-9)
		assert.Equal(t, state.Confirmed, b.state("lamp").Certainty)
	}
	b.pass(time.Minute)
	b.report("lamp", "brightness", thing.Number(60))
	assert.InDelta(t, 50, b.state("lamp").Target.Number, 1e-9, "a hand at the lamp, in the hub's levels")
	b.report("lamp", "brightness", thing.Number(3))
	assert.InDelta(t, 1, b.state("lamp").Target.Number, 1e-9, "below it is as little as there is")

	b.hand("lamp", 50)
	b.report("lamp", "brightness", thing.Number(60))
	b.commands = nil
	b.driven(nil)
	require.Len(t, b.commands, 1, "told anew, since its levels mean something else")
	assert.InDelta(t, 50, b.commands[0].Value.Number, 1e-9)
}

// Whatever the least level: what is told is never between off and it, and is understood again as it was meant.
func TestWhatIsToldIsMeantLaw(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := newBench(t)
		least := rapid.Float64Range(0, 60).Draw(t, "least")
		b.driven(&home.Lighting{LeastLevel: least, Fades: home.ByItself})
		b.report("lamp", "brightness", thing.Number(0))
		b.commands = nil
		set := float64(rapid.IntRange(1, 100).Draw(t, "set"))
		b.hand("lamp", set)
		told := b.commands[0].Value.Number
		if told < least {
			t.Fatalf("%g %% is told as %g, below %g", set, told, least)
		}
		b.report("lamp", "brightness", thing.Number(told))
		if s := b.state("lamp"); s.Certainty != state.Confirmed || s.Reported.Number != set {
			t.Fatalf("%g %% comes back as %v", set, s.Reported)
		}
	})
}

func TestAWhiteThatALampDoesNotShowBecomesTheNearestThatItDoes(t *testing.T) {
	b := newBench(t)
	b.driven(&home.Lighting{White: &home.WhiteRange{Warmest: 2700, Coolest: 5000}, Fades: home.ByItself})
	b.report("lamp", "brightness", thing.Number(50))
	b.report("lamp", "white", thing.Number(3000))
	white := func() state.PropertyState {
		s, _ := b.engine.PropertyState(thing.Ref{Device: "lamp", Name: "white"})
		return s
	}
	for _, x := range []struct{ set, told float64 }{{6500, 5000}, {4000, 4000}, {2200, 2700}} {
		b.commands = nil
		b.do(engine.Input{Kind: engine.InputTry, Targets: []light.Target{{Device: "lamp", Property: "white", Value: thing.Number(x.set)}}, Doer: somebody})
		require.Len(t, b.commands, 1)
		assert.Equal(t, thing.Number(x.told), b.commands[0].Value)
		b.report("lamp", "white", thing.Number(x.told))
		assert.Equal(t, state.Confirmed, white().Certainty)
	}
	b.pass(time.Minute)
	b.report("lamp", "white", thing.Number(6000))
	assert.Equal(t, thing.Number(6000), white().Reported, "what it says itself is heard all the same")
}

// Moving light that is stopped goes back softly where a lamp can do that by itself; what cannot is told once, and nothing after that.
func TestStopIsStopAlsoForLampsThatTheHubFades(t *testing.T) {
	b := newBench(t)
	b.driven(nil)
	b.report("lamp", "brightness", thing.Number(80))
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindSequence, ID: "glow", Sequence: &light.Sequence{
		Title: "Glow", Ending: light.EndLetGo, Effect: &light.Effect{Kind: light.Candle, Lamps: []string{"lamp"}, Level: 20},
	}})
	b.play("")
	b.frames(3 * time.Second)
	b.commands = nil
	b.play("stop")
	require.Len(t, b.commands, 1)
	assert.Equal(t, thing.Number(80), b.commands[0].Value)
	b.commands = nil
	assert.Empty(t, b.steps(time.Minute))
	assert.Empty(t, b.commands)
}
