// Package demo is the demo: the pretend house beside a hub, on one clock that can jump,
// with the demo home made from nothing through the hub's own doors. It decides nothing
// that a home does.
package demo

import (
	"context"
	"sync"
	"time"
)

// Clock is the machine's clock, moved. Hub and pretend house share it.
type Clock struct {
	mu     sync.Mutex
	offset time.Duration
	frozen time.Time // while it jumps
}

// NewClock returns a clock that is ahead of the machine's by the offset.
func NewClock(offset time.Duration) *Clock { return &Clock{offset: offset} }

// Now implements hub.Clock.
func (c *Clock) Now() time.Time {
	c.mu.Lock()
	defer c.mu.Unlock()
	if !c.frozen.IsZero() {
		return c.frozen
	}
	// Without the monotonic part, which would make a jump invisible to comparisons.
	return time.Now().Round(0).Add(c.offset)
}

// Until implements hub.Clock.
func (c *Clock) Until(t time.Time) time.Duration { return t.Sub(c.Now()) }

// Set implements hub.Clock: what the demo's clock jumps over is lived through.
func (c *Clock) Set() time.Duration { return 0 }

// NotBefore implements hub.Clock: the demo keeps its offset itself.
func (c *Clock) NotBefore(time.Time) {}

// Offset returns how far the clock is ahead of the machine's.
func (c *Clock) Offset() time.Duration {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.offset
}

func (c *Clock) freeze(at time.Time) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.frozen = at
}

func (c *Clock) release() {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.offset = time.Until(c.frozen)
	c.frozen = time.Time{}
}

// steps are what a jump moves along: they are asked what comes next, and woken when it is due.
type steps interface {
	// next returns when something happens by itself.
	next(ctx context.Context) (time.Time, error)
	// wake lets all that is due happen, and returns when nothing follows from it any more.
	wake(ctx context.Context) error
}

// jump moves the clock to a time, stopping at everything that falls due on the way, in order.
func (c *Clock) jump(ctx context.Context, to time.Time, s steps) error {
	c.freeze(c.Now())
	defer c.release()
	for {
		if err := s.wake(ctx); err != nil {
			return err
		}
		next, err := s.next(ctx)
		if err != nil {
			return err
		}
		if next.After(to) {
			break
		}
		if next.After(c.Now()) {
			c.freeze(next)
		}
	}
	c.freeze(to)
	return s.wake(ctx)
}
