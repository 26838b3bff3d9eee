package almanac_test

import (
	"fmt"
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
		"once, in the zone of the home": {calendar("SUMMARY:Potters\\, late\nDTSTART:20260321T190000\nDTEND:20260321T213000"), []string{"Potters, late 03-21 19:00 +0000 2h30m0s"}},
		"in UTC":                        {calendar("SUMMARY:A\nDTSTART:20260401T190000Z\nDURATION:PT90M"), []string{"A 04-01 20:00 +0100 1h30m0s"}},
		"in a zone of its own":          {calendar("SUMMARY:A\nDTSTART;TZID=Europe/Paris:20260321T190000\nDURATION:P1DT1H"), []string{"A 03-21 18:00 +0000 25h0m0s"}},
		"whole days, over a change of the clocks": {calendar("SUMMARY:A\nDTSTART;VALUE=DATE:20260328\nDTEND;VALUE=DATE:20260330"),
			[]string{"A 03-28 00:00 +0000 47h0m0s"}},
		"every week at the same hour, over a change of the clocks": {calendar("SUMMARY:A\nDTSTART:20250101T190000\nDTEND:20250101T200000\nRRULE:FREQ=WEEKLY;BYDAY=WE"),
			[]string{"A 03-25 19:00 +0000 1h0m0s", "A 04-01 19:00 +0100 1h0m0s", "A 04-08 19:00 +0100 1h0m0s"}},
		"until, in UTC": {calendar("SUMMARY:A\nDTSTART:20260324T190000\nRRULE:FREQ=DAILY;UNTIL=20260326T190000Z"),
			[]string{"A 03-24 19:00 +0000 0s", "A 03-25 19:00 +0000 0s", "A 03-26 19:00 +0000 0s"}},
		"without some, and one at another time": {calendar("UID:w\nSUMMARY:A\nDTSTART:20260325T190000\nRRULE:FREQ=WEEKLY;COUNT=3\nEXDATE:20260408T190000", "UID:w\nSUMMARY:A moved\nRECURRENCE-ID:20260401T190000\nDTSTART:20260402T120000"),
			[]string{"A 03-25 19:00 +0000 0s", "A moved 04-02 12:00 +0100 0s"}},
		"also on others":       {calendar("SUMMARY:A\nDTSTART:20260325T190000\nRDATE:20260326T190000,20270101T000000"), []string{"A 03-25 19:00 +0000 0s", "A 03-26 19:00 +0000 0s"}},
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
