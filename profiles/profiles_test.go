package profiles_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/thing"
	"amvek/profiles"
)

func TestEveryShippedProfileIsWhole(t *testing.T) {
	catalogue, err := profiles.Load()
	require.NoError(t, err)
	assert.GreaterOrEqual(t, len(catalogue), 8)
	for _, s := range catalogue {
		p, model := s.Model, s.Model.Model
		assert.NotEmpty(t, p.Maker, model)
		assert.NotEmpty(t, p.What, model)
		for _, property := range p.Description.Properties {
			assert.NotEmpty(t, property.Role, "%s %s", model, property.Name)
			assert.NotEmpty(t, property.Title, "%s %s", model, property.Name)
			if property.Type == thing.TypeNumber {
				assert.Positive(t, property.Resolution, "%s %s", model, property.Name)
				assert.True(t, property.Limited(), "%s %s", model, property.Name)
			}
			if property.Type == thing.TypeBoolean {
				assert.Len(t, property.Words, 2, "%s %s", model, property.Name)
			}
		}
		for _, event := range p.Description.Events {
			assert.NotEmpty(t, event.Role, "%s %s", model, event.Name)
		}
	}
}
