package lan

import (
	"context"
	"encoding/json"
	"fmt"
	"net"
	"strconv"
	"time"

	"amvek/connect/discovery"
)

// sighting is a device that answered a search.
type sighting struct {
	Maker    string `json:"maker"`
	Model    string `json:"model"`
	Hardware string `json:"hardware"`
	Label    string `json:"label"`
	Firmware string `json:"firmware"`
	Port     int    `json:"port"`
	address  string
}

const maximumDatagram = 2048

// askAll broadcasts a question over UDP and returns who answered within the time.
func askAll(ctx context.Context, broadcast string, wait time.Duration) ([]sighting, error) {
	to, err := net.ResolveUDPAddr("udp4", broadcast)
	if err != nil {
		return nil, fmt.Errorf("%q is no address to broadcast to", broadcast)
	}
	socket, err := net.ListenUDP("udp4", &net.UDPAddr{})
	if err != nil {
		return nil, fmt.Errorf("the local network cannot be asked: %w", err)
	}
	defer func() { _ = socket.Close() }()
	if _, err := socket.WriteToUDP([]byte(`{"who":"marrowby"}`), to); err != nil {
		return nil, fmt.Errorf("the local network cannot be asked: %w", err)
	}
	deadline := time.Now().Add(wait)
	if limit, limited := ctx.Deadline(); limited && limit.Before(deadline) {
		deadline = limit
	}
	_ = socket.SetReadDeadline(deadline)
	var found []sighting
	buffer := make([]byte, maximumDatagram)
	for ctx.Err() == nil {
		size, from, err := socket.ReadFromUDP(buffer)
		if err != nil {
			return found, nil // the time is over
		}
		var s sighting
		if json.Unmarshal(buffer[:size], &s) != nil || s.Hardware == "" || s.Port < 1 || s.Port > 65535 {
			continue // a stray datagram
		}
		s.address = net.JoinHostPort(from.IP.String(), strconv.Itoa(s.Port))
		found = append(found, s)
	}
	return found, nil
}

// service is the DNS-SD name (RFC 6763) of devices that speak lines of text.
const service = "_voxmere._tcp"

// browse asks by multicast DNS who offers the service, and returns who answered within the time.
func browse(ctx context.Context, network discovery.Network, wait time.Duration) []sighting {
	var found []sighting
	for _, s := range network.Browse(ctx, service, wait) {
		if s.Texts["hw"] != "" {
			found = append(
				found,
				sighting{
					Maker:    s.Texts["maker"],
					Model:    s.Texts["model"],
					Hardware: s.Texts["hw"],
					Label:    s.Texts["label"],
					Firmware: s.Texts["fw"],
					address:  s.Address,
				},
			)
		}
	}
	return found
}
