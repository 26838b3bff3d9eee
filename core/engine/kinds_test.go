package engine

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"amvek/core/rule"
)

// A kind of step or trigger that the model knows and the engine does not would do nothing, silently.
func TestTheEngineKnowsEachKindOfStepAndTrigger(t *testing.T) {
	e := New(1, 1)
	for _, kind := range rule.StepKinds() {
		taker := stepTakers[kind]
		assert.True(t, taker.run != nil || taker.plain != nil, "the engine does nothing for a step of kind %s", kind)
		problems := (&rule.Schedule{Title: "x", Do: []rule.Step{{Kind: kind}}}).Check(e)
		refused := slices.ContainsFunc(problems, func(p rule.Problem) bool { return strings.HasPrefix(p.Message, "A schedule does all at once") })
		assert.Equal(t, !refused, taker.plain != nil, "what a schedule may do, and what it does: %s", kind)
	}
	assert.Len(t, stepTakers, len(rule.StepKinds()))
	for _, kind := range rule.TriggerKinds() {
		assert.NotNil(t, triggerListeners[kind].bind, "the engine does not notice a trigger of kind %q", kind)
	}
	assert.Len(t, triggerListeners, len(rule.TriggerKinds()))
}
