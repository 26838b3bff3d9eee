package connect_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"amvek/connect"
)

// Each wait is about twice the one before, up to a bound, and short again once it went well.
func TestWaitsGrowUntilItGoesWell(t *testing.T) {
	const first, last = 100 * time.Millisecond, 2 * time.Second
	for range 100 {
		retry := connect.Retry{First: first, Last: last}
		for about := first; about < 10*last; about *= 2 {
			now, want := retry.Next(), min(about, last)
			assert.GreaterOrEqual(t, now, want/2)
			assert.Less(t, now, want/2+want)
		}
		retry.Well()
		assert.Less(t, retry.Next(), first/2+first)
	}
}

// Those that fail together do not come back together.
func TestWaitsDiffer(t *testing.T) {
	waits := map[time.Duration]bool{}
	for range 50 {
		retry := connect.Retry{First: time.Minute, Last: time.Hour}
		waits[retry.Next()] = true
	}
	assert.Greater(t, len(waits), 40)
}

func TestAWaitEndsWithItsContext(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	retry := connect.Retry{First: time.Hour, Last: time.Hour}
	retry.Wait(ctx) // returns
}
