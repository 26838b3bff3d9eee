package docs

import (
	"net"
	"net/url"
	"strings"

	"amvek/core/document"
)

// ConnectionKind says over which protocol a connection goes: one that belongs to the hub, or the kind of a driver.
type ConnectionKind string

// The kinds of the connections that belong to the hub.
const (
	HubBroker    ConnectionKind = "hubBroker"    // the hub's own MQTT broker
	LocalNetwork ConnectionKind = "localNetwork" // devices on the local network, found or at an address that was given
	WebThings    ConnectionKind = "webThings"    // devices that describe themselves, over HTTP
	WallPanels   ConnectionKind = "panels"       // tablets that were let in as panels
)

// Connection is the definition of a way to devices. Its key is kept apart, encrypted.
type Connection struct {
	Title   string         `json:"title" minLength:"1" maxLength:"80"`
	Kind    ConnectionKind `json:"kind" minLength:"1" maxLength:"40" doc:"hubBroker, localNetwork, webThings and panels belong to the hub; the rest are of its drivers: broker, bridge, transceiver, directory."`
	Address string         `json:"address,omitempty" maxLength:"500" doc:"Host and port, or a whole address."`
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
		return document.Wrong("title", "a connection needs a name")
	}
	if strings.HasPrefix(c.Address, "http://") || strings.HasPrefix(c.Address, "https://") {
		if at, err := url.Parse(c.Address); err != nil || at.Host == "" || at.User != nil || strings.ContainsAny(c.Address, " \"") {
			return document.Wrong("address", "%q is no whole address, such as http://192.168.1.20/things", c.Address)
		}
		return nil
	}
	if c.Address != "" {
		if host, _, err := net.SplitHostPort(c.Address); err != nil || strings.ContainsAny(host, "@/?# ") {
			return document.Wrong("address", "%q is not host and port, such as 192.168.1.20:80", c.Address)
		}
	}
	return nil
}
