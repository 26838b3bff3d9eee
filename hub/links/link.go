// Package links holds connections at work: each in goroutines of its own, with a bounded queue of commands, a count of what
// goes over it, and what it found. A link turns what its connection says into reports, events and jobs for the hub's loop, so
// that a dead, slow or flooding connection delays no other. It decides nothing, and knows no definition but its own.
package links

import (
	"context"
	"log/slog"
	"maps"
	"slices"
	"sync"
	"time"

	"amvek/connect"
	"amvek/core/engine"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// lanes is how many devices of one connection are commanded at the same time.
const lanes = 8

// Inbox takes what comes in by links. It may be called from any goroutine, and never waits.
type Inbox interface {
	// Report takes what a device said of a property; polled says that it was asked.
	Report(ref thing.Ref, value thing.Value, polled bool)
	// Event takes what happened at a device; it is false where too much waits already.
	Event(device, event string, value thing.Value) bool
	// Job has something done in the loop.
	Job(job func())
	// Outcome takes what became of a command or an action.
	Outcome(command engine.Output, outcome connect.Outcome)
	// Undelivered takes that a command was never sent, and why.
	Undelivered(command engine.Output, reason string)
}

// Home is told of how a link stands and what it found. All of it is called in the loop.
type Home interface {
	Now() time.Time
	// Stands tells how the connection stands: changed says that it came up or went down, and first that nothing was known of it
	// before.
	Stands(l *Link, up bool, reason string, changed, first bool)
	// Reaches tells whether a device of the home is reached; behind says that it is behind a gateway, told of by itself.
	Reaches(device string, reached bool, reason string, behind bool)
	// GatewayReached tells that a gateway was lost, or found again.
	GatewayReached(l *Link, gateway string, reached bool, reason string)
	// Changed tells that what is shown of the connection itself changed.
	Changed(l *Link)
	// Noticed tells that a device of the home is listed no more, or is again.
	Noticed(device string)
	// Behind tells by which gateway each piece of hardware was last listed, after that changed.
	Behind(l *Link, gateways map[string]string)
	// Found tells that what announced itself changed.
	Found(l *Link)
	// Overheard tells that hardware which is not in the home said something, or did something by itself.
	Overheard(l *Link, hardware string)
}

// Options are what a link is made of.
type Options struct {
	ID         string
	Definition docs.Connection
	// Connection is nil where it cannot be opened; Reason then says why.
	Connection connect.Connection
	Reason     string
	Inbox      Inbox
	Home       Home
	Log        *slog.Logger
	// Devices are those of the home that use it, by hardware.
	Devices map[string]string
	// Messages keeps what goes over it; nil for a record of its own.
	Messages *Messages
	// Behind is by which gateway each piece of hardware was last listed.
	Behind map[string]string
}

// Link is a connection at work. Its methods are for the loop, but for those of [connect.Sink] and where they say so.
type Link struct {
	ID         string
	Definition docs.Connection
	// Connection is nil where it cannot be opened.
	Connection connect.Connection

	inbox    Inbox
	home     Home
	messages *Messages
	log      *slog.Logger
	outbox   *outbox
	frames   *frames
	polls    bool // whether it asks its devices, so that their silence shows by their not answering
	prompt   bool // whether a command can be written at once, in the loop
	traffic  traffic
	stop     context.CancelFunc
	stopped  bool
	ended    chan struct{} // closed once its session has ended wholly
	context  context.Context

	commanded   bool // whether a command went to it since [Link.Commanded]
	known       bool // whether up or down has been heard yet
	up          bool
	since       time.Time
	reason      string
	lastFault   string
	faults      int
	lastFailure string
	unreached   map[string]string // why a device cannot be reached though the connection is up

	found     []connect.Announcement
	announced map[string]connect.Announcement // what was found, by hardware
	seen      map[string]time.Time            // when each piece of hardware was first announced since the start
	reacted   map[string]time.Time            // when hardware that is not in the home last did something by itself
	heardAt   map[string]time.Time            // when hardware that is not in the home last said anything
	gateways  map[string]Gateway
	// lostGateways are those whose devices cannot be reached at present.
	lostGateways map[string]bool
	// behind is the gateway by which each piece of hardware was last listed, and left what of it is listed no more.
	behind map[string]string
	left   map[string]bool

	overheard overheard // has a lock of its own

	// hardware guards which device a report belongs to: the connection reads it, the loop writes it.
	hardware sync.RWMutex
	devices  map[string]string // ids, by hardware

	taking int        // how often a connection was told what is in the home
	giving sync.Mutex // guards given, the last that it was told
	given  int
}

// New returns a link that is not at work yet.
func New(o Options) *Link {
	l := &Link{
		ID: o.ID, Definition: o.Definition, Connection: o.Connection, inbox: o.Inbox, home: o.Home, messages: o.Messages, log: o.Log, outbox: newOutbox(), frames: newFrames(),
		ended: make(chan struct{}), since: o.Home.Now(), known: o.Connection == nil, reason: o.Reason,
		unreached: map[string]string{}, announced: map[string]connect.Announcement{}, seen: map[string]time.Time{},
		reacted: map[string]time.Time{}, heardAt: map[string]time.Time{},
		gateways: map[string]Gateway{}, lostGateways: map[string]bool{}, behind: map[string]string{}, left: map[string]bool{}, devices: map[string]string{},
	}
	if l.messages == nil {
		l.messages = NewMessages(o.Home.Now)
	}
	maps.Copy(l.behind, o.Behind)
	maps.Copy(l.devices, o.Devices)
	_, l.polls = o.Connection.(connect.Polled)
	if p, is := o.Connection.(connect.Prompt); is {
		l.prompt = p.Prompt()
	}
	return l
}

// Begin sets the link to work until the context ends or it is stopped, once a link before it that there may be has ended
// wholly: what that one clears when it ends is not this one's. It returns at once.
func (l *Link) Begin(ctx context.Context, workers *sync.WaitGroup, before *Link) {
	l.context, l.stop = context.WithCancel(ctx)
	workers.Go(func() {
		defer close(l.ended)
		if before != nil {
			<-before.ended
		}
		l.session(l.context)
	})
	l.tellDevices(workers)
}

// Stop ends it; it returns before all has ended. What it says from then on counts no more.
func (l *Link) Stop() {
	l.stopped = true
	l.stop()
}

// session is the life of a connection. What waits when it ends, were it before it began, is told to be undelivered.
func (l *Link) session(ctx context.Context) {
	if l.Running() && ctx.Err() == nil {
		var all sync.WaitGroup
		all.Go(func() { l.Connection.Run(ctx, l) })
		for range lanes {
			all.Go(func() { l.work(ctx) })
		}
		all.Go(func() { l.glow(ctx) })
		all.Wait()
	}
	for _, d := range l.outbox.drain() {
		l.inbox.Undelivered(d.output, "The connection was changed before this was sent.")
	}
}

// Running reports whether the connection is at work, not paused and not impossible. It may be called from any goroutine.
func (l *Link) Running() bool { return l.Connection != nil && !l.Definition.Paused }

// tellDevices tells a connection that speaks only with what is in the home what that is, beside the loop; what is newest counts.
func (l *Link) tellDevices(workers *sync.WaitGroup) {
	selective, is := l.Connection.(connect.Selective)
	if !is {
		return
	}
	taken := make(map[string]bool, len(l.devices))
	for hardware := range l.devices {
		taken[hardware] = true
	}
	l.taking++
	turn := l.taking
	workers.Go(func() {
		l.giving.Lock()
		defer l.giving.Unlock()
		if turn > l.given {
			l.given = turn
			selective.Select(taken)
		}
	})
}

// Bind ties reports about a piece of hardware to a device; an empty id unties them.
func (l *Link) Bind(hardware, device string, workers *sync.WaitGroup) {
	l.hardware.Lock()
	if device == "" {
		delete(l.devices, hardware)
	} else {
		l.devices[hardware] = device
	}
	l.hardware.Unlock()
	l.forget(hardware)
	l.tellDevices(workers)
}

// Device returns the id of the device of the home that a piece of hardware is, "" for none. It may be called from any goroutine.
func (l *Link) Device(hardware string) string {
	l.hardware.RLock()
	defer l.hardware.RUnlock()
	return l.devices[hardware]
}

// Devices returns the devices of the home that use it, by hardware.
func (l *Link) Devices() map[string]string { return maps.Clone(l.devices) }

// AddressOf returns where hardware is reached now: a device is followed by its hardware identity. Where it is not seen, it is
// where it was known last.
func (l *Link) AddressOf(hardware, known string) string {
	if seen, there := l.announced[hardware]; there {
		return seen.Address
	}
	return known
}

// Deliver sends a command, or puts it into the queue.
func (l *Link) Deliver(out engine.Output, address, hardware string) {
	switch {
	case l.Definition.Paused:
		l.inbox.Undelivered(out, "The connection of this device is paused.")
		return
	case l.Connection == nil:
		l.inbox.Undelivered(out, l.reason)
		return
	}
	l.commanded = true
	l.frames.forget(out.Device)
	next := delivery{output: out, address: l.AddressOf(hardware, address)}
	if l.prompt && l.outbox.claim(out.Device) {
		l.carryOut(l.context, next)
		return
	}
	l.outbox.push(next)
}

// work delivers commands, in a goroutine of its own; several work side by side on different devices.
func (l *Link) work(ctx context.Context) {
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
func (l *Link) carryOut(ctx context.Context, d delivery) {
	began := time.Now()
	var outcome connect.Outcome
	ctx, number := l.sending(ctx, d)
	if d.output.Kind == engine.OutputInvoke {
		outcome = l.Connection.Invoke(ctx, d.address, d.output.Name, d.output.Given)
	} else {
		outcome = l.Connection.Write(ctx, d.address, d.output.Name, d.output.Value, d.output.Fade)
	}
	l.traffic.count(began)
	if outcome.OK && !outcome.Assumed {
		l.traffic.took(time.Since(began))
	}
	if !outcome.OK {
		l.inbox.Job(func() { l.lastFailure = outcome.Reason })
	}
	l.messages.became(number, outcomeOf(outcome))
	l.inbox.Outcome(d.output, outcome)
	l.outbox.done(d)
}

// sending writes down that a command is sent, and returns a context in which what goes out for it is added to that.
func (l *Link) sending(ctx context.Context, d delivery) (context.Context, uint64) {
	kind := "command"
	if d.output.Kind == engine.OutputInvoke {
		kind = "action"
	}
	became := make([]Became, 1, 2) // and what becomes of it
	became[0] = Became{Kind: kind, Device: d.output.Device, Name: d.output.Name, Value: d.output.Value}
	number := l.messages.add(WireMessage{Connection: l.ID, Sent: true, Cause: d.output.Cause, Became: became})
	return connect.Sending(ctx, func(sent connect.Message) {
		text, cut := shownText(sent.Body)
		l.messages.change(number, func(m *WireMessage) {
			if m.Text != "" {
				return // it is asked again for what it then is at
			}
			m.Place, m.Text, m.Cut = sent.Place, text, cut
		})
	}), number
}

// outcomeOf is what became of a command.
func outcomeOf(o connect.Outcome) Became {
	switch {
	case !o.OK:
		return Became{Kind: "failed", Reason: o.Reason}
	case o.Assumed:
		return Became{Kind: "done", Reason: "No answer can be had over this way."}
	}
	return Became{Kind: "done"}
}

// Commanded reports whether a command went to it since this was asked last.
func (l *Link) Commanded() bool {
	commanded := l.commanded
	l.commanded = false
	return commanded
}

// Settle returns when all commands are delivered and everything polled was polled since. It may be called from any goroutine
// but the loop's.
func (l *Link) Settle(ctx context.Context) {
	l.outbox.wait()
	l.Connection.Sync(ctx)
}

// Down reports whether the connection is known to be down, and why.
func (l *Link) Down() (down bool, reason string) { return l.known && !l.up, l.reason }

// IsDown reports whether the connection is known to be down.
func (l *Link) IsDown() bool { return l.known && !l.up }

// Unreached reports whether hardware behind it cannot be reached, and why.
func (l *Link) Unreached(hardware string) (unreached bool, reason string) {
	if l.Definition.Paused {
		return true, "Its connection is paused."
	}
	if down, reason := l.Down(); down {
		return true, "Its connection is down. " + reason
	}
	reason, unreached = l.unreached[hardware]
	return unreached, reason
}

// Announcements returns what announced itself, in the connection's order.
func (l *Link) Announcements() []connect.Announcement { return slices.Clip(l.found) }

// Announced returns what a piece of hardware announced.
func (l *Link) Announced(hardware string) (connect.Announcement, bool) {
	a, there := l.announced[hardware]
	return a, there
}

// SeenSince returns when hardware was first announced since the start, zero where it was not.
func (l *Link) SeenSince(hardware string) time.Time { return l.seen[hardware] }

// ReactedAt returns when hardware that is not in the home last did something by itself, zero where it did not.
func (l *Link) ReactedAt(hardware string) time.Time { return l.reacted[hardware] }

// HasGateway reports whether a gateway is known behind it.
func (l *Link) HasGateway(name string) bool {
	_, known := l.gateways[name]
	return known
}
