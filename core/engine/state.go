package engine

import (
	"bytes"
	"encoding/json"
	"maps"
	"time"

	"amvek/core/cause"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// Load gives the engine all definitions' saved states at a start. Call BeginLoading,
// define everything, then Load, then Handle an InputStart. It keeps nothing of what it is given.
func (e *Engine) Load(saved state.Saved) {
	saved = saved.Clone()
	for ref, kept := range saved.Properties {
		if s := e.at(ref); s != nil {
			s.restore(kept)
		}
	}
	for _, id := range sortedKeys(saved.Devices) {
		if w := e.watches[id]; w != nil {
			w.state = saved.Devices[id]
			w.state.Rhythm.Interrupted(e.now) // nobody listened meanwhile
			w.at = time.Time{}
			e.listen(w)
		}
	}
	e.loading, e.starting = false, true
	defer func() { e.starting = false }()
	held := map[string][]thing.Ref{}
	for _, device := range sortedKeys(e.byDevice) {
		slots := e.byDevice[device]
		for i := range slots {
			s := &slots[i]
			e.interrupted(s)
			e.rearm(s)
			for _, h := range s.state.Stack.Holds {
				held[h.Owner] = append(held[h.Owner], s.ref)
			}
		}
	}
	e.bindComputed()
	for id, kept := range saved.Rules {
		if e.rules[id] == nil {
			e.former[id] = kept.Record()
		}
	}
	for _, r := range e.ruleOrder {
		if kept, ok := saved.Rules[r.id]; ok {
			r.state = kept
		}
		r.held = held[r.owner()]
		e.bind(r)
		e.rearmRule(r)
	}
	e.bindLinks()
	e.bindMirrors()
	e.bindLights()
	for _, id := range sortedKeys(e.schedules) {
		s := e.schedules[id]
		e.busyWith(KindSchedule, id)
		s.problems = s.doc.Check(e)
		kept, ok := saved.Schedules[id]
		if ok && s.live() && !kept.Next.IsZero() && !kept.Next.After(e.now) {
			s.state = kept
			e.schedule(timer{at: kept.Next, kind: timerSchedule, schedule: s})
			continue
		}
		s.state.LastRan, s.state.Draws = kept.LastRan, kept.Draws
		e.plan(s, e.now)
	}
	// InputStart evaluates every rule, after what is overdue.
	for _, r := range e.waiting {
		r.queued = false
	}
	e.waiting = e.waiting[:0]
}

// interrupted takes that the hub was stopped while a command was on its way: the device is given time anew to say that it
// has followed.
func (e *Engine) interrupted(s *slot) {
	if st := &s.state; st.Certainty == state.Pending && s.driver == nil {
		if !st.FadeEnds.IsZero() { // the hub's own fade stopped with it: it is told where it was to go as soon as it can be reached
			st.Certainty, st.Failure, st.Unreached = state.Failed, "The hub stopped while it faded this.", true
			return
		}
		st.Interrupted = true
		if until := e.now.Add(SettlingTime); st.SettleUntil.Before(until) {
			st.SettleUntil = until
		}
	}
}

func (e *Engine) rearmRule(r *ruleState) {
	if !r.state.Deadline.IsZero() {
		e.schedule(timer{at: r.state.Deadline, kind: timerPhase, rule: r})
	}
	for i := range r.state.Frames {
		f := &r.state.Frames[i]
		e.nextFrame = max(e.nextFrame, f.ID+1)
		e.nextCommand = max(e.nextCommand, f.Call+1)
		if f.Awaits != nil {
			e.awaiting++
		}
		if f.Until {
			r.untils++
		}
		if len(f.Blocks) == 0 {
			f.Blocks = []state.Block{{Path: f.Part, Next: f.Step}} // kept before runs had blocks
		}
		if !f.ResumeAt.IsZero() {
			e.schedule(timer{at: f.ResumeAt, kind: timerFrame, rule: r, frame: f.ID})
		}
	}
}

// PropertyState returns the state of a property; it is false when there is none.
func (e *Engine) PropertyState(ref thing.Ref) (state.PropertyState, bool) {
	s := e.at(ref)
	if s == nil {
		return state.PropertyState{}, false
	}
	all := s.full()
	return all.Clone(), true
}

// Saved returns a copy of all that is to be kept from one start to the next, as [Engine.Load] takes it up.
func (e *Engine) Saved() state.Saved {
	saved := state.Saved{
		Properties: map[thing.Ref]state.PropertyState{},
		Rules:      map[string]state.RuleState{},
		Schedules:  map[string]state.ScheduleState{},
		Devices:    map[string]state.DeviceState{},
	}
	for _, slots := range e.byDevice {
		for i := range slots {
			saved.Properties[slots[i].ref], _ = e.PropertyState(slots[i].ref)
		}
	}
	for id := range e.rules {
		saved.Rules[id], _ = e.RuleState(id)
	}
	for id, s := range e.schedules {
		saved.Schedules[id] = s.state
	}
	for id, w := range e.watches {
		saved.Devices[id] = w.state.Clone()
	}
	return saved
}

// ConditionState is the truth of one condition of a rule, at its place in the document.
type ConditionState struct {
	Path     string      `json:"path"`
	Truth    bool        `json:"truth"`
	Since    time.Time   `json:"since,omitzero"`
	LastTrue time.Time   `json:"lastTrue,omitzero" doc:"When it last ceased to be true."`
	Value    thing.Value `json:"value,omitzero" doc:"Present value of the compared property."`
	// Lasts is since when a condition is so that counts once it has lasted, and Due when it will have.
	Lasts time.Time `json:"lasts,omitzero" doc:"Since when it is so, where it counts once it has lasted."`
	Due   time.Time `json:"due,omitzero" doc:"When it will have lasted long enough; absent when it has, or is not so."`
}

// RuleView is a rule's state together with the truth of its conditions.
type RuleView struct {
	State      state.RuleState
	Problems   []rule.Problem
	Conditions []ConditionState
	// Flips are what became true or false lately, also for a moment only, the latest last.
	Flips []state.Flip
}

// UnderWay reports whether a rule has a run that has not come to its end.
func (e *Engine) UnderWay(id string) bool {
	r := e.rules[id]
	return r != nil && len(r.state.Frames) > 0
}

// RuleState returns all that a rule remembers; it is false when there is none.
func (e *Engine) RuleState(id string) (state.RuleState, bool) {
	r := e.rules[id]
	if r == nil {
		return state.RuleState{}, false
	}
	all := r.state.Clone()
	all.LastTrue = maps.Clone(r.lastTrue())
	return all, true
}

// RuleView returns how a rule stands; it is false when there is none.
func (e *Engine) RuleView(id string) (RuleView, bool) {
	all, there := e.RuleState(id)
	if !there {
		return RuleView{}, false
	}
	r := e.rules[id]
	v := RuleView{State: all, Problems: r.problems, Flips: r.latest(len(r.flips))}
	if r.program == nil {
		return v, true
	}
	for _, n := range r.program.Nodes {
		c := ConditionState{Path: n.Path, Truth: n.Truth, LastTrue: n.LastTrue}
		if n.Test != nil {
			c.Since = n.Test.Since
			c.Value = e.at(n.Test.Ref).Reported
		}
		if n.Formula != nil {
			c.Since = n.Formula.Since
		}
		if n.Span != nil {
			c.Since = n.Span.Since
		}
		if l := n.Lasting; l != nil && !l.Since.IsZero() {
			c.Lasts = l.Since
			if !l.Truth {
				c.Due = l.Since.Add(l.For)
			}
		}
		v.Conditions = append(v.Conditions, c)
	}
	return v, true
}

// ScheduleView returns how a schedule stands; it is false when there is none.
func (e *Engine) ScheduleView(id string) (state.ScheduleState, []rule.Problem, bool) {
	s := e.schedules[id]
	if s == nil {
		return state.ScheduleState{}, nil, false
	}
	return s.state, s.problems, true
}

// Capture returns the present values of the writable properties of devices as a scene's targets.
func (e *Engine) Capture(devices []string) []light.Target {
	var present []light.Captured
	for _, id := range devices {
		slots := e.byDevice[id]
		for i := range slots {
			s := &slots[i]
			if s.property.Setting != nil || !e.counts(s) || e.aside(s) {
				continue
			}
			value := s.state.Stack.Effective()
			if value.IsNone() {
				value = s.Reported
			}
			curve, _ := e.InCurve(s.ref)
			present = append(present, light.Captured{Device: id, Property: s.property, Value: value, Curve: curve})
		}
	}
	return light.Capture(present)
}

// InEffect reports whether every target of a scene is what its property is at now.
func (e *Engine) InEffect(scene *light.Scene) bool {
	for _, t := range e.sceneNow(scene).Targets {
		s := e.find(t.Device, t.Property)
		if s == nil || !s.isAt(&t) {
			return false
		}
	}
	return len(scene.Targets) > 0
}

// NextEntry returns the id that the next journal entry will get.
func (e *Engine) NextEntry() cause.ID { return e.nextEntry }

func equalRules(a, b *rule.Rule) (same, ok bool) {
	x, errA := json.Marshal(a)
	y, errB := json.Marshal(b)
	return bytes.Equal(x, y), errA == nil && errB == nil
}

// Rules returns the documents of all rules by id.
func (e *Engine) Rules() map[string]*rule.Rule {
	docs := make(map[string]*rule.Rule, len(e.rules))
	for id, r := range e.rules {
		docs[id] = r.doc
	}
	return docs
}
