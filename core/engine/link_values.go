package engine

import (
	"math"
	"slices"
	"time"

	"amvek/core/cause"
	"amvek/core/hold"
	"amvek/core/link"
	"amvek/core/state"
	"amvek/core/thing"
)

// around is what the stages of a link are told.
type around struct {
	e *Engine
	l *linkState
	w why
}

// At returns where the first target is that is known.
func (a around) At() (float64, bool) {
	for i := range a.l.doc.Targets {
		if s := a.e.at(a.l.doc.Targets[i].Ref()); s != nil {
			v := s.state.Stack.Effective()
			if v.IsNone() {
				v = s.Reported
			}
			if n, known := numeric(v); known {
				return n, true
			}
		}
	}
	return 0, false
}

// Expression returns what the expression of a stage comes to.
func (a around) Expression(stage int, coming float64) (float64, bool) {
	a.e.coming = thing.Number(coming)
	v, err := a.l.formulas[stage].Evaluate(a.e)
	a.e.coming = thing.Value{}
	return v.Number, err == nil && v.Kind == thing.KindNumber && !math.IsNaN(v.Number) && !math.IsInf(v.Number, 0)
}

// Passed records what leaves a stage.
func (a around) Passed(stage int, now time.Time, v float64) {
	if stage < 0 {
		a.e.sample(a.l, link.Sample{At: now, Place: link.AtSource, Value: v})
		return
	}
	a.e.sample(a.l, link.Sample{At: now, Place: link.AtStage, Index: stage, Value: v})
}

func (e *Engine) sample(l *linkState, s link.Sample) {
	l.record.Add(s)
	if !l.fresh {
		l.fresh = true
		e.flowing = append(e.flowing, l)
	}
}

// opened takes that the modes or the condition of a link let it act, or no longer do.
func (e *Engine) opened(l *linkState, open bool, w why) {
	if l.open == open {
		return
	}
	l.open = open
	e.touchLink(l)
	if open {
		e.feedNow(l, w)
		return
	}
	l.flow, l.due = link.NewFlow(l.doc.Stages), time.Time{} // what waits in its stages is not carried on
	e.letGoOfLink(l, w)
}

// feedNow lets a link that holds begin with what its sources are at. One that sets like a hand waits until something is done.
func (e *Engine) feedNow(l *linkState, w why) {
	if !l.doc.Holds || !l.live() || e.loading || e.starting || slices.ContainsFunc(l.doc.Stages, func(s link.Stage) bool { return s.Kind == link.Relative }) {
		return
	}
	for i := range l.doc.Sources {
		if s := e.at(l.doc.Sources[i].Ref()); s != nil && l.doc.Sources[i].Event == "" {
			if v, known := numeric(s.Reported); known {
				e.feed(l, v, w)
			}
		}
	}
}

// feed lets a link carry a value on.
func (e *Engine) feed(l *linkState, v float64, w why) {
	if !l.live() {
		return
	}
	e.busyWith(KindLink, l.id)
	a := around{e, l, w}
	if l.written {
		if at, known := a.At(); !known || math.Abs(at-l.wrote) > 1e-9 {
			l.flow.Forget() // somebody else has set it meanwhile
		}
	}
	l.flow.Take(e.now, v, a, func(out float64) { e.carry(l, out, w) })
	e.awaitLink(l, w)
}

// feedLinks feeds the links of a source with what it is at.
func (e *Engine) feedLinks(s *slot, v *thing.Value, w why) {
	if len(s.feeds) == 0 || e.loading {
		return
	}
	if n, is := numeric(*v); is {
		for _, l := range slices.Clone(s.feeds) {
			e.feed(l, n, w)
		}
	}
}

// awaitLink plans when the stages of a link are to be looked at again. What follows then has a cause already.
func (e *Engine) awaitLink(l *linkState, w why) {
	due := l.flow.Due()
	if due.IsZero() {
		l.due = due
		return
	}
	e.entryOf(l, w)
	if !due.Equal(l.due) {
		l.due = due
		e.schedule(timer{at: due, kind: timerLink, link: l})
	}
}

// linkDue lets those values go on that waited in a link's stages.
func (e *Engine) linkDue(l *linkState) {
	l.due = time.Time{}
	e.busyWith(KindLink, l.id)
	w := l.entry
	l.flow.Wake(e.now, around{e, l, w}, func(out float64) { e.carry(l, out, w) })
	e.awaitLink(l, w)
}

// entryOf returns what the commands of a link follow from: one entry for all that follows closely.
func (e *Engine) entryOf(l *linkState, w why) why {
	if l.entry.id == 0 || e.now.Sub(l.entered) > burst || e.now.Sub(l.began) > longestBurst {
		l.entry = e.follow(w, cause.Entry{Kind: cause.Carried, Link: l.id})
		l.began = e.now
	}
	l.entered = e.now
	return l.entry
}

// carry sets the targets of a link to what came out of it.
func (e *Engine) carry(l *linkState, v float64, w why) {
	inner := e.entryOf(l, w)
	if inner.depth++; inner.depth >= MaximumChain {
		return
	}
	for i := range l.doc.Targets {
		s := e.at(l.doc.Targets[i].Ref())
		if s == nil || !s.property.Writable {
			continue
		}
		value := fitting(s.property, v)
		e.sample(l, link.Sample{At: e.now, Place: link.AtTarget, Index: i, Value: value.Number})
		e.as(s, cause.By{}, false, func() { e.carryTo(l, s, value, inner) })
	}
	l.wrote, l.written = around{e, l, w}.At()
}

func (e *Engine) carryTo(l *linkState, s *slot, v thing.Value, w why) {
	if !l.doc.Holds {
		if s.state.Stack.Effective() != v || s.state.Stack.Base.By != l.owner() || s.state.Certainty == state.Failed {
			e.write(s, v, true, l.owner(), 0, w)
		}
		return
	}
	if h := s.state.Stack.Find(l.owner()); h != nil && (h.Suspended || h.Value == v) {
		return // a hand has it, or it is there already
	}
	s.state.Stack.Place(hold.Hold{Owner: l.owner(), Level: hold.Rule, Value: v, Since: e.now, Cause: e.resolve(w)})
	e.apply(s, 0, w)
}

// fitting returns a value as a property takes it: within its range, and no finer than it can be told apart.
func fitting(p *thing.Property, v float64) thing.Value {
	if p.Type == thing.TypeBoolean {
		return thing.Boolean(v > 0)
	}
	if p.Resolution > 0 {
		v = math.Round(v/p.Resolution) * p.Resolution
	}
	if p.Limited() {
		v = min(p.Maximum, max(p.Minimum, v))
	}
	return thing.Number(v)
}

// letGoOfLink lets go of all that a link holds.
func (e *Engine) letGoOfLink(l *linkState, w why) {
	for i := range l.doc.Targets {
		if s := e.at(l.doc.Targets[i].Ref()); s != nil && s.state.Stack.Release(l.owner()) {
			e.apply(s, 0, w)
		}
	}
}

// confirmedTo records in links that a target said that it is at what was asked for.
func (e *Engine) confirmedTo(s *slot) {
	for _, l := range s.drivenBy {
		if s.state.Stack.Base.By != l.owner() && s.state.Stack.Find(l.owner()) == nil {
			continue // it is what somebody else asked for
		}
		for i := range l.doc.Targets {
			if v, known := numeric(s.state.Target); known && l.doc.Targets[i].Ref() == s.ref {
				e.sample(l, link.Sample{At: e.now, Place: link.Confirmed, Index: i, Value: v, Milliseconds: s.state.Milliseconds})
			}
		}
	}
}
