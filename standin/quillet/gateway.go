// Package quillet is a pretend maker: battery sensors, a contact and a dial behind a
// radio gateway that speaks JSON over MQTT to whatever broker it is told. It uses
// the maker's own units (tenths of a lux, hundredths of a degree, half percents), and its
// dial sends 50 messages a second. It shares no code with the hub.
package quillet

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"net/url"
	"slices"
	"sync"
	"time"

	"github.com/eclipse/paho.golang/autopaho"
	"github.com/eclipse/paho.golang/paho"
)

// Gateway is the name of the pretend gateway, the second part of all its topics.
const Gateway = "g-41f0"

const (
	clearAfter  = 20 * time.Second // a motion sensor reports clear so long after the last movement
	lightEvery  = 5 * time.Minute  // light is measured so often, and at once when a lamp changes it much
	warmthEvery = 5 * time.Minute
	turnRate    = 50  // messages a second while the dial turns
	tooWarm     = 0.7 // °C by which the thermometer reads wrong: it wants calibration
)

// Surroundings are what the devices sense.
type Surroundings interface {
	Light(room string, at time.Time) float64
	Warmth(room string) float64
	Person() string
	DoorOpen() bool
}

// Radio is the pretend gateway with its devices.
type Radio struct {
	mu         sync.Mutex
	now        func() time.Time
	house      Surroundings
	client     *autopaho.ConnectionManager
	moving     bool
	clearAt    time.Time
	lightAt    time.Time
	lastLight  float64
	warmthAt   time.Time
	lastWarmth float64
	lastDoor   bool
	blinked    map[string]time.Time
	silent     map[string]bool // nodes that do not speak though nothing else is wrong
	changed    func()
}

// Node names a pretend device behind the gateway.
type Node struct {
	Node     string `json:"node"`
	Model    string `json:"model"`
	Hardware string `json:"hardware"`
	Label    string `json:"label"`
	// Spot is where it hangs in the house; the gateway does not tell.
	Spot string `json:"-"`
}

// Nodes are the pretend devices.
var Nodes = []Node{
	{"n31", "QM-2", "qt-7f-10-31", "QM-2 Presence Node 31", "Landing"},
	{"n32", "QK-1", "qt-7f-10-32", "QK-1 Reed Node 32", "Hall"},
	{"n33", "QT-1", "qt-7f-10-33", "QT-1 Climate Node 33", "Galley"},
	{"n34", "QD-1", "qt-7f-10-34", "QD-1 Rotary Node 34", "Galley"},
}

// New returns a gateway whose devices sense the surroundings.
func New(now func() time.Time, house Surroundings, changed func()) *Radio {
	return &Radio{now: now, house: house, changed: changed, blinked: map[string]time.Time{}, silent: map[string]bool{}, lastLight: -1}
}

// Connect joins a broker and keeps joined until the context ends. It returns once
// the first messages are through.
func (r *Radio) Connect(ctx context.Context, broker, user, password string) error {
	address, err := url.Parse(broker)
	if err != nil {
		return fmt.Errorf("the pretend Quillet gateway cannot use the broker address: %w", err)
	}
	r.mu.Lock()
	r.moving = r.house.Person() == "Landing"
	r.mu.Unlock()
	config := autopaho.ClientConfig{
		ServerUrls: []*url.URL{address}, KeepAlive: 20, CleanStartOnInitialConnection: true,
		ConnectUsername: user, ConnectPassword: []byte(password),
		ReconnectBackoff: func(int) time.Duration { return 200 * time.Millisecond },
		WillMessage:      &paho.WillMessage{Topic: topic("alive"), Payload: []byte("no"), Retain: true, QoS: 1},
		OnConnectionUp: func(client *autopaho.ConnectionManager, _ *paho.Connack) {
			_, _ = client.Subscribe(ctx, &paho.Subscribe{Subscriptions: []paho.SubscribeOptions{{Topic: topic("+", "ask"), QoS: 1}}})
			r.announce(ctx, client)
		},
		ClientConfig: paho.ClientConfig{ClientID: Gateway, OnPublishReceived: []func(paho.PublishReceived) (bool, error){r.asked}},
	}
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
	t := "quillet/" + Gateway
	for _, p := range parts {
		t += "/" + p
	}
	return t
}

func (r *Radio) announce(ctx context.Context, client *autopaho.ConnectionManager) {
	roster, _ := json.Marshal(map[string]any{"nodes": Nodes})
	_, _ = client.Publish(ctx, &paho.Publish{Topic: topic("roster"), Payload: roster, Retain: true, QoS: 1})
	_, _ = client.Publish(ctx, &paho.Publish{Topic: topic("alive"), Payload: []byte("yes"), Retain: true, QoS: 1})
	r.mu.Lock()
	messages := r.all()
	r.mu.Unlock()
	for _, m := range messages {
		r.publish(ctx, m)
	}
}

type message struct {
	node   string
	body   map[string]int
	retain bool
}

func (r *Radio) publish(ctx context.Context, m message) {
	r.mu.Lock()
	client, silent := r.client, r.silent[m.node]
	r.mu.Unlock()
	if client == nil || silent {
		return
	}
	payload, _ := json.Marshal(m.body)
	_, _ = client.Publish(ctx, &paho.Publish{Topic: topic(m.node, "say"), Payload: payload, Retain: m.retain, QoS: 1})
}

func flag(b bool) int {
	if b {
		return 1
	}
	return 0
}

// all returns what every device says about itself now; r.mu is held.
func (r *Radio) all() []message {
	now := r.now()
	r.lastLight, r.lastWarmth, r.lastDoor = r.house.Light("Landing", now), r.house.Warmth("Galley")+tooWarm, r.house.DoorOpen()
	r.lightAt, r.warmthAt = now.Add(lightEvery), now.Add(warmthEvery)
	return []message{
		{"n31", map[string]int{"mv": flag(r.moving), "lx": tenths(r.lastLight), "bt": 174}, true},
		{"n32", map[string]int{"op": flag(r.lastDoor), "bt": 191}, true},
		{"n33", map[string]int{"tc": int(math.Round(r.lastWarmth * 100)), "bt": 122}, true},
		{"n34", map[string]int{"bt": 200}, true},
	}
}

func tenths(lux float64) int { return int(math.Round(lux * 10)) }

// Next returns when a device will next speak by itself.
func (r *Radio) Next() time.Time {
	r.mu.Lock()
	defer r.mu.Unlock()
	next := r.lightAt
	if r.warmthAt.Before(next) {
		next = r.warmthAt
	}
	if r.moving && !r.clearAt.IsZero() && r.clearAt.Before(next) {
		next = r.clearAt
	}
	return next
}

// Wake lets the devices say what is new at this moment, and returns when the broker has it.
// It reports whether anything was said.
func (r *Radio) Wake(ctx context.Context) bool {
	r.mu.Lock()
	now := r.now()
	var messages []message
	say := func(node, key string, value int) {
		for i := range messages {
			if messages[i].node == node {
				messages[i].body[key] = value
				return
			}
		}
		messages = append(messages, message{node, map[string]int{key: value}, true})
	}
	here := r.house.Person() == "Landing"
	switch {
	case here && !r.moving:
		r.moving, r.clearAt = true, time.Time{}
		say("n31", "mv", 1)
	case here:
		r.clearAt = time.Time{}
	case r.moving && r.clearAt.IsZero():
		r.clearAt = now.Add(clearAfter)
	case r.moving && !now.Before(r.clearAt):
		r.moving, r.clearAt = false, time.Time{}
		say("n31", "mv", 0)
	}
	lux := r.house.Light("Landing", now)
	if much := math.Abs(lux-r.lastLight) > math.Max(1.5, 0.15*r.lastLight); much || !now.Before(r.lightAt) {
		r.lastLight, r.lightAt = lux, now.Add(lightEvery)
		say("n31", "lx", tenths(lux))
	}
	if warmth := r.house.Warmth("Galley") + tooWarm; math.Abs(warmth-r.lastWarmth) >= 0.2 || !now.Before(r.warmthAt) {
		r.lastWarmth, r.warmthAt = warmth, now.Add(warmthEvery)
		say("n33", "tc", int(math.Round(warmth*100)))
	}
	if open := r.house.DoorOpen(); open != r.lastDoor {
		r.lastDoor = open
		say("n32", "op", flag(open))
	}
	// What a retained message leaves out would be forgotten by whoever joins later: each is whole.
	for i := range messages {
		r.complete(&messages[i])
	}
	r.mu.Unlock()
	for _, m := range messages {
		r.publish(ctx, m)
	}
	if len(messages) > 0 {
		r.beat(ctx)
	}
	return len(messages) > 0
}

// beat tells that the gateway is alive. The broker takes a client's messages one after the
// other, so once it has this one all before it have reached whoever listens.
func (r *Radio) beat(ctx context.Context) {
	r.mu.Lock()
	client := r.client
	r.mu.Unlock()
	if client != nil {
		_, _ = client.Publish(ctx, &paho.Publish{Topic: topic("alive"), Payload: []byte("yes"), Retain: true, QoS: 1})
	}
}

func (r *Radio) complete(m *message) {
	add := func(key string, value int) {
		if _, there := m.body[key]; !there {
			m.body[key] = value
		}
	}
	switch m.node {
	case "n31":
		add("mv", flag(r.moving))
		add("lx", tenths(r.lastLight))
		add("bt", 174)
	case "n32":
		add("bt", 191)
	case "n33":
		add("bt", 122)
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
		r.publish(ctx, message{"n34", map[string]int{"tn": step}, false})
		select {
		case <-ticker.C:
		case <-ctx.Done():
			return
		}
	}
}

// PressDial presses the dial.
func (r *Radio) PressDial(ctx context.Context) {
	r.publish(ctx, message{"n34", map[string]int{"pr": 1}, false})
}

func (r *Radio) asked(p paho.PublishReceived) (bool, error) {
	var body struct {
		Blink int `json:"blink"`
	}
	if json.Unmarshal(p.Packet.Payload, &body) != nil || body.Blink == 0 {
		return true, nil
	}
	r.mu.Lock()
	for _, n := range Nodes {
		if topic(n.Node, "ask") == p.Packet.Topic {
			r.blinked[n.Node] = r.now()
		}
	}
	r.mu.Unlock()
	go r.changed()
	return true, nil
}

// Silence lets a device fall silent, or speak again: then it says at once how things stand.
// The gateway itself goes on, as gateways do.
func (r *Radio) Silence(ctx context.Context, node string, silent bool) error {
	if !slices.ContainsFunc(Nodes, func(n Node) bool { return n.Node == node }) {
		return fmt.Errorf("the gateway has no device %q", node)
	}
	r.mu.Lock()
	r.silent[node] = silent
	messages := r.all()
	r.mu.Unlock()
	for _, m := range messages {
		if m.node == node {
			r.publish(ctx, m)
		}
	}
	r.changed()
	return nil
}

// Silent returns the nodes that have fallen silent.
func (r *Radio) Silent() map[string]bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	return maps.Clone(r.silent)
}

// Blinking returns the nodes whose light blinks at this moment.
func (r *Radio) Blinking() map[string]bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	nodes := map[string]bool{}
	for node, at := range r.blinked {
		if since := r.now().Sub(at); since >= 0 && since < 3*time.Second {
			nodes[node] = true
		}
	}
	return nodes
}

// Sensing returns whether the motion sensor says that somebody moves.
func (r *Radio) Sensing() bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	return r.moving
}
