package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/engine"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// traces gives an input and returns the traces that ended by it.
func (b *bench) traces(in engine.Input) (ended []*state.Trace) {
	for _, out := range b.engine.Handle(b.now, in) {
		switch out.Kind {
		case engine.OutputTrace:
			ended = append(ended, out.Trace)
		case engine.OutputCommand:
			b.commands = append(b.commands, out)
		}
	}
	return ended
}

func tick(b *bench, d time.Duration) []*state.Trace {
	b.now = b.now.Add(d)
	return b.traces(engine.Input{Kind: engine.InputTick})
}

func pressed(b *bench) []*state.Trace {
	return b.traces(engine.Input{Kind: engine.InputEvent, Device: "dial", Name: "press"})
}

func TestATraceSaysWhatARunDidStepByStep(t *testing.T) {
	b := newBench(t)
	b.report("sensor", "light", thing.Number(2))
	b.rule(
		"r",
		rule.Rule{
			When:     press,
			Provided: dark(),
			Do:       []rule.Step{set("lamp", 10), wait(60), {Kind: rule.StepRepeat, Times: 2, Do: []rule.Step{set("other", 20)}}},
		},
	)
	assert.Empty(t, pressed(b), "it has not ended")
	view, _ := b.engine.RuleView("r")
	require.Len(t, view.State.Open, 1)
	assert.Equal(t, state.Running, view.State.Open[0].Outcome)
	ended := tick(b, time.Minute)
	require.Len(t, ended, 1)
	trace := ended[0]
	assert.Equal(t, state.Finished, trace.Outcome)
	assert.Equal(t, "when/0", trace.Trigger)
	assert.Equal(t, time.Minute, trace.Ended.Sub(trace.At))
	assert.Equal(t, thing.Number(2), trace.Conditions[0].Value)
	assert.True(t, trace.Conditions[0].Truth)
	paths := []string{}
	for _, s := range trace.Steps {
		paths = append(paths, s.Path)
		assert.LessOrEqual(t, s.First, s.Next)
	}
	assert.Equal(t, []string{"do/0", "do/1", "do/2", "do/2/do/0", "do/2/do/0"}, paths)
	assert.True(t, trace.Steps[1].Waited)
	assert.Equal(t, 2, trace.Steps[4].Round)
	// The entries of a step are those that it caused.
	first := trace.Steps[0]
	assert.Equal(t, first.Cause, b.commands[0].Cause-1, "the command follows from the run")
	assert.True(t, first.First <= b.commands[0].Cause && b.commands[0].Cause < first.Next)
}

func TestATraceSaysWhyARuleDidNotStart(t *testing.T) {
	b := newBench(t)
	b.rule(
		"r",
		rule.Rule{
			When:     press,
			Provided: &rule.Condition{All: []rule.Condition{*dark(), *stirring()}},
			Gate:     &rule.Condition{Device: "lamp", Property: "brightness", Comparison: rule.Below, Value: thing.Number(50)},
			Do:       []rule.Step{set("other", 10)},
		},
	)
	b.hand("lamp", 0)
	b.obey()
	b.report("sensor", "light", thing.Number(2))
	ended := pressed(b)
	require.Len(t, ended, 1)
	assert.Equal(t, state.NotStarted, ended[0].Outcome)
	assert.Equal(t, "provided", ended[0].Reason)
	truths := map[string]bool{}
	for _, c := range ended[0].Conditions {
		truths[c.Path] = c.Truth
	}
	assert.Equal(t, map[string]bool{"gate": true, "provided": false, "provided/all/0": true, "provided/all/1": false}, truths)
	// A shut gate is said once for each time that it is shut.
	b.hand("lamp", 80)
	b.obey()
	ended = append(pressed(b), pressed(b)...)
	require.Len(t, ended, 1)
	assert.Equal(t, "gate", ended[0].Reason)
}

func TestTheConditionsOfAStepAreThoseOfItsInstant(t *testing.T) {
	b := newBench(t)
	b.report("sensor", "light", thing.Number(100))
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{wait(60), {Kind: rule.StepIf, Condition: dark(), Then: []rule.Step{set("lamp", 1)}}}})
	pressed(b)
	b.now = b.now.Add(time.Second)
	b.report("sensor", "light", thing.Number(3))
	ended := tick(b, 59*time.Second)
	require.Len(t, ended, 1)
	assert.Empty(t, ended[0].Conditions, "those of steps count when the steps are taken")
	require.Len(t, ended[0].Steps[1].Conditions, 1)
	assert.Equal(t, thing.Number(3), ended[0].Steps[1].Conditions[0].Value)
}

func TestAFlipTooShortToSeeIsInTheTrace(t *testing.T) {
	b := newBench(t)
	b.report("sensor", "light", thing.Number(100))
	b.rule("r", rule.Rule{When: press, Provided: dark(), Do: []rule.Step{set("lamp", 10)}})
	b.report("sensor", "light", thing.Number(3))
	b.now = b.now.Add(20 * time.Millisecond)
	b.report("sensor", "light", thing.Number(99))
	ended := pressed(b)
	require.Len(t, ended, 1)
	require.Len(t, ended[0].Flips, 2)
	assert.Equal(t, thing.Number(3), ended[0].Flips[0].Value)
	assert.Equal(t, 20*time.Millisecond, ended[0].Flips[1].At.Sub(ended[0].Flips[0].At))
	b.now = b.now.Add(time.Second)
	assert.Empty(t, pressed(b)[0].Flips, "each is told once")
}

func TestTheTraceOfAWheneverGoesToItsEnd(t *testing.T) {
	b := newBench(t)
	b.rule("r", rule.Rule{Whenever: stirring(), Do: []rule.Step{holdAt("lamp", 80)}, Afterwards: []rule.Step{set("other", 5)}})
	b.report("sensor", "motion", thing.Boolean(true))
	b.now = b.now.Add(time.Minute)
	ended := b.traces(engine.Input{Kind: engine.InputReport, Device: "sensor", Name: "motion", Value: thing.Boolean(false)})
	require.Len(t, ended, 1)
	assert.Equal(t, state.Finished, ended[0].Outcome)
	require.Len(t, ended[0].Steps, 2)
	assert.Equal(t, "afterwards/0", ended[0].Steps[1].Path)
	assert.Equal(t, time.Minute, ended[0].Ended.Sub(ended[0].At))
}

func TestATraceGoesOnAfterARestart(t *testing.T) {
	b := newBench(t)
	r := rule.Rule{When: press, Do: []rule.Step{set("lamp", 10), wait(600), set("lamp", 20)}}
	b.rule("r", r)
	b.press()
	again := b.restarted(map[string]rule.Rule{"r": r}, 5*time.Minute)
	ended := tick(again, 5*time.Minute)
	require.Len(t, ended, 1)
	assert.Len(t, ended[0].Steps, 3)
	assert.Equal(t, 10*time.Minute, ended[0].Ended.Sub(ended[0].At))
}

func TestHowARunEndedIsInItsTrace(t *testing.T) {
	b := newBench(t)
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{wait(60)}})
	pressed(b)
	ended := pressed(b)
	require.Len(t, ended, 1)
	assert.Equal(t, state.Replaced, ended[0].Outcome)
	b.now = b.now.Add(time.Second)
	ended = b.traces(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindRule,
			ID:         "r",
			RuleDoc:    &rule.Rule{Title: "r", Enabled: false, When: press, Do: []rule.Step{wait(60)}},
		},
	)
	require.Len(t, ended, 1)
	assert.Equal(t, state.Halted, ended[0].Outcome)
	b.engine.Untraced()
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{set("lamp", 1)}})
	assert.Empty(t, pressed(b))
}

func TestOfManyFlipsTheLatestAreKeptInTheirOrder(t *testing.T) {
	b := newBench(t)
	b.rule("r", rule.Rule{When: press, Provided: dark(), Do: []rule.Step{set("lamp", 9)}})
	for i := range 61 {
		b.report("sensor", "light", thing.Number([]float64{100, 1}[i%2]))
		b.pass(time.Second)
	}
	view, _ := b.engine.RuleView("r")
	require.Len(t, view.Flips, 24)
	for i := 1; i < len(view.Flips); i++ {
		assert.Equal(t, time.Second, view.Flips[i].At.Sub(view.Flips[i-1].At))
	}
	assert.Equal(t, b.now.Add(-time.Second), view.Flips[23].At)
	assert.False(t, view.Flips[23].Truth)
}
