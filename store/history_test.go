package store_test

import (
	"context"
	"log/slog"
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

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
	h, err := s.History(context.Background(), "eye", "light", from, to, points)
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
	none, err := s.History(context.Background(), "nobody", "light", dawn, dawn.Add(time.Hour), 10)
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

func TestOfWhatWasNotHeardForLongNothingIsKnown(t *testing.T) {
	s := reopened(t, t.TempDir())
	defer func() { _ = s.Close() }()
	flood(s, 1)
	s.AddSample("eye", "light", store.Sample{At: dawn.AddDate(0, 0, 10), Value: 7})
	h := history(t, s, dawn, dawn.AddDate(0, 0, 11), 264)
	for _, p := range h.Points {
		assert.False(t, p.At.After(dawn.Add(31*time.Hour)) && p.At.Before(dawn.AddDate(0, 0, 10)), "%s", p.At)
	}
	assert.Equal(t, 7.0, h.Points[len(h.Points)-1].Mean)
}
