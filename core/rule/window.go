package rule

import (
	"time"

	"amvek/core/almanac"
)

// Within reports whether a moment is within the window, and when that may change next: at the window's next beginning
// or end. Next is zero when neither ever comes, as where the sun stays away.
func (w *Window) Within(now time.Time, place almanac.Place) (within bool, next time.Time) {
	// The beginning that counts is the last one: every window is shorter than a day.
	const look = 50 * time.Hour
	begin := now.Add(-look)
	var last time.Time
	for {
		at, ok := w.From.Next(begin, place)
		if !ok || at.After(now) {
			if ok {
				next = at
			}
			break
		}
		last, begin = at, at
	}
	if last.IsZero() {
		return false, next
	}
	end := w.end(last, place)
	if end.IsZero() || !now.Before(end) {
		return false, next
	}
	if next.IsZero() || end.Before(next) {
		next = end
	}
	return true, next
}

// end returns when a window that began ends: the first end after its beginning, on whatever weekday that is.
func (w *Window) end(begin time.Time, place almanac.Place) time.Time {
	to := w.To
	to.Weekdays = nil
	end, ok := to.Next(begin, place)
	if !ok {
		return time.Time{}
	}
	return end
}
