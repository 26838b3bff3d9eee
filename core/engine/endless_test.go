package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/engine"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
)

// Whatever a wait comes to, a repeat without end lets time go on: within a minute it takes no more than its share.
func TestAWaitThatComesToNothingNeverStopsTheHome(t *testing.T) {
	for name, c := range map[string]struct {
		wait    rule.Step
		stopped bool // what takes no time at all is stopped, what takes too little is slowed down
	}{
		"zero":               {rule.Step{Kind: rule.StepWait, Expression: "0"}, true},
		"negative":           {rule.Step{Kind: rule.StepWait, Expression: "-5"}, true},
		"no number":          {rule.Step{Kind: rule.StepWait, Expression: "0.0 / 0.0"}, true},
		"below what is":      {rule.Step{Kind: rule.StepWait, Expression: `value("sensor", "light") - 1000`}, true},
		"below a nanosecond": {rule.Step{Kind: rule.StepWait, ForSeconds: 1e-12}, false},
		"a nanosecond":       {rule.Step{Kind: rule.StepWait, Expression: "0.000000001"}, false},
		"by chance":          {rule.Step{Kind: rule.StepWait, ForSeconds: 0, ToSeconds: 1e-10}, false},
	} {
		t.Run(name, func(t *testing.T) {
			wait := c.wait
			b := newBench(t)
			b.rule("endless", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepRepeat, Do: []rule.Step{set("lamp", 10), set("lamp", 20), wait}}}})
			b.press()
			handled := 0
			for end := b.now.Add(time.Minute); ; handled++ {
				at, more := b.engine.NextDeadline()
				if !more || at.After(end) {
					break
				}
				require.Less(t, handled, engine.MaximumStepsPerMinute, "time does not go on")
				b.now = at
				b.commands, b.log = nil, nil
				b.do(engine.Input{Kind: engine.InputTick})
			}
			view, _ := b.engine.RuleView("endless")
			require.Empty(t, view.Problems)
			assert.Equal(t, c.stopped, view.State.Stopped != "")
			assert.NotZero(t, handled)
		})
	}
}

func TestAConditionThatAStepHasNoUseForIsSaidAndNeverCompiled(t *testing.T) {
	for _, kind := range []rule.StepKind{rule.StepSet, rule.StepWait, rule.StepNotify, rule.StepScene, rule.StepTogether, rule.StepScript} {
		b := newBench(t)
		step := set("lamp", 10)
		step.Kind = kind
		step.Condition = &rule.Condition{Device: "gone", Property: "brightness", Comparison: rule.Is, Value: thing.Number(1)}
		b.rule("odd", rule.Rule{When: press, Do: []rule.Step{step}})
		view, _ := b.engine.RuleView("odd")
		paths := map[string]bool{}
		for _, p := range view.Problems {
			paths[p.Path] = true
		}
		assert.True(t, paths["do/0/condition"], "%s: %v", kind, view.Problems)
		b.press()
		b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindDevice, ID: "lamp"})
		b.press()
	}
}

func TestASequenceOfScenesThatTakeNoTimeLetsTimeGoOn(t *testing.T) {
	b := newBench(t)
	b.do(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindScene,
			ID:         "bright",
			SceneDoc:   &light.Scene{Title: "Bright", Targets: []light.Target{{Device: "lamp", Property: "brightness", Value: thing.Number(80)}}},
		},
	)
	passages := make([]light.Passage, 200)
	for i := range passages {
		passages[i].Scene = "bright"
	}
	b.do(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindSequence,
			ID:         "rush",
			Sequence:   &light.Sequence{Title: "Rush", Passages: passages, Ending: light.EndRepeat},
		},
	)
	b.do(engine.Input{Kind: engine.InputSequence, ID: "rush"})
	wakings := 0
	for end := b.now.Add(10 * time.Second); ; wakings++ {
		at, more := b.engine.NextDeadline()
		if !more || at.After(end) {
			break
		}
		require.LessOrEqual(t, wakings, 100, "time does not go on")
		b.now = at
		b.do(engine.Input{Kind: engine.InputTick})
	}
}

func TestASchedulesStepsSetByAnAmountByChanceAndFromElsewhere(t *testing.T) {
	b := newBench(t)
	b.hand("lamp", 40)
	b.hand("other", 55)
	b.obey()
	daily := func(id string, step rule.Step) {
		b.do(
			engine.Input{
				Kind:       engine.InputDefine,
				Definition: engine.KindSchedule,
				ID:         id,
				Schedule:   &rule.Schedule{Title: id, Enabled: true, At: byClock("22:30"), Do: []rule.Step{step}},
			},
		)
	}
	by := set("lamp", 7)
	by.By = true
	daily("by", by)
	b.pass(time.Hour)
	assert.Equal(t, thing.Number(47), b.state("lamp").Target, "“by 7” is 7 more")
	b.obey()
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindSchedule, ID: "by"})

	from := rule.Step{Kind: rule.StepSet, Device: "lamp", Property: "brightness", From: &thing.Ref{Device: "other", Name: "brightness"}}
	daily("from", from)
	b.pass(24 * time.Hour)
	assert.Equal(t, thing.Number(55), b.state("lamp").Target)
	b.obey()
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindSchedule, ID: "from"})

	chance := set("lamp", 10)
	chance.To = thing.Number(30)
	daily("chance", chance)
	seen := map[float64]bool{}
	for range 12 {
		b.pass(24 * time.Hour)
		b.obey()
		got := b.state("lamp").Target.Number
		assert.True(t, got >= 10 && got <= 30, "%g", got)
		seen[got] = true
	}
	assert.Greater(t, len(seen), 3, "not always the same")
}

func TestAScheduleDoesNotWaitForADevice(t *testing.T) {
	b := newBench(t)
	step := set("lamp", 10)
	step.UntilDone = true
	doc := rule.Schedule{Title: "Once", At: byClock("22:30"), Do: []rule.Step{step}}
	problems := doc.Check(b.engine)
	require.Len(t, problems, 1)
	assert.Equal(t, "do/0/untilDone", problems[0].Path)
}
