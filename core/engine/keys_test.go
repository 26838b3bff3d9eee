package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
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

// keyBench has a plate with a key that sends only downs and ups, one that sends presses, and one whose presses carry nothing.
func keyBench(t *testing.T) (b *bench, send func(key, sent string), given func() []string) {
	b = newBench(t)
	b.device("plate", thing.Description{Events: []thing.Event{
		{Name: "raw", Title: "Raw", Role: thing.RolePress, Options: []string{"down", "up"}},
		{Name: "pressed", Title: "Pressed", Role: thing.RolePress, Options: []string{"press", "hold", "release"}},
		{Name: "bare", Title: "Bare", Role: thing.RolePress},
	}})
	send = func(key, sent string) {
		in := engine.Input{Kind: engine.InputEvent, Device: "plate", Name: key}
		if sent != "" {
			in.Value = thing.Text(sent)
		}
		b.do(in)
	}
	seen := cause.ID(0)
	given = func() []string {
		var all []string
		newest := seen
		for id := seen + 1; int(id) <= len(b.entries)+int(seen)+1000; id++ {
			e, there := b.entries[id]
			if !there {
				continue
			}
			newest = id
			switch e.Kind {
			case cause.Happened:
				all = append(all, e.Value.Text)
			case cause.Ran:
				all = append(all, "→"+e.Rule)
			}
		}
		seen = newest
		return all
	}
	return b, send, given
}

func onKey(key, gesture string) rule.Rule {
	when := rule.Trigger{Device: "plate", Event: key}
	if gesture != "" {
		when.Comparison, when.Value = rule.Is, thing.Text(gesture)
	}
	return rule.Rule{
		When: []rule.Trigger{when},
		Do:   []rule.Step{{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(50)}},
	}
}

func TestGesturesThatAKeyDoesNotSendAreMade(t *testing.T) {
	b, send, given := keyBench(t)
	b.rule("one", onKey("raw", "press"))
	given()
	send("raw", "down")
	assert.Equal(t, []string{"press", "→one"}, given(), "nothing else means anything here, so nothing is waited for")
	send("raw", "up")
	assert.Empty(t, given())

	b.rule("two", onKey("raw", "double"))
	b.rule("held", onKey("raw", "hold"))
	b.rule("let go", onKey("raw", "release"))
	given()
	send("raw", "down")
	b.pass(100 * time.Millisecond)
	send("raw", "up")
	assert.Empty(t, given())
	b.pass(399 * time.Millisecond)
	assert.Empty(t, given())
	b.pass(time.Millisecond)
	assert.Equal(t, []string{"press", "→one"}, given())
	for range 2 {
		send("raw", "down")
		send("raw", "up")
	}
	assert.Equal(t, []string{"double", "→two"}, given())
	send("raw", "down")
	b.pass(500 * time.Millisecond)
	assert.Equal(t, []string{"hold", "→held"}, given())
	send("raw", "up")
	assert.Equal(t, []string{"release", "→let go"}, given())
}

func TestAPressWaitsOnlyWhereAnotherMayFollow(t *testing.T) {
	b, send, given := keyBench(t)
	b.rule("one", onKey("pressed", "press"))
	b.rule("bare", onKey("bare", ""))
	given()
	send("pressed", "press")
	send("bare", "")
	assert.Equal(t, []string{"press", "→one", "", "→bare"}, given())

	b.rule("two", onKey("pressed", "double"))
	b.rule("three", onKey("bare", "triple"))
	given()
	send("pressed", "press")
	b.pass(time.Millisecond)
	send("bare", "")
	assert.Empty(t, given())
	b.pass(400 * time.Millisecond)
	assert.Equal(t, []string{"press", "→one", "press", "→bare"}, given(), "a rule for the bare key means one press")
	send("bare", "")
	send("bare", "")
	send("bare", "")
	assert.Equal(t, []string{"triple", "→three"}, given())
	send("pressed", "press")
	send("pressed", "hold")
	assert.Equal(t, []string{"press", "→one", "hold"}, given(), "what the key sends itself completes what was before")
}

func TestGesturesGoByTheTimesOfTheirDeviceHoweverTheClockIsSet(t *testing.T) {
	b, send, given := keyBench(t)
	b.rule("two", onKey("raw", "double"))
	b.rule("held", onKey("raw", "hold"))
	plate := home.Device{Title: "plate", Connection: "wire", Hardware: "plate", Description: thing.Description{Events: []thing.Event{
		{Name: "raw", Title: "Raw", Role: thing.RolePress, Options: []string{"down", "up"}},
	}}}
	plate.Keys = &home.KeyTiming{Within: 1000, Hold: 2000, Limit: 5000}
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "plate", Thing: &plate})
	given()
	send("raw", "down")
	b.now = b.now.Add(-time.Hour)
	b.do(engine.Input{Kind: engine.InputClock, By: -time.Hour})
	b.pass(1999 * time.Millisecond)
	assert.Empty(t, given())
	b.pass(time.Millisecond)
	assert.Equal(t, []string{"hold", "→held"}, given())
	b.pass(5 * time.Second)
	assert.Equal(t, []string{"release"}, given(), "it was never said that it was released")
}

func TestSomebodyTriesAGestureThatAKeyDoesNotSend(t *testing.T) {
	b, _, given := keyBench(t)
	b.rule("two", onKey("raw", "double"))
	given()
	b.do(engine.Input{Kind: engine.InputEvent, Device: "plate", Name: "raw", Value: thing.Text("double"), Doer: somebody})
	assert.Equal(t, []string{"double", "→two"}, given())
}
