package hub_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTheOwnerIsToldWhoTriesToComeIn(t *testing.T) {
	h, _ := withThings(t, t.TempDir())
	tried := func() (said []string) {
		needs, err := h.Needs(t.Context())
		require.NoError(t, err)
		for _, n := range needs {
			if n.Kind == "tried" {
				said = append(said, n.Title+" "+n.Text)
			}
		}
		return said
	}
	h.Tried(t.Context(), "a wrong password for Nell", "192.168.1.7", 4)
	assert.Empty(t, tried(), "anybody may err")
	h.Tried(t.Context(), "a wrong password for Nell", "192.168.1.7", 5)
	h.Tried(t.Context(), "a wrong password for Nell", "192.168.1.8", 6)
	h.Tried(t.Context(), "a wrong owner's code", "192.168.1.8", 9)
	said := tried()
	require.Len(t, said, 2)
	all := strings.Join(said, "\n")
	assert.Contains(t, all, "A wrong password for Nell, 6 times in a row. The last came from 192.168.1.8.")
	assert.Contains(t, all, "A wrong owner's code, 9 times in a row.")
	require.NoError(t, h.SeenTried(t.Context()))
	assert.Empty(t, tried())
}
