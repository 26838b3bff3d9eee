package compose

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"

	"amvek/core/thing"
)

func TestTheSingleValuesOfAPayloadAreFound(t *testing.T) {
	fields := FieldsOf(`{"env":{"temp":18.4,"a/b":true},"list":[1,"ON"],"none":null}`)
	var pointers []string
	for _, f := range fields {
		pointers = append(pointers, f.Pointer)
	}
	assert.Equal(t, []string{"/env/a~1b", "/env/temp", "/list/0", "/list/1"}, pointers)
	assert.Equal(t, thing.RoleTemperature, fields[1].Role)
	assert.Equal(t, thing.TypeBoolean, fields[3].Type)
	assert.Equal(t, []Field{{Value: "warm", Type: thing.TypeText}}, FieldsOf("  warm\n"), "what is no JSON is a text")
}

// Whatever arrives: no more fields than are shown, and each pointer leads to its value again.
func FuzzFields(f *testing.F) {
	for _, seed := range []string{`{"a":{"b":[1,{"c":"on"}]}}`, `[[[[1]]]]`, `"x"`, `{"":{"~":1,"/":2}}`, `{"a":1,"a":2}`, "\x00", `1e400`} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, payload string) {
		fields := FieldsOf(payload)
		if len(fields) > mostFields {
			t.Fatalf("%d fields", len(fields))
		}
		var body any
		if json.Unmarshal([]byte(payload), &body) != nil {
			return
		}
		for _, field := range fields {
			p := &thing.Property{Name: "x", Title: "x", Type: field.Type}
			if _, err := (thing.Native{Field: field.Pointer}).Read(p, thing.Message(body)); err != nil && field.Type == thing.TypeText {
				t.Fatalf("%q does not lead to %q: %v", field.Pointer, field.Value, err)
			}
		}
	})
}
