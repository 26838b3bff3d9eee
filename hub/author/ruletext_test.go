package author

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func title(id string) string { return map[string]string{"lamp": "Stair lamp"}[id] }

const stairText = `title: Stair light
note: |-
  Afterwards it is
  as it was.
enabled: true
while:
  device: sensor
  property: motion
  comparison: is
  value: true
do:
  - kind: hold
    device: lamp # Stair lamp
    property: brightness
    value: 60
  - kind: notify
    text: off
  - kind: notify
    text: "12"
`

func TestARuleComesBackFromItsText(t *testing.T) {
	doc, _, mistake := ReadRule(stairText)
	require.Nil(t, mistake)
	text, err := TellRule(doc, title)
	require.NoError(t, err)
	assert.Equal(t, stairText, text)
	older, _, mistake := ReadRule(strings.Replace(stairText, "while:", "whenever:", 1))
	require.Nil(t, mistake, "as it was written in earlier texts")
	assert.Equal(t, doc, older)
	_, _, mistake = ReadRule(stairText + "whenever: {}\n")
	require.NotNil(t, mistake)
	assert.Contains(t, mistake.Message, "each field once")
	data, err := json.Marshal(doc)
	require.NoError(t, err)
	again, _, mistake := ReadRule(string(data))
	require.Nil(t, mistake, "JSON is read as well")
	assert.Equal(t, doc, again)
}

func TestWhatIsWrongInATextIsSaidAtItsPlace(t *testing.T) {
	for _, c := range []struct {
		text         string
		line, column int
		message      string
	}{
		{"title: [", 1, 1, "no YAML"},
		{"", 1, 1, "Write a rule"},
		{"- a", 1, 1, "list of fields"},
		{"title: a\nenabled: true\ndo: []\ncolour: 1", 4, 1, `no field "colour"`},
		{"title: a\ndo:\n  - kind: wait\n    forSeconds: long", 4, 5, "cannot be a string"},
		{"title: &a x\nnote: *a", 1, 8, "no anchors"},
		{"title: a\ntitle: b", 2, 1, "each field once"},
		{"title: .inf", 1, 1, "a number that is none"},
		{"title: !!binary aGk=", 1, 8, "plain values"},
		{strings.Repeat("a", maximumRuleText+1), 1, 1, "too long"},
	} {
		doc, _, mistake := ReadRule(c.text)
		assert.Nil(t, doc)
		if assert.NotNil(t, mistake, c.text) {
			assert.Contains(t, mistake.Message, c.message)
			assert.Equal(t, [2]int{c.line, c.column}, [2]int{mistake.Line, mistake.Column}, c.text)
		}
	}
}

func FuzzReadRule(f *testing.F) {
	f.Add(stairText)
	f.Add(`{"title":"a","enabled":true,"do":[{"kind":"set","value":{"x":0.1,"y":0.2}}]}`)
	f.Add("title: a\ndo:\n  - {kind: repeat, do: [{kind: wait, forSeconds: 1e3}]}")
	f.Fuzz(func(t *testing.T, text string) {
		doc, node, mistake := ReadRule(text)
		if (doc == nil) == (mistake == nil) {
			t.Fatal("neither a rule nor a mistake, or both")
		}
		if doc == nil {
			return
		}
		_ = NodeAt(node, "do/0/value")
		said, err := TellRule(doc, title)
		if err != nil {
			t.Fatal(err)
		}
		again, _, mistake := ReadRule(said)
		if mistake != nil {
			t.Fatalf("what was told cannot be read: %+v\n%s", mistake, said)
		}
		before, _ := json.Marshal(doc)
		after, _ := json.Marshal(again)
		if string(before) != string(after) {
			t.Fatalf("%s\nbecame\n%s", before, after)
		}
	})
}
