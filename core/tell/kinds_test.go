package tell

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amvek/core/rule"
)

// A kind of step or trigger without words would be shown by its name in the document.
func TestEachKindOfStepAndTriggerHasWords(t *testing.T) {
	for _, kind := range rule.StepKinds() {
		assert.NotNil(t, words[kind].say, "a step of kind %s", kind)
		if rule.MayFail(kind) {
			assert.Equal(t, ifItFails, words[kind].otherwise, "a step of kind %s may fail", kind)
		}
	}
	assert.Len(t, words, len(rule.StepKinds()))
	for _, kind := range rule.TriggerKinds() {
		assert.NotNil(t, triggerWords[kind], "a trigger of kind %q", kind)
	}
	assert.Len(t, triggerWords, len(rule.TriggerKinds()))
}
