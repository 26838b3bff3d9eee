package hub

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A key of before, which was its text alone, goes on doing what it did.
func TestAKeyOfBeforeMayAllThatProgramsMay(t *testing.T) {
	var keys map[string]clientKey
	require.NoError(t, json.Unmarshal([]byte(`{"old":"secret","new":{"key":"other","scope":"read","rooms":["hall"]}}`), &keys))
	assert.Equal(t, map[string]clientKey{
		"old": {"secret", ClientMay{Scope: ScopeSetUp}}, "new": {"other", ClientMay{Scope: ScopeRead, Rooms: []string{"hall"}}},
	}, keys)
	data, err := json.Marshal(keys)
	require.NoError(t, err)
	var again map[string]clientKey
	require.NoError(t, json.Unmarshal(data, &again))
	assert.Equal(t, keys, again)
}
