package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

func holding(percent float64) rule.Rule {
	return rule.Rule{Whenever: dark(), Do: []rule.Step{holdAt("lamp", percent), wait(60), set("other", percent)}}
}

// What is changed or taken away while a rule is at work: it lets go of what it held, takes no further step, and what is
// new is done as if it had stood there all along.
func TestARuleThatIsChangedWhileItRunsLetsGoAndDoesTheNew(t *testing.T) {
	b := newBench(t)
	b.report("sensor", "light", thing.Number(100))
	b.hand("lamp", 33)
	b.rule("r", holding(60))
	b.report("sensor", "light", thing.Number(1))
	b.pass(30 * time.Second)
	assert.Equal(t, [2]float64{60, 0}, b.both())
	b.rule("r", holding(70)) // it is still dark
	assert.Equal(t, [2]float64{70, 0}, b.both())
	b.pass(40 * time.Second)
	assert.Equal(t, [2]float64{70, 0}, b.both(), "the old run took no further step")
	b.pass(30 * time.Second)
	assert.Equal(t, [2]float64{70, 70}, b.both())

	named := holding(70)
	named.Title, named.Note = "Another name", "And a note"
	b.press()
	sent := len(b.commands)
	b.rule("r", named)
	assert.Len(t, b.commands, sent, "another name is no other rule")
	assert.Equal(t, state.Holding, b.phase("r"))

	off := rule.Rule{Title: "r", Whenever: dark(), Do: []rule.Step{wait(1)}}
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRule, ID: "r", RuleDoc: &off})
	assert.Equal(t, float64(33), b.both()[0])
}

func TestARuleThatIsRemovedWhileItRunsLetsGoAndIsSilent(t *testing.T) {
	b := newBench(t)
	b.hand("lamp", 33)
	b.rule("r", holding(60))
	b.rule("starts", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepRun, Rule: "r"}, set("other", 5)}})
	b.pass(30 * time.Second)
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindRule, ID: "r"})
	assert.Equal(t, [2]float64{33, 0}, b.both())
	b.pass(time.Hour)
	assert.Equal(t, [2]float64{33, 0}, b.both())
	view, _ := b.engine.RuleView("starts")
	assert.NotEmpty(t, view.Problems, "whoever needs it is flagged")
}

func TestARuleThatWasRemovedAndComesBackHasItsRecordAgain(t *testing.T) {
	for _, restarted := range []bool{false, true} {
		b := newBench(t)
		b.rule("r", rule.Rule{When: press, Do: []rule.Step{set("other", 5), wait(10)}})
		b.press()
		b.pass(time.Minute)
		b.press()
		b.pass(time.Second)
		before, _ := b.engine.RuleView("r")
		require.Equal(t, 2, before.State.Runs)
		doc, saved := *b.engine.Rules()["r"], b.engine.Saved()
		b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindRule, ID: "r"})
		if restarted {
			b.restart()
			b.engine.Load(saved)
		}
		b.pass(time.Hour)
		b.rule("r", doc)
		after, _ := b.engine.RuleView("r")
		assert.Equal(t, 2, after.State.Runs)
		assert.Equal(t, before.State.LastBegan, after.State.LastBegan)
		assert.Equal(t, state.Idle, after.State.Phase)
		assert.Empty(t, after.State.Open, "what it was about to do then is not taken up again")
		b.press()
		again, _ := b.engine.RuleView("r")
		assert.Equal(t, 3, again.State.Runs)
	}
}

func TestADeviceThatIsRemovedWhileItIsHeldComesBackAsTheRuleStandsThen(t *testing.T) {
	for _, dark := range []bool{true, false} {
		b := newBench(t)
		b.hand("lamp", 33)
		b.rule("r", holding(60))
		b.rule("next", rule.Rule{When: press, Do: []rule.Step{set("other", 9)}})
		b.pass(10 * time.Second)
		b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindDevice, ID: "lamp"})
		view, _ := b.engine.RuleView("r")
		assert.NotEmpty(t, view.Problems)
		b.press()
		assert.Equal(t, float64(9), b.effective("other").Number, "the rest of the home goes on")
		if !dark {
			b.report("sensor", "light", thing.Number(100))
		}
		b.pass(time.Minute)
		b.device("lamp", lampDescription)
		want := 33.0
		if dark {
			want = 60
		}
		assert.Equal(t, want, b.effective("lamp").Number)
		stopped := 0
		for _, e := range b.entries {
			if e.Kind == cause.Stopped {
				stopped++
			}
		}
		assert.Zero(t, stopped)
	}
}
