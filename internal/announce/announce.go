// Package announce tells the home's network by multicast DNS (RFC 6762, RFC 6763) under which name the hub is reached, so that
// nobody has to know its address. It answers questions for this one name and service, and asks none.
package announce

import (
	"fmt"
	"log"
	"net"
	"net/netip"

	"github.com/hashicorp/mdns"

	"amvek/internal/machine"
)

// Options are what is announced, and where.
type Options struct {
	// Title is what the hub is called in lists of services.
	Title     string
	Port      uint16
	Encrypted bool
	Addresses []netip.Addr
	// Interface is where it is announced; nil is everywhere.
	Interface *net.Interface
}

// Start answers questions for the hub until it is closed.
func Start(o Options) (end func() error, err error) {
	addresses := make([]net.IP, 0, len(o.Addresses))
	for _, a := range o.Addresses {
		addresses = append(addresses, net.IP(a.AsSlice()))
	}
	service := "_http._tcp"
	if o.Encrypted {
		service = "_https._tcp"
	}
	zone, err := mdns.NewMDNSService(o.Title, service, "local.", machine.Announced+".", int(o.Port), addresses, []string{"path=/"})
	if err != nil {
		return nil, fmt.Errorf("describing the hub to its network: %w", err)
	}
	server, err := mdns.NewServer(&mdns.Config{Zone: zone, Iface: o.Interface, Logger: log.New(discard{}, "", 0)})
	if err != nil {
		return nil, fmt.Errorf("announcing the hub on its network: %w", err)
	}
	return server.Shutdown, nil
}

// discard takes what the library says of questions that are not for it.
type discard struct{}

func (discard) Write(p []byte) (int, error) { return len(p), nil }
