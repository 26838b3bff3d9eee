package demo

import (
	"context"
	"errors"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// alarms are times at which something happens; each may set others.
type alarms struct {
	clock *Clock
	times []time.Time
	rung  []time.Time
	sets  map[time.Time]time.Time
	fail  error
}

func (a *alarms) next(context.Context) (time.Time, error) {
	next := a.clock.Now().Add(1000 * time.Hour)
	for _, at := range a.times {
		if at.Before(next) {
			next = at
		}
	}
	return next, a.fail
}

func (a *alarms) wake(context.Context) error {
	var left []time.Time
	for _, at := range a.times {
		if at.After(a.clock.Now()) {
			left = append(left, at)
			continue
		}
		a.rung = append(a.rung, a.clock.Now())
		if later, ok := a.sets[at]; ok {
			left = append(left, later)
		}
	}
	a.times = left
	return nil
}

func TestAJumpStopsAtEverythingOnTheWayInOrder(t *testing.T) {
	c := NewClock(0)
	start := c.Now()
	one, two, three := start.Add(time.Hour), start.Add(2*time.Hour), start.Add(3*time.Hour)
	a := &alarms{clock: c, times: []time.Time{three, one}, sets: map[time.Time]time.Time{one: two, three: start.Add(9 * time.Hour)}}
	assert.NoError(t, c.jump(context.Background(), start.Add(4*time.Hour), a))
	assert.Equal(t, []time.Time{one, two, three}, a.rung, "what is set on the way rings too, what lies beyond does not")
	assert.WithinDuration(t, start.Add(4*time.Hour), c.Now(), time.Minute)
	assert.InDelta(t, 4, c.Offset().Hours(), 0.02)
}

func TestAJumpThatFailsLetsTheClockGoOn(t *testing.T) {
	c := NewClock(time.Hour)
	a := &alarms{clock: c, fail: errors.New("the hub is stopping")}
	assert.Error(t, c.jump(context.Background(), c.Now().Add(time.Hour), a))
	assert.InDelta(t, 1, c.Offset().Hours(), 0.02)
	assert.True(t, c.frozen.IsZero())
}
