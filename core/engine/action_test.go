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

func (b *bench) player() {
	b.device("player", thing.Description{Actions: []thing.Action{{Name: "find", Title: "Play", Role: thing.RolePlay, Inputs: []thing.Input{
		{Property: thing.Property{Name: "search", Title: "Words", Type: thing.TypeText}, Required: true},
		{Property: thing.Property{Name: "volume", Title: "Volume", Type: thing.TypeNumber, Unit: thing.UnitPercent, Maximum: 100}},
	}}}})
}

// asked gives an input and returns what devices are then asked for.
func (b *bench) asked(in engine.Input) (list []thing.Inputs) {
	for _, out := range b.yields(in, engine.OutputInvoke) {
		list = append(list, out.Given)
	}
	return list
}

func (b *bench) notes(kind cause.Kind) (notes []string) {
	for _, entry := range b.entries {
		if entry.Kind == kind {
			notes = append(notes, entry.Note)
		}
	}
	return notes
}

func TestAnActionIsGivenWhatIsFixedAndWhatIsWorkedOut(t *testing.T) {
	b := newBench(t)
	b.player()
	b.report("sensor", "light", thing.Number(41))
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{
		{
			Kind:   rule.StepAction,
			Device: "player",
			Action: "find",
			Input:  map[string]rule.Given{"search": {Expression: `value("sensor", "light")`}, "volume": {Value: thing.Number(30)}},
		},
		{Kind: rule.StepPlay, Device: "player", Text: "rain  on {1 + 1}"},
		{
			Kind:   rule.StepAction,
			Device: "player",
			Action: "find",
			Input:  map[string]rule.Given{"search": {Value: thing.Text("a")}, "volume": {Expression: `value("sensor", "light") * 100.0`}},
		},
	}})
	assert.Equal(t, []thing.Inputs{
		{"search": thing.Text("41"), "volume": thing.Number(30)},
		{"search": thing.Text("rain on 2")},
	}, b.asked(dialed()), "the third is louder than there is, and is not asked for")
	assert.ElementsMatch(t, []string{"words: 41, volume: 30 %", "words: rain on 2", "words: a, volume: 4100 %"}, b.notes(cause.Asked))
	assert.Equal(t, []string{"Volume: must be from 0 to 100 %."}, b.notes(cause.Failed))

	hand := engine.Input{Kind: engine.InputInvoke, Device: "player", Name: "find", Given: thing.Inputs{"search": thing.Text("rain")}}
	assert.Equal(t, []thing.Inputs{hand.Given}, b.asked(hand))
	hand.Given = nil
	assert.Empty(t, b.asked(hand), "without what it needs it is not asked for")
}

func TestAWaitMayBeWorkedOut(t *testing.T) {
	b := newBench(t)
	b.report("sensor", "light", thing.Number(41))
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepWait, Expression: `value("sensor", "light") * 2.0`}, set("lamp", 1)}})
	b.do(dialed())
	b.pass(81 * time.Second)
	require.Empty(t, b.sent())
	b.pass(2 * time.Second)
	assert.Equal(t, []string{"lamp 1"}, b.sent())
}
