package connect

import (
	"context"
	"math/rand/v2"
	"time"
)

// Retry is how long to wait before something that failed is tried again: twice as long each time, from First up to Last, and
// by chance from half to one and a half of that, so that what fell silent together does not come back together.
type Retry struct {
	First, Last time.Duration
	now         time.Duration // 0 is First
}

// Next returns how long to wait now.
func (r *Retry) Next() time.Duration {
	now := max(r.now, r.First)
	r.now = min(now*2, r.Last)
	return now/2 + rand.N(now)
}

// Well says that it went well: the next wait is a short one again.
func (r *Retry) Well() { r.now = 0 }

// Wait waits as long as [Retry.Next] says, or until the context ends.
func (r *Retry) Wait(ctx context.Context) { Pause(ctx, r.Next()) }

// Pause waits for a while, or until the context ends.
func Pause(ctx context.Context, d time.Duration) {
	timer := time.NewTimer(d)
	defer timer.Stop()
	select {
	case <-ctx.Done():
	case <-timer.C:
	}
}
