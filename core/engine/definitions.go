package engine

import (
	"maps"
	"slices"
	"time"

	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/cover"
	"amvek/core/hold"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// BeginLoading makes the engine take definitions and saved states without acting on
// them, until an InputStart says that all are there.
func (e *Engine) BeginLoading(now time.Time) { e.loading, e.now = true, now }

// inputDefined prepares the entry of a change by the owner; one with a reason is always written.
func (e *Engine) inputDefined(in *Input) {
	clear(e.compiled)
	e.begin(cause.Entry{Kind: cause.Defined, By: in.Doer, Note: in.Reason})
	switch in.Definition {
	case KindDevice:
		e.origin().Device = in.ID
	case KindScene:
		e.origin().Scene = in.ID
	case KindRule:
		e.origin().Rule = in.ID
	case KindSchedule:
		e.origin().Schedule = in.ID
	case KindLink, KindMirror, KindRoomLight, KindCurve:
		e.origin().Link = in.ID
	}
	if in.Reason != "" {
		e.inputEntry()
	}
}

func (e *Engine) define(in *Input) {
	e.inputDefined(in)
	switch in.Definition {
	case KindHome:
		e.home = *in.Home
		e.place = almanac.Place{Latitude: in.Home.Latitude, Longitude: in.Home.Longitude}
		if zone, err := time.LoadLocation(in.Home.Zone); err == nil {
			e.zone = zone
		}
		e.forgetCourses()
		e.replan()
	case KindDevice:
		e.defineDevice(in.ID, in.Thing)
	case KindScene:
		before := e.scenes[in.ID]
		on := !e.loading && e.appliedAsIs(in.ID, before)
		e.scenes[in.ID] = in.SceneDoc
		e.relay(in.ID, in.SceneDoc)
		if on {
			e.adjustInPlace(in.ID, before, in.SceneDoc)
		}
		e.refresh(in.ID)
	case KindLink:
		e.defineLink(in.ID, in.Link)
	case KindMirror:
		e.defineMirror(in.ID, in.Mirror)
	case KindRoomLight:
		e.defineRoomLight(in.ID, in.RoomLight)
	case KindCurve:
		e.defineCurve(in.ID, in.Curve)
	case KindRoom:
		e.defineRoom(in.ID, in.Room)
	case KindGroup:
		e.groups[in.ID] = in.Group
		e.refresh(in.ID)
	case KindSequence:
		e.defineSequence(in.ID, in.Sequence)
	case KindCalendar:
		if _, there := e.calendars[in.ID]; !there {
			e.calendars[in.ID] = nil
			e.refresh(in.ID)
		}
	case KindDashboard:
		if !e.panels[in.ID] {
			e.panels[in.ID] = true
			e.refresh(in.ID)
		}
	case KindRule:
		e.defineRule(in.ID, in.RuleDoc)
		e.refresh(in.ID)
	case KindSchedule:
		e.defineSchedule(in.ID, in.Schedule)
	}
}

func (e *Engine) remove(in *Input) {
	e.inputDefined(in)
	var sets []string
	switch in.Definition {
	case KindDevice:
		sets = e.setsOf(in.ID)
		e.sets = nil
		slots := e.byDevice[in.ID]
		for i := range slots {
			s := &slots[i]
			s.gone = true
			e.park(s)
			e.slots.remove(s)
		}
		delete(e.byDevice, in.ID)
		maps.DeleteFunc(e.keys, func(ref thing.Ref, _ *key) bool { return ref.Device == in.ID })
		delete(e.devices, in.ID)
		e.rebindLights(in.ID)
		delete(e.reached, in.ID)
		if w := e.watches[in.ID]; w != nil {
			w.gone = true
			delete(e.watches, in.ID)
		}
	case KindScene:
		e.relay(in.ID, nil)
		delete(e.scenes, in.ID)
	case KindRoom:
		e.defineRoom(in.ID, nil)
	case KindGroup:
		delete(e.groups, in.ID)
	case KindDashboard:
		delete(e.panels, in.ID)
	case KindCalendar:
		delete(e.calendars, in.ID)
	case KindSequence:
		e.removeSequence(in.ID)
	case KindLink:
		e.removeLink(in.ID)
	case KindMirror:
		e.removeMirror(in.ID)
	case KindRoomLight:
		e.removeRoomLight(in.ID)
	case KindCurve:
		e.removeCurve(in.ID)
	case KindRule:
		if r := e.rules[in.ID]; r != nil {
			e.silence(r, why{})
			e.unbind(r)
			r.gone = true
			delete(e.rules, in.ID)
			e.former[in.ID] = r.state.Record()
			e.ruleOrder = slices.DeleteFunc(e.ruleOrder, func(x *ruleState) bool { return x == r })
		}
	case KindSchedule:
		if s := e.schedules[in.ID]; s != nil {
			s.gone = true
			delete(e.schedules, in.ID)
		}
	}
	e.refresh(in.ID, sets...)
}

func (e *Engine) defineDevice(id string, device *home.Device) {
	old, before := e.devices[id], e.setsOf(id)
	e.devices[id], e.sets = device, nil
	sets := slices.Concat(before, e.setsOf(id))
	listener := e.watchDevice(id, device)
	if old != nil && sameDescription(&old.Description, &device.Description) {
		slots := e.byDevice[id]
		for i := range slots {
			slots[i].describe(device.Description.Property(slots[i].ref.Name))
			slots[i].watch = listener
			slots[i].attach()
			e.adjust(&slots[i], device)
		}
		e.bindOwnLight(id, device)
		e.bindDriven(device, slots)
		e.join(id, device)
		e.rebindLights(id)
		if !slices.Equal(before, e.setsOf(id)) {
			e.refresh(id, sets...)
		} else if id == rule.OwnDevice && !e.loading {
			e.bindComputed()
		}
		return
	}
	previous := e.byDevice[id]
	slots := newSlots(len(device.Description.Properties))
	for i := range device.Description.Properties {
		p := &device.Description.Properties[i]
		s := &slots[i]
		s.ref, s.watch = thing.Ref{Device: id, Name: p.Name}, listener
		s.attach()
		s.describe(p)
		if before := e.at(s.ref); before != nil && before.property.Type == p.Type {
			s.restore(before.full())
		} else if parked, ok := e.parked[s.ref]; ok {
			s.restore(parked)
			delete(e.parked, s.ref)
		}
		e.slots.put(s)
	}
	for i := range previous {
		s := &previous[i]
		s.gone = true
		e.slots.remove(s)
	}
	e.byDevice[id] = slots
	for i := range slots {
		e.rearm(&slots[i])
		e.adjust(&slots[i], device)
	}
	e.bindOwnLight(id, device)
	e.bindDriven(device, slots)
	e.join(id, device)
	e.rebindLights(id)
	e.refresh(id, sets...)
}

// park keeps the state of a removed device's property, in case its removal is undone. Rules that
// held it have lost it, so their holds are not kept.
func (e *Engine) park(s *slot) {
	state := s.full()
	state.Stack.Holds = slices.DeleteFunc(slices.Clone(state.Stack.Holds), func(h hold.Hold) bool { return h.Level == hold.Rule })
	e.parked[s.ref] = state
}

func sameDescription(a, b *thing.Description) bool {
	return slices.EqualFunc(a.Properties, b.Properties, func(x, y thing.Property) bool {
		return x.Name == y.Name && x.Type == y.Type && x.Writable == y.Writable && x.Minimum == y.Minimum && x.Maximum == y.Maximum &&
			slices.Equal(x.Options, y.Options)
	}) && slices.EqualFunc(a.Events, b.Events, func(x, y thing.Event) bool {
		return x.Name == y.Name && x.Number == y.Number && slices.Equal(x.Options, y.Options)
	})
}

func (e *Engine) defineRule(id string, doc *rule.Rule) {
	r := e.rules[id]
	if r == nil {
		r = &ruleState{id: id, doc: doc, uses: doc.Uses(), state: state.RuleState{Phase: state.Idle}}
		if was, there := e.former[id]; there {
			r.state = was
			delete(e.former, id)
		}
		e.rules[id] = r
		at, _ := slices.BinarySearchFunc(e.ruleOrder, id, func(x *ruleState, id string) int {
			switch {
			case x.id < id:
				return -1
			case x.id > id:
				return 1
			}
			return 0
		})
		e.ruleOrder = slices.Insert(e.ruleOrder, at, r)
	} else {
		before := *r.doc
		before.Title, before.Note, before.Labels, before.Intended = doc.Title, doc.Note, doc.Labels, doc.Intended
		if same, ok := equalRules(&before, doc); ok && same {
			r.doc = doc
			e.touchRule(r)
			return
		}
		e.silence(r, why{})
		e.unbind(r)
		r.doc, r.uses = doc, doc.Uses()
		r.state.Stopped, r.state.NotStarted = "", ""
		r.state.PausedBy, r.state.PausedAt = "", time.Time{}
		r.state.Lasting, r.state.NextTimes, r.state.Triggered, r.state.LastTrue = nil, nil, nil, nil
	}
	e.bind(r)
}

// refresh binds anew the rules and schedules that refer to a definition, or to sets that a device came into or left.
func (e *Engine) refresh(id string, sets ...string) {
	if e.loading {
		return
	}
	e.bindComputed()
	concerns := e.concerning(id, sets)
	for _, r := range e.ruleOrder {
		if r.id != id && concerns(&r.uses) {
			e.unbind(r)
			e.bind(r)
		}
	}
	for _, key := range sortedKeys(e.schedules) {
		if s := e.schedules[key]; concerns(&s.uses) {
			e.defineSchedule(key, s.doc)
		}
	}
	e.refreshLinks(id, sets)
	e.refreshMirrors(id)
}

// bind compiles a rule and ties its conditions to the properties they depend on.
func (e *Engine) bind(r *ruleState) {
	if e.loading {
		return // all are bound when everything is there
	}
	e.busyWith(KindRule, r.id)
	r.problems = r.doc.Check(e)
	e.touchRule(r)
	if len(r.problems) > 0 {
		r.program = nil
		e.silence(r, why{})
		return
	}
	r.program = r.doc.Compile(e)
	for _, test := range r.program.Tests {
		s := e.at(test.Ref)
		test.Set(test.Comparer.Holds(s.Reported), e.now)
		test.Since = s.ChangedAt
		d := dependent{test: test, rule: r}
		d.low, d.high = test.Comparer.Steady(s.Reported)
		s.tests = append(s.tests, d)
	}
	for _, f := range r.program.Formulas {
		g := &weigher{expression: f.Expression, rule: r, formula: f}
		r.weighers = append(r.weighers, g)
		e.bindExpression(g)
		e.weigh(g, why{})
		f.Since = e.now
	}
	e.bindTimes(r)
	for i := range r.program.Nodes {
		r.program.Nodes[i].LastTrue = r.state.LastTrue[r.program.Nodes[i].Path]
	}
	for i := range r.doc.When {
		e.bindTrigger(r, i)
	}
	for _, dial := range dialsOf(r.doc) {
		e.dials[dial] = append(e.dials[dial], r)
	}
	r.open = r.program.Gate == nil || r.program.Gate.Truth
	if r.live() {
		e.wake(r, why{})
	} else {
		e.silence(r, why{})
	}
}

func (e *Engine) bindTrigger(r *ruleState, i int) {
	if listener := triggerListeners[r.doc.When[i].Kind]; listener.bind != nil {
		listener.bind(e, r, i)
	}
}

func (e *Engine) unbind(r *ruleState) {
	if r.program == nil {
		return
	}
	for _, test := range r.program.Tests {
		if s := e.at(test.Ref); s != nil {
			s.tests = slices.DeleteFunc(s.tests, func(d dependent) bool { return d.rule == r })
		}
	}
	for _, g := range r.weighers {
		e.unbindExpression(g)
	}
	r.weighers = nil
	r.state.LastTrue = r.lastTrue()
	for dial, paced := range e.dials {
		e.dials[dial] = slices.DeleteFunc(paced, func(x *ruleState) bool { return x == r })
	}
	mine := func(x trigger) bool { return x.rule == r }
	for i := range r.program.Starters {
		for _, l := range r.program.Starters[i].Listens {
			if listening, there := e.events[l.Ref]; there {
				e.events[l.Ref] = slices.DeleteFunc(listening, mine)
			}
			if s := e.at(l.Ref); s != nil {
				s.triggers = slices.DeleteFunc(s.triggers, mine)
				s.attach()
			}
		}
	}
	for _, key := range r.signals {
		e.signals[key] = slices.DeleteFunc(e.signals[key], mine)
	}
	r.signals = nil
	r.program = nil
}

func (e *Engine) defineSchedule(id string, doc *rule.Schedule) {
	s := e.schedules[id]
	if s == nil {
		s = &scheduleState{id: id}
		e.schedules[id] = s
	}
	s.doc, s.uses = doc, doc.Uses()
	if e.loading {
		return
	}
	s.problems = doc.Check(e)
	e.plan(s, e.now)
}

// rearm sets the timers that a property's saved state calls for.
func (e *Engine) rearm(s *slot) {
	if d := s.driver; d != nil && d.position == s {
		d.swapped = d.isReversed()
		if s.state.Cover == nil {
			s.state.Cover = &cover.State{}
		}
		s.state.Cover.Doubt(e.now)
		e.awaken(d)
	}
	if !s.state.SettleUntil.IsZero() {
		e.schedule(timer{at: s.state.SettleUntil, kind: timerSettle, slot: s})
	}
	for _, h := range s.state.Stack.Holds {
		if !h.Until.IsZero() {
			e.schedule(timer{at: h.Until, kind: timerHold, slot: s, owner: h.Owner})
		}
	}
}
