package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/rule"
	"amvek/core/thing"
)

// calls gives an input and returns the calls outside that follow.
func (b *bench) calls(in engine.Input) []engine.Output { return b.yields(in, engine.OutputCall) }

func dialed() engine.Input {
	return engine.Input{Kind: engine.InputEvent, Device: "dial", Name: "press"}
}

func (b *bench) wish() {
	b.device(
		"own",
		thing.Description{
			Properties: []thing.Property{{Name: "wish", Title: "Wish", Type: thing.TypeNumber, Maximum: 100, Writable: true, Own: true, Resolution: 0.01}},
		},
	)
}

func TestACallOutsideIsAnsweredIntoAVariable(t *testing.T) {
	b := newBench(t)
	b.wish()
	b.report("sensor", "light", thing.Number(7))
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{
		{Kind: rule.StepWeb, Address: `http://weather.test/{value("sensor", "light")}`, Into: "wish", LimitSeconds: 3, Else: []rule.Step{set("lamp", 1)}},
		{Kind: rule.StepSet, Device: "other", Property: "brightness", Expression: `variable("wish")`},
	}})
	calls := b.calls(dialed())
	require.Len(t, calls, 1)
	assert.Equal(t, "http://weather.test/7", calls[0].Call.Address)
	assert.Equal(t, 3*time.Second, calls[0].Call.Limit)
	assert.Empty(t, b.sent(), "the run waits; the engine does not")
	b.do(engine.Input{Kind: engine.InputAnswer, Command: calls[0].Command, OK: true, Words: " 42 "})
	assert.Equal(t, []string{"other 42"}, b.sent())
	for words, why := range map[string]string{"many": "no number", "1000": "does not fit"} {
		calls = b.calls(dialed())
		b.do(engine.Input{Kind: engine.InputAnswer, Command: calls[0].Command, OK: true, Words: words})
		view, _ := b.engine.RuleView("r")
		assert.Contains(t, view.State.CallFailed, why)
	}
	assert.Contains(t, b.sent(), "lamp 1", "what is done when it fails")
	assert.Empty(t, b.calls(engine.Input{Kind: engine.InputAnswer, Command: 9999, OK: true, Words: "1"}), "an answer that nobody waits for")
}

func TestACallThatFailsOrIsNeverAnsweredIsAValueToGoOnWith(t *testing.T) {
	r := rule.Rule{
		When: press,
		Do:   []rule.Step{{Kind: rule.StepProgram, Program: "tide", Arguments: []string{"{1 + 1}"}, Else: []rule.Step{set("lamp", 1)}}, set("other", 2)},
	}
	b := newBench(t)
	b.rule("r", r)
	calls := b.calls(dialed())
	assert.Equal(t, []string{"2"}, calls[0].Call.Arguments)
	b.do(engine.Input{Kind: engine.InputAnswer, Command: calls[0].Command, Reason: "there is no such program."})
	assert.Equal(t, []string{"lamp 1", "other 2"}, b.sent())
	// Nobody answers: the hub was killed meanwhile.
	b = newBench(t)
	b.rule("r", r)
	b.calls(dialed())
	again := b.restarted(map[string]rule.Rule{"r": r}, time.Minute)
	assert.Equal(t, []string{"lamp 1", "other 2"}, again.sent())
	assert.Equal(t, 1, again.count(cause.Answered))
}

func TestASpeakerSaysTheSameAgain(t *testing.T) {
	b := newBench(t)
	b.device(
		"speaker",
		thing.Description{Properties: []thing.Property{{Name: "speech", Title: "Speech", Role: thing.RoleSpeech, Type: thing.TypeText, Writable: true}}},
	)
	b.report("speaker", "speech", thing.Text(""))
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepSay, Device: "speaker", Property: "speech", Text: "Supper at {hour > 12}"}}})
	for range 2 {
		b.press()
		require.Len(t, b.commands, 1)
		assert.Equal(t, thing.Text("Supper at yes"), b.commands[0].Value)
		b.commands = nil
		b.report("speaker", "speech", thing.Text("Supper at yes"))
		b.pass(time.Minute)
	}
}
