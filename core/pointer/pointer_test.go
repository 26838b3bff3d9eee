package pointer_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/pointer"
)

// The examples of RFC 6901 §5, and what is not there.
func TestPartsAreFoundAsTheStandardSays(t *testing.T) {
	var document any
	require.NoError(t, json.Unmarshal([]byte(`{"foo":["bar","baz"],"":0,"a/b":1,"c%d":2,"m~n":8}`), &document))
	for at, want := range map[string]any{"": document, "/foo/0": "bar", "/": 0.0, "/a~1b": 1.0, "/c%d": 2.0, "/m~0n": 8.0} {
		got, err := pointer.At(document, at)
		require.NoError(t, err, at)
		assert.Equal(t, want, got, at)
	}
	for _, at := range []string{"/none", "/foo/2", "/foo/-1", "/foo/01", "/foo/x", "/foo/0/deep"} {
		_, err := pointer.At(document, at)
		assert.ErrorIs(t, err, pointer.ErrAbsent, at)
	}
}

func TestNamesAreWrittenAndReadBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		name := rapid.StringMatching(`[~/01a]{0,8}`).Draw(t, "name")
		assert.Equal(t, name, pointer.Unescape(pointer.Escape(name)))
		found, err := pointer.At(map[string]any{name: true}, "/"+pointer.Escape(name))
		require.NoError(t, err)
		assert.Equal(t, true, found)
	})
}
