package main

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The law through the whole engine: whatever is done here and at the wall, no relay is ever told to power its
// motor both ways, or to turn it without a rest.
func TestNoRelayEverBurns(t *testing.T) {
	acts := 10_000
	if testing.Short() {
		acts = 2_000
	}
	commands, err := hammer(acts)
	require.NoError(t, err)
	assert.Greater(t, commands, acts/10, "the relays had something to do")
}
