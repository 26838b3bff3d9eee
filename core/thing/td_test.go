package thing_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/thing"
)

func describe(t *testing.T, document string) *thing.Described {
	d, err := thing.ParseDescription([]byte(document), "http://lamp.test/td")
	require.NoError(t, err)
	return d
}

func TestWhatCannotBeReachedIsListedWithItsReason(t *testing.T) {
	d := describe(t, `{"@context":["https://www.w3.org/2022/wot/td/v1.1"],"title":"Lamp","security":"n","securityDefinitions":{"n":{"scheme":"nosec"}},
		"properties":{
			"on":{"type":"boolean","forms":[{"href":"coap://lamp/on"},{"href":"on"}]},
			"far":{"type":"number","forms":[{"href":"modbus+tcp://x"}]},
			"none":{"type":"number"},
			"xml":{"type":"number","forms":[{"href":"x","contentType":"application/xml"}]},
			"list":{"type":"array","forms":[{"href":"l"}]},
			"level":{"type":"integer","unit":"percent","minimum":0,"maximum":100,"forms":[{"href":"/level","op":"readproperty"}]},
			"mode":{"type":"string","enum":["a","b"],"forms":[{"href":"mode"}]},
			"any":{"type":"object","forms":[{"href":"any"}]},
			"templated":{"type":"number","forms":[{"href":"v/{id}"}]}},
		"actions":{"blink":{"forms":[{"href":"blink"}]},"gone":{"forms":[]}},
		"events":{"pressed":{"data":{"type":"string","enum":["short"]},"forms":[{"href":"pressed","subprotocol":"longpoll"}]}}}`)
	assert.Equal(t, "http://lamp.test/td", d.ID, "without an id the address is its identity")
	reasons := map[string]string{}
	for _, u := range d.Unreachable {
		reasons[u.Affordance] = u.Reason
	}
	assert.Equal(t, map[string]string{
		"far": `the protocol "modbus+tcp" is not known`, "none": "it has no form", "xml": `the content type "application/xml" is not known`,
		"list": `values of the type "array" cannot be used`, "any": "it is an object of unknown make",
		"templated": "its address has variables", "gone": "it has no form",
	}, reasons)
	on := d.Model.Description.Property("on")
	assert.Equal(t, thing.RolePower, on.Role)
	assert.True(t, on.Writable)
	assert.Equal(t, "http://lamp.test/on", d.Model.Form("properties/on", thing.OpRead).Href)
	level := d.Model.Description.Property("level")
	assert.False(t, level.Writable, "no form writes it")
	assert.Equal(t, thing.UnitPercent, level.Unit)
	assert.Equal(t, []string{"a", "b"}, d.Model.Description.Property("mode").Options)
	assert.Equal(t, []string{"short"}, d.Model.Description.Event("pressed").Options)
	assert.NotNil(t, d.Model.Description.Action("blink"))
}

func TestADeviceHasNoMoreThanWhatCanBeShownOfIt(t *testing.T) {
	properties := func(of int, form string) string {
		var all []string
		for i := range of {
			all = append(all, fmt.Sprintf(`"p%d":{"type":"number"%s}`, i, form))
		}
		return "{" + strings.Join(all, ",") + "}"
	}
	description := func(of int) error {
		_, err := thing.ParseDescription(
			[]byte(`{"@context":"https://www.w3.org/2022/wot/td/v1.1","title":"L","properties":`+properties(of, `,"forms":[{"href":"http://l/x"}]`)+`}`),
			"",
		)
		return err
	}
	model := func(of int) error {
		_, err := thing.ParseModel([]byte(`{"@type":"tm:ThingModel","title":"L","amvek:model":"L","properties":` + properties(of, "") + `}`))
		return err
	}
	for name, parse := range map[string]func(int) error{"description": description, "model": model} {
		assert.NoError(t, parse(thing.AffordancesMax), name)
		assert.ErrorContains(t, parse(thing.AffordancesMax+1), "at most 500 properties", name)
	}
}

func TestWhatCanOnlyBeWrittenIsNeverReadAndAValueWithoutATypeIsWhatItsSchemaSays(t *testing.T) {
	d := describe(t, `{"@context":"https://www.w3.org/2022/wot/td/v1.1","title":"L","properties":{
		"code":{"type":"string","writeOnly":true,"forms":[{"href":"code"}]},
		"shut":{"type":"string","writeOnly":true,"forms":[{"href":"shut","op":"readproperty"}]},
		"level":{"minimum":0,"maximum":100,"forms":[{"href":"level"}]},
		"mode":{"enum":["a","b"],"forms":[{"href":"mode"}]},
		"step":{"enum":[1,2],"forms":[{"href":"step"}]},
		"both":{"enum":[1,"a"],"forms":[{"href":"both"}]},
		"parts":{"properties":{"on":{"type":"boolean"}},"forms":[{"href":"parts"}]}}}`)
	code := d.Model.Description.Property("code")
	require.NotNil(t, code)
	assert.True(t, code.Writable && code.Assumed, "what is written is never heard back")
	assert.Nil(t, d.Model.Form("properties/code", thing.OpRead))
	assert.NotNil(t, d.Model.Form("properties/code", thing.OpWrite))
	for name, of := range map[string]thing.Type{"level": thing.TypeNumber, "mode": thing.TypeOption, "step": thing.TypeOption, "parts/on": thing.TypeBoolean} {
		if p := d.Model.Description.Property(name); assert.NotNil(t, p, name) {
			assert.Equal(t, of, p.Type, name)
		}
	}
	assert.Equal(t, []thing.Unreachable{
		{
			Affordance: "both",
			Reason:     "it does not say which type its values are of",
		}, {Affordance: "parts", Reason: "it is an object: its parts can be read, and not written"},
		{Affordance: "shut", Reason: "it can only be written, and no form writes it"},
	}, d.Unreachable)
}

func TestAThingWithoutAnIDAndAnAddressIsNamedByWhereItIsReached(t *testing.T) {
	id := func(title, at, more string) string {
		d, err := thing.ParseDescription(
			[]byte(
				`{"@context":"https://www.w3.org/2022/wot/td/v1.1","title":"`+title+`","base":"`+at+`","properties":{"on":{"type":"boolean","forms":[{"href":"on"}]}}`+more+`}`,
			),
			"",
		)
		require.NoError(t, err)
		return d.ID
	}
	lamp := id("Lamp", "http://a.test/", "")
	assert.Regexp(t, `^ni:///sha-256;[\w-]{43}$`, lamp)
	assert.Equal(t, lamp, id("Lamp", "http://a.test/", `,"description":"said better"`))
	assert.NotEqual(t, lamp, id("Lamp", "http://b.test/", ""))
	assert.NotEqual(t, lamp, id("Fan", "http://a.test/", ""))
}

func TestATopicMayStandInTheAddress(t *testing.T) {
	d := describe(t, `{"@context":"https://www.w3.org/2022/wot/td/v1.1","title":"L","properties":{
		"heat":{"type":"number","forms":[{"href":"mqtt://broker.test/oven/heat","op":["readproperty","observeproperty"]}]},
		"on":{"type":"boolean","forms":[{"href":"mqtt://broker.test/oven/on"}]},
		"bare":{"type":"boolean","forms":[{"href":"mqtt://broker.test/"}]}}}`)
	heat := d.Model.Form("properties/heat", thing.OpRead)
	require.NotNil(t, heat)
	assert.Equal(t, "oven/heat", heat.Topic)
	on := d.Model.Form("properties/on", thing.OpWrite)
	require.NotNil(t, on)
	assert.Equal(t, []string{"oven/on", "oven/on"}, []string{on.Topic, on.Filter})
	assert.Equal(t, []thing.Unreachable{{Affordance: "bare", Reason: "its address has no topic"}}, d.Unreachable)
	assert.True(t, d.Messages)
}

func TestAFormMayHaveItsOwnSecurity(t *testing.T) {
	const definitions = `"securityDefinitions":{"none":{"scheme":"nosec"},"basic":{"scheme":"basic"},"bearer":{"scheme":"bearer"},"o":{"scheme":"oauth2"}},`
	const forms = `"properties":{
		"a":{"type":"boolean","forms":[{"href":"a"}]},
		"b":{"type":"boolean","forms":[{"href":"b","security":"basic"}]},
		"c":{"type":"boolean","forms":[{"href":"c","security":["bearer"]}]},
		"d":{"type":"boolean","forms":[{"href":"d","security":"none"}]},
		"e":{"type":"boolean","forms":[{"href":"e","security":"o"},{"href":"e","security":"basic"}]}}}`
	for security, expected := range map[string]struct {
		scheme  string
		reasons map[string]string
	}{
		"none":   {"basic", map[string]string{"c": "it wants another key than the rest"}},
		"bearer": {"bearer", map[string]string{"b": "it wants another key than the rest", "e": "it wants another key than the rest"}},
		"o":      {"basic", map[string]string{"a": `the flow "" of its security is not supported, only client`, "c": "it wants another key than the rest"}},
	} {
		d := describe(t, `{"@context":"https://www.w3.org/2022/wot/td/v1.1","title":"L","security":"`+security+`",`+definitions+forms)
		reasons := map[string]string{}
		for _, u := range d.Unreachable {
			reasons[u.Affordance] = u.Reason
		}
		assert.Equal(t, expected.reasons, reasons, security)
		assert.Equal(t, expected.scheme, d.Security.Scheme, security)
	}
}

func TestSecurityThatIsNotSupportedMakesAllUnreachable(t *testing.T) {
	for security, reason := range map[string]string{
		`"security":"o","securityDefinitions":{"o":{"scheme":"oauth2"}}`:                 `the flow "" of its security is not supported`,
		`"security":"o","securityDefinitions":{"o":{"scheme":"oauth2","flow":"client"}}`: `it does not say where a token is got`,
		`"security":"p","securityDefinitions":{"p":{"scheme":"psk"}}`:                    `its security "psk" is not supported`,
		`"security":["a","b"],"securityDefinitions":{}`:                                  "several kinds of security",
		`"security":"x","securityDefinitions":{}`:                                        `its security "x" is not defined`,
	} {
		d := describe(
			t,
			`{"@context":"https://www.w3.org/2019/wot/td/v1","title":"L",`+security+`,"properties":{"on":{"type":"boolean","forms":[{"href":"on"}]}}}`,
		)
		require.Len(t, d.Unreachable, 1)
		assert.Contains(t, d.Unreachable[0].Reason, reason)
	}
}

func TestADocumentThatIsNoDescriptionIsRefusedAtItsLine(t *testing.T) {
	for document, words := range map[string]string{
		"":                             "ends too early",
		"{\n\"title\": \"x\"}":         "names neither",
		"{\"@context\":7,\n\"title\":": "ends too early",
		`{"@context":"https://www.w3.org/2022/wot/td/v1.1","title":"x","properties":{"a":7}}`:             "cannot stand here",
		`{"@context":"https://www.w3.org/2022/wot/td/v1.1"}`:                                              `"title" is needed`,
		`{"@context":"https://www.w3.org/2022/wot/td/v1.1","title":"` + strings.Repeat("x", 5<<20) + `"}`: "at most 1048576 are read",
		strings.Repeat(`{"a":`, 200): "nested more than",
	} {
		_, err := thing.ParseDescription([]byte(document), "")
		assert.ErrorContains(t, err, words, document)
	}
}

func FuzzDescription(f *testing.F) {
	f.Add(
		[]byte(
			`{"@context":"https://www.w3.org/2022/wot/td/v1.1","title":"x","base":"http://a","properties":{"a":{"type":"object","properties":{"b":{"type":"number"}},"forms":[{"href":"b"}]}}}`,
		),
	)
	f.Fuzz(func(t *testing.T, data []byte) {
		d, err := thing.ParseDescription(data, "http://x/y")
		if err != nil {
			return
		}
		for _, p := range d.Model.Description.Properties {
			require.NotEmpty(t, d.Model.Forms["properties/"+p.Name], "whatever is offered has a form: %s", p.Name)
		}
	})
}

func TestRolesAreSuggestedFromNamesAndUnits(t *testing.T) {
	for _, c := range []struct {
		name string
		unit thing.Unit
		kind thing.Type
		role thing.Role
	}{
		{"roomTemp", "", thing.TypeNumber, thing.RoleTemperature}, {"x", thing.UnitCelsius, thing.TypeNumber, thing.RoleTemperature},
		{"battery_pct", "%", thing.TypeNumber, thing.RoleBattery}, {"occupancy", "", thing.TypeBoolean, thing.RoleMotion},
		{"doorOpen", "", thing.TypeBoolean, thing.RoleContact}, {"relay1", "", thing.TypeBoolean, thing.RolePower},
		{"nothing", "", thing.TypeNumber, ""}, {"mode", "", thing.TypeOption, ""},
	} {
		assert.Equal(t, c.role, thing.SuggestRole(c.name, c.unit, c.kind), c.name)
	}
}

func TestObjectsWithinObjectsAreReadAndChoicesOfNumbersWritten(t *testing.T) {
	d := describe(t, `{"@context":"https://www.w3.org/2022/wot/td/v1.1","title":"L","properties":{
		"state":{"type":"object","readOnly":true,"title":"State","properties":{"air":{"type":"object","properties":{"in/out":{"type":"object","properties":
			{"c":{"type":"number","unit":"celsius"}}}}},"odd":{"type":"array"}},"forms":[{"href":"state"}]},
		"speed":{"type":"integer","enum":[1,2,4.5],"forms":[{"href":"speed"}]},
		"count":{"type":"integer","minimum":0,"maximum":9,"forms":[{"href":"count"}]},
		"label":{"type":"string","maxLength":5,"forms":[{"href":"label"}]}},
		"actions":{"go":{"input":{"type":"object","required":["at"],"properties":{"at":{"enum":[10,20]},"list":{"type":"array"}}},
			"output":{"type":"number"},"forms":[{"href":"go"}]}}}`)
	m := d.Model
	deep := m.Description.Property("state/air/in/out/c")
	require.NotNil(t, deep)
	assert.Equal(t, "State air in/out c", deep.Title)
	value, err := m.Natives[deep.Name].Read(deep, map[string]any{"air": map[string]any{"in/out": map[string]any{"c": 19.5}}})
	require.NoError(t, err)
	assert.Equal(t, thing.Number(19.5), value)
	assert.Equal(t, []thing.Unreachable{
		{
			Affordance: "state/odd",
			Reason:     `values of the type "array" cannot be used`,
		}, {Affordance: "go/list", Reason: `values of the type "array" cannot be used`},
	}, d.Unreachable, "nothing is left out silently")

	speed := m.Description.Property("speed")
	assert.Equal(t, []string{"1", "2", "4.5"}, speed.Options)
	sent, err := m.Natives["speed"].Write(speed, thing.Text("4.5"))
	require.NoError(t, err)
	assert.Equal(t, map[string]any{"": 4.5}, sent, "as the number that it is")
	value, err = m.Natives["speed"].Read(speed, thing.Message(2.0))
	require.NoError(t, err)
	assert.Equal(t, thing.Text("2"), value)
	_, err = m.Natives["speed"].Read(speed, thing.Message(3.0))
	assert.Error(t, err)

	assert.ErrorContains(t, m.Description.Property("count").Check(thing.Number(2.5)), "whole number")
	assert.NoError(t, m.Description.Property("count").Check(thing.Number(2)))
	assert.ErrorContains(t, m.Description.Property("label").Check(thing.Text("sixsix")), "5 characters at most")
	assert.NoError(t, m.Description.Property("label").Check(thing.Text("fünf!")))

	action := m.Description.Action("go")
	assert.True(t, action.Answers)
	payload, err := m.Payload("go", thing.Inputs{"at": thing.Text("20")})
	require.NoError(t, err)
	assert.Equal(t, map[string]any{"at": 20.0}, payload)
}

func TestObjectsWithoutEndAreCutOff(t *testing.T) {
	schema := `{"type":"number"}`
	for range 20 {
		schema = `{"type":"object","properties":{"in":` + schema + `}}`
	}
	d := describe(
		t,
		`{"@context":"https://www.w3.org/2022/wot/td/v1.1","title":"L","properties":{"state":`+strings.TrimSuffix(
			schema,
			"}",
		)+`,"readOnly":true,"forms":[{"href":"x"}]}}}`,
	)
	assert.Empty(t, d.Model.Description.Properties)
	require.Len(t, d.Unreachable, 1)
	assert.Equal(t, `values of the type "object" cannot be used`, d.Unreachable[0].Reason)
}

func TestAPropertyThatIsReadAsAnImageIsAPicture(t *testing.T) {
	document := `{"@context": "https://www.w3.org/2022/wot/td/v1.1", "id": "urn:c", "title": "Camera", "base": "http://127.0.0.1:1",
		"security": "n", "securityDefinitions": {"n": {"scheme": "nosec"}}, "properties": {
			"live": {"title": "Live", "readOnly": true, "forms": [{"href": "rtsp://127.0.0.1/live", "contentType": "image/jpeg"}]},
			"still": {"title": "Still", "readOnly": true, "forms": [{"href": "/still", "contentType": "image/jpeg"}]},
			"on": {"title": "On", "type": "boolean", "forms": [{"href": "/on"}]}%s}}`
	d := describe(t, fmt.Sprintf(document, ""))
	assert.Equal(t, []thing.Picture{{Name: "still", Title: "Still"}}, d.Model.Description.Pictures)
	require.Len(t, d.Model.Description.Properties, 1, "a picture is no value")
	assert.Equal(t, "http://127.0.0.1:1/still", d.Model.Form("properties/still", thing.OpRead).Href)
	assert.Equal(t, []thing.Unreachable{{Affordance: "live", Reason: `the protocol "rtsp" is not known`}}, d.Unreachable)

	var more strings.Builder
	for i := range 20 {
		_, _ = fmt.Fprintf(&more, `, "p%02d": {"forms": [{"href": "/p", "contentType": "image/png"}]}`, i)
	}
	d = describe(t, fmt.Sprintf(document, more.String()))
	assert.Len(t, d.Model.Description.Pictures, 16)
	assert.Contains(t, d.Unreachable, thing.Unreachable{Affordance: "still", Reason: "it shows more than 16 pictures"})
}
