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

// noted returns the notes of the entries of a kind, in their order.
func (b *bench) noted(kind cause.Kind) (notes []string) {
	for id := cause.ID(1); id < b.engine.NextEntry(); id++ {
		if e, there := b.entries[id]; there && e.Kind == kind {
			notes = append(notes, e.Note)
		}
	}
	return notes
}

func TestAScriptDoesAllOrNothing(t *testing.T) {
	b := newBench(t)
	b.wish()
	b.group("lamps", "lamp", "other")
	b.report("sensor", "light", thing.Number(7))
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{
		{Kind: rule.StepScript, Script: `
for id in members("lamps"):
    set(id, "brightness", value("sensor", "light") * 3)
keep("wish", 5)
print("wish", variable("wish"))
if value("sensor", "light") > 10:
    fail("too light")
`, Else: []rule.Step{set("lamp", 1)}},
		{Kind: rule.StepSet, Device: "other", Property: "brightness", Expression: `variable("wish")`},
	}})
	b.press()
	assert.Equal(t, []string{"lamp 21", "other 21", "other 5"}, b.sent())
	assert.Equal(t, []string{"wish 5"}, b.noted(cause.Scripted))

	b.report("sensor", "light", thing.Number(11))
	b.press()
	assert.Equal(t, []string{"lamp 1"}, b.sent(), "nothing of what failed")
	assert.Equal(t, []string{"line 7: Fail: too light."}, b.noted(cause.ScriptFell))
	view, _ := b.engine.RuleView("r")
	assert.Contains(t, view.State.CallFailed, "too light")
}

func TestAScriptWithoutEndEndsAtItsLimitAndTheHomeGoesOn(t *testing.T) {
	b := newBench(t)
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{
		{
			Kind:   rule.StepScript,
			Script: "for i in range(100000):\n    for j in range(100000):\n        set('lamp', 'brightness', 3)",
			Else:   []rule.Step{set("other", 9)},
		},
	}})
	b.press()
	assert.Equal(t, []string{"other 9"}, b.sent())
}

func TestAScriptsMistakesAreSaidOnSave(t *testing.T) {
	b := newBench(t)
	b.wish()
	for text, want := range map[string]string{
		"":                            "Write what it does.",
		"x = = 1":                     "At line 1, character 5: Got '=', want primary expression.",
		`set("gone", "on", True)`:     `There is no device "gone".`,
		`members("gone")`:             `There is no group "gone".`,
		`apply("gone")`:               `There is no scene "gone".`,
		`start("gone")`:               `There is no rule "gone".`,
		`variable("gone")`:            `There is no variable "gone".`,
		`x = value("lamp", "bright")`: "",
	} {
		r := rule.Rule{Title: "r", When: press, Do: []rule.Step{{Kind: rule.StepScript, Script: text}}}
		problems := r.Check(b.engine)
		if want == "" {
			assert.Empty(t, problems, text)
			continue
		}
		require.NotEmpty(t, problems, text)
		assert.Equal(t, "do/0/script", problems[0].Path)
		assert.Equal(t, want, problems[0].Message)
	}
}

func TestARampGoesThroughWhatIsBetween(t *testing.T) {
	b := newBench(t)
	b.report("lamp", "brightness", thing.Number(10))
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{
		{Kind: rule.StepRamp, Device: "lamp", Property: "brightness", Value: thing.Number(20), ForSeconds: 10},
		set("other", 1),
	}})
	b.press()
	assert.Empty(t, b.sent())
	b.pass(2 * time.Second)
	assert.Equal(t, []string{"lamp 11", "lamp 12"}, b.sent())
	b.pass(8 * time.Second)
	sent := b.sent()
	assert.Equal(t, "lamp 20", sent[len(sent)-2], "it arrives exactly, and only then goes on")
	assert.Equal(t, "other 1", sent[len(sent)-1])
}

func TestARampLeavesAHandAlone(t *testing.T) {
	b := newBench(t)
	b.report("lamp", "brightness", thing.Number(0))
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{
		{Kind: rule.StepRamp, Device: "lamp", Property: "brightness", Value: thing.Number(100), ForSeconds: 100},
		set("other", 1),
	}})
	b.press()
	b.pass(10 * time.Second)
	b.hand("lamp", 80)
	b.sent()
	b.pass(5 * time.Second)
	assert.Equal(t, []string{"other 1"}, b.sent(), "the ramp is over, the run goes on")
	assert.Equal(t, thing.Number(80), b.state("lamp").Target)
}

func TestARampGoesOnAfterARestartWhereItShouldBe(t *testing.T) {
	b := newBench(t)
	b.report("lamp", "brightness", thing.Number(0))
	rules := map[string]rule.Rule{"r": {Enabled: true, Title: "r", When: press, Do: []rule.Step{
		{Kind: rule.StepRamp, Device: "lamp", Property: "brightness", Value: thing.Number(100), ForSeconds: 100},
	}}}
	b.rule("r", rules["r"])
	b.press()
	b.pass(10 * time.Second)
	b = b.restarted(rules, 40*time.Second)
	b.sent()
	b.pass(time.Second)
	assert.Equal(t, []string{"lamp 51"}, b.sent())
}

func TestAPausedRuleActsAgainWhenItIsLet(t *testing.T) {
	b := newBench(t)
	b.report("sensor", "light", thing.Number(5))
	b.report("sensor", "motion", thing.Boolean(false))
	b.rule("stairs", rule.Rule{Whenever: moving(), Do: []rule.Step{holdAt("lamp", 60)}})
	b.rule("off", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepPause, Rule: "stairs"}, wait(60), {Kind: rule.StepResume, Rule: "stairs"}}})
	b.report("sensor", "motion", thing.Boolean(true))
	assert.Equal(t, []string{"lamp 60"}, b.sent())
	b.press()
	assert.Equal(t, state.Idle, b.phase("stairs"), "what it held is let go")
	view, _ := b.engine.RuleView("stairs")
	assert.Equal(t, "off", view.State.PausedBy)
	b.report("sensor", "motion", thing.Boolean(false))
	b.report("sensor", "motion", thing.Boolean(true))
	assert.Equal(t, state.Idle, b.phase("stairs"))
	b.pass(time.Minute)
	assert.Equal(t, state.Holding, b.phase("stairs"), "what is so counts at once")

	b.press()
	b.do(engine.Input{Kind: engine.InputResume, Rule: "stairs"})
	assert.Equal(t, state.Holding, b.phase("stairs"), "a hand lets it act again too")
}
