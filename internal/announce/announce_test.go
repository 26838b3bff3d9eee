package announce_test

import (
	"net"
	"net/netip"
	"testing"
	"time"

	"github.com/hashicorp/mdns"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/internal/announce"
)

func TestTheHubIsFoundByItsName(t *testing.T) {
	loopback, err := net.InterfaceByName("lo")
	require.NoError(t, err)
	at := netip.MustParseAddr("127.0.0.1")
	for service, encrypted := range map[string]bool{"_http._tcp": false, "_https._tcp": true} {
		end, err := announce.Start(announce.Options{
			Title: "Old Weir Mill", Port: 8420, Encrypted: encrypted, Addresses: []netip.Addr{at}, Interface: loopback,
		})
		require.NoError(t, err)
		found := make(chan *mdns.ServiceEntry, 8)
		require.NoError(t, mdns.Query(&mdns.QueryParam{
			Service: service, Timeout: 500 * time.Millisecond, Entries: found, Interface: loopback, DisableIPv6: true,
		}))
		require.NotEmpty(t, found, service)
		one := <-found
		assert.Equal(t, "amvek.local.", one.Host)
		assert.Equal(t, 8420, one.Port)
		assert.Equal(t, "127.0.0.1", one.AddrV4.String())
		assert.Contains(t, one.Name, "Mill")
		require.NoError(t, end())
	}
}
