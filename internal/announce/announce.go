// Package announce tells the home's network by multicast DNS (RFC 6762, RFC 6763) under which name the hub is reached, so that
// nobody has to know its address. It answers questions for this one name and service, and asks none.
package announce

import (
	"fmt"
	"log"
	"net"
	"net/netip"
	"slices"
	"time"

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

// Follow announces the hub at the addresses that a function returns, anew whenever they are others, until it is ended. It looks
// at them each time the channel says so. What goes wrong is told.
func Follow(o Options, addresses func() []netip.Addr, look <-chan time.Time, wrong func(error)) (end func()) {
	done, ended := make(chan struct{}), make(chan struct{})
	go func() {
		defer close(ended)
		stop := func() error { return nil }
		var at []netip.Addr
		for first := true; ; first = false {
			if now := addresses(); first || !slices.Equal(now, at) {
				_ = stop()
				at, o.Addresses = now, now
				started, err := Start(o)
				if stop = started; err != nil {
					wrong(err)
					stop = func() error { return nil }
				}
			}
			select {
			case <-look:
			case <-done:
				_ = stop()
				return
			}
		}
	}()
	return func() { close(done); <-ended }
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
