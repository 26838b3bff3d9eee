package links

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestTrafficCountsTheLastMinuteAlone(t *testing.T) {
	var counted traffic
	now := time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)
	for range 120 {
		counted.count(now)
		now = now.Add(time.Second)
	}
	perMinute, _ := counted.read(now)
	assert.InDelta(t, 60, perMinute, 6)
	perMinute, _ = counted.read(now.Add(time.Hour))
	assert.Zero(t, perMinute)
	counted.took(10 * time.Millisecond)
	counted.took(20 * time.Millisecond)
	_, round := counted.read(now)
	assert.InDelta(t, 12, round, 0.001)
}
