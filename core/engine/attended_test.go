package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
)

var kilnDescription = thing.Description{Properties: []thing.Property{
	{Name: "power", Title: "Power", Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true},
	{
		Name:       "target",
		Title:      "Target",
		Role:       thing.RoleSetpoint,
		Type:       thing.TypeNumber,
		Unit:       thing.UnitCelsius,
		Minimum:    20,
		Maximum:    1300,
		Resolution: 1,
		Writable:   true,
	},
}}

// kilned is a bench with a kiln that only a hand switches on.
func kilned(t require.TestingT) *bench {
	b := newBench(t)
	b.do(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindDevice,
			ID:         "kiln",
			Thing:      &home.Device{Title: "kiln", Connection: "wire", Hardware: "kiln", AttendedOnly: true, Description: kilnDescription},
		},
	)
	b.report("kiln", "power", thing.Boolean(false))
	b.report("kiln", "target", thing.Number(20))
	return b
}

func (b *bench) kiln() []thing.Value {
	var sent []thing.Value
	for _, c := range b.commands {
		if c.Device == "kiln" {
			sent = append(sent, c.Value)
		}
	}
	return sent
}

func (b *bench) count(kind cause.Kind) (n int) {
	for _, e := range b.entries {
		if e.Kind == kind {
			n++
		}
	}
	return n
}

func kilnOn(kind rule.StepKind, unattended bool) rule.Step {
	return rule.Step{Kind: kind, Device: "kiln", Property: "power", Value: thing.Boolean(true), Unattended: unattended}
}

func TestOnlyAHandSwitchesOnWhatIsAttendedOnly(t *testing.T) {
	b := kilned(t)
	b.rule("set", rule.Rule{When: []rule.Trigger{{Device: "dial", Event: "press"}}, Do: []rule.Step{kilnOn(rule.StepSet, false)}})
	b.rule("hold", rule.Rule{Whenever: moving(), Do: []rule.Step{kilnOn(rule.StepHold, false)}})
	b.do(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindScene,
			ID:         "all",
			SceneDoc: &light.Scene{
				Title: "All",
				Targets: []light.Target{
					{Device: "kiln", Property: "power", Value: thing.Boolean(true)},
					{Device: "lamp", Property: "brightness", Value: thing.Number(80)},
				},
			},
		},
	)
	b.do(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindSchedule,
			ID:         "daily",
			Schedule: &rule.Schedule{
				Title:   "daily",
				Enabled: true,
				At:      almanac.Daily{Anchor: almanac.ByClock, Clock: "23:00"},
				Do:      []rule.Step{kilnOn(rule.StepSet, false)},
			},
		},
	)

	b.do(engine.Input{Kind: engine.InputEvent, Device: "dial", Name: "press"})
	b.report("sensor", "motion", thing.Boolean(true))
	b.do(engine.Input{Kind: engine.InputScene, Scene: "all", Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}})
	b.do(engine.Input{Kind: engine.InputTry, Targets: []light.Target{{Device: "kiln", Property: "power", Value: thing.Boolean(true)}}})
	b.do(
		engine.Input{Kind: engine.InputWrite, Device: "kiln", Name: "power", Value: thing.Boolean(true), Doer: cause.By{Who: cause.Program, Via: cause.ViaAPI}},
	)
	b.pass(3 * time.Hour)
	assert.Empty(t, b.kiln())
	assert.Equal(t, 6, b.count(cause.Refused), "each is in the journal")
	assert.Equal(t, thing.Number(80), b.state("lamp").Target, "the scene did the rest")

	b.do(
		engine.Input{Kind: engine.InputWrite, Device: "kiln", Name: "power", Value: thing.Boolean(true), Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}},
	)
	assert.Equal(t, []thing.Value{thing.Boolean(true)}, b.kiln())
	b.report("kiln", "power", thing.Boolean(true))
	b.report("sensor", "motion", thing.Boolean(false))
	assert.Len(t, b.kiln(), 1, "what a rule could not hold it does not let go of either")
	b.rule(
		"off",
		rule.Rule{
			When: []rule.Trigger{{Device: "dial", Event: "turn"}},
			Do:   []rule.Step{{Kind: rule.StepSet, Device: "kiln", Property: "power", Value: thing.Boolean(false)}},
		},
	)
	b.do(engine.Input{Kind: engine.InputEvent, Device: "dial", Name: "turn", Value: thing.Number(1)})
	assert.Equal(t, thing.Boolean(false), b.kiln()[1], "off is for everybody")
}

func TestAStepThatIsAllowedSwitchesOnWhatIsAttendedOnly(t *testing.T) {
	for _, kind := range []rule.StepKind{rule.StepSet, rule.StepHold} {
		b := kilned(t)
		b.rule("allowed", rule.Rule{Whenever: moving(), Do: []rule.Step{kilnOn(kind, true)}})
		b.report("sensor", "motion", thing.Boolean(true))
		assert.Equal(t, []thing.Value{thing.Boolean(true)}, b.kiln(), kind)
		assert.Zero(t, b.count(cause.Refused))
	}
}

func TestWhatCouldNotBeDeliveredIsNotSwitchedOnLater(t *testing.T) {
	b := kilned(t)
	b.do(
		engine.Input{Kind: engine.InputWrite, Device: "kiln", Name: "power", Value: thing.Boolean(true), Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}},
	)
	b.do(
		engine.Input{
			Kind:      engine.InputOutcome,
			Device:    "kiln",
			Name:      "power",
			Command:   b.commands[len(b.commands)-1].Command,
			Unreached: true,
			Reason:    "no way",
		},
	)
	b.pass(5 * time.Hour)
	b.do(engine.Input{Kind: engine.InputConnection, Connection: "wire", Up: true})
	assert.Len(t, b.kiln(), 1, "hours later nobody may be there any more")
	assert.Equal(t, 1, b.count(cause.Refused))
}

func TestAnEndedHoldDoesNotBringTheKilnBack(t *testing.T) {
	b := kilned(t)
	b.do(
		engine.Input{Kind: engine.InputWrite, Device: "kiln", Name: "power", Value: thing.Boolean(true), Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}},
	)
	b.report("kiln", "power", thing.Boolean(true))
	b.rule("safe", rule.Rule{Whenever: moving(), Do: []rule.Step{{Kind: rule.StepHold, Device: "kiln", Property: "power", Value: thing.Boolean(false)}}})
	b.report("sensor", "motion", thing.Boolean(true))
	b.report("kiln", "power", thing.Boolean(false))
	b.report("sensor", "motion", thing.Boolean(false))
	assert.Equal(t, []thing.Value{thing.Boolean(true), thing.Boolean(false)}, b.kiln())
}

// Whatever happens in whatever order: a command that sets the kiln going comes straight from a hand at it.
func TestEveryStartOfTheKilnBeginsAtAHand(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := kilned(t)
		names := []string{"power", "target"}
		values := map[string][]thing.Value{
			"power":  {thing.Boolean(false), thing.Boolean(true)},
			"target": {thing.Number(20), thing.Number(600), thing.Number(1100)},
		}
		draw := func() (string, thing.Value) {
			name := rapid.SampledFrom(names).Draw(t, "property")
			return name, rapid.SampledFrom(values[name]).Draw(t, "value")
		}
		for i, kind := range []rule.StepKind{rule.StepHold, rule.StepSet} {
			name, value := draw()
			b.rule(
				string(kind),
				rule.Rule{
					Whenever:               moving(),
					EndedForAtLeastSeconds: float64(i * 20),
					Do:                     []rule.Step{{Kind: kind, Device: "kiln", Property: name, Value: value}},
				},
			)
		}
		name, value := draw()
		b.do(
			engine.Input{
				Kind:       engine.InputDefine,
				Definition: engine.KindScene,
				ID:         "scene",
				SceneDoc:   &light.Scene{Title: "Scene", Targets: []light.Target{{Device: "kiln", Property: name, Value: value}}},
			},
		)
		from := len(b.commands)
		for range rapid.IntRange(1, 40).Draw(t, "length") {
			name, value := draw()
			switch rapid.IntRange(0, 7).Draw(t, "what") {
			case 0:
				b.report("sensor", "motion", thing.Boolean(rapid.Bool().Draw(t, "motion")))
			case 1:
				b.do(engine.Input{Kind: engine.InputScene, Scene: "scene", Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}})
			case 2:
				b.report("kiln", name, value)
			case 3:
				b.do(engine.Input{Kind: engine.InputWrite, Device: "kiln", Name: name, Value: value, Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}})
			case 4:
				b.do(
					engine.Input{
						Kind:   engine.InputKeep,
						Device: "kiln",
						Name:   name,
						Value:  value,
						Doer:   cause.By{Who: cause.Person, Via: cause.ViaPage},
						Until:  b.now.Add(30 * time.Second),
					},
				)
			case 5:
				b.do(engine.Input{Kind: engine.InputLetGo, Device: "kiln", Name: name, Owner: engine.HandOwner})
			case 6:
				if len(b.commands) > from {
					last := b.commands[len(b.commands)-1]
					b.do(
						engine.Input{Kind: engine.InputOutcome, Device: last.Device, Name: last.Name, Command: last.Command, Unreached: true, Reason: "no way"},
					)
				}
				b.do(engine.Input{Kind: engine.InputConnection, Connection: "wire", Up: true})
			case 7:
				b.pass(time.Duration(rapid.IntRange(0, 40).Draw(t, "seconds")) * time.Second)
			}
			for ; from < len(b.commands); from++ {
				c := b.commands[from]
				if c.Device != "kiln" || c.Value == kilnDescription.Property(c.Name).Rest() {
					continue
				}
				began := b.chain(c.Cause)
				if kind := began[len(began)-1]; kind == cause.Written || kind == cause.Kept || kind == cause.LetGo {
					continue
				}
				// Automation may still lower what runs.
				state, _ := b.engine.PropertyState(thing.Ref{Device: "kiln", Name: c.Name})
				if !kilnDescription.Property(c.Name).Starts(state.Before, c.Value) {
					continue
				}
				t.Fatalf("%v of the kiln's %s began with %v", c.Value, c.Name, began)
			}
		}
	})
}

func TestWhatOnlyStopsOrShowsADeviceSetsNothingGoing(t *testing.T) {
	b := newBench(t)
	actions := []thing.Action{
		{Name: "start", Title: "Start"}, {Name: "stop", Title: "Stop", Role: thing.RoleStop}, {Name: "blink", Title: "Show itself", Role: thing.RoleIdentify},
	}
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "saw", Thing: &home.Device{
		Title: "Saw", Connection: "wire", Hardware: "saw", AttendedOnly: true, Description: thing.Description{Actions: actions},
	}})
	for name, free := range map[string]bool{"start": false, "stop": true, "blink": true, "gone": true} {
		program := engine.Input{Kind: engine.InputInvoke, Device: "saw", Name: name, Doer: cause.By{Who: cause.Program, Via: cause.ViaPage}}
		assert.Equal(t, free, b.engine.Forbids(&program) == "", name)
		person := engine.Input{Kind: engine.InputInvoke, Device: "saw", Name: name, Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}}
		assert.Empty(t, b.engine.Forbids(&person), name)
	}
}
