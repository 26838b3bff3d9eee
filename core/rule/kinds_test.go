package rule

import (
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// A field that no kind uses, or a kind that is not described, was forgotten.
func TestEachFieldIsOfSomeKindAndEachKindIsInItsTable(t *testing.T) {
	enum := func(of any) []string {
		field, _ := reflect.TypeOf(of).FieldByName("Kind")
		return strings.Split(field.Tag.Get("enum"), ",")
	}
	assert.Len(t, enum(Step{}), len(StepKinds()), "the document knows each kind of step")
	assert.Len(t, enum(Trigger{}), len(TriggerKinds()), "the document knows each kind of trigger")
	var used []string
	for _, kind := range enum(Step{}) {
		traits, there := stepKinds[StepKind(kind)]
		assert.True(t, there, "steps of kind %s", kind)
		used = append(used, traits.fields...)
	}
	for i := range reflect.TypeFor[Step]().NumField() {
		name, _, _ := strings.Cut(reflect.TypeFor[Step]().Field(i).Tag.Get("json"), ",")
		assert.True(t, name == "kind" || slices.Contains(used, name), "no kind of step uses %s", name)
	}
	used = nil
	for _, kind := range enum(Trigger{}) {
		traits, there := triggerKinds[TriggerKind(kind)]
		assert.True(t, there, "triggers of kind %q", kind)
		used = append(used, traits.fields...)
	}
	for i := range reflect.TypeFor[Trigger]().NumField() {
		name, _, _ := strings.Cut(reflect.TypeFor[Trigger]().Field(i).Tag.Get("json"), ",")
		assert.True(t, name == "kind" || slices.Contains(used, name), "no kind of trigger uses %s", name)
	}
}
