package views

import (
	"time"

	"amvek/core/rule"
	"amvek/core/state"
)

// ScheduleState is how a schedule stands now.
type ScheduleState struct {
	state.ScheduleState
	Upcoming []time.Time    `json:"upcoming" doc:"The next dates."`
	Problems []rule.Problem `json:"problems"`
}

// ScheduleView is a schedule as it stands now.
type ScheduleView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	rule.Schedule
	State ScheduleState `json:"state"`
}

// UpcomingDates is how many of the next dates of a schedule are shown.
const UpcomingDates = 7

func (r *Reader) scheduleState(id string, state state.ScheduleState, problems []rule.Problem) ScheduleState {
	s := ScheduleState{ScheduleState: state, Problems: problems, Upcoming: []time.Time{}}
	if s.Problems == nil {
		s.Problems = []rule.Problem{}
	}
	if !state.Next.IsZero() {
		s.Upcoming = r.Engine.Next(r.Definitions.Schedules[id].Doc.At, UpcomingDates)
	}
	return s
}

// Schedule returns a schedule that there is.
func (r *Reader) Schedule(id string) ScheduleView {
	s := r.Definitions.Schedules[id]
	state, problems, _ := r.Engine.ScheduleView(id)
	return ScheduleView{ID: id, Revision: s.Revision, Schedule: *s.Doc, State: r.scheduleState(id, state, problems)}
}
