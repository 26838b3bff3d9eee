package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
)

// told gives an input and returns what the household is told by it.
func (b *bench) told(in engine.Input) []engine.Output { return b.yields(in, engine.OutputNotify) }

func asking() rule.Rule {
	return rule.Rule{Enabled: true, Title: "r", When: press, Do: []rule.Step{
		{Kind: rule.StepQuestion, Text: "Light or dark?", AtMostSeconds: 600, Else: []rule.Step{set("other", 1)}, Branches: []rule.Branch{
			{Answer: "Light", Do: []rule.Step{set("lamp", 90)}},
			{Answer: "Dark "},
		}},
		set("other", 2),
	}}
}

func TestAQuestionIsAnsweredAndTheRunDoesWhatGoesWithTheAnswer(t *testing.T) {
	b := newBench(t)
	b.rule("r", asking())
	for answer, want := range map[string][]string{"Light": {"lamp 90", "other 2"}, "Dark": {"other 2"}} {
		asked := b.told(dialed())
		require.Len(t, asked, 1)
		assert.Equal(t, []string{"Light", "Dark"}, asked[0].Telling.Answers)
		assert.Empty(t, b.sent())
		assert.True(t, b.engine.Awaited(asked[0].Command))
		b.do(engine.Input{Kind: engine.InputAnswer, Command: asked[0].Command, OK: true, Words: answer, Doer: cause.By{Who: cause.Panel, Via: cause.ViaPanel}})
		assert.Equal(t, want, b.sent())
		assert.False(t, b.engine.Awaited(asked[0].Command))
		last := b.state("other")
		kinds := b.chain(last.Asked)
		assert.Contains(t, kinds, cause.Answered)
		assert.Contains(t, kinds, cause.Notified, "the answer follows from the question")
		b.hand("other", 0)
		b.sent()
	}
}

func TestAQuestionThatNobodyAnswersIsOverAlsoAfterARestart(t *testing.T) {
	b := newBench(t)
	b.rule("r", asking())
	asked := b.told(dialed())
	rules := map[string]rule.Rule{"r": asking()}
	b = b.restarted(rules, time.Minute)
	assert.True(t, b.engine.Awaited(asked[0].Command), "it is still asked")
	b.rule("call", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepWeb, Address: "http://weather.test"}}})
	for _, call := range b.calls(dialed()) {
		assert.NotEqual(t, asked[0].Command, call.Command, "no other call is taken for it")
	}
	b.sent()
	b.pass(10 * time.Minute)
	assert.Equal(t, []string{"other 1", "other 2"}, b.sent())
	assert.False(t, b.engine.Awaited(asked[0].Command))
}

func TestPanelsShowWhatTheyAreToldForATime(t *testing.T) {
	b := newBench(t)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDashboard, ID: "galley"})
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{
		{Kind: rule.StepShow, Text: `{1 + 1} loaves`, Dashboard: "galley", ForSeconds: 60},
		{Kind: rule.StepShow, Text: "Supper"},
	}})
	shown := b.told(dialed())
	require.Len(t, shown, 2)
	assert.Equal(t, engine.Telling{Text: "2 loaves", Panels: "galley", Until: b.now.Add(time.Minute)}, *shown[0].Telling)
	assert.Equal(t, engine.Telling{Text: "Supper", Panels: engine.AllPanels}, *shown[1].Telling)
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindDashboard, ID: "galley"})
	view, _ := b.engine.RuleView("r")
	require.Len(t, view.Problems, 1)
	assert.Equal(t, "do/0/dashboard", view.Problems[0].Path)
}

func TestASceneIsAppliedByAutomationInItsModesOnlyByAHandInAny(t *testing.T) {
	b := newBench(t)
	modes := thing.Property{Name: "mode", Title: "Mode", Type: thing.TypeOption, Writable: true, Own: true, Options: []string{"in", "away"}}
	b.device("own", thing.Description{Properties: []thing.Property{modes}})
	b.do(engine.Input{Kind: engine.InputWrite, Device: "own", Name: "mode", Value: thing.Text("away")})
	b.do(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindScene,
			ID:         "supper",
			SceneDoc: &light.Scene{
				Title:   "Supper",
				Modes:   []string{"in"},
				Targets: []light.Target{{Device: "lamp", Property: "brightness", Value: thing.Number(50)}},
			},
		},
	)
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepScene, Scene: "supper"}}})
	b.press()
	assert.Empty(t, b.sent())
	kept := false
	for _, e := range b.entries {
		kept = kept || e.Kind == cause.KeptBack && e.Scene == "supper" && e.Value == thing.Text("away")
	}
	assert.True(t, kept, "that it was kept back is written down, with the mode")
	b.do(engine.Input{Kind: engine.InputWrite, Device: "own", Name: "mode", Value: thing.Text("in")})
	b.press()
	assert.Equal(t, []string{"lamp 50"}, b.sent())
	b.do(engine.Input{Kind: engine.InputWrite, Device: "own", Name: "mode", Value: thing.Text("away")})
	b.hand("lamp", 1)
	b.sent()
	b.do(engine.Input{Kind: engine.InputScene, Scene: "supper"})
	assert.Equal(t, []string{"lamp 50"}, b.sent(), "a hand applies it in any mode")
}
