package thing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/thing"
)

const amplifier = `{"@context":["https://www.w3.org/2022/wot/td/v1.1"],"@type":"tm:ThingModel","title":"Amp","amvek:model":"A",
"amvek:line":{"ask":["STATUS"],"refused":"NAK ?(.*)","accepted":"ACK"},
"properties":{
 "power":{"title":"Power","type":"boolean","amvek:native":{"field":"power","words":["OFF","ON"]},"forms":[
   {"href":"x:p","op":["readproperty"],"amvek:query":"PW?","amvek:reply":"PW (ON|OFF)"},{"href":"x:p","op":["writeproperty"],"amvek:send":"PW {value}"}]},
 "volume":{"title":"Volume","type":"number","unit":"%","minimum":0,"maximum":100,"amvek:native":{"field":"volume","range":[0,80]},"forms":[
   {"href":"x:v","op":["readproperty"],"amvek:query":"PW?","amvek:reply":"MV(\\d+)"},{"href":"x:v","op":["writeproperty"],"amvek:send":"MV{value} {power}"}]}},
"events":{"knob":{"title":"Knob","data":{"type":"number"},"forms":[{"href":"x:k","op":["subscribeevent"],"amvek:reply":"KNOB (-?\\d+)"}]},
 "door":{"title":"Door","forms":[{"href":"x:k","op":["subscribeevent"],"amvek:reply":"DOOR"}]}},
"actions":{"next":{"title":"Next","forms":[{"href":"x:n","op":["invokeaction"],"amvek:send":"NEXT"}]}}}`

func translator(t testing.TB, document string) (*thing.Model, *thing.Translator) {
	m, err := thing.ParseModel([]byte(document))
	require.NoError(t, err)
	l, err := thing.NewTranslator(m)
	require.NoError(t, err)
	return m, l
}

func TestALineIsSpokenAsItsProfileSpellsItOut(t *testing.T) {
	m, l := translator(t, amplifier)
	assert.Equal(t, []string{"STATUS", "PW?"}, l.Questions(), "each once")
	said := map[string]string{}
	hear := func(message string) thing.Heard {
		h, err := l.Hear(message)
		require.NoError(t, err, message)
		require.NoError(t, m.Tell(h.Fields, func(n string, v thing.Value) { said[n] = v.String() }, func(n string, v thing.Value) { said[n] = v.String() }))
		return h
	}
	for _, message := range []string{"PW ON", "MV40", "KNOB -3", "DOOR", "ACK"} {
		assert.True(t, hear(message).Known, message)
	}
	assert.Equal(t, map[string]string{"power": "true", "volume": "50", "knob": "-3", "door": thing.Value{}.String()}, said)
	assert.Equal(t, thing.Heard{No: true, Known: true, Refused: "BUSY"}, hear("NAK BUSY"))
	assert.Equal(t, "NAK", hear("NAK").Refused, "a no that gives no reason says itself")
	_, err := l.Hear("PW MAYBE")
	assert.EqualError(t, err, `the message "PW MAYBE" is not known`)

	known := map[string]thing.Value{"power": thing.Boolean(true)}
	message, err := l.Set("volume", thing.Number(50), known)
	require.NoError(t, err)
	assert.Equal(t, "MV40 ON", message, "what another property is at stands in its place, as the maker writes it")
	var place *thing.PlaceError
	_, err = l.Set("volume", thing.Number(50), nil)
	assert.ErrorAs(t, err, &place)
	_, err = l.Set("volume", thing.Number(101), known)
	assert.Error(t, err)
	_, err = l.Set("knob", thing.Number(1), known)
	assert.Error(t, err)
	message, err = l.Invoke("next", nil, nil)
	require.NoError(t, err)
	assert.Equal(t, "NEXT", message)
	_, err = l.Invoke("jump", nil, nil)
	assert.Error(t, err)
}

func TestJSONOnALineIsReadByPointersAndEscaped(t *testing.T) {
	m, l := translator(t, `{"@context":["https://www.w3.org/2022/wot/td/v1.1"],"@type":"tm:ThingModel","title":"Box","amvek:model":"B",
"amvek:line":{"json":true,"refused":"/error/why"},"properties":{"name":{"title":"Name","type":"string","amvek:native":{"field":"/is/name"},
"forms":[{"href":"x:n","op":["writeproperty"],"amvek:send":"{\"name\":\"{value}\"}"}]}}}`)
	h, err := l.Hear(`{"is":{"name":"mill"}}`)
	require.NoError(t, err)
	require.NoError(t, m.Tell(h.Fields, func(n string, v thing.Value) { assert.Equal(t, "mill", v.Text) }, nil))
	h, err = l.Hear(`{"error":{"why":"shut"}}`)
	require.NoError(t, err)
	assert.True(t, h.No)
	assert.Equal(t, "shut", h.Refused)
	message, err := l.Set("name", thing.Text("a \"b\"\nc"), nil)
	require.NoError(t, err)
	assert.Equal(t, `{"name":"a \"b\"\nc"}`, message)
	_, err = l.Hear("hello")
	assert.Error(t, err)
}

func TestALineBreakCannotBeSmuggledIn(t *testing.T) {
	_, l := translator(t, `{"@context":["https://www.w3.org/2022/wot/td/v1.1"],"@type":"tm:ThingModel","title":"Box","amvek:model":"B",
"amvek:line":{"end":"#"},"properties":{"name":{"title":"Name","type":"string","forms":[{"href":"x:n","op":["writeproperty"],"amvek:send":"N {value}"}]}}}`)
	for _, text := range []string{"a\nPOW OFF", "a\rb", "a#POW OFF"} {
		_, err := l.Set("name", thing.Text(text), nil)
		assert.EqualError(t, err, "a line break cannot be sent", text)
	}
}

func TestAProfileWhoseMessagesCannotBeReadIsRefused(t *testing.T) {
	for wrong, document := range map[string]string{
		"pattern for what is refused": `"amvek:line":{"refused":"("}`,
		"no pattern":                  `"amvek:line":{},"properties":{"a":{"type":"boolean","forms":[{"href":"x:a","op":["readproperty"],"amvek:reply":"("}]}}`,
		"needs a group":               `"amvek:line":{},"properties":{"a":{"type":"boolean","forms":[{"href":"x:a","op":["readproperty"],"amvek:reply":"A"}]}}`,
		"Spaces alone":                `"amvek:line":{"end":"  "}`,
	} {
		_, err := thing.ParseModel([]byte(`{"@type":"tm:ThingModel","title":"X","amvek:model":"X",` + document + `}`))
		assert.ErrorContains(t, err, wrong)
	}
	m, err := thing.ParseModel([]byte(`{"@type":"tm:ThingModel","title":"X","amvek:model":"X"}`))
	require.NoError(t, err)
	_, err = thing.NewTranslator(m)
	var line *thing.LineError
	assert.ErrorAs(t, err, &line)
}

func TestADescriptionMayNameALineAndPlacesInAddresses(t *testing.T) {
	document := func(forms string) string {
		return `{"@context":"https://www.w3.org/2022/wot/td/v1.1","id":"urn:x","title":"X","security":"n","securityDefinitions":{"n":{"scheme":"nosec"}},
		"amvek:line":{},"properties":{"a":{"type":"number","minimum":0,"maximum":9,"forms":[` + forms + `]},"b":{"type":"number","forms":[{"href":"http://h/b"}]}}}`
	}
	for forms, wrong := range map[string]string{
		`{"href":"tcp://amp:23","amvek:send":"A {value}"}`:                                                 "",
		`{"href":"tcp://amp","amvek:send":"A"}`:                                                            "not host and port",
		`{"href":"tcp://amp:23"}`:                                                                          "does not say what is sent",
		`{"href":"http://h/set/{value}?b={b}","op":["writeproperty"],"htv:methodName":"GET"}`:              "",
		`{"href":"http://h/{other}"}`:                                                                      "variables",
		`{"href":"http://{value}/a"}`:                                                                      "cannot be read",
		`{"href":"http://h/a{value"}`:                                                                      "variables",
		`{"href":"http://h/a","contentType":"application/octet-stream"}`:                                   "content type",
		`{"href":"http://h/a","contentType":"application/x-www-form-urlencoded","amvek:body":"a={value}"}`: "",
	} {
		d, err := thing.ParseDescription([]byte(document(forms)), "")
		require.NoError(t, err, forms)
		if wrong == "" {
			assert.Empty(t, d.Unreachable, forms)
			continue
		}
		require.Len(t, d.Unreachable, 1, forms)
		assert.Contains(t, d.Unreachable[0].Reason, wrong)
	}
	d, err := thing.ParseDescription([]byte(document(`{"href":"tcp://Amp:23","amvek:send":"A {value}"}`)), "")
	require.NoError(t, err)
	assert.Equal(t, "amp:23", d.At)
}

// Whatever a device says or is told: no message breaks out of its frame, and what is read is a value that the property can have.
func FuzzLine(f *testing.F) {
	m, l := translator(f, amplifier)
	f.Add("PW ON", 40.0)
	f.Add("MV99999", -1.0)
	f.Fuzz(func(t *testing.T, message string, volume float64) {
		if h, err := l.Hear(message); err == nil {
			_ = m.Tell(h.Fields, func(name string, v thing.Value) {
				if err := m.Description.Property(name).Check(v); err != nil {
					t.Fatal(err)
				}
			}, func(string, thing.Value) {})
		}
		if sent, err := l.Set("volume", thing.Number(volume), map[string]thing.Value{"power": thing.Boolean(true)}); err == nil {
			for _, c := range sent {
				if c == '\r' || c == '\n' {
					t.Fatalf("%q", sent)
				}
			}
		}
	})
}
