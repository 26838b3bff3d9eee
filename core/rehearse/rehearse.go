// Package rehearse lets the home's own engine run on pretend readings and a clock of its own, to see what a rule would
// do. Nothing that happens here reaches a device.
package rehearse

import (
	"maps"
	"slices"
	"time"

	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/link"
	"amvek/core/mirror"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// Limits of a rehearsal.
const (
	LongestSpan = 24 * time.Hour
	entriesKept = 400
	instants    = 20_000
)

// Home is the home as it is: its definitions, and what the engine remembers.
type Home struct {
	Home    *home.Home
	Devices map[string]*home.Device
	Scenes  map[string]*light.Scene
	Groups  map[string]*home.Group
	Rooms   map[string]*home.Room
	// Dashboards are the ids of those that there are.
	Dashboards []string
	// Calendars are the entries of each, as they were last read.
	Calendars map[string][]almanac.Entry
	Sequences map[string]*light.Sequence
	Links     map[string]*link.Link
	Mirrors   map[string]*mirror.Mirror
	Lights    map[string]*light.RoomLight
	Curves    map[string]*light.DayCurve
	Rules     map[string]*rule.Rule
	Schedules map[string]*rule.Schedule
	Saved     state.Saved
	// Now is when all that was so.
	Now  time.Time
	Seed uint64
}

// Reading is what a property is pretended to be at.
type Reading struct {
	Device string      `json:"device"`
	Name   string      `json:"name"`
	Value  thing.Value `json:"value"`
}

// Pretence is what is pretended about one rule.
type Pretence struct {
	// Rule is the id of the rule, and Document how it would be.
	Rule     string
	Document *rule.Rule
	At       time.Time
	// Before are readings that are so already, Then those that come at that moment.
	Before, Then []Reading
	// Trigger is the index of a trigger that comes, below 0 for none; ByHand runs the rule as a person would.
	Trigger int
	ByHand  bool
	// Span is for how long to look on.
	Span time.Duration
}

// Result is what would happen.
type Result struct {
	Problems []rule.Problem
	// Conditions are how those of the rule stood at that instant, before it did anything; those of steps as they were
	// when the steps were taken.
	Conditions []engine.ConditionState
	// Entries are what would be written in the journal, oldest first.
	Entries []cause.Entry
	// Ended is when it was no longer looked at; Cut says that there was more than is kept.
	Ended time.Time
	Cut   bool
}

// Run pretends. Devices do at once what they are asked for.
func Run(h Home, p Pretence) Result {
	r := &rehearsal{engine: engine.New(1, 1), now: p.At}
	r.engine.Seed(h.Seed)
	r.engine.BeginLoading(p.At)
	r.define(h, p)
	r.engine.Load(saved(h, p))
	r.rule = p.Rule
	r.give(engine.Input{Kind: engine.InputStart, Quiet: true})
	for _, reading := range p.Then {
		r.give(engine.Input{Kind: engine.InputReport, Device: reading.Device, Name: reading.Name, Value: reading.Value})
	}
	switch {
	case p.ByHand:
		r.give(engine.Input{Kind: engine.InputRun, Rule: p.Rule, Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}})
	case p.Trigger >= 0:
		r.follow(r.engine.Come(r.now, p.Rule, p.Trigger))
	}
	r.watch(p.Rule)
	end := p.At.Add(min(max(p.Span, 0), LongestSpan))
	for range instants {
		at, more := r.engine.NextDeadline()
		if !more || at.After(end) || r.result.Cut {
			break
		}
		r.now = at
		r.give(engine.Input{Kind: engine.InputTick})
	}
	r.result.Ended = end
	if r.result.Cut {
		r.result.Ended = r.now
	}
	return r.result
}

type rehearsal struct {
	engine *engine.Engine
	now    time.Time
	rule   string
	result Result
	traces []state.Trace // of the rule itself
}

func (r *rehearsal) define(h Home, p Pretence) {
	r.engine.Still()
	give := func(in engine.Input) {
		in.Kind = engine.InputDefine
		r.engine.Handle(r.now, in)
	}
	give(engine.Input{Definition: engine.KindHome, Home: h.Home})
	for _, id := range slices.Sorted(maps.Keys(h.Rooms)) {
		give(engine.Input{Definition: engine.KindRoom, ID: id, Room: h.Rooms[id]})
	}
	for _, id := range slices.Sorted(maps.Keys(h.Devices)) {
		d := h.Devices[id]
		give(engine.Input{Definition: engine.KindDevice, ID: id, Thing: d})
	}
	for _, id := range slices.Sorted(maps.Keys(h.Scenes)) {
		s := h.Scenes[id]
		give(engine.Input{Definition: engine.KindScene, ID: id, SceneDoc: s})
	}
	for _, id := range slices.Sorted(maps.Keys(h.Groups)) {
		g := h.Groups[id]
		give(engine.Input{Definition: engine.KindGroup, ID: id, Group: g})
	}
	for _, id := range h.Dashboards {
		give(engine.Input{Definition: engine.KindDashboard, ID: id})
	}
	for _, id := range slices.Sorted(maps.Keys(h.Calendars)) {
		entries := h.Calendars[id]
		give(engine.Input{Definition: engine.KindCalendar, ID: id})
		r.engine.Handle(r.now, engine.Input{Kind: engine.InputEntries, ID: id, Entries: entries})
	}
	for _, id := range slices.Sorted(maps.Keys(h.Sequences)) {
		s := h.Sequences[id]
		give(engine.Input{Definition: engine.KindSequence, ID: id, Sequence: s})
	}
	for _, id := range slices.Sorted(maps.Keys(h.Links)) {
		l := h.Links[id]
		give(engine.Input{Definition: engine.KindLink, ID: id, Link: l})
	}
	for _, id := range slices.Sorted(maps.Keys(h.Curves)) {
		give(engine.Input{Definition: engine.KindCurve, ID: id, Curve: h.Curves[id]})
	}
	for _, id := range slices.Sorted(maps.Keys(h.Lights)) {
		give(engine.Input{Definition: engine.KindRoomLight, ID: id, RoomLight: h.Lights[id]})
	}
	for _, id := range slices.Sorted(maps.Keys(h.Mirrors)) {
		m := h.Mirrors[id]
		give(engine.Input{Definition: engine.KindMirror, ID: id, Mirror: m})
	}
	for _, id := range slices.Sorted(maps.Keys(h.Rules)) {
		doc := h.Rules[id]
		if id != p.Rule {
			give(engine.Input{Definition: engine.KindRule, ID: id, RuleDoc: doc})
		}
	}
	for _, id := range slices.Sorted(maps.Keys(h.Schedules)) {
		s := h.Schedules[id]
		give(engine.Input{Definition: engine.KindSchedule, ID: id, Schedule: s})
	}
	doc := *p.Document
	doc.Enabled = true // whether it is on is not what is asked
	give(engine.Input{Definition: engine.KindRule, ID: p.Rule, RuleDoc: &doc})
}

// saved returns what the engine remembers, with what is pretended to be so already. The rule itself begins anew, and so
// what it holds is let go.
func saved(h Home, p Pretence) state.Saved {
	saved := h.Saved.Clone()
	if by := p.At.Sub(h.Now); by != 0 && !h.Now.IsZero() {
		// At another time of the day: what lasts has lasted as long, and what comes at an hour is planned anew.
		saved.Shift(by)
		for id, r := range saved.Rules {
			r.NextTimes = nil
			saved.Rules[id] = r
		}
		for id, s := range saved.Schedules {
			s.Next = time.Time{}
			saved.Schedules[id] = s
		}
	}
	for ref, kept := range saved.Properties {
		kept.Stack.Release("rule:" + p.Rule)
		saved.Properties[ref] = kept
	}
	for _, reading := range p.Before {
		ref := thing.Ref{Device: reading.Device, Name: reading.Name}
		kept := saved.Properties[ref]
		kept.Reported, kept.Certainty, kept.ChangedAt, kept.ReportedAt = reading.Value, state.Confirmed, p.At, p.At
		kept.Target, kept.SettleUntil = reading.Value, time.Time{}
		kept.Stack.Holds = nil
		kept.Stack.Base.Value = reading.Value
		if saved.Properties == nil {
			saved.Properties = map[thing.Ref]state.PropertyState{}
		}
		saved.Properties[ref] = kept
	}
	delete(saved.Rules, p.Rule)
	return saved
}

// watch writes down how the conditions of the rule stood.
func (r *rehearsal) watch(id string) {
	view, ok := r.engine.RuleView(id)
	if !ok {
		return
	}
	r.result.Problems, r.result.Conditions = view.Problems, view.Conditions
	traces := append(r.traces, view.State.Open...)
	if len(traces) == 0 {
		return
	}
	was := map[string]state.TracedCondition{}
	last := traces[len(traces)-1]
	for _, c := range last.Conditions {
		was[c.Path] = c
	}
	for _, s := range last.Steps {
		for _, c := range s.Conditions {
			was[c.Path] = c
		}
	}
	for i := range r.result.Conditions {
		c := &r.result.Conditions[i]
		if then, there := was[c.Path]; there {
			c.Truth, c.Value, c.Since = then.Truth, then.Value, then.Since
		}
	}
}

func (r *rehearsal) give(in engine.Input) { r.follow(r.engine.Handle(r.now, in)) }

// follow writes down what follows, and lets devices do what they are asked for.
func (r *rehearsal) follow(outputs []engine.Output) {
	for _, out := range slices.Clone(outputs) {
		switch out.Kind {
		case engine.OutputJournal:
			if len(r.result.Entries) >= entriesKept {
				r.result.Cut = true
				continue
			}
			r.result.Entries = append(r.result.Entries, *out.Entry)
		case engine.OutputTrace:
			if out.Rule == r.rule {
				r.traces = append(r.traces, *out.Trace)
			}
		case engine.OutputCommand:
			r.give(engine.Input{Kind: engine.InputReport, Device: out.Device, Name: out.Name, Value: out.Value})
		}
	}
}
