// Package machine knows by which names and addresses this machine is reached on its networks. It asks the machine alone.
package machine

import (
	"net"
	"net/netip"
	"os"
	"slices"
	"strings"
	"sync"
	"time"
)

// askedAgain is how often the machine is asked: its addresses change as it joins networks.
const askedAgain = 30 * time.Second

// Announced is the name by which the hub announces itself on the home's network (RFC 6762).
const Announced = "amvek.local"

// Names are those by which this machine is reached. The zero value is useful; its methods may be called from any goroutine.
type Names struct {
	mu        sync.Mutex
	asked     time.Time
	hosts     []string
	addresses []netip.Addr
}

// All returns the names, in small letters, and the addresses, those of the machine alone included.
func (n *Names) All() (hosts []string, addresses []netip.Addr) {
	n.mu.Lock()
	defer n.mu.Unlock()
	if n.asked.IsZero() || time.Since(n.asked) >= askedAgain {
		n.asked = time.Now()
		n.hosts, n.addresses = hostNames(), interfaceAddresses()
	}
	return slices.Clone(n.hosts), slices.Clone(n.addresses)
}

// Has reports whether a host is this machine: one of its names, or an address of it.
func (n *Names) Has(host string) bool {
	hosts, addresses := n.All()
	host = strings.ToLower(strings.TrimSuffix(strings.Trim(host, "[]"), "."))
	if ip, err := netip.ParseAddr(host); err == nil {
		ip = ip.Unmap().WithZone("")
		return ip.IsLoopback() || slices.Contains(addresses, ip)
	}
	return slices.Contains(hosts, host)
}

func hostNames() []string {
	hosts := []string{"localhost", Announced}
	name, err := os.Hostname()
	if err != nil {
		return hosts
	}
	name = strings.ToLower(strings.TrimSuffix(name, "."))
	short, _, _ := strings.Cut(name, ".")
	for _, host := range []string{name, short + ".local"} {
		if short != "" && !slices.Contains(hosts, host) {
			hosts = append(hosts, host)
		}
	}
	return hosts
}

func interfaceAddresses() []netip.Addr {
	addresses := []netip.Addr{}
	all, err := net.InterfaceAddrs()
	if err != nil {
		return addresses
	}
	for _, one := range all {
		prefix, err := netip.ParsePrefix(one.String())
		if ip := prefix.Addr().Unmap().WithZone(""); err == nil && !slices.Contains(addresses, ip) {
			addresses = append(addresses, ip)
		}
	}
	return addresses
}
