package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/rule"
	"amvek/core/thing"
)

func TestAPressForWhichThereIsNoRuleSaysSo(t *testing.T) {
	b := newBench(t)
	plate := thing.Description{Events: []thing.Event{
		{Name: "one", Title: "One", Role: thing.RolePress, Options: []string{"press", "release"}}, {Name: "two", Title: "Two", Role: thing.RolePress},
	}}
	b.device("plate", plate)
	b.rule("one", rule.Rule{
		When: []rule.Trigger{{Device: "plate", Event: "one", Comparison: rule.Is, Value: thing.Text("press")}},
		Do:   []rule.Step{{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(50)}},
	})
	last := func(in engine.Input) cause.Entry {
		in.Kind, in.Device = engine.InputEvent, "plate"
		b.do(in)
		var newest cause.Entry
		for id, e := range b.entries {
			if e.Kind == cause.Happened && id > newest.ID {
				newest = e
			}
		}
		return newest
	}
	assert.Empty(t, last(engine.Input{Name: "one", Value: thing.Text("press")}).Note)
	assert.Empty(t, last(engine.Input{Name: "one", Value: thing.Text("release")}).Note, "the key has a rule")
	assert.Equal(t, cause.NoRule, last(engine.Input{Name: "two"}).Note)
	assert.Empty(t, last(engine.Input{Name: "two", Value: thing.Text("release")}).Note, "the end of a press is none")
	by := cause.By{Who: cause.Person, ID: "tove", Via: cause.ViaPage}
	assert.Equal(t, by, last(engine.Input{Name: "two", Doer: by}).By)
}

func TestAKeyThatSomebodyTriesIsNotHeardFromItsDevice(t *testing.T) {
	b := newBench(t)
	described := thermometerDescription
	described.Events = []thing.Event{{Name: "press", Title: "Press", Role: thing.RolePress}}
	b.device("quick", described)
	b.every(48*time.Hour, map[string]time.Duration{"quick": 40 * time.Second})
	press := func(by cause.By) {
		b.do(engine.Input{Kind: engine.InputEvent, Device: "quick", Name: "press", Doer: by})
	}
	b.pass(2 * time.Minute)
	press(cause.By{})
	b.pass(90 * time.Second)
	assert.False(t, b.silent("quick"), "a press is heard")
	press(somebody)
	b.pass(90 * time.Second)
	assert.True(t, b.silent("quick"))
}
