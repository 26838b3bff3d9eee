package store_test

import (
	"context"
	"fmt"
	"log/slog"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/store"
)

var dawn = time.Date(2026, 3, 1, 0, 0, 0, 0, time.UTC)

func reopened(t *testing.T, folder string) *store.Store {
	s, err := store.Open(context.Background(), folder, slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	return s
}

func history(t *testing.T, s *store.Store, from, to time.Time, points int) store.History {
	require.NoError(t, s.Flush(context.Background()))
	h, err := s.History(context.Background(), "eye", "light", from, to, points, time.UTC)
	require.NoError(t, err)
	return h
}

func TestFewReadingsAreReturnedAsTheyAre(t *testing.T) {
	s := reopened(t, t.TempDir())
	defer func() { _ = s.Close() }()
	for i := range 10 {
		s.AddSample("eye", "light", store.Sample{At: dawn.Add(time.Duration(i) * time.Hour), Value: float64(i)})
	}
	s.AddSample("eye", "light", store.Sample{At: dawn.Add(time.Minute), Value: math.NaN()})
	// What was rolled up already counts only where the readings themselves are gone.
	h := history(t, s, dawn, dawn.Add(24*time.Hour), 100)
	assert.Zero(t, h.Span)
	assert.Len(t, h.Points, 10)
	none, err := s.History(context.Background(), "nobody", "light", dawn, dawn.Add(time.Hour), 10, time.UTC)
	require.NoError(t, err)
	assert.Empty(t, none.Points)
}

// flood writes a reading every ten seconds for some days, and returns what the mean, least and most of a stretch are.
func flood(s *store.Store, days int) func(from, to time.Time) store.Point {
	random := rand.New(rand.NewPCG(1, 2))
	var values []float64
	value := 50.0
	for i := range days * 8640 {
		value = math.Round(100*(value+random.Float64()-0.5)) / 100
		values = append(values, value)
		s.AddSample("eye", "light", store.Sample{At: dawn.Add(time.Duration(i) * 10 * time.Second), Value: value})
	}
	return func(from, to time.Time) store.Point {
		p := store.Point{At: from, Least: math.Inf(1), Most: math.Inf(-1)}
		n := 0.0
		for at := from; at.Before(to); at = at.Add(10 * time.Second) {
			v := values[int(at.Sub(dawn)/(10*time.Second))]
			p.Mean, n = p.Mean+v, n+1
			p.Least, p.Most = min(p.Least, v), max(p.Most, v)
		}
		p.Mean /= n
		return p
	}
}

func TestALongHistoryIsRolledUp(t *testing.T) {
	folder := t.TempDir()
	s := reopened(t, folder)
	truth := flood(s, 5)
	check := func(h store.History, span time.Duration, from, to time.Time) {
		t.Helper()
		require.Equal(t, span, h.Span)
		require.NotEmpty(t, h.Points)
		assert.Equal(t, from, h.Points[0].At.UTC())
		for _, p := range h.Points {
			end := p.At.Add(span)
			if end.After(to) {
				end = to
			}
			right := truth(p.At, end)
			assert.InDelta(t, right.Mean, p.Mean, 0.1, "%s", p.At)
			assert.InDelta(t, right.Least, p.Least, 0.6, "the value held into the span counts, too")
			assert.InDelta(t, right.Most, p.Most, 0.6)
		}
	}
	end := dawn.AddDate(0, 0, 5)
	check(history(t, s, dawn, end, 800), 10*time.Minute, dawn, end)
	check(history(t, s, dawn, end, 100), time.Hour, dawn, end)
	check(history(t, s, dawn, end, 4), 24*time.Hour, dawn, end)
	check(history(t, s, dawn.AddDate(0, 0, 2), end, 24), 3*time.Hour, dawn.AddDate(0, 0, 2), end)

	// After a power cut the spans that were open are made again from the readings.
	require.NoError(t, s.Close())
	s = reopened(t, folder)
	s.AddSample("eye", "light", store.Sample{At: end, Value: 50})
	check(history(t, s, dawn, end, 100), time.Hour, dawn, end)

	// Readings may be given up; what they were rolled up to stays.
	gone, err := s.Forget(context.Background(), dawn.AddDate(0, 0, 3))
	require.NoError(t, err)
	assert.EqualValues(t, 3*8640, gone)
	check(history(t, s, dawn, dawn.AddDate(0, 0, 2), 100), 20*time.Minute, dawn, dawn.AddDate(0, 0, 2))
	size, err := s.Size(context.Background())
	require.NoError(t, err)
	assert.Equal(t, dawn.AddDate(0, 0, 3), size.Oldest.UTC())
	assert.Positive(t, size.Bytes)
	require.NoError(t, s.Close())
}

func TestAClockSetBackRollsUpAnew(t *testing.T) {
	s := reopened(t, t.TempDir())
	defer func() { _ = s.Close() }()
	truth := flood(s, 1)
	for i := range 360 {
		s.AddSample("eye", "light", store.Sample{At: dawn.Add(6*time.Hour + time.Duration(i)*10*time.Second), Value: 200})
	}
	s.AddSample("eye", "light", store.Sample{At: dawn.AddDate(0, 0, 1), Value: 50})
	h := history(t, s, dawn, dawn.AddDate(0, 0, 1), 24)
	require.Equal(t, time.Hour, h.Span)
	require.Len(t, h.Points, 24)
	assert.InDelta(t, 200, h.Points[6].Mean, 1)
	right := truth(dawn.Add(12*time.Hour), dawn.Add(13*time.Hour))
	assert.InDelta(t, right.Mean, h.Points[12].Mean, 0.05)
}

func TestAValueHoldsUntilItsDeviceFallsSilent(t *testing.T) {
	folder := t.TempDir()
	s := reopened(t, folder)
	s.AddSample("eye", "light", store.Sample{At: dawn.Add(90 * time.Minute), Value: 21})
	s.AddSample("eye", "light", store.Sample{At: dawn.AddDate(0, 0, 12), Value: 30})
	s.AddUnknown("eye", "light", dawn.AddDate(0, 0, 14))
	s.AddSample("eye", "light", store.Sample{At: dawn.AddDate(0, 0, 16), Value: 40})
	s.AddSample("eye", "light", store.Sample{At: dawn.AddDate(0, 0, 18), Value: 50})
	h := history(t, s, dawn, dawn.AddDate(0, 0, 20), 20)
	require.Len(t, h.Points, 4, "few readings are returned as they are")
	assert.Equal(t, []store.Gap{{From: dawn.AddDate(0, 0, 14).Local(), To: dawn.AddDate(0, 0, 16).Local()}}, h.Gaps)

	require.NoError(t, s.Flush(context.Background()))
	_, err := s.Forget(context.Background(), dawn.AddDate(0, 0, 17))
	require.NoError(t, err)
	require.NoError(t, s.Close())
	s = reopened(t, folder)
	defer func() { _ = s.Close() }()
	h = history(t, s, dawn, dawn.AddDate(0, 0, 20), 20)
	require.Equal(t, 24*time.Hour, h.Span)
	var days []string
	for _, p := range h.Points {
		days = append(days, fmt.Sprintf("%s %g %s", p.At.UTC().Format("02"), p.Mean, p.Known))
	}
	assert.Equal(
		t,
		[]string{
			"01 21 22h30m0s",
			"02 21 24h0m0s",
			"03 21 24h0m0s",
			"04 21 24h0m0s",
			"05 21 24h0m0s",
			"06 21 24h0m0s",
			"07 21 24h0m0s",
			"08 21 24h0m0s",
			"09 21 24h0m0s",
			"10 21 24h0m0s",
			"11 21 24h0m0s",
			"12 21 24h0m0s",
			"13 30 24h0m0s",
			"14 30 24h0m0s",
			"17 40 24h0m0s",
			"18 40 24h0m0s",
			"19 50 24h0m0s",
			"20 50 24h0m0s",
		},
		days,
		"the readings were given up, what was held is known",
	)
}

// TestHistoryIsWhatAnIndependentComputationSays is a law: random readings, also late ones, silences, restarts and readings
// that are given up; each stretch has the mean, the least and the most that its readings held.
func TestHistoryIsWhatAnIndependentComputationSays(t *testing.T) {
	london, err := time.LoadLocation("Europe/London")
	require.NoError(t, err)
	spring := time.Date(2026, 3, 26, 7, 0, 0, 0, time.UTC) // the clocks go forward on the 29th
	rapid.Check(t, func(rt *rapid.T) {
		folder, err := os.MkdirTemp("", "amvek-history-")
		require.NoError(rt, err)
		defer func() { _ = os.RemoveAll(folder) }()
		s := reopened(t, folder)
		type reading struct {
			at    time.Time
			value float64
			none  bool
		}
		var all []reading
		now := spring
		for range rapid.IntRange(1, 40).Draw(rt, "acts") {
			switch rapid.IntRange(0, 24).Draw(rt, "act") {
			case 0:
				require.NoError(rt, s.Close())
				s = reopened(t, folder)
			case 1, 3, 4:
				s.AddUnknown("eye", "light", now)
				all = append(all, reading{at: now, none: true})
			case 2, 5: // the clock was set back for a while
				late := now.Add(-time.Duration(rapid.IntRange(1, 3000).Draw(rt, "late")) * time.Minute)
				if late.After(spring) {
					v := float64(rapid.IntRange(0, 100).Draw(rt, "value"))
					s.AddSample("eye", "light", store.Sample{At: late, Value: v})
					all = append(all, reading{at: late, value: v})
				}
			default:
				v := float64(rapid.IntRange(0, 100).Draw(rt, "value"))
				s.AddSample("eye", "light", store.Sample{At: now, Value: v})
				all = append(all, reading{at: now, value: v})
			}
			now = now.Add(time.Duration(rapid.SampledFrom([]int{1, 7, 61, 599, 601, 3700, 90_000, 300_000}).Draw(rt, "seconds"))*time.Second + time.Millisecond)
		}
		// The newest reading comes last, so that what came late is rolled up.
		s.AddSample("eye", "light", store.Sample{At: now, Value: 1})
		all = append(all, reading{at: now, value: 1})
		require.NoError(rt, s.Flush(context.Background()))
		if rapid.Bool().Draw(rt, "given up") {
			_, err := s.Forget(context.Background(), spring.Add(time.Duration(rapid.IntRange(0, 400).Draw(rt, "hours"))*time.Hour))
			require.NoError(rt, err)
		}
		slices.SortStableFunc(all, func(a, b reading) int { return a.at.Compare(b.at) })
		end := now.Add(5 * time.Hour)
		h, err := s.History(context.Background(), "eye", "light", spring, end, rapid.SampledFrom([]int{2, 10, 100, 2000}).Draw(rt, "points"), london)
		require.NoError(rt, err)
		require.NoError(rt, s.Close())
		if h.Span == 0 {
			return
		}
		for i, p := range h.Points {
			until := p.At.Add(h.Span)
			if h.Span >= 24*time.Hour {
				local := p.At.In(london)
				require.Equal(rt, 0, local.Hour(), "days are the home's: %s", local)
				until = time.Date(local.Year(), local.Month(), local.Day()+int(h.Span/(24*time.Hour)), 0, 0, 0, 0, london)
			}
			if until.After(end) {
				until = end
			}
			area, seconds, least, most := 0.0, 0.0, math.Inf(1), math.Inf(-1)
			for j, r := range all {
				if r.none {
					continue
				}
				from, to := r.at, end
				if j+1 < len(all) {
					to = all[j+1].at
				}
				if from.Before(p.At) {
					from = p.At
				}
				if to.After(until) {
					to = until
				}
				if d := to.Sub(from).Seconds(); d > 0 {
					area, seconds = area+d*r.value, seconds+d
					least, most = min(least, r.value), max(most, r.value)
				} else if !r.at.Before(p.At) && r.at.Before(until) {
					least, most = min(least, r.value), max(most, r.value)
				}
			}
			require.InDelta(rt, seconds, p.Known.Seconds(), 0.01, "point %d at %s", i, p.At)
			if seconds > 0 {
				require.InDelta(rt, area/seconds, p.Mean, 0.01, "point %d at %s", i, p.At)
				require.InDelta(rt, least, p.Least, 1e-9)
				require.InDelta(rt, most, p.Most, 1e-9)
			}
		}
	})
}
