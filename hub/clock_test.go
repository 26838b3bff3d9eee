package hub

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestTheWallClockDoesNotJumpByItself(t *testing.T) {
	start := time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)
	shows, elapsed := start, time.Duration(0)
	c := &WallClock{read: func() (time.Time, time.Duration) { return shows, elapsed }}
	pass := func(d time.Duration) { shows, elapsed = shows.Add(d), elapsed+d }

	assert.Equal(t, start, c.Now())
	pass(time.Minute)
	assert.Equal(t, start.Add(time.Minute), c.Now())
	assert.Zero(t, c.Set())

	shows = shows.Add(3 * time.Hour)
	pass(time.Second)
	assert.Equal(t, start.Add(61*time.Second), c.Now(), "as before until somebody asks")
	assert.Equal(t, 59*time.Second, c.Until(start.Add(2*time.Minute)))
	assert.Equal(t, 3*time.Hour, c.Set())
	assert.Equal(t, shows, c.Now())
	assert.Zero(t, c.Set(), "once")

	shows = shows.Add(-26 * time.Hour)
	assert.Equal(t, -26*time.Hour, c.Set())
	for range 3 { // small steps add up
		shows = shows.Add(-time.Second)
	}
	assert.Equal(t, -3*time.Second, c.Set())

	late := &WallClock{read: func() (time.Time, time.Duration) { return shows, elapsed }}
	late.NotBefore(shows.AddDate(0, 0, 7))
	assert.Equal(t, shows.AddDate(0, 0, 7), late.Now(), "a machine that does not know the time goes on from what was written last")
	pass(time.Second)
	assert.Equal(t, -7*24*time.Hour, late.Set())

	real := &WallClock{}
	real.NotBefore(start)
	assert.Zero(t, real.Set())
	assert.WithinDuration(t, time.Now(), real.Now(), time.Minute)
}
