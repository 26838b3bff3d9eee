package hub

import (
	"time"

	"amvek/connect"
	"amvek/core/engine"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/hub/links"
)

// startLinks opens the standing connections and those that the owner made.
func (h *Hub) startLinks() {
	h.linked = true
	h.allowClients(h.context)
	if t := h.things(); t != nil {
		keys, err := h.thingKeys(h.context)
		if err != nil {
			h.log.Error("the keys of described devices cannot be read", "error", err)
		}
		t.Keys(keys)
	}
	for _, s := range h.standing {
		h.openConnection(s.ID)
	}
	for id := range h.definitions.Connections {
		if h.links[id] == nil {
			h.openConnection(id)
		}
	}
	h.giveThings()
}

// openConnection sets a connection going, anew where it is going already.
func (h *Hub) openConnection(id string) {
	o := links.Options{
		ID: id, Definition: h.connectionDefinition(id), Inbox: incoming{h}, Home: atHome{h},
		Messages: h.messages, Log: h.log, Behind: h.behind[id], Devices: map[string]string{},
	}
	var err error
	if o.Connection, err = h.open(id, o.Definition); err != nil {
		o.Reason = connect.Sentence(err)
	}
	for device, d := range h.definitions.Devices {
		if d.Doc.Connection == id {
			o.Devices[d.Doc.Hardware] = device
		}
	}
	before := h.links[id]
	if before != nil {
		before.Stop()
	}
	l := links.New(o)
	h.links[id] = l
	l.Begin(h.context, &h.workers, before)
	h.tellConnection(l)
}

// deliver sends a command, or puts it into its connection's queue.
func (h *Hub) deliver(out engine.Output) {
	d := h.definitions.Device(out.Device)
	if d == nil {
		return
	}
	l := h.links[d.Connection]
	if l == nil {
		h.undelivered(out, "The connection of this device was removed.")
		return
	}
	l.Deliver(out, d.Address, d.Hardware)
}

// glow puts a frame of an effect on its way, for each connection at once.
func (h *Hub) glow(out *engine.Output) {
	byLink := map[*links.Link][]links.Frame{}
	for _, t := range out.Frame {
		if d := h.definitions.Device(t.Device); d != nil {
			if l := h.links[d.Connection]; l != nil {
				byLink[l] = append(byLink[l], links.Frame{
					Ref: thing.Ref{Device: t.Device, Name: t.Property}, Address: d.Address, Hardware: d.Hardware, Value: t.Value,
				})
			}
		}
	}
	for l, values := range byLink {
		l.Glow(values, out.Fade)
	}
}

// still takes back what waits of an effect's frames.
func (h *Hub) still(out *engine.Output) {
	for _, t := range out.Frame {
		if d := h.definitions.Device(t.Device); d != nil {
			if l := h.links[d.Connection]; l != nil {
				l.Still(t.Device)
			}
		}
	}
}

// incoming puts what links say into the loop's inbox.
type incoming struct{ h *Hub }

// Report implements [links.Inbox].
func (i incoming) Report(ref thing.Ref, value thing.Value, polled bool) {
	i.h.inbox.push(item{report: report{ref, value, polled}})
}

// Event implements [links.Inbox].
func (i incoming) Event(device, event string, value thing.Value) bool {
	return i.h.inbox.push(item{input: &engine.Input{Kind: engine.InputEvent, Device: device, Name: event, Value: value}})
}

// Job implements [links.Inbox].
func (i incoming) Job(job func()) { i.h.inbox.push(item{job: job}) }

// Outcome implements [links.Inbox].
func (i incoming) Outcome(command engine.Output, outcome connect.Outcome) {
	i.h.outcome(command, outcome)
}

// Undelivered implements [links.Inbox].
func (i incoming) Undelivered(command engine.Output, reason string) {
	i.h.undelivered(command, reason)
}

// atHome acts on how links stand and what they found. It is used in the loop.
type atHome struct{ h *Hub }

// Now implements [links.Home].
func (a atHome) Now() time.Time { return a.h.clock.Now() }

// Stands implements [links.Home].
func (a atHome) Stands(l *links.Link, up bool, reason string, changed, first bool) {
	if changed {
		if first && up {
			reason = "first"
		}
		a.h.handle(engine.Input{Kind: engine.InputConnection, Connection: l.ID, Up: up, Reason: reason})
	}
	a.h.tellConnection(l)
}

// Reaches implements [links.Home].
func (a atHome) Reaches(device string, reached bool, reason string, behind bool) {
	a.h.attend(device)
	// Up again, what could not be delivered to it is still wanted.
	a.h.handle(engine.Input{Kind: engine.InputConnection, Device: device, Up: reached, Reason: reason, Quiet: behind})
	a.h.touch(docs.KindDevice, device)
}

// GatewayReached implements [links.Home].
func (a atHome) GatewayReached(l *links.Link, gateway string, reached bool, reason string) {
	a.h.handle(engine.Input{Kind: engine.InputConnection, Connection: l.ID, Name: gateway, Up: reached, Reason: reason})
}

// Changed implements [links.Home].
func (a atHome) Changed(l *links.Link) { a.h.touch(docs.KindConnection, l.ID) }

// Noticed implements [links.Home].
func (a atHome) Noticed(device string) {
	a.h.attend(device)
	a.h.touch(docs.KindDevice, device)
}

// Behind implements [links.Home].
func (a atHome) Behind(l *links.Link, gateways map[string]string) {
	a.h.behind[l.ID] = gateways
	a.h.keepBehind()
}

// Found implements [links.Home].
func (a atHome) Found(l *links.Link) {
	a.h.describeAnew(l)
	a.h.touchFound()
}

// Reacted implements [links.Home].
func (a atHome) Overheard(l *links.Link, hardware string) { a.h.touchHardware(l.ID, hardware) }
