package hub

import (
	"context"
	"fmt"
	"maps"
	"sync"
	"time"

	"amvek/connect"
	"amvek/core/engine"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// lanes is how many devices of one connection are commanded at the same time.
const lanes = 8

// link is a connection at work. Its fields but outbox, traffic and overheard belong to the loop.
type link struct {
	hub        *Hub
	id         string
	definition docs.Connection
	connection connect.Connection
	outbox     *outbox
	polls      bool // whether it asks its devices, so that their silence shows by their not answering
	prompt     bool // whether a command can be written at once, in the loop
	traffic    traffic
	stop       context.CancelFunc
	ended      chan struct{} // closed once its session has ended wholly

	commanded   bool // whether a command went to it since [Hub.Settle]
	known       bool // whether up or down has been heard yet
	up          bool
	since       time.Time
	reason      string
	lastFault   string
	faults      int
	lastFailure string
	found       []connect.Announcement
	announced   map[string]connect.Announcement // what was found, by hardware
	seen        map[string]time.Time            // when each piece of hardware was first announced since the start
	reacted     map[string]time.Time            // when hardware that is not in the home last did something by itself
	unreached   map[string]string               // why a device cannot be reached though the connection is up
	gateways    map[string]Gateway
	// lostGateways are those whose devices cannot be reached at present.
	lostGateways map[string]bool
	// behind is the gateway by which each piece of hardware was last listed, and left what of it is listed no more.
	behind     map[string]string
	left       map[string]bool
	byHardware map[string]string // device ids

	overheard overheard // has a lock of its own

	taking int        // how often a connection was told what is in the home
	giving sync.Mutex // guards given, the last that it was told
	given  int
}

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
	definition := h.connectionDefinition(id)
	before := make(chan struct{})
	close(before)
	if old := h.links[id]; old != nil {
		old.stop()
		before = old.ended
	}
	ctx, stop := context.WithCancel(h.context)
	l := &link{
		ended: make(chan struct{}),
		hub:   h, id: id, definition: definition, outbox: newOutbox(), stop: stop, since: h.clock.Now(),
		seen: map[string]time.Time{}, reacted: map[string]time.Time{}, unreached: map[string]string{}, gateways: map[string]Gateway{}, announced: map[string]connect.Announcement{}, lostGateways: map[string]bool{}, behind: map[string]string{}, left: map[string]bool{}, byHardware: map[string]string{},
	}
	connection, err := h.open(id, definition)
	if err != nil {
		l.known, l.reason = true, connect.Sentence(err)
	}
	l.connection = connection
	_, l.polls = connection.(connect.Polled)
	if p, is := connection.(connect.Prompt); is {
		l.prompt = p.Prompt()
	}
	h.links[id] = l
	maps.Copy(l.behind, h.behind[id])
	for device, d := range h.definitions.Devices {
		if d.Doc.Connection == id {
			l.byHardware[d.Doc.Hardware] = device
		}
	}
	h.workers.Go(func() {
		defer close(l.ended)
		l.session(ctx, before)
	})
	h.takeHardware(l)
	h.tellConnection(l)
}

// takeHardware tells a connection that speaks only with what is in the home what that is. It runs in the loop; the connection
// is told beside it, and what is newest counts.
func (h *Hub) takeHardware(l *link) {
	taker, is := l.connection.(connect.Taker)
	if !is {
		return
	}
	taken := make(map[string]bool, len(l.byHardware))
	for hardware := range l.byHardware {
		taken[hardware] = true
	}
	l.taking++
	turn := l.taking
	h.workers.Go(func() {
		l.giving.Lock()
		defer l.giving.Unlock()
		if turn > l.given {
			l.given = turn
			taker.Take(taken)
		}
	})
}

// session is the life of a connection, from when the session before it has ended wholly: what that one clears when it
// ends is not this one's.
func (l *link) session(ctx context.Context, before <-chan struct{}) {
	<-before
	if !l.running() || ctx.Err() != nil {
		return
	}
	var all sync.WaitGroup
	all.Go(func() { l.connection.Run(ctx, l) })
	for range lanes {
		all.Go(func() { l.work(ctx) })
	}
	all.Wait()
	for _, d := range l.outbox.drain() {
		l.hub.undelivered(d.output, "The connection was changed before this was sent.")
	}
}

// running reports whether the connection is at work, not paused and not impossible.
func (l *link) running() bool { return l.connection != nil && !l.definition.Paused }

// deliver sends a command, or puts it into its connection's queue.
func (h *Hub) deliver(out engine.Output) {
	d := h.definitions.Device(out.Device)
	if d == nil {
		return
	}
	l := h.links[d.Connection]
	switch {
	case l == nil:
		h.undelivered(out, "The connection of this device was removed.")
		return
	case l.definition.Paused:
		h.undelivered(out, "The connection of this device is paused.")
		return
	case l.connection == nil:
		h.undelivered(out, l.reason)
		return
	}
	l.commanded = true
	address := d.Address
	if seen, there := l.announced[d.Hardware]; there {
		address = seen.Address // the device is followed by its hardware identity
	}
	next := delivery{output: out, address: address}
	if l.prompt && l.outbox.claim(out.Device) {
		l.carryOut(h.context, next)
		return
	}
	l.outbox.push(next)
}

// work delivers commands, in a goroutine of its own; several work side by side on different devices.
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
		l.carryOut(ctx, d)
	}
}

// carryOut sends a command to a device that has none under way.
func (l *link) carryOut(ctx context.Context, d delivery) {
	began := time.Now()
	var outcome connect.Outcome
	if d.output.Kind == engine.OutputInvoke {
		outcome = l.connection.Invoke(ctx, d.address, d.output.Name, d.output.Given)
	} else {
		outcome = l.connection.Write(ctx, d.address, d.output.Name, d.output.Value, d.output.Fade)
	}
	l.traffic.count(began)
	if outcome.OK && !outcome.Assumed {
		l.traffic.took(time.Since(began))
	}
	l.outcome(d, outcome)
	l.outbox.done(d)
}

// Report implements [connect.Sink].
func (l *link) Report(hardware, property string, value thing.Value) {
	l.traffic.count(time.Now())
	if device := l.device(hardware); device != "" {
		l.hub.inbox.push(item{report: report{thing.Ref{Device: device, Name: property}, value, l.polls}})
		return
	}
	l.strangeReport(hardware, property, value)
}

// Event implements [connect.Sink].
func (l *link) Event(hardware, event string, value thing.Value) {
	l.traffic.count(time.Now())
	if device := l.device(hardware); device != "" {
		if !l.hub.inbox.push(item{input: &engine.Input{Kind: engine.InputEvent, Device: device, Name: event, Value: value}}) {
			l.Fault("Events came faster than they could be taken, so some were left out.")
		}
		return
	}
	l.strangeEvent(hardware)
}

func (l *link) device(hardware string) string {
	l.hub.hardware.RLock()
	defer l.hub.hardware.RUnlock()
	return l.byHardware[hardware]
}

// inLoop runs f in the loop while this link is the one at work.
func (l *link) inLoop(f func()) {
	l.hub.inbox.push(item{job: func() {
		if l.hub.links[l.id] == l {
			f()
		}
	}})
}

// State implements [connect.Sink].
func (l *link) State(up bool, reason string) { l.word(word{up: up, reason: reason}) }

// Reach implements [connect.Sink].
func (l *link) Reach(hardware string, up bool, reason string) { l.word(word{hardware, up, reason}) }

// word takes whether something is reached. Words wait for the loop in their order; past a number of them the newest about
// each counts.
func (l *link) word(w word) {
	o := &l.overheard
	o.mu.Lock()
	defer o.mu.Unlock()
	if len(o.words) >= wordsAtMost {
		for i := len(o.words) - 1; i >= 0; i-- {
			if o.words[i].hardware == w.hardware {
				o.words[i] = w
				return
			}
		}
		if len(o.words) >= strangeAtMost {
			return
		}
	}
	if o.words = append(o.words, w); len(o.words) > 1 {
		return
	}
	l.inLoop(func() {
		o.mu.Lock()
		words := o.words
		o.words = nil
		o.mu.Unlock()
		for _, w := range words {
			if w.hardware == "" {
				l.stands(w.up, w.reason)
			} else {
				l.reaches(w.hardware, w.up, w.reason)
			}
		}
	})
}

// stands takes how the connection stands. It runs in the loop.
func (l *link) stands(up bool, reason string) {
	h := l.hub
	if l.known && l.up == up && l.reason == reason {
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
}

// reaches takes whether hardware is reached. It runs in the loop.
func (l *link) reaches(hardware string, reached bool, reason string) {
	before, lost := l.unreached[hardware]
	if lost == !reached && before == reason {
		return
	}
	if reached {
		delete(l.unreached, hardware)
	} else {
		l.unreached[hardware] = reason
	}
	if device := l.device(hardware); device != "" {
		l.hub.attend(device)
		// Up again, what could not be delivered to it is still wanted.
		l.hub.handle(
			engine.Input{Kind: engine.InputConnection, Device: device, Up: reached, Reason: reason, Quiet: l.gatewayReached(hardware, reached, reason)},
		)
		l.hub.touch(docs.KindDevice, device)
	}
}

// gatewayReached writes down that a gateway was lost or found again, once for all of its devices, and
// reports whether the hardware is behind one.
func (l *link) gatewayReached(hardware string, reached bool, reason string) bool {
	gateway := l.announced[hardware].Gateway
	if gateway == "" {
		return false
	}
	if l.lostGateways[gateway] == reached {
		l.lostGateways[gateway] = !reached
		l.hub.handle(engine.Input{Kind: engine.InputConnection, Connection: l.id, Name: gateway, Up: reached, Reason: reason})
	}
	return true
}

// announce takes what announces itself by a connection. It runs in the loop.
func (l *link) announce(devices []connect.Announcement) {
	h := l.hub
	l.found = l.found[:0:0]
	l.announced = map[string]connect.Announcement{}
	gateways := len(l.gateways)
	for _, d := range devices {
		if first, twice := l.announced[d.Hardware]; twice {
			// Which one a report came from could not be told.
			l.Fault(fmt.Sprintf("%s and %s say that they are the same hardware, %s; the second is left out.", first.Label, d.Label, d.Hardware))
			continue
		}
		l.announced[d.Hardware] = d
		l.found = append(l.found, d)
		if _, known := l.seen[d.Hardware]; !known {
			l.seen[d.Hardware] = h.clock.Now()
		}
		if _, known := l.gateways[d.Gateway]; !known && d.Gateway != "" {
			l.gateways[d.Gateway] = Gateway{Name: d.Gateway}
		}
	}
	if len(l.gateways) > gateways {
		l.tell()
	}
	l.notice()
	l.describeAnew()
	if len(l.seen) > strangeAtMost { // what announces itself under ever new names, and is gone again
		maps.DeleteFunc(l.seen, func(hardware string, _ time.Time) bool { _, there := l.announced[hardware]; return !there })
		maps.DeleteFunc(l.reacted, func(hardware string, _ time.Time) bool { _, there := l.announced[hardware]; return !there })
	}
	h.touchFound()
}

// Joining implements [connect.Sink].
func (l *link) Joining(gateway string, left time.Duration) {
	l.inLoop(func() {
		now := l.hub.clock.Now()
		g := Gateway{Name: gateway}
		if left > 0 {
			g.OpenedAt, g.OpenUntil = l.gateways[gateway].OpenedAt, now.Add(left)
			if g.OpenedAt.IsZero() {
				g.OpenedAt = now
			}
		}
		l.gateways[gateway] = g
		l.tell()
	})
}
