package trial_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/thing"
	"amvek/core/trial"
)

var begun = time.Date(2026, 5, 4, 9, 0, 0, 0, time.UTC)

// tried is a shutter's module at trial.
type tried struct {
	trial  trial.Trial
	now    time.Time
	values map[string]thing.Value
	since  map[string]time.Time
	travel bool
}

var module = thing.Description{
	Properties: []thing.Property{
		{
			Name:       "position",
			Title:      "Position",
			Type:       thing.TypeNumber,
			Unit:       "%",
			Maximum:    100,
			Resolution: 1,
			Writable:   true,
			Only:       &thing.Only{Name: "kind", Value: "shutter"},
			Cover:      &thing.Cover{Up: "one", Down: "two", Reversed: "reversed"},
		},
		{Name: "one", Title: "Output 1", Type: thing.TypeBoolean, Writable: true, Only: &thing.Only{Name: "kind", Value: "twin"}},
		{Name: "two", Title: "Output 2", Type: thing.TypeBoolean, Writable: true, Only: &thing.Only{Name: "kind", Value: "twin"}},
		{Name: "watts", Title: "Power", Type: thing.TypeNumber, Unit: "W"},
		{Name: "contact", Title: "Contact", Type: thing.TypeBoolean},
		{
			Name:     "kind",
			Title:    "Kind",
			Type:     thing.TypeOption,
			Options:  []string{"shutter", "twin"},
			Writable: true,
			Setting:  &thing.Setting{Wrong: "x", Meanings: map[string]string{"shutter": "one motor"}},
		},
		{Name: "style", Title: "Style", Type: thing.TypeOption, Options: []string{"push", "latch"}, Writable: true, Setting: &thing.Setting{Wrong: "x"}},
		{Name: "reversed", Title: "Reversed", Type: thing.TypeBoolean, Writable: true, Setting: &thing.Setting{Wrong: "x"}},
	},
	Events: []thing.Event{{Name: "pressed", Title: "Pressed"}},
}

func begin() *tried {
	return &tried{
		trial: trial.Trial{Began: begun}, now: begun, since: map[string]time.Time{},
		values: map[string]thing.Value{"kind": thing.Text("twin"), "style": thing.Text("latch"), "reversed": thing.Boolean(false)},
	}
}

func (x *tried) set(name string, v thing.Value) {
	x.now = x.now.Add(time.Second)
	x.values[name], x.since[name] = v, x.now
}

func (x *tried) see(kind trial.Kind, name string, v thing.Value, after time.Duration) {
	x.now = x.now.Add(after)
	x.trial.Observe(trial.Observation{At: x.now, Kind: kind, Name: name, Value: v, Note: "It did not answer."})
}

func (x *tried) answer(step, value string) {
	x.now = x.now.Add(time.Second)
	if x.trial.Answers == nil {
		x.trial.Answers = map[string]trial.Answer{}
	}
	x.trial.Answers[step] = trial.Answer{At: x.now, Value: value}
}

func (x *tried) step(t *testing.T, id string) trial.TrialStep {
	t.Helper()
	for _, s := range x.trial.Steps(trial.Now{
		Description: &module,
		Value:       func(name string) (thing.Value, time.Time) { return x.values[name], x.since[name] },
		Counts: func(name string) bool {
			only := module.Property(name).Only
			return only == nil || x.values[only.Name] == thing.Text(only.Value)
		},
		Travel: func(string) bool { return x.travel },
	}) {
		if s.ID == id {
			return s
		}
	}
	require.Fail(t, "there is no step "+id)
	return trial.TrialStep{}
}

// run is a press at the wall that runs an output for a while.
func (x *tried) run(output string, lasts time.Duration) {
	x.see(trial.ByHand, output, thing.Boolean(true), time.Second)
	x.see(trial.ByHand, output, thing.Boolean(false), lasts)
}

func TestTheClassicMistakesAreToldApart(t *testing.T) {
	x := begin()
	assert.Equal(t, trial.Open, x.step(t, "control").State)
	assert.Equal(t, trial.Open, x.step(t, "reached").State)
	x.see(trial.Failed, "one", thing.Boolean(true), time.Second)
	assert.Equal(t, trial.Broken, x.step(t, "reached").State, "not reached")
	assert.Equal(t, []string{"kind", "style", "reversed"}, x.step(t, "hub:one").Look)

	x.run("one", 150*time.Millisecond)
	assert.Equal(t, trial.Proved, x.step(t, "control").State)
	assert.Equal(t, trial.Proved, x.step(t, "reached").State)

	kind := x.step(t, "kind")
	assert.Equal(t, trial.Open, kind.State)
	assert.Equal(t, []trial.Choice{{Value: "shutter", Title: "one motor"}, {Value: "twin", Title: "twin"}}, kind.Choices)
	x.answer("kind", "shutter")
	assert.Equal(t, []string{"kind"}, x.step(t, "kind").Look)
	x.set("kind", thing.Text("shutter"))
	assert.Equal(t, trial.Proved, x.step(t, "kind").State)

	style := x.step(t, "style")
	assert.Equal(t, trial.Broken, style.State)
	assert.Equal(t, []string{"style"}, style.Look)
	x.set("style", thing.Text("push"))
	assert.Equal(t, trial.Open, x.step(t, "style").State, "what was seen before the change proves nothing")
	x.run("one", 4*time.Second)
	assert.Equal(t, trial.Proved, x.step(t, "style").State)

	x.answer("direction", "down")
	assert.Equal(t, []string{"reversed"}, x.step(t, "direction").Look)
	x.set("reversed", thing.Boolean(true))
	assert.Equal(t, trial.Open, x.step(t, "direction").State)
	x.run("two", 4*time.Second)
	x.answer("direction", "up")
	assert.Equal(t, trial.Proved, x.step(t, "direction").State)

	assert.Equal(t, trial.Open, x.step(t, "travel").State)
	x.travel = true
	assert.Equal(t, trial.Proved, x.step(t, "travel").State)
	x.see(trial.Confirmed, "position", thing.Number(40), time.Second)
	assert.Equal(t, "It confirmed 40 %.", x.step(t, "hub:position").Evidence)
	x.see(trial.Reported, "watts", thing.Number(140), time.Second)
	assert.Equal(t, trial.Proved, x.step(t, "reads:watts").State)
}

func TestASwitchThatStaysIsForWhoWatchesToJudge(t *testing.T) {
	x := begin()
	x.set("kind", thing.Text("shutter"))
	x.run("one", 6*time.Second)
	style := x.step(t, "style")
	assert.Equal(t, trial.Open, style.State)
	require.NotEmpty(t, style.Question)
	x.answer("style", "yes")
	assert.Equal(t, trial.Proved, x.step(t, "style").State)
	x.answer("style", "no")
	assert.Equal(t, []string{"style"}, x.step(t, "style").Look)
}

func TestWhatGivesNoAnswerIsSeen(t *testing.T) {
	x := begin()
	x.see(trial.Assumed, "one", thing.Boolean(true), time.Second)
	s := x.step(t, "hub:one")
	assert.Equal(t, trial.Open, s.State)
	require.Len(t, s.Choices, 2)
	x.answer("hub:one", "yes")
	assert.Equal(t, trial.Proved, x.step(t, "hub:one").State)
	x.answer("hub:one", "no")
	assert.Equal(t, trial.Broken, x.step(t, "hub:one").State)
}

func TestALongTrialForgetsItsBeginning(t *testing.T) {
	x := begin()
	for range 1000 {
		x.see(trial.Reported, "watts", thing.Number(1), time.Second)
	}
	assert.Len(t, x.trial.Observed, 300)
}

func TestWhatCountsAsOperatedByHand(t *testing.T) {
	for _, c := range []struct {
		what     string
		kind     trial.Kind
		name     string
		value    thing.Value
		evidence string // of what proves it; empty where it proves nothing
	}{
		{"an event", trial.Happened, "pressed", thing.Value{}, "Pressed"},
		{"an event that its description does not name", trial.Happened, "twisted", thing.Value{}, "twisted"},
		{"a value set at itself", trial.ByHand, "one", thing.Boolean(true), "Output 1: yes"},
		{"something set at itself that its description does not name", trial.ByHand, "lid", thing.Boolean(true), "lid"},
		{"a setting changed at itself", trial.ByHand, "style", thing.Text("push"), ""},
		{"a contact that it reports", trial.Reported, "contact", thing.Boolean(true), "Contact: yes"},
		{"a number that it reports", trial.Reported, "watts", thing.Number(3), ""},
		{"a value that can be set, reported", trial.Reported, "one", thing.Boolean(true), ""},
		{"a report of what its description does not name", trial.Reported, "lid", thing.Boolean(true), ""},
		{"a confirmation", trial.Confirmed, "one", thing.Boolean(true), ""},
	} {
		t.Run(c.what, func(t *testing.T) {
			x := begin()
			x.see(c.kind, c.name, c.value, time.Second)
			step := x.step(t, "control")
			assert.Equal(t, c.evidence != "", step.State == trial.Proved)
			assert.Equal(t, c.evidence, step.Evidence)
		})
	}
	assert.Contains(t, begin().step(t, "control").How, "the shutter moves")
	plain := thing.Description{Properties: module.Properties[1:2]}
	steps := (&trial.Trial{}).Steps(trial.Now{
		Description: &plain,
		Value:       func(string) (thing.Value, time.Time) { return thing.Value{}, time.Time{} },
		Counts:      func(string) bool { return true },
	})
	assert.Contains(t, steps[0].How, "Operate it at itself")
}
