package mqtt

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"amvek/connect"
	"amvek/core/thing"
)

// described is a device that a Thing Description with MQTT forms describes.
type described struct {
	announcement connect.Announcement
	filters      []string
}

// Give takes the described devices of this broker, in place of those given before.
func (g *Gateways) Give(things map[string]*thing.Described) {
	next := map[string]described{}
	for hardware, t := range things {
		d := described{
			announcement: connect.Announcement{
				Hardware:      hardware,
				Address:       hardware,
				Model:         t.Model.Model,
				Label:         t.Title,
				Profile:       t.Model,
				SelfDescribed: true,
			},
		}
		for _, forms := range t.Model.Forms {
			for i := range forms {
				if f := listens(&forms[i]); f != "" && !slices.Contains(d.filters, f) {
					d.filters = append(d.filters, f)
				}
			}
		}
		next[hardware] = d
	}
	g.mu.Lock()
	g.things = next
	running := g.sink != nil
	g.mu.Unlock()
	if running {
		g.follow()
	}
}

// listens returns the topic filter by which a form tells of values, "" for one that is only written.
func listens(f *thing.Form) string {
	if f.Filter != "" {
		return f.Filter
	}
	if slices.Contains(f.Op, thing.OpObserve) || slices.Contains(f.Op, thing.OpRead) || slices.Contains(f.Op, thing.OpSubscribe) {
		return f.Topic
	}
	return ""
}

// follow listens to what described devices say, and no longer to what others said, and tells who is there.
func (g *Gateways) follow() {
	g.following.Lock()
	defer g.following.Unlock()
	g.mu.Lock()
	want := map[string]bool{}
	for _, d := range g.things {
		for _, f := range d.filters {
			want[f] = true
		}
	}
	var add, drop []string
	for f := range want {
		if !g.followed[f] {
			add = append(add, f)
		}
	}
	for f := range g.followed {
		if !want[f] {
			drop = append(drop, f)
		}
	}
	g.followed = want
	g.wild = slices.DeleteFunc(slices.Sorted(maps.Keys(want)), func(f string) bool { return !strings.ContainsAny(f, "+#") })
	sink := g.sink
	g.mu.Unlock()
	for _, f := range drop {
		_ = g.wire.unsubscribe(f)
	}
	g.announce()
	for _, f := range add {
		if err := g.wire.subscribe(f, g.heard); err != nil {
			sink.Fault(fmt.Sprintf("The broker does not let the hub listen to %s: %s.", f, err))
		}
	}
}

// announce tells all devices that are there.
func (g *Gateways) announce() {
	g.mu.Lock()
	var all []connect.Announcement
	for _, gateway := range slices.Sorted(maps.Keys(g.rosters)) {
		all = append(all, g.rosters[gateway]...)
	}
	for _, hardware := range slices.Sorted(maps.Keys(g.things)) {
		all = append(all, g.things[hardware].announcement)
	}
	sink := g.sink
	g.mu.Unlock()
	if sink != nil {
		sink.Found(all)
	}
}

// heard takes a message for every described device whose forms name its topic.
func (g *Gateways) heard(topic string, payload []byte) {
	message := thing.Message(g.decode(payload))
	if len(payload) == 0 {
		message = nil // a retained message is forgotten by it, and an event that carries nothing happens by it
	}
	g.mu.Lock()
	if g.said[topic] = message; message == nil {
		delete(g.said, topic)
	}
	all := slices.Collect(maps.Values(g.things))
	sink := g.sink
	g.mu.Unlock()
	sink = connect.Heard(sink, topic, payload)
	for _, d := range all {
		if err := d.tell(sink, topic, message, true); err != nil {
			sink.Fault(topic + ": " + connect.Sentence(err))
		}
	}
}

// unused tells of a message that goes over the broker and that nothing in the home listens to, so that the owner sees it.
func (g *Gateways) unused(topic string, payload []byte) {
	if strings.HasPrefix(topic, prefix) {
		return // it was received
	}
	g.mu.Lock()
	used := g.followed[topic] || slices.ContainsFunc(g.wild, func(f string) bool { return covers(f, topic) })
	sink := g.sink
	g.mu.Unlock()
	if !used && sink != nil {
		connect.Heard(sink, topic, payload)
	}
}

// decode reads a payload: JSON, or else the text itself.
func (g *Gateways) decode(payload []byte) any {
	if body, err := g.decoder.Decode(payload); err == nil {
		return body
	}
	return strings.TrimSpace(string(payload))
}

func (d *described) tell(sink connect.Sink, topic string, message map[string]any, events bool) error {
	model := d.announcement.Profile
	var wrong []error
	for i := range model.Description.Properties {
		p := &model.Description.Properties[i]
		if message == nil || !d.says("properties/"+p.Name, topic) {
			continue
		}
		value, err := model.Natives[p.Name].Read(p, message)
		switch {
		case errors.Is(err, thing.ErrAbsent):
		case err != nil:
			wrong = append(wrong, err)
		default:
			sink.Report(d.announcement.Hardware, p.Name, value)
		}
	}
	for i := range model.Description.Events {
		e := &model.Description.Events[i]
		if !events || !d.says("events/"+e.Name, topic) {
			continue
		}
		value, err := model.Signals[e.Name].Read(e, carried(model.Signals[e.Name], message))
		switch {
		case errors.Is(err, thing.ErrAbsent):
		case err != nil:
			wrong = append(wrong, err)
		default:
			sink.Event(d.announcement.Hardware, e.Name, value)
		}
	}
	return errors.Join(wrong...)
}

// carried is what an event is read out of: of one that is told by the message as a whole, an object or nothing at all says only
// that it happened.
func carried(signal thing.Signal, message map[string]any) map[string]any {
	if _, single := message[""]; signal.Field == "" && !single {
		return map[string]any{"": nil}
	}
	return message
}

func (d *described) says(affordance, topic string) bool {
	forms := d.announcement.Profile.Forms[affordance]
	for i := range forms {
		if f := listens(&forms[i]); f != "" && covers(f, topic) {
			return true
		}
	}
	return false
}

// writeThing sets a property of a described device by its form.
func (g *Gateways) writeThing(ctx context.Context, d described, property string, value thing.Value) connect.Outcome {
	model := d.announcement.Profile
	p, form := model.Description.Property(property), model.Form("properties/"+property, thing.OpWrite)
	if p == nil || !p.Writable || form == nil || form.Topic == "" {
		return connect.Failed(fmt.Sprintf("The description of %s cannot write %s.", d.announcement.Label, property))
	}
	payload, err := g.setting(d, p, form, value)
	if err != nil {
		return connect.Failed(connect.Sentence(err))
	}
	return g.send(ctx, form.Topic, payload, form.Retain)
}

// known is what a described device last said that its properties are at.
func (g *Gateways) known(d described) map[string]thing.Value {
	said := heardValues{values: map[string]thing.Value{}}
	g.mu.Lock()
	defer g.mu.Unlock()
	for topic, message := range g.said {
		_ = d.tell(said, topic, message, false) // what cannot be read was refused when it came
	}
	return said.values
}

// heardValues keeps the values that a device reports.
type heardValues struct {
	connect.Silence
	values map[string]thing.Value
}

// Report implements [connect.Sink].
func (h heardValues) Report(_, property string, value thing.Value) { h.values[property] = value }

// setting is the payload that sets a property: what its form spells out, or its fields as JSON.
func (g *Gateways) setting(d described, p *thing.Property, form *thing.Form, value thing.Value) ([]byte, error) {
	model := d.announcement.Profile
	if form.Body != "" {
		places, err := model.Setting(p, value, g.known(d))
		if err != nil {
			return nil, err
		}
		text, err := form.Filled(places)
		return []byte(text), err
	}
	native := model.Natives[p.Name]
	fields, err := native.Write(p, value)
	if err != nil {
		return nil, err
	}
	single, is := fields[""]
	if text, plain := single.(string); is && plain && len(fields) == 1 {
		return []byte(text), nil
	}
	if is && len(fields) == 1 {
		return json.Marshal(single)
	}
	return thing.Encode(fields)
}

func (g *Gateways) send(ctx context.Context, topic string, payload []byte, retain bool) connect.Outcome {
	g.mu.Lock()
	sink := g.sink
	g.mu.Unlock()
	connect.Sent(ctx, sink, topic, payload)
	if err := g.wire.publish(topic, payload, retain); err != nil {
		return connect.Unreached("The broker did not take the message: " + err.Error() + ".")
	}
	return connect.Outcome{OK: true}
}

// Watched is a topic that was heard while somebody watched.
type Watched struct {
	Topic   string
	Payload string
	At      time.Time
	Count   int
}

const (
	mostWatched     = 500
	longestWatched  = 2000
	watchTime       = 5 * time.Minute
	everythingTopic = "#"
)

// Watch listens to all topics for some minutes, so that the owner can see what speaks. It returns
// what was heard so far.
func (g *Gateways) Watch() ([]Watched, error) {
	g.mu.Lock()
	if g.sink == nil {
		g.mu.Unlock()
		return nil, errors.New("the connection is paused")
	}
	begins := g.watch == nil
	if begins {
		g.watch = map[string]*Watched{}
	}
	if g.watchEnd != nil {
		g.watchEnd.Stop()
	}
	g.watchEnd = time.AfterFunc(watchTime, g.unwatch)
	list := make([]Watched, 0, len(g.watch))
	for _, topic := range slices.Sorted(maps.Keys(g.watch)) {
		list = append(list, *g.watch[topic])
	}
	g.mu.Unlock()
	if begins {
		return list, g.wire.subscribe(everythingTopic, g.watched)
	}
	return list, nil
}

func (g *Gateways) unwatch() {
	g.mu.Lock()
	g.watch = nil
	g.mu.Unlock()
	_ = g.wire.unsubscribe(everythingTopic)
}

func (g *Gateways) watched(topic string, payload []byte) {
	g.mu.Lock()
	defer g.mu.Unlock()
	if g.watch == nil || strings.HasPrefix(topic, "$") {
		return
	}
	w := g.watch[topic]
	if w == nil {
		if len(g.watch) >= mostWatched {
			return
		}
		w = &Watched{Topic: topic}
		g.watch[topic] = w
	}
	w.Payload, w.At, w.Count = strings.ToValidUTF8(string(payload[:min(len(payload), longestWatched)]), "�"), time.Now(), w.Count+1
}

// Say publishes a payload that the owner wants to try.
func (g *Gateways) Say(topic, payload string) error {
	return g.wire.publish(topic, []byte(payload), false)
}
