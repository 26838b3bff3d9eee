package thing_test

import (
	"encoding/json"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/thing"
)

var brightness = thing.Property{
	Name:       "brightness",
	Title:      "Brightness",
	Role:       thing.RoleBrightness,
	Type:       thing.TypeNumber,
	Unit:       "%",
	Maximum:    100,
	Resolution: 1,
	Writable:   true,
}

func TestValuesGoThroughJSONUnchanged(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.OneOf(
			rapid.Map(rapid.Bool(), thing.Boolean),
			rapid.Map(rapid.Float64Range(-1e12, 1e12), thing.Number),
			rapid.Map(rapid.String(), thing.Text),
			rapid.Map(rapid.Float64Range(0, 1), func(x float64) thing.Value { return thing.Color(x, 1-x) }),
			rapid.Just(thing.Value{}),
		).Draw(t, "value")
		data, err := json.Marshal(v)
		require.NoError(t, err)
		var back thing.Value
		require.NoError(t, json.Unmarshal(data, &back))
		require.Equal(t, v, back)
	})
}

func FuzzValue(f *testing.F) {
	for _, seed := range []string{`1`, `true`, `"a"`, `{"x":0.3,"y":0.3}`, `null`, `{"x":1}`, `[]`, `1e999`, ``} {
		f.Add([]byte(seed))
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		var v thing.Value
		if json.Unmarshal(data, &v) != nil {
			return
		}
		again, err := json.Marshal(v)
		require.NoError(t, err)
		var back thing.Value
		require.NoError(t, json.Unmarshal(again, &back))
		require.Equal(t, v, back)
	})
}

func TestCheckSaysWhatIsWrong(t *testing.T) {
	contact := thing.Property{Title: "Contact", Type: thing.TypeBoolean, Words: []string{"shut", "open"}}
	mode := thing.Property{Title: "Mode", Type: thing.TypeOption, Options: []string{"heat", "cool"}}
	tone := thing.Property{Title: "Color", Type: thing.TypeColor}
	for _, c := range []struct {
		property thing.Property
		value    thing.Value
		wrong    string
	}{
		{brightness, thing.Number(60), ""},
		{brightness, thing.Number(100.1), "Brightness: must be from 0 to 100 %"},
		{brightness, thing.Number(math.NaN()), "Brightness: must be a number"},
		{brightness, thing.Text("60"), "Brightness: must be a number"},
		{brightness, thing.Value{}, "Brightness: must be a number"},
		{contact, thing.Boolean(true), ""},
		{contact, thing.Number(1), "Contact: must be shut or open"},
		{mode, thing.Text("heat"), ""},
		{mode, thing.Text("dry"), "Mode: must be one of heat, cool"},
		{tone, thing.Color(0.3, 0.3), ""},
		{tone, thing.Color(0.9, 0.9), "Color: must be a color with x and y between 0 and 1"},
		{tone, thing.Color(0.3, 0), "Color: must be a color with x and y between 0 and 1"},
	} {
		err := c.property.Check(c.value)
		if c.wrong == "" {
			assert.NoError(t, err)
			continue
		}
		assert.EqualError(t, err, c.wrong)
	}
}

func TestTheValuesOfAPropertyInWords(t *testing.T) {
	for want, p := range map[string]thing.Property{
		"shut or open":    {Type: thing.TypeBoolean, Words: []string{"shut", "open"}},
		"no or yes":       {Type: thing.TypeBoolean},
		"0 to 100 %":      {Type: thing.TypeNumber, Maximum: 100, Unit: thing.UnitPercent},
		"-5 to 5":         {Type: thing.TypeNumber, Minimum: -5, Maximum: 5},
		"in °C":           {Type: thing.TypeNumber, Unit: thing.UnitCelsius},
		"a number":        {Type: thing.TypeNumber},
		"the bridge, hub": {Type: thing.TypeOption, Options: []string{"bridge", "hub"}, Titles: map[string]string{"bridge": "the bridge"}},
		"a color":         {Type: thing.TypeColor},
		"a text":          {Type: thing.TypeText},
	} {
		assert.Equal(t, want, p.Values())
	}
}

func TestSay(t *testing.T) {
	warmth := thing.Property{Type: thing.TypeNumber, Unit: "°C", Resolution: 0.05}
	assert.Equal(t, "19.2 °C", warmth.Say(thing.Number(19.17)))
	assert.Equal(t, "60 %", brightness.Say(thing.Number(59.84)))
	assert.Equal(t, "off", brightness.Say(thing.Number(0)))
	assert.Equal(t, "unknown", brightness.Say(thing.Value{}))
}

const model = `{"@type":"tm:ThingModel","title":"Lamp","amvek:model":"L1","amvek:what":"lamp","properties":{
	"brightness":{"title":"Brightness","type":"number","unit":"%","minimum":0,"maximum":100,"amvek:role":"brightness",
		"amvek:native":{"field":"level","gate":"lit","range":[1,250]}},
	"colorTemperature":{"title":"Color temperature","type":"number","unit":"K","minimum":2197,"maximum":6537,"amvek:role":"colorTemperature",
		"amvek:native":{"field":"mired","inverse":1000000}},
	"light":{"title":"Light","type":"number","unit":"lx","readOnly":true,"amvek:role":"illuminance","amvek:native":{"field":"lx","factor":0.1}}},
	"events":{"turn":{"title":"Turn","data":{"type":"number"},"amvek:native":{"field":"tn"}}},"actions":{"identify":{"title":"Identify"}}}`

func TestWhatIsWrittenIsReadBackWithinTheResolution(t *testing.T) {
	m, err := thing.ParseModel([]byte(model))
	require.NoError(t, err)
	rapid.Check(t, func(t *rapid.T) {
		name := rapid.SampledFrom([]string{"brightness", "colorTemperature"}).Draw(t, "property")
		p := m.Description.Property(name)
		v := thing.Number(rapid.Float64Range(p.Minimum, p.Maximum).Draw(t, "value"))
		if name == "brightness" && v.Number < 1 {
			v = thing.Number(0) // between off and the lowest level there is nothing
		}
		fields, err := m.Natives[name].Write(p, v)
		require.NoError(t, err)
		data, err := json.Marshal(fields)
		require.NoError(t, err)
		var message map[string]any
		require.NoError(t, json.Unmarshal(data, &message))
		back, err := m.Natives[name].Read(p, message)
		require.NoError(t, err, "%s", data)
		require.True(t, back.Near(v, p.Resolution), "%v became %v", v, back)
	})
}

func TestReadRefusesWhatDoesNotFit(t *testing.T) {
	m, err := thing.ParseModel([]byte(model))
	require.NoError(t, err)
	read := func(name string, message map[string]any) (thing.Value, error) {
		return m.Natives[name].Read(m.Description.Property(name), message)
	}
	_, err = read("brightness", map[string]any{"lit": true, "level": 251.0})
	assert.ErrorContains(t, err, "in the maker's range")
	_, err = read("brightness", map[string]any{"lit": true, "level": "bright"})
	assert.ErrorContains(t, err, "a number was expected")
	_, err = read("brightness", map[string]any{"lit": true})
	assert.ErrorIs(t, err, thing.ErrAbsent)
	_, err = read("colorTemperature", map[string]any{"mired": 0.0})
	assert.Error(t, err)
	off, err := read("brightness", map[string]any{"lit": false, "level": 125.0})
	require.NoError(t, err)
	assert.Equal(t, thing.Number(0), off, "a lamp that is not lit is at 0 whatever its level")
}

func TestParseModelNamesWhatIsWrong(t *testing.T) {
	property := func(a string) string {
		return `{"@type":"tm:ThingModel","title":"x","amvek:model":"m","properties":{"a":` + a + `}}`
	}
	for document, wrong := range map[string]string{
		`{`:                                     "ends too early",
		`{"@type":"Thing"}`:                     `"@type" must be`,
		`{"@type":"tm:ThingModel","title":"x"}`: `"amvek:model" is needed`,
		property(`{"type":"whatever"}`):         `Property a: type "whatever" is not known`,
		property(`{"type":"number","amvek:role":"temperature","unit":"F"}`):                  `needs the unit "°C", not "F"`,
		property(`{"type":"number","minimum":5,"maximum":1}`):                                "minimum 5 is above maximum 1",
		property(`{"type":"number","maximum":1,"amvek:native":{"field":"a","range":[3,3]}}`): "two different ends",
	} {
		_, err := thing.ParseModel([]byte(document))
		assert.ErrorContains(t, err, wrong)
	}
}

func TestWhatIsWrongInAProfileIsSaidAtItsLine(t *testing.T) {
	document := `{
  "@type": "tm:ThingModel",
  "title": "Lamp",
  "amvek:model": "L1",
  "properties": {
    "power": {"type": "boolean", "amvek:role": "power"},
    "level": {
      "type": "number", "unit": "lx",
      "amvek:role": "brightness"
    },
    "volume": {"type": "number", "forms": [
      {"op": "readproperty", "amvek:reply": "VOL ("}
    ]}
  }
}`
	_, err := thing.ParseModel([]byte(document))
	var wrong *thing.ProblemsError
	require.ErrorAs(t, err, &wrong)
	require.Len(t, wrong.Problems, 2)
	assert.Equal(t, 7, wrong.Problems[0].Line)
	assert.Contains(t, wrong.Problems[0].Message, "needs the unit")
	assert.Equal(t, 12, wrong.Problems[1].Line)
	assert.Equal(t, "/properties/volume/forms/0/amvek:reply", wrong.Problems[1].Path)

	for document, line := range map[string]int{
		"{\n\"a\": 1,\n}": 3, "{\n\"a\": [1,\n2": 3, "": 1, "[1]": 1, strings.Repeat("[", 100): 1,
		"{\"@type\": \"tm:ThingModel\",\n\"title\": 7}": 2,
	} {
		_, err := thing.ParseModel([]byte(document))
		require.ErrorAs(t, err, &wrong, document)
		assert.Equal(t, line, wrong.Problems[0].Line, document)
	}
	_, err = thing.ParseModel(make([]byte, thing.MaximumDocument+1))
	assert.ErrorContains(t, err, "at most")
}

func TestFieldsAreReachedByPointer(t *testing.T) {
	p := &thing.Property{Name: "t", Title: "Temperature", Type: thing.TypeNumber, Writable: true}
	message := map[string]any{"a": map[string]any{"b/c": []any{1.0, "21.5"}}}
	v, err := thing.Native{Field: "/a/b~1c/1"}.Read(p, message)
	require.NoError(t, err)
	assert.Equal(t, thing.Number(21.5), v, "a number written as text is a number")
	for _, absent := range []string{"/a/x", "/a/b~1c/2", "/a/b~1c/01", "/a/b~1c/-1", "b", "/a/b~1c/0/z"} {
		_, err := thing.Native{Field: absent}.Read(p, message)
		assert.ErrorIs(t, err, thing.ErrAbsent, absent)
	}
	fields, err := thing.Native{Field: "/set/level"}.Write(p, thing.Number(3))
	require.NoError(t, err)
	assert.Equal(t, map[string]any{"set": map[string]any{"level": 3.0}}, fields)
	v, err = thing.Native{}.Read(p, thing.Message(7.0))
	require.NoError(t, err)
	assert.Equal(t, thing.Number(7), v, "a message that is a single value")
}

func TestWordsAndCodesOfTheMakerAreTranslated(t *testing.T) {
	power := &thing.Property{Name: "p", Title: "Power", Type: thing.TypeBoolean, Writable: true}
	words := thing.Native{Field: "p", Words: []string{"STBY", "RUN"}}
	v, err := words.Read(power, map[string]any{"p": "run"})
	require.NoError(t, err)
	assert.True(t, v.True())
	_, err = words.Read(power, map[string]any{"p": "ON"})
	assert.Error(t, err)
	line, err := words.Say(power, thing.Boolean(false))
	require.NoError(t, err)
	assert.Equal(t, "STBY", line)
	input := &thing.Property{Name: "i", Title: "Input", Type: thing.TypeOption, Options: []string{"film", "music"}, Writable: true}
	codes := thing.Native{Field: "i", Codes: map[string]string{"film": "3"}}
	v, err = codes.Read(input, map[string]any{"i": "3"})
	require.NoError(t, err)
	assert.Equal(t, thing.Text("film"), v)
	line, err = codes.Say(input, thing.Text("film"))
	require.NoError(t, err)
	assert.Equal(t, "3", line)
	_, err = codes.Read(input, map[string]any{"i": "9"})
	assert.Error(t, err)
}

func FuzzModel(f *testing.F) {
	f.Add(
		[]byte(
			`{"@type":"tm:ThingModel","title":"x","amvek:model":"m",
				"properties":{"a":{"type":"number","minimum":0,"maximum":5,"amvek:native":{"range":[1,2]}}}}`,
		),
	)
	f.Add([]byte("{\n\"@type\": {}}"))
	f.Fuzz(func(t *testing.T, data []byte) {
		m, err := thing.ParseModel(data)
		var wrong *thing.ProblemsError
		if err != nil {
			require.ErrorAs(t, err, &wrong)
			require.NotEmpty(t, wrong.Problems)
			for _, p := range wrong.Problems {
				require.Positive(t, p.Line)
				require.Positive(t, p.Column)
			}
			return
		}
		_ = m.Tell(map[string]any{"a": 1.0, "b": "x"}, func(string, thing.Value) {}, func(string, thing.Value) {})
	})
}

func TestGesturesInWords(t *testing.T) {
	assert.Equal(t, "pressed twice", thing.GestureWords("double"))
	assert.Equal(t, "held", thing.GestureWords("hold"))
	assert.Equal(t, "shaken", thing.GestureWords("shaken"))
}

func TestWhereKeysSit(t *testing.T) {
	for name, c := range map[string]struct {
		layout thing.Layout
		sits   bool
	}{
		"one cell":      {thing.Layout{Column: 23, Row: 23}, true},
		"large":         {thing.Layout{Width: 24, Height: 24}, true},
		"a sign":        {thing.Layout{Sign: "⏻ everything"}, true},
		"too far right": {thing.Layout{Column: 23, Width: 2}, false},
		"too far down":  {thing.Layout{Row: 24}, false},
		"negative":      {thing.Layout{Column: -1}, false},
		"no size":       {thing.Layout{Height: -1}, false},
		"a long sign":   {thing.Layout{Sign: "everything off"}, false},
	} {
		assert.Equal(t, c.sits, c.layout.Check() == nil, name)
	}
}

func TestWhatAnEventCarries(t *testing.T) {
	press, turn, plain := thing.Event{Options: []string{"press", "hold"}}, thing.Event{Number: true}, thing.Event{}
	assert.NoError(t, press.Check(thing.Text("hold")))
	assert.ErrorContains(t, press.Check(thing.Text("shout")), "press, hold")
	assert.Error(t, press.Check(thing.Value{}))
	assert.NoError(t, turn.Check(thing.Number(-3)))
	assert.Error(t, turn.Check(thing.Text("3")))
	assert.NoError(t, plain.Check(thing.Value{}))
	assert.Error(t, plain.Check(thing.Number(1)))
}
