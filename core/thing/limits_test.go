package thing_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/thing"
)

func TestColorsLieInTheTriangle(t *testing.T) {
	p := thing.Property{Name: "color", Title: "Color", Type: thing.TypeColor}
	for _, c := range []struct {
		x, y float64
		well bool
	}{
		{0, 1, true}, {0, 0, false}, {0.5, 0, false}, {1, 0.0001, true}, {1.01, 0.0001, false}, {-0.01, 0.5, false},
		{0, 1.01, false}, {0.5, 0.5, true}, {0.5, 0.5001, true}, {0.5, 0.51, false}, {0.3, 0.3, true}, {0.3, -0.1, false},
	} {
		assert.Equal(t, c.well, p.Check(thing.Color(c.x, c.y)) == nil, "%v %v", c.x, c.y)
	}
	assert.Error(t, p.Check(thing.Number(0.3)))
}

func TestWhatCannotBeReadIsSaidAtItsPlace(t *testing.T) {
	for _, c := range []struct {
		text         string
		line, column int
		message      string
	}{
		{"{\n  \"a\": x\n}", 2, 8, "not JSON"},
		{"{\"a\": ]}", 1, 7, "not JSON"},
		{"[]", 1, 1, "must be a JSON object"},
		{"{\n", 2, 1, "ends too early"},
		{"", 1, 1, "ends too early"},
		{`{"a":` + strings.Repeat("[", 63) + strings.Repeat("]", 63) + `,"title":3}`, 0, 0, "title"},
		{`{"a":` + strings.Repeat("[", 64) + strings.Repeat("]", 64) + `}`, 1, 70, "nested more than 64 deep"},
		{"{\"x\":\"" + strings.Repeat("y", thing.MaximumDocument), 1, 1, "at most"},
	} {
		_, err := thing.ParseModel([]byte(c.text))
		require.Error(t, err)
		var wrong *thing.ProblemsError
		require.ErrorAs(t, err, &wrong)
		require.NotEmpty(t, wrong.Problems)
		if c.line > 0 {
			assert.Contains(t, wrong.Problems[0].Message, c.message)
			assert.Equal(t, []int{c.line, c.column}, []int{wrong.Problems[0].Line, wrong.Problems[0].Column}, wrong.Problems[0].Message)
		} else {
			assert.NotContains(t, wrong.Problems[0].Message, "nested")
		}
	}
}
