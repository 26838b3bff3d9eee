package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/engine"
	"amvek/core/hold"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
)

// glow is a scene of both lamps.
func (b *bench) glow() {
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindScene, ID: "glow", SceneDoc: &light.Scene{Title: "Glow", Targets: []light.Target{
		{Device: "lamp", Property: "brightness", Value: thing.Number(35)}, {Device: "other", Property: "brightness", Value: thing.Number(45)},
	}}})
}

func holdGlow() rule.Rule {
	return rule.Rule{Whenever: stirring(), Do: []rule.Step{{Kind: rule.StepHold, Scene: "glow"}}}
}

func TestASceneIsHeldAsAValueIsAndGoesWhenTheRuleLetsGo(t *testing.T) {
	b := newBench(t)
	b.glow()
	b.hand("lamp", 10)
	b.obey()
	b.sent()
	b.rule("r", holdGlow())
	b.report("sensor", "motion", thing.Boolean(true))
	assert.Equal(t, []string{"lamp 35", "other 45"}, b.sent())
	b.obey()
	b.report("sensor", "motion", thing.Boolean(false))
	assert.Equal(t, []string{"lamp 10", "other 0"}, b.sent(), "all is as it was")
}

// With a hand, another rule and a restart between, in any order, all is as it was once all have let go.
func TestAHeldSceneLeavesNothingBehind(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		rules := map[string]rule.Rule{"r": holdGlow(), "w": {Whenever: dark(), Do: []rule.Step{holdAt("lamp", 77)}}}
		scene := func(b *bench) *bench { b.glow(); return b }
		b := scene(newBench(t))
		for id, r := range rules {
			b.rule(id, r)
		}
		b.report("sensor", "light", thing.Number(100))
		base := map[string]float64{"lamp": 0, "other": 0}
		for range rapid.IntRange(1, 15).Draw(t, "acts") {
			switch rapid.IntRange(0, 4).Draw(t, "act") {
			case 0:
				b.report("sensor", "motion", thing.Boolean(rapid.Bool().Draw(t, "moving")))
			case 1:
				b.report("sensor", "light", thing.Number(rapid.SampledFrom([]float64{1, 100}).Draw(t, "lux")))
			case 2:
				lamp, percent := rapid.SampledFrom([]string{"lamp", "other"}).Draw(t, "lamp"), float64(rapid.IntRange(0, 100).Draw(t, "by hand"))
				base[lamp] = percent
				b.hand(lamp, percent)
			case 3:
				b.obey()
				saved := b.restartedWith(rules, scene)
				b = saved
			default:
				b.obey()
				b.pass(20 * time.Second)
			}
		}
		b.report("sensor", "motion", thing.Boolean(false))
		b.report("sensor", "light", thing.Number(100))
		b.obey()
		b.pass(time.Minute)
		for lamp, percent := range base {
			s := b.state(lamp)
			require.Empty(t, s.Stack.Holds, lamp)
			require.Equal(t, thing.Number(percent), s.Target, lamp)
		}
	})
}

func TestWhatWasRememberedIsPutBackAfterwards(t *testing.T) {
	for name, about := range map[string]rule.Step{"a device": {Device: "lamp"}, "what a scene sets": {Scene: "glow"}} {
		b := newBench(t)
		b.glow()
		b.hand("lamp", 12)
		b.hand("other", 14)
		b.obey()
		remember, back := about, about
		remember.Kind, back.Kind = rule.StepRemember, rule.StepPutBack
		b.rule("r", rule.Rule{Whenever: stirring(), Do: []rule.Step{remember, {Kind: rule.StepScene, Scene: "glow"}, wait(5)}, Afterwards: []rule.Step{back}})
		for _, waited := range []bool{false, true} { // while the steps still run, and after they are done
			b.report("sensor", "motion", thing.Boolean(true))
			b.obey()
			if waited {
				b.pass(10 * time.Second)
			}
			b.sent()
			b.report("sensor", "motion", thing.Boolean(false))
			b.obey()
			assert.Equal(t, thing.Number(12), b.state("lamp").Target, "%s, waited %v", name, waited)
			if name != "a device" {
				assert.Equal(t, thing.Number(14), b.state("other").Target, name)
			}
		}
	}
}

func TestAFirmHoldLetsAHandWaitBelow(t *testing.T) {
	for _, firm := range []rule.Firmness{rule.Firm, rule.Safety, ""} {
		b := newBench(t)
		b.rule(
			"r",
			rule.Rule{
				Whenever: stirring(),
				Do:       []rule.Step{{Kind: rule.StepHold, Device: "lamp", Property: "brightness", Value: thing.Number(60), Firm: firm}},
			},
		)
		b.report("sensor", "motion", thing.Boolean(true))
		b.obey()
		b.hand("lamp", 5)
		want := thing.Number(60)
		if firm == "" {
			want = thing.Number(5)
		}
		assert.Equal(t, want, b.state("lamp").Target, "%q", firm)
		if firm == rule.Safety {
			assert.Equal(t, hold.Safety, b.state("lamp").Stack.Holds[0].Level)
			b.do(engine.Input{Kind: engine.InputKeep, Device: "lamp", Name: "brightness", Value: thing.Number(9), Doer: somebody})
			assert.Equal(t, want, b.state("lamp").Target, "it goes before what a hand keeps")
			b.do(engine.Input{Kind: engine.InputLetGo, Device: "lamp", Name: "brightness", Owner: engine.HandOwner, Doer: somebody})
		}
		b.obey()
		b.report("sensor", "motion", thing.Boolean(false))
		assert.Equal(t, thing.Number(5), b.state("lamp").Target, "%q: the hand shows through", firm)
	}
}

func TestARunWhoseDeviceDoesNotFollowGoesOnOtherwiseOrIsTold(t *testing.T) {
	lock := set("lamp", 100)
	lock.UntilDone = true
	told := func(b *bench, in engine.Input) (texts []string) {
		for _, out := range b.yields(in, engine.OutputNotify) {
			texts = append(texts, out.Telling.Text)
		}
		return texts
	}
	b := newBench(t)
	b.rule("lock-up", rule.Rule{Title: "Lock up", When: press, Do: []rule.Step{{Kind: rule.StepRepeat, Times: 1, Do: []rule.Step{lock}}, set("other", 9)}})
	b.press()
	b.sent()
	command := b.state("lamp").Command
	jammed := engine.Input{Kind: engine.InputOutcome, Device: "lamp", Name: "brightness", Command: command, Reason: "The bolt is jammed."}
	assert.Equal(t, []string{"“Lock up” did not finish, at its step 1.1: lamp did not follow. Its later steps were not taken."}, told(b, jammed))
	assert.Empty(t, b.sent())
	b.press()
	jammed.Command = b.state("lamp").Command
	assert.Empty(t, told(b, jammed), "told once, until it has gone through again")

	lock.Else = []rule.Step{set("other", 30)}
	b.rule("lock-up", rule.Rule{Title: "Lock up", When: press, Do: []rule.Step{lock, set("other", 9)}})
	b.press()
	b.sent()
	jammed.Command = b.state("lamp").Command
	assert.Empty(t, told(b, jammed), "what is done otherwise is its answer")
	assert.Equal(t, []string{"other 30", "other 9"}, b.sent())
}
