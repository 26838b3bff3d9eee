package docs

import (
	"errors"
	"fmt"
	"net"
	"strings"
)

// ConnectionKind says over which protocol a connection goes.
type ConnectionKind string

// The kinds of connection.
const (
	HubBroker      ConnectionKind = "hubBroker"      // the hub's own MQTT broker
	LocalNetwork   ConnectionKind = "localNetwork"   // devices that answer a search on the network
	OtherBroker    ConnectionKind = "broker"         // an MQTT broker elsewhere
	WebThings      ConnectionKind = "webThings"      // devices that describe themselves, over HTTP
	LumbrookBridge ConnectionKind = "lumbrookBridge" // a bridge over HTTP
	Transceiver    ConnectionKind = "transceiver"    // one-way radio by a transceiver over TCP
)

// Connection is the definition of a way to devices. Its key is kept apart, encrypted.
type Connection struct {
	Title   string         `json:"title" minLength:"1" maxLength:"80"`
	Kind    ConnectionKind `json:"kind" enum:"hubBroker,broker,localNetwork,webThings,lumbrookBridge,transceiver"`
	Address string         `json:"address,omitempty" maxLength:"255"`
	Serial  string         `json:"serial,omitempty"`
	// User goes with a broker's password; TLS and Authority (a PEM certificate) say how it is trusted.
	User      string `json:"user,omitempty" maxLength:"200"`
	TLS       bool   `json:"tls,omitempty"`
	Authority string `json:"authority,omitempty" maxLength:"20000"`
	// Paused says that the owner does not want it to run for now.
	Paused bool `json:"paused,omitempty"`
}

// Check returns an error when the connection could not be used.
func (c *Connection) Check() error {
	if strings.TrimSpace(c.Title) == "" {
		return errors.New("title: a connection needs a name")
	}
	if c.Address != "" {
		if host, _, err := net.SplitHostPort(c.Address); err != nil || strings.ContainsAny(host, "@/?# ") {
			return fmt.Errorf("address: %q is not host and port, such as 192.168.1.20:80", c.Address)
		}
	}
	return nil
}
