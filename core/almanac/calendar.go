package almanac

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	ical "github.com/arran4/golang-ical"
	"github.com/teambition/rrule-go"
)

// Entry is one occurrence of a calendar's event.
type Entry struct {
	Title string    `json:"title"`
	Where string    `json:"where,omitempty"`
	Begin time.Time `json:"begin"`
	End   time.Time `json:"end" doc:"Not part of it any more."`
	// Days says that it lasts whole days.
	Days bool `json:"days,omitempty" doc:"It lasts whole days."`
}

// Calendar is what a text in the format of iCalendar (RFC 5545) tells of events.
type Calendar struct {
	events []event
	// Skipped says what could not be read, by event; the others count all the same.
	Skipped []string
}

// event is a VEVENT. Its times are on the wall of its zone, held as UTC, so that what comes again stays at the same
// hour over a change of the clocks.
type event struct {
	uid, title, where string
	begin             time.Time
	lasts             time.Duration
	days              bool
	zone              *time.Location
	rule              *rrule.ROption
	also, except      []time.Time // on the wall
	instead           time.Time   // the occurrence, on the wall, in whose place this one stands
	canceled          bool
}

// Bounds of a calendar, beyond which what is in it is left out.
const (
	maximumEvents  = 5000
	maximumEntries = 2000
	maximumSkipped = 20
	maximumADay    = 24
	firstYear      = "1900"
	lastYear       = "2199"
)

// ErrNoCalendar says that a text is no iCalendar.
var ErrNoCalendar = errors.New("this is no calendar in the format of iCalendar (RFC 5545)")

// ParseCalendar reads a text in the format of iCalendar. Times without a zone of their own are those of the given one.
// An event that cannot be read is left out and named.
func ParseCalendar(text string, zone *time.Location) (*Calendar, error) {
	if !strings.Contains(text, "BEGIN:VCALENDAR") {
		return nil, ErrNoCalendar
	}
	doc, err := ical.ParseCalendar(strings.NewReader(text))
	if err != nil {
		return nil, fmt.Errorf("the calendar breaks off or is damaged: %w", err)
	}
	c := &Calendar{}
	for _, v := range doc.Events() {
		if len(c.events) == maximumEvents {
			c.skip("more than " + strconv.Itoa(maximumEvents) + " events")
			break
		}
		e, err := readEvent(v, zone)
		if err != nil {
			c.skip(fmt.Sprintf("%s: %s", cmp.Or(e.title, "an event without a title"), err))
			continue
		}
		c.events = append(c.events, e)
	}
	return c, nil
}

func (c *Calendar) skip(what string) {
	if len(c.Skipped) < maximumSkipped {
		c.Skipped = append(c.Skipped, what)
	}
}

func readEvent(v *ical.VEvent, zone *time.Location) (e event, err error) {
	text := func(name ical.ComponentProperty) string {
		if p := v.GetProperty(name); p != nil {
			return strings.TrimSpace(p.Value)
		}
		return ""
	}
	e.uid, e.title, e.where = text(ical.ComponentPropertyUniqueId), text(ical.ComponentPropertySummary), text(ical.ComponentPropertyLocation)
	e.canceled = strings.EqualFold(text(ical.ComponentPropertyStatus), "CANCELLED")
	start := v.GetProperty(ical.ComponentPropertyDtStart)
	if start == nil {
		return e, errors.New("it does not say when it begins")
	}
	if e.begin, e.zone, e.days, err = moment(start, zone); err != nil {
		return e, err
	}
	if e.lasts, err = lasting(v, &e); err != nil {
		return e, err
	}
	if rule := text(ical.ComponentPropertyRrule); rule != "" {
		if e.rule, err = recurrence(rule, &e); err != nil {
			return e, err
		}
	}
	if e.also, err = moments(v.GetProperties(ical.ComponentPropertyRdate), &e); err != nil {
		return e, err
	}
	if e.except, err = moments(v.GetProperties(ical.ComponentPropertyExdate), &e); err != nil {
		return e, err
	}
	if p := v.GetProperty(ical.ComponentPropertyRecurrenceId); p != nil {
		instead, of, _, err := moment(p, zone)
		if err != nil {
			return e, err
		}
		e.instead = onWall(fromWall(instead, of), e.zone)
	}
	return e, nil
}

// moment reads a date or a time (RFC 5545 §3.3.4 and §3.3.5) as it stands on the wall of its zone, held as UTC.
func moment(p *ical.IANAProperty, zone *time.Location) (wall time.Time, in *time.Location, day bool, err error) {
	in = zone
	if names := p.ICalParameters["TZID"]; len(names) == 1 {
		if known, err := time.LoadLocation(strings.TrimPrefix(names[0], "/")); err == nil {
			in = known // a zone that only this calendar knows is taken for the home's
		}
	}
	value := strings.TrimSpace(p.Value)
	if len(value) < 4 || value[:4] < firstYear || value[:4] > lastYear {
		return wall, in, false, fmt.Errorf("%q is no date or time from %s to %s", p.Value, firstYear, lastYear)
	}
	if wall, err = time.Parse("20060102", value); err == nil {
		return wall, zone, true, nil
	}
	if rest, utc := strings.CutSuffix(value, "Z"); utc {
		value, in = rest, time.UTC
	}
	if wall, err = time.Parse("20060102T150405", value); err != nil {
		return wall, in, false, fmt.Errorf("%q is no date or time", p.Value)
	}
	return wall, in, false, nil
}

// moments reads lists of dates or times, on the wall of the event's zone.
func moments(properties []*ical.IANAProperty, e *event) (all []time.Time, err error) {
	for _, p := range properties {
		for part := range strings.SplitSeq(p.Value, ",") {
			one := *p
			one.Value = part
			wall, in, day, err := moment(&one, e.zone)
			if err != nil {
				return nil, err
			}
			if !day && in != e.zone {
				wall = onWall(fromWall(wall, in), e.zone)
			}
			all = append(all, wall)
		}
	}
	return all, nil
}

// lasting returns how long an event lasts: until its end, for its duration, or a day or no time at all.
func lasting(v *ical.VEvent, e *event) (time.Duration, error) {
	if p := v.GetProperty(ical.ComponentPropertyDtEnd); p != nil {
		end, in, _, err := moment(p, e.zone)
		if err != nil {
			return 0, err
		}
		if in != e.zone {
			end = onWall(fromWall(end, in), e.zone)
		}
		if end.Before(e.begin) {
			return 0, errors.New("it ends before it begins")
		}
		return end.Sub(e.begin), nil
	}
	if p := v.GetProperty(ical.ComponentPropertyDuration); p != nil {
		return duration(strings.TrimSpace(p.Value))
	}
	if e.days {
		return 24 * time.Hour, nil
	}
	return 0, nil
}

// duration reads a duration such as P1DT2H (RFC 5545 §3.3.6).
func duration(text string) (d time.Duration, err error) {
	wrong := fmt.Errorf("%q is no duration", text)
	rest, is := strings.CutPrefix(strings.TrimPrefix(text, "+"), "P")
	if !is || rest == "" {
		return 0, wrong
	}
	units := map[byte]time.Duration{'W': 7 * 24 * time.Hour, 'D': 24 * time.Hour, 'H': time.Hour, 'M': time.Minute, 'S': time.Second}
	number := ""
	for i := range len(rest) {
		switch c := rest[i]; {
		case c == 'T':
		case c >= '0' && c <= '9' && len(number) < 6:
			number += string(c)
		default:
			n, err := strconv.Atoi(number)
			if err != nil || units[c] == 0 {
				return 0, wrong
			}
			d, number = d+time.Duration(n)*units[c], ""
		}
	}
	if number != "" {
		return 0, wrong
	}
	return d, nil
}

// recurrence reads a rule by which an event comes again (RFC 5545 §3.3.10).
func recurrence(text string, e *event) (*rrule.ROption, error) {
	option, err := rrule.StrToROption(text)
	if err != nil {
		return nil, fmt.Errorf("how it comes again cannot be read: %w", err)
	}
	if option.Freq >= rrule.HOURLY || max(1, len(option.Byhour))*max(1, len(option.Byminute))*max(1, len(option.Bysecond)) > maximumADay {
		return nil, fmt.Errorf("it comes more than %d times a day", maximumADay)
	}
	option.Dtstart = e.begin
	if strings.Contains(text, "UNTIL=") && strings.Contains(strings.SplitN(text, "UNTIL=", 2)[1], "Z") && !e.days {
		option.Until = onWall(option.Until, e.zone)
	}
	if _, err := rrule.NewRRule(*option); err != nil {
		return nil, fmt.Errorf("how it comes again cannot be read: %w", err)
	}
	return option, nil
}

// onWall is what a clock in a zone shows at a time, held as UTC.
func onWall(t time.Time, zone *time.Location) time.Time {
	t = t.In(zone)
	return time.Date(t.Year(), t.Month(), t.Day(), t.Hour(), t.Minute(), t.Second(), 0, time.UTC)
}

// fromWall is when a clock in a zone shows a time: what the clocks jump over is so much later, what they show twice
// is the first of the two (RFC 5545 §3.3.5).
func fromWall(wall time.Time, zone *time.Location) time.Time {
	return time.Date(wall.Year(), wall.Month(), wall.Day(), wall.Hour(), wall.Minute(), wall.Second(), 0, zone)
}

// Entries returns what ends after one time and begins before another, by its beginning; at most 2,000.
func (c *Calendar) Entries(from, to time.Time) []Entry {
	replaced := map[string][]time.Time{}
	for i := range c.events {
		if e := &c.events[i]; !e.instead.IsZero() {
			replaced[e.uid] = append(replaced[e.uid], e.instead)
		}
	}
	var entries []Entry
	for i := range c.events {
		e := &c.events[i]
		if e.canceled {
			continue
		}
		gone := e.except
		if e.instead.IsZero() {
			gone = append(slices.Clone(gone), replaced[e.uid]...)
		}
		for _, wall := range e.occurrences(onWall(from, e.zone).Add(-e.lasts), onWall(to, e.zone)) {
			if slices.ContainsFunc(gone, func(t time.Time) bool { return t.Equal(wall) || (e.days && sameDay(t, wall)) }) {
				continue
			}
			entry := Entry{Title: e.title, Where: e.where, Begin: fromWall(wall, e.zone), End: fromWall(wall.Add(e.lasts), e.zone), Days: e.days}
			if !e.days { // an hour is an hour, also when the clocks change within it
				entry.End = entry.Begin.Add(e.lasts)
			}
			if entry.Begin.Before(to) && (entry.End.After(from) || !entry.Begin.Before(from)) {
				entries = append(entries, entry)
			}
		}
	}
	slices.SortStableFunc(entries, func(a, b Entry) int { return cmp.Or(a.Begin.Compare(b.Begin), strings.Compare(a.Title, b.Title)) })
	return entries[:min(len(entries), maximumEntries)]
}

func sameDay(a, b time.Time) bool { return a.YearDay() == b.YearDay() && a.Year() == b.Year() }

// occurrences are when the event begins, on the wall.
func (e *event) occurrences(from, to time.Time) []time.Time {
	all := slices.DeleteFunc(slices.Clone(e.also), func(t time.Time) bool { return t.Before(from) || t.After(to) })
	if e.rule == nil {
		return append(all, e.begin)
	}
	option := *e.rule
	if option.Until.IsZero() || option.Until.After(to) {
		option.Until = to // it is not looked for beyond
	}
	if !e.begin.After(to) {
		all = append(all, comings(option, from, to)...)
	}
	return all
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
