package engine

import (
	"strings"
	"time"

	"amvek/core/almanac"
	"amvek/core/rule"
)

// readCalendar takes the entries of a calendar, and says anew when the rules come that wait for them.
func (e *Engine) readCalendar(in *Input) {
	if _, there := e.calendars[in.ID]; !there {
		return
	}
	e.calendars[in.ID] = in.Entries
	if e.loading {
		return // all is planned when everything is there
	}
	for _, r := range e.ruleOrder {
		for i := range r.doc.When {
			if t := &r.doc.When[i]; t.Kind == rule.OnEntry && t.Calendar == in.ID && r.program != nil {
				e.planTrigger(r, i)
				e.touchRule(r)
			}
		}
	}
}

// comes returns when a trigger that waits for a time comes next.
func (e *Engine) comes(t *rule.Trigger) (next time.Time, ok bool) {
	if t.Kind == rule.OnTime {
		return t.At.Next(e.now.In(e.zone), e.place)
	}
	entries := e.calendars[t.Calendar]
	for i := range entries {
		at := entryMoment(t, &entries[i])
		if at.After(e.now) && titled(t, &entries[i]) && (!ok || at.Before(next)) {
			next, ok = at, true
		}
	}
	return next, ok
}

// entryMoment is when an entry counts for a trigger.
func entryMoment(t *rule.Trigger, entry *almanac.Entry) time.Time {
	at := entry.Begin
	if t.Ends {
		at = entry.End
	}
	return at.Add(time.Duration(t.OffsetMinutes) * time.Minute)
}

// titled reports whether the title of an entry has all the words in it that a trigger wants.
func titled(t *rule.Trigger, entry *almanac.Entry) bool {
	title := strings.ToLower(entry.Title)
	for _, word := range strings.Fields(strings.ToLower(t.Words)) {
		if !strings.Contains(title, word) {
			return false
		}
	}
	return true
}

// entryTitle names the entry because of which a trigger came; "" for one that is none of a calendar's.
func (e *Engine) entryTitle(t *rule.Trigger, at time.Time) string {
	if t.Kind != rule.OnEntry {
		return ""
	}
	entries := e.calendars[t.Calendar]
	for i := range entries {
		if entryMoment(t, &entries[i]).Equal(at) && titled(t, &entries[i]) {
			return entries[i].Title
		}
	}
	return ""
}
