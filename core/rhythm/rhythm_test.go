package rhythm_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/rhythm"
)

var start = time.Date(2026, 11, 20, 6, 0, 0, 0, time.UTC)

// speak lets a device speak with the gaps, over and over, for a time.
func speak(r *rhythm.Rhythm, from time.Time, last time.Duration, gaps ...time.Duration) (now time.Time) {
	now = from
	for i := 0; now.Before(from.Add(last)); i++ {
		r.Hear(now)
		r.Hear(now.Add(200 * time.Millisecond)) // all its values, one after the other
		now = now.Add(gaps[i%len(gaps)])
	}
	return r.Heard
}

func TestEachDeviceIsMissedAfterItsOwnTime(t *testing.T) {
	for name, c := range map[string]struct {
		last time.Duration
		gaps []time.Duration
		kind rhythm.Kind
		// silence is how long after the last word it is noticed, more or less
		silence time.Duration
	}{
		"every 40 s":              {time.Hour, []time.Duration{40 * time.Second}, rhythm.Regular, 100 * time.Second},
		"every 4 h":               {48 * time.Hour, []time.Duration{4 * time.Hour}, rhythm.Regular, 10 * time.Hour},
		"about every 5 min":       {time.Hour, []time.Duration{5 * time.Minute, 290 * time.Second, 330 * time.Second}, rhythm.Regular, 12*time.Minute + 30*time.Second},
		"at changes, or 30 min":   {30 * time.Hour, []time.Duration{20 * time.Second, 30 * time.Minute, 4 * time.Minute}, rhythm.Irregular, 45 * time.Minute},
		"at changes, for an hour": {time.Hour, []time.Duration{20 * time.Second, 10 * time.Minute, 4 * time.Minute}, rhythm.Unknown, 0},
		"three times":             {3 * time.Hour, []time.Duration{time.Hour}, rhythm.Unknown, 0},
	} {
		t.Run(name, func(t *testing.T) {
			var r rhythm.Rhythm
			last := speak(&r, start, c.last, c.gaps...)
			assert.Equal(t, c.kind, r.Learn(last, true).Kind)
			at, known := r.SilentAt(last, true)
			require.Equal(t, c.silence > 0, known)
			if known {
				assert.InDelta(t, c.silence.Seconds(), at.Sub(last).Seconds(), 660)
				assert.GreaterOrEqual(t, at.Sub(last), c.silence, "never too early")
			}
		})
	}
}

func TestALampThatSpeaksOnlyWhenSwitchedIsNeverMissed(t *testing.T) {
	var r rhythm.Rhythm
	last := speak(&r, start, 90*time.Hour, time.Minute, 9*time.Hour, 20*time.Minute)
	assert.Equal(t, rhythm.Unknown, r.Learn(last, false).Kind)
	assert.Equal(t, rhythm.Irregular, r.Learn(last, true).Kind)
}

func TestWhatWasNotListenedToIsNoGap(t *testing.T) {
	var r rhythm.Rhythm
	last := speak(&r, start, time.Hour, time.Minute)
	before := r.Learn(last, true)
	again := last.Add(9 * time.Hour)
	r.Interrupted(again)
	at, known := r.SilentAt(again, true)
	assert.True(t, known)
	assert.GreaterOrEqual(t, at.Sub(again), 150*time.Second, "silence counts from when somebody listens again")
	r.Hear(again.Add(time.Second))
	assert.Equal(t, before, r.Learn(last.Add(9*time.Hour), true))
}

// As long as a device keeps to its gaps, however mixed, a known rhythm never calls it silent.
func TestWhoeverKeepsToTheirRhythmIsNotMissed(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		gaps := make([]time.Duration, rapid.IntRange(1, 4).Draw(t, "gaps"))
		for i := range gaps {
			gaps[i] = time.Duration(rapid.IntRange(2, 7200).Draw(t, "gap")) * time.Second
		}
		var r rhythm.Rhythm
		now := start
		for i := range 400 {
			if at, known := r.SilentAt(now, true); known && at.Before(now.Add(gaps[i%len(gaps)])) && now.Sub(start) > 50*time.Hour {
				t.Fatalf("called silent at %v, next word after %v; gaps %v", at.Sub(now), gaps[i%len(gaps)], gaps)
			}
			now = now.Add(gaps[i%len(gaps)])
			r.Hear(now)
		}
		data, err := json.Marshal(r)
		if err != nil || len(data) > 2000 {
			t.Fatalf("what is remembered stays small: %d bytes, %v", len(data), err)
		}
	})
}
