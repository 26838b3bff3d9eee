package main

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net/url"
	"os"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/eclipse/paho.golang/autopaho"
	"github.com/eclipse/paho.golang/paho"

	"amvek/connect/mqtt"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/catalogue"
	"amvek/hub/docs"
	"amvek/store"
)

const (
	relayPairs   = 100 // sensor and lamp, so that no command overtakes another to the same lamp
	relaySeconds = 12
	relayTurn    = 2 // seconds for one, then for the other; even, so that each message is a change
	gateway      = "bench"
)

var relayModels = map[string]*thing.Model{
	"EYE": {
		Title: "Eye",
		Model: "EYE",
		What:  "eye",
		Description: thing.Description{
			Properties: []thing.Property{
				{Name: "motion", Title: "Motion", Type: thing.TypeBoolean},
				{Name: "count", Title: "Count", Type: thing.TypeNumber, Resolution: 0.5},
				{Name: "level", Title: "Level", Type: thing.TypeNumber, Unit: "%", Maximum: 100, Resolution: 1},
			},
			Events: []thing.Event{
				{Name: "key", Title: "Key", Role: thing.RolePress, Options: []string{"press", "hold"}},
				{Name: "turn", Title: "Turn", Role: thing.RoleTurn, Number: true},
			},
		},
		Natives: map[string]thing.Native{"motion": {Field: "mv"}, "count": {Field: "count"}, "level": {Field: "level"}},
		Signals: map[string]thing.Signal{"key": {Field: "kp"}, "turn": {Field: "tn"}},
	},
	"LAMP": {
		Title: "Lamp",
		Model: "LAMP",
		What:  "lamp",
		Description: thing.Description{Properties: []thing.Property{
			{Name: "power", Title: "Power", Type: thing.TypeBoolean, Writable: true},
			{Name: "level", Title: "Level", Type: thing.TypeNumber, Unit: "%", Maximum: 100, Resolution: 1, Writable: true},
		}},
		Natives: map[string]thing.Native{"power": {Field: "on"}, "level": {Field: "br"}},
	},
}

// post sends messages to numbered places and measures how long the answers to them take.
type post struct {
	client *autopaho.ConnectionManager
	// payload is what is said at each turn, from 0; nil is whether a sensor sees somebody.
	payload func(turn int) string
	mu      sync.Mutex
	sent    [relayPairs][]time.Time
	delays  []time.Duration
}

func (p *post) answered(place int) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if place < 0 || place >= relayPairs || len(p.sent[place]) == 0 {
		return
	}
	p.delays = append(p.delays, time.Since(p.sent[place][0]))
	p.sent[place] = p.sent[place][1:]
}

// run sends at a rate for some seconds and returns the delays, sorted.
func (p *post) run(ctx context.Context, rate, seconds int, topic func(place int) string) ([]time.Duration, error) {
	p.mu.Lock()
	p.delays, p.sent = nil, [relayPairs][]time.Time{}
	p.mu.Unlock()
	total := rate * seconds
	began := time.Now()
	for i := range total {
		time.Sleep(time.Until(began.Add(time.Duration(i) * time.Second / time.Duration(rate))))
		place := i % relayPairs
		turn := i / relayPairs
		payload := fmt.Sprintf(`{"mv":%d}`, (turn+1)%2)
		if p.payload != nil {
			payload = p.payload(turn)
		}
		p.mu.Lock()
		p.sent[place] = append(p.sent[place], time.Now())
		p.mu.Unlock()
		if _, err := p.client.Publish(ctx, &paho.Publish{Topic: topic(place), Payload: []byte(payload)}); err != nil {
			return nil, err
		}
	}
	for range 200 { // the last answers are on their way
		p.mu.Lock()
		got := len(p.delays)
		p.mu.Unlock()
		if got == total {
			break
		}
		time.Sleep(10 * time.Millisecond)
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	if len(p.delays) < total*99/100 {
		return nil, fmt.Errorf("only %d of %d messages were answered", len(p.delays), total)
	}
	slices.Sort(p.delays)
	return p.delays, nil
}

func join(ctx context.Context, broker, name, key string, topics []string, heard func(topic string, payload []byte)) (*autopaho.ConnectionManager, error) {
	address, err := url.Parse("mqtt://" + broker)
	if err != nil {
		return nil, err
	}
	ready := make(chan error, 1)
	client, err := autopaho.NewConnection(ctx, autopaho.ClientConfig{
		ServerUrls: []*url.URL{address}, KeepAlive: 20, ConnectUsername: name, ConnectPassword: []byte(key),
		OnConnectionUp: func(c *autopaho.ConnectionManager, _ *paho.Connack) {
			var subscriptions []paho.SubscribeOptions
			for _, t := range topics {
				subscriptions = append(subscriptions, paho.SubscribeOptions{Topic: t})
			}
			var err error
			if len(subscriptions) > 0 {
				_, err = c.Subscribe(ctx, &paho.Subscribe{Subscriptions: subscriptions})
			}
			ready <- err
		},
		ClientConfig: paho.ClientConfig{ClientID: rand.Text(), OnPublishReceived: []func(paho.PublishReceived) (bool, error){
			func(p paho.PublishReceived) (bool, error) {
				heard(p.Packet.Topic, p.Packet.Payload)
				return true, nil
			},
		}},
	})
	if err != nil {
		return nil, err
	}
	select {
	case err := <-ready:
		return client, err
	case <-time.After(10 * time.Second):
		return nil, errors.New("the broker did not answer")
	}
}

func place(topic string, before string) int {
	n := -1
	_, rest, _ := strings.Cut(topic, before)
	_, _ = fmt.Sscanf(rest, "%d", &n)
	return n
}

// measureRelay measures from a report going in to the command coming out, over MQTT, through the
// whole hub; and beside it a bare client that relays messages on the same broker.
func measureRelay(ctx context.Context) ([]figure, error) {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	folder, err := os.MkdirTemp("", "amvek-bench-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(folder) }()
	log := slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: slog.LevelWarn}))
	kept, err := store.Open(ctx, folder, log)
	if err != nil {
		return nil, err
	}
	defer func() { _ = kept.Close() }()
	broker, err := mqtt.Listen("127.0.0.1:0", log)
	if err != nil {
		return nil, err
	}
	defer func() { _ = broker.Close() }()
	broker.Allow(mqtt.Client{Name: gateway, Key: gateway, Publish: []string{"#"}, Subscribe: []string{"#"}})
	find := func(model string) *thing.Model { return relayModels[model] }
	h, err := hub.Start(
		ctx,
		hub.Options{
			Store:     kept,
			Clock:     &hub.WallClock{},
			Log:       log,
			Catalogue: catalogue.New(nil),
			Standing: []hub.Standing{
				{ID: hub.GatewaysID, Definition: docs.Connection{Title: "Wire", Kind: docs.HubBroker}, Connection: mqtt.NewGateways(broker, find)},
			},
		},
	)
	if err != nil {
		return nil, err
	}
	defer h.Close()

	p := &post{}
	p.client, err = join(ctx, broker.Address(), gateway, gateway, []string{"quillet/" + gateway + "/+/ask"}, func(topic string, _ []byte) {
		p.answered(place(topic, "/lamp"))
	})
	if err != nil {
		return nil, err
	}
	bare, closeBare, err := bareRelay(ctx, broker.Address())
	if err != nil {
		return nil, err
	}
	defer closeBare()
	devices, err := furnish(ctx, h, p.client)
	if err != nil {
		return nil, err
	}
	var figures []figure
	for _, rate := range []int{100, 1000} {
		beside, err := relayed(ctx, bare, p, rate, func(share string) string { return fmt.Sprintf("relay_%s_ms_%d", share, rate) })
		if err != nil {
			return nil, err
		}
		figures = append(figures, beside...)
	}
	if err := moreRules(ctx, h, devices); err != nil {
		return nil, err
	}
	beside, err := relayed(ctx, bare, p, 100, func(share string) string { return "rule_" + share + "_ms" })
	return append(figures, beside...), err
}

// relayed measures the bare relay and the hub at a rate, in turn and a few times, since a shared machine is quicker at
// some seconds than at others.
func relayed(ctx context.Context, bare, through *post, rate int, name func(share string) string) ([]figure, error) {
	var floors, delays []time.Duration
	for range relaySeconds / relayTurn {
		more, err := bare.run(ctx, rate, relayTurn, bareTopic)
		if err != nil {
			return nil, fmt.Errorf("the bare relay: %w", err)
		}
		floors = append(floors, more...)
		more, err = through.run(ctx, rate, relayTurn, func(i int) string { return fmt.Sprintf("quillet/%s/eye%d/say", gateway, i) })
		if err != nil {
			return nil, fmt.Errorf("the hub: %w", err)
		}
		delays = append(delays, more...)
	}
	slices.Sort(floors)
	slices.Sort(delays)
	var figures []figure
	for _, q := range []struct {
		name  string
		share float64
	}{{"p50", 0.5}, {"p99", 0.99}} {
		at := func(d []time.Duration) float64 {
			return float64(d[int(float64(len(d)-1)*q.share)].Microseconds()) / 1000
		}
		floor := at(floors)
		figures = append(figures, figure{Name: name(q.name), Value: at(delays), Unit: "ms", Floor: &floor})
	}
	return figures, nil
}

// ruleCount is how many rules are there when rules are measured.
const ruleCount = 2000

// moreRules adds rules about the same sensors until there are so many, with conditions that each report may change.
func moreRules(ctx context.Context, h *hub.Hub, devices []string) error {
	var rules []hub.New
	for i := range ruleCount - 2*relayPairs {
		eye, lamp := devices[2*(i%relayPairs)], devices[2*(i*7%relayPairs)+1]
		rules = append(rules, hub.New{Kind: docs.KindRule, ID: fmt.Sprintf("rule-more-%d", i), Document: &rule.Rule{Title: "More", Enabled: true,
			Whenever: &rule.Condition{All: []rule.Condition{
				{Device: eye, Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)},
				{Device: eye, Property: "count", Comparison: rule.Above, Value: thing.Number(float64(1000 + i))},
			}},
			Do: []rule.Step{{Kind: rule.StepHold, Device: lamp, Property: "power", Value: thing.Boolean(true)}},
		}})
	}
	if _, err := h.SaveAll(ctx, rules); err != nil {
		return err
	}
	return h.Quiet(ctx)
}

func bareTopic(i int) string { return fmt.Sprintf("relay/in/%d", i) }

// bareRelay joins a broker with a client that sends and one that relays, with nothing between them.
func bareRelay(ctx context.Context, broker string) (p *post, stop func(), err error) {
	ctx, stop = context.WithCancel(ctx)
	var relay *autopaho.ConnectionManager
	relay, err = join(ctx, broker, gateway, gateway, []string{"relay/in/+"}, func(topic string, payload []byte) {
		out := strings.Replace(topic, "/in/", "/out/", 1)
		go func() { _, _ = relay.Publish(ctx, &paho.Publish{Topic: out, Payload: payload}) }()
	})
	if err != nil {
		stop()
		return nil, nil, err
	}
	p = &post{}
	p.client, err = join(ctx, broker, gateway, gateway, []string{"relay/out/+"}, func(topic string, _ []byte) { p.answered(place(topic, "relay/out/")) })
	if err != nil {
		stop()
		return nil, nil, err
	}
	return p, stop, nil
}

// furnish adds the devices and, for each pair, the rules by which the lamp follows the sensor.
// It returns the devices' ids, sensor and lamp in turn.
func furnish(ctx context.Context, h *hub.Hub, client *autopaho.ConnectionManager) ([]string, error) {
	return furnishWith(ctx, h, client, hub.GatewaysID, func(i int) string { return fmt.Sprintf("lamp%d", i) })
}

// furnishWith is furnish with lamps of another connection. It returns the devices' ids, sensor and lamp in turn.
func furnishWith(ctx context.Context, h *hub.Hub, client *autopaho.ConnectionManager, connection string, lamp func(i int) string) ([]string, error) {
	if _, err := h.Save(ctx, hub.New{Kind: docs.KindHome, ID: docs.HomeID, Document: &home.Home{Title: "Bench", Zone: "UTC", NamePattern: "{what}"}}); err != nil {
		return nil, err
	}
	type node struct {
		Node     string `json:"node"`
		Model    string `json:"model"`
		Hardware string `json:"hardware"`
	}
	var nodes []node
	var adding []hub.Adding
	for i := range relayPairs {
		for _, of := range []string{"eye", "lamp"} {
			name := fmt.Sprintf("%s%d", of, i)
			if of == "lamp" && connection != hub.GatewaysID {
				adding = append(adding, hub.Adding{Connection: connection, Hardware: lamp(i), Title: name})
				continue
			}
			nodes = append(nodes, node{name, strings.ToUpper(of), name})
			adding = append(adding, hub.Adding{Connection: hub.GatewaysID, Hardware: name, Title: name})
		}
	}
	roster, err := json.Marshal(map[string]any{"nodes": nodes})
	if err != nil {
		return nil, err
	}
	if _, err := client.Publish(ctx, &paho.Publish{Topic: "quillet/" + gateway + "/roster", Payload: roster, QoS: 1}); err != nil {
		return nil, err
	}
	for {
		found, err := h.Found(ctx)
		if err != nil {
			return nil, err
		}
		if len(found.Devices) >= len(adding) {
			break
		}
		time.Sleep(10 * time.Millisecond)
	}
	ids, err := h.Add(ctx, adding)
	if err != nil {
		return nil, err
	}
	var rules []hub.New
	for i := range relayPairs {
		eye, lamp := ids[2*i], ids[2*i+1]
		for _, on := range []bool{true, false} {
			id := fmt.Sprintf("rule-%d-%t", i, on)
			rules = append(rules, hub.New{Kind: docs.KindRule, ID: id, Document: &rule.Rule{Title: id, Enabled: true,
				When: []rule.Trigger{{Device: eye, Property: "motion", Comparison: rule.Is, Value: thing.Boolean(on)}},
				Do:   []rule.Step{{Kind: rule.StepSet, Device: lamp, Property: "power", Value: thing.Boolean(on)}},
			}})
		}
	}
	if _, err := h.SaveAll(ctx, rules); err != nil {
		return nil, err
	}
	// Every sensor has said something once, so that each message of the measurement is a change.
	for i := range relayPairs {
		if _, err := client.Publish(ctx, &paho.Publish{Topic: fmt.Sprintf("quillet/%s/eye%d/say", gateway, i), Payload: []byte(`{"mv":0}`), QoS: 1}); err != nil {
			return nil, err
		}
	}
	return ids, h.Quiet(ctx)
}
