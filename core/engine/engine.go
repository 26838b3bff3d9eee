// Package engine joins the core into one deterministic state machine: inputs from
// outside and the passing of time go in, commands, journal entries and changes come
// out. It has no clock, goroutine, randomness or I/O: the same inputs at the same
// times give the same outputs, byte for byte.
package engine

import (
	"slices"
	"strings"
	"time"

	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/expr"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/script"
	"amvek/core/state"
	"amvek/core/thing"
)

// Limits that keep one bad rule from stopping the rest of the home.
const (
	// SettlingTime is how long after a command the device may still report old or
	// passing values without that counting as a hand's doing.
	SettlingTime = 3 * time.Second
	// MaximumStepsPerInstant bounds the steps one rule takes without waiting, however many others do at the same time.
	MaximumStepsPerInstant = 500
	// MaximumStepsPerMinute bounds the steps that one rule takes within a minute, waits between them included.
	MaximumStepsPerMinute = 60_000
	// ShortestWait is how long a run waits at least where it waits, so that time goes on whatever a wait comes to.
	ShortestWait = 10 * time.Millisecond
	// MaximumWakingsPerInstant bounds how often one thing is woken by its timers while no time passes.
	MaximumWakingsPerInstant = 1000
	// MaximumChain bounds how many rules may follow from one input.
	MaximumChain = 40
	// MaximumFiringsPerMinute bounds how often one rule may start.
	MaximumFiringsPerMinute = 6000
	// MaximumRuns bounds the runs of one rule at a time, waiting ones included.
	MaximumRuns = 50
)

// Engine is the state machine. Make one with [New]. It is not safe for use by several goroutines.
type Engine struct {
	now   time.Time
	home  home.Home
	place almanac.Place
	zone  *time.Location

	devices  map[string]*home.Device
	slots    index
	parked   map[thing.Ref]state.PropertyState // of removed devices
	watches  map[string]*watch                 // of devices that speak by themselves
	lost     map[string]bool                   // connections that are down
	reached  map[string]uint64                 // the first command after a connection or a device was reached, by their ids
	byDevice map[string][]slot                 // in the order of the description
	events   map[thing.Ref][]trigger
	keys     map[thing.Ref]*key // whose gestures are made here
	links    map[string]*linkState
	fed      map[thing.Ref][]*linkState // by the events that feed them
	dials    map[thing.Ref][]*ruleState // by the turns that set the pace of their steps
	flowing  []*linkState               // through which anything went since [Engine.Flowing]
	mirrors  map[string]*mirrorState
	lights   map[string]*roomLight
	curves   map[string]*curveState
	laid     map[string]*laidScene // by the ids of scenes
	// reflecting are the members of mirrors that changed in this instant, and reflected those that mirrors have written in it.
	reflecting, reflected []*slot
	attended              *slot // at which somebody is now, who may switch on what is attended only
	scenes                map[string]*light.Scene
	groups                map[string]*home.Group
	rooms                 map[string]*home.Room
	sets                  map[string][]string // the devices of rooms, floors and labels, by id; nil until they are asked for
	language              expr.Language
	compiled              map[string]*expr.Expression // by their texts
	panels                map[string]bool             // the dashboards that there are
	scripts               map[string]*script.Program  // by their texts
	computing             []*weigher                  // the properties of the home itself that are computed
	signals               map[string][]trigger        // by what starts the rules: phrases, calls, silences, starts
	rules                 map[string]*ruleState
	former                map[string]state.RuleState // what is remembered of rules that were removed, should they come back
	ruleOrder             []*ruleState               // by id, for a fixed order of evaluation
	schedules             map[string]*scheduleState
	sequences             map[string]*sequence
	// calendars are the entries of each, as they were last read.
	calendars map[string][]almanac.Entry

	timers      timerHeap
	timerCount  uint64
	nextEntry   cause.ID
	nextCommand uint64
	nextFrame   uint64

	input    cause.Entry // the input being handled, by origin; written only when something follows
	inputID  cause.ID    // its id once written, else 0
	speaker  *slot       // of a report of whose entry nothing was needed yet, else nil
	spoken   thing.Value // what it says
	awaiting int         // how many runs may wait for a property, at most
	instant  uint64      // counts what is dealt with: an input, or a time that came

	waiting      []*ruleState // rules whose conditions changed in this instant
	dirtySlots   []*slot
	spoke        []*slot // what reported anything since [Engine.Heard], each once
	dirtyRules   []*ruleState
	dirtyWatches []*watch
	out          []Output
	asking       []Output // for what properties were at, from the next input on
	suspect      Suspect
	loading      bool
	untraced     bool
	still        bool   // whether no frames of effects are made
	starting     bool   // whether saved states are being taken up
	seed         uint64 // of what is left to chance
	commandAgain bool
	atOnce       bool        // whether no fade is made in steps
	ahead        int         // what [readAhead] returned
	coming       thing.Value // into a stage of a link
	sent         string      // what another program sent with the call that the step being taken goes back to
}

// why is what an effect follows from: an entry's id, or 0 for the input being
// handled, and how many rules lie between.
type why struct {
	id    cause.ID
	depth int
	// silent says that nothing is written down of it: what is in effect only follows what it is said to follow.
	silent bool
}

// New returns an engine without a home. Entries and commands are numbered from the given
// numbers on, which must be above all that were used before.
func New(firstEntry cause.ID, firstCommand uint64) *Engine {
	return &Engine{
		zone:        time.UTC,
		devices:     map[string]*home.Device{},
		parked:      map[thing.Ref]state.PropertyState{},
		watches:     map[string]*watch{},
		lost:        map[string]bool{},
		reached:     map[string]uint64{},
		byDevice:    map[string][]slot{},
		events:      map[thing.Ref][]trigger{},
		keys:        map[thing.Ref]*key{},
		links:       map[string]*linkState{},
		fed:         map[thing.Ref][]*linkState{},
		dials:       map[thing.Ref][]*ruleState{},
		mirrors:     map[string]*mirrorState{},
		lights:      map[string]*roomLight{},
		curves:      map[string]*curveState{},
		laid:        map[string]*laidScene{},
		scenes:      map[string]*light.Scene{},
		groups:      map[string]*home.Group{},
		rooms:       map[string]*home.Room{},
		panels:      map[string]bool{},
		calendars:   map[string][]almanac.Entry{},
		sequences:   map[string]*sequence{},
		signals:     map[string][]trigger{},
		rules:       map[string]*ruleState{},
		former:      map[string]state.RuleState{},
		schedules:   map[string]*scheduleState{},
		nextEntry:   max(firstEntry, 1),
		nextCommand: max(firstCommand, 1),
		nextFrame:   1,
	}
}

// Handle takes one input at a moment and returns what follows from it. Timers that fell
// due before are handled first. The returned slice is valid until the next call.
func (e *Engine) Handle(now time.Time, in Input) []Output {
	if in.Kind == InputReport {
		return e.Report(now, in.Device, in.Name, in.Value, in.Polled)
	}
	e.out = e.out[:0]
	if in.Kind == InputClock {
		now = now.Add(-in.By) // up to this moment time passed by the clock as it was
	}
	if now.After(e.now) {
		e.now = now
	}
	e.suspect = suspected(&in)
	e.fireDue()
	e.suspect = suspected(&in)
	e.begin(cause.Entry{Kind: cause.Reported, Device: in.Device, Name: in.Name, Value: in.Value, By: in.Doer})
	e.carryOut(&in)
	e.settle()
	return e.finish()
}

// Report handles an [InputReport], by far the most frequent input, without the cost of making one. Polled says
// that the device was asked, so that its answer tells nothing of how often it speaks by itself.
func (e *Engine) Report(now time.Time, device, name string, v thing.Value, polled bool) []Output {
	s := e.find(device, name) // first, so that its memory comes while the rest goes on
	e.out = e.out[:0]
	if now.After(e.now) {
		e.now = now
	}
	e.fireDue()
	if s == nil {
		return e.finish()
	}
	e.instant++
	e.suspect.Kind, e.suspect.ID = KindDevice, s.ref.Device
	e.speaker, e.inputID = s, 0
	e.spoken.Assign(&v)
	if s.listened && !polled {
		e.said(s)
	}
	if s.plain || s.driver == nil || !e.driven(s, v) {
		e.report(s, &e.spoken)
	}
	if len(e.waiting) > 0 || len(e.reflecting) > 0 {
		e.settle()
	}
	return e.finish()
}

// Seed sets what is left to chance from: engines with the same seed and inputs do the same.
func (e *Engine) Seed(seed uint64) { e.seed = seed }

// NextDeadline returns when the engine next has something to do by itself: call
// Handle with a Tick at that time. It is false when nothing is due ever.
func (e *Engine) NextDeadline() (time.Time, bool) {
	for len(e.timers) > 0 {
		if e.valid(&e.timers[0]) {
			return e.timers[0].at, true
		}
		e.timers.pop()
	}
	return time.Time{}, false
}

func (e *Engine) begin(entry cause.Entry) {
	e.input, e.inputID, e.speaker = entry, 0, nil
	e.instant++
	e.input.At = e.now
}

// origin returns the entry of the input being handled, which may be changed until it is written.
func (e *Engine) origin() *cause.Entry {
	if s := e.speaker; s != nil {
		e.input = cause.Entry{Kind: cause.Reported, Device: s.ref.Device, Name: s.ref.Name, Value: e.spoken, At: e.now}
		e.speaker = nil
	}
	return &e.input
}

// inputEntry returns the id of the input's entry, writing it the first time.
func (e *Engine) inputEntry() cause.ID {
	if e.inputID == 0 {
		e.inputID = e.journal(*e.origin())
	}
	return e.inputID
}

func (e *Engine) resolve(w why) cause.ID {
	if w.id == 0 {
		return e.inputEntry()
	}
	return w.id
}

func (e *Engine) journal(entry cause.Entry) cause.ID {
	entry.ID = e.nextEntry
	entry.At = e.now
	e.nextEntry++
	e.out = append(e.out, Output{Kind: OutputJournal, Entry: &entry})
	return entry.ID
}

// follow writes an entry that follows from w and returns the why of its own effects.
func (e *Engine) follow(w why, entry cause.Entry) why {
	entry.Parent = e.resolve(w)
	return why{id: e.journal(entry), depth: w.depth}
}

// emit adds an output to be filled in, which is quicker for the most frequent than to copy it there.
func (e *Engine) emit() *Output {
	n := len(e.out)
	if n < cap(e.out) {
		e.out = e.out[:n+1]
		e.out[n] = Output{}
	} else {
		e.out = append(e.out, Output{})
	}
	return &e.out[n]
}

func (e *Engine) finish() []Output {
	for _, s := range e.dirtySlots {
		s.dirty = false
		out := e.emit()
		out.Kind, out.Device, out.Name, out.Measured = OutputProperty, s.ref.Device, s.ref.Name, s.measured
		out.Value.Assign(&s.Reported)
		s.measured = false
		if !s.plain {
			for _, m := range s.mirrors { // whether its members agree
				e.out = append(e.out, Output{Kind: OutputMirror, Name: m.id})
			}
			for _, l := range s.lights {
				e.touchLight(l)
			}
		}
	}
	e.dirtySlots, e.reflected = e.dirtySlots[:0], e.reflected[:0]
	for _, r := range e.dirtyRules {
		e.out = append(e.out, Output{Kind: OutputRule, Rule: r.id, Changed: r.changed})
		r.dirty, r.changed = false, false
	}
	e.dirtyRules = e.dirtyRules[:0]
	for _, w := range e.dirtyWatches {
		w.dirty = false
		e.out = append(e.out, Output{Kind: OutputDevice, Device: w.id})
	}
	e.dirtyWatches = e.dirtyWatches[:0]
	if len(e.asking) > 0 {
		e.out = append(e.out, e.asking...)
		e.asking = e.asking[:0]
	}
	return e.out
}

// start lets all rules look at how things are. A quiet one is no start of the hub to them.
func (e *Engine) start(quiet bool) {
	e.origin().Kind = cause.Started
	e.inputEntry()
	e.loading = false
	e.dropSequences()
	e.relaid()
	e.followAnew()
	e.startLinks()
	e.startMirrors()
	for _, r := range e.ruleOrder {
		e.evaluate(r, why{})
	}
	if !quiet {
		e.signal(signalStart, why{})
	}
}

// settle evaluates rules until nothing in this instant changes any more.
func (e *Engine) settle() {
	for len(e.waiting) > 0 || len(e.reflecting) > 0 {
		for len(e.waiting) > 0 {
			r := e.waiting[0]
			e.waiting = slices.Delete(e.waiting, 0, 1)
			r.queued = false
			e.evaluate(r, r.wokenBy)
		}
		e.settleMirrors()
	}
}

func sortedKeys[T any](m map[string]T) []string {
	keys := make([]string, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	slices.SortFunc(keys, strings.Compare)
	return keys
}

// NextCommand returns the number that the next command will get.
func (e *Engine) NextCommand() uint64 { return e.nextCommand }

// Note numbers and times an entry about something that the engine has no part in, such as an
// action that was not carried out.
func (e *Engine) Note(entry cause.Entry, now time.Time) cause.Entry {
	entry.ID, entry.At = e.nextEntry, now
	e.nextEntry++
	return entry
}
