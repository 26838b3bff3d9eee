package demo

import (
	"context"
	"fmt"
	"time"

	"amvek/hub"
)

// FastestPace is how many times faster than real time the demo may run.
const FastestPace = 600

const (
	paceTick  = 100 * time.Millisecond // how often the clock is moved along
	paceTells = 500 * time.Millisecond // how often open browsers are told what time it is
)

// setPace lets hub and house live so many times faster than real time.
func (d *Demo) setPace(pace float64) error {
	if !(pace >= 1 && pace <= FastestPace) {
		return hub.Invalid("pace", fmt.Sprintf("From 1 to %d times real time.", FastestPace))
	}
	d.pace.Store(pace)
	d.looksDifferent()
	return nil
}

// Pace returns how many times faster than real time the demo runs.
func (d *Demo) Pace() float64 {
	if pace, ok := d.pace.Load().(float64); ok {
		return pace
	}
	return 1
}

// goAhead moves the clock along. Makers that nothing was asked of are not waited for: those that take seconds to
// answer would hold up the whole house.
func (d *Demo) goAhead(ctx context.Context, ahead time.Duration, tells bool) error {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.hurries = true
	defer func() { d.hurries = false }()
	return d.move(ctx, d.clock.Now().Add(ahead), tells)
}

// hurry moves the clock along while the pace is above that of real time. Where the machine is too slow for the
// pace, time passes as fast as it can: everything that falls due happens all the same, in order.
func (d *Demo) hurry(ctx context.Context) {
	ticker := time.NewTicker(paceTick)
	defer ticker.Stop()
	last, told := time.Now(), time.Time{}
	for {
		select {
		case <-ctx.Done():
			return
		case <-ticker.C:
		}
		passed := min(time.Since(last), 5*paceTick)
		last = time.Now()
		pace := d.Pace()
		if pace <= 1 {
			continue
		}
		// The clock itself has gone on by what passed.
		ahead := time.Duration(float64(passed) * (pace - 1))
		tells := time.Since(told) >= paceTells
		if tells {
			told = time.Now()
		}
		if err := d.goAhead(ctx, ahead, tells); err != nil {
			d.log.Warn("the demo's clock could not be moved along", "error", err)
			return
		}
	}
}
