package engine_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

var press = []rule.Trigger{{Device: "dial", Event: "press"}}

func set(device string, percent float64) rule.Step {
	return rule.Step{Kind: rule.StepSet, Device: device, Property: "brightness", Value: thing.Number(percent)}
}

// holdAt is a step that holds the brightness of a device.
func holdAt(device string, percent float64) rule.Step {
	return rule.Step{Kind: rule.StepHold, Device: device, Property: "brightness", Value: thing.Number(percent)}
}
func wait(seconds float64) rule.Step { return rule.Step{Kind: rule.StepWait, ForSeconds: seconds} }
func dark() *rule.Condition {
	return &rule.Condition{Device: "sensor", Property: "light", Comparison: rule.Below, Value: thing.Number(5)}
}
func stirring() *rule.Condition {
	return &rule.Condition{Device: "sensor", Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)}
}

func (b *bench) press() { b.do(engine.Input{Kind: engine.InputEvent, Device: "dial", Name: "press"}) }

// sent returns what was commanded, as "device percent", and forgets it.
func (b *bench) sent() []string {
	list := []string{}
	for _, c := range b.commands {
		list = append(list, fmt.Sprintf("%s %g", c.Device, c.Value.Number))
	}
	b.commands, b.followed = nil, 0
	return list
}

func (b *bench) group(id string, devices ...string) {
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindGroup, ID: id, Group: &home.Group{Title: id, Devices: devices}})
}

func TestARunTakesTheStepsOfTheBranchThatIsTrue(t *testing.T) {
	b := newBench(t)
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{
		{Kind: rule.StepIf, Condition: dark(), Then: []rule.Step{set("lamp", 40)}, Else: []rule.Step{set("lamp", 90)}},
		set("other", 10),
	}})
	b.press()
	assert.Equal(t, []string{"lamp 40", "other 10"}, b.sent())
	b.report("sensor", "light", thing.Number(800))
	b.press()
	assert.Equal(t, []string{"lamp 90"}, b.sent(), "what is so already is not commanded again")
}

func TestARepeatGoesRoundSoOftenOrWhileOrUntil(t *testing.T) {
	b := newBench(t)
	blink := []rule.Step{set("lamp", 100), wait(1), set("lamp", 0), wait(1)}
	b.rule("times", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepRepeat, Times: 3, Do: blink}, set("other", 5)}})
	b.press()
	b.pass(10 * time.Second)
	assert.Equal(t, []string{"lamp 100", "lamp 0", "lamp 100", "lamp 0", "lamp 100", "lamp 0", "other 5"}, b.sent())

	b = newBench(t)
	b.rule("while", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepRepeat, Condition: stirring(), Do: blink}, set("other", 5)}})
	b.press()
	assert.Equal(t, []string{"other 5"}, b.sent(), "not one round where it is not true")
	b.report("sensor", "motion", thing.Boolean(true))
	b.hand("other", 0)
	b.press()
	b.pass(3 * time.Second)
	b.report("sensor", "motion", thing.Boolean(false))
	b.pass(5 * time.Second)
	assert.Equal(t, []string{"other 0", "lamp 100", "lamp 0", "lamp 100", "lamp 0", "other 5"}, b.sent())

	b = newBench(t)
	b.rule("until", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepRepeat, Until: true, Condition: dark(), Do: blink}}})
	b.press()
	b.pass(10 * time.Second)
	assert.Len(t, b.sent(), 2, "one round before it is looked at")
}

func TestARunWaitsUntilSomethingIsTrueOrItsTimeIsOver(t *testing.T) {
	b := newBench(t)
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{
		{Kind: rule.StepUntil, Condition: stirring(), AtMostSeconds: 60, Else: []rule.Step{set("other", 1)}},
		set("lamp", 50),
	}})
	b.press()
	b.pass(30 * time.Second)
	assert.Empty(t, b.sent())
	b.report("sensor", "motion", thing.Boolean(true))
	assert.Equal(t, []string{"lamp 50"}, b.sent())
	b.pass(time.Minute)
	assert.Empty(t, b.sent(), "its time limit is over with it")
	b.report("sensor", "motion", thing.Boolean(false))
	b.hand("lamp", 0)
	b.sent()
	b.press()
	b.pass(2 * time.Minute)
	assert.Equal(t, []string{"other 1", "lamp 50"}, b.sent())
}

func TestBranchesGoOnTogetherAndTheRunAfterTheLast(t *testing.T) {
	b := newBench(t)
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{
		{Kind: rule.StepTogether, Branches: []rule.Branch{
			{Do: []rule.Step{set("lamp", 10), wait(5), set("lamp", 20)}},
			{Do: []rule.Step{wait(2), set("other", 30)}},
			{Do: []rule.Step{{Kind: rule.StepTogether, Branches: []rule.Branch{{Do: []rule.Step{wait(1)}}, {Do: []rule.Step{wait(7)}}}}}},
		}},
		set("other", 99),
	}})
	b.press()
	b.pass(6 * time.Second)
	assert.Equal(t, []string{"lamp 10", "other 30", "lamp 20"}, b.sent())
	b.pass(2 * time.Second)
	assert.Equal(t, []string{"other 99"}, b.sent())
	view, _ := b.engine.RuleView("r")
	assert.Empty(t, view.State.Frames)
}

func TestEveryMemberOfAGroupTakesItsTurnWithAGap(t *testing.T) {
	b := newBench(t)
	b.group("lamps", "lamp", "sensor", "other")
	r := rule.Rule{When: press, Do: []rule.Step{
		{
			Kind:       rule.StepEach,
			Group:      "lamps",
			GapSeconds: 2,
			Do:         []rule.Step{{Kind: rule.StepSet, Device: rule.Member, Property: "brightness", Value: thing.Number(70)}},
		},
	}}
	b.rule("r", r)
	b.press()
	assert.Equal(t, []string{"lamp 70"}, b.sent())
	b.pass(3 * time.Second)
	assert.Empty(t, b.sent(), "the sensor has no brightness, but its turn")
	b.pass(2 * time.Second)
	assert.Equal(t, []string{"other 70"}, b.sent())
	b.rule("all", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepSet, Group: "lamps", Property: "power", Value: thing.Boolean(false)}}})
	b.engine.Handle(b.now, engine.Input{Kind: engine.InputRemove, Definition: engine.KindRule, ID: "r"})
	b.press()
	assert.Equal(t, []string{"lamp 0", "other 0"}, b.sent(), "off goes together with brightness")
	b.hand("lamp", 30)
	b.hand("other", 30)
	b.sent()
	b.group("lamps", "other")
	b.press()
	assert.Equal(t, []string{"other 0"}, b.sent(), "the rule has the group as it is now")
}

func TestAGroupsConditionSaysHowMany(t *testing.T) {
	b := newBench(t)
	b.group("lamps", "lamp", "other")
	on := func(which rule.Which) *rule.Condition {
		return &rule.Condition{Group: "lamps", Which: which, Property: "power", Comparison: rule.Is, Value: thing.Boolean(true)}
	}
	truth := func(c *rule.Condition) bool {
		b.rule("probe", rule.Rule{Whenever: c, Do: []rule.Step{wait(1)}})
		view, _ := b.engine.RuleView("probe")
		require.Empty(t, view.Problems)
		return view.Conditions[0].Truth
	}
	assert.True(t, truth(on(rule.NoneOf)))
	b.report("lamp", "brightness", thing.Number(60))
	assert.True(t, truth(on(rule.AnyOf)))
	assert.False(t, truth(on(rule.AllOf)))
	assert.False(t, truth(on(rule.NoneOf)))
	b.report("other", "brightness", thing.Number(60))
	assert.True(t, truth(on(rule.AllOf)))
}

func TestWhatWasRememberedIsPutBack(t *testing.T) {
	b := newBench(t)
	b.hand("lamp", 33)
	b.obey()
	b.sent()
	b.rule(
		"r",
		rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepRemember, Device: "lamp"}, set("lamp", 100), wait(5), {Kind: rule.StepPutBack, Device: "lamp"}}},
	)
	b.press()
	b.obey()
	b.pass(time.Minute)
	assert.Equal(t, []string{"lamp 100", "lamp 33"}, b.sent())
}

func TestValuesComeByAnAmountByChanceOrFromElsewhere(t *testing.T) {
	b := newBench(t)
	b.hand("lamp", 90)
	b.obey()
	b.sent()
	b.rule("by", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(25), By: true}}})
	b.press()
	assert.Equal(t, []string{"lamp 100"}, b.sent(), "as far as it goes")
	b.obey()
	b.rule(
		"by",
		rule.Rule{
			When: press,
			Do:   []rule.Step{{Kind: rule.StepSet, Device: "other", Property: "brightness", From: &thing.Ref{Device: "lamp", Name: "brightness"}}},
		},
	)
	b.press()
	assert.Equal(t, []string{"other 100"}, b.sent())
	b.rule(
		"by",
		rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(10), To: thing.Number(20)}}},
	)
	seen := map[float64]bool{}
	for range 200 {
		b.press()
		v := b.state("lamp").Target.Number
		require.True(t, v >= 10 && v <= 20 && v == float64(int(v)), "%g", v)
		seen[v] = true
	}
	assert.Len(t, seen, 11, "all of them come")
}

func TestOneOfSeveralByChanceTheSameForTheSameSeed(t *testing.T) {
	picks := func(seed uint64) (list []string) {
		b := newBench(t)
		b.engine.Seed(seed)
		b.rule(
			"r",
			rule.Rule{
				When: press,
				Do: []rule.Step{
					{
						Kind:     rule.StepOneOf,
						Branches: []rule.Branch{{Do: []rule.Step{set("lamp", 1)}}, {Do: []rule.Step{set("lamp", 2)}}, {Do: []rule.Step{set("lamp", 3)}}},
					},
				},
			},
		)
		for range 60 {
			b.press()
		}
		return b.sent()
	}
	assert.Equal(t, picks(1), picks(1))
	assert.NotEqual(t, picks(1), picks(2))
	for _, want := range []string{"lamp 1", "lamp 2", "lamp 3"} {
		assert.Contains(t, picks(1), want)
	}
}

func TestARunStopsItselfWithAllItsBranches(t *testing.T) {
	b := newBench(t)
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{
		{Kind: rule.StepTogether, Branches: []rule.Branch{{Do: []rule.Step{wait(2), {Kind: rule.StepStop}}}, {Do: []rule.Step{wait(5), set("lamp", 1)}}}},
		set("lamp", 2),
	}})
	b.press()
	b.pass(time.Minute)
	assert.Empty(t, b.sent())
	view, _ := b.engine.RuleView("r")
	assert.Empty(t, view.State.Frames)
}

func TestWhatTheHomeItselfKeepsIsSetAtOnceAndStartsRules(t *testing.T) {
	b := newBench(t)
	b.do(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindDevice,
			ID:         rule.OwnDevice,
			Thing: &home.Device{Title: "Home", Hardware: "own", Description: thing.Description{Properties: []thing.Property{
				{Name: "mode", Title: "Mode", Type: thing.TypeOption, Options: []string{"in", "out"}, Writable: true, Own: true},
				{Name: "count", Title: "Count", Type: thing.TypeNumber, Maximum: 1000, Writable: true, Own: true, Resolution: 0.01},
			}}},
		},
	)
	b.report(rule.OwnDevice, "mode", thing.Text("in"))
	b.report(rule.OwnDevice, "count", thing.Number(0))
	b.rule("leave", rule.Rule{When: press, Do: []rule.Step{
		{Kind: rule.StepSet, Device: rule.OwnDevice, Property: "mode", Value: thing.Text("out")},
		{
			Kind:      rule.StepIf,
			Condition: &rule.Condition{Device: rule.OwnDevice, Property: "mode", Comparison: rule.Is, Value: thing.Text("out")},
			Then:      []rule.Step{set("lamp", 9)},
		},
	}})
	b.rule(
		"off",
		rule.Rule{
			When: []rule.Trigger{{Device: rule.OwnDevice, Property: "mode", Comparison: rule.Is, Value: thing.Text("out")}},
			Do:   []rule.Step{set("other", 4)},
		},
	)
	b.press()
	assert.Equal(t, []string{"other 4", "lamp 9"}, b.sent(), "no command for what the hub keeps itself")
	mode, _ := b.engine.PropertyState(thing.Ref{Device: rule.OwnDevice, Name: "mode"})
	assert.Equal(t, state.Confirmed, mode.Certainty)
	assert.Equal(t, thing.Text("out"), mode.Reported)

	// Two that start each other for ever are stopped, and the rest goes on.
	b.rule(
		"ping",
		rule.Rule{
			When: []rule.Trigger{{Device: rule.OwnDevice, Property: "count"}},
			Do:   []rule.Step{{Kind: rule.StepSet, Device: rule.OwnDevice, Property: "count", Value: thing.Number(1), By: true}},
		},
	)
	b.do(
		engine.Input{
			Kind:   engine.InputWrite,
			Device: rule.OwnDevice,
			Name:   "count",
			Value:  thing.Number(5),
			Doer:   cause.By{Who: cause.Person, Via: cause.ViaPage},
		},
	)
	view, _ := b.engine.RuleView("ping")
	assert.NotEmpty(t, view.State.Stopped)
	b.hand("lamp", 50)
	assert.Equal(t, []string{"lamp 50"}, b.sent())
}
