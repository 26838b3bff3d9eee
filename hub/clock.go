package hub

import "time"

// Clock is the one clock that the hub reads.
type Clock interface {
	Now() time.Time
	// Until returns how long to wait, by the machine's own time, until the clock shows t.
	Until(t time.Time) time.Duration
}

// WallClock is the machine's clock.
type WallClock struct{}

// Now implements [Clock].
func (WallClock) Now() time.Time { return time.Now() }

// Until implements [Clock].
func (WallClock) Until(t time.Time) time.Duration { return time.Until(t) }
