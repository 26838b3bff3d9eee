package main

import (
	"crypto/tls"
	"fmt"
	"net/netip"
	"slices"
	"time"

	"amvek/hub"
	"amvek/internal/certificates"
	"amvek/internal/machine"
	"amvek/server"
)

// encrypt has the server encrypt, where the settings say so.
func encrypt(s settings, h *hub.Hub, o *server.Options) error {
	o.Names = &machine.Names{}
	switch {
	case s.tlsCert != "":
		certificate, err := tls.LoadX509KeyPair(s.tlsCert, s.tlsKey)
		if err != nil {
			return fmt.Errorf("the certificate cannot be used: %w", err)
		}
		o.TLS = &tls.Config{MinVersion: tls.VersionTLS12, Certificates: []tls.Certificate{certificate}}
	case s.tls == "auto":
		authority, err := certificates.Open(s.data, h.Title()+", Amvek", namesOf(h, o.Names), time.Now)
		if err != nil {
			return err
		}
		o.TLS, o.Authority = &tls.Config{MinVersion: tls.VersionTLS12, GetCertificate: authority.Get}, authority
	}
	return nil
}

// namesOf returns by which names and addresses the hub is reached: those of the machine, and those that its owner added.
func namesOf(h *hub.Hub, machine *machine.Names) func() (hosts []string, addresses []netip.Addr) {
	return func() (hosts []string, addresses []netip.Addr) {
		hosts, addresses = machine.All()
		for _, host := range h.Admitted().Hosts {
			ip, err := netip.ParseAddr(host)
			switch {
			case err != nil && !slices.Contains(hosts, host):
				hosts = append(hosts, host)
			case err == nil && !slices.Contains(addresses, ip):
				addresses = append(addresses, ip)
			}
		}
		return hosts, addresses
	}
}
