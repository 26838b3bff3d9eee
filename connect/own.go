package connect

import (
	"net"
	"net/netip"
)

// OwnAddress reports whether an address is one of this machine, or good only on its own link (RFC 3927, RFC 4291 §2.5.6).
func OwnAddress(at netip.Addr) bool {
	if at.IsLoopback() || at.IsUnspecified() || at.IsLinkLocalUnicast() || at.IsMulticast() {
		return true
	}
	here, err := net.InterfaceAddrs()
	if err != nil {
		return false
	}
	for _, one := range here {
		if prefix, err := netip.ParsePrefix(one.String()); err == nil && prefix.Addr().Unmap() == at {
			return true
		}
	}
	return false
}

// OwnHost reports whether a host is this machine by its address, or by the name localhost. Other names are not looked up.
func OwnHost(host string) bool {
	at, err := netip.ParseAddr(host)
	return host == "localhost" || (err == nil && OwnAddress(at.Unmap()))
}
