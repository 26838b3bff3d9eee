package server

import (
	"net"
	"net/netip"
	"os"
	"strings"
	"sync"
	"time"
)

// askedAgain is how often the machine is asked for its names and addresses: they change as it joins networks.
const askedAgain = 30 * time.Second

// names are those by which this machine is reached on its networks. The zero value is useful.
type names struct {
	mu    sync.Mutex
	asked time.Time
	hosts map[string]bool
	ips   map[netip.Addr]bool
}

// has reports whether a name is the machine's, in small letters.
func (n *names) has(host string) bool {
	n.mu.Lock()
	defer n.mu.Unlock()
	n.ask()
	return n.hosts[strings.TrimSuffix(host, ".")]
}

// addresses reports whether an address is the machine's.
func (n *names) addresses(ip netip.Addr) bool {
	n.mu.Lock()
	defer n.mu.Unlock()
	n.ask()
	return n.ips[ip.Unmap().WithZone("")]
}

func (n *names) ask() {
	if time.Since(n.asked) < askedAgain {
		return
	}
	n.asked, n.hosts, n.ips = time.Now(), map[string]bool{"amvek.local": true}, map[netip.Addr]bool{}
	if name, err := os.Hostname(); err == nil {
		name = strings.ToLower(strings.TrimSuffix(name, "."))
		short, _, _ := strings.Cut(name, ".")
		n.hosts[name], n.hosts[short+".local"] = true, true
	}
	all, err := net.InterfaceAddrs()
	if err != nil {
		return
	}
	for _, one := range all {
		if prefix, err := netip.ParsePrefix(one.String()); err == nil {
			n.ips[prefix.Addr().Unmap().WithZone("")] = true
		}
	}
}
