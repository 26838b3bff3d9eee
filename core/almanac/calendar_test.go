package almanac_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/almanac"
)

func calendar(events ...string) string {
	text := "BEGIN:VCALENDAR\nVERSION:2.0\nPRODID:-//Old Weir Mill//EN\n"
	for i, e := range events {
		uid := ""
		if !strings.Contains(e, "UID:") {
			uid = fmt.Sprintf("UID:e%d\n", i)
		}
		text += "BEGIN:VEVENT\n" + uid + "DTSTAMP:20261101T000000Z\n" + e + "\nEND:VEVENT\n"
	}
	return strings.ReplaceAll(text+"END:VCALENDAR\n", "\n", "\r\n")
}

func TestEntriesOfACalendar(t *testing.T) {
	london, err := time.LoadLocation("Europe/London")
	require.NoError(t, err)
	from, to := time.Date(2026, 3, 20, 0, 0, 0, 0, london), time.Date(2026, 4, 10, 0, 0, 0, 0, london)
	for name, c := range map[string]struct {
		text string
		want []string
	}{
		"once, in the zone of the home": {calendar("SUMMARY:Potters\\, late\nDTSTART:20260321T190000\nDTEND:20260321T213000"),
			[]string{"Potters, late 03-21 19:00 +0000 2h30m0s"}},
		"in UTC":               {calendar("SUMMARY:A\nDTSTART:20260401T190000Z\nDURATION:PT90M"), []string{"A 04-01 20:00 +0100 1h30m0s"}},
		"in a zone of its own": {calendar("SUMMARY:A\nDTSTART;TZID=Europe/Paris:20260321T190000\nDURATION:P1DT1H"), []string{"A 03-21 18:00 +0000 25h0m0s"}},
		"whole days, over a change of the clocks": {calendar("SUMMARY:A\nDTSTART;VALUE=DATE:20260328\nDTEND;VALUE=DATE:20260330"),
			[]string{"A 03-28 00:00 +0000 47h0m0s"}},
		"every week at the same hour, over a change of the clocks": {calendar("SUMMARY:A\nDTSTART:20250101T190000\nDTEND:20250101T200000\nRRULE:FREQ=WEEKLY;BYDAY=WE"),
			[]string{"A 03-25 19:00 +0000 1h0m0s", "A 04-01 19:00 +0100 1h0m0s", "A 04-08 19:00 +0100 1h0m0s"}},
		"until, in UTC": {calendar("SUMMARY:A\nDTSTART:20260324T190000\nRRULE:FREQ=DAILY;UNTIL=20260326T190000Z"),
			[]string{"A 03-24 19:00 +0000 0s", "A 03-25 19:00 +0000 0s", "A 03-26 19:00 +0000 0s"}},
		"without some, and one at another time": {calendar("UID:w\nSUMMARY:A\nDTSTART:20260325T190000\nRRULE:FREQ=WEEKLY;COUNT=3\nEXDATE:20260408T190000",
			"UID:w\nSUMMARY:A moved\nRECURRENCE-ID:20260401T190000\nDTSTART:20260402T120000"),
			[]string{"A 03-25 19:00 +0000 0s", "A moved 04-02 12:00 +0100 0s"}},
		"also on others": {calendar("SUMMARY:A\nDTSTART:20260325T190000\nRDATE:20260326T190000,20270101T000000"),
			[]string{"A 03-25 19:00 +0000 0s", "A 03-26 19:00 +0000 0s"}},
		"canceled":             {calendar("SUMMARY:A\nDTSTART:20260325T190000\nSTATUS:CANCELLED"), nil},
		"under way":            {calendar("SUMMARY:A\nDTSTART:20260319T190000\nDURATION:P2D"), []string{"A 03-19 19:00 +0000 48h0m0s"}},
		"an hour that is not":  {calendar("SUMMARY:A\nDTSTART:20260329T013000"), []string{"A 03-29 02:30 +0100 0s"}},
		"over and not yet":     {calendar("SUMMARY:A\nDTSTART:20260101T190000", "SUMMARY:B\nDTSTART:20260701T190000"), nil},
		"by an unknown zone":   {calendar("SUMMARY:A\nDTSTART;TZID=Mill time:20260325T190000"), []string{"A 03-25 19:00 +0000 0s"}},
		"never, though it may": {calendar("SUMMARY:A\nDTSTART:20200101T190000\nRRULE:FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30"), nil},
	} {
		t.Run(name, func(t *testing.T) {
			read, err := almanac.ParseCalendar(c.text, london)
			require.NoError(t, err)
			require.Empty(t, read.Skipped)
			var said []string
			for _, e := range read.Entries(from, to) {
				said = append(said, fmt.Sprintf("%s %s %s", e.Title, e.Begin.In(london).Format("01-02 15:04 -0700"), e.End.Sub(e.Begin)))
			}
			assert.Equal(t, c.want, said)
		})
	}
}

func TestWhatCannotBeReadOfACalendarIsNamed(t *testing.T) {
	_, err := almanac.ParseCalendar("<html>", time.UTC)
	assert.ErrorIs(t, err, almanac.ErrNoCalendar)
	_, err = almanac.ParseCalendar("BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nSUMMARY:A\r\n", time.UTC)
	assert.ErrorContains(t, err, "breaks off")
	good := "SUMMARY:Good\nDTSTART:20260325T190000"
	for text, want := range map[string]string{
		"SUMMARY:A":                   "A: it does not say when it begins",
		"SUMMARY:A\nDTSTART:tomorrow": `A: "tomorrow" is no date or time from 1900 to 2199`,
		"SUMMARY:A\nDTSTART:20260325T190000\nDTEND:20260325T180000":                     "A: it ends before it begins",
		"SUMMARY:A\nDTSTART:20260325T190000\nDURATION:long":                             `A: "long" is no duration`,
		"SUMMARY:A\nDTSTART:20260325T190000\nRRULE:FREQ=SECONDLY":                       "A: it comes more than 24 times a day",
		"SUMMARY:A\nDTSTART:00000101\nRRULE:FREQ=WEEKLY":                                `A: "00000101" is no date or time from 1900 to 2199`,
		"DTSTART:20260325T190000\nRRULE:FREQ=DAILY;BYHOUR=1,2,3,4,5;BYMINUTE=1,2,3,4,5": "an event without a title: it comes more than 24 times a day",
		"SUMMARY:A\nDTSTART:20260325T190000\nRRULE:SOMETIMES":                           "A: how it comes again cannot be read",
		"SUMMARY:A\nDTSTART:20260325T190000\nEXDATE:never":                              `A: "never" is no date or time from 1900 to 2199`,
		"SUMMARY:A\nDTSTART:20260325T190000\nRECURRENCE-ID:never":                       `A: "never" is no date or time from 1900 to 2199`,
	} {
		c, err := almanac.ParseCalendar(calendar(text, good), time.UTC)
		require.NoError(t, err)
		require.Len(t, c.Skipped, 1, text)
		assert.Contains(t, c.Skipped[0], want)
		assert.Len(t, c.Entries(time.Date(2026, 3, 1, 0, 0, 0, 0, time.UTC), time.Date(2026, 4, 1, 0, 0, 0, 0, time.UTC)), 1, "the other counts all the same")
	}
}

func FuzzCalendar(f *testing.F) {
	f.Add(calendar("SUMMARY:A\nDTSTART:20250101T190000\nRRULE:FREQ=WEEKLY;BYDAY=WE\nEXDATE:20250108T190000"))
	f.Add(calendar("SUMMARY:A\nDTSTART;VALUE=DATE:20260328\nDURATION:P1D"))
	f.Fuzz(func(t *testing.T, text string) {
		c, err := almanac.ParseCalendar(text, time.UTC)
		if err != nil {
			return
		}
		from, to := time.Date(2026, 3, 1, 0, 0, 0, 0, time.UTC), time.Date(2026, 5, 1, 0, 0, 0, 0, time.UTC)
		entries := c.Entries(from, to)
		for i, e := range entries {
			assert.False(t, e.End.Before(e.Begin), "%+v", e)
			assert.True(t, e.Begin.Before(to), "%+v", e)
			assert.True(t, i == 0 || !e.Begin.Before(entries[i-1].Begin))
		}
	})
}

func parsed(t *testing.T, lines string) *almanac.Calendar {
	t.Helper()
	c, err := almanac.ParseCalendar(
		"BEGIN:VCALENDAR\r\nVERSION:2.0\r\n"+strings.ReplaceAll(strings.TrimSpace(lines), "\n", "\r\n")+"\r\nEND:VCALENDAR\r\n",
		london,
	)
	require.NoError(t, err)
	return c
}

func told(entries []almanac.Entry) (list []string) {
	for _, e := range entries {
		list = append(list, e.Title+" "+e.Begin.In(london).Format("02 Jan 15:04")+" "+e.End.Sub(e.Begin).String())
	}
	return list
}

func TestNamesMayBeWrittenInAnyCase(t *testing.T) {
	c := parsed(t, "begin:vevent\nuid:1\nsummary:Bins\ndtstart;tzid=Europe/London:20261110T070000\nduration:PT1H\nend:vevent")
	assert.Empty(t, c.Skipped)
	assert.Equal(
		t,
		[]string{"Bins 10 Nov 07:00 1h0m0s"},
		told(c.Entries(time.Date(2026, 11, 1, 0, 0, 0, 0, london), time.Date(2026, 12, 1, 0, 0, 0, 0, london))),
	)
}

func TestABadLineCostsItsEventOnly(t *testing.T) {
	c := parsed(
		t,
		"BEGIN:VEVENT\nUID:1\nSUMMARY:Good\nDTSTART:20261110T070000Z\nEND:VEVENT\n"+
			"BEGIN:VEVENT\nUID:2\nSUMMARY:Bad\nDTSTART:20261110T070000Z\nthis is no line\nEND:VEVENT\n"+
			"BEGIN:VEVENT\nUID:3\nSUMMARY:Worse\nDTSTART:noon\nEND:VEVENT\n"+
			"BEGIN:VEVENT\nUID:4\nSUMMARY:Also good\nDTSTART:20261111T070000Z\nEND:VEVENT",
	)
	assert.Equal(
		t,
		[]string{"Good 10 Nov 07:00 0s", "Also good 11 Nov 07:00 0s"},
		told(c.Entries(time.Date(2026, 11, 1, 0, 0, 0, 0, london), time.Date(2026, 12, 1, 0, 0, 0, 0, london))),
	)
	require.Len(t, c.Skipped, 2)
	assert.Contains(t, c.Skipped[0], "Bad")
	assert.Contains(t, c.Skipped[1], "Worse")
}

// A zone that the calendar defines counts, whatever it is called.
func TestAZoneOfTheCalendarsOwn(t *testing.T) {
	c := parsed(t, `BEGIN:VTIMEZONE
TZID:W. Mill Standard Time
BEGIN:STANDARD
DTSTART:16010101T030000
TZOFFSETFROM:+0200
TZOFFSETTO:+0100
RRULE:FREQ=YEARLY;BYDAY=-1SU;BYMONTH=10
END:STANDARD
BEGIN:DAYLIGHT
DTSTART:16010101T020000
TZOFFSETFROM:+0100
TZOFFSETTO:+0200
RRULE:FREQ=YEARLY;BYDAY=-1SU;BYMONTH=3
END:DAYLIGHT
END:VTIMEZONE
BEGIN:VEVENT
UID:1
SUMMARY:Call
DTSTART;TZID="W. Mill Standard Time":20260320T180000
DTEND;TZID="W. Mill Standard Time":20260320T190000
RRULE:FREQ=WEEKLY;COUNT=3
END:VEVENT`)
	assert.Empty(t, c.Skipped)
	entries := c.Entries(time.Date(2026, 3, 1, 0, 0, 0, 0, time.UTC), time.Date(2026, 5, 1, 0, 0, 0, 0, time.UTC))
	var begins []string
	for _, e := range entries {
		begins = append(begins, e.Begin.UTC().Format("02 Jan 15:04"))
	}
	assert.Equal(t, []string{"20 Mar 17:00", "27 Mar 17:00", "03 Apr 16:00"}, begins)
}

// The clocks go forward on 29 March 2026 at 1:00 and back on 25 October at 2:00 (RFC 5545 §3.3.6 and §3.8.5.3).
func TestHowLongAnEventLastsAcrossAClockChange(t *testing.T) {
	c := parsed(
		t,
		"BEGIN:VEVENT\nUID:1\nSUMMARY:Until\nDTSTART;TZID=Europe/London:20260329T003000\nDTEND;TZID=Europe/London:20260329T033000\nEND:VEVENT\n"+
			"BEGIN:VEVENT\nUID:2\nSUMMARY:Days and hours\nDTSTART;TZID=Europe/London:20260328T120000\nDURATION:P1DT2H\nEND:VEVENT\n"+
			"BEGIN:VEVENT\nUID:3\nSUMMARY:Hours\nDTSTART;TZID=Europe/London:20260328T120000\nDURATION:PT26H\nEND:VEVENT",
	)
	assert.ElementsMatch(t, []string{"Until 29 Mar 00:30 2h0m0s", "Days and hours 28 Mar 12:00 25h0m0s", "Hours 28 Mar 12:00 26h0m0s"},
		told(c.Entries(time.Date(2026, 3, 1, 0, 0, 0, 0, london), time.Date(2026, 4, 1, 0, 0, 0, 0, london))))
}

func TestAChangeOfOneAndAllThatFollow(t *testing.T) {
	c := parsed(t, `BEGIN:VEVENT
UID:1
SUMMARY:Choir
DTSTART;TZID=Europe/London:20261102T190000
DURATION:PT1H
RRULE:FREQ=WEEKLY;COUNT=5
END:VEVENT
BEGIN:VEVENT
UID:1
SUMMARY:Choir in the church
RECURRENCE-ID;TZID=Europe/London;RANGE=THISANDFUTURE:20261116T190000
DTSTART;TZID=Europe/London:20261117T200000
DURATION:PT2H
END:VEVENT
BEGIN:VEVENT
UID:1
SUMMARY:Choir, once early
RECURRENCE-ID;TZID=Europe/London:20261123T190000
DTSTART;TZID=Europe/London:20261123T100000
DURATION:PT30M
END:VEVENT`)
	assert.Equal(
		t,
		[]string{
			"Choir 02 Nov 19:00 1h0m0s",
			"Choir 09 Nov 19:00 1h0m0s",
			"Choir in the church 17 Nov 20:00 2h0m0s",
			"Choir, once early 23 Nov 10:00 30m0s",
			"Choir in the church 01 Dec 20:00 2h0m0s",
		},
		told(c.Entries(time.Date(2026, 11, 1, 0, 0, 0, 0, london), time.Date(2027, 1, 1, 0, 0, 0, 0, london))),
	)
}

func TestPeriodsAndHourlyEvents(t *testing.T) {
	c := parsed(
		t,
		"BEGIN:VEVENT\nUID:1\nSUMMARY:Kiln\nDTSTART:20261110T080000Z\nDURATION:PT1H\nRDATE;VALUE=PERIOD:20261112T080000Z/PT3H,20261113T080000Z/20261113T083000Z\nEND:VEVENT\n"+
			"BEGIN:VEVENT\nUID:2\nSUMMARY:Water\nDTSTART:20200101T001500Z\nRRULE:FREQ=HOURLY;INTERVAL=8\nEND:VEVENT\n"+
			"BEGIN:VEVENT\nUID:3\nSUMMARY:Tick\nDTSTART:20200101T000000Z\nRRULE:FREQ=MINUTELY\nEND:VEVENT",
	)
	assert.Equal(t, []string{"Kiln 10 Nov 08:00 1h0m0s", "Water 10 Nov 08:15 0s", "Water 10 Nov 16:15 0s", "Water 11 Nov 00:15 0s"},
		told(c.Entries(time.Date(2026, 11, 10, 7, 0, 0, 0, time.UTC), time.Date(2026, 11, 11, 7, 0, 0, 0, time.UTC))))
	assert.Equal(
		t,
		[]string{"Kiln 12 Nov 08:00 3h0m0s", "Water 12 Nov 08:15 0s", "Kiln 13 Nov 08:00 30m0s"},
		slices.DeleteFunc(told(c.Entries(time.Date(2026, 11, 12, 7, 0, 0, 0, time.UTC), time.Date(2026, 11, 13, 8, 5, 0, 0, time.UTC))), func(s string) bool {
			return strings.HasPrefix(s, "Water") && !strings.Contains(s, "12 Nov 08")
		}),
	)
	require.Len(t, c.Skipped, 1)
	assert.Contains(t, c.Skipped[0], "Tick")
}

// What comes at an event's rule is the same whether it is counted from its beginning or from shortly before.
func TestWhatComesSinceLongAgoIsTheSame(t *testing.T) {
	for _, rule := range []string{
		"FREQ=DAILY",
		"FREQ=DAILY;INTERVAL=3",
		"FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,FR;WKST=SU",
		"FREQ=WEEKLY;INTERVAL=5",
		"FREQ=MONTHLY;INTERVAL=2;BYDAY=-1FR",
		"FREQ=MONTHLY;BYMONTHDAY=31",
		"FREQ=YEARLY;BYMONTH=2,11;BYDAY=2TU",
		"FREQ=YEARLY;INTERVAL=2",
		"FREQ=HOURLY;INTERVAL=7",
	} {
		since := func(begin, count string) []string {
			c := parsed(t, "BEGIN:VEVENT\nUID:1\nSUMMARY:x\nDTSTART:"+begin+"\nRRULE:"+rule+count+"\nEND:VEVENT")
			require.Empty(t, c.Skipped, rule)
			return told(c.Entries(time.Date(2026, 11, 1, 0, 0, 0, 0, london), time.Date(2027, 3, 1, 0, 0, 0, 0, london)))
		}
		// With a count each is counted through.
		assert.Equal(t, since("20010305T093000Z", ";COUNT=100000"), since("20010305T093000Z", ""), rule)
	}
}

func BenchmarkFiveThousandDailyEvents(b *testing.B) {
	var text strings.Builder
	text.WriteString("BEGIN:VCALENDAR\r\nVERSION:2.0\r\n")
	for i := range 5000 {
		fmt.Fprintf(
			&text,
			"BEGIN:VEVENT\r\nUID:%d\r\nSUMMARY:Event %d\r\nDTSTART:20000101T%02d0000Z\r\nDURATION:PT1H\r\nRRULE:FREQ=DAILY\r\nEND:VEVENT\r\n",
			i,
			i,
			i%24,
		)
	}
	text.WriteString("END:VCALENDAR\r\n")
	for b.Loop() {
		c, err := almanac.ParseCalendar(text.String(), london)
		if err != nil || len(c.Entries(time.Date(2026, 11, 1, 0, 0, 0, 0, london), time.Date(2027, 12, 1, 0, 0, 0, 0, london))) != 2000 {
			b.Fatal("not all there")
		}
	}
}
