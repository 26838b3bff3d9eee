package engine

import (
	"time"

	"amvek/core/cause"
	"amvek/core/thing"
)

// replanAfter is how far the clock must go back for times of day to come again: the sun rises and the schedules run once
// more after a clock that was wrong by a day, and not after one that was fast by a minute.
const replanAfter = time.Hour

// setClock takes that the clock of the machine was set, by so much. What lasts or waits goes on for as long as it has
// left: all that is remembered of when something was or will be moves with the clock. Times of the day do not: those that
// were passed over are due, as after a time in which the hub was off.
func (e *Engine) setClock(by time.Duration) {
	origin := e.origin()
	origin.Kind, origin.Value = cause.ClockSet, thing.Number(by.Seconds())
	e.now = e.now.Add(by)
	e.origin().At = e.now
	e.inputEntry()
	e.moveTimes(by)
	for i := range e.timers {
		if t := &e.timers[i]; t.lasts() {
			t.at = t.at.Add(by)
		}
	}
	all := e.timers
	e.timers = nil
	for _, t := range all {
		e.timers.push(t)
	}
	if by < -replanAfter {
		e.replan()
	} else {
		e.evaluateTimes()
	}
	e.followAnew() // the day curves are where the clock is now
}

// lasts reports whether a timer is for the end of a while, not for a time of the day.
func (t *timer) lasts() bool {
	switch t.kind {
	case timerSchedule, timerTrigger, timerSpan, timerFormula, timerFollow:
		return false
	default:
		return true
	}
}

// moveTimes moves when something was, and when a while ends, in all that is remembered.
func (e *Engine) moveTimes(by time.Duration) {
	move := func(times ...*time.Time) {
		for _, t := range times {
			if !t.IsZero() {
				*t = t.Add(by)
			}
		}
	}
	for _, id := range sortedKeys(e.byDevice) {
		slots := e.byDevice[id]
		for i := range slots {
			s := &slots[i]
			e.touch(s)
			all := s.full()
			all.Shift(by)
			s.Reading, s.state = all.Reading, all.Control
			if s.heard != 0 {
				s.heard += int64(by)
			}
			move(&s.retryAt)
			if s.glow != nil {
				move(&s.glow.since)
			}
			if s.adjusting != nil {
				move(&s.adjusting.at)
			}
			if s.fading != nil {
				move(&s.fading.began, &s.fading.ends, &s.fading.next)
			}
			if s.ownLight != nil {
				s.ownLight.shift(move)
			}
			if s.driver != nil && s.driver.position == s {
				move(&s.driver.wake)
			}
			if s.past != nil {
				for j := range s.past.moments {
					move(&s.past.moments[j].at)
				}
			}
		}
	}
	e.shiftKeys(by)
	e.shiftLinks(by)
	for ref, state := range e.parked {
		state.Shift(by)
		e.parked[ref] = state
	}
	for _, id := range sortedKeys(e.watches) {
		w := e.watches[id]
		e.touchWatch(w)
		w.state.Shift(by)
		move(&w.at)
	}
	for _, id := range sortedKeys(e.sequences) {
		q := e.sequences[id]
		q.state.Shift(by)
		if q.moving != nil {
			move(&q.moving.began, &q.moving.next)
		}
		e.touchSequence(q)
	}
	for _, s := range e.schedules {
		s.state.Shift(by)
	}
	for _, r := range e.ruleOrder {
		e.touchRule(r)
		r.state.Shift(by)
		for i := range r.flips {
			move(&r.flips[i].At)
		}
		if r.program == nil {
			continue
		}
		for _, n := range r.program.Nodes {
			move(&n.LastTrue)
			if n.Test != nil {
				move(&n.Test.Since)
			}
			if n.Formula != nil {
				move(&n.Formula.Since)
			}
			if n.Span != nil {
				move(&n.Span.Since)
			}
		}
		for _, l := range r.program.Lastings {
			move(&l.Since)
		}
	}
}

// replan plans all that comes at times of the day from now on: the clock, the place or its zone is another.
func (e *Engine) replan() {
	for _, id := range sortedKeys(e.schedules) {
		e.plan(e.schedules[id], e.now)
	}
	for _, r := range e.ruleOrder {
		if r.program == nil || r.gone {
			continue
		}
		for i := range r.doc.When {
			if _, planned := r.state.NextTimes[i]; planned {
				e.planTrigger(r, i)
				e.touchRule(r)
			}
		}
	}
	e.evaluateTimes()
}

// evaluateTimes brings up to date what is so by the time of day: windows of time, and expressions that speak of it.
func (e *Engine) evaluateTimes() {
	for _, r := range e.ruleOrder {
		if r.program == nil || r.gone {
			continue
		}
		changed := false
		for _, span := range r.program.Spans {
			changed = e.evaluateSpan(r, span) || changed
		}
		if changed {
			e.wake(r, why{})
		}
		for _, g := range r.weighers {
			if !g.next.IsZero() {
				e.weigh(g, why{})
			}
		}
	}
	for _, g := range e.computing {
		if !g.next.IsZero() {
			e.weigh(g, why{})
		}
	}
}
