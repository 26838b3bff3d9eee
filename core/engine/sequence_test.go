package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
)

func (b *bench) scene(id string, lamp, other float64) {
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindScene, ID: id, SceneDoc: &light.Scene{Title: id, Targets: []light.Target{
		{Device: "lamp", Property: "brightness", Value: thing.Number(lamp)}, {Device: "other", Property: "brightness", Value: thing.Number(other)},
	}}})
}

// dusk is two scenes, of 10 s and 20 s, the second at half its brightness.
func (b *bench) dusk(end light.Ending) {
	b.scene("warm", 60, 40)
	b.scene("dim", 20, 10)
	b.do(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindSequence,
			ID:         "dusk",
			Sequence: &light.Sequence{Title: "Dusk", Ending: end, Passages: []light.Passage{
				{Scene: "warm", FadeSeconds: 2, StaySeconds: 8}, {Scene: "dim", FadeSeconds: 5, StaySeconds: 15, Level: 50},
			}},
		},
	)
}

func (b *bench) sequence(verb string) {
	b.do(engine.Input{Kind: engine.InputSequence, ID: "dusk", Verb: verb})
}

func (b *bench) both() [2]float64 {
	return [2]float64{b.effective("lamp").Number, b.effective("other").Number}
}

func TestASequenceGoesThroughItsScenesAndEndsAsItSays(t *testing.T) {
	for end, want := range map[light.Ending][2]float64{light.EndRepeat: {60, 40}, light.EndHold: {10, 5}, light.EndFadeOut: {0, 0}, light.EndLetGo: {33, 44}} {
		b := newBench(t)
		b.hand("lamp", 33)
		b.hand("other", 44)
		b.dusk(end)
		b.sequence("start")
		assert.Equal(t, [2]float64{60, 40}, b.both())
		assert.Equal(t, 2*time.Second, b.commands[len(b.commands)-1].Fade)
		b.pass(9 * time.Second)
		assert.Equal(t, [2]float64{60, 40}, b.both())
		b.pass(2 * time.Second)
		assert.Equal(t, [2]float64{10, 5}, b.both(), "half of the scene's")
		b.pass(20 * time.Second)
		assert.Equal(t, want, b.both(), end)
		state, _ := b.engine.SequenceView("dusk")
		assert.Equal(t, end == light.EndRepeat || end == light.EndHold, state.Running, end)
		b.sequence("stop")
		if end != light.EndFadeOut {
			assert.Equal(t, [2]float64{33, 44}, b.both(), "what lay below shows again")
		}
		sent := len(b.commands)
		b.pass(10 * time.Minute)
		assert.Len(t, b.commands, sent, "stop is stop")
		for id, e := range b.entries {
			if e.Kind == cause.Commanded {
				kinds := b.chain(id)
				assert.True(t, kinds[len(kinds)-1].External(), "%v", kinds)
			}
		}
	}
}

func TestAHandTakesALampFromASequenceAndASceneEndsIt(t *testing.T) {
	b := newBench(t)
	b.dusk(light.EndRepeat)
	b.sequence("start")
	b.hand("lamp", 77)
	b.pass(11 * time.Second)
	assert.Equal(t, [2]float64{77, 5}, b.both(), "the lamp is left to the hand, the other goes on")
	b.scene("supper", 50, 50)
	b.do(engine.Input{Kind: engine.InputScene, Scene: "supper"})
	state, _ := b.engine.SequenceView("dusk")
	assert.False(t, state.Running)
	b.pass(time.Hour)
	assert.Equal(t, [2]float64{50, 50}, b.both())
}

func TestARuleStartsAndStopsASequenceAndARestartEndsIt(t *testing.T) {
	b := newBench(t)
	b.dusk(light.EndRepeat)
	b.hand("lamp", 33)
	b.rule(
		"go",
		rule.Rule{
			When: press,
			Do: []rule.Step{
				{Kind: rule.StepSequence, Sequence: "dusk"},
				{Kind: rule.StepWait, ForSeconds: 100},
				{Kind: rule.StepStop, Sequence: "dusk"},
				set("other", 1),
			},
		},
	)
	b.press()
	b.pass(95 * time.Second)
	assert.Equal(t, float64(60), b.both()[0], "in its fourth round")
	b.pass(6 * time.Second)
	assert.Equal(t, [2]float64{33, 1}, b.both(), "the rule goes on after it has stopped it")

	b.press()
	b.restart()
	assert.Equal(t, float64(33), b.both()[0], "lights that move without anybody having started them are none")
}

// Whatever happens on the way, once a sequence is stopped it has left nothing: what hands and rules did shows.
func TestASequenceLeavesNothingBehind(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		with, without := newBench(t), newBench(t)
		ends := rapid.SampledFrom([]light.Ending{light.EndRepeat, light.EndHold, light.EndLetGo}).Draw(t, "ending")
		for _, b := range []*bench{with, without} {
			b.dusk(ends)
			b.rule("hold", rule.Rule{Whenever: dark(), Do: []rule.Step{holdAt("lamp", 90)}})
			b.hand("lamp", 33)
			b.hand("other", 44)
		}
		for range rapid.IntRange(1, 25).Draw(t, "acts") {
			both := func(f func(b *bench)) { f(with); f(without) }
			switch rapid.IntRange(0, 5).Draw(t, "act") {
			case 0:
				with.sequence("start")
			case 1:
				with.sequence("stop")
			case 2:
				to := float64(rapid.IntRange(1, 100).Draw(t, "to"))
				both(func(b *bench) { b.hand("lamp", to) })
			case 3:
				lux := float64(rapid.SampledFrom([]int{1, 500}).Draw(t, "lux"))
				both(func(b *bench) { b.report("sensor", "light", thing.Number(lux)) })
			case 4:
				d := time.Duration(rapid.IntRange(1, 40).Draw(t, "seconds")) * time.Second
				both(func(b *bench) { b.pass(d) })
			case 5:
				both(func(b *bench) { b.press() })
			}
		}
		with.sequence("stop")
		if with.both() != without.both() {
			t.Fatalf("with %v, without %v", with.both(), without.both())
		}
	})
}
