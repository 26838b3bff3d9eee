package rule_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amvek/core/rule"
	"amvek/core/thing"
)

func TestWhatAnActionIsGivenIsChecked(t *testing.T) {
	find := func(input map[string]rule.Given) rule.Step {
		return rule.Step{Kind: rule.StepAction, Device: "player", Action: "find", Input: input}
	}
	rain := rule.Given{Value: thing.Text("rain")}
	for _, c := range []struct {
		step rule.Step
		want []rule.Problem
	}{
		{find(map[string]rule.Given{"search": rain}), nil},
		{find(map[string]rule.Given{"search": {Expression: `"rain"`}, "volume": {Value: thing.Number(30)}}), nil},
		{find(nil), []rule.Problem{{Path: "do/0/input/search", Message: "Station or words is needed."}}},
		{find(map[string]rule.Given{"search": rain, "volume": {Value: thing.Number(300)}}),
			[]rule.Problem{{Path: "do/0/input/volume", Message: "Volume: must be from 0 to 100."}}},
		{find(map[string]rule.Given{"search": rain, "shuffle": {Value: thing.Boolean(true)}}),
			[]rule.Problem{{Path: "do/0/input/shuffle", Message: "“Play” takes no shuffle."}}},
		{find(map[string]rule.Given{"search": rain, "volume": {Expression: `"loud"`}}),
			[]rule.Problem{{Path: "do/0/input/volume", Message: "It comes to a text, which does not do for Volume."}}},
		{rule.Step{Kind: rule.StepAction, Device: "player", Action: "fly"}, []rule.Problem{{Path: "do/0/action", Message: "Choose what it is asked for."}}},
		{rule.Step{Kind: rule.StepPlay, Device: "player", Text: "rain"}, nil},
		{rule.Step{Kind: rule.StepPlay, Device: "lamp", Text: " "},
			[]rule.Problem{{Path: "do/0/text", Message: "Say what is played: a station, a title, or words of one.", Open: true}, {Path: "do/0/device", Message: "This device does not play anything."}}},
		{rule.Step{Kind: rule.StepPlay, Group: "lamps", Text: "rain"}, []rule.Problem{{Path: "do/0/group", Message: "No device there plays anything."}}},
		{rule.Step{Kind: rule.StepNotify, Text: "The door {is"}, []rule.Problem{{Path: "do/0/text", Message: rule.Unshut}}},
		{rule.Step{Kind: rule.StepWait, Expression: `"long"`}, []rule.Problem{{Path: "do/0/expression", Message: "It comes to a text, not to a number of seconds."}}},
		{rule.Step{Kind: rule.StepWait, Expression: `60.0 * 2.0`}, nil},
	} {
		r := rule.Rule{Title: "R", Do: []rule.Step{c.step}}
		assert.Equal(t, c.want, r.Check(mill{}), "%+v", c.step)
	}
}
