package discovery

import (
	"context"
	"net"
	"strconv"
	"strings"
	"time"

	"github.com/miekg/dns"
	"golang.org/x/net/ipv4"
)

// multicast is where services are asked for (RFC 6762 §3).
var multicast = &net.UDPAddr{IP: net.IPv4(224, 0, 0, 251), Port: 5353}

// answersAt asks for services on one interface and takes the answers that come straight back (RFC 6762 §5.4). It works where
// the machine has no route to anywhere, such as without any network, in which nobody can listen to what is told to all.
func (n Network) answersAt(ctx context.Context, service string, wait time.Duration) []Service {
	conn, err := net.ListenUDP("udp4", &net.UDPAddr{IP: net.IPv4zero})
	if err != nil {
		return nil
	}
	defer func() { _ = conn.Close() }()
	if ipv4.NewPacketConn(conn).SetMulticastInterface(n.Interface) != nil {
		return nil
	}
	ask := new(dns.Msg)
	ask.SetQuestion(service+"."+n.Domain+".", dns.TypePTR)
	ask.Question[0].Qclass |= 1 << 15 // to be answered straight
	ask.RecursionDesired = false
	question, err := ask.Pack()
	if err != nil {
		return nil
	}
	if _, err := conn.WriteToUDP(question, multicast); err != nil {
		return nil
	}
	until := time.Now().Add(wait)
	if limit, has := ctx.Deadline(); has && limit.Before(until) {
		until = limit
	}
	_ = conn.SetReadDeadline(until)
	stop := context.AfterFunc(ctx, func() { _ = conn.Close() })
	defer stop()
	found := map[string]Service{}
	buffer := make([]byte, 64<<10)
	for {
		length, err := conn.Read(buffer)
		if err != nil {
			break // its time is over
		}
		answer := new(dns.Msg)
		if answer.Unpack(buffer[:length]) == nil {
			gather(answer, service, found)
		}
	}
	list := make([]Service, 0, len(found))
	for _, s := range found {
		list = append(list, s)
	}
	return list
}

// gather takes the services of an answer: where each is, and what it tells of itself (RFC 6763).
func gather(answer *dns.Msg, service string, found map[string]Service) {
	places, told, addresses := map[string]*dns.SRV{}, map[string]map[string]string{}, map[string]string{}
	for _, record := range append(append(append([]dns.RR{}, answer.Answer...), answer.Ns...), answer.Extra...) {
		switch r := record.(type) {
		case *dns.SRV:
			places[r.Hdr.Name] = r
		case *dns.TXT:
			told[r.Hdr.Name] = texts(r.Txt)
		case *dns.A:
			addresses[r.Hdr.Name] = r.A.String()
		}
	}
	for name, place := range places {
		if address := addresses[place.Target]; address != "" && strings.Contains(name, service) {
			found[name] = Service{Name: name, Address: net.JoinHostPort(address, strconv.Itoa(int(place.Port))), Texts: told[name]}
		}
	}
}
