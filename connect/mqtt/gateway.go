package mqtt

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"sync"
	"time"

	mochi "github.com/mochi-mqtt/server/v2"
	"github.com/mochi-mqtt/server/v2/packets"

	"amvek/connect"
	"amvek/core/thing"
)

// Gateways is the connection to Quillet radio gateways on the hub's broker. Their topics are
//
//	quillet/GATEWAY/roster     the devices behind it, retained
//	quillet/GATEWAY/alive      yes, or no as its will
//	quillet/GATEWAY/NODE/say   what a device says
//	quillet/GATEWAY/NODE/ask   what a device is asked
type Gateways struct {
	broker   *Broker
	profiles func(model string) *thing.Model

	mu      sync.Mutex
	sink    connect.Sink
	rosters map[string][]connect.Announcement // by gateway
	byNode  map[string]connect.Announcement   // by address, gateway/node
	latest  map[string]map[string]any         // what each node last said, by address
}

const prefix = "quillet/"

// NewGateways returns the connection; profiles finds the profile of a model.
func NewGateways(broker *Broker, profiles func(model string) *thing.Model) *Gateways {
	return &Gateways{broker: broker, profiles: profiles, rosters: map[string][]connect.Announcement{}, byNode: map[string]connect.Announcement{}, latest: map[string]map[string]any{}}
}

// Run implements [connect.Connection].
func (g *Gateways) Run(ctx context.Context, sink connect.Sink) {
	g.mu.Lock()
	g.sink = sink
	g.mu.Unlock()
	const subscription = 1
	if err := g.broker.server.Subscribe(prefix+"#", subscription, g.receive); err != nil {
		sink.State(false, "The broker does not let the hub listen: "+err.Error())
		return
	}
	<-ctx.Done()
	_ = g.broker.server.Unsubscribe(prefix+"#", subscription)
}

// receive runs in the publisher's goroutine: it decodes, queues and returns.
func (g *Gateways) receive(_ *mochi.Client, _ packets.Subscription, p packets.Packet) {
	gateway, rest, ok := strings.Cut(strings.TrimPrefix(p.TopicName, prefix), "/")
	if !ok {
		g.sink.Fault(fmt.Sprintf("The topic %s is not known.", p.TopicName))
		return
	}
	node, last, within := strings.Cut(rest, "/")
	switch {
	case rest == "alive":
		g.alive(gateway, string(p.Payload) == "yes")
	case rest == "roster":
		if err := g.roster(gateway, p.Payload); err != nil {
			g.sink.Fault(fmt.Sprintf("%s: %s", p.TopicName, err))
		}
	case within && last == "say":
		if err := g.say(gateway+"/"+node, p.Payload); err != nil {
			g.sink.Fault(fmt.Sprintf("%s: %s", p.TopicName, err))
		}
	case within && last == "ask":
		// our own words to a device
	default:
		g.sink.Fault(fmt.Sprintf("The topic %s is not known.", p.TopicName))
	}
}

func (g *Gateways) alive(gateway string, up bool) {
	if up {
		g.sink.State(true, "")
		return
	}
	g.sink.State(false, fmt.Sprintf("The gateway %s left the broker.", gateway))
}

func (g *Gateways) roster(gateway string, payload []byte) error {
	var doc struct {
		Nodes []struct {
			Node, Model, Hardware, Label string
		} `json:"nodes"`
	}
	if err := json.Unmarshal(payload, &doc); err != nil {
		return fmt.Errorf("the roster is not readable JSON: %w", err)
	}
	list := make([]connect.Announcement, 0, len(doc.Nodes))
	for _, n := range doc.Nodes {
		if n.Node == "" || n.Hardware == "" || strings.ContainsAny(n.Node, "/+#") {
			return errors.New("the roster has a device without node or hardware identity")
		}
		list = append(list, connect.Announcement{Hardware: n.Hardware, Address: gateway + "/" + n.Node, Maker: "Quillet", Model: n.Model, Label: n.Label, Profile: g.profiles(n.Model)})
	}
	g.mu.Lock()
	g.rosters[gateway] = list
	clear(g.byNode)
	var all []connect.Announcement
	for _, devices := range g.rosters {
		for _, a := range devices {
			g.byNode[a.Address] = a
			all = append(all, a)
		}
	}
	sink := g.sink
	g.mu.Unlock()
	sink.Found(all)
	return nil
}

func (g *Gateways) say(address string, payload []byte) error {
	var message map[string]any
	if err := json.Unmarshal(payload, &message); err != nil {
		return fmt.Errorf("the message is not a JSON object: %w", err)
	}
	g.mu.Lock()
	a, known := g.byNode[address]
	if known {
		g.latest[address] = message
	}
	sink := g.sink
	g.mu.Unlock()
	if !known {
		return errors.New("the device is not on its gateway's roster")
	}
	return tell(sink, a, message)
}

// tell passes on what a message says; one field that is wrong does not spoil the others.
func tell(sink connect.Sink, a connect.Announcement, message map[string]any) error {
	if a.Profile == nil {
		return nil
	}
	var wrong []error
	for i := range a.Profile.Description.Properties {
		p := &a.Profile.Description.Properties[i]
		value, err := a.Profile.Natives[p.Name].Read(p, message)
		switch {
		case errors.Is(err, thing.ErrAbsent):
		case err != nil:
			wrong = append(wrong, err)
		default:
			sink.Report(a.Hardware, p.Name, value)
		}
	}
	for _, e := range a.Profile.Description.Events {
		raw, there := message[a.Profile.EventFields[e.Name]]
		if !there {
			continue
		}
		value := thing.Value{}
		if e.Number {
			n, ok := raw.(float64)
			if !ok {
				wrong = append(wrong, fmt.Errorf("%s carries %v instead of a number", e.Title, raw))
				continue
			}
			value = thing.Number(n)
		}
		sink.Event(a.Hardware, e.Name, value)
	}
	return errors.Join(wrong...)
}

// Write implements [connect.Connection]. None of the devices so far can be written.
func (g *Gateways) Write(_ context.Context, address, property string, value thing.Value, _ time.Duration) connect.Outcome {
	g.mu.Lock()
	a, known := g.byNode[address]
	g.mu.Unlock()
	if !known || a.Profile == nil {
		return connect.Unreached("The gateway does not list this device.")
	}
	p := a.Profile.Description.Property(property)
	if p == nil || !p.Writable {
		return connect.Failed(fmt.Sprintf("The profile of %s cannot write %s.", a.Model, property))
	}
	fields, err := a.Profile.Natives[property].Write(p, value)
	if err != nil {
		return connect.Failed(err.Error())
	}
	return g.ask(address, fields)
}

// Invoke implements [connect.Connection].
func (g *Gateways) Invoke(_ context.Context, address, action string) connect.Outcome {
	if action != string(thing.RoleIdentify) {
		return connect.Failed(fmt.Sprintf("The gateway does not know the action %s.", action))
	}
	return g.ask(address, map[string]any{"blink": 3})
}

func (g *Gateways) ask(address string, fields map[string]any) connect.Outcome {
	payload, err := json.Marshal(fields)
	if err != nil {
		return connect.Failed(err.Error())
	}
	if err := g.broker.server.Publish(prefix+address+"/ask", payload, false, 0); err != nil {
		return connect.Unreached("The broker did not take the message: " + err.Error())
	}
	return connect.Outcome{OK: true}
}

// Sync implements [connect.Connection]: gateways speak by themselves, so there is nothing to ask for.
func (g *Gateways) Sync(context.Context) {}

// Recall implements [connect.Connection]. Events are not told again.
func (g *Gateways) Recall(_ context.Context, hardware string) {
	g.mu.Lock()
	defer g.mu.Unlock()
	if g.sink == nil {
		return
	}
	for address, message := range g.latest {
		a := g.byNode[address]
		if a.Hardware != hardware || a.Profile == nil {
			continue
		}
		profile := *a.Profile
		profile.Description.Events = nil
		a.Profile = &profile
		_ = tell(g.sink, a, message) // its faults were told when it came
	}
}
