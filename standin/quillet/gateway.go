// Package quillet is a pretend maker: battery sensors, contacts, a dial and relay modules
// behind a radio gateway that speaks JSON over MQTT to whatever broker it is told. Devices
// join it only while it is open for that. It uses the maker's own units (tenths of a lux,
// hundredths of a degree, half percents), its dial sends 50 messages a second, and one of its relay
// modules comes set up wrongly. It shares no code with the hub.
package quillet

import (
	"context"
	"encoding/json"
	"fmt"
	"net/url"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/eclipse/paho.golang/autopaho"
	"github.com/eclipse/paho.golang/paho"
)

// Gateway is the name of the pretend gateway, the second part of all its topics.
const Gateway = "g-41f0"

const (
	turnRate     = 50               // messages a second while the dial turns
	longestJoin  = 3 * time.Minute  // the gateway never stays open for longer
	offerLasts   = 60 * time.Second // a device looks for a gateway so long after its button was pressed
	tellLeftEach = 5 * time.Second  // how often the open gateway tells how long it stays open
)

// Radio is the pretend gateway with its devices.
type Radio struct {
	mu        sync.Mutex
	now       func() time.Time
	house     Surroundings
	client    *autopaho.ConnectionManager
	devices   []*device
	nextNode  int // number of the next device that joins anew
	measureAt time.Time
	openUntil time.Time // for joining; zero while shut
	tellAt    time.Time
	answers   chan answer
	echoes    atomic.Uint64
	echoed    chan uint64 // the last echo that came back and was dealt with
	changed   func()
	shutters  sync.Map // how far open they are, in percent, by room
	lamps     sync.Map // the light that they give, by node
}

// New returns a gateway whose devices sense the surroundings.
func New(now func() time.Time, house Surroundings, changed func()) *Radio {
	r := &Radio{now: now, house: house, changed: changed, nextNode: 60, answers: make(chan answer, 256), echoed: make(chan uint64, 16)}
	for _, n := range Nodes {
		d := &device{Node: n, address: n.Node, joined: n.Joined, charge: float64(n.battery), chargedAt: now()}
		if w, drives := motors[n.Node]; drives {
			d.module = NewModule(w, now())
			if w.Crossed {
				d.module.Kind, d.module.Style = kindTwin, styleLatch
			}
		}
		r.devices = append(r.devices, d)
	}
	return r
}

// Connect joins a broker and keeps joined until the context ends. It returns once
// the first messages are through.
func (r *Radio) Connect(ctx context.Context, broker, user, password string) error {
	address, err := url.Parse(broker)
	if err != nil {
		return fmt.Errorf("the pretend Quillet gateway cannot use the broker address: %w", err)
	}
	config := autopaho.ClientConfig{
		ServerUrls: []*url.URL{address}, KeepAlive: 20, CleanStartOnInitialConnection: true,
		ConnectUsername: user, ConnectPassword: []byte(password),
		ReconnectBackoff: func(int) time.Duration { return 200 * time.Millisecond },
		WillMessage:      &paho.WillMessage{Topic: topic("alive"), Payload: []byte("no"), Retain: true, QoS: 1},
		OnConnectionUp: func(client *autopaho.ConnectionManager, _ *paho.Connack) {
			_, _ = client.Subscribe(
				ctx,
				&paho.Subscribe{Subscriptions: []paho.SubscribeOptions{{Topic: topic("+", "ask"), QoS: 1}, {Topic: topic("ask"), QoS: 1}}},
			)
			r.announce(ctx, client)
		},
		ClientConfig: paho.ClientConfig{
			ClientID: Gateway,
			OnPublishReceived: []func(paho.PublishReceived) (bool, error){func(p paho.PublishReceived) (bool, error) {
				r.asked(ctx, p.Packet.Topic, p.Packet.Payload)
				return true, nil
			}},
		},
	}
	go r.answer(ctx)
	client, err := autopaho.NewConnection(ctx, config)
	if err != nil {
		return fmt.Errorf("the pretend Quillet gateway cannot connect: %w", err)
	}
	r.mu.Lock()
	r.client = client
	r.mu.Unlock()
	if err := client.AwaitConnection(ctx); err != nil {
		return fmt.Errorf("the pretend Quillet gateway cannot reach the broker: %w", err)
	}
	return nil
}

func topic(parts ...string) string {
	return strings.Join(append([]string{"quillet", Gateway}, parts...), "/")
}

// announce says everything, as after the gateway joined the broker.
func (r *Radio) announce(ctx context.Context, client *autopaho.ConnectionManager) {
	r.mu.Lock()
	messages := []message{r.roster(), r.joining()}
	now := r.now()
	for _, d := range r.devices {
		if d.Model == motionSensor {
			d.moving = r.house.Somebody(d.Spot)
		}
		messages = r.saying(messages, d, now)
	}
	r.measureAt = now.Add(measureEvery)
	r.mu.Unlock()
	messages = append(messages, alive)
	for _, m := range messages {
		send(ctx, client, m)
	}
}

type message struct {
	topic   string
	payload []byte
	retain  bool
}

var alive = message{topic("alive"), []byte("yes"), true}

func send(ctx context.Context, client *autopaho.ConnectionManager, m message) {
	_, _ = client.Publish(ctx, &paho.Publish{Topic: m.topic, Payload: m.payload, Retain: m.retain, QoS: 1})
}

func (r *Radio) publish(ctx context.Context, messages ...message) {
	r.mu.Lock()
	client := r.client
	r.mu.Unlock()
	if client == nil {
		return
	}
	for _, m := range messages {
		send(ctx, client, m)
	}
}

// roster, joining and saying make messages; r.mu is held.
func (r *Radio) roster() message {
	type entry struct {
		Node     string `json:"node"`
		Model    string `json:"model"`
		Hardware string `json:"hardware"`
		Label    string `json:"label"`
		Firmware string `json:"firmware"`
	}
	list := []entry{}
	for _, d := range r.devices {
		if d.joined {
			list = append(list, entry{d.address, d.Model, d.Hardware, d.Label, firmware[d.Model]})
		}
	}
	payload, _ := json.Marshal(map[string]any{"nodes": list})
	return message{topic("roster"), payload, true}
}

func (r *Radio) joining() message {
	left := r.openUntil.Sub(r.now())
	payload, _ := json.Marshal(map[string]any{"open": left > 0, "left": max(0, int(left.Seconds()+0.5))})
	return message{topic("joining"), payload, true}
}

// saying appends what a device says about all of itself, after what its buttons did.
func (r *Radio) saying(messages []message, d *device, now time.Time) []message {
	body := d.sense(r.house, now)
	if d.module != nil {
		r.shutters.Store(d.Spot, d.module.Place)
	}
	d.said, d.saidAt = body, now
	var clicks []click
	if d.module != nil {
		clicks = d.module.told()
	}
	if !d.joined || d.mute(now) {
		return messages
	}
	for _, c := range clicks {
		messages = append(messages, d.clicked("b", c.button, c.down))
	}
	payload, _ := json.Marshal(body)
	return append(messages, message{topic(d.address, "say"), payload, true})
}

// Next returns when a device, or the gateway, will next speak by itself.
func (r *Radio) Next() time.Time {
	r.mu.Lock()
	defer r.mu.Unlock()
	next := r.measureAt
	for _, d := range r.devices {
		if d.moving && !d.clearAt.IsZero() && d.clearAt.Before(next) {
			next = d.clearAt
		}
		if d.module != nil {
			if at, ok := d.module.Next(); ok && at.Before(next) {
				next = at
			}
		}
	}
	if !r.openUntil.IsZero() && r.tellAt.Before(next) {
		next = r.tellAt
	}
	return next
}

// Wake lets the devices say what is new at this moment, and returns when the broker has it.
// It reports whether anything was said.
func (r *Radio) Wake(ctx context.Context) bool {
	r.mu.Lock()
	now := r.now()
	messages := r.windowNews(now)
	measures := !now.Before(r.measureAt)
	if measures {
		r.measureAt = now.Add(measureEvery)
	}
	for _, d := range r.devices {
		if d.Model == motionSensor {
			d.move(r.house, now)
		}
		if !d.joined && !r.openUntil.IsZero() && now.Before(d.offered) {
			r.join(d)
			messages = append(messages, r.roster())
			messages = r.saying(messages, d, now)
			continue
		}
		if d.joined && d.news(d.sense(r.house, now), now) {
			messages = r.saying(messages, d, now)
		}
	}
	r.mu.Unlock()
	r.publish(ctx, messages...)
	if len(messages) > 0 {
		// The broker takes a client's messages one after the other, so once it has this one all
		// before it have reached whoever listens.
		r.publish(ctx, alive)
	}
	return len(messages) > 0
}

// windowNews shuts the gateway when its time is over, and tells how long it stays open.
func (r *Radio) windowNews(now time.Time) []message {
	switch {
	case r.openUntil.IsZero() || now.Before(r.tellAt):
		return nil
	case !now.Before(r.openUntil):
		r.openUntil = time.Time{}
		go r.changed()
	default:
		r.tellAt = now.Add(min(tellLeftEach, r.openUntil.Sub(now)))
	}
	return []message{r.joining()}
}

// join puts a device on the roster, under a new number if it had one before.
func (r *Radio) join(d *device) {
	d.joined, d.offered = true, time.Time{}
	if d.address == "" {
		d.address = fmt.Sprintf("n%d", r.nextNode)
		r.nextNode++
	}
	go r.changed()
}

// Settle returns when everything that was asked of the gateway before has been dealt with: what it asks itself
// comes back behind all that, since a broker keeps the order.
func (r *Radio) Settle(ctx context.Context) {
	ctx, stop := context.WithTimeout(ctx, 2*time.Second)
	defer stop()
	echo := r.echoes.Add(1)
	r.publish(ctx, message{topic("ask"), []byte(fmt.Sprintf(`{"echo":%d}`, echo)), false})
	for {
		select {
		case back := <-r.echoed:
			if back >= echo {
				return
			}
		case <-ctx.Done():
			return
		}
	}
}

// Turn turns the dial by so many notches, right where positive, as fast as a hand does.
func (r *Radio) Turn(ctx context.Context, notches int) {
	step, count := 1, notches
	if notches < 0 {
		step, count = -1, -notches
	}
	ticker := time.NewTicker(time.Second / turnRate)
	defer ticker.Stop()
	for range count {
		r.dialSays(ctx, fmt.Sprintf(`{"tn":%d}`, step))
		select {
		case <-ticker.C:
		case <-ctx.Done():
			return
		}
	}
}

// PressDial presses the dial.
func (r *Radio) PressDial(ctx context.Context) { r.dialSays(ctx, `{"pr":1}`) }

func (r *Radio) dialSays(ctx context.Context, body string) {
	for _, d := range r.devices {
		r.mu.Lock()
		at, speaks := d.address, d.Model == dial && d.joined && !d.mute(r.now())
		r.mu.Unlock()
		if speaks {
			r.publish(ctx, message{topic(at, "say"), []byte(body), false})
		}
	}
}
