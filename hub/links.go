package hub

import (
	"context"
	"fmt"
	"time"

	"amvek/connect"
	"amvek/connect/bridge"
	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/thing"
)

// ConnectionKind says over which protocol a connection goes.
type ConnectionKind string

// The kinds of connection.
const (
	KindGateways       ConnectionKind = "radioGateways"
	KindLumbrookBridge ConnectionKind = "lumbrookBridge"
)

// GatewaysID is the id of the connection that is always there.
const GatewaysID = "gateways"

// Connection is the definition of a way to devices. Its key is kept apart, encrypted.
type Connection struct {
	Title   string         `json:"title"`
	Kind    ConnectionKind `json:"kind" enum:"radioGateways,lumbrookBridge"`
	Address string         `json:"address,omitempty"`
	Serial  string         `json:"serial,omitempty"`
}

// ConnectionView is a connection and how it stands.
type ConnectionView struct {
	ID string `json:"id"`
	Connection
	Up        bool      `json:"up"`
	Since     time.Time `json:"since,omitzero"`
	Reason    string    `json:"reason,omitempty" doc:"Why it is not up."`
	LastFault string    `json:"lastFault,omitempty" doc:"The last message that was refused."`
	Faults    int       `json:"faults"`
}

// link is a connection at work. Its fields but outbox belong to the loop.
type link struct {
	hub        *Hub
	id         string
	definition Connection
	connection connect.Connection
	outbox     *outbox
	stop       context.CancelFunc

	known      bool // whether up or down has been heard yet
	up         bool
	since      time.Time
	reason     string
	lastFault  string
	faults     int
	found      []connect.Announcement
	byHardware map[string]string // device ids
}

func (h *Hub) startLinks() {
	h.startLink(GatewaysID, Connection{Title: "Radio gateways", Kind: KindGateways}, h.gateways)
	for id, c := range h.definitions.connections {
		h.openConnection(id, c.doc)
	}
}

func (h *Hub) openConnection(id string, c *Connection) {
	key, err := h.store.Secret(h.context, secretName(id))
	if err != nil {
		h.log.Error("the key of a connection cannot be read", "connection", c.Title, "error", err)
	}
	h.startLink(id, *c, bridge.New(c.Address, key, h.profiles))
}

func secretName(connection string) string { return "connection/" + connection }

func (h *Hub) startLink(id string, definition Connection, connection connect.Connection) {
	if old := h.links[id]; old != nil {
		old.stop()
	}
	ctx, stop := context.WithCancel(h.context)
	l := &link{hub: h, id: id, definition: definition, connection: connection, outbox: newOutbox(), stop: stop, byHardware: map[string]string{}}
	h.links[id] = l
	for device, d := range h.definitions.devices {
		if d.doc.Connection == id {
			l.byHardware[d.doc.Hardware] = device
		}
	}
	h.workers.Go(func() { connection.Run(ctx, l) })
	h.workers.Go(func() { l.work(ctx) })
}

// deliver puts a command into its connection's queue.
func (h *Hub) deliver(out engine.Output) {
	d := h.definitions.device(out.Device)
	if d == nil {
		return
	}
	l := h.links[d.Connection]
	if l == nil {
		h.inbox.push(item{input: engine.Input{Kind: engine.InputOutcome, Device: out.Device, Name: out.Name, Command: out.Command, Unreached: true, Reason: "The connection of this device was removed."}})
		return
	}
	address := d.Address
	for i := range l.found {
		if l.found[i].Hardware == d.Hardware {
			address = l.found[i].Address // the device is followed by its hardware identity
		}
	}
	l.outbox.push(delivery{output: out, address: address})
}

// work delivers commands one after the other, in a goroutine of its own.
func (l *link) work(ctx context.Context) {
	for {
		d, ok := l.outbox.next()
		if !ok {
			select {
			case <-ctx.Done():
				return
			case <-l.outbox.ready:
				continue
			}
		}
		var outcome connect.Outcome
		if d.output.Kind == engine.OutputInvoke {
			outcome = l.connection.Invoke(ctx, d.address, d.output.Name)
		} else {
			outcome = l.connection.Write(ctx, d.address, d.output.Name, d.output.Value, d.output.Fade)
		}
		l.outcome(d, outcome)
		l.outbox.done()
	}
}

func (l *link) outcome(d delivery, o connect.Outcome) {
	if d.output.Kind == engine.OutputInvoke {
		if !o.OK {
			l.hub.inbox.push(item{job: func() { l.hub.actionFailed(d.output, o.Reason) }})
		}
		return
	}
	l.hub.inbox.push(item{input: engine.Input{
		Kind: engine.InputOutcome, Device: d.output.Device, Name: d.output.Name, Command: d.output.Command,
		OK: o.OK, Assumed: o.Assumed, Unreached: o.Unreached, Reason: o.Reason,
	}})
}

// actionFailed writes down that an action was not carried out; it has no property to show it at.
func (h *Hub) actionFailed(out engine.Output, reason string) {
	h.log.Warn("an action was not carried out", "device", h.titles[out.Device], "action", out.Name, "reason", reason)
	entry := h.engine.Note(cause.Entry{Kind: cause.Failed, Parent: out.Cause, Device: out.Device, Name: out.Name, Note: reason}, h.clock.Now())
	h.store.AddEntry(entry)
	view := h.entryView(entry)
	h.Feed.Publish(Message{Kind: "journal", Entry: &view})
}

// Report implements [connect.Sink].
func (l *link) Report(hardware, property string, value thing.Value) {
	if device := l.device(hardware); device != "" {
		l.hub.inbox.push(item{input: engine.Input{Kind: engine.InputReport, Device: device, Name: property, Value: value}})
	}
}

// Event implements [connect.Sink].
func (l *link) Event(hardware, event string, value thing.Value) {
	if device := l.device(hardware); device != "" {
		l.hub.inbox.push(item{input: engine.Input{Kind: engine.InputEvent, Device: device, Name: event, Value: value}})
	}
}

func (l *link) device(hardware string) string {
	l.hub.hardware.RLock()
	defer l.hub.hardware.RUnlock()
	return l.byHardware[hardware]
}

// State implements [connect.Sink].
func (l *link) State(up bool, reason string) {
	h := l.hub
	h.inbox.push(item{job: func() {
		if h.links[l.id] != l || (l.known && l.up == up && l.reason == reason) {
			return
		}
		changed := !l.known || l.up != up
		first := !l.known
		l.known, l.up, l.reason = true, up, reason
		if changed {
			l.since = h.clock.Now()
			why := reason
			if first && up {
				why = "first"
			}
			h.handle(engine.Input{Kind: engine.InputConnection, Connection: l.id, Up: up, Reason: why})
			h.log.Info("connection", "title", l.definition.Title, "up", up, "reason", reason)
		}
		h.tellConnection(l)
	}})
}

// Fault implements [connect.Sink].
func (l *link) Fault(reason string) {
	h := l.hub
	h.inbox.push(item{job: func() {
		l.faults++
		if l.lastFault != reason {
			h.log.Warn("a message was refused", "connection", l.definition.Title, "reason", reason)
		}
		l.lastFault = reason
		h.tellConnection(l)
	}})
}

// Found implements [connect.Sink].
func (l *link) Found(devices []connect.Announcement) {
	h := l.hub
	h.inbox.push(item{job: func() {
		l.found = devices
		h.Feed.Publish(Message{Kind: "found"})
	}})
}

func (l *link) view() ConnectionView {
	return ConnectionView{ID: l.id, Connection: l.definition, Up: l.up, Since: l.since, Reason: l.reason, LastFault: l.lastFault, Faults: l.faults}
}

func (h *Hub) tellConnection(l *link) {
	view := l.view()
	h.Feed.Publish(Message{Kind: "connection", ID: l.id, Connection: &view})
}

// Connections returns all connections, the one that is always there first.
func (h *Hub) Connections(ctx context.Context) (views []ConnectionView, err error) {
	err = h.do(ctx, func() {
		for _, id := range sortedKeys(h.links) {
			if id == GatewaysID {
				views = append([]ConnectionView{h.links[id].view()}, views...)
				continue
			}
			views = append(views, h.links[id].view())
		}
	})
	return views, err
}

// RemoveConnection takes a connection and its key away. Devices that use it must be removed first.
func (h *Hub) RemoveConnection(ctx context.Context, id string) error {
	if id == GatewaysID {
		return &ConflictError{"This connection belongs to the hub and cannot be removed."}
	}
	used := 0
	if err := h.do(ctx, func() {
		for _, d := range h.definitions.devices {
			if d.doc.Connection == id {
				used++
			}
		}
	}); err != nil {
		return err
	}
	if used > 0 {
		return &ConflictError{fmt.Sprintf("%d devices in the home use this connection; remove them first.", used)}
	}
	if err := h.Remove(ctx, DefinitionConnection, id); err != nil {
		return err
	}
	return h.store.PutSecret(ctx, secretName(id), "")
}
