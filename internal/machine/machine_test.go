package machine_test

import (
	"net/netip"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/internal/machine"
)

func TestTheMachineKnowsItsNames(t *testing.T) {
	var names machine.Names
	for _, own := range []string{"localhost", "LOCALHOST", "127.0.0.1", "[::1]", "::1", "127.0.0.9", "amvek.local", "amvek.local."} {
		assert.True(t, names.Has(own), own)
	}
	for _, foreign := range []string{"", "evil.example", "127.0.0.1.evil.example", "localhost.evil.example", "192.0.2.1", "[2001:db8::1]", "local", "amvek"} {
		assert.False(t, names.Has(foreign), foreign)
	}
	hosts, addresses := names.All()
	assert.Contains(t, addresses, netip.MustParseAddr("127.0.0.1"))
	name, err := os.Hostname()
	require.NoError(t, err)
	assert.Contains(t, hosts, strings.ToLower(name))
	for _, ip := range addresses {
		assert.True(t, names.Has(ip.String()), ip)
	}
	hosts[0] = "evil.example"
	assert.False(t, names.Has("evil.example"), "what is given out is a copy")
}
