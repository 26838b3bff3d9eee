package outside_test

import (
	"context"
	"net"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect/outside"
)

func TestThisMachineIsCalledOnlyWhereThatIsAllowed(t *testing.T) {
	server := httptest.NewServer(http.HandlerFunc(func(http.ResponseWriter, *http.Request) {}))
	defer server.Close()
	_, port, err := net.SplitHostPort(server.Listener.Addr().String())
	require.NoError(t, err)
	addresses := []string{
		server.URL,
		"http://localhost:" + port,
		"http://0.0.0.0:" + port,
		"http://[::ffff:127.0.0.1]:" + port,
		"http://169.254.1.1/",
		"http://[fe80::1]/",
	}
	own, err := net.InterfaceAddrs()
	require.NoError(t, err)
	for _, one := range own {
		if ip, _, err := net.ParseCIDR(one.String()); err == nil {
			addresses = append(addresses, "http://"+net.JoinHostPort(ip.String(), port))
		}
	}
	for _, address := range addresses {
		_, err := outside.Web(context.Background(), outside.Client(false), outside.Request{Address: address})
		assert.ErrorContains(t, err, "this machine itself", address)
	}
	_, err = outside.Web(context.Background(), outside.Client(true), outside.Request{Address: server.URL})
	assert.NoError(t, err)
}
