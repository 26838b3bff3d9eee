package world

import (
	"net"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestABoxWhoseAddressIsTakenListensElsewhere(t *testing.T) {
	taken, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer func() { _ = taken.Close() }()
	var at net.Listener
	listen := func(address string) (err error) {
		at, err = net.Listen("tcp", address)
		return err
	}
	require.NoError(t, serve(taken.Addr().String(), listen))
	assert.NotEqual(t, taken.Addr().String(), at.Addr().String())
	require.NoError(t, at.Close())
	assert.Error(t, serve("127.0.0.1:nowhere", listen))
}
