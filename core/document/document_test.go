package document_test

import (
	"encoding/json"
	"errors"
	"math"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/document"
)

type inner struct {
	Number float64         `json:"number" minimum:"0" maximum:"10"`
	Least  int             `json:"least,omitempty" minimum:"3"`
	Kind   string          `json:"kind,omitempty" enum:"one,two"`
	Next   *inner          `json:"next,omitempty"`
	Raw    json.RawMessage `json:"raw,omitempty"`
	At     time.Time       `json:"at,omitzero"`
}

type outer struct {
	inner
	Title string            `json:"title" maxLength:"5"`
	List  []inner           `json:"list" maxItems:"3"`
	Words []string          `json:"words,omitempty" enum:"a,b"`
	Map   map[string]string `json:"map,omitempty"`
}

func TestWhatIsWrongIsSaidAtItsPlace(t *testing.T) {
	deep := &inner{}
	for range 3 * document.MaximumDepth {
		deep = &inner{Next: deep}
	}
	for _, c := range []struct {
		name    string
		doc     outer
		path    string
		message string
	}{
		{"nothing", outer{inner: inner{Least: 3}, Title: "sound", List: []inner{{Least: 3}}}, "", ""},
		{"too large", outer{inner: inner{Least: 3}, List: []inner{{Least: 3}, {Least: 3, Number: 11}}}, "list/1/number", "11 is not from 0 to 10."},
		{"too small", outer{inner: inner{Least: 2}}, "least", "2 is too small: the least is 3."},
		{"no number", outer{inner: inner{Least: 3, Number: math.NaN()}}, "number", "This is not a number."},
		{"without end", outer{inner: inner{Least: 3, Number: math.Inf(1)}}, "number", "This is not a number."},
		{"too long", outer{inner: inner{Least: 3}, Title: "weirdly"}, "title", "It is too long: 7 characters, of at most 5."},
		{"characters, not bytes", outer{inner: inner{Least: 3}, Title: "äöüßé"}, "", ""},
		{"no choice", outer{inner: inner{Least: 3, Kind: "three"}}, "kind", `"three" is not one of one, two.`},
		{"no choice in a list", outer{inner: inner{Least: 3}, Words: []string{"a", "c"}}, "words/1", `"c" is not one of a, b.`},
		{"too many", outer{inner: inner{Least: 3}, List: make([]inner, 4)}, "list", "At most 3."},
		{"no text", outer{inner: inner{Least: 3}, Title: "a\xff"}, "title", "This is not text: it is not valid UTF-8."},
		{"no text in a key", outer{inner: inner{Least: 3}, Map: map[string]string{"\xff": ""}}, "map/\xff", "This is not text: it is not valid UTF-8."},
		{"no JSON", outer{inner: inner{Least: 3, Raw: json.RawMessage("{")}}, "raw", "This is not valid JSON."},
		{"deep JSON", outer{inner: inner{Least: 3, Raw: json.RawMessage(strings.Repeat("[", 900) + strings.Repeat("]", 900))}}, "raw", "It is nested too deep: 64 levels are the most."},
		{"a year that no date has", outer{inner: inner{Least: 3, At: time.Date(12000, 1, 1, 0, 0, 0, 0, time.UTC)}}, "at", "The year 12000 is not one of a date."},
	} {
		t.Run(c.name, func(t *testing.T) {
			err := document.Check(&c.doc)
			if c.message == "" {
				require.NoError(t, err)
				return
			}
			var wrong *document.Error
			require.True(t, errors.As(err, &wrong), "%v", err)
			assert.Equal(t, c.path, wrong.Path)
			assert.Equal(t, c.message, wrong.Message)
		})
	}
	assert.ErrorContains(t, document.Check(&struct {
		Next *inner `json:"next"`
	}{deep}), "nested too deep")
}

func TestADocumentHasAnEnd(t *testing.T) {
	type many struct {
		List [][]int `json:"list"`
	}
	wide := many{List: make([][]int, 4000)}
	for i := range wide.List {
		wide.List[i] = make([]int, 100)
	}
	assert.ErrorContains(t, document.Check(wide), "too many parts")

	type texts struct {
		List []string `json:"list"`
	}
	heavy := texts{List: make([]string, 400)}
	for i := range heavy.List {
		heavy.List[i] = strings.Repeat("x", 3900)
	}
	assert.ErrorContains(t, document.Check(heavy), "too large")
}

func TestDepthIsThatOfListsAndObjectsOutsideOfTexts(t *testing.T) {
	assert.Equal(t, 0, document.Depth([]byte(`"[[["`)))
	assert.Equal(t, 3, document.Depth([]byte(`{"a":[{"b":"}]\"["}],"c":[]}`)))
}
