package engine_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
)

func (b *bench) setting(id string, laid bool, levels map[string]float64) {
	doc := &light.Scene{Title: id, Laid: laid}
	for _, lamp := range []string{"lamp", "other"} {
		if level, sets := levels[lamp]; sets {
			doc.Targets = append(doc.Targets, light.Target{Device: lamp, Property: "brightness", Value: thing.Number(level)})
		}
	}
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindScene, ID: id, SceneDoc: doc})
}

func (b *bench) apply(scene string) {
	b.do(engine.Input{Kind: engine.InputScene, Scene: scene, Doer: somebody})
}

func (b *bench) lift(scene string) {
	b.do(engine.Input{Kind: engine.InputScene, Scene: scene, Verb: engine.VerbLift, Doer: somebody})
}

// at is what two lamps are asked to be at.
func (b *bench) at() [2]float64 {
	var levels [2]float64
	for i, lamp := range []string{"lamp", "other"} {
		p, _ := b.engine.PropertyState(thing.Ref{Device: lamp, Name: "brightness"})
		levels[i] = p.Target.Number
	}
	return levels
}

func desk(t *testing.T) *bench {
	b := newBench(t)
	b.setting("evening", false, map[string]float64{"lamp": 40, "other": 20})
	b.setting("film", false, map[string]float64{"lamp": 5, "other": 0})
	b.setting("desk", true, map[string]float64{"other": 90})
	return b
}

func TestASceneThatIsLaidOnTopLeavesWhatLiesBelow(t *testing.T) {
	b := desk(t)
	b.apply("evening")
	b.apply("desk")
	assert.Equal(t, [2]float64{40, 90}, b.at())
	_, laid := b.engine.SceneLaid("desk")
	assert.True(t, laid)
	b.apply("film")
	assert.Equal(t, [2]float64{5, 90}, b.at(), "what is laid on top stays there, whoever replaces what lies below")
	b.lift("desk")
	assert.Equal(t, [2]float64{5, 0}, b.at(), "and lifted, all of what lies below by now shows")
	_, laid = b.engine.SceneLaid("desk")
	assert.False(t, laid)
	b.commands = nil
	b.lift("desk")
	assert.Empty(t, b.commands, "what is lifted is lifted")

	b.apply("desk")
	b.do(engine.Input{Kind: engine.InputWrite, Device: "other", Name: "brightness", Value: thing.Number(33), Doer: somebody})
	assert.Equal(t, [2]float64{5, 33}, b.at(), "a hand in between has the lamp")
	b.lift("desk")
	assert.Equal(t, [2]float64{5, 33}, b.at(), "and keeps it")
	for _, e := range b.entries {
		if e.Kind == cause.LiftedByHand {
			assert.Equal(t, "desk", e.Scene)
		}
	}
}

func TestTheSameKeyLaysAndLifts(t *testing.T) {
	b := desk(t)
	b.rule("key", rule.Rule{When: []rule.Trigger{{Device: "dial", Event: "press"}}, Do: []rule.Step{{Kind: rule.StepScene, Scene: "desk", OrOff: true}}})
	press := func() { b.do(engine.Input{Kind: engine.InputRun, Rule: "key"}) }
	b.apply("evening")
	for range 2 {
		press()
		assert.Equal(t, [2]float64{40, 90}, b.at())
		press()
		assert.Equal(t, [2]float64{40, 20}, b.at())
	}
}

func TestWhatIsLaidFollowsItsSceneAndARestart(t *testing.T) {
	b := desk(t)
	b.apply("evening")
	b.apply("desk")
	b.setting("desk", true, map[string]float64{"lamp": 70})
	assert.Equal(t, [2]float64{70, 20}, b.at(), "changed while it lies there")
	b.setting("desk", false, map[string]float64{"lamp": 70})
	assert.Equal(t, [2]float64{40, 20}, b.at(), "no longer laid on top")
	b.setting("desk", true, map[string]float64{"lamp": 70})
	b.apply("desk")
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindScene, ID: "desk"})
	assert.Equal(t, [2]float64{40, 20}, b.at(), "removed")
}

func TestARoomThatGoesOffLiftsWhatIsLaidThere(t *testing.T) {
	b := millRoom(t)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindScene, ID: "desk", SceneDoc: &light.Scene{Title: "Desk", Laid: true, Targets: []light.Target{
		{Device: "lamp", Property: "brightness", Value: thing.Number(90)},
	}}})
	b.apply("evening")
	b.apply("desk")
	assert.Equal(t, "evening", b.light().Scene, "what lies on top is not the room's scene")
	assert.ElementsMatch(t, []string{"lamp"}, b.light().Differs)
	b.values()
	b.lit(light.Off, thing.Value{})
	assert.InDelta(t, 0, b.light().Level, 1e-9)
	_, laid := b.engine.SceneLaid("desk")
	assert.False(t, laid)
}

// Scenes laid on top in any order, with others applied, hands and rules in between, and lifted in any order: what was set last below
// them is what is left.
func TestOverlaysLiftedInAnyOrderLeaveWhatWas(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := newBench(t)
		lamps := []string{"lamp", "other"}
		below := map[string]float64{}
		level := rapid.IntRange(0, 100)
		some := func(name string) map[string]float64 {
			set := map[string]float64{}
			for _, lamp := range lamps {
				if rapid.Bool().Draw(t, name+" sets "+lamp) {
					set[lamp] = float64(level.Draw(t, name+" "+lamp))
				}
			}
			return set
		}
		replaces := map[string]map[string]float64{}
		for i := range 3 {
			b.setting(fmt.Sprintf("laid%d", i), true, some("laid"))
			id := fmt.Sprintf("scene%d", i)
			replaces[id] = some("scene")
			b.setting(id, false, replaces[id])
			b.rule("rule"+id, rule.Rule{Do: []rule.Step{{Kind: rule.StepScene, Scene: id}}})
		}
		for range rapid.IntRange(1, 25).Draw(t, "length") {
			n := rapid.IntRange(0, 2).Draw(t, "which")
			id := fmt.Sprintf("scene%d", n)
			switch rapid.IntRange(0, 4).Draw(t, "what") {
			case 0:
				b.apply(fmt.Sprintf("laid%d", n))
			case 1:
				b.lift(fmt.Sprintf("laid%d", n))
			case 2:
				b.apply(id)
				for lamp, v := range replaces[id] {
					below[lamp] = v
				}
			case 3:
				b.do(engine.Input{Kind: engine.InputRun, Rule: "rule" + id})
				for lamp, v := range replaces[id] {
					below[lamp] = v
				}
			default:
				lamp, v := lamps[n%2], float64(level.Draw(t, "by hand"))
				b.do(engine.Input{Kind: engine.InputWrite, Device: lamp, Name: "brightness", Value: thing.Number(v), Doer: somebody})
				below[lamp] = v
			}
		}
		for _, n := range rapid.Permutation([]int{0, 1, 2}).Draw(t, "order") {
			b.lift(fmt.Sprintf("laid%d", n))
		}
		require.Equal(t, [2]float64{below["lamp"], below["other"]}, b.at())
	})
}

func TestALampOfASceneMayFadeOtherwise(t *testing.T) {
	for _, laid := range []bool{false, true} {
		b := newBench(t)
		slow := 30.0
		b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindScene, ID: "scene", SceneDoc: &light.Scene{
			Title: "Evening", FadeSeconds: 2, Laid: laid, Targets: []light.Target{
				{Device: "lamp", Property: "brightness", Value: thing.Number(40), FadeSeconds: &slow},
				{Device: "other", Property: "brightness", Value: thing.Number(60)},
			},
		}})
		b.commands = nil
		b.apply("scene")
		fades := map[string]time.Duration{}
		for _, c := range b.commands {
			fades[c.Device] = c.Fade
		}
		assert.Equal(t, map[string]time.Duration{"lamp": 30 * time.Second, "other": 2 * time.Second}, fades)
	}
}
