package engine

import (
	"slices"
	"time"

	"amvek/core/hold"
	"amvek/core/light"
	"amvek/core/state"
	"amvek/core/thing"
)

// Light that moves by itself is a sequence whose hold of each lamp is renewed many times a second. Only its first values are
// commands like others. What follows are frames: nothing of them is written down, saved, or taken for anybody's doing.

// echoSpan is how long after a frame a device may still say that it is at it.
const echoSpan = 4 * time.Second

// moving is an effect at work.
type moving struct {
	began time.Time // by which it is how far it is; moved where its speed is changed
	next  time.Time
	seed  uint64
	lamps []movingLamp // that are still moved
	ids   []string     // of those that there were at first
}

// movingLamp is a lamp that an effect moves.
type movingLamp struct {
	light.Lamp
	index int  // among all of the effect
	own   bool // whether the lamp does it by itself, so that it is sent no frames
	slots map[string]*slot
}

// glow is what a property was told in frames lately, to know by what it says what is an echo.
type glow struct {
	before, latest box
	since          time.Time // when latest was begun
}

// box is where values lie: those of a color by both of its coordinates.
type box struct{ low, high thing.Value }

func (b *box) take(v thing.Value) {
	if b.low.IsNone() {
		b.low, b.high = v, v
		return
	}
	b.low.Number, b.high.Number = min(b.low.Number, v.Number), max(b.high.Number, v.Number)
	b.low.Second, b.high.Second = min(b.low.Second, v.Second), max(b.high.Second, v.Second)
}

func (b *box) has(v thing.Value, margin float64) bool {
	return v.Kind == b.low.Kind && v.Number >= b.low.Number-margin && v.Number <= b.high.Number+margin &&
		v.Second >= b.low.Second-margin && v.Second <= b.high.Second+margin
}

func (g *glow) take(v thing.Value, now time.Time) {
	if now.Sub(g.since) > echoSpan {
		g.before, g.latest, g.since = g.latest, box{}, now
	}
	g.latest.take(v)
}

// echoes reports whether a device says of a property what it was told in a frame lately.
func (s *slot) echoes(v thing.Value) bool {
	g := s.glow
	switch {
	case g == nil:
		return false
	case v.Kind == thing.KindText: // what the lamp does by itself
		return v == g.latest.low
	}
	if s.property.Role == thing.RoleBrightness && s.property.Extinguishes(v) {
		return false
	}
	return g.latest.has(v, s.echoMargin()) || g.before.has(v, s.echoMargin())
}

// echoMargin is how far from what it was told a device may say that it is.
func (s *slot) echoMargin() float64 {
	switch s.property.Role {
	case thing.RoleBrightness:
		return (s.property.Maximum - s.property.Minimum) * 0.04
	case thing.RoleColorTemperature:
		return 150
	case thing.RoleColor:
		return 0.03
	default:
		return 0
	}
}

// Still makes the engine leave out the frames of effects, such as where nobody sees them.
func (e *Engine) Still() { e.still = true }

// lampsMoved returns the lamps of an effect, in the order in which it travels, each once. What is attended only does not move by itself.
func (e *Engine) lampsMoved(doc *light.Effect) (ids []string, circuits map[string]light.Circuit) {
	circuits = map[string]light.Circuit{}
	for _, id := range doc.Lights {
		if l := e.lights[id]; l != nil {
			for _, device := range l.members {
				if !slices.Contains(ids, device) && !e.AttendedOnly(device) {
					ids = append(ids, device)
					circuits[device] = l.doc.Circuits[device]
				}
			}
		}
	}
	for _, device := range doc.Lamps {
		if !slices.Contains(ids, device) && !e.AttendedOnly(device) {
			ids = append(ids, device)
		}
	}
	return ids, circuits
}

// LampsMoved returns the lamps of an effect as they are, in the order in which it travels.
func (e *Engine) LampsMoved(doc *light.Effect) []light.Lamp {
	ids, circuits := e.lampsMoved(doc)
	lamps := e.Lamps(ids)
	for i := range lamps {
		lamps[i].Circuit = circuits[lamps[i].Device]
	}
	return lamps
}

// move begins the effect of a sequence: its first values are commands like others.
func (e *Engine) move(q *sequence, w why) {
	doc := q.doc.Effect
	m := &moving{began: e.now, seed: e.seed ^ uint64(e.now.UnixNano())}
	ids, _ := e.lampsMoved(doc)
	for i, lamp := range e.LampsMoved(doc) {
		m.lamps = append(m.lamps, movingLamp{Lamp: lamp, index: i, slots: map[string]*slot{}})
	}
	q.moving, m.ids = m, ids
	q.state.At, q.state.Since, q.state.Until = 0, e.now, time.Time{}
	if lasts := doc.Lasts(); lasts > 0 {
		q.state.Until = e.now.Add(lasts)
		e.schedule(timer{at: q.state.Until, kind: timerSequence, sequence: q})
	}
	for i := range m.lamps {
		l := &m.lamps[i]
		targets := doc.ByItself(doc.At(0, l.index, len(m.ids), m.seed), &l.Lamp)
		if l.own = targets != nil; !l.own {
			targets = doc.Shown(doc.At(0, l.index, len(m.ids), m.seed), &l.Lamp)
		}
		for _, t := range e.tonesFirst(targets) {
			s := e.find(t.Device, t.Property)
			if s == nil || s.property.Check(t.Value) != nil {
				continue
			}
			l.slots[t.Property] = s
			if !slices.Contains(q.held, s.ref) {
				q.held = append(q.held, s.ref)
			}
			if s.state.Stack.Base.Value.IsNone() { // it never said: at the end it does nothing
				s.state.Stack.Base.Value = s.property.Rest()
			}
			s.state.Stack.Place(hold.Hold{Owner: q.owner(), Level: hold.Overlay, Value: t.Value, Since: e.now, Cause: e.resolve(w)})
			e.apply(s, doc.FadeIn(), w)
			s.glow = &glow{since: e.now}
			s.glow.take(t.Value, e.now)
		}
	}
	// What only switches is in few of them.
	m.lamps = slices.DeleteFunc(m.lamps, func(l movingLamp) bool { return len(l.slots) == 0 })
	e.planFrame(q)
	e.touchSequence(q)
}

func (e *Engine) planFrame(q *sequence) {
	if e.still {
		return
	}
	q.moving.next = e.now.Add(q.doc.Effect.Every())
	e.schedule(timer{at: q.moving.next, kind: timerGlow, sequence: q})
}

// moveOn tells the lamps of an effect what they are to be at now, all at once. Those that a hand has, or that failed, are left out.
func (e *Engine) moveOn(q *sequence) {
	doc, m := q.doc.Effect, q.moving
	out := Output{Kind: OutputFrame, Name: q.id, Fade: doc.Every()}
	for i := range m.lamps {
		l := &m.lamps[i]
		if l.own {
			continue
		}
		for _, t := range doc.Shown(doc.At(e.now.Sub(m.began), l.index, len(m.ids), m.seed), &l.Lamp) {
			s := l.slots[t.Property]
			if s == nil || s.gone || s.glow == nil {
				continue
			}
			h := s.state.Stack.Find(q.owner())
			if h == nil || h.Suspended || h != s.state.Stack.Top() || s.state.Certainty == state.Failed || h.Value == t.Value || e.aside(s) {
				continue
			}
			h.Value = t.Value
			s.glow.take(t.Value, e.now)
			if s.state.Certainty == state.Pending {
				continue // its first command is not done yet
			}
			s.state.Aim(t.Value)
			t.Value = s.told(t.Value)
			out.Frame = append(out.Frame, t)
		}
	}
	if len(out.Frame) > 0 {
		e.out = append(e.out, out)
	}
	e.planFrame(q)
}

// changeEffect takes over another document of an effect that is running, which goes on from where it is: faster, slower, or in other
// colors.
func (e *Engine) changeEffect(q *sequence, before *light.Effect) {
	after := q.doc.Effect
	if after == nil {
		e.endSequence(q, "it was changed", 0, why{})
		return
	}
	if ids, _ := e.lampsMoved(after); before == nil || before.Kind != after.Kind || !slices.Equal(ids, q.moving.ids) {
		for _, device := range q.moving.ids {
			if !slices.Contains(ids, device) {
				e.leaveEffect(q, device, 0, why{})
			}
		}
		e.move(q, why{}) // anew, without those that it keeps going dark in between
		return
	}
	share := after.Scaled(before, e.now.Sub(q.moving.began))
	q.moving.began = e.now.Add(-share)
	q.state.Until = time.Time{}
	if lasts := after.Lasts(); lasts > 0 {
		q.state.Until = q.state.Since.Add(max(lasts, e.now.Sub(q.state.Since)))
		e.schedule(timer{at: q.state.Until, kind: timerSequence, sequence: q})
	}
	e.touchSequence(q)
}

// stillLamps takes that an effect moves no more: what waits of its frames is not sent, and what its lamps show next is told anew,
// whatever they were told last.
func (e *Engine) stillLamps(q *sequence) {
	out := Output{Kind: OutputStill, Name: q.id}
	for _, ref := range q.held {
		if s := e.at(ref); s != nil {
			s.glow = nil
			out.Frame = append(out.Frame, light.Target{Device: ref.Device, Property: ref.Name})
		}
	}
	q.moving = nil
	e.out = append(e.out, out)
}

// takenByHand takes that a hand took a property from an effect: its lamp moves no more, or where that is chosen none does.
func (e *Engine) takenByHand(taken *slot, w why) {
	if taken.glow == nil {
		return
	}
	for _, id := range sortedKeys(e.sequences) {
		q := e.sequences[id]
		if q.moving == nil || !slices.Contains(q.held, taken.ref) {
			continue
		}
		if q.doc.Effect.AllStop {
			e.endSequence(q, "a hand took one of its lamps", 0, w)
			continue
		}
		e.leaveEffect(q, taken.ref.Device, 0, w)
		if len(q.moving.lamps) == 0 {
			e.endSequence(q, "its lights were taken", 0, w)
		}
	}
}

// leaveEffect lets go of a lamp of an effect, and of that alone.
func (e *Engine) leaveEffect(q *sequence, device string, fade time.Duration, w why) {
	q.moving.lamps = slices.DeleteFunc(q.moving.lamps, func(l movingLamp) bool { return l.Device == device })
	out := Output{Kind: OutputStill, Name: q.id}
	var left []*slot
	q.held = slices.DeleteFunc(q.held, func(ref thing.Ref) bool {
		s := e.at(ref)
		if ref.Device != device || s == nil {
			return false
		}
		left = append(left, s)
		return true
	})
	for _, s := range left {
		s.glow = nil
		out.Frame = append(out.Frame, light.Target{Device: s.ref.Device, Property: s.ref.Name})
	}
	e.out = append(e.out, out)
	for _, s := range left {
		e.commandAgain = s.state.Stack.Top() != nil && s.state.Stack.Top().Owner == q.owner()
		if s.state.Stack.Release(q.owner()) {
			e.apply(s, fade, w)
		}
		e.commandAgain = false
	}
}
