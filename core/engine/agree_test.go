package engine_test

import (
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

// agreed is a bench whose lamp, at 60 %, is under an agreement.
func agreed(t *testing.T, a home.Agreement) *bench {
	b := newBench(t)
	b.do(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindDevice,
			ID:         "lamp",
			Thing:      &home.Device{Title: "lamp", Connection: "wire", Hardware: "lamp", Agreement: &a, Description: lampDescription},
		},
	)
	b.hand("lamp", 60)
	b.obey()
	b.pass(time.Minute)
	b.commands = nil
	return b
}

func (b *bench) settle(verb string) {
	b.do(engine.Input{Kind: engine.InputAgree, Device: "lamp", Name: "brightness", Verb: verb, Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}})
}

func TestADeviceIsBelieved(t *testing.T) {
	b := agreed(t, home.Agreement{Policy: home.Believe})
	b.report("lamp", "brightness", thing.Number(10))
	assert.Empty(t, b.commands)
	assert.Equal(t, thing.Number(10), b.effective("lamp"))
}

func TestAValueIsSetAgainAndThenTold(t *testing.T) {
	b := agreed(t, home.Agreement{Policy: home.SetAgain, Tries: 2})
	for tries := 1; tries <= 2; tries++ {
		b.report("lamp", "brightness", thing.Number(10))
		require.Len(t, b.commands, tries)
		assert.Equal(t, thing.Number(60), b.commands[tries-1].Value)
		b.obey()
		b.pass(10 * time.Second)
	}
	b.report("lamp", "brightness", thing.Number(10))
	assert.Len(t, b.commands, 2, "no fight without end")
	d := b.state("lamp").Difference
	require.NotNil(t, d)
	assert.Equal(t, state.Difference{Since: b.now, Believed: thing.Number(60), Found: thing.Number(10), Cause: d.Cause, Tries: 2}, *d)
	assert.Equal(t, 3, b.count(cause.Differs))
	assert.Contains(t, b.entries[d.Cause].Note, "60 %: it was set again 2 times in vain")
	b.report("lamp", "brightness", thing.Number(10))
	assert.Equal(t, 3, b.count(cause.Differs), "an open difference is told once")

	b.settle(engine.AgreeSet)
	assert.Len(t, b.commands, 3)
	b.obey()
	assert.Nil(t, b.state("lamp").Difference)
	assert.Equal(t, thing.Number(60), b.state("lamp").Reported)
	b.pass(time.Hour)
	b.report("lamp", "brightness", thing.Number(10))
	assert.Len(t, b.commands, 4, "what was long ago does not count")
}

func TestTriesCountTogetherForTenMinutes(t *testing.T) {
	for _, c := range []struct {
		later    time.Duration
		commands int
	}{{10 * time.Minute, 1}, {10*time.Minute + time.Second, 2}} {
		b := agreed(t, home.Agreement{Policy: home.SetAgain, Tries: 1})
		b.report("lamp", "brightness", thing.Number(10))
		require.Len(t, b.commands, 1)
		b.obey()
		b.pass(c.later)
		b.report("lamp", "brightness", thing.Number(10))
		assert.Len(t, b.commands, c.commands)
	}
}

func TestTheOwnerIsAsked(t *testing.T) {
	b := agreed(t, home.Agreement{Policy: home.Ask})
	b.report("lamp", "brightness", thing.Number(10))
	assert.Empty(t, b.commands)
	assert.Equal(t, thing.Number(60), b.effective("lamp"), "nothing is decided yet")
	assert.Equal(t, thing.Number(10), b.state("lamp").Reported, "what it says is shown")
	assert.Contains(t, b.entries[b.state("lamp").Difference.Cause].Note, "60 %: the owner is asked.")
	b.report("lamp", "brightness", thing.Number(12))
	assert.Equal(t, thing.Number(12), b.state("lamp").Difference.Found, "what it is found at now")
	b.report("lamp", "brightness", thing.Number(10))
	b.settle(engine.AgreeBelieve)
	assert.Nil(t, b.state("lamp").Difference)
	assert.Equal(t, thing.Number(10), b.effective("lamp"))
	assert.Empty(t, b.commands)

	b.report("lamp", "brightness", thing.Number(30))
	require.NotNil(t, b.state("lamp").Difference)
	b.report("lamp", "brightness", thing.Number(10))
	assert.Nil(t, b.state("lamp").Difference, "it agrees again by itself")
	assert.Equal(t, 1, b.count(cause.Agrees))
	b.settle(engine.AgreeSet)
	assert.Empty(t, b.commands, "nothing is open")

	b.report("lamp", "brightness", thing.Number(30))
	b.hand("lamp", 80)
	assert.Nil(t, b.state("lamp").Difference, "who sets it has settled it")
}

func TestAWriteThatWasAcceptedAndNotDoneIsTriedAgain(t *testing.T) {
	b := agreed(t, home.Agreement{Policy: home.SetAgain, Tries: 1})
	b.hand("lamp", 0)
	b.pass(4 * time.Second)
	require.Len(t, b.commands, 2)
	assert.Equal(t, state.Pending, b.state("lamp").Certainty)
	b.pass(4 * time.Second)
	assert.Len(t, b.commands, 2)
	assert.Equal(t, state.Failed, b.state("lamp").Certainty, "never taken for done")
	assert.Contains(t, b.state("lamp").Failure, "It was asked 2 times.")
}

func TestARunWaitsUntilADeviceHasFollowed(t *testing.T) {
	b := newBench(t)
	b.rule("wait", rule.Rule{When: []rule.Trigger{{Device: "dial", Event: "press"}}, Do: []rule.Step{
		{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(60), UntilDone: true},
		{Kind: rule.StepSet, Device: "other", Property: "brightness", Value: thing.Number(40)},
	}})
	press := func() { b.do(engine.Input{Kind: engine.InputEvent, Device: "dial", Name: "press"}) }
	press()
	require.Len(t, b.commands, 1)
	b.pass(time.Second)
	b.obey()
	require.Len(t, b.commands, 2, "it has followed, so the run goes on")
	assert.Equal(t, "other", b.commands[1].Device)
	b.obey()
	b.pass(time.Minute)

	b.hand("lamp", 0)
	b.obey()
	b.pass(time.Minute)
	b.commands = nil
	press()
	b.pass(time.Minute)
	assert.Len(t, b.commands, 1, "the lamp did not follow, so the run went no further")
	assert.Equal(t, 1, b.count(cause.CutShort))
	view, _ := b.engine.RuleView("wait")
	assert.Empty(t, view.State.Frames)
	assert.Equal(t, "lamp", view.State.CutShortDevice)
	assert.Equal(t, "did not follow.", view.State.CutShort)
}

func (b *bench) effective(device string) thing.Value {
	s := b.state(device)
	return s.Stack.Effective()
}
