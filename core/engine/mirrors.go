package engine

import (
	"slices"

	"amvek/core/cause"
	"amvek/core/document"
	"amvek/core/mirror"
	"amvek/core/state"
	"amvek/core/thing"
)

const mirrorOwner = "mirror:"

// mirrorState is a mirror at work.
type mirrorState struct {
	id     string
	doc    *mirror.Mirror
	faults []document.Fault
	bound  []*slot       // the members; nil where it is not at work
	seen   []thing.Value // what each member was asked to be, or was found at, as it was reflected last
	apart  []bool        // which could not be reached since
	gone   bool
}

func (m *mirrorState) owner() string { return mirrorOwner + m.id }

// MirrorView is how a mirror stands.
type MirrorView struct {
	Faults []document.Fault
	// Works says that it is at work.
	Works bool
	// Agree says for each member whether it is at the state of the first.
	Agree []bool
}

// MirrorView returns how a mirror stands; it is false when there is none.
func (e *Engine) MirrorView(id string) (MirrorView, bool) {
	m := e.mirrors[id]
	if m == nil {
		return MirrorView{}, false
	}
	v := MirrorView{Faults: m.faults, Works: m.bound != nil}
	for _, s := range m.bound {
		first := m.bound[0]
		v.Agree = append(v.Agree, s == first || mirror.Agrees(first.property, first.Reported, s.property, s.Reported))
	}
	return v, true
}

func (e *Engine) defineMirror(id string, doc *mirror.Mirror) {
	m := e.mirrors[id]
	if m == nil {
		m = &mirrorState{id: id}
		e.mirrors[id] = m
	}
	e.unbindMirror(m)
	m.doc = doc
	e.bindMirror(m)
}

func (e *Engine) removeMirror(id string) {
	if m := e.mirrors[id]; m != nil {
		e.unbindMirror(m)
		m.gone = true
		delete(e.mirrors, id)
	}
}

// refreshMirrors puts those mirrors to work anew of which a device changed.
func (e *Engine) refreshMirrors(id string) {
	for _, key := range sortedKeys(e.mirrors) {
		if m := e.mirrors[key]; slices.ContainsFunc(m.doc.Members, func(x mirror.Member) bool { return x.Device == id }) {
			e.unbindMirror(m)
			e.bindMirror(m)
		}
	}
}

// bindMirrors puts all mirrors to work, once all else is there.
func (e *Engine) bindMirrors() {
	for _, id := range sortedKeys(e.mirrors) {
		e.bindMirror(e.mirrors[id])
	}
}

func (e *Engine) unbindMirror(m *mirrorState) {
	for _, s := range m.bound {
		s.mirrors = slices.DeleteFunc(s.mirrors, func(x *mirrorState) bool { return x == m })
		s.attach()
	}
	m.bound, m.seen, m.apart = nil, nil, nil
}

func (e *Engine) bindMirror(m *mirrorState) {
	if e.loading {
		return // all are bound when everything is there
	}
	e.busyWith(KindMirror, m.id)
	e.out = append(e.out, Output{Kind: OutputMirror, Name: m.id})
	if m.faults = m.doc.Check(e); len(m.faults) > 0 || !m.doc.Enabled {
		return
	}
	for i := range m.doc.Members {
		s := e.at(m.doc.Members[i].Ref())
		m.bound = append(m.bound, s)
		m.seen = append(m.seen, s.state.Target)
		m.apart = append(m.apart, false)
		s.mirrors = append(s.mirrors, m)
		s.attach()
	}
	if !e.starting {
		e.rejoin(m)
	}
}

// rejoin brings the members of a mirror together that were not kept so: all follow the winner.
func (e *Engine) rejoin(m *mirrorState) {
	winner := -1
	for i, s := range m.bound {
		switch {
		case s.state.Target.IsNone():
		case winner < 0:
			winner = i
		case m.doc.Winner == mirror.Latest && s.ChangedAt.After(m.bound[winner].ChangedAt):
			winner = i
		}
	}
	if winner >= 0 {
		e.reflect(m, winner, why{})
	}
}

// startMirrors brings together what differs after a start.
func (e *Engine) startMirrors() {
	for _, id := range sortedKeys(e.mirrors) {
		e.rejoin(e.mirrors[id])
	}
	e.settleMirrors()
}

// mayReflect takes that a property changed which may be a member of mirrors.
func (e *Engine) mayReflect(s *slot) {
	if !s.plain && len(s.mirrors) > 0 && !slices.Contains(e.reflecting, s) {
		e.reflecting = append(e.reflecting, s)
	}
}

// settleMirrors lets what changed in this instant show on the other members of its mirrors. What was written by a mirror shows
// on those of others, but none is written twice in an instant, so that it comes to an end whatever is joined with what.
func (e *Engine) settleMirrors() {
	for len(e.reflecting) > 0 {
		s := e.reflecting[0]
		e.reflecting = slices.Delete(e.reflecting, 0, 1)
		if s.gone || s.state.Target.IsNone() || e.loading {
			continue
		}
		for _, m := range slices.Clone(s.mirrors) {
			i := slices.Index(m.bound, s)
			if i < 0 || m.seen[i] == s.state.Target {
				continue
			}
			if m.apart[i] && m.doc.Winner == mirror.First && i > 0 && e.byItself(s) {
				m.apart[i] = false
				e.reflectOn(m, 0, i, why{})
				continue
			}
			e.reflect(m, i, e.causeOf(s))
		}
	}
	e.reflected = e.reflected[:0]
}

// byItself reports whether the device itself was the last to set a property.
func (e *Engine) byItself(s *slot) bool {
	return s.state.Stack.Top() == nil && s.state.Stack.Base.By == "device"
}

// causeOf returns what a property's value in effect follows from.
func (e *Engine) causeOf(s *slot) why {
	w := why{id: s.state.Stack.Base.Cause, depth: s.state.Depth}
	if top := s.state.Stack.Top(); top != nil {
		w.id = top.Cause
	}
	return w
}

// reflect lets a member show on all others.
func (e *Engine) reflect(m *mirrorState, from int, w why) {
	m.seen[from] = m.bound[from].state.Target
	if s := m.bound[from]; !slices.Contains(e.reflected, s) {
		e.reflected = append(e.reflected, s)
	}
	leader := m.leveled(from)
	if leader >= 0 {
		e.reflectOn(m, from, leader, w)
	}
	for i, s := range m.bound {
		switch {
		case i == from || i == leader:
		case leader >= 0 && s.property.Type == thing.TypeNumber:
			e.reflectOn(m, leader, i, w)
		default:
			e.reflectOn(m, from, i, w)
		}
	}
}

// leveled returns the member whose level all others have that have one, where a member that only switches is switched on; below
// 0 for none. Each would else come on with what it was on with last itself.
func (m *mirrorState) leveled(from int) int {
	if !m.bound[from].state.Target.True() {
		return -1
	}
	return slices.IndexFunc(m.bound, func(s *slot) bool { return s.property.Type == thing.TypeNumber })
}

// reflectOn lets a member show on another.
func (e *Engine) reflectOn(m *mirrorState, from, to int, w why) {
	source, s := m.bound[from], m.bound[to]
	e.busyWith(KindMirror, m.id)
	v, at := source.state.Target, s.state.Target
	want := mirror.Reflected(source.property, v, s.property, at, s.state.LastOn)
	if want.IsNone() || s.property.Check(want) != nil || slices.Contains(e.reflected, s) {
		return
	}
	if !at.IsNone() && mirror.Shows(source.property, v, s.property, at) {
		m.seen[to] = at
		return
	}
	if w.depth++; w.depth >= MaximumChain {
		return
	}
	e.reflected = append(e.reflected, s)
	inner := e.follow(w, cause.Entry{Kind: cause.Mirrored, Link: m.id, Device: s.ref.Device, Name: s.ref.Name, Value: want})
	byHand := source.state.Stack.Top() == nil && source.state.Stack.Base.ByHand
	if on := thing.Boolean(true); source.property.Type == thing.TypeBoolean && s.comesOn(want) && s.property.Switches(on) {
		want = on // it comes on as it does, not at a level that somebody chose
	}
	e.as(s, cause.By{}, false, func() { e.write(s, want, byHand, m.owner(), 0, inner) })
	m.seen[to] = s.state.Target
}

// setApart takes that a device, or all of a connection, cannot be reached: what it is found at later may not be news.
func (e *Engine) setApart(concerns func(s *slot) bool) {
	for _, id := range sortedKeys(e.mirrors) {
		m := e.mirrors[id]
		for i, s := range m.bound {
			m.apart[i] = m.apart[i] || concerns(s)
		}
	}
}

// rejoined takes that a member confirmed what it was asked to be.
func (e *Engine) rejoined(s *slot) {
	for _, m := range s.mirrors {
		if i := slices.Index(m.bound, s); i >= 0 && s.state.Certainty == state.Confirmed {
			m.apart[i] = false
		}
	}
}
