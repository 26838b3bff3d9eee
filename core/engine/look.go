package engine

import (
	"strconv"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/rule"
	"amvek/core/state"
)

// lastTrue returns when the conditions of a rule last ceased to be true, by their paths; nil where none did.
func (r *ruleState) lastTrue() map[string]time.Time {
	if r.program == nil {
		return r.state.LastTrue
	}
	var times map[string]time.Time
	for i := range r.program.Nodes {
		if n := &r.program.Nodes[i]; !n.LastTrue.IsZero() {
			if times == nil {
				times = map[string]time.Time{}
			}
			times[n.Path] = n.LastTrue
		}
	}
	return times
}

// look brings the conditions of a rule that depend on time up to date, and lets runs go on that waited for one.
// It is false where the gate is shut, so that the rule does nothing.
func (e *Engine) look(r *ruleState, w why) bool {
	for _, l := range r.program.Lastings {
		e.evaluateLasting(r, l, w)
	}
	open := r.program.Gate == nil || r.program.Gate.Truth
	if open != r.open {
		r.open, r.turnedAway = open, false
		e.touchRule(r)
		if !open {
			e.silence(r, w)
		}
	}
	if !open {
		return false
	}
	for i := range r.program.Starters {
		for _, l := range r.program.Starters[i].Stayings {
			if !l.Truth {
				delete(r.stayed, l)
			} else if !r.stayed[l] {
				r.stayed[l] = true
				e.trigger(r, i, w)
			}
		}
		if r.program == nil {
			break
		}
	}
	if r.program == nil {
		return false // stopped by what it started
	}
	e.resumeUntils(r, w)
	return r.program != nil
}

// evaluateLasting brings one condition up to date that counts once it has been true for a time.
func (e *Engine) evaluateLasting(r *ruleState, l *rule.Lasting, w why) {
	truth := l.Inner.Truth
	switch {
	case !truth && l.Since.IsZero():
		return
	case !truth:
		l.Since = time.Time{}
		l.Set(false, e.now)
		delete(r.state.Lasting, l.Path)
		e.touchRule(r)
		return
	case l.Since.IsZero():
		e.judgeSpan(l)
		l.Since = e.now
		if r.state.Lasting == nil {
			r.state.Lasting = map[string]state.LastingState{}
		}
		r.state.Lasting[l.Path] = state.LastingState{Since: e.now, Cause: e.resolve(w)}
		e.schedule(timer{at: l.Since.Add(l.For), kind: timerLasting, rule: r, lasting: l, depth: w.depth})
		e.touchRule(r)
	}
	l.Set(!e.now.Before(l.Since.Add(l.For)), e.now)
}

// bindTimes takes up what a rule's conditions that depend on time were, and lets them be looked at when they change.
func (e *Engine) bindTimes(r *ruleState) {
	for _, span := range r.program.Spans {
		span.Since = e.now
		e.evaluateSpan(r, span)
	}
	r.stayed = map[*rule.Lasting]bool{}
	kept := r.state.Lasting
	r.state.Lasting = nil
	for _, l := range r.program.Lastings {
		was, lasted := kept[l.Path]
		if !lasted || !l.Inner.Truth {
			continue
		}
		l.Since = was.Since
		e.judgeSpan(l)
		l.Set(!e.now.Before(l.Since.Add(l.For)), e.now)
		if r.state.Lasting == nil {
			r.state.Lasting = map[string]state.LastingState{}
		}
		r.state.Lasting[l.Path] = was
		if !l.Truth {
			e.schedule(timer{at: l.Since.Add(l.For), kind: timerLasting, rule: r, lasting: l})
		}
	}
	// What had stayed so before has started the rule already.
	for i := range r.program.Starters {
		for _, l := range r.program.Starters[i].Stayings {
			if l.Truth {
				r.stayed[l] = true
			}
		}
	}
	if r.state.NextTimes == nil {
		r.state.NextTimes = map[int]time.Time{}
	}
}

// evaluateSpan brings a window of time, or an event of a calendar, up to date, until its beginning or its end.
func (e *Engine) evaluateSpan(r *ruleState, span *rule.Span) (changed bool) {
	truth, next := e.spans(span)
	if changed = truth != span.Truth; changed {
		span.Since = e.now
		span.Set(truth, e.now)
	}
	span.Next = next
	if !next.IsZero() {
		e.schedule(timer{at: next, kind: timerSpan, rule: r, span: span})
	}
	return changed
}

func (e *Engine) spans(span *rule.Span) (truth bool, next time.Time) {
	if span.Event != nil {
		return e.eventNow(span.Event)
	}
	return span.Window.Within(e.now.In(e.zone), e.place)
}

// judgeSpan says how long a condition must be true, where a formula says that.
func (e *Engine) judgeSpan(l *rule.Lasting) {
	if l.Formula != "" {
		l.For = rule.Seconds(rule.Formulas{rule.FieldForAtLeast: l.Formula}.Seconds(rule.FieldForAtLeast, l.For.Seconds(), e.workedOut))
	}
}

// planTrigger says when a time trigger comes next.
func (e *Engine) planTrigger(r *ruleState, i int) {
	next, ok := e.comes(&r.doc.When[i])
	if due, planned := r.state.NextTimes[i]; planned && !due.After(e.now) && e.starting {
		next, ok = due, true // it came while the hub was off
	}
	if !ok {
		delete(r.state.NextTimes, i)
		return
	}
	r.state.NextTimes[i] = next
	e.schedule(timer{at: next, kind: timerTrigger, rule: r, frame: uint64(i)})
}

// timeTrigger starts a rule because its time came.
func (e *Engine) timeTrigger(r *ruleState, i int, at time.Time) {
	e.begin(cause.Entry{Kind: cause.TimeCame, Rule: r.id, Note: e.entryTitle(&r.doc.When[i], at)})
	e.planTrigger(r, i)
	e.touchRule(r)
	if e.now.Sub(at) > LateBy {
		e.notStarted(r, "when/"+strconv.Itoa(i), "missed", why{})
		return
	}
	e.trigger(r, i, why{})
}

// What the signals are called by that are of no property and no event.
const (
	signalStart  = "start"
	signalSilent = "silent:" // and the device
	signalCall   = "call:"   // and its name
)

// signalPhrase is what a phrase is known by: without regard to case, spaces and punctuation at its end.
func signalPhrase(words string) string {
	return "phrase:" + strings.ToLower(strings.Join(strings.Fields(strings.TrimRight(words, ".!? ")), " "))
}

// signal starts the rules that listen to it.
func (e *Engine) signal(name string, w why) {
	for _, t := range e.signals[name] {
		e.trigger(t.rule, t.index, w)
	}
}

// Come lets a trigger of a rule come, by its index, whatever it listens to: for a rehearsal.
func (e *Engine) Come(now time.Time, id string, index int) []Output {
	e.out = e.out[:0]
	if now.After(e.now) {
		e.now = now
	}
	e.fireDue()
	r := e.rules[id]
	if r == nil || index < 0 || index >= len(r.doc.When) {
		return e.finish()
	}
	e.begin(cause.Entry{Kind: cause.TimeCame, Rule: id})
	e.trigger(r, index, why{})
	e.settle()
	return e.finish()
}
