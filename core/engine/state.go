package engine

import (
	"bytes"
	"encoding/json"
	"maps"
	"slices"
	"time"

	"amvek/core/cause"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
)

// Saved is what the hub keeps of the engine from one start to the next, besides definitions.
type Saved struct {
	Properties map[thing.Ref]PropertyState
	Rules      map[string]RuleState
	Schedules  map[string]ScheduleState
	Devices    map[string]DeviceState
}

// Load gives the engine all definitions' saved states at a start. Call BeginLoading,
// define everything, then Load, then Handle an InputStart.
func (e *Engine) Load(saved Saved) {
	for ref, state := range saved.Properties {
		if s := e.at(ref); s != nil {
			s.takeUp(state)
		}
	}
	for _, id := range sortedKeys(saved.Devices) {
		state := saved.Devices[id]
		if w := e.watches[id]; w != nil {
			w.state = state
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
			e.rearm(s)
			for _, h := range s.state.Stack.Holds {
				held[h.Owner] = append(held[h.Owner], s.ref)
			}
		}
	}
	e.bindComputed()
	for _, r := range e.ruleOrder {
		if state, ok := saved.Rules[r.id]; ok {
			r.state = state
		}
		r.held = held[r.owner()]
		e.bind(r)
		e.rearmRule(r)
	}
	for _, id := range sortedKeys(e.schedules) {
		s := e.schedules[id]
		s.problems = s.doc.Check(e)
		state, ok := saved.Schedules[id]
		if ok && s.live() && !state.Next.IsZero() && !state.Next.After(e.now) {
			s.state = state
			e.schedule(timer{at: state.Next, kind: timerSchedule, schedule: s})
			continue
		}
		s.state.LastRan, s.state.Draws = state.LastRan, state.Draws
		e.plan(s, e.now)
	}
	// InputStart evaluates every rule, after what is overdue.
	for _, r := range e.waiting {
		r.queued = false
	}
	e.waiting = e.waiting[:0]
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
			f.Blocks = []Block{{Path: f.Part, Next: f.Step}} // kept before runs had blocks
		}
		if !f.ResumeAt.IsZero() {
			e.schedule(timer{at: f.ResumeAt, kind: timerFrame, rule: r, frame: f.ID})
		}
	}
}

// PropertyState returns the state of a property; it is false when there is none.
func (e *Engine) PropertyState(ref thing.Ref) (PropertyState, bool) {
	s := e.at(ref)
	if s == nil {
		return PropertyState{}, false
	}
	state := s.full()
	state.Stack = s.state.Stack.Clone()
	state.Cover = s.state.Cover.Clone()
	if s.state.Difference != nil {
		difference := *s.state.Difference
		state.Difference = &difference
	}
	return state, true
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
	State      RuleState
	Problems   []rule.Problem
	Conditions []ConditionState
	// Flips are what became true or false lately, also for a moment only, the latest last.
	Flips []Flip
}

// UnderWay reports whether a rule has a run that has not come to its end.
func (e *Engine) UnderWay(id string) bool {
	r := e.rules[id]
	return r != nil && len(r.state.Frames) > 0
}

// RuleState returns all that a rule remembers; it is false when there is none.
func (e *Engine) RuleState(id string) (RuleState, bool) {
	r := e.rules[id]
	if r == nil {
		return RuleState{}, false
	}
	state := r.state
	state.Frames = append([]Frame(nil), r.state.Frames...)
	state.Open = slices.Clone(r.state.Open)
	state.Triggered, state.LastTrue = maps.Clone(r.state.Triggered), maps.Clone(r.lastTrue())
	return state, true
}

// RuleView returns how a rule stands; it is false when there is none.
func (e *Engine) RuleView(id string) (RuleView, bool) {
	state, there := e.RuleState(id)
	if !there {
		return RuleView{}, false
	}
	r := e.rules[id]
	v := RuleView{State: state, Problems: r.problems, Flips: r.latest(len(r.flips))}
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
func (e *Engine) ScheduleView(id string) (ScheduleState, []rule.Problem, bool) {
	s := e.schedules[id]
	if s == nil {
		return ScheduleState{}, nil, false
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
			if s.property.Setting != nil || !e.counts(s) {
				continue
			}
			value := s.state.Stack.Effective()
			if value.IsNone() {
				value = s.Reported
			}
			present = append(present, light.Captured{Device: id, Property: s.property, Value: value})
		}
	}
	return light.Capture(present)
}

// InEffect reports whether every target of a scene is what its property is at now.
func (e *Engine) InEffect(scene *light.Scene) bool {
	for _, t := range scene.Targets {
		s := e.find(t.Device, t.Property)
		if s == nil || !s.state.Target.Near(t.Value, s.property.Resolution) {
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
