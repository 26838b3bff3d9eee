// Package discovery finds services on the local network by DNS-SD over multicast DNS
// (RFC 6762, RFC 6763). It only finds; it speaks with nobody.
package discovery

import (
	"context"
	"io"
	"log"
	"net"
	"strconv"
	"strings"
	"time"

	"github.com/hashicorp/mdns"
)

// Network is where services are looked for.
type Network struct {
	// Domain is usually "local"; empty looks nowhere.
	Domain string
	// Interface is the one to ask on; nil leaves it to the system.
	Interface *net.Interface
}

// Service is one that answered.
type Service struct {
	Name    string
	Address string
	Texts   map[string]string
}

// Browse asks who offers a service, such as _wot._tcp, and returns who answered within the time.
func (n Network) Browse(ctx context.Context, service string, wait time.Duration) []Service {
	if n.Domain == "" {
		return nil
	}
	const most = 256
	entries := make(chan *mdns.ServiceEntry, most)
	done := make(chan []Service)
	go func() {
		found := map[string]Service{}
		for e := range entries {
			if strings.Contains(e.Name, service) && e.AddrV4 != nil {
				found[e.Name] = Service{Name: e.Name, Address: net.JoinHostPort(e.AddrV4.String(), strconv.Itoa(e.Port)), Texts: texts(e.InfoFields)}
			}
		}
		var list []Service
		for _, s := range found {
			list = append(list, s)
		}
		done <- list
	}()
	params := &mdns.QueryParam{
		Service:     service,
		Domain:      n.Domain,
		Interface:   n.Interface,
		Timeout:     wait,
		Entries:     entries,
		DisableIPv6: true,
		Logger:      log.New(io.Discard, "", 0),
	}
	err := mdns.QueryContext(ctx, params)
	close(entries)
	list := <-done
	if err != nil && n.Interface != nil {
		return n.answersAt(ctx, service, wait)
	}
	return list // without multicast there is nothing to find; the next search tries again
}

func texts(fields []string) map[string]string {
	all := map[string]string{}
	for _, field := range fields {
		if key, value, ok := strings.Cut(field, "="); ok {
			all[key] = value
		}
	}
	return all
}
