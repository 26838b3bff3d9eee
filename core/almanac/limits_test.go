package almanac

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func readCalendar(t *testing.T, events ...string) *Calendar {
	t.Helper()
	c, err := ParseCalendar("BEGIN:VCALENDAR\r\nVERSION:2.0\r\n"+strings.Join(events, "")+"END:VCALENDAR\r\n", time.UTC)
	require.NoError(t, err)
	return c
}

func calendarEvent(uid string, lines ...string) string {
	return "BEGIN:VEVENT\r\nUID:" + uid + "\r\nSUMMARY:" + uid + "\r\n" + strings.Join(lines, "\r\n") + "\r\nEND:VEVENT\r\n"
}

func utc(day, hour, minute int) time.Time {
	return time.Date(2026, 11, day, hour, minute, 0, 0, time.UTC)
}

func TestTheExactLimitsOfADailyTime(t *testing.T) {
	at := func(minutes int) error { return Daily{Anchor: BySunset, OffsetMinutes: minutes}.Check() }
	on := func(day time.Weekday) error {
		return Daily{Anchor: ByClock, Clock: "07:30", Weekdays: []time.Weekday{day}}.Check()
	}
	for _, err := range []error{at(720), at(-720), on(time.Sunday), on(time.Saturday), (Daily{Anchor: BySunrise}).Check()} {
		assert.NoError(t, err)
	}
	for _, err := range []error{at(721), at(-721), on(-1), on(7), (Daily{Anchor: ByClock, Clock: "24:00"}).Check(), (Daily{Anchor: "noon"}).Check()} {
		assert.Error(t, err)
	}
	half := Daily{Anchor: ByClock, Clock: "07:30"}
	next, _ := half.Next(utc(28, 7, 29), Place{})
	assert.Equal(t, utc(28, 7, 30), next)
	next, _ = half.Next(utc(28, 7, 30), Place{})
	assert.Equal(t, utc(29, 7, 30), next, "after the time, not at it")
	// Ten hours after sunset is on the day after: yesterday's counts.
	late := Daily{Anchor: BySunset, OffsetMinutes: 600}
	next, _ = late.Next(utc(28, 0, 5), Place{Latitude: 52})
	assert.Equal(t, 28, next.Day())
	assert.Equal(t, 600*time.Minute, next.Sub(Place{Latitude: 52}.On(utc(27, 12, 0)).Set))
}

func TestWhatEndsOrBeginsAtTheEdgeOfWhatIsAskedFor(t *testing.T) {
	titles := func(c *Calendar, from, to time.Time) (titles []string) {
		for _, e := range c.Entries(from, to) {
			titles = append(titles, e.Title)
		}
		return titles
	}
	c := readCalendar(t, calendarEvent("a", "DTSTART:20261128T100000Z", "DTEND:20261128T120000Z"))
	assert.Empty(t, titles(c, utc(28, 12, 0), utc(28, 18, 0)), "it has ended then")
	assert.Equal(t, []string{"a"}, titles(c, utc(28, 11, 59), utc(28, 18, 0)), "it is under way")
	assert.Equal(t, []string{"a"}, titles(c, utc(28, 10, 0), utc(28, 18, 0)))
	assert.Empty(t, titles(c, utc(28, 8, 0), utc(28, 10, 0)), "it begins only then")
	assert.Equal(t, []string{"a"}, titles(c, utc(28, 8, 0), utc(28, 10, 1)))
	assert.Empty(t, titles(c, utc(28, 10, 0), utc(28, 10, 0)))
	days := readCalendar(t, calendarEvent("d", "DTSTART;VALUE=DATE:20261128", "DTEND;VALUE=DATE:20261130"))
	entries := days.Entries(utc(29, 23, 0), utc(30, 5, 0))
	require.Len(t, entries, 1)
	assert.Equal(t, utc(30, 0, 0), entries[0].End, "its last day is the one before its end")
	assert.Empty(t, days.Entries(utc(30, 0, 0), utc(30, 5, 0)))
	daily := readCalendar(t, calendarEvent("r", "DTSTART:20261101T060000Z", "DURATION:PT30M", "RRULE:FREQ=DAILY"))
	assert.Len(t, daily.Entries(utc(10, 6, 0), utc(24, 6, 0)), 14, "over the weeks by which it is looked at, each once")
	assert.Len(t, daily.Entries(utc(10, 6, 15), utc(24, 6, 0)), 14, "and the one under way")
	assert.Len(t, daily.Entries(utc(10, 6, 30), utc(24, 6, 0)), 13)
}

func TestHowMuchOfACalendarIsTaken(t *testing.T) {
	var events []string
	for i := range maximumEvents + 1 {
		events = append(events, calendarEvent(fmt.Sprint(i), "DTSTART:20261128T100000Z"))
	}
	full := readCalendar(t, events[:maximumEvents]...)
	assert.Len(t, full.events, maximumEvents)
	assert.Empty(t, full.Skipped)
	assert.Len(t, full.Entries(utc(28, 0, 0), utc(29, 0, 0)), maximumEntries)
	over := readCalendar(t, events...)
	assert.Len(t, over.events, maximumEvents)
	assert.Equal(t, []string{"more than 5000 events"}, over.Skipped)

	var wrong []string
	for range maximumSkipped + 5 {
		wrong = append(wrong, calendarEvent("x", "DTSTART:yesterday"))
	}
	assert.Len(t, readCalendar(t, wrong...).Skipped, maximumSkipped)
}

func TestTheExactLimitsOfAnEvent(t *testing.T) {
	skipped := func(lines ...string) bool { return len(readCalendar(t, calendarEvent("e", lines...)).Skipped) > 0 }
	const at = "DTSTART:20261128T100000Z"
	for name, lines := range map[string][]string{
		"the first year": {"DTSTART:19000101T000000Z"}, "the last": {"DTSTART:21991231T000000Z"}, "no time at all": {at, "DTEND:20261128T100000Z"},
		"a day of none": {"DTSTART;VALUE=DATE:20261128", "DTEND;VALUE=DATE:20261128"},
		"each hour":     {at, "RRULE:FREQ=HOURLY"}, "24 a day": {at, "RRULE:FREQ=DAILY;BYHOUR=1,2,3,4,5,6;BYMINUTE=0,15,30,45"},
		"a week": {at, "DURATION:P1W"}, "with a sign": {at, "DURATION:+P1DT2H3M4S"}, "six digits": {at, "DURATION:PT999999S"},
	} {
		assert.False(t, skipped(lines...), name)
	}
	for name, lines := range map[string][]string{
		"before": {"DTSTART:18991231T235959Z"}, "after": {"DTSTART:22000101T000000Z"}, "short": {"DTSTART:202"}, "ends before": {at, "DTEND:20261128T095959Z"},
		"a day before": {"DTSTART;VALUE=DATE:20261128", "DTEND;VALUE=DATE:20261127"},
		"each minute":  {at, "RRULE:FREQ=MINUTELY"}, "25 a day": {at, "RRULE:FREQ=DAILY;BYHOUR=1,2,3,4,5;BYMINUTE=0,10,20,30,40"},
		"no unit": {at, "DURATION:P1"}, "no number": {at, "DURATION:PTH"}, "nothing": {at, "DURATION:P"}, "no P": {at, "DURATION:1D"},
		"seven digits": {at, "DURATION:PT9999999S"}, "another unit": {at, "DURATION:P1X"}, "no beginning": {"LOCATION:here"},
	} {
		assert.True(t, skipped(lines...), name)
	}
	e := readCalendar(t, calendarEvent("e", at, "DURATION:P1W2DT3H4M5S")).events[0]
	assert.Equal(t, span{days: 9, exact: 3*time.Hour + 4*time.Minute + 5*time.Second}, e.lasts)
	assert.Equal(t, 9*25*time.Hour+e.lasts.exact, e.lasts.longest())
}

// Of what comes since long ago as much is counted through as needed, whatever its interval, and it comes at the same times.
func TestWhatComesInIntervalsComesAtTheSameTimes(t *testing.T) {
	for _, rule := range []string{
		"FREQ=HOURLY;INTERVAL=7", "FREQ=DAILY;INTERVAL=3", "FREQ=WEEKLY;INTERVAL=2;BYDAY=SA", "FREQ=MONTHLY;INTERVAL=5", "FREQ=YEARLY;INTERVAL=2;BYMONTH=11",
		"FREQ=MONTHLY;BYMONTHDAY=-1", "FREQ=DAILY;COUNT=30", "FREQ=YEARLY;BYWEEKNO=48",
	} {
		c := readCalendar(t, calendarEvent("e", "DTSTART:20241116T060000Z", "RRULE:"+rule))
		e := &c.events[0]
		whole := e.occurrences(e.begin, utc(30, 0, 0)) // counted from the beginning
		var last []time.Time
		for _, o := range whole {
			if !o.wall.Before(utc(1, 0, 0)) {
				last = append(last, o.wall)
			}
		}
		var found []time.Time
		for _, o := range e.occurrences(utc(1, 0, 0), utc(30, 0, 0)) {
			found = append(found, o.wall)
		}
		assert.Equal(t, last, found, rule)
		option := *e.rule
		begin := later(option, utc(1, 0, 0))
		if option.Count == 0 && option.Freq > 1 && len(option.Byweekno) == 0 {
			assert.WithinDuration(t, utc(1, 0, 0), begin, 15*24*time.Hour, "not from its beginning: %s", rule)
		}
	}
}
