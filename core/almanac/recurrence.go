package almanac

import (
	"time"

	"amvek/core/document"
)

// Anchor is what a daily time is reckoned from.
type Anchor string

// A time of day by the clock, or by the sun with an offset.
const (
	ByClock   Anchor = "clock"
	BySunrise Anchor = "sunrise"
	BySunset  Anchor = "sunset"
)

// Daily is a time that comes on chosen weekdays.
type Daily struct {
	Anchor Anchor `json:"anchor" enum:"clock,sunrise,sunset"`
	// Clock is the wall-clock time "15:04", for the anchor clock.
	Clock string `json:"clock,omitempty" doc:"Wall-clock time such as 07:30, for the anchor clock."`
	// OffsetMinutes is added to sunrise or sunset; negative is before.
	OffsetMinutes int `json:"offsetMinutes,omitempty" minimum:"-720" maximum:"720"`
	// Weekdays are 0 (Sunday) to 6; empty means every day.
	Weekdays []time.Weekday `json:"weekdays,omitempty" doc:"0 is Sunday; none means every day."`
}

// Check returns an error naming the field that is wrong.
func (d Daily) Check() error {
	switch d.Anchor {
	case ByClock:
		if _, err := time.Parse("15:04", d.Clock); err != nil {
			return document.Wrong("clock", "%q is not a time such as 07:30", d.Clock)
		}
	case BySunrise, BySunset:
		if d.OffsetMinutes < -720 || d.OffsetMinutes > 720 {
			return document.Wrong("offsetMinutes", "at most 12 hours before or after")
		}
	default:
		return document.Wrong("anchor", "%q is not clock, sunrise or sunset", d.Anchor)
	}
	for _, day := range d.Weekdays {
		if day < time.Sunday || day > time.Saturday {
			return document.Wrong("weekdays", "%d is not from 0 (Sunday) to 6", day)
		}
	}
	return nil
}

// Next returns the first occurrence strictly after t, in t's zone. It is false when
// there is none within 400 days: the sun may stay away at a polar place.
func (d Daily) Next(after time.Time, place Place) (time.Time, bool) {
	year, month, day := after.Date()
	// One day back: an occurrence with a positive offset may belong to yesterday's sun.
	for i := -1; i < 400; i++ {
		date := time.Date(year, month, day+i, 12, 0, 0, 0, after.Location())
		if !d.on(date.Weekday()) {
			continue
		}
		if at, ok := d.On(date, place); ok && at.After(after) {
			return at, true
		}
	}
	return time.Time{}, false
}

func (d Daily) on(day time.Weekday) bool {
	if len(d.Weekdays) == 0 {
		return true
	}
	for _, w := range d.Weekdays {
		if w == day {
			return true
		}
	}
	return false
}

// On returns when it comes on the day of a date, in the date's zone, whatever the weekday; it is false where the sun stays away.
func (d Daily) On(date time.Time, place Place) (time.Time, bool) {
	if d.Anchor == ByClock {
		clock, err := time.Parse("15:04", d.Clock)
		if err != nil {
			return time.Time{}, false
		}
		y, m, day := date.Date()
		return WallClock(y, m, day, clock.Hour(), clock.Minute(), date.Location()), true
	}
	sun := place.On(date)
	if sun.Polar != NotPolar {
		return time.Time{}, false
	}
	at := sun.Rise
	if d.Anchor == BySunset {
		at = sun.Set
	}
	return at.Add(time.Duration(d.OffsetMinutes) * time.Minute), true
}

// WallClock returns the instant of a wall-clock time (RFC 5545 §3.3.5): a time that
// the clock skips is moved forward by the length of the gap; of a time that comes
// twice the first is meant.
func WallClock(year int, month time.Month, day, hour, minute int, zone *time.Location) time.Time {
	wanted := time.Date(year, month, day, hour, minute, 0, 0, time.UTC)
	// The offsets in force well before and well after bracket any change on that day.
	_, before := wanted.Add(-26 * time.Hour).In(zone).Zone()
	_, after := wanted.Add(26 * time.Hour).In(zone).Zone()
	first := wanted.Add(-time.Duration(before) * time.Second).In(zone)
	second := wanted.Add(-time.Duration(after) * time.Second).In(zone)
	matches := func(t time.Time) bool {
		y, m, d := t.Date()
		return y == year && m == month && d == wanted.Day() && t.Hour() == hour && t.Minute() == minute
	}
	firstMatches, secondMatches := matches(first), matches(second)
	switch {
	case firstMatches && secondMatches:
		if second.Before(first) {
			return second
		}
		return first
	case firstMatches:
		return first
	case secondMatches:
		return second
	default:
		// In the gap: the offset before the change, so the clock shows the time moved forward.
		return first
	}
}
