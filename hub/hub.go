// Package hub acts on what the core decides: one goroutine feeds the engine with
// real events and real time, commands go out over bounded queues, one for each
// connection, and definitions, states, journal and history go to the store. It
// decides nothing that a home does: that is the core's.
package hub

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"strconv"
	"sync"
	"sync/atomic"
	"time"

	"amvek/connect"
	"amvek/connect/mqtt"
	"amvek/connect/outside"
	"amvek/core/battery"
	"amvek/core/cause"
	"amvek/core/check"
	"amvek/core/engine"
	"amvek/core/thing"
	"amvek/core/trial"
	"amvek/hub/catalogue"
	"amvek/hub/docs"
	"amvek/hub/links"
	"amvek/hub/sessions"
	"amvek/hub/show"
	"amvek/hub/uploads"
	"amvek/hub/views"
	"amvek/store"
)

// Options are what a hub needs.
type Options struct {
	Store *store.Store
	Clock Clock
	Log   *slog.Logger
	// Catalogue finds the profiles of models.
	Catalogue *catalogue.Catalogue
	// Standing are the connections that are always there, and Drivers make others.
	Standing []Standing
	Drivers  []connect.Driver
	// Broker is the hub's own, nil where it has none.
	Broker *mqtt.Broker
	// Programs is the folder of the programs that rules can run; "" allows none.
	Programs string
	// Look are addresses at which bridges are looked for.
	Look []string
}

// Hub is a running home. Its methods may be called from any goroutine.
type Hub struct {
	Feed *show.Feed
	// Sessions knows which browsers were let in.
	Sessions *sessions.Sessions
	taker    uploads.Taker
	people   people
	log      *slog.Logger
	store    *store.Store
	clock    Clock
	inbox    *inbox
	// arrived is when what is being handled came in, and pressed when something last did for which somebody waits, both by
	// the machine's clock.
	arrived, pressed time.Time
	left             remainder

	catalogue *catalogue.Catalogue
	broker    *mqtt.Broker
	standing  []Standing
	drivers   []connect.Driver
	look      []string
	programs  outside.Programs
	// elsewhere calls web addresses but those of this machine, anywhere also those.
	elsewhere, anywhere *http.Client

	stop     context.CancelFunc
	context  context.Context
	workers  sync.WaitGroup
	pictures pictures
	saving   sync.Mutex // one change of definitions at a time
	keying   sync.Mutex // the keys of programs, of the broker's clients and of described devices are each read and written anew as a whole
	// giving makes one connection after the other take the described devices; of several turns the newest counts.
	giving     sync.Mutex
	givingTurn atomic.Uint64

	// What follows belongs to the loop's goroutine.
	engine      *engine.Engine
	reader      *views.Reader // what views are computed on
	definitions docs.Set
	links       map[string]*links.Link
	behind      map[string]map[string]string       // by connection and hardware the gateway by which that was last listed
	linked      bool                               // whether the connections have been set going
	undone      map[string]map[string]views.Undone // actions not carried out, by device and action
	titles      map[string]string                  // of all definitions ever, also removed ones
	unsaved     map[stateKey]struct{}
	trials      map[string]*trial.Trial // of the devices that are being tried
	steady      map[string]*steadyTrial // lamps whose least level is searched
	inPassing   map[string]struct{}     // rules of which only what is shown changed: kept a few at a time
	passedAt    time.Time               // by the machine's clock: when some of them were last kept
	saveAt      time.Time               // by the machine's clock: when what is unsaved is handed to the store
	shown       shown
	flows       flows
	messages    *links.Messages
	messaged    messaged
	models      map[[2]string][]string     // devices by their maker and model; nil until it is asked for
	former      map[hardwareKey]Former     // devices that were removed, by their hardware
	findings    map[string][]check.Finding // in rules, until they may have become different
	bridges     []FoundBridge
	pairing     *pairing
	projections map[string]battery.Projection // of batteries, by device
	attention   attention
	added       map[string]time.Time      // when each device came into the home
	chance      uint64                    // what is left to chance in this home comes from it
	aside       map[asideKey]Aside        // definitions that are not at work
	stoppers    map[asideKey]stopper      // those of them that stopped the engine
	refusals    int                       // how often something was refused, counted by who asks
	silent      map[string]bool           // devices of which the history says that nothing is known
	dataNeeds   []dataNeed                // what is wrong with what the hub keeps
	tried       map[string]Need           // who tried to come in, by what they gave wrong
	calling     int                       // how many calls outside are under way
	notices     []Notice                  // the oldest first
	drafts      map[string]store.Draft    // of rules, by their ids
	calendars   map[string]*calendarState // what was last read of each
	drafting    sync.Mutex                // one draft is written after the other, so that they are told in order
	trouble     *Trouble                  // nil while all records are kept
}

// Trouble is that readings and the journal cannot be kept at present.
type Trouble struct {
	Reason string    `json:"reason"`
	Since  time.Time `json:"since"`
}

// Start loads the home and begins.
func Start(ctx context.Context, o Options) (*Hub, error) {
	h := &Hub{
		log: o.Log, store: o.Store, clock: o.Clock, inbox: newInbox(),
		catalogue: o.Catalogue, broker: o.Broker, standing: o.Standing, drivers: o.Drivers, look: o.Look,
		programs: outside.Programs{Folder: o.Programs}, elsewhere: outside.Client(false),
		anywhere: outside.Client(true),
		links:    map[string]*links.Link{},
		messages: links.NewMessages(o.Clock.Now),
		flows:    flows{told: map[string]uint64{}},
		shown:    shown{board: show.NewBoard(string(docs.KindDevice), shownProperty, string(docs.KindRule), shownFound)},
		findings: map[string][]check.Finding{}, unsaved: map[stateKey]struct{}{}, inPassing: map[string]struct{}{},
		trials: map[string]*trial.Trial{}, projections: map[string]battery.Projection{}, attention: newAttention(),
		calendars: map[string]*calendarState{}, aside: map[asideKey]Aside{}, silent: map[string]bool{},
		stoppers: map[asideKey]stopper{},
	}
	h.Feed = show.NewFeed(rand.Text(), func() { h.inbox.push(item{job: func() {}}) }) // what waited is told from now on
	var err error
	if h.Sessions, err = sessions.Open(ctx, o.Store, time.Now); err != nil {
		return nil, fmt.Errorf("reading the sessions: %w", err)
	}
	if err := errors.Join(h.load(ctx), h.loadBehind(ctx), h.loadAdmitted(ctx)); err != nil {
		return nil, err
	}
	h.context, h.stop = context.WithCancel(context.WithoutCancel(ctx))
	if err := h.loadSteady(ctx); err != nil {
		return nil, err
	}
	// The connections first: what is overdue is commanded at once.
	h.startLinks()
	h.handle(engine.Input{Kind: engine.InputStart})
	h.store.OnTrouble(h.troubled)
	h.store.OnFinding(func(found store.Finding, well bool) {
		h.inbox.push(item{job: func() {
			if well {
				h.seenTo(found.What)
			} else {
				h.needsOwner(found.What, found.Title, found.Text)
			}
		}})
	})
	h.projectBatteries()
	h.touchAll()
	h.workers.Go(h.loop)
	h.workers.Go(func() { h.compare(h.context) })
	h.workers.Go(func() { h.forget(h.context) })
	h.workers.Go(func() { h.followCalendars(h.context) })
	h.workers.Go(func() { h.dropUnusedUploads(h.context) })
	return h, nil
}

// Close ends the loop and all connections, and returns when all that was decided is with the store.
func (h *Hub) Close() {
	h.stop()
	h.workers.Wait()
}

func (h *Hub) propertyChanged(out *engine.Output) {
	ref := thing.Ref{Device: out.Device, Name: out.Name}
	state, ok := h.engine.PropertyState(ref)
	if !ok {
		return
	}
	h.keep(stateKey{"property", ref.Device, ref.Name})
	if out.Measured {
		if v := out.Value; v.Kind == thing.KindNumber || v.Kind == thing.KindBoolean {
			if !state.Raw.IsNone() {
				v = state.Raw // a calibration may be changed, or taken back, for the past as well
			}
			h.measured(ref, v)
		} else if !v.IsNone() {
			h.stayed(ref, v)
		}
	}
	h.shown.board.Touch(show.Key{Of: shownProperty, ID: ref.Device, Name: ref.Name})
	if p := h.engine.Property(ref.Device, ref.Name); p == nil || !p.Writable {
		return
	}
	h.touchProperties(ref.Device) // of two that exclude each other one does not count
	for _, n := range h.definitions.Referring(ref.Device) {
		if n.Kind == docs.KindScene {
			h.touch(n.Kind, n.ID) // it may be in effect now, or no longer
		}
	}
}

func (h *Hub) ruleChanged(id string, toBeKept bool) {
	if h.engine.HasRule(id) {
		if toBeKept {
			h.keep(stateKey{"rule", id, ""})
			if h.engine.UnderWay(id) {
				h.saveAt = time.Time{} // where a run waits is not to be lost, nor may it be long in memory alone
			}
		} else {
			h.inPassing[id] = struct{}{}
		}
		h.shown.board.Touch(show.Key{Of: string(docs.KindRule), ID: id})
		return
	}
	if _, _, ok := h.engine.ScheduleView(id); ok {
		h.keep(stateKey{"schedule", id, ""})
		h.touch(docs.KindSchedule, id)
		h.shown.board.Touch(show.Key{Of: shownMark, ID: id})
	}
}

// tellEntry tells an entry of the journal as it is written. It runs in the loop.
func (h *Hub) tellEntry(e cause.Entry) {
	h.addMark(e)
	if h.Feed.Listened() {
		h.say(toldJournal, strconv.FormatUint(uint64(e.ID), 10), h.reader.Entry(e))
	}
}

// troubled takes that records can no longer be kept, or are kept again.
func (h *Hub) troubled() {
	h.inbox.push(item{job: func() {
		h.trouble = nil
		if t := h.store.Trouble(); t != nil {
			h.trouble = &Trouble{Reason: t.Reason, Since: h.clock.Now()}
		}
		h.tellNeeds()
	}})
}

// Now returns the time by the hub's clock.
func (h *Hub) Now() time.Time { return h.clock.Now() }

// Wake lets everything happen that is due by the clock, and returns afterwards.
func (h *Hub) Wake(ctx context.Context) error {
	return h.do(ctx, func() {
		h.followClock()
		h.handle(engine.Input{Kind: engine.InputTick})
	})
}

// NextDeadline returns when the home next does something by itself.
func (h *Hub) NextDeadline(ctx context.Context) (at time.Time, ok bool, err error) {
	err = h.do(ctx, func() { at, ok = h.engine.NextDeadline() })
	return at, ok, err
}

// Quiet returns when all commands are delivered, everything polled was polled since, and what
// came of it is handled.
func (h *Hub) Quiet(ctx context.Context) error {
	return h.settle(ctx, func(l *links.Link) bool {
		l.Commanded()
		return true
	})
}

// Settle is Quiet for the connections over which something was commanded since it was called last: the others,
// which may be slow, are not asked.
func (h *Hub) Settle(ctx context.Context) error {
	return h.settle(ctx, (*links.Link).Commanded)
}

func (h *Hub) settle(ctx context.Context, which func(*links.Link) bool) error {
	var waited []*links.Link
	if err := h.do(ctx, func() {
		for _, l := range h.links {
			if which(l) && l.Running() {
				waited = append(waited, l)
			}
		}
	}); err != nil {
		return err
	}
	for _, l := range waited {
		l.Settle(ctx)
	}
	return h.do(ctx, func() {})
}
