package server

import (
	"cmp"
	"fmt"
	"net"
	"net/http"
	"net/netip"
	"slices"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/cors"

	"amvek/hub/sessions"
)

// ParseProxies reads addresses of proxies, or networks of them (RFC 4632 §3.1), with commas between.
func ParseProxies(text string) ([]netip.Prefix, error) {
	var all []netip.Prefix
	for _, one := range strings.Split(text, ",") {
		one = strings.TrimSpace(one)
		if ip, err := netip.ParseAddr(one); err == nil {
			ip = ip.Unmap().WithZone("")
			all = append(all, netip.PrefixFrom(ip, ip.BitLen()))
			continue
		}
		network, err := netip.ParsePrefix(one)
		if err != nil {
			return nil, fmt.Errorf("%q is no address of a proxy, such as 192.168.1.2 or 10.0.0.0/8", one)
		}
		all = append(all, network.Masked())
	}
	return all, nil
}

// isProxy reports whether requests from an address are passed on by a proxy that is believed.
func (s *Server) isProxy(ip netip.Addr) bool {
	return slices.ContainsFunc(s.proxies, func(network netip.Prefix) bool { return network.Contains(ip) })
}

// passedOn returns the address of the proxy that passed a request on; it is false where none did that is believed.
func (s *Server) passedOn(c fiber.Ctx) (netip.Addr, bool) {
	if len(s.proxies) == 0 {
		return netip.Addr{}, false
	}
	ip, err := netip.ParseAddr(c.IP())
	if err != nil {
		return netip.Addr{}, false
	}
	ip = ip.Unmap().WithZone("")
	return ip, s.isProxy(ip)
}

// from returns where a request comes from.
func (s *Server) from(c fiber.Ctx) sessions.From {
	proxy, passed := s.passedOn(c)
	if !passed {
		return fromAddress(c.IP())
	}
	// Each proxy adds the address that it saw at the end: what stands before those of proxies that are believed is hearsay.
	seen := strings.Split(strings.Join(c.GetReqHeaders()["X-Forwarded-For"], ","), ",")
	for _, one := range slices.Backward(seen) {
		ip, err := netip.ParseAddr(strings.TrimSpace(one))
		if err != nil {
			break
		}
		if ip = ip.Unmap().WithZone(""); !s.isProxy(ip) || ip.IsLoopback() {
			return fromAddress(ip.String())
		}
	}
	// Whoever it is, the proxy's own machine is not taken for the hub's.
	return sessions.From{Address: proxy.String()}
}

func fromAddress(address string) sessions.From {
	ip, err := netip.ParseAddr(address)
	if err != nil {
		return sessions.From{Address: address}
	}
	ip = ip.Unmap()
	f := sessions.From{Address: ip.WithZone("").String(), Here: ip.IsLoopback()}
	if ip.Is6() && !f.Here {
		if network, err := ip.WithZone("").Prefix(64); err == nil {
			f.Address = network.String() // whoever has one address of it has them all
		}
	}
	return f
}

// forwarded returns what a proxy that is believed says of a request in a header, "" where none did.
func (s *Server) forwarded(c fiber.Ctx, header string) string {
	if _, passed := s.passedOn(c); !passed {
		return ""
	}
	values := strings.Split(c.Get(header), ",")
	return strings.TrimSpace(values[len(values)-1])
}

// host returns the host, with its port where it has one, that the browser asked for.
func (s *Server) host(c fiber.Ctx) string {
	return cmp.Or(s.forwarded(c, "X-Forwarded-Host"), c.Host())
}

// schemeOf returns by what a browser asked.
func (s *Server) schemeOf(c fiber.Ctx) string {
	if strings.EqualFold(s.forwarded(c, "X-Forwarded-Proto"), "https") {
		return "https"
	}
	return s.scheme()
}

// known refuses requests to names that are not the hub's: a page from elsewhere may have its own name lead here (DNS rebinding).
func (s *Server) known(c fiber.Ctx) error {
	for _, host := range []string{c.Host(), s.host(c)} {
		if !s.isOwn(host) {
			s.hub.KeptOut(c.Context(), fmt.Sprintf("a request to the name %.80q, which is not the hub's, from %s.", host, s.from(c).Address))
			return fiber.NewError(http.StatusForbidden, "This hub does not answer to this name. An owner can add it under Hub › On your network.")
		}
	}
	return c.Next()
}

// isOwn reports whether a host, with or without a port, is the hub's: an address of the machine, a name of it, or one that an
// owner added.
func (s *Server) isOwn(hostPort string) bool {
	host, _, err := net.SplitHostPort(hostPort)
	if err != nil {
		host = hostPort
	}
	host = strings.ToLower(strings.TrimSuffix(host, "."))
	return s.names.Has(host) || slices.Contains(s.hub.Admitted().Hosts, strings.Trim(host, "[]"))
}

// foreignKey is where a request keeps that it comes from a page of another origin, which an owner named.
const foreignKey = "foreign"

// ownPages refuses what a page from elsewhere asks for, by what browsers say of it (Fetch Metadata, and the Origin header of
// RFC 6454). Other programs say nothing of the kind, and need keys; so do pages of origins that an owner named.
func (s *Server) ownPages(c fiber.Ctx) error {
	site, origin := c.Get("Sec-Fetch-Site"), c.Get("Origin")
	_, host, _ := strings.Cut(origin, "://")
	foreign := site != "" && site != "same-origin" && site != "none" || origin != "" && !strings.EqualFold(host, s.host(c))
	switch {
	case !foreign || opensPage(c):
		return c.Next()
	case s.isNamed(origin) && !feeds(c):
		c.Locals(foreignKey, true)
		return c.Next()
	}
	s.hub.KeptOut(c.Context(), fmt.Sprintf("a page of %.80s, which asked for %s %.80s.", cmp.Or(origin, "elsewhere"), c.Method(), c.Path()))
	return fiber.NewError(http.StatusForbidden, "Pages from elsewhere may not use this hub.")
}

// isNamed reports whether an owner named an origin, whose pages may use the hub with a key.
func (s *Server) isNamed(origin string) bool {
	return origin != "" && slices.Contains(s.hub.Admitted().Origins, strings.ToLower(origin))
}

// feeds reports whether a connection is asked for that is not over with its answer: browsers show no key there.
func feeds(c fiber.Ctx) bool { return c.Path() == livePath || c.Path() == panelPath }

// elsewhere answers pages of the origins that an owner named (CORS of the Fetch standard). They show a key: neither cookies nor
// being at this machine count for them.
func (s *Server) elsewhere() fiber.Handler {
	return cors.New(cors.Config{
		Next:             func(c fiber.Ctx) bool { return c.Locals(foreignKey) == nil },
		AllowOriginsFunc: s.isNamed,
		AllowHeaders:     []string{"Authorization", "Content-Type", "If-None-Match"},
		ExposeHeaders:    []string{"ETag", "Retry-After"},
		MaxAge:           int((10 * time.Minute).Seconds()),
	})
}

// opensPage reports whether a link from elsewhere leads to a page of the front end.
func opensPage(c fiber.Ctx) bool {
	return c.Method() == fiber.MethodGet && c.Get("Sec-Fetch-Mode") == "navigate" && c.Get("Sec-Fetch-Dest") == "document" && c.Get("Origin") == "" &&
		!strings.HasPrefix(c.Path(), "/api/") && !strings.HasPrefix(c.Path(), "/things")
}

// rulesOf returns what an answer with a page of the front end allows the page, as the Content Security Policy says it: nothing
// but what comes from this hub, and styles that carry this nonce.
func rulesOf(nonce string) string {
	return "default-src 'self'; base-uri 'none'; object-src 'none'; form-action 'self'; style-src 'self' 'nonce-" + nonce +
		"'; img-src 'self' data: blob:; connect-src 'self'; frame-ancestors 'self'"
}
