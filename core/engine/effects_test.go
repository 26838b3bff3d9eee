package engine_test

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/mirror"
	"amvek/core/rule"
	"amvek/core/thing"
)

// glowing is the Mill room with an effect of all its lamps.
func glowing(t require.TestingT, e light.Effect, ending light.Ending) *bench {
	b := curved(t)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRoomLight, ID: "light", RoomLight: &light.RoomLight{Title: "Mill room", Rooms: []string{"mill"}}})
	e.Lights = []string{"light"}
	b.effect(e, ending)
	return b
}

func (b *bench) effect(e light.Effect, ending light.Ending) {
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindSequence, ID: "glow", Sequence: &light.Sequence{Title: "Glow", Effect: &e, Ending: ending}})
}

func (b *bench) play(verb string) {
	b.do(engine.Input{Kind: engine.InputSequence, ID: "glow", Verb: verb, Doer: somebody})
}

// frames lets time pass and returns the frames in it; devices do what they are told, also in frames.
func (b *bench) frames(span time.Duration) (all []engine.Output) {
	end := b.now.Add(span)
	for {
		b.done()
		next, more := b.engine.NextDeadline()
		if !more || next.After(end) {
			b.now = end
			return all
		}
		b.now = next
		for _, out := range b.yields(engine.Input{Kind: engine.InputTick}, engine.OutputFrame) {
			all = append(all, out)
			for _, v := range out.Frame {
				b.report(v.Device, v.Property, v.Value)
			}
		}
	}
}

func TestAnEffectMovesItsLampsByFrames(t *testing.T) {
	b := glowing(t, light.Effect{Kind: light.Candle}, light.EndLetGo)
	b.hand("lamp", 30)
	b.done()
	b.play("")
	first := b.done()
	assert.Len(t, first, 5, "lamp, and of the others light and tone, told like any command")
	entries := len(b.entries)
	frames := b.frames(10 * time.Second)
	assert.Greater(t, len(frames), 100)
	assert.LessOrEqual(t, len(frames), 200, "not more than 20 a second")
	assert.Len(t, b.entries, entries, "nothing of it is written down")
	assert.Equal(t, 50*time.Millisecond, frames[0].Fade)
	moved := map[string]bool{}
	for _, f := range frames {
		for _, v := range f.Frame {
			moved[v.Device+" "+v.Property] = true
		}
	}
	assert.True(t, moved["lamp brightness"] && moved["tall brightness"] && moved["tint brightness"], "%v", moved)
	st, running := b.engine.SequenceView("glow")
	assert.True(t, running && st.Running)

	b.play(engine.VerbStop)
	assert.Equal(t, []string{"lamp brightness 30", "tall brightness 0", "tint brightness 0"}, kept(b.done(), "brightness"), "all is as it was")
	assert.Empty(t, b.frames(time.Hour), "and stays so")
	assert.Empty(t, b.commands)
}

// kept are the commands of a property.
func kept(all []string, property string) []string {
	return slices.DeleteFunc(all, func(said string) bool { return strings.Fields(said)[1] != property })
}

// Stop means stop: in whichever way it ends, nothing is sent afterwards for what it moved.
func TestAfterAnEffectEndsNothingIsSentLaw(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		kind := rapid.SampledFrom([]light.EffectKind{light.Drift, light.Candle, light.Embers, light.Storm, light.Pulse, light.Sunrise}).Draw(t, "kind")
		ending := rapid.SampledFrom([]light.Ending{light.EndLetGo, light.EndHold, light.EndFadeOut}).Draw(t, "ending")
		b := glowing(t, light.Effect{Kind: kind, AllStop: rapid.Bool().Draw(t, "all"), RoundSeconds: rapid.Float64Range(0.4, 60).Draw(t, "round")}, ending)
		b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindScene, ID: "film", SceneDoc: &light.Scene{Title: "Film", Targets: []light.Target{
			{Device: "lamp", Property: "brightness", Value: thing.Number(12)}, {Device: "tall", Property: "brightness", Value: thing.Number(12)},
			{Device: "tint", Property: "brightness", Value: thing.Number(12)},
		}}})
		b.play("")
		b.frames(time.Duration(rapid.IntRange(0, 5000).Draw(t, "milliseconds")) * time.Millisecond)
		switch rapid.IntRange(0, 4).Draw(t, "way") {
		case 0:
			b.play(engine.VerbStop)
		case 1:
			b.do(engine.Input{Kind: engine.InputScene, Scene: "film", Doer: somebody})
		case 2:
			for _, device := range []string{"lamp", "tall", "tint"} {
				b.hand(device, 50)
			}
		case 3:
			b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindSequence, ID: "glow"})
		case 4:
			b.do(engine.Input{Kind: engine.InputLight, ID: "light", Verb: string(light.Off), Doer: somebody})
		}
		b.done()
		assert.Empty(t, b.frames(10*time.Minute))
		assert.Empty(t, b.commands)
	})
}

func TestAHandTakesALampFromAnEffectOrAll(t *testing.T) {
	for all, left := range map[bool]int{false: 2, true: 0} {
		b := glowing(t, light.Effect{Kind: light.Candle, AllStop: all}, light.EndLetGo)
		b.play("")
		b.frames(2 * time.Second)
		b.hand("lamp", 66)
		assert.Contains(t, b.done(), "lamp brightness 66")
		moved := map[string]bool{}
		for _, f := range b.frames(5 * time.Second) {
			for _, v := range f.Frame {
				moved[v.Device] = true
			}
		}
		assert.Len(t, moved, left, "%v", moved)
		assert.False(t, moved["lamp"])
		assert.Equal(t, thing.Number(66), b.brightness("lamp").Target)
	}
}

func TestWhatALampSaysOfAFrameIsNobodysDoing(t *testing.T) {
	b := glowing(t, light.Effect{Kind: light.Candle}, light.EndLetGo)
	b.play("")
	b.done()
	frames := b.frames(20 * time.Second)
	early := frames[len(frames)-20].Frame[0]
	said := b.yields(engine.Input{Kind: engine.InputReport, Device: early.Device, Name: early.Property, Value: early.Value}, engine.OutputProperty)
	require.Len(t, said, 1)
	assert.False(t, said[0].Measured, "and none of it belongs in its history")
	assert.False(t, b.brightness(early.Device).Stack.Base.ByHand, "an old state that arrives late")
	b.report("lamp", "brightness", thing.Number(0))
	assert.True(t, b.brightness("lamp").Stack.Base.ByHand, "but put out at the lamp, it is left so")
	for _, f := range b.frames(2 * time.Second) {
		for _, v := range f.Frame {
			assert.NotEqual(t, "lamp", v.Device)
		}
	}
}

func TestAnEffectIsChangedWhileItRuns(t *testing.T) {
	redAndBlue := light.Effect{
		Kind: light.Drift, RoundSeconds: 60, Palette: []thing.Value{light.SRGB[0].Value(), light.SRGB[2].Value()}, Travel: light.Together,
	}
	b := glowing(t, redAndBlue, light.EndLetGo)
	b.play("")
	b.frames(15 * time.Second)
	color := func() thing.Value {
		st, _ := b.engine.PropertyState(thing.Ref{Device: "tint", Name: "color"})
		return st.Target
	}
	halfway := color()
	redAndBlue.RoundSeconds, redAndBlue.Lights = 6, []string{"light"}
	b.effect(redAndBlue, light.EndLetGo)
	b.frames(50 * time.Millisecond)
	assert.InDelta(t, halfway.Number, color().Number, 0.03, "faster, it goes on from where it is")
	b.frames(1500 * time.Millisecond)
	assert.InDelta(t, light.SRGB[2].X, color().Number, 0.05)
	st, _ := b.engine.SequenceView("glow")
	assert.True(t, st.Running)
	b.effect(light.Effect{Kind: light.Candle, Lamps: []string{"lamp"}}, light.EndLetGo)
	st, _ = b.engine.SequenceView("glow")
	assert.True(t, st.Running, "another kind, or other lamps, begins anew")
	assert.Equal(t, []string{"tall brightness 0", "tint brightness 0"}, kept(b.done(), "brightness")[:2], "and lets the others go")
}

func TestAMirrorKnowsThatAMovingLampIsOnAndNothingOfItsFrames(t *testing.T) {
	b := mirrored(t, mirror.Latest)
	b.hand("lamp", 0)
	b.done()
	b.pass(time.Minute)
	b.commands = nil
	b.effect(light.Effect{Kind: light.Candle, Lamps: []string{"lamp"}}, light.EndLetGo)
	b.play("")
	first := b.done()
	assert.Len(t, first, 2, "%v", first)
	assert.Contains(t, first, "wall power yes")
	assert.NotEmpty(t, b.frames(5*time.Second))
	assert.Empty(t, b.commands)
	b.play(engine.VerbStop)
	assert.ElementsMatch(t, []string{"lamp brightness 0", "wall power no"}, b.done())
}

func TestWhatStaysIsToldOnceMore(t *testing.T) {
	b := glowing(t, light.Effect{Kind: light.Candle}, light.EndHold)
	b.play("")
	b.frames(3 * time.Second)
	b.play(engine.VerbStop)
	last := b.done()
	assert.Len(t, last, 5, "its last frame may never have arrived: %v", last)
	assert.Empty(t, b.frames(time.Hour))
}

func TestAVeryDarkEffectKnowsOffFromItself(t *testing.T) {
	b := glowing(t, light.Effect{Kind: light.Candle, Level: 3}, light.EndLetGo)
	b.play("")
	b.frames(20 * time.Second)
	b.report("lamp", "brightness", thing.Number(0))
	assert.True(t, b.brightness("lamp").Stack.Base.ByHand)
}

func TestAnOldStateAsAnEffectBeginsIsForgottenOnceTheLampFollows(t *testing.T) {
	b := glowing(t, light.Effect{Kind: light.Candle, Level: 20}, light.EndLetGo)
	b.play("")
	b.done()
	b.report("lamp", "brightness", thing.Number(90)) // late, from before
	b.frames(30 * time.Second)
	assert.False(t, b.brightness("lamp").Stack.Base.ByHand)
}

func TestASunriseEndsByItselfAndStays(t *testing.T) {
	b := glowing(t, light.Effect{Kind: light.Sunrise, RoundSeconds: 60}, light.EndHold)
	b.play("")
	b.frames(61 * time.Second)
	st, _ := b.engine.SequenceView("glow")
	assert.False(t, st.Running)
	assert.Equal(t, thing.Number(100), b.brightness("lamp").Target)
	assert.Empty(t, b.brightness("lamp").Stack.Holds)
	assert.Empty(t, b.frames(time.Hour))
}

func TestWhatIsAttendedOnlyDoesNotMoveByItself(t *testing.T) {
	b := glowing(t, light.Effect{Kind: light.Candle}, light.EndLetGo)
	b.hand("lamp", 90)
	b.done()
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "lamp", Thing: &home.Device{
		Title: "lamp", Room: "mill", Connection: "wire", Hardware: "lamp", Description: lampDescription, AttendedOnly: true,
	}})
	b.play("")
	assert.Len(t, b.done(), 4)
	for _, f := range b.frames(2 * time.Second) {
		for _, v := range f.Frame {
			assert.NotEqual(t, "lamp", v.Device)
		}
	}
}

func TestALampThatFailsIsLeftOutOfFrames(t *testing.T) {
	b := glowing(t, light.Effect{Kind: light.Candle}, light.EndLetGo)
	b.play("")
	for _, c := range b.commands {
		if c.Device == "lamp" {
			b.do(engine.Input{Kind: engine.InputOutcome, Device: "lamp", Name: "brightness", Command: c.Command, Reason: "It is dead."})
		}
	}
	b.commands = nil
	for _, f := range b.frames(3 * time.Second) {
		for _, v := range f.Frame {
			assert.NotEqual(t, "lamp", v.Device)
		}
	}
}

func TestAfterARestartNothingMoves(t *testing.T) {
	b := glowing(t, light.Effect{Kind: light.Candle}, light.EndLetGo)
	b.hand("lamp", 30)
	b.done()
	b.play("")
	b.frames(3 * time.Second)
	again := b.restartedAfter(nil, time.Minute, func(a *bench) *bench {
		a.followers()
		a.effect(light.Effect{Kind: light.Candle, Lights: []string{"light"}}, light.EndLetGo)
		return a
	})
	assert.Equal(t, []string{"lamp brightness 30"}, again.done())
	assert.Empty(t, again.frames(time.Minute))
}

func TestAnEffectGoesOnHoweverTheClockIsSet(t *testing.T) {
	b := glowing(t, light.Effect{Kind: light.Candle}, light.EndLetGo)
	b.play("")
	b.frames(3 * time.Second)
	b.now = b.now.Add(-time.Hour)
	b.do(engine.Input{Kind: engine.InputClock, By: -time.Hour})
	assert.Greater(t, len(b.frames(3*time.Second)), 30)
}

func TestARehearsalLeavesFramesOut(t *testing.T) {
	b := glowing(t, light.Effect{Kind: light.Candle, Seconds: 600}, light.EndLetGo)
	b.engine.Still()
	b.play("")
	assert.NotEmpty(t, b.done())
	assert.Empty(t, b.frames(time.Hour))
	st, _ := b.engine.SequenceView("glow")
	assert.False(t, st.Running, "it ended in its time")
}

// A lamp that flickers by itself is told that once; stopped, by whatever, it is told to be still.
func TestALampThatHasTheEffectItselfDoesItItself(t *testing.T) {
	able := thing.Description{Properties: slices.Concat(bothLamp.Properties, []thing.Property{
		{Name: "own", Title: "Own effect", Role: thing.RoleEffect, Type: thing.TypeOption, Options: []string{"off", "candle"}, Writable: true},
	})}
	begin := func(kind light.EffectKind, byLamps bool) *bench {
		b := glowing(t, light.Effect{Kind: kind, Level: 40, ByLamps: byLamps}, light.EndLetGo)
		b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "tint", Thing: &home.Device{
			Title: "tint", Room: "mill", Connection: "wire", Hardware: "tint", Description: able,
		}})
		b.commands = nil
		b.play("")
		return b
	}
	of := func(frames []engine.Output) map[string]bool {
		moved := map[string]bool{}
		for _, f := range frames {
			for _, v := range f.Frame {
				moved[v.Device] = true
			}
		}
		return moved
	}
	b := begin(light.Candle, true)
	assert.Contains(t, b.done(), "tint own candle")
	assert.Equal(t, thing.Number(40), b.brightness("tint").Reported)
	assert.Equal(t, map[string]bool{"lamp": true, "tall": true}, of(b.frames(5*time.Second)), "the others are moved by the hub")
	b.play("stop")
	assert.Contains(t, b.done(), "tint own off")
	assert.Empty(t, b.frames(time.Minute))
	assert.Empty(t, b.done())

	b = begin(light.Candle, true)
	b.frames(5 * time.Second)
	b.hand("tint", 70)
	assert.Contains(t, b.done(), "tint own off", "a hand has it")
	assert.Equal(t, map[string]bool{"lamp": true, "tall": true}, of(b.frames(5*time.Second)))

	assert.NotContains(t, begin(light.Candle, false).done(), "tint own candle", "the owner prefers the hub")
	assert.NotContains(t, begin(light.Storm, true).done(), "tint own storm", "it has none")
}

func TestWhatIsNotMovedKeepsNoEffectGoing(t *testing.T) {
	b := glowing(t, light.Effect{Kind: light.Candle}, light.EndLetGo)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "strip", Thing: &home.Device{
		Title: "strip", Room: "mill", Connection: "wire", Hardware: "strip", Lamp: true,
		Description: thing.Description{Properties: []thing.Property{{Name: "power", Title: "Power", Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true}}},
	}})
	b.report("strip", "power", thing.Boolean(true))
	b.play("")
	b.frames(time.Second)
	for _, lamp := range []string{"lamp", "tall", "tint"} {
		b.hand(lamp, 50)
	}
	v, _ := b.engine.SequenceView("glow")
	assert.False(t, v.Running, "what only switches is not in it")
}

// A scene takes its lamps from an effect as a hand does, whoever applies it: the others go on, or none where that is chosen. On the way
// no lamp goes to what was below.
func TestASceneTakesItsLampsFromAnEffect(t *testing.T) {
	for _, byHand := range []bool{true, false} {
		for _, all := range []bool{true, false} {
			b := glowing(t, light.Effect{Kind: light.Candle, AllStop: all}, light.EndLetGo)
			b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindScene, ID: "reading", SceneDoc: &light.Scene{
				Title: "Reading", Targets: []light.Target{{Device: "tall", Property: "brightness", Value: thing.Number(70)}},
			}})
			b.rule("reads", rule.Rule{Do: []rule.Step{{Kind: rule.StepScene, Scene: "reading"}}})
			b.play("")
			b.frames(2 * time.Second)
			b.commands = nil
			if byHand {
				b.apply("reading")
			} else {
				b.do(engine.Input{Kind: engine.InputRun, Rule: "reads", Doer: somebody})
			}
			for _, c := range b.commands {
				if c.Device == "tall" && c.Name == "brightness" {
					assert.Equal(t, thing.Number(70), c.Value, "at once, and nothing in between")
				}
			}
			b.done()
			moved := map[string]bool{}
			for _, f := range b.frames(3 * time.Second) {
				for _, v := range f.Frame {
					moved[v.Device] = true
				}
			}
			assert.False(t, moved["tall"])
			assert.Equal(t, !all, moved["lamp"] && moved["tint"], "by hand %v, all stop %v", byHand, all)
			v, _ := b.engine.SequenceView("glow")
			assert.Equal(t, !all, v.Running)
		}
	}
}
