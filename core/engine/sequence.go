package engine

import (
	"slices"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/hold"
	"amvek/core/light"
	"amvek/core/state"
	"amvek/core/thing"
)

// VerbStop stops a sequence by hand; else it is started.
const VerbStop = "stop"

type sequence struct {
	id     string
	doc    *light.Sequence
	state  state.SequenceState
	by     why // what it follows from
	byHand bool
	held   []thing.Ref
	moving *moving // nil where it is not an effect that is running
	gone   bool
}

const sequenceOwner = "sequence:"

func (q *sequence) owner() string { return sequenceOwner + q.id }

// HasSequence reports whether there is such a sequence.
func (e *Engine) HasSequence(id string) bool { return e.sequences[id] != nil }

// SequenceView returns how a sequence stands; it is false when there is none.
func (e *Engine) SequenceView(id string) (state.SequenceState, bool) {
	q := e.sequences[id]
	if q == nil {
		return state.SequenceState{}, false
	}
	return q.state, true
}

func (e *Engine) defineSequence(id string, doc *light.Sequence) {
	q := e.sequences[id]
	if q == nil {
		q = &sequence{id: id}
		e.sequences[id] = q
		e.refresh(id)
	}
	before := q.doc
	q.doc = doc
	if q.moving != nil {
		e.changeEffect(q, before.Effect)
		return
	}
	if q.state.Running && q.state.At >= len(doc.Passages) {
		e.endSequence(q, "it was changed", 0, why{})
	}
}

func (e *Engine) removeSequence(id string) {
	if q := e.sequences[id]; q != nil {
		e.endSequence(q, "it was removed", 0, why{})
		q.gone = true
		delete(e.sequences, id)
	}
}

// playByHand takes that a person starts or stops a sequence.
func (e *Engine) playByHand(in *Input) {
	q := e.sequences[in.ID]
	if q == nil {
		return
	}
	e.origin().Scene = in.ID
	if in.Verb == VerbStop {
		e.origin().Kind = cause.HaltedByHand
		e.inputEntry()
		e.stopSequence(q, why{})
		return
	}
	e.origin().Kind = cause.PlayedByHand
	e.inputEntry()
	e.startSequence(q, true, why{})
}

// stopSequence stops a sequence that is told to; an effect ends as it is to end.
func (e *Engine) stopSequence(q *sequence, w why) {
	if q.moving != nil {
		e.endEffect(q, w)
		return
	}
	e.endSequence(q, "", 0, w)
}

// startSequence starts a sequence from its first scene. Another that has the same lights ends.
func (e *Engine) startSequence(q *sequence, byHand bool, w why) {
	q.byHand = byHand
	if len(q.doc.Passages) == 0 && q.doc.Effect == nil {
		return
	}
	if q.moving != nil {
		e.stillLamps(q) // it begins anew
	}
	inner := e.follow(w, cause.Entry{Kind: cause.Played, Scene: q.id})
	q.by = inner
	q.state.Running = true
	for _, ref := range q.held { // started anew, it takes back what a hand took from it
		if s := e.at(ref); s != nil {
			if h := s.state.Stack.Find(q.owner()); h != nil && h.Suspended {
				s.state.Stack.Release(q.owner())
			}
		}
	}
	e.yieldLights(e.sequenceTargets(q), q, 0, inner)
	if q.doc.Effect != nil {
		e.move(q, inner)
		return
	}
	e.passage(q, 0, inner)
}

// sequenceTargets are what all scenes of a sequence set, or what its effect moves.
func (e *Engine) sequenceTargets(q *sequence) (all []light.Target) {
	if q.doc.Effect != nil {
		ids, _ := e.lampsMoved(q.doc.Effect)
		for _, l := range e.Lamps(ids) {
			all = append(all, q.doc.Effect.Shown(light.Glow{Level: 1, Color: light.OfWhite(light.UsualWhite)}, &l)...)
		}
		return all
	}
	for i := range q.doc.Passages {
		if scene := e.scenes[q.doc.Passages[i].Scene]; scene != nil {
			all = append(all, scene.Targets...)
		}
	}
	return all
}

// passage lays a scene of a sequence over what is there. What a hand has taken meanwhile is left to it.
func (e *Engine) passage(q *sequence, at int, w why) {
	e.busyWith(KindSequence, q.id)
	p := &q.doc.Passages[at]
	q.state.At, q.state.Since, q.state.Until = at, e.now, e.now.Add(p.Lasts())
	e.schedule(timer{at: q.state.Until, kind: timerSequence, sequence: q})
	e.touchSequence(q)
	scene := e.scenes[p.Scene]
	if scene == nil {
		return // removed meanwhile: its time passes
	}
	if !q.byHand && e.keptBack(scene, p.Scene, w) {
		return
	}
	inner := e.follow(w, cause.Entry{Kind: cause.Applied, Scene: p.Scene})
	for _, t := range e.tonesFirst(e.sceneNow(scene).Targets) {
		s := e.find(t.Device, t.Property)
		if s == nil || !s.property.Writable {
			continue
		}
		v := p.Scaled(s.property, t.Value)
		if s.property.Check(v) != nil {
			continue
		}
		if h := s.state.Stack.Find(q.owner()); h != nil && h.Suspended {
			continue
		}
		if !slices.Contains(q.held, s.ref) {
			q.held = append(q.held, s.ref)
		}
		s.state.Stack.Place(hold.Hold{Owner: q.owner(), Level: hold.Overlay, Value: v, Since: e.now, Cause: e.resolve(inner)})
		e.apply(s, p.Fade(), inner)
	}
}

// nextPassage goes on after a scene's time.
func (e *Engine) nextPassage(q *sequence) {
	e.begin(cause.Entry{Kind: cause.Waited, Parent: q.by.id, Scene: q.id})
	w := why{depth: q.by.depth}
	at := q.state.At + 1
	last := len(q.doc.Passages) - 1
	switch {
	case q.doc.Effect != nil:
		e.endEffect(q, w)
	case at <= last:
		e.passage(q, at, w)
	case q.doc.Ending == light.EndRepeat:
		e.passage(q, 0, w)
	case q.doc.Ending == light.EndHold:
		q.state.Until = time.Time{}
		e.touchSequence(q)
	case q.doc.Ending == light.EndFadeOut:
		e.fadeOut(q, q.doc.Passages[last].Fade(), w)
	default:
		e.endSequence(q, "", q.doc.Passages[last].Fade(), w)
	}
}

// endEffect ends an effect as it is to end: its lamps stay as they are, go out, or are as they were before it.
func (e *Engine) endEffect(q *sequence, w why) {
	const over = 2 * time.Second
	e.atOnce = true // stop is stop: what cannot fade by itself is told where to be, and nothing after that
	defer func() { e.atOnce = false }()
	switch q.doc.Ending {
	case light.EndHold:
		for _, ref := range q.held {
			if s := e.at(ref); s != nil {
				if h := s.state.Stack.Find(q.owner()); h != nil && !h.Suspended {
					s.state.Stack.Write(hold.Base{Value: h.Value, Since: e.now, By: q.owner(), Cause: e.resolve(w)})
				}
			}
		}
		e.endSequence(q, "", 0, w)
	case light.EndFadeOut:
		e.fadeOut(q, over, w)
	default:
		e.endSequence(q, "", over, w)
	}
}

// fadeOut ends a sequence in the dark: its lights are off afterwards, and not as they were before it.
func (e *Engine) fadeOut(q *sequence, fade time.Duration, w why) {
	for _, ref := range q.held {
		s := e.at(ref)
		if s == nil {
			continue
		}
		if h := s.state.Stack.Find(q.owner()); h == nil || h.Suspended {
			continue // a hand has it
		}
		v := s.state.Stack.Find(q.owner()).Value
		if rest := s.property.Rest(); !rest.IsNone() {
			v = rest
		}
		s.state.Stack.Write(hold.Base{Value: v, Since: e.now, By: q.owner(), Cause: e.resolve(w)})
	}
	e.endSequence(q, "", fade, w)
}

// endSequence ends a sequence for good, and lets go of its lights.
func (e *Engine) endSequence(q *sequence, reason string, fade time.Duration, w why) {
	if !q.state.Running {
		return
	}
	inner := e.follow(w, cause.Entry{Kind: cause.PlayedOut, Scene: q.id, Note: reason})
	moved := q.moving != nil
	if moved {
		e.stillLamps(q)
	}
	held := q.held
	q.state, q.held = state.SequenceState{}, nil
	for _, ref := range held {
		s := e.at(ref)
		if s == nil {
			continue
		}
		// What a lamp was told in its last frame it may never have heard: it is told what it is to be at now in any case.
		e.commandAgain = moved && s.state.Stack.Top() != nil && s.state.Stack.Top().Owner == q.owner()
		if s.state.Stack.Release(q.owner()) {
			e.apply(s, fade, inner)
		}
		e.commandAgain = false
	}
	e.touchSequence(q)
}

// yieldLights ends the sequences that have lights which something else now takes, over its fade.
func (e *Engine) yieldLights(targets []light.Target, but *sequence, fade time.Duration, w why) {
	for _, id := range sortedKeys(e.sequences) {
		q := e.sequences[id]
		if q == but || !q.state.Running {
			continue
		}
		if q.moving != nil && !q.doc.Effect.AllStop {
			e.yieldLamps(q, targets, fade, w)
			continue
		}
		if slices.ContainsFunc(targets, func(t light.Target) bool {
			return slices.Contains(q.held, thing.Ref{Device: t.Device, Name: t.Property})
		}) {
			e.endSequence(q, "its lights were taken", fade, w)
		}
	}
}

// yieldLamps lets go of the lamps of an effect that something else takes. The others go on.
func (e *Engine) yieldLamps(q *sequence, targets []light.Target, fade time.Duration, w why) {
	for _, t := range targets {
		if slices.Contains(q.held, thing.Ref{Device: t.Device, Name: t.Property}) {
			e.leaveEffect(q, t.Device, fade, w)
		}
	}
	if len(q.moving.lamps) == 0 {
		e.endSequence(q, "its lights were taken", fade, w)
	}
}

// dropSequences lets go of what sequences held when the hub stopped.
func (e *Engine) dropSequences() {
	for _, device := range sortedKeys(e.byDevice) {
		slots := e.byDevice[device]
		for i := range slots {
			s := &slots[i]
			held := false
			for _, h := range slices.Clone(s.state.Stack.Holds) {
				if strings.HasPrefix(h.Owner, sequenceOwner) {
					held = s.state.Stack.Release(h.Owner) || held
				}
			}
			if held {
				e.apply(s, 0, why{})
			}
		}
	}
}

func (e *Engine) touchSequence(q *sequence) {
	e.out = append(e.out, Output{Kind: OutputSequence, Name: q.id})
}
