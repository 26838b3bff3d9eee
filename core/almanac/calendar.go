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
	lasts             span
	days              bool
	zone              *time.Location
	rule              *rrule.ROption
	also, except      []coming  // on the wall
	instead           time.Time // the occurrence, on the wall, in whose place this one stands
	future            bool      // whether those that follow it change with it
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
	if !strings.Contains(strings.ToUpper(text), "BEGIN:VCALENDAR") {
		return nil, ErrNoCalendar
	}
	c := &Calendar{}
	all, whole := blocks(text)
	if !whole {
		return nil, errors.New("the calendar breaks off, or is damaged")
	}
	zones := zones{home: zone, defined: map[string]*time.Location{}}
	for _, b := range all {
		if b.name != "VTIMEZONE" {
			continue
		}
		if name, defined, err := definedZone(b); err == nil {
			zones.defined[name] = defined
		} else {
			c.skip(fmt.Sprintf("the time zone “%s”: %s; its times are taken for the home's", name, err))
		}
	}
	for _, b := range all {
		if b.name != "VEVENT" {
			continue
		}
		if len(c.events) == maximumEvents {
			c.skip("more than " + strconv.Itoa(maximumEvents) + " events")
			break
		}
		e, err := parseEvent(b, &zones)
		if err != nil {
			c.skip(fmt.Sprintf("%s: %s", cmp.Or(e.title, titleIn(b), "an event without a title"), err))
			continue
		}
		c.events = append(c.events, e)
	}
	return c, nil
}

// zones are those that a calendar's times may be in.
type zones struct {
	home    *time.Location
	defined map[string]*time.Location
}

// find returns a zone by its name: as the calendar defines it, or as everybody knows it, else the home's.
func (z *zones) find(name string) *time.Location {
	if defined := z.defined[name]; defined != nil {
		return defined
	}
	if known, err := time.LoadLocation(strings.TrimPrefix(name, "/")); err == nil && name != "" {
		return known
	}
	return z.home
}

// parseEvent reads one event by itself, so that a line that is wrong costs only that event.
func parseEvent(b block, zones *zones) (event, error) {
	text := "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\n" + strings.Join(b.lines, "\r\n") + "\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
	doc, err := ical.ParseCalendar(strings.NewReader(text))
	if err != nil || len(doc.Events()) != 1 {
		return event{}, errors.New("a line of it cannot be read")
	}
	return readEvent(doc.Events()[0], zones)
}

// titleIn returns the title of an event that cannot be read.
func titleIn(b block) string {
	for _, line := range b.lines {
		if strings.HasPrefix(line, "SUMMARY") {
			_, title, _ := strings.Cut(line, ":")
			return strings.TrimSpace(title)
		}
	}
	return ""
}

func (c *Calendar) skip(what string) {
	if len(c.Skipped) < maximumSkipped {
		c.Skipped = append(c.Skipped, what)
	}
}

func readEvent(v *ical.VEvent, zones *zones) (e event, err error) {
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
	if e.begin, e.zone, e.days, err = moment(start, zones); err != nil {
		return e, err
	}
	if e.lasts, err = lasting(v, &e, zones); err != nil {
		return e, err
	}
	if rule := text(ical.ComponentPropertyRrule); rule != "" {
		if e.rule, err = recurrence(rule, &e); err != nil {
			return e, err
		}
	}
	if e.also, err = moments(v.GetProperties(ical.ComponentPropertyRdate), &e, zones); err != nil {
		return e, err
	}
	if e.except, err = moments(v.GetProperties(ical.ComponentPropertyExdate), &e, zones); err != nil {
		return e, err
	}
	if p := v.GetProperty(ical.ComponentPropertyRecurrenceId); p != nil {
		instead, of, _, err := moment(p, zones)
		if err != nil {
			return e, err
		}
		e.future = slices.Equal(p.ICalParameters["RANGE"], []string{"THISANDFUTURE"})
		e.instead = onWall(fromWall(instead, of), e.zone)
	}
	return e, nil
}

// moment reads a date or a time (RFC 5545 §3.3.4 and §3.3.5) as it stands on the wall of its zone, held as UTC.
func moment(p *ical.IANAProperty, zones *zones) (wall time.Time, in *time.Location, day bool, err error) {
	in = zones.home
	if names := p.ICalParameters["TZID"]; len(names) == 1 {
		in = zones.find(strings.Trim(names[0], `"`))
	}
	value := strings.TrimSpace(p.Value)
	if len(value) < 4 || value[:4] < firstYear || value[:4] > lastYear {
		return wall, in, false, fmt.Errorf("%q is no date or time from %s to %s", p.Value, firstYear, lastYear)
	}
	if wall, err = time.Parse("20060102", value); err == nil {
		return wall, zones.home, true, nil
	}
	if rest, utc := strings.CutSuffix(value, "Z"); utc {
		value, in = rest, time.UTC
	}
	if wall, err = time.Parse("20060102T150405", value); err != nil {
		return wall, in, false, fmt.Errorf("%q is no date or time", p.Value)
	}
	return wall, in, false, nil
}

// moments reads lists of dates, times or periods, on the wall of the event's zone.
func moments(properties []*ical.IANAProperty, e *event, zones *zones) (all []coming, err error) {
	for _, p := range properties {
		for part := range strings.SplitSeq(p.Value, ",") {
			one := *p
			begin, end, period := strings.Cut(part, "/")
			one.Value = begin
			wall, in, day, err := moment(&one, zones)
			if err != nil {
				return nil, err
			}
			next := coming{wall: wall, lasts: e.lasts}
			if period { // RFC 5545 §3.3.9
				if next.lasts, err = duration(end); err != nil {
					one.Value = end
					until, of, _, err := moment(&one, zones)
					if err != nil {
						return nil, err
					}
					next.lasts = span{exact: fromWall(until, of).Sub(fromWall(wall, in))}
				}
			}
			if !day && in != e.zone {
				next.wall = onWall(fromWall(wall, in), e.zone)
			}
			all = append(all, next)
		}
	}
	return all, nil
}

// span is how long something lasts: so many days, by the calendar, and an exact time besides (RFC 5545 §3.3.6).
type span struct {
	days  int
	exact time.Duration
}

// after returns when a span ends that begins at a time on the wall of a zone.
func (s span) after(wall time.Time, zone *time.Location) time.Time {
	return fromWall(wall.AddDate(0, 0, s.days), zone).Add(s.exact)
}

// longest is how long a span lasts at most.
func (s span) longest() time.Duration { return time.Duration(s.days)*25*time.Hour + s.exact }

// coming is one occurrence of an event: when it begins, on the wall, and how long it lasts.
type coming struct {
	wall  time.Time
	lasts span
}

// lasting returns how long an event lasts: until its end, for its duration, or a day or no time at all.
func lasting(v *ical.VEvent, e *event, zones *zones) (span, error) {
	if p := v.GetProperty(ical.ComponentPropertyDtEnd); p != nil {
		end, in, _, err := moment(p, zones)
		if err != nil {
			return span{}, err
		}
		if e.days {
			if end.Before(e.begin) {
				return span{}, errors.New("it ends before it begins")
			}
			return span{days: int(end.Sub(e.begin) / (24 * time.Hour))}, nil
		}
		exact := fromWall(end, in).Sub(fromWall(e.begin, e.zone))
		if exact < 0 {
			return span{}, errors.New("it ends before it begins")
		}
		return span{exact: exact}, nil
	}
	if p := v.GetProperty(ical.ComponentPropertyDuration); p != nil {
		return duration(strings.TrimSpace(p.Value))
	}
	if e.days {
		return span{days: 1}, nil
	}
	return span{}, nil
}

// duration reads a duration such as P1DT2H (RFC 5545 §3.3.6).
func duration(text string) (d span, err error) {
	wrong := fmt.Errorf("%q is no duration", text)
	rest, is := strings.CutPrefix(strings.TrimPrefix(text, "+"), "P")
	if !is || rest == "" {
		return d, wrong
	}
	units := map[byte]time.Duration{'H': time.Hour, 'M': time.Minute, 'S': time.Second}
	days := map[byte]int{'W': 7, 'D': 1}
	number := ""
	for i := range len(rest) {
		switch c := rest[i]; {
		case c == 'T':
		case c >= '0' && c <= '9' && len(number) < 6:
			number += string(c)
		default:
			n, err := strconv.Atoi(number)
			if err != nil || (units[c] == 0 && days[c] == 0) {
				return span{}, wrong
			}
			d.days, d.exact, number = d.days+n*days[c], d.exact+time.Duration(n)*units[c], ""
		}
	}
	if number != "" {
		return span{}, wrong
	}
	return d, nil
}

// recurrence reads a rule by which an event comes again (RFC 5545 §3.3.10).
func recurrence(text string, e *event) (*rrule.ROption, error) {
	option, err := rrule.StrToROption(text)
	if err != nil {
		return nil, fmt.Errorf("how it comes again cannot be read: %w", err)
	}
	if option.Freq > rrule.HOURLY || max(1, len(option.Byhour))*max(1, len(option.Byminute))*max(1, len(option.Bysecond)) > maximumADay {
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
