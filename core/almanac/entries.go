package almanac

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"github.com/teambition/rrule-go"
)

// Entries returns what ends after one time and begins before another, by its beginning; at most 2,000. It looks a week on at
// a time, so that what comes too often costs no more than what is returned.
func (c *Calendar) Entries(from, to time.Time) []Entry {
	const ahead = 7 * 24 * time.Hour
	changed := c.changes()
	var entries []Entry
	for begin := from; begin.Before(to) && len(entries) < maximumEntries; begin = begin.Add(ahead) {
		end := begin.Add(ahead)
		if end.After(to) {
			end = to
		}
		var some []Entry
		for i := range c.events {
			e := &c.events[i]
			if e.canceled && !e.future || e.future {
				continue
			}
			some = e.between(some, begin, end, changed[e.uid], begin.Equal(from))
		}
		slices.SortStableFunc(some, func(a, b Entry) int { return cmp.Or(a.Begin.Compare(b.Begin), strings.Compare(a.Title, b.Title)) })
		entries = append(entries, some...)
	}
	return entries[:min(len(entries), maximumEntries)]
}

// changes are the events that stand in the place of occurrences of others, by uid.
func (c *Calendar) changes() map[string][]*event {
	changed := map[string][]*event{}
	for i := range c.events {
		if e := &c.events[i]; !e.instead.IsZero() {
			changed[e.uid] = append(changed[e.uid], e)
		}
	}
	return changed
}

// between adds the entries of an event that begin between two times, and with running those that are under way at the first.
func (e *event) between(some []Entry, from, to time.Time, changed []*event, running bool) []Entry {
	early := from
	if running {
		early = from.Add(-e.lasts.longest())
	}
	gone := func(list []coming, wall time.Time) bool {
		return slices.ContainsFunc(list, func(c coming) bool { return c.wall.Equal(wall) || (e.days && sameDay(c.wall, wall)) })
	}
	shift := time.Duration(0) // how far changed ones may lie from those in whose place they stand
	for _, other := range changed {
		shift = max(shift, (other.begin.Sub(other.instead)).Abs())
	}
	if !e.instead.IsZero() {
		shift = 0
	}
	for _, next := range e.occurrences(onWall(early.Add(-shift), e.zone), onWall(to.Add(shift), e.zone)) {
		as, wall, lasts := e, next.wall, next.lasts
		if gone(e.except, wall) {
			continue
		}
		if e.instead.IsZero() {
			replaced := false
			var future *event
			for _, other := range changed {
				at := coming{wall: other.instead}
				if gone([]coming{at}, wall) && !other.future {
					replaced = true
				}
				if other.future && !other.instead.After(wall) && (future == nil || other.instead.After(future.instead)) {
					future = other
				}
			}
			if replaced {
				continue
			}
			if future != nil {
				if future.canceled {
					continue
				}
				as, wall, lasts = future, wall.Add(future.begin.Sub(future.instead)), future.lasts
			}
		}
		entry := Entry{Title: as.title, Where: as.where, Begin: fromWall(wall, as.zone), End: lasts.after(wall, as.zone), Days: as.days}
		if !entry.Begin.Before(to) || entry.Begin.Before(from) && (!running || !entry.End.After(from)) {
			continue
		}
		some = append(some, entry)
	}
	return some
}

func sameDay(a, b time.Time) bool { return a.YearDay() == b.YearDay() && a.Year() == b.Year() }

// occurrences are when the event begins between two times, on the wall.
func (e *event) occurrences(from, to time.Time) []coming {
	within := func(t time.Time) bool { return !t.Before(from) && !t.After(to) }
	var all []coming
	for _, next := range e.also {
		if within(next.wall) {
			all = append(all, next)
		}
	}
	if e.rule == nil {
		if within(e.begin) {
			all = append(all, coming{e.begin, e.lasts})
		}
		return all
	}
	if e.begin.After(to) {
		return all
	}
	option := *e.rule
	if option.Until.IsZero() || option.Until.After(to) {
		option.Until = to // it is not looked for beyond
	}
	option.Dtstart = later(option, from)
	for _, wall := range comings(option, from, to) {
		all = append(all, coming{wall, e.lasts})
	}
	return all
}

// later returns from when on a rule need be worked out, to know when it comes after a time: what comes each day since the
// year 2000 is not counted through. It goes by whole intervals, so that those that come are the same.
func later(o rrule.ROption, from time.Time) time.Time {
	begin, every := o.Dtstart, max(1, o.Interval)
	if o.Count > 0 || !from.After(begin) {
		return begin
	}
	var step time.Duration
	switch o.Freq {
	case rrule.HOURLY:
		step = time.Duration(every) * time.Hour
	case rrule.DAILY:
		step = time.Duration(every) * 24 * time.Hour
	case rrule.WEEKLY:
		step = time.Duration(every) * 7 * 24 * time.Hour
	case rrule.MONTHLY, rrule.YEARLY:
		if len(o.Byweekno) > 0 {
			return begin // the day of the week is that of the beginning
		}
		months := every
		if o.Freq == rrule.YEARLY {
			months *= 12
		}
		if begin.Day() > 28 {
			return begin // not each month has such a day
		}
		passed := (from.Year()-begin.Year())*12 + int(from.Month()) - int(begin.Month())
		return begin.AddDate(0, max(0, passed/months-1)*months, 0)
	default:
		return begin
	}
	return begin.Add(max(0, from.Sub(begin)/step-1) * step)
}

// comings are when a rule lets an event come again. What the rule's own computation does not come through with, comes
// not: a calendar is somebody else's text.
func comings(option rrule.ROption, from, to time.Time) (all []time.Time) {
	defer func() {
		if recover() != nil {
			all = nil
		}
	}()
	rule, err := rrule.NewRRule(option)
	if err != nil {
		return nil
	}
	return rule.Between(from, to, true)
}
