package thing_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/thing"
)

const playing = `{"@type": "tm:ThingModel", "title": "P", "amvek:model": "M", "actions": {"find": {"title": "Play", "amvek:role": "play",
	"input": {"type": "object", "required": ["words"], "properties": {
		"volume": {"type": "number", "unit": "%", "minimum": 0, "maximum": 100, "amvek:native": {"field": "volume", "range": [0, 80]}},
		"words": {"title": "Words", "type": "string"}}},
	"forms": [{"op": "invokeaction", "amvek:send": "FND @{volume} {words}"}, {"op": "invokeaction", "amvek:send": "FND {words}"}]}}}`

func TestAnActionsInputsAreReadCheckedAndFilledIn(t *testing.T) {
	m, err := thing.ParseModel([]byte(playing))
	require.NoError(t, err)
	a := m.Description.Plays()
	require.NotNil(t, a)
	require.Len(t, a.Inputs, 2)
	assert.Equal(t, "words", a.Inputs[0].Name, "what is needed comes first")

	for _, c := range []struct {
		given thing.Inputs
		line  string
	}{
		{thing.Inputs{"words": thing.Text("rain")}, "FND rain"},
		{thing.Inputs{"words": thing.Text("rain"), "volume": thing.Number(50)}, "FND @40 rain"},
	} {
		require.NoError(t, a.Check(c.given))
		places, err := m.Giving("find", c.given, nil)
		require.NoError(t, err)
		line, err := thing.Fill(m.InvokeForm("find", c.given).Send, places, func(text string) string { return text })
		require.NoError(t, err)
		assert.Equal(t, c.line, line)
	}
	assert.Nil(t, m.InvokeForm("find", nil))
	assert.EqualError(t, a.Check(nil), "Words: is needed")
	assert.EqualError(t, a.Check(thing.Inputs{"words": thing.Text("a"), "far": thing.Number(1)}), "Play: takes no far")
	assert.EqualError(t, a.Check(thing.Inputs{"words": thing.Number(1)}), "Words: must be a text")

	given, err := a.Read([]byte(`{"words": "rain", "volume": 3}`))
	require.NoError(t, err)
	assert.Equal(t, thing.Inputs{"words": thing.Text("rain"), "volume": thing.Number(3)}, given)
	_, err = a.Read([]byte(`[1]`))
	assert.Error(t, err)
}

func TestAnInputThatIsWrongIsSaidWhereItStands(t *testing.T) {
	for text, want := range map[string]string{
		`{"type": "object", "required": ["x"]}`:                          `Action go needs "x", which is none of its inputs.`,
		`{"type": "object", "properties": {"x": {"type": "array"}}}`:     `Input x of action go: type "array" is not known.`,
		`{"type": "number", "minimum": 3, "maximum": 2, "title": "Far"}`: `Input value of action go: minimum 3 is above maximum 2.`,
	} {
		_, err := thing.ParseModel([]byte(`{"@type": "tm:ThingModel", "title": "P", "amvek:model": "M", "actions": {"go": {"input": ` + text + `}}}`))
		assert.ErrorContains(t, err, want)
	}
}

// What the hub tells of an action, another hub reads: both ways the same.
func TestADescribedActionIsReadAgainAsItWas(t *testing.T) {
	m, err := thing.ParseModel([]byte(playing))
	require.NoError(t, err)
	m.Description.Actions = append(m.Description.Actions, thing.Action{Name: "seek", Title: "Seek", Single: true, Inputs: []thing.Input{
		{Property: thing.Property{Name: thing.SingleInput, Title: "Seek", Type: thing.TypeNumber, Writable: true, Resolution: 0.01}, Required: true},
	}})
	data, err := json.Marshal(thing.Describe("p", "P", "", "http://127.0.0.1/things/p", &m.Description))
	require.NoError(t, err)
	read, err := thing.ParseDescription(data, "")
	require.NoError(t, err)
	for i, a := range read.Model.Description.Actions {
		assert.Equal(t, m.Description.Actions[i].Single, a.Single)
		for k, in := range a.Inputs {
			was := m.Description.Actions[i].Inputs[k]
			assert.Equal(t, []any{was.Name, was.Type, was.Required, was.Maximum}, []any{in.Name, in.Type, in.Required, in.Maximum})
		}
	}
	sent, err := read.Model.Payload("seek", thing.Inputs{thing.SingleInput: thing.Number(4)})
	require.NoError(t, err)
	assert.Equal(t, thing.Number(4), sent)
	sent, err = read.Model.Payload("seek", nil)
	require.NoError(t, err)
	assert.Nil(t, sent)
}
