package thing_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"

	"amvek/core/thing"
)

// What devices say is read as encoding/json reads it, to the letter of its errors.
func FuzzDecode(f *testing.F) {
	for _, seed := range []string{
		`{"mv":1}`, `{"a":{"b":[1,true,null,"x"]},"c":-0.5e-3}`, `{"mv":01}`, `{"mv":+1}`, `{"mv":1.}`, `{"mv":.5}`, `{"mv":1e}`, `{"mv":-}`,
		`{"mv":inf}`, `{"mv":NaN}`, `{"mv":1e999}`, `{"mv":12345678901234567890}`, `{"mv":0.1234567890123456789}`, `{"mv":1,"mv":2}`, `{"a":1}x`,
		`{"a":"\u00e9\n"}`, `{"a":"é"}`, "{\"a\":\"\xff\"}", "{\"a\":\"\t\"}", "{\n\"a\": 1\n}", ``, ` `, `null`, `true`, `[]`, `"text"`, `3.50`, `{"":{}}`,
		`{"a":1,}`, `[1,]`, `{"a"}`, `{a:1}`, `tru`, `nul`, `-0`,
	} {
		f.Add([]byte(seed))
	}
	var decoder thing.Decoder
	f.Fuzz(func(t *testing.T, message []byte) {
		var wanted any
		problem := json.Unmarshal(message, &wanted)
		got, err := decoder.Decode(message)
		assert.Equal(t, problem, err)
		assert.Equal(t, wanted, got)
		var fields map[string]any
		problem = json.Unmarshal(message, &fields)
		object, err := decoder.Object(message)
		assert.Equal(t, problem, err)
		assert.Equal(t, fields, object)
	})
}

func BenchmarkDecode(b *testing.B) {
	var decoder thing.Decoder
	for b.Loop() {
		if _, err := decoder.Object([]byte(`{"mv":1,"temp":21.5,"batt":83}`)); err != nil {
			b.Fatal(err)
		}
	}
}
