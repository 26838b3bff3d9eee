package compose_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/thing"
	"amvek/hub/compose"
)

func plug() compose.Composed {
	return compose.Composed{
		Title: "Plug", Address: "http://10.0.0.9/state", PollSeconds: 5,
		Security: &compose.Security{Scheme: "apikey", In: "query", Name: "k"}, Key: "secret",
		Fields: []compose.Picked{
			{
				Pointer: "/relay",
				Title:   "Power",
				Type:    thing.TypeBoolean,
				Role:    thing.RolePower,
				Words:   []string{"off", "on"},
				Set:     &compose.Sending{Method: "GET", Address: "http://10.0.0.9/turn/{value}"},
			},
			{
				Pointer: "/level",
				Title:   "Level",
				Type:    thing.TypeNumber,
				Unit:    "hPa",
				Set: &compose.Sending{
					Method:  "POST",
					Address: "http://10.0.0.9/level",
					Body:    `{"to":{value},"relay":"{relay}"}`,
					Headers: []thing.Header{{Name: "X-Level", Value: "{value}"}},
				},
			},
		},
		Commands: []compose.Command{{Title: "Restart", Send: compose.Sending{Method: "POST", Address: "http://10.0.0.9/restart"}}},
	}
}

func described(t *testing.T, c compose.Composed) *thing.Described {
	require.NoError(t, c.Check())
	document, err := compose.Model(c, "m")
	require.NoError(t, err)
	text, err := json.Marshal(document)
	require.NoError(t, err)
	_, err = thing.ParseModel(text)
	require.NoError(t, err)
	derived, err := thing.Derive(text, "urn:x", c.Title, map[string]string{thing.PlaceholderPlace: compose.PlaceOf(c)})
	require.NoError(t, err)
	d, err := thing.ParseDescription(derived, "")
	require.NoError(t, err)
	assert.Empty(t, d.Unreachable)
	assert.NotContains(t, string(text), "secret", "a key is in no profile")
	return d
}

func TestWhatIsComposedOverHTTPIsDescribed(t *testing.T) {
	d := described(t, plug())
	assert.Equal(t, thing.Security{Scheme: "apikey", In: "query", Name: "k"}, d.Security)
	set := d.Model.Form("properties/relay", thing.OpWrite)
	assert.Equal(t, "http://10.0.0.9/turn/{value}", set.Href)
	assert.Equal(t, "GET", set.Method)
	assert.Equal(t, thing.Unit("hPa"), d.Model.Description.Property("level").Unit, "a unit of one's own")
	assert.Equal(t, "Restart", d.Model.Description.Action("c1").Title)
	assert.Equal(t, "http://10.0.0.9", compose.PlaceOf(plug()), "in which another plug would differ")
	place, fits := compose.PlaceIn(modelOf(t, plug()), compose.Composed{Address: "http://10.0.0.12/state"})
	assert.True(t, fits)
	assert.Equal(t, "http://10.0.0.12", place)
}

func modelOf(t *testing.T, c compose.Composed) *thing.Model {
	document, err := compose.Model(c, "m")
	require.NoError(t, err)
	text, err := json.Marshal(document)
	require.NoError(t, err)
	m, err := thing.ParseModel(text)
	require.NoError(t, err)
	return m
}

func ends(a, b float64) (from, to *float64) { return &a, &b }

func TestWhatIsComposedOfALineIsDescribed(t *testing.T) {
	from, to := ends(0, 80)
	c := compose.Composed{
		Title: "Amp", Address: "tcp://10.0.0.7:23", PollSeconds: 20, Line: &thing.Line{End: `\r`},
		Fields: []compose.Picked{
			{
				Pattern: `VOL (\d+)`,
				Title:   "Volume",
				Type:    thing.TypeNumber,
				Role:    thing.RoleVolume,
				Unit:    thing.UnitPercent,
				From:    from,
				To:      to,
				Read:    &compose.Sending{Body: "VOL?"},
				Set:     &compose.Sending{Body: "VOL {value}"},
			},
			{
				Pattern: `INP (\S+)`,
				Title:   "Input",
				Type:    thing.TypeText,
				Choices: []string{"CD", "TV"},
				Read:    &compose.Sending{Body: "INP?"},
				Set:     &compose.Sending{Body: `INP {value}\x00`},
			},
			{Title: "Tone", Type: thing.TypeNumber, SetOnly: true, Set: &compose.Sending{Body: "TON {value}"}},
			{Pattern: "STANDBY", Title: "Went to standby", Type: thing.TypeText, Event: true},
		},
		Commands: []compose.Command{{Title: "Menu", Send: compose.Sending{Body: "MENU"}}},
	}
	d := described(t, c)
	assert.Equal(t, "10.0.0.7:23", d.At)
	assert.Equal(t, "\r", d.Model.Line.End)
	assert.Equal(t, 20.0, d.Model.Line.EverySeconds)
	l, err := thing.NewTranslator(d.Model)
	require.NoError(t, err)
	message, err := l.Set("p1", thing.Number(50), nil)
	require.NoError(t, err)
	assert.Equal(t, "VOL 40", message, "percent of the device's own range")
	message, err = l.Set("p2", thing.Text("TV"), nil)
	require.NoError(t, err)
	assert.Equal(t, "INP TV\x00", message)
	assert.Equal(t, []string{"VOL?", "INP?"}, l.Questions())
	assert.True(t, d.Model.Description.Property("p3").Assumed)
	heard, err := l.Hear("STANDBY")
	require.NoError(t, err)
	assert.True(t, heard.Known)
	name, there := compose.NameOf(c, 1)
	assert.True(t, there && name == "p2")
	place, fits := compose.PlaceIn(modelOf(t, c), compose.Composed{Address: "10.0.0.8:23", Line: &thing.Line{}})
	assert.True(t, fits && place == "10.0.0.8:23")
}

func TestWhatCannotBeComposedSaysWhere(t *testing.T) {
	line := func(f compose.Picked) compose.Composed {
		return compose.Composed{Title: "X", Address: "h:1", Line: &thing.Line{}, Fields: []compose.Picked{f}}
	}
	with := func(change func(c *compose.Composed)) compose.Composed {
		c := plug()
		change(&c)
		return c
	}
	from, same := ends(1, 1)
	for _, bad := range []struct {
		field string
		c     compose.Composed
	}{
		{"topic", compose.Composed{Title: "X"}},
		{"address", compose.Composed{Title: "X", Address: "ftp://x"}},
		{"fields", compose.Composed{Title: "X", Address: "http://x"}},
		{"line.end", compose.Composed{Title: "X", Address: "h:1", Line: &thing.Line{End: `\q`}}},
		{"line.accepted", compose.Composed{Title: "X", Address: "h:1", Line: &thing.Line{Accepted: `(`}}},
		{"fields[0].pattern", line(compose.Picked{Title: "A", Type: thing.TypeText})},
		{"fields[0].set.body", line(compose.Picked{Title: "A", Type: thing.TypeText, Pattern: "(a)", Set: &compose.Sending{}})},
		{"fields[0].set", line(compose.Picked{Title: "A", Type: thing.TypeText, Pattern: "(a)", Set: &compose.Sending{Body: "A"}})},
		{"fields[0].from", line(compose.Picked{Title: "A", Type: thing.TypeNumber, Pattern: "(a)", From: from, To: same})},
		{"key", with(func(c *compose.Composed) { c.Key = "" })},
		{"security.name", with(func(c *compose.Composed) { c.Security.Name = "" })},
		{"fields[1].set.headers[0]", with(func(c *compose.Composed) { c.Fields[1].Set.Headers[0].Name = "authorization" })},
		{"fields[0].set.address", with(func(c *compose.Composed) {
			c.Fields[0].Set.Address = "http://10.0.0.9/turn/{value}?token=0123456789abcdef0123"
		})},
		{"fields[0].set.body", with(func(c *compose.Composed) { c.Fields[0].Set.Body = "x" })},
		{"fields[0].event", with(func(c *compose.Composed) { c.Fields[0].Event = true })},
		{"commands[0].send.address", with(func(c *compose.Composed) { c.Commands[0].Send.Address = "10.0.0.9" })},
	} {
		var wrong *compose.Error
		require.ErrorAs(t, bad.c.Check(), &wrong, bad.field)
		assert.Equal(t, bad.field, wrong.Field, wrong.Message)
	}
}

func TestValuesAreFoundInMessages(t *testing.T) {
	for message, want := range map[string]map[string]string{
		"VOL 42":            {"42": `VOL (-?\d+(?:\.\d+)?)`},
		"POW ON":            {"ON": `POW (ON|OFF)`},
		"ZONE 3 VOL 40":     {"3": `ZONE (-?\d+(?:\.\d+)?) VOL -?\d+(?:\.\d+)?`, "40": `ZONE 3 VOL (-?\d+(?:\.\d+)?)`},
		"SRC=Tuner":         {"Tuner": `SRC=(\S+)`},
		"-3.5":              {"-3.5": `(-?\d+(?:\.\d+)?)`},
		"on":                {"on": "(on|off)"},
		"OK":                {},
		"temp: 21.5 C open": {"21.5": `temp: (-?\d+(?:\.\d+)?) C open`, "open": `temp: 21\.5 C (open|closed)`},
	} {
		got := map[string]string{}
		for _, f := range compose.InText(message) {
			got[f.Value] = f.Pattern
		}
		assert.Equal(t, want, got, message)
	}
	assert.Len(t, compose.InBody("<b>21.5</b>\n<i>ON</i>"), 2)
	assert.Equal(t, "/a", compose.InBody(`{"a":1}`)[0].Pointer)
}
