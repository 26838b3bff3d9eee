package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/engine"
	"amvek/core/rule"
	"amvek/core/thing"
)

// meter is a device that answers when it is asked to measure.
func meter(b *bench) {
	b.wish()
	b.device("meter", thing.Description{Actions: []thing.Action{{Name: "measure", Title: "Measure", Answers: true}, {Name: "reset", Title: "Reset"}}})
}

func measured(more ...rule.Step) rule.Rule {
	return rule.Rule{
		When: press,
		Do: append(
			[]rule.Step{{Kind: rule.StepAction, Device: "meter", Action: "measure", Into: "wish", Pick: "/liters", Else: []rule.Step{set("other", 1)}}},
			more...),
	}
}

func TestARunWaitsForWhatADeviceAnswers(t *testing.T) {
	b := newBench(t)
	meter(b)
	b.rule("r", measured(rule.Step{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Expression: `variable("wish")`}))
	ask := func() engine.Output {
		t.Helper()
		asked := b.yields(dialed(), engine.OutputInvoke)
		require.Len(t, asked, 1)
		assert.Equal(t, "/liters", asked[0].Pick)
		return asked[0]
	}
	first := ask()
	assert.Empty(t, b.sent(), "it waits")
	b.do(engine.Input{Kind: engine.InputAnswer, Command: first.Command, OK: true, Words: "42"})
	assert.Equal(t, []string{"lamp 42"}, b.sent())

	failed := ask()
	b.do(engine.Input{Kind: engine.InputAnswer, Command: failed.Command, Reason: "The meter is away."})
	assert.Equal(t, []string{"other 1"}, b.sent(), "what is done when it fails; the variable stays, and the lamp with it")

	b.hand("other", 0)
	b.sent()
	ask()
	b.pass(time.Minute)
	assert.Contains(t, b.sent(), "other 1", "no answer at all")
}

func TestAnAnswerIsWaitedForOnlyWhereOneComes(t *testing.T) {
	b := newBench(t)
	meter(b)
	b.group("meters", "meter")
	for place, step := range map[string]rule.Step{
		"do/0/into": {Kind: rule.StepAction, Device: "meter", Action: "reset", Into: "wish"},
		"do/0/else": {Kind: rule.StepAction, Device: "meter", Action: "measure", Else: []rule.Step{set("lamp", 1)}},
	} {
		b.rule("r", rule.Rule{When: press, Do: []rule.Step{step}})
		view, _ := b.engine.RuleView("r")
		if assert.Len(t, view.Problems, 1, place) {
			assert.Equal(t, place, view.Problems[0].Path)
		}
	}
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepAction, Group: "meters", Action: "measure", Into: "wish"}}})
	view, _ := b.engine.RuleView("r")
	assert.NotEmpty(t, view.Problems)
}
