package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"amvek/core/engine"
	"amvek/core/rule"
)

func TestPressedAgainASceneGoesOffAndTheNextOfSeveralComes(t *testing.T) {
	b := newBench(t)
	b.scene("supper", 30, 60)
	b.scene("cooking", 100, 20)
	b.rule("one", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepScene, Scene: "supper", OrOff: true}}})
	pressed := func() [2]float64 {
		b.press()
		b.obey()
		b.pass(5 * time.Second)
		return b.both()
	}
	assert.Equal(t, [2]float64{30, 60}, pressed())
	assert.Equal(t, [2]float64{0, 0}, pressed())
	assert.Equal(t, [2]float64{30, 60}, pressed())
	b.hand("lamp", 31) // changed since: it is applied anew, not put out
	b.obey()
	b.hand("lamp", 50)
	b.obey()
	assert.Equal(t, [2]float64{30, 60}, pressed())

	b.rule("one", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepScene, Scenes: []string{"supper", "cooking"}, OrOff: true}}})
	assert.Equal(t, [2]float64{100, 20}, pressed(), "the one after that in effect")
	assert.Equal(t, [2]float64{0, 0}, pressed(), "after the last, off")
	assert.Equal(t, [2]float64{30, 60}, pressed())
	b.rule("one", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepScene, Scenes: []string{"supper", "cooking"}}}})
	assert.Equal(t, [2]float64{100, 20}, pressed())
	assert.Equal(t, [2]float64{30, 60}, pressed(), "round again")
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindScene, ID: "cooking"})
	v, _ := b.engine.RuleView("one")
	assert.Len(t, v.Problems, 1)
	assert.Equal(t, "do/0/scenes/1", v.Problems[0].Path)
}
