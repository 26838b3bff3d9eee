package engine_test

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/almanac"
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

// restarted goes on from what was saved, as a hub does after it was killed.
func (b *bench) restarted(rules map[string]rule.Rule, after time.Duration) *bench {
	return b.restartedAfter(rules, after, func(b *bench) *bench { return b })
}

// restartedWith is restarted at once, with definitions besides the rules.
func (b *bench) restartedWith(rules map[string]rule.Rule, define func(b *bench) *bench) *bench {
	return b.restartedAfter(rules, 0, define)
}

func (b *bench) restartedAfter(rules map[string]rule.Rule, after time.Duration, define func(b *bench) *bench) *bench {
	saved := state.Saved{Properties: map[thing.Ref]state.PropertyState{}, Rules: map[string]state.RuleState{}}
	again := &bench{t: b.t, engine: engine.New(b.engine.NextEntry(), 10_000), now: b.now.Add(after), entries: b.entries}
	again.engine.BeginLoading(again.now)
	again.do(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindHome,
			Home:       &home.Home{Title: "Mill", Latitude: 51.5, Longitude: -2.6, Zone: "Europe/London"},
		},
	)
	for id, d := range map[string]thing.Description{"lamp": lampDescription, "other": lampDescription, "sensor": sensorDescription, "dial": dialDescription} {
		again.device(id, d)
		for _, p := range d.Properties {
			state, _ := b.engine.PropertyState(thing.Ref{Device: id, Name: p.Name})
			saved.Properties[thing.Ref{Device: id, Name: p.Name}] = through(b.t, state)
		}
	}
	for id, r := range rules {
		again.rule(id, r)
		view, _ := b.engine.RuleView(id)
		saved.Rules[id] = through(b.t, view.State)
	}
	define(again)
	again.engine.Load(saved)
	again.do(engine.Input{Kind: engine.InputStart})
	return again
}

// through returns a value as it comes back from where it was kept.
func through[T any](t require.TestingT, v T) (back T) {
	data, err := json.Marshal(v)
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(data, &back))
	return back
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

func TestAConditionCountsOnceItHasLasted(t *testing.T) {
	b := newBench(t)
	lasting := stirring()
	lasting.ForAtLeastSeconds = 30
	b.rule("r", rule.Rule{Whenever: &rule.Condition{All: []rule.Condition{*lasting, *dark()}}, Do: []rule.Step{holdAt("lamp", 80)}})
	b.report("sensor", "motion", thing.Boolean(true))
	b.pass(29 * time.Second)
	b.report("sensor", "motion", thing.Boolean(false))
	b.report("sensor", "motion", thing.Boolean(true))
	b.pass(20 * time.Second)
	assert.Empty(t, b.sent(), "the time begins anew")
	b.pass(11 * time.Second)
	assert.Equal(t, []string{"lamp 80"}, b.sent())
	b.report("sensor", "motion", thing.Boolean(false))
	assert.Equal(t, []string{"lamp 0"}, b.sent())
	for _, entry := range b.entries {
		if entry.Kind == cause.Began {
			assert.Equal(t, cause.Reported, b.origin(entry).Kind, "its chain ends at the sensor")
		}
	}
}

// origin follows the chain of an entry to its beginning.
func (b *bench) origin(e cause.Entry) cause.Entry {
	for e.Parent != 0 {
		e = b.entries[e.Parent]
	}
	return e
}

func TestATriggerWaitsUntilItStayedSo(t *testing.T) {
	b := newBench(t)
	b.rule(
		"r",
		rule.Rule{
			When: []rule.Trigger{{Device: "sensor", Property: "light", Comparison: rule.Above, Value: thing.Number(100), ForSeconds: 600}},
			Do:   []rule.Step{set("lamp", 7)},
		},
	)
	b.report("sensor", "light", thing.Number(200))
	b.pass(9 * time.Minute)
	b.report("sensor", "light", thing.Number(50))
	b.report("sensor", "light", thing.Number(200))
	b.pass(9 * time.Minute)
	assert.Empty(t, b.sent())
	b.pass(2 * time.Minute)
	assert.Equal(t, []string{"lamp 7"}, b.sent())
	b.hand("lamp", 0)
	b.sent()
	b.report("sensor", "light", thing.Number(300))
	b.pass(time.Hour)
	assert.Empty(t, b.sent(), "once for each time that it comes to be so")
}

func TestAWindowOfTheDayBeginsAndEnds(t *testing.T) {
	b := newBench(t) // 22:00
	b.rule(
		"r",
		rule.Rule{
			Whenever: &rule.Condition{
				Between: &rule.Window{
					From: almanac.Daily{Anchor: almanac.ByClock, Clock: "23:00"},
					To:   almanac.Daily{Anchor: almanac.BySunrise, OffsetMinutes: -30},
				},
			},
			Do: []rule.Step{holdAt("lamp", 5)},
		},
	)
	b.pass(59 * time.Minute)
	assert.Empty(t, b.sent())
	b.pass(time.Minute)
	assert.Equal(t, []string{"lamp 5"}, b.sent())
	b.pass(7 * time.Hour)
	assert.Empty(t, b.sent(), "06:00: the sun is not up yet")
	b.pass(90 * time.Minute)
	assert.Equal(t, []string{"lamp 0"}, b.sent())
	b.pass(24 * time.Hour)
	assert.Equal(t, []string{"lamp 5", "lamp 0"}, b.sent(), "every night")
}

func TestTimesPhrasesCallsAndStartsBeginRules(t *testing.T) {
	b := newBench(t)
	b.rule(
		"time",
		rule.Rule{When: []rule.Trigger{{Kind: rule.OnTime, At: &almanac.Daily{Anchor: almanac.ByClock, Clock: "22:30"}}}, Do: []rule.Step{set("lamp", 1)}},
	)
	b.rule("phrase", rule.Rule{When: []rule.Trigger{{Kind: rule.OnPhrase, Words: "Good night"}}, Do: []rule.Step{set("lamp", 2)}})
	b.rule("call", rule.Rule{When: []rule.Trigger{{Kind: rule.OnCall, Words: "bell"}}, Do: []rule.Step{set("lamp", 3)}})
	b.rule("start", rule.Rule{When: []rule.Trigger{{Kind: rule.OnStart}}, Do: []rule.Step{set("lamp", 4)}})
	b.pass(31 * time.Minute)
	b.do(engine.Input{Kind: engine.InputPhrase, Words: "  good  NIGHT!"})
	b.do(engine.Input{Kind: engine.InputPhrase, Words: "good morning"})
	b.do(engine.Input{Kind: engine.InputCall, Words: "bell"})
	b.do(engine.Input{Kind: engine.InputStart})
	assert.Equal(t, []string{"lamp 1", "lamp 2", "lamp 3", "lamp 4"}, b.sent())
	b.pass(24 * time.Hour)
	assert.Equal(t, []string{"lamp 1"}, b.sent())
}

func TestAShutGateStopsTheRuleAndLetsGo(t *testing.T) {
	b := newBench(t)
	b.rule("r", rule.Rule{Gate: dark(), Whenever: stirring(), Do: []rule.Step{holdAt("lamp", 80)}})
	b.report("sensor", "motion", thing.Boolean(true))
	assert.Equal(t, []string{"lamp 80"}, b.sent())
	b.report("sensor", "light", thing.Number(500))
	assert.Equal(t, []string{"lamp 0"}, b.sent())
	b.report("sensor", "light", thing.Number(1))
	assert.Equal(t, []string{"lamp 80"}, b.sent(), "the condition is still true")
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

// nested is a rule that waits at every depth.
func nested() rule.Rule {
	lasting := stirring()
	lasting.ForAtLeastSeconds = 90
	return rule.Rule{When: press, Policy: rule.SideBySide, Do: []rule.Step{
		{Kind: rule.StepRepeat, Times: 3, Do: []rule.Step{
			set("lamp", 10), wait(7),
			{Kind: rule.StepIf, Condition: stirring(), Then: []rule.Step{wait(3), set("lamp", 20)}, Else: []rule.Step{set("lamp", 30)}},
			{Kind: rule.StepTogether, Branches: []rule.Branch{
				{Do: []rule.Step{wait(4), set("other", 40)}},
				{Do: []rule.Step{{Kind: rule.StepUntil, Condition: dark(), AtMostSeconds: 20, Else: []rule.Step{set("other", 50)}}}},
			}},
			{Kind: rule.StepSet, Device: "other", Property: "brightness", Value: thing.Number(60), To: thing.Number(90)},
			{Kind: rule.StepUntil, Condition: lasting, AtMostSeconds: 100},
			{Kind: rule.StepRamp, Device: "lamp", Property: "brightness", Value: thing.Number(70), ForSeconds: 12},
			{
				Kind: rule.StepThrough, Device: "other", Property: "brightness", Values: []thing.Value{thing.Number(15), thing.Number(35), thing.Number(55)},
				ToAndFro: true, GapSeconds: 2, AtMostSeconds: 9,
			},
			{Kind: rule.StepScript, Script: `set("other", "brightness", round(chance() * 40))`},
		}},
		set("lamp", 0),
	}}
}

// TestARestartAtAnyMomentChangesNothing: two homes live through the same, one of them is killed and started again
// at random moments; both send the same commands at the same times.
func TestARestartAtAnyMomentChangesNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		rules := map[string]rule.Rule{
			"r": nested(),
			"w": {Whenever: stirring(), ForAtLeastSeconds: 3, EndedForAtLeastSeconds: 2, Do: []rule.Step{holdAt("lamp", 77), wait(5), set("other", 11)}},
		}
		one, two := newBench(t), newBench(t)
		for id, r := range rules {
			one.rule(id, r)
			two.rule(id, r)
		}
		said := func(b *bench) (list []string) {
			for _, c := range b.commands {
				list = append(list, fmt.Sprintf("%s %s %g", c.Device, c.Name, c.Value.Number))
			}
			b.commands, b.followed = nil, 0
			return list
		}
		for range rapid.IntRange(1, 25).Draw(t, "acts") {
			both := func(f func(b *bench)) { f(one); f(two) }
			switch rapid.IntRange(0, 6).Draw(t, "act") {
			case 0:
				both((*bench).press)
			case 1:
				v := thing.Boolean(rapid.Bool().Draw(t, "moving"))
				both(func(b *bench) { b.report("sensor", "motion", v) })
			case 2:
				v := thing.Number(rapid.SampledFrom([]float64{1, 100}).Draw(t, "lux"))
				both(func(b *bench) { b.report("sensor", "light", v) })
			case 3:
				both((*bench).obey) // a command that is on its way at a stop is given time anew, so it fails later
				two = two.restarted(rules, 0)
			case 4:
				both((*bench).obey)
			default:
				d := time.Duration(rapid.IntRange(1, 40).Draw(t, "seconds")) * time.Second
				both(func(b *bench) { b.pass(d) })
			}
			require.Equal(t, said(one), said(two))
		}
	})
}

func TestAWaitThatIsOverdueGoesOnOrIsGivenUp(t *testing.T) {
	for _, c := range []struct {
		giveUp float64
		off    time.Duration
		want   []string
	}{
		{0, 5 * time.Minute, []string{}},
		{0, 50 * time.Minute, []string{"lamp 9"}},
		{1200, 50 * time.Minute, []string{"lamp 9"}},
		{300, 50 * time.Minute, []string{}},
	} {
		r := rule.Rule{When: press, GiveUpAfterSeconds: c.giveUp, Do: []rule.Step{wait(2400), set("lamp", 9)}}
		b := newBench(t)
		b.rule("r", r)
		b.press()
		b.pass(10 * time.Minute)
		again := b.restarted(map[string]rule.Rule{"r": r}, c.off)
		assert.Equal(t, c.want, again.sent(), "give up after %g s, off for %s", c.giveUp, c.off)
		again.pass(time.Hour)
		view, _ := again.engine.RuleView("r")
		assert.Empty(t, view.State.Frames)
		if c.off < 30*time.Minute {
			assert.Equal(t, []string{"lamp 9"}, again.sent(), "at minute 40, as if nothing had been")
		}
		if c.giveUp == 300 {
			assert.Contains(t, view.State.CutShort, "too late")
		}
	}
}

func TestWhatKeptARuleFromStartingIsSaidWithItsValue(t *testing.T) {
	b := newBench(t)
	b.rule(
		"r",
		rule.Rule{
			When:     press,
			Provided: &rule.Condition{All: []rule.Condition{*dark(), {None: []rule.Condition{*stirring()}}}},
			Do:       []rule.Step{set("lamp", 5)},
		},
	)
	last := func() (entry cause.Entry) {
		for _, e := range b.entries {
			if e.Kind == cause.NotStarted && e.ID > entry.ID {
				entry = e
			}
		}
		return entry
	}
	b.report("sensor", "light", thing.Number(30))
	b.press()
	assert.Equal(t, "light", last().Name)
	assert.Equal(t, thing.Number(30), last().Value)
	b.report("sensor", "light", thing.Number(1))
	b.report("sensor", "motion", thing.Boolean(true))
	b.press()
	assert.Equal(t, "motion", last().Name, "true where none may be")
	b.rule(
		"r",
		rule.Rule{
			When: press,
			Provided: &rule.Condition{
				Between: &rule.Window{From: almanac.Daily{Anchor: almanac.ByClock, Clock: "08:00"}, To: almanac.Daily{Anchor: almanac.ByClock, Clock: "09:00"}},
			},
			Do: []rule.Step{set("lamp", 5)},
		},
	)
	b.press()
	assert.Equal(t, "time", last().Note)
}
