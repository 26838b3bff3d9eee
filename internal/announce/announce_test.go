package announce_test

import (
	"net"
	"net/netip"
	"slices"
	"sync"
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
		one := asked(t, service, loopback)
		require.NotNil(t, one, service)
		assert.Equal(t, "amvek.local.", one.Host)
		assert.Equal(t, 8420, one.Port)
		assert.Equal(t, "127.0.0.1", one.AddrV4.String())
		assert.Contains(t, one.Name, "Mill")
		require.NoError(t, end())
	}
}

// asked returns what is found of a service, nil where nothing is.
func asked(t *testing.T, service string, on *net.Interface) *mdns.ServiceEntry {
	found := make(chan *mdns.ServiceEntry, 8)
	require.NoError(t, mdns.Query(&mdns.QueryParam{Service: service, Timeout: 500 * time.Millisecond, Entries: found, Interface: on, DisableIPv6: true}))
	select {
	case one := <-found:
		return one
	default:
		return nil
	}
}

func TestItIsAnnouncedAnewWhereTheMachineHasOtherAddresses(t *testing.T) {
	loopback, err := net.InterfaceByName("lo")
	require.NoError(t, err)
	var mu sync.Mutex
	at, looked := []netip.Addr{netip.MustParseAddr("127.0.0.1")}, 0
	addresses := func() []netip.Addr {
		mu.Lock()
		defer mu.Unlock()
		looked++
		return slices.Clone(at)
	}
	look := make(chan time.Time)
	end := announce.Follow(announce.Options{Title: "Mill", Port: 8420, Interface: loopback}, addresses, look, func(err error) { t.Error(err) })
	is := func(address string) {
		assert.Eventually(t, func() bool {
			one := asked(t, "_http._tcp", loopback)
			return one != nil && one.AddrV4.String() == address
		}, 10*time.Second, time.Millisecond)
	}
	is("127.0.0.1")
	mu.Lock()
	at = []netip.Addr{netip.MustParseAddr("127.0.0.5")}
	mu.Unlock()
	look <- time.Time{}
	is("127.0.0.5")
	end()
	mu.Lock()
	defer mu.Unlock()
	assert.Equal(t, 2, looked)
}
