package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

var (
	blue = thing.Color(0.15, 0.06)
	red  = thing.Color(0.68, 0.31)
)

// tint is a lamp that shows a white or a color, and that found at a white.
func tint(t *testing.T) *bench {
	b := newBench(t)
	b.device("tint", thing.Description{Properties: []thing.Property{
		{Name: "color", Title: "Color", Role: thing.RoleColor, Type: thing.TypeColor, Writable: true, Resolution: 0.01, Excludes: []string{"white"}},
		{
			Name:       "white",
			Title:      "Color temperature",
			Role:       thing.RoleColorTemperature,
			Type:       thing.TypeNumber,
			Unit:       thing.UnitKelvin,
			Minimum:    2200,
			Maximum:    6500,
			Resolution: 25,
			Writable:   true,
			Excludes:   []string{"color"},
		},
	}})
	b.report("tint", "white", thing.Number(2700))
	b.pass(time.Minute)
	return b
}

// shows returns which face of the lamp is in effect, by what the hub believes.
func (b *bench) shows() string {
	said := ""
	for _, name := range []string{"color", "white"} {
		s, _ := b.engine.PropertyState(thing.Ref{Device: "tint", Name: name})
		if !s.Target.IsNone() {
			said += name + " " + s.Target.String() + " " + string(s.Certainty)
		} else if !s.Reported.IsNone() || s.Certainty != state.Unknown {
			said += "a rest of " + name
		}
	}
	return said
}

func (b *bench) paint(name string, v thing.Value) []engine.Output {
	return b.yields(engine.Input{Kind: engine.InputWrite, Device: "tint", Name: name, Value: v, Doer: somebody}, engine.OutputCommand)
}

func TestAColorEndsAWhiteAndAWhiteAColor(t *testing.T) {
	b := tint(t)
	assert.Equal(t, "white 2700 confirmed", b.shows())
	assert.Len(t, b.paint("color", blue), 1)
	assert.Equal(t, "color "+blue.String()+" pending", b.shows())
	b.report("tint", "white", thing.Number(2700)) // what it was, said late
	b.report("tint", "color", blue)
	assert.Equal(t, "color "+blue.String()+" confirmed", b.shows())
	assert.Len(t, b.paint("white", thing.Number(2700)), 1, "also what it was last asked for: it does not show it now")
	b.report("tint", "white", thing.Number(2700))
	assert.Equal(t, "white 2700 confirmed", b.shows())
	assert.Equal(t, []string{"white"}, names(b), "a scene takes what is shown")
	assert.Zero(t, b.count(cause.Failed), "what was shown and is no longer did not fail")
}

func TestWhatIsOnItsWayIsGivenUpWhenAnotherIsSetThatItExcludes(t *testing.T) {
	b := tint(t)
	b.paint("color", blue)
	b.paint("white", thing.Number(4000))
	assert.Equal(t, "white 4000 pending", b.shows())
	assert.Equal(t, []string{"Something else that excludes it was set."}, b.notes(cause.Failed), "whoever waits for the color is told")
	b.report("tint", "white", thing.Number(4000))
	b.pass(time.Minute)
	assert.Equal(t, "white 4000 confirmed", b.shows())
	assert.Len(t, b.notes(cause.Failed), 1, "and told once")
}

// names are the properties of the lamp that a scene would capture.
func names(b *bench) (list []string) {
	for _, target := range b.engine.Capture([]string{"tint"}) {
		list = append(list, target.Property)
	}
	return list
}

func TestAColorThatARuleHeldGivesWayToTheWhiteBelow(t *testing.T) {
	b := tint(t)
	b.rule("alarm", rule.Rule{Whenever: &rule.Condition{Device: "sensor", Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)},
		Do: []rule.Step{{Kind: rule.StepHold, Device: "tint", Property: "color", Value: red}}})
	b.report("sensor", "motion", thing.Boolean(true))
	b.report("tint", "color", red)
	b.pass(time.Minute)
	assert.Equal(t, "color "+red.String()+" confirmed", b.shows())
	b.report("sensor", "motion", thing.Boolean(false))
	assert.Equal(t, "white 2700 pending", b.shows(), "as it was")
	b.report("tint", "white", thing.Number(2700))
	b.pass(time.Minute)

	// A hand takes the lamp with the other face: the rule waits until it has ended, and then nothing changes.
	b.report("sensor", "motion", thing.Boolean(true))
	b.report("tint", "color", red)
	b.pass(time.Minute)
	b.paint("white", thing.Number(4000))
	assert.Equal(t, "white 4000 pending", b.shows())
	b.report("tint", "white", thing.Number(4000))
	b.report("sensor", "motion", thing.Boolean(false))
	assert.Equal(t, "white 4000 confirmed", b.shows())

	// The same at the device itself, or in its maker's app.
	b.report("sensor", "motion", thing.Boolean(true))
	b.report("tint", "color", red)
	b.pass(time.Minute)
	b.report("tint", "white", thing.Number(3000))
	assert.Equal(t, "white 3000 confirmed", b.shows())
	b.report("sensor", "motion", thing.Boolean(false))
	assert.Equal(t, "white 3000 confirmed", b.shows())
}

func TestAFirmColorIsSetAgain(t *testing.T) {
	b := tint(t)
	b.rule("alarm", rule.Rule{Whenever: &rule.Condition{Device: "sensor", Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)},
		Do: []rule.Step{{Kind: rule.StepHold, Device: "tint", Property: "color", Value: red, Firm: rule.Firm}}})
	b.report("sensor", "motion", thing.Boolean(true))
	b.report("tint", "color", red)
	b.pass(time.Minute)
	assert.Empty(t, b.paint("white", thing.Number(4000)), "it waits below")
	again := b.yields(engine.Input{Kind: engine.InputReport, Device: "tint", Name: "white", Value: thing.Number(3000)}, engine.OutputCommand)
	if assert.Len(t, again, 1) {
		assert.Equal(t, "color", again[0].Name)
	}
	b.report("tint", "color", red)
	b.report("sensor", "motion", thing.Boolean(false))
	assert.Equal(t, "white 3000 pending", b.shows(), "what the hand wanted last")
}

// What is set once lies below what a rule holds, however much later it comes.
func TestAWhiteSetByARuleWaitsBelowAColorThatAnotherHolds(t *testing.T) {
	b := tint(t)
	b.rule("alarm", rule.Rule{Whenever: &rule.Condition{Device: "sensor", Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)},
		Do: []rule.Step{{Kind: rule.StepHold, Device: "tint", Property: "color", Value: red}}})
	b.rule("evening", rule.Rule{Do: []rule.Step{{Kind: rule.StepSet, Device: "tint", Property: "white", Value: thing.Number(3500)}}})
	b.rule("morning", rule.Rule{Do: []rule.Step{{Kind: rule.StepSet, Device: "tint", Property: "color", Value: blue}}})
	b.report("sensor", "motion", thing.Boolean(true))
	b.report("tint", "color", red)
	b.pass(time.Minute)
	assert.Empty(t, b.yields(engine.Input{Kind: engine.InputRun, Rule: "evening", Doer: somebody}, engine.OutputCommand))
	b.pass(time.Minute)
	assert.Equal(t, "color "+red.String()+" confirmed", b.shows())
	// Also when the color itself is looked at again.
	assert.Empty(t, b.yields(engine.Input{Kind: engine.InputRun, Rule: "morning", Doer: somebody}, engine.OutputCommand))
	assert.Equal(t, "color "+red.String()+" confirmed", b.shows())
	b.pass(time.Minute)
	assert.Empty(t, b.yields(engine.Input{Kind: engine.InputRun, Rule: "evening", Doer: somebody}, engine.OutputCommand))
	b.report("sensor", "motion", thing.Boolean(false))
	assert.Equal(t, "white 3500 pending", b.shows())
}
