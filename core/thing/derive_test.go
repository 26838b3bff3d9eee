package thing_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/thing"
)

const meter = `{
  "@context": "https://www.w3.org/2022/wot/td/v1.1", "@type": "tm:ThingModel",
  "title": "Meter", "amvek:model": "made-meter",
  "properties": {"warm": {"type": "number", "readOnly": true, "forms": [{"href": "mqtt://broker", "op": ["observeproperty"], "mqv:filter": "{{PLACE}}/say"}]}}
}`

func TestADescriptionIsDerivedFromAModel(t *testing.T) {
	text, err := thing.Derive([]byte(meter), "urn:one", "Shed meter", map[string]string{thing.PlaceholderPlace: "shed/box"})
	require.NoError(t, err)
	d, err := thing.ParseDescription(text, "")
	require.NoError(t, err)
	assert.Equal(t, "urn:one", d.ID)
	assert.Equal(t, "Shed meter", d.Title)
	assert.Equal(t, "shed/box/say", d.Model.Form("properties/warm", thing.OpObserve).Filter)
	assert.Empty(t, d.Unreachable)
	assert.NotContains(t, string(text), "tm:ThingModel")
	assert.Contains(t, string(text), `"urn:amvek:model:made-meter"`)
	_, err = thing.ParseModel(text)
	assert.Error(t, err, "a description is no model")
}

func TestWhatCannotBeDerivedSaysWhy(t *testing.T) {
	_, err := thing.Derive([]byte(meter), "urn:one", "Meter", nil)
	assert.ErrorContains(t, err, "the placeholder PLACE has no value")
	_, err = thing.Derive([]byte(`{"title":`), "urn:one", "Meter", nil)
	assert.Error(t, err)
	_, err = thing.Derive([]byte(`[1]`), "urn:one", "Meter", nil)
	assert.Error(t, err)
	_, err = thing.Derive([]byte(strings.Repeat("[", 10000)), "urn:one", "Meter", nil)
	assert.Error(t, err)
}
