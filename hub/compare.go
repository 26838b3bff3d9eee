package hub

import (
	"context"
	"time"

	"amvek/connect"
)

// compareEvery is how often every connection that can be asked is asked how its devices stand.
const compareEvery = 5 * time.Minute

// compare asks all connections again and again, so that a difference between hub and device is found also
// where the device said nothing, or where what it said was lost.
func (h *Hub) compare(ctx context.Context) {
	next := h.clock.Now().Add(compareEvery)
	for {
		timer := time.NewTimer(min(max(h.clock.Until(next), time.Second), time.Minute))
		select {
		case <-ctx.Done():
			timer.Stop()
			return
		case <-timer.C:
		}
		now := h.clock.Now()
		if now.Before(next) {
			continue
		}
		next = now.Add(compareEvery)
		h.Compare(ctx)
	}
}

// Compare asks every connection at once how its devices stand.
func (h *Hub) Compare(ctx context.Context) {
	var all []connect.Connection
	if h.do(ctx, func() {
		for _, l := range h.links {
			if l.Running() {
				all = append(all, l.Connection)
			}
		}
	}) != nil {
		return
	}
	for _, c := range all {
		h.workers.Go(func() {
			limited, stop := context.WithTimeout(ctx, time.Minute)
			defer stop()
			c.Sync(limited)
			if asks, can := c.(connect.Comparer); can {
				asks.Compare(limited)
			}
		})
	}
}
