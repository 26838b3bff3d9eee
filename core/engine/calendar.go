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
		if r.program == nil {
			continue
		}
		changed := false
		for _, span := range r.program.Spans {
			if span.Event != nil && span.Event.Calendar == in.ID {
				changed = e.evaluateSpan(r, span) || changed
			}
		}
		if changed {
			e.wake(r, why{})
		}
		for i := range r.doc.When {
			if t := &r.doc.When[i]; t.Kind == rule.OnEntry && t.Calendar == in.ID {
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
		if at.After(e.now) && named(&entries[i], t.Words) && (!ok || at.Before(next)) {
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

// named reports whether the title of an entry has all of some words in it.
func named(entry *almanac.Entry, words string) bool {
	title := strings.ToLower(entry.Title)
	for _, word := range strings.Fields(strings.ToLower(words)) {
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
		if entryMoment(t, &entries[i]).Equal(at) && named(&entries[i], t.Words) {
			return entries[i].Title
		}
	}
	return ""
}

// eventNow reports whether an event of a calendar is on, and when that may change next.
func (e *Engine) eventNow(wanted *rule.EventNow) (on bool, next time.Time) {
	entries := e.calendars[wanted.Calendar]
	for i := range entries {
		entry := &entries[i]
		if !named(entry, wanted.Words) || (wanted.WholeDays && !entry.Days) {
			continue
		}
		on = on || (!entry.Begin.After(e.now) && entry.End.After(e.now))
		for _, at := range []time.Time{entry.Begin, entry.End} {
			if at.After(e.now) && (next.IsZero() || at.Before(next)) {
				next = at
			}
		}
	}
	return on, next
}
