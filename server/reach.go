package server

import (
	"cmp"
	"context"
	"net"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gofiber/fiber/v3"

	"amvek/hub"
)

// authorityPath is where devices fetch what they are to trust.
const authorityPath = "/authority.crt"

// Reach is how the hub is reached from the household.
type Reach struct {
	Addresses []string `json:"addresses" doc:"Where browsers open the hub."`
	// Beyond says that others than this machine reach it.
	Beyond    bool `json:"beyond" doc:"Whether others than the hub's own machine reach it."`
	Encrypted bool `json:"encrypted"`
	// Fingerprint is that of the authority that devices have to trust, the SHA-256 of its certificate.
	Fingerprint string `json:"fingerprint,omitempty" doc:"Of the hub's own certificate authority: the SHA-256 of its certificate, at /authority.crt."`
	// Proxies are those that are believed, of the settings.
	Proxies []string `json:"proxies" doc:"Proxies whose forwarded headers are believed, by the settings of the hub."`
	hub.Admitted
}

// scheme is that of the hub's addresses.
func (s *Server) scheme() string {
	if s.tls != nil {
		return "https"
	}
	return "http"
}

// URL is where a browser of this machine opens the hub.
func (s *Server) URL() string {
	host, port, err := net.SplitHostPort(s.Address())
	if err != nil {
		return s.scheme() + "://" + s.Address()
	}
	if ip := net.ParseIP(host); ip != nil && ip.IsUnspecified() {
		host = "localhost"
	}
	return s.scheme() + "://" + net.JoinHostPort(host, port)
}

func (s *Server) registerReach(api huma.API) {
	get(s, api, "reach", "/reach", "How the hub is reached from the household", func(context.Context) (Reach, error) { return s.reach(), nil })
	operation(s, api, "admit", http.MethodPatch, "/reach/admitted", "Let names and pages of other origins reach the hub, or no longer",
		func(ctx context.Context, in *struct{ Body hub.Admission }) (*body[Reach], error) {
			if err := s.hub.Admit(ctx, in.Body); err != nil {
				return nil, err
			}
			is := s.hub.Admitted()
			s.hub.WayIn(ctx, by(ctx), "changed what reaches the hub: "+cmp.Or(strings.Join(slices.Concat(is.Hosts, is.Origins), ", "), "nothing besides its own names"))
			return &body[Reach]{s.reach()}, nil
		})
}

func (s *Server) reach() Reach {
	r := Reach{
		Addresses: []string{}, Encrypted: s.tls != nil, Beyond: CheckLoopback(s.Address()) != nil, Proxies: []string{}, Admitted: s.hub.Admitted(),
	}
	for _, proxy := range s.proxies {
		r.Proxies = append(r.Proxies, proxy.String())
	}
	if s.authority != nil {
		r.Fingerprint = s.authority.Fingerprint()
	}
	host, port, err := net.SplitHostPort(s.Address())
	if err != nil {
		return r
	}
	all := []string{host}
	if ip := net.ParseIP(host); ip != nil && ip.IsUnspecified() {
		hosts, addresses := s.names.All()
		all = nil
		for _, name := range hosts {
			if name != "localhost" {
				all = append(all, name)
			}
		}
		for _, ip := range addresses {
			if !ip.IsLoopback() && !ip.IsLinkLocalUnicast() {
				all = append(all, ip.String())
			}
		}
	}
	for _, one := range all {
		r.Addresses = append(r.Addresses, s.scheme()+"://"+net.JoinHostPort(one, port))
	}
	return r
}

// authorityFile serves the certificate of the hub's own authority, which is no secret.
func (s *Server) authorityFile() {
	s.app.Get(authorityPath, func(c fiber.Ctx) error {
		if s.authority == nil {
			return fiber.NewError(http.StatusNotFound, "This hub has no certificate authority of its own; start it with --tls auto.")
		}
		c.Set("Content-Disposition", `attachment; filename="amvek-authority.crt"`)
		c.Set("Content-Type", "application/x-x509-ca-cert")
		return c.Send(s.authority.Certificate())
	})
}
