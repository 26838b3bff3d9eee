package engine_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

func TestAThousandRulesWakeInTheSameSecondAndEachDoesItsPart(t *testing.T) {
	b := newBench(t)
	const rules = 1000
	for i := range rules {
		device := fmt.Sprintf("lamp-%d", i)
		b.device(device, lampDescription)
		b.rule(fmt.Sprintf("rule-%d", i), rule.Rule{When: press, Do: []rule.Step{wait(60), set(device, 40)}})
	}
	b.press()
	assert.Empty(t, b.sent())
	b.pass(59 * time.Second)
	assert.Empty(t, b.sent())
	b.pass(time.Second)
	sent := b.sent()
	assert.Equal(t, rules, len(sent))
	seen := map[string]bool{}
	for _, s := range sent {
		seen[s] = true
	}
	assert.Equal(t, rules, len(seen), "each its own lamp, once")
	for i := range rules {
		view, _ := b.engine.RuleView(fmt.Sprintf("rule-%d", i))
		require.Empty(t, view.State.Frames)
		require.Empty(t, view.State.Stopped)
	}
}

func TestAProfileThatChangesWhileAPropertyIsHeldKeepsTheHold(t *testing.T) {
	b := newBench(t)
	b.report("lamp", "brightness", thing.Number(7))
	b.rule("stairs", rule.Rule{Whenever: moving(), Do: []rule.Step{holdAt("lamp", 60)}})
	b.report("sensor", "motion", thing.Boolean(true))
	b.sent()
	b.obey()
	changed := lampDescription
	changed.Properties = append([]thing.Property{}, lampDescription.Properties...)
	changed.Properties = append(changed.Properties, thing.Property{Name: "power", Title: "Power", Type: thing.TypeBoolean, Writable: true})
	b.device("lamp", changed)
	effective := func() thing.Value {
		stack := b.state("lamp").Stack
		return stack.Effective()
	}
	assert.Equal(t, state.Holding, b.phase("stairs"))
	assert.Equal(t, thing.Number(60), effective())
	b.report("sensor", "motion", thing.Boolean(false))
	assert.Equal(t, thing.Number(7), effective(), "what was below shows through")
}
