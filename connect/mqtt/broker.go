// Package mqtt is the hub's own MQTT broker and the connection to the radio gateways
// that join it. It turns topics and payloads into reports and events; it decides nothing.
package mqtt

import (
	"bytes"
	"crypto/subtle"
	"fmt"
	"log/slog"
	"math"
	"strings"
	"sync"
	"sync/atomic"

	mochi "github.com/mochi-mqtt/server/v2"
	"github.com/mochi-mqtt/server/v2/listeners"
	"github.com/mochi-mqtt/server/v2/packets"
)

// MaximumPayload is the largest packet the broker takes, in bytes.
const MaximumPayload = 64 << 10

// Client is who may join the broker: a name, its key, and topic filters it may
// publish to and subscribe to. What no filter allows is denied.
type Client struct {
	Name      string
	Key       string
	Publish   []string
	Subscribe []string
}

// Broker is the hub's own broker. Make one with [Listen].
type Broker struct {
	sent    atomic.Uint64
	server  *mochi.Server
	address string
	guard   *guard
}

// Listen starts a broker on an address such as 127.0.0.1:8421; port 0 takes any free port.
func Listen(address string, log *slog.Logger) (*Broker, error) {
	capabilities := mochi.NewDefaultServerCapabilities()
	capabilities.MaximumMessageExpiryInterval = 0 // retained states must not vanish after a day
	capabilities.MaximumPacketSize = MaximumPayload
	capabilities.MaximumSessionExpiryInterval = math.MaxUint16
	server := mochi.New(&mochi.Options{Capabilities: capabilities, Logger: log.With("part", "broker"), InlineClient: true})
	g := &guard{clients: map[string]Client{}}
	if err := server.AddHook(g, nil); err != nil {
		return nil, err
	}
	tcp := listeners.NewTCP(listeners.Config{ID: "tcp", Address: address})
	if err := server.AddListener(tcp); err != nil {
		return nil, fmt.Errorf("the MQTT broker cannot listen on %s; choose another address with --mqtt-listen: %w", address, err)
	}
	if err := server.Serve(); err != nil {
		return nil, fmt.Errorf("the MQTT broker cannot start: %w", err)
	}
	return &Broker{server: server, address: tcp.Address(), guard: g}, nil
}

// Address returns host and port.
func (b *Broker) Address() string { return b.address }

// Allow lets a client join, or changes what it may do.
func (b *Broker) Allow(c Client) {
	b.guard.mu.Lock()
	defer b.guard.mu.Unlock()
	b.guard.clients[c.Name] = c
}

// Forbid takes a client's leave to join away, and ends its connection.
func (b *Broker) Forbid(name string) {
	b.guard.mu.Lock()
	delete(b.guard.clients, name)
	b.guard.mu.Unlock()
	for _, c := range b.server.Clients.GetAll() {
		if string(c.Properties.Username) == name {
			_ = b.server.DisconnectClient(c, packets.ErrNotAuthorized)
		}
	}
}

// Sent returns how many messages the hub has published by itself.
func (b *Broker) Sent() uint64 { return b.sent.Load() }

// Publish publishes a message in the hub's own name.
func (b *Broker) Publish(topic string, payload []byte, retain bool) error {
	if err := b.server.Publish(topic, payload, retain, 0); err != nil {
		return fmt.Errorf("the message could not be published: %w", err)
	}
	return nil
}

// Close ends the broker and its connections.
func (b *Broker) Close() error { return b.server.Close() }

// guard admits known clients to their own topics, and nobody else anywhere.
type guard struct {
	mochi.HookBase
	mu      sync.RWMutex
	clients map[string]Client
}

func (g *guard) ID() string { return "guard" }

func (g *guard) Provides(b byte) bool {
	return bytes.Contains([]byte{mochi.OnConnectAuthenticate, mochi.OnACLCheck}, []byte{b})
}

func (g *guard) OnConnectAuthenticate(_ *mochi.Client, p packets.Packet) bool {
	g.mu.RLock()
	defer g.mu.RUnlock()
	c, known := g.clients[string(p.Connect.Username)]
	return known && c.Key != "" && subtle.ConstantTimeCompare([]byte(c.Key), p.Connect.Password) == 1
}

func (g *guard) OnACLCheck(client *mochi.Client, topic string, write bool) bool {
	g.mu.RLock()
	defer g.mu.RUnlock()
	c := g.clients[string(client.Properties.Username)]
	filters := c.Subscribe
	if write {
		filters = c.Publish
	}
	for _, f := range filters {
		if covers(f, topic) {
			return true
		}
	}
	return false
}

// covers reports whether every topic that the second filter matches is matched by the first.
func covers(filter, asked string) bool {
	have, want := strings.Split(filter, "/"), strings.Split(asked, "/")
	for i, part := range have {
		if part == "#" {
			return true
		}
		if i >= len(want) || want[i] == "#" {
			return false
		}
		if part != "+" && part != want[i] {
			return false
		}
	}
	return len(have) == len(want)
}
