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

func (b *bench) called(sent string) {
	b.do(engine.Input{Kind: engine.InputCall, Words: "door", Sent: sent})
}

func called(steps ...rule.Step) rule.Rule {
	return rule.Rule{When: []rule.Trigger{{Kind: rule.OnCall, Words: "door"}}, Policy: rule.SideBySide, Do: steps}
}

func TestWhatACallSendsIsThereInTheStepsOfItsRun(t *testing.T) {
	b := newBench(t)
	bright := rule.Step{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Expression: `sentNumber("/light/level")`}
	r := called(
		rule.Step{
			Kind:      rule.StepIf,
			Condition: &rule.Condition{Expression: `sentText("/event") == "ring"`},
			Then:      []rule.Step{{Kind: rule.StepWait, ForSeconds: 60}, bright},
		},
	)
	r.Provided = &rule.Condition{Expression: `!sentYes("/test")`}
	b.rule("r", r)
	view, _ := b.engine.RuleView("r")
	require.Empty(t, view.Problems)
	b.called(`{"event":"ring","test":false,"light":{"level":40}}`)
	b.pass(20 * time.Second)
	b.called(`{"event":"ring","test":false,"light":{"level":70}}`)
	b.called(`{"event":"ring","test":true,"light":{"level":1}}`)
	b.called(`{"event":"knock","test":false,"light":{"level":2}}`)
	b.called(`{"event":7}`)
	b.called(``)
	assert.Empty(t, b.sent())
	b.pass(41 * time.Second)
	assert.Equal(t, []string{"lamp 40"}, b.sent(), "each run has what was sent with its own call")
	b = b.restarted(map[string]rule.Rule{"r": r}, 0) // over a restart
	b.pass(20 * time.Second)
	assert.Equal(t, []string{"lamp 70"}, b.sent())
	b.pass(time.Hour)
	assert.Empty(t, b.sent())
}

func TestRunsThatQueueKeepWhatWasSentWithTheirCalls(t *testing.T) {
	b := newBench(t)
	r := called(
		rule.Step{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Expression: `sentNumber("")`},
		rule.Step{Kind: rule.StepWait, ForSeconds: 10},
	)
	r.Policy = rule.Queue
	b.rule("r", r)
	for _, sent := range []string{"10", "20", "30"} {
		b.called(sent)
	}
	assert.Equal(t, []string{"lamp 10"}, b.sent())
	b.pass(11 * time.Second)
	assert.Equal(t, []string{"lamp 20"}, b.sent())
	b.pass(11 * time.Second)
	assert.Equal(t, []string{"lamp 30"}, b.sent())
}

func TestWhatIsSentIsTakenOnlyWhereSomethingCalls(t *testing.T) {
	b := newBench(t)
	step := rule.Step{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Expression: `sentNumber("/level")`}
	gated := called(step)
	gated.Gate = &rule.Condition{Expression: `sentYes("/on")`}
	for name, r := range map[string]rule.Rule{"pressed": {When: press, Do: []rule.Step{step}}, "gated": gated, "no pointer": called(rule.Step{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Expression: `sentNumber("level")`})} {
		b.rule("r", r)
		view, _ := b.engine.RuleView("r")
		assert.NotEmpty(t, view.Problems, name)
	}
}

func TestAScenesValuesAndFadeMayBeFormulas(t *testing.T) {
	b := newBench(t)
	b.wish()
	b.report("own", "wish", thing.Number(30))
	b.do(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindScene,
			ID:         "dusk",
			SceneDoc: &light.Scene{Title: "Dusk", FadeExpression: `variable("wish") / 10`, Targets: []light.Target{
				{Device: "lamp", Property: "brightness", Value: thing.Number(5), Expression: `variable("wish") * 5`},
				{Device: "other", Property: "brightness", Value: thing.Number(7), Expression: `1 / (variable("wish") - 30)`},
			}},
		},
	)
	var fades []time.Duration
	var sent []string
	for _, out := range b.yields(engine.Input{Kind: engine.InputScene, Scene: "dusk", Doer: somebody}, engine.OutputCommand) {
		fades = append(fades, out.Fade)
		sent = append(sent, out.Device+" "+out.Value.String())
	}
	assert.Equal(t, []string{"lamp 100", "other 7"}, sent, "within what it can be at, and what is fixed where nothing is known")
	assert.Equal(t, []time.Duration{3 * time.Second, 3 * time.Second}, fades)
}
