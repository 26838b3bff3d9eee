package rhythm_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/rhythm"
)

// heard is a device that spoke with the gaps, once each, from the start.
func heard(gaps ...time.Duration) (r rhythm.Rhythm, now time.Time) {
	now = start
	r.Hear(now)
	for _, gap := range gaps {
		now = now.Add(gap)
		r.Hear(now)
	}
	return r, now
}

func times(n int, gap time.Duration) (gaps []time.Duration) {
	for range n {
		gaps = append(gaps, gap)
	}
	return gaps
}

// What holds at its limit holds; what is just past it does not.
func TestTheLimitsOfARhythmAreExact(t *testing.T) {
	var r rhythm.Rhythm
	require.False(t, r.Hear(start))
	assert.False(t, r.Hear(start.Add(rhythm.Burst-1)), "a burst is one word")
	assert.True(t, r.Hear(start.Add(rhythm.Burst)), "a gap as long as a burst is a gap")

	kind := func(last time.Duration, gaps ...time.Duration) rhythm.Kind {
		r, now := heard(gaps...)
		return r.Learn(now.Add(last), true).Kind
	}
	few := times(7, time.Minute)
	assert.Equal(t, rhythm.Unknown, kind(0, few...))
	assert.Equal(t, rhythm.Regular, kind(0, append(few, time.Minute)...), "eight gaps are enough")
	wide := append(times(7, time.Minute), 90*time.Second)
	assert.Equal(t, rhythm.Regular, kind(0, wide...), "half as long again is still regular")
	assert.Equal(t, rhythm.Unknown, kind(0, append(times(7, time.Minute), 91*time.Second)...))
	assert.Equal(t, rhythm.Regular, kind(0, append(times(7, time.Minute), 40*time.Second)...), "two thirds are still regular")
	assert.Equal(t, rhythm.Unknown, kind(0, append(times(7, time.Minute), 39*time.Second)...))

	odd := append(times(7, time.Minute), time.Hour)
	spent := 7*time.Minute + time.Hour
	assert.Equal(t, rhythm.Unknown, kind(24*time.Hour-spent-1, odd...))
	assert.Equal(t, rhythm.Irregular, kind(24*time.Hour-spent, odd...), "a day of listening is enough")
	assert.Equal(t, rhythm.Unknown, kind(48*time.Hour, odd[1:]...), "seven gaps are too few, however long it was listened to")
}

func TestWhatIsRememberedOfADeviceIsBoundedAndByDay(t *testing.T) {
	r, now := heard(times(40, 3*time.Hour)...)
	assert.Len(t, r.Gaps, 24, "the newest")
	assert.Equal(t, start.Unix()/86400, r.Days[0].Day, "days are counted since 1970")
	assert.Len(t, r.Days, 6, "a day has one longest gap")
	assert.Equal(t, now, r.Heard)
	r.Hear(now.Add(5 * time.Hour))
	assert.Equal(t, (5 * time.Hour).Seconds(), r.Days[len(r.Days)-1].Seconds)
	r, _ = heard(times(9, 24*time.Hour)...)
	assert.Len(t, r.Days, 7, "a week")
	assert.Equal(t, start.Unix()/86400+3, r.Days[0].Day)
}
