// Package mqtt is the hub's own MQTT broker and the connection to the radio gateways
// that join it. It turns topics and payloads into reports and events; it decides nothing.
package mqtt

import (
	"errors"
	"fmt"
	"log/slog"
	"math"
	"sync/atomic"
	"time"

	mochi "github.com/mochi-mqtt/server/v2"

	"amvek/internal/listen"
)

// What one client, and all together, may take of the broker.
const (
	// MaximumPayload is the largest packet the broker takes, in bytes.
	MaximumPayload = 64 << 10
	// MaximumRetained is how many topics of one client the broker remembers, and MaximumRetainedBytes how much of all.
	MaximumRetained      = 1000
	MaximumRetainedBytes = 16 << 20
	// MaximumSubscriptions is how many filters one client may subscribe to.
	MaximumSubscriptions = 200
	// MaximumSessions is how many sessions one client may have, those included that wait for it to come back.
	MaximumSessions = 8
	// maximumWaiting is how many messages wait at most for a client that does not read, or that acknowledges none.
	maximumWaiting = 1024
	// signIn is within what time a client must say who it is, and unread how long it may leave what is sent to it unread.
	signIn = 10 * time.Second
	unread = 10 * time.Second
	// closing is how long clients are given to be told that the broker ends.
	closing = time.Second
)

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
	sent     atomic.Uint64
	server   *mochi.Server
	listener *listen.Listener
	guard    *guard
}

// Listen starts a broker on an address such as 127.0.0.1:8421; port 0 takes any free port.
func Listen(address string, log *slog.Logger) (*Broker, error) {
	capabilities := mochi.NewDefaultServerCapabilities()
	capabilities.MaximumMessageExpiryInterval = 0 // retained states must not vanish after a day
	capabilities.MaximumPacketSize = MaximumPayload
	capabilities.MaximumSessionExpiryInterval = math.MaxUint16
	capabilities.MaximumInflight = maximumWaiting
	capabilities.MaximumClientWritesPending = maximumWaiting
	capabilities.TopicAliasMaximum = 0  // what a topic alias stands for would be looked up after the rights are
	capabilities.SharedSubAvailable = 0 // who shares a subscription takes messages from the others who do
	server := mochi.New(&mochi.Options{Capabilities: capabilities, Logger: log.With("part", "broker"), InlineClient: true})
	g := newGuard(server)
	if err := server.AddHook(g, nil); err != nil {
		return nil, err
	}
	listener, err := listen.Open(address, listen.Bounds{Connections: listen.Share(0.2, 16, 500), FirstWord: signIn, Write: unread}, log)
	if err != nil {
		return nil, fmt.Errorf("the MQTT broker cannot listen on %s; choose another address with --mqtt-listen: %w", address, err)
	}
	if err := server.AddListener(&acceptor{listener: listener, server: server}); err != nil {
		return nil, errors.Join(fmt.Errorf("the MQTT broker cannot start: %w", err), listener.Close())
	}
	if err := server.Serve(); err != nil {
		return nil, errors.Join(fmt.Errorf("the MQTT broker cannot start: %w", err), listener.Close())
	}
	return &Broker{server: server, listener: listener, guard: g}, nil
}

// Address returns host and port.
func (b *Broker) Address() string { return b.listener.Addr().String() }

// Allow lets a client join, or changes what it may do: what it has subscribed to and may no longer, it no longer hears.
func (b *Broker) Allow(c Client) { b.guard.allow(c) }

// Forbid takes a client's leave to join away, and ends its connections and sessions without their wills.
func (b *Broker) Forbid(name string) { b.guard.forbid(name) }

// Standing is how a client stands at the broker.
type Standing struct {
	// Connected is how many connections it has.
	Connected int
	// Refused is how often something was refused to it since the broker started, Why the last of it, and At when.
	Refused int
	Why     string
	At      time.Time
	// Dropped is how many messages to it were dropped since it did not read them.
	Dropped int
}

// Standing returns how each client stands, by its name; "" is whoever tried to join without a right to.
func (b *Broker) Standing() map[string]Standing { return b.guard.standings() }

// Sent returns how many messages the hub has published by itself.
func (b *Broker) Sent() uint64 { return b.sent.Load() }

// Publish publishes a message in the hub's own name.
func (b *Broker) Publish(topic string, payload []byte, retain bool) error {
	if err := b.server.Publish(topic, payload, retain, 0); err != nil {
		return fmt.Errorf("the message could not be published: %w", err)
	}
	return nil
}

// Close ends the broker and its connections, whatever they are doing.
func (b *Broker) Close() error {
	force := time.AfterFunc(closing, b.listener.CloseConnections)
	defer force.Stop()
	err := b.server.Close()
	b.listener.CloseConnections()
	return err
}
