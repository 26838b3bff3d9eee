package views

import (
	"go/ast"
	"go/parser"
	"go/token"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cause"
)

// kindsOfCause reads the kinds of entries from the source, so that a new one is not forgotten.
func kindsOfCause(t *testing.T) (kinds []cause.Kind) {
	t.Helper()
	file, err := parser.ParseFile(token.NewFileSet(), "../../core/cause/cause.go", nil, 0)
	require.NoError(t, err)
	ast.Inspect(file, func(n ast.Node) bool {
		if spec, is := n.(*ast.ValueSpec); is {
			if of, is := spec.Type.(*ast.Ident); is && of.Name == "Kind" {
				value, err := strconv.Unquote(spec.Values[0].(*ast.BasicLit).Value)
				require.NoError(t, err)
				kinds = append(kinds, cause.Kind(value))
			}
		}
		return true
	})
	return kinds
}

// An entry without words of its own would be shown by the name of its kind in the program.
func TestEachKindOfEntryIsPutIntoWords(t *testing.T) {
	r, _, _, _ := newHome(t)
	kinds := kindsOfCause(t)
	require.Greater(t, len(kinds), 40)
	for _, kind := range kinds {
		words := r.Entry(cause.Entry{Kind: kind, Device: sensor, Name: "brightness"})
		assert.NotEqual(t, string(kind), words.Text)
		assert.NotContains(t, words.Text, "%!", "%s", kind)
		assert.NotEmpty(t, words.Tone)
	}
}
