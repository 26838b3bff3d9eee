package engine

import (
	"time"

	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/rule"
	"amvek/core/state"
)

// LateBy is how long after its time a schedule still acts, when the hub was off meanwhile.
const LateBy = 10 * time.Minute

type scheduleState struct {
	id       string
	doc      *rule.Schedule
	uses     rule.Uses
	problems []rule.Problem
	state    state.ScheduleState
	gone     bool
}

func (s *scheduleState) live() bool { return s.doc.Enabled && len(s.problems) == 0 && !s.gone }

func (e *Engine) plan(s *scheduleState, after time.Time) {
	s.state.Next = time.Time{}
	if !s.live() {
		return
	}
	if next, ok := s.doc.At.Next(after.In(e.zone), e.place); ok {
		s.state.Next = next
		e.schedule(timer{at: next, kind: timerSchedule, schedule: s})
	}
}

func (e *Engine) due(s *scheduleState, at time.Time) {
	e.busyWith(KindSchedule, s.id)
	e.plan(s, e.now)
	e.begin(cause.Entry{Kind: cause.Due, Schedule: s.id})
	e.out = append(e.out, Output{Kind: OutputRule, Rule: s.id, Changed: true})
	if e.now.Sub(at) > LateBy {
		e.origin().Kind = cause.Missed
		e.inputEntry()
		return
	}
	e.inputEntry()
	s.state.LastRan = e.now
	for i := range s.doc.Do {
		e.plainStep(s.doc.Do[i].Resolved(e.workedOut), actor{"schedule:" + s.id, chance{s.id, &s.state.Draws}}, why{})
	}
}

// Next returns the next times of a schedule after the present, at most the given number.
func (e *Engine) Next(at almanac.Daily, number int) []time.Time {
	var times []time.Time
	after := e.now.In(e.zone)
	for range number {
		next, ok := at.Next(after, e.place)
		if !ok {
			break
		}
		times = append(times, next)
		after = next
	}
	return times
}
