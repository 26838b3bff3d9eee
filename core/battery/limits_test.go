package battery_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/battery"
)

// daily are readings a day apart.
func daily(percents ...float64) (all []battery.Reading) {
	for i, p := range percents {
		all = append(all, battery.Reading{At: start.Add(time.Duration(i) * 24 * time.Hour), Percent: p})
	}
	return all
}

func TestTheLimitsOfAProjectionAreExact(t *testing.T) {
	known := func(all []battery.Reading) bool { _, ok := battery.Project(all); return ok }
	hours := func(last time.Duration, percents ...float64) (all []battery.Reading) {
		for i, p := range percents {
			all = append(all, battery.Reading{At: start.Add(last * time.Duration(i) / time.Duration(len(percents)-1)), Percent: p})
		}
		return all
	}
	assert.True(t, known(hours(24*time.Hour, 90, 89.5, 89)), "three readings of a day and one percent are enough")
	assert.False(t, known(hours(48*time.Hour, 90, 80)), "two readings are not")
	assert.False(t, known(hours(24*time.Hour-2, 90, 89.5, 89)), "nor is a little less than a day")
	assert.False(t, known(hours(24*time.Hour, 90, 89.5, 89.001)), "nor a little less used up")
	assert.False(t, known(daily(90, 90, 90, 90, 83, 90, 90, 88)), "of nothing that is used up, as the median is, nothing is said")

	// A rise of eight percent is a new battery, a smaller one is not.
	replaced, ok := battery.Project(daily(90, 70, 50, 58, 57, 56, 55))
	require.True(t, ok)
	assert.InDelta(t, 1, replaced.PerDay, 1e-9)
	assert.InDelta(t, 3, replaced.OverDays, 1e-9)
	same, ok := battery.Project(daily(90, 70, 50, 57.9, 56, 54, 52))
	require.True(t, ok)
	assert.InDelta(t, 6, same.OverDays, 1e-9)
}

func TestAProjectionIsThatOfItsFormula(t *testing.T) {
	p, ok := battery.Project(daily(90, 89, 88, 87))
	require.True(t, ok)
	assert.Equal(t, start.Add(90*24*time.Hour), p.EmptyAt, "87 days from the last reading, which is the third day")
	assert.Equal(t, p.EmptyAt, p.Soonest)
	assert.Equal(t, p.EmptyAt, p.Latest)

	// Readings less than a tenth of a day apart give no slope.
	close := append(daily(90, 89, 88, 87), battery.Reading{At: start.Add(72*time.Hour + 2*time.Hour), Percent: 80})
	c, ok := battery.Project(close)
	require.True(t, ok)
	assert.Less(t, c.PerDay, 3.0)

	// Of many readings some are taken, from the first to the last.
	var many []battery.Reading
	for i := range 2000 {
		many = append(many, battery.Reading{At: start.Add(time.Duration(i) * time.Hour), Percent: 90 - float64(i)/40})
	}
	m, ok := battery.Project(many)
	require.True(t, ok)
	assert.InDelta(t, 0.6, m.PerDay, 1e-6)
	assert.InDelta(t, 1999.0/24, m.OverDays, 1e-6)
}
