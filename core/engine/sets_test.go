package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/thing"
)

// place puts a device into a room, with labels.
func (b *bench) place(id, room string, d thing.Description, labels ...string) {
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: id, Thing: &home.Device{
		Title: id, Room: room, Labels: labels, Connection: "wire", Hardware: id, Description: d,
	}})
}

func (b *bench) room(id, floor string) {
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRoom, ID: id, Room: &home.Room{Title: id, Floor: floor}})
}

// twoRooms has a lamp in the hall and one in the attic, each on a floor of its own.
func twoRooms(t *testing.T) *bench {
	b := newBench(t)
	b.room("hall", "Ground")
	b.room("attic", "Upstairs")
	b.place("lamp", "hall", lampDescription, "evening")
	b.place("other", "attic", lampDescription)
	b.place("sensor", "hall", sensorDescription)
	return b
}

func TestARoomAFloorOrALabelStandsWhereADeviceMay(t *testing.T) {
	for set, lit := range map[string][]string{"hall": {"lamp 40"}, "floor:Upstairs": {"other 40"}, "label:evening": {"lamp 40"}} {
		b := twoRooms(t)
		b.rule("r", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepSet, Group: set, Property: "brightness", Value: thing.Number(40)}}})
		b.do(dialed())
		assert.Equal(t, lit, b.sent(), set)
		view, _ := b.engine.RuleView("r")
		assert.Empty(t, view.Problems)
	}
	b := twoRooms(t)
	for _, set := range []string{"cellar", "floor:Cellar", "label:morning"} {
		b.rule("r", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepSet, Group: set, Property: "brightness", Value: thing.Number(40)}}})
		view, _ := b.engine.RuleView("r")
		assert.NotEmpty(t, view.Problems, set)
	}
}

// In a room there are also devices that nobody put together: brightness is of what dims, on and off of all.
func TestInARoomBrightnessIsOfWhatDims(t *testing.T) {
	b := twoRooms(t)
	b.place(
		"kettle",
		"hall",
		thing.Description{Properties: []thing.Property{{Name: "on", Title: "Power", Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true}}},
	)
	b.report("kettle", "on", thing.Boolean(false))
	b.rule(
		"r",
		rule.Rule{
			When:     press,
			Provided: &rule.Condition{Group: "hall", Which: rule.AllOf, Property: "brightness", Comparison: rule.Below, Value: thing.Number(10)},
			Do: []rule.Step{
				{Kind: rule.StepSet, Group: "hall", Property: "brightness", Value: thing.Number(40)},
				{Kind: rule.StepSet, Group: "hall", Property: "power", Value: thing.Boolean(true)},
			},
		},
	)
	view, _ := b.engine.RuleView("r")
	assert.Empty(t, view.Problems)
	b.do(dialed())
	assert.Equal(t, []string{"lamp 40", "kettle 1", "lamp 100"}, b.sent())
}

func TestARuleAboutAFloorFollowsWhatComesAndGoes(t *testing.T) {
	b := twoRooms(t)
	b.rule(
		"r",
		rule.Rule{Whenever: &rule.Condition{Group: "floor:Upstairs", Which: rule.AnyOf, Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)},
			Do: []rule.Step{{Kind: rule.StepHold, Group: "label:evening", Property: "brightness", Value: thing.Number(70)}}},
	)
	problems := func() int {
		view, _ := b.engine.RuleView("r")
		return len(view.Problems)
	}
	assert.Equal(t, 1, problems(), "nothing upstairs sees motion")
	b.place("sensor", "attic", sensorDescription)
	assert.Zero(t, problems())
	b.report("sensor", "motion", thing.Boolean(true))
	assert.Equal(t, []string{"lamp 70"}, b.sent())
	b.room("attic", "Roof") // the floor is called otherwise: nothing is upstairs any more
	assert.Equal(t, 1, problems())
	assert.Equal(t, []string{"lamp 0"}, b.sent(), "it lets go")
	b.room("hall", "Upstairs")
	assert.Equal(t, 1, problems())
	b.place("sensor", "hall", sensorDescription)
	assert.Zero(t, problems())
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRoom, ID: "hall"})
	assert.Equal(t, 1, problems(), "the room is gone, and its floor with it")
}

func TestAnyDeviceOfASetStartsARule(t *testing.T) {
	b := twoRooms(t)
	b.rule(
		"r",
		rule.Rule{
			When: []rule.Trigger{
				{Group: "floor:Ground", Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)},
				{Group: "label:keys", Event: "press"},
				{Kind: rule.OnSilent, Group: "hall"},
			},
			Do: []rule.Step{{Kind: rule.StepSet, Device: "lamp", Property: "brightness", By: true, Value: thing.Number(1)}},
		},
	)
	runs := func() int {
		view, _ := b.engine.RuleView("r")
		return view.State.Runs
	}
	assert.Zero(t, runs())
	b.place("dial", "hall", dialDescription, "keys")
	view, _ := b.engine.RuleView("r")
	assert.Empty(t, view.Problems)
	b.report("sensor", "motion", thing.Boolean(true))
	assert.Equal(t, 1, runs())
	b.do(dialed())
	assert.Equal(t, 2, runs())
}

// Each device of a set stays so for a time of its own.
func TestOneOfASetThatStaysSoStartsARule(t *testing.T) {
	b := twoRooms(t)
	b.rule(
		"r",
		rule.Rule{
			When: []rule.Trigger{{Group: "label:both", Property: "brightness", Comparison: rule.Above, Value: thing.Number(10), ForSeconds: 60}},
			Do:   []rule.Step{set("lamp", 1)},
		},
	)
	b.place("lamp", "hall", lampDescription, "both")
	b.place("other", "attic", lampDescription, "both")
	runs := func() int {
		view, _ := b.engine.RuleView("r")
		return view.State.Runs
	}
	b.report("other", "brightness", thing.Number(50))
	b.pass(40 * time.Second)
	b.report("lamp", "brightness", thing.Number(50))
	b.report("other", "brightness", thing.Number(0))
	b.pass(40 * time.Second)
	assert.Zero(t, runs(), "neither stayed so for a minute")
	b.pass(30 * time.Second)
	assert.Equal(t, 1, runs())
}

func TestAnEventOfACalendarIsACondition(t *testing.T) {
	b := newBench(t)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindCalendar, ID: "diary"})
	b.rule("r", rule.Rule{Whenever: &rule.Condition{Event: &rule.EventNow{Calendar: "diary", Words: "guests"}}, Do: []rule.Step{holdAt("lamp", 30)}})
	b.rule("w", rule.Rule{Whenever: &rule.Condition{Event: &rule.EventNow{Calendar: "diary", WholeDays: true}}, Do: []rule.Step{holdAt("other", 20)}})
	day := b.entry("Holiday", -time.Hour, 24*time.Hour)
	day.Days = true
	b.calendar(b.entry("Our guests", time.Hour, time.Hour), b.entry("Dentist", 0, 3*time.Hour))
	b.pass(59 * time.Minute)
	assert.Empty(t, b.sent())
	b.pass(2 * time.Minute)
	assert.Equal(t, []string{"lamp 30"}, b.sent())
	b.calendar(b.entry("Our guests", time.Hour, time.Hour), day) // put off, and a whole day
	assert.Equal(t, []string{"lamp 0", "other 20"}, b.sent())
	b.pass(24 * time.Hour)
	assert.Equal(t, []string{"lamp 30", "lamp 0", "other 0"}, b.sent())
}

func TestFormulasGiveDurationsAndWhatIsComparedWith(t *testing.T) {
	b := newBench(t)
	b.wish()
	b.report("own", "wish", thing.Number(20))
	double := rule.Formulas{"forSeconds": `variable("wish") * 2`}
	b.rule(
		"hold",
		rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepHold, Device: "lamp", Property: "brightness", Value: thing.Number(60), Formulas: double}}},
	)
	b.rule(
		"dark",
		rule.Rule{
			Whenever: &rule.Condition{
				Device:     "sensor",
				Property:   "light",
				Comparison: rule.Below,
				Formulas:   rule.Formulas{"value": `variable("wish")`, "forAtLeastSeconds": `variable("wish") / 2`},
			},
			Do: []rule.Step{holdAt("other", 5)},
		},
	)
	b.rule(
		"rises",
		rule.Rule{
			When: []rule.Trigger{{Device: "sensor", Property: "light", Comparison: rule.Above, Formulas: rule.Formulas{"value": `variable("wish") + 30`}}},
			Do:   []rule.Step{set("lamp", 99)},
		},
	)
	for _, id := range []string{"hold", "dark", "rises"} {
		view, _ := b.engine.RuleView(id)
		assert.Empty(t, view.Problems, id)
	}
	b.do(dialed())
	assert.Equal(t, []string{"lamp 60"}, b.sent())
	b.pass(11 * time.Second)
	assert.Equal(t, []string{"other 5"}, b.sent(), "3 lx are below 20, for 10 s")
	b.pass(28 * time.Second)
	assert.Empty(t, b.sent())
	b.pass(2 * time.Second)
	assert.Equal(t, []string{"lamp 0"}, b.sent(), "after 40 s")
	b.report("own", "wish", thing.Number(2))
	assert.Equal(t, []string{"other 0"}, b.sent(), "what it is compared with changed")
	b.report("sensor", "light", thing.Number(31))
	assert.Empty(t, b.sent(), "not above 32")
	b.report("sensor", "light", thing.Number(33))
	assert.Equal(t, []string{"lamp 99"}, b.sent())

	hold := func(seconds float64, formulas rule.Formulas) rule.Rule {
		return rule.Rule{When: press, Do: []rule.Step{{
			Kind: rule.StepHold, Device: "lamp", Property: "brightness", Value: thing.Number(60), ForSeconds: seconds, Formulas: formulas,
		}}}
	}
	below := func(value thing.Value, formulas rule.Formulas) rule.Rule {
		return rule.Rule{
			Whenever: &rule.Condition{Device: "sensor", Property: "light", Comparison: rule.Below, Value: value, Formulas: formulas},
			Do:       []rule.Step{set("lamp", 1)},
		}
	}
	for path, wrong := range map[string]rule.Rule{
		"do/0/formulas/forSeconds":            hold(0, rule.Formulas{"forSeconds": `"long"`}),
		"do/0/formulas/atMostSeconds":         hold(1, rule.Formulas{"atMostSeconds": "1"}),
		"whenever/formulas/value":             below(thing.Value{}, rule.Formulas{"value": `1) || (true`}),
		"whenever/formulas/forAtLeastSeconds": below(thing.Number(1), rule.Formulas{"forAtLeastSeconds": "nothing"}),
	} {
		b.rule("wrong", wrong)
		view, _ := b.engine.RuleView("wrong")
		if assert.NotEmpty(t, view.Problems, path) {
			assert.Equal(t, path, view.Problems[0].Path)
		}
	}
	// Where it is not known, what is fixed counts; without that nothing is held for ever.
	b.rule(
		"hold",
		rule.Rule{
			When: press,
			Do: []rule.Step{
				{
					Kind:     rule.StepHold,
					Device:   "lamp",
					Property: "brightness",
					Value:    thing.Number(60),
					Formulas: rule.Formulas{"forSeconds": `1 / (variable("wish") - 2)`},
				},
			},
		},
	)
	b.sent()
	b.do(dialed())
	assert.Empty(t, b.sent())
}
