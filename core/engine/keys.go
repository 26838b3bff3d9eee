package engine

import (
	"slices"
	"time"

	"amvek/core/cause"
	"amvek/core/gesture"
	"amvek/core/rule"
	"amvek/core/thing"
)

// key is one whose gestures are made here from what it sends.
type key struct {
	ref thing.Ref
	gesture.Key
	by cause.By // who did what it sent last
}

// timing returns how presses of a device's keys are told apart.
func (e *Engine) timing(device string) gesture.Timing {
	if d := e.devices[device]; d != nil {
		return d.Keys.Timing()
	}
	return gesture.Usual()
}

// wanted returns which of a key's gestures that are made here mean something to a rule or a link, and whether any does.
func (e *Engine) wanted(ref thing.Ref, made []string) (w gesture.Wanted, any bool) {
	want := func(g string) {
		if slices.Contains(made, g) {
			w.Want(g)
			any = true
		}
	}
	for _, t := range e.events[ref] {
		if on := &t.rule.doc.When[t.index]; on.Comparison == rule.Is {
			want(on.Value.Text)
		}
	}
	for _, l := range e.fed[ref] {
		for i := range l.doc.Sources {
			if s := &l.doc.Sources[i]; s.Event != "" && s.Ref() == ref {
				want(s.Is)
			}
		}
	}
	return w, any
}

// unheard reports whether nothing listens to an event.
func (e *Engine) unheard(ref thing.Ref) bool { return len(e.events[ref]) == 0 && len(e.fed[ref]) == 0 }

// feedBy feeds the links for which an event without a number counts, by its gesture where it has one.
func (e *Engine) feedBy(ref thing.Ref, g string) {
	for _, l := range e.fed[ref] {
		for i := range l.doc.Sources {
			s := &l.doc.Sources[i]
			if s.Event == "" || s.Ref() != ref {
				continue
			}
			if v, counts := s.Counts(g); counts {
				e.feed(l, v, why{})
			}
		}
	}
}

// event takes what happened at a device.
func (e *Engine) event(in *Input) {
	e.origin().Kind = cause.Happened
	ref := thing.Ref{Device: in.Device, Name: in.Name}
	var event *thing.Event
	if device := e.devices[in.Device]; device != nil {
		event = device.Description.Event(in.Name)
	}
	switch {
	case event == nil:
	case event.Role == thing.RolePress:
		e.press(ref, event, in)
		return
	case event.Role == thing.RoleRestart:
		e.inputEntry()
		e.restarted(in.Device)
	case !event.Number: // a turn may come 50 times a second: it is written where something follows
		e.inputEntry()
	}
	switch {
	case event != nil && !event.Number:
		e.feedBy(ref, in.Value.Text)
	default:
		for _, l := range e.fed[ref] {
			e.feed(l, in.Value.Number, why{})
		}
		e.paceBy(ref, in.Value.Number)
	}
	for _, t := range e.events[ref] {
		if compare := e.against(t.listen); compare == nil || compare.Holds(in.Value) {
			e.trigger(t.rule, t.index, why{})
		}
	}
}

// press takes what a key sent. Where a gesture means something that it does not send itself, that is made here.
func (e *Engine) press(ref thing.Ref, event *thing.Event, in *Input) {
	triggers, made := e.events[ref], event.Made()
	sent := in.Value.Text
	if in.Value.IsNone() {
		sent = gesture.Press
	}
	if slices.Contains(made, sent) { // somebody tries a gesture that the key does not send
		e.gestured(ref, event, sent)
		return
	}
	w, waits := e.wanted(ref, made)
	if waits {
		k := e.keys[ref]
		if k == nil {
			k = &key{ref: ref}
			e.keys[ref] = k
		}
		raw := *e.origin()
		k.by = in.Doer
		e.keyGave(k, event, k.Take(e.now, sent, w, e.timing(ref.Device)))
		e.begin(raw)
		switch sent {
		case gesture.Press: // what it comes to is not certain yet
			e.each(triggers, event)
			return
		case gesture.Down, gesture.Up:
			e.each(triggers, event)
			e.dispatch(ref, event, sent)
			return
		}
	}
	if e.unheard(ref) && sent != gesture.Release && sent != gesture.Up {
		e.origin().Note = cause.NoRule
	}
	e.inputEntry()
	e.each(triggers, event)
	e.dispatch(ref, event, sent)
}

// keyGave takes what a key gave, and when it is to be asked again.
func (e *Engine) keyGave(k *key, event *thing.Event, gestures []string) {
	for _, g := range gestures {
		e.begin(cause.Entry{Device: k.ref.Device, Name: k.ref.Name, By: k.by})
		e.gestured(k.ref, event, g)
		e.settle()
	}
	if due := k.Due(); !due.IsZero() {
		e.schedule(timer{at: due, kind: timerKey, key: k})
	}
}

// gestured takes that a gesture was given at a key, as what is being handled.
func (e *Engine) gestured(ref thing.Ref, event *thing.Event, g string) {
	origin := e.origin()
	origin.Kind, origin.Value = cause.Happened, thing.Text(g)
	if e.unheard(ref) && g != gesture.Release {
		origin.Note = cause.NoRule
	}
	e.inputEntry()
	e.dispatch(ref, event, g)
}

// dispatch starts what is started by a gesture, made here or not, and feeds the links for which it counts. A trigger that names none
// means a press where a key's messages do not differ, else each message: see [Engine.each].
func (e *Engine) dispatch(ref thing.Ref, event *thing.Event, g string) {
	e.feedBy(ref, g)
	for _, t := range e.events[ref] {
		if compare := t.listen.Compare; compare == nil && len(event.Options) == 0 && g == gesture.Press || compare != nil && compare.Holds(thing.Text(g)) {
			e.trigger(t.rule, t.index, why{})
		}
	}
}

// each starts what is started by each message of a key, whatever is made of it.
func (e *Engine) each(triggers []trigger, event *thing.Event) {
	for _, t := range triggers {
		if t.listen.Compare == nil && len(event.Options) > 0 {
			e.trigger(t.rule, t.index, why{})
		}
	}
}

// keyWaited takes that a key gave nothing more for as long as was waited.
func (e *Engine) keyWaited(k *key) {
	device := e.devices[k.ref.Device]
	if device == nil {
		return
	}
	event := device.Description.Event(k.ref.Name)
	if event == nil {
		return
	}
	w, _ := e.wanted(k.ref, event.Made())
	e.keyGave(k, event, k.Wake(e.now, w, e.timing(k.ref.Device)))
}

// shiftKeys moves what is remembered of keys by so much: the clock was set.
func (e *Engine) shiftKeys(by time.Duration) {
	for _, k := range e.keys {
		k.Shift(by)
	}
}
