package views

import (
	"time"

	"amvek/core/almanac"
	"amvek/core/home"
	"amvek/hub/docs"
)

// CalendarView is a calendar with what comes next in it.
type CalendarView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	home.Calendar
	UsedBy []docs.Use `json:"usedBy"`
	// Next are the entries that are not over, the next first, at most nextEntries of them.
	Next []almanac.Entry `json:"next" doc:"The entries that are not over, the next first."`
	// ReadAt is when it was last read, and Failed why it could not be read since.
	ReadAt  time.Time `json:"readAt,omitzero"`
	Failed  string    `json:"failed,omitempty" doc:"Why it could not be read the last time; absent when it was."`
	Skipped []string  `json:"skipped,omitempty" doc:"What in it could not be understood, and is left out."`
}

// nextEntries is how many entries of a calendar are shown.
const nextEntries = 8

// Calendar returns a calendar that there is.
func (r *Reader) Calendar(id string) CalendarView {
	c, now := r.Definitions.Calendars[id], r.Now()
	view := CalendarView{ID: id, Revision: c.Revision, Calendar: *c.Doc, UsedBy: r.Definitions.UsedBy(id), Next: []almanac.Entry{}}
	read := r.Kept.ReadOf(id)
	view.ReadAt, view.Failed, view.Skipped = read.At, read.Failed, read.Skipped
	for _, e := range read.Entries {
		if e.End.After(now) && len(view.Next) < nextEntries {
			view.Next = append(view.Next, e)
		}
	}
	return view
}
