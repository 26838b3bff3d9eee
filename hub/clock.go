package hub

import (
	"sync"
	"time"

	"amvek/core/engine"
)

// Clock is the one clock that the hub reads.
type Clock interface {
	Now() time.Time
	// Until returns how long to wait, by the machine's own time, until the clock shows t.
	Until(t time.Time) time.Duration
	// Set returns by how much the clock was set since it was last asked, other than by the passing of time; 0 for not at all.
	Set() time.Duration
	// NotBefore makes the clock show this moment at least. It is called before anything else reads it.
	NotBefore(t time.Time)
}

// setFrom is how far the machine's clock must be off for it to count as set. What is less is left until it adds up.
const setFrom = 2 * time.Second

// WallClock is the machine's clock, but for that it does not jump by itself: when the machine's is set, it goes on as
// before until somebody asks by how much. Its zero value shows the machine's time.
type WallClock struct {
	mu sync.Mutex
	// base is when it was first read or last set; from then on time passes as the machine counts it, whatever its clock shows.
	base    time.Time
	elapsed time.Duration
	// read returns what the machine's clock shows, and how much time has passed since an arbitrary moment.
	read func() (time.Time, time.Duration)
}

func (c *WallClock) machine() (time.Time, time.Duration) {
	if c.read == nil {
		from := time.Now()
		c.read = func() (time.Time, time.Duration) {
			now := time.Now()
			return now.Round(0), now.Sub(from)
		}
	}
	shows, elapsed := c.read()
	if c.base.IsZero() {
		c.base, c.elapsed = shows, elapsed
	}
	return shows, elapsed
}

// Now implements [Clock].
func (c *WallClock) Now() time.Time {
	c.mu.Lock()
	defer c.mu.Unlock()
	_, elapsed := c.machine()
	return c.base.Add(elapsed - c.elapsed)
}

// Until implements [Clock].
func (c *WallClock) Until(t time.Time) time.Duration { return t.Sub(c.Now()) }

// Set implements [Clock].
func (c *WallClock) Set() time.Duration {
	c.mu.Lock()
	defer c.mu.Unlock()
	shows, elapsed := c.machine()
	by := shows.Sub(c.base.Add(elapsed - c.elapsed))
	if by.Abs() < setFrom {
		return 0
	}
	c.base, c.elapsed = shows, elapsed
	return by
}

// NotBefore implements [Clock]: a machine without a battery for its clock starts in the past until it hears the time.
func (c *WallClock) NotBefore(t time.Time) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if shows, elapsed := c.machine(); shows.Before(t) && c.base.Before(t) {
		c.base, c.elapsed = t, elapsed
	}
}

// followClock tells the engine when the clock was set. It runs in the loop.
func (h *Hub) followClock() {
	if by := h.clock.Set(); by != 0 {
		h.log.Warn("the clock of this machine was set", "by", by)
		h.handle(engine.Input{Kind: engine.InputClock, By: by})
	}
}
