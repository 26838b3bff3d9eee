package mqtt

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"amvek/connect"
	"amvek/core/thing"
)

// Gateways is the connection over one broker: to Quillet radio gateways, and to devices that a Thing
// Description with MQTT forms describes. The gateways' topics are
//
//	quillet/GATEWAY/roster     the devices behind it, retained
//	quillet/GATEWAY/alive      yes, or no as its will
//	quillet/GATEWAY/joining    whether new devices may join, and for how many seconds, retained
//	quillet/GATEWAY/ask        what the gateway is asked: {"join": seconds}
//	quillet/GATEWAY/NODE/say   what a device says
//	quillet/GATEWAY/NODE/ask   what a device is asked
type Gateways struct {
	wire     wire
	profiles func(model string) *thing.Model
	decoder  thing.Decoder

	mu       sync.Mutex
	sink     connect.Sink
	rosters  map[string][]connect.Announcement // by gateway
	byNode   map[string]connect.Announcement   // by address, gateway/node
	latest   map[string]map[string]any         // what each node last said, by address
	things   map[string]described              // by hardware
	said     map[string]map[string]any         // what was last said on a topic that is followed
	followed map[string]bool                   // filters that are listened to for them
	wild     []string                          // of those, the ones that are for more than one topic
	watch    map[string]*Watched               // nil while nobody watches
	watchEnd *time.Timer
	// following makes one change of what is listened to at a time.
	following sync.Mutex
}

const prefix = "quillet/"

// NewGateways returns the connection over the hub's own broker; profiles finds the profile of a model.
func NewGateways(broker *Broker, profiles func(model string) *thing.Model) *Gateways {
	return newGateways(&inline{broker: broker}, profiles)
}

// NewExternal returns the connection over a broker elsewhere.
func NewExternal(to External, profiles func(model string) *thing.Model) *Gateways {
	return newGateways(newJoined(to), profiles)
}

func newGateways(w wire, profiles func(model string) *thing.Model) *Gateways {
	return &Gateways{
		wire:     w,
		said:     map[string]map[string]any{},
		followed: map[string]bool{},
		profiles: profiles,
		rosters:  map[string][]connect.Announcement{},
		byNode:   map[string]connect.Announcement{},
		latest:   map[string]map[string]any{},
	}
}

// Run implements [connect.Connection].
func (g *Gateways) Run(ctx context.Context, sink connect.Sink) {
	g.mu.Lock()
	g.sink = sink
	g.mu.Unlock()
	if err := g.wire.subscribe(prefix+"#", g.receive); err != nil {
		sink.State(false, "The broker does not let the hub listen: "+err.Error())
		return
	}
	g.follow()
	if o, can := g.wire.(overhearing); can {
		o.overhear(g.unused)
		defer o.overhear(nil)
	}
	g.wire.run(ctx, sink.State)
	_ = g.wire.unsubscribe(prefix + "#")
	g.unwatch()
	g.mu.Lock()
	for f := range g.followed {
		_ = g.wire.unsubscribe(f)
	}
	clear(g.followed)
	g.wild = nil
	g.mu.Unlock()
}

// receive runs in the publisher's goroutine: it decodes, queues and returns.
func (g *Gateways) receive(topic string, payload []byte) {
	if strings.HasSuffix(topic, "/ask") {
		return // our own words to a gateway or a device
	}
	sink := connect.Heard(g.sink, topic, payload)
	gateway, rest, ok := strings.Cut(strings.TrimPrefix(topic, prefix), "/")
	if !ok {
		sink.Fault(fmt.Sprintf("The topic %s is not known.", topic))
		return
	}
	node, last, within := strings.Cut(rest, "/")
	switch {
	case len(payload) == 0: // a retained message was taken back
	case rest == "alive":
		g.alive(gateway, string(payload) == "yes")
	case rest == "joining":
		if err := g.joining(gateway, payload); err != nil {
			sink.Fault(fmt.Sprintf("%s: %s", topic, err))
		}
	case rest == "roster":
		if err := g.roster(gateway, payload); err != nil {
			sink.Fault(fmt.Sprintf("%s: %s", topic, err))
		}
	case within && last == "say":
		if err := g.say(sink, gateway+"/"+node, payload); err != nil {
			sink.Fault(fmt.Sprintf("%s: %s", topic, err))
		}
	default:
		sink.Fault(fmt.Sprintf("The topic %s is not known.", topic))
	}
}

func (g *Gateways) alive(gateway string, up bool) {
	reason := ""
	if !up {
		g.sink.Joining(gateway, 0)
		reason = fmt.Sprintf("The gateway %s left the broker.", gateway)
	}
	g.sink.State(true, "") // the broker itself is there: a message came
	g.mu.Lock()
	devices := slices.Clone(g.rosters[gateway])
	g.mu.Unlock()
	for _, d := range devices {
		g.sink.Reach(d.Hardware, up, reason)
	}
}

func (g *Gateways) joining(gateway string, payload []byte) error {
	var doc struct {
		Open bool    `json:"open"`
		Left float64 `json:"left"`
	}
	if err := json.Unmarshal(payload, &doc); err != nil {
		return fmt.Errorf("the message is not readable JSON: %w", err)
	}
	if !doc.Open || !(doc.Left > 0 && doc.Left <= longestJoin.Seconds()) {
		doc.Left = 0
	}
	g.sink.Joining(gateway, time.Duration(doc.Left*float64(time.Second)))
	return nil
}

// longestJoin is the longest time for which a gateway may be said to be open.
const longestJoin = 10 * time.Minute

// Join implements [connect.Joiner]. The time goes along, so that the gateway shuts by itself
// even when the hub is gone by then.
func (g *Gateways) Join(_ context.Context, gateway string, last time.Duration) error {
	payload, err := json.Marshal(map[string]any{"join": last.Seconds()})
	if err != nil {
		return err
	}
	return g.wire.publish(prefix+gateway+"/ask", payload, false)
}

func (g *Gateways) roster(gateway string, payload []byte) error {
	var doc struct {
		Nodes []struct {
			Node, Model, Hardware, Label, Firmware string
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
		list = append(
			list,
			connect.Announcement{
				Hardware: n.Hardware,
				Address:  gateway + "/" + n.Node,
				Maker:    "Quillet",
				Model:    n.Model,
				Label:    n.Label,
				Firmware: n.Firmware,
				Gateway:  gateway,
				Profile:  g.profiles(n.Model),
			},
		)
	}
	g.mu.Lock()
	g.rosters[gateway] = list
	clear(g.byNode)
	for _, devices := range g.rosters {
		for _, a := range devices {
			g.byNode[a.Address] = a
		}
	}
	g.mu.Unlock()
	g.announce()
	return nil
}

func (g *Gateways) say(sink connect.Sink, address string, payload []byte) error {
	message, err := g.decoder.Object(payload)
	if err != nil {
		return fmt.Errorf("the message is not a JSON object: %w", err)
	}
	g.mu.Lock()
	a, known := g.byNode[address]
	if known {
		g.latest[address] = message
	}
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
	return a.Profile.Tell(message,
		func(property string, value thing.Value) { sink.Report(a.Hardware, property, value) },
		func(event string, value thing.Value) { sink.Event(a.Hardware, event, value) })
}

// Test implements [connect.Tester]: the broker is the hub's own, so what can be missing is a gateway.
func (g *Gateways) Test(ctx context.Context) error {
	if external, is := g.wire.(*joined); is {
		return TryJoin(ctx, external.to)
	}
	g.mu.Lock()
	defer g.mu.Unlock()
	if len(g.rosters) == 0 && len(g.things) == 0 {
		return errors.New("the broker runs, but nothing that the hub knows has joined it")
	}
	return nil
}

// Try implements [connect.Trier] with what the device last said.
func (g *Gateways) Try(_ context.Context, hardware string, _ *thing.Model) (map[string]any, error) {
	g.mu.Lock()
	defer g.mu.Unlock()
	for address, message := range g.latest {
		if g.byNode[address].Hardware == hardware {
			return message, nil
		}
	}
	return nil, errors.New("the device has said nothing since the hub started")
}

// Profiled implements [connect.Profiled].
func (g *Gateways) Profiled() {
	g.mu.Lock()
	for gateway, devices := range g.rosters {
		for i := range devices {
			devices[i].Profile = g.profiles(devices[i].Model)
			g.byNode[devices[i].Address] = devices[i]
		}
		g.rosters[gateway] = devices
	}
	g.mu.Unlock()
	g.announce()
}

// Write implements [connect.Connection].
func (g *Gateways) Write(ctx context.Context, address, property string, value thing.Value, _ time.Duration) connect.Outcome {
	g.mu.Lock()
	a, known := g.byNode[address]
	d, isThing := g.things[address]
	g.mu.Unlock()
	if isThing {
		return g.writeThing(ctx, d, property, value)
	}
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
	return g.ask(ctx, address, fields)
}

// Prompt implements [connect.Prompt]: the hub's own broker takes a message into its queues, or drops it where a client
// reads too slowly.
func (g *Gateways) Prompt() bool {
	_, own := g.wire.(*inline)
	return own
}

// Invoke implements [connect.Connection].
func (g *Gateways) Invoke(ctx context.Context, address, action string, given thing.Inputs) connect.Outcome {
	g.mu.Lock()
	d, isThing := g.things[address]
	g.mu.Unlock()
	if isThing {
		return g.invokeThing(ctx, d, action, given)
	}
	if action != string(thing.RoleIdentify) {
		return connect.Failed(fmt.Sprintf("The gateway does not know the action %s.", action))
	}
	return g.ask(ctx, address, map[string]any{"blink": 3})
}

// invokeThing asks a thing that described itself, by the form of its action.
func (g *Gateways) invokeThing(ctx context.Context, d described, action string, given thing.Inputs) connect.Outcome {
	profile := d.announcement.Profile
	form := profile.InvokeForm(action, given)
	if form == nil || form.Topic == "" {
		return connect.Failed(fmt.Sprintf("The action %s has no form.", action))
	}
	payload, err := g.askingFor(d, form, action, given)
	if err != nil {
		return connect.Failed(connect.Sentence(err))
	}
	return g.send(ctx, form.Topic, payload, form.Retain)
}

// askingFor is the payload that asks for an action: what its form spells out, or what it is given as JSON.
func (g *Gateways) askingFor(d described, form *thing.Form, action string, given thing.Inputs) ([]byte, error) {
	profile := d.announcement.Profile
	if form.Body == "" {
		body, err := profile.Payload(action, given)
		if err != nil || body == nil {
			return nil, err
		}
		return json.Marshal(body)
	}
	places, err := profile.Giving(action, given, g.known(d))
	if err != nil {
		return nil, err
	}
	text, err := form.Filled(places)
	return []byte(text), err
}

func (g *Gateways) ask(ctx context.Context, address string, fields map[string]any) connect.Outcome {
	payload, err := thing.Encode(fields)
	if err != nil {
		return connect.Failed(err.Error())
	}
	return g.send(ctx, prefix+address+"/ask", payload, false)
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
	if d, isThing := g.things[hardware]; isThing {
		for topic, message := range g.said {
			_ = d.tell(g.sink, topic, message, false)
		}
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

// Compare implements [connect.Comparer]: devices behind gateways that can be set are asked to say how they stand.
func (g *Gateways) Compare(ctx context.Context) {
	g.mu.Lock()
	var asked []string
	for address, a := range g.byNode {
		if a.Profile != nil && slices.ContainsFunc(a.Profile.Description.Properties, func(p thing.Property) bool { return p.Writable }) {
			asked = append(asked, address)
		}
	}
	g.mu.Unlock()
	slices.Sort(asked)
	for _, address := range asked {
		g.ask(ctx, address, map[string]any{"say": 1})
	}
}
