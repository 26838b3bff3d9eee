package store

import (
	"context"
	"fmt"
	"log/slog"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAFullDiskIsSaidOnceLosesOnlyWhatComesMeanwhileAndIsOver(t *testing.T) {
	ctx := context.Background()
	s, err := Open(ctx, t.TempDir(), slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	defer func() { _ = s.Close() }()
	var told atomic.Int32
	s.OnTrouble(func() { told.Add(1) })
	begin := time.Date(2026, 3, 1, 0, 0, 0, 0, time.UTC)
	write := func(from, n int) {
		for i := from; i < from+n; i++ {
			s.AddSample("eye", "light", Sample{At: begin.Add(time.Duration(i) * time.Minute), Value: float64(i)})
		}
	}
	write(0, 600)
	document := []byte(fmt.Sprintf(`{"title":"%0*d"}`, 50_000, 0))
	_, err = s.Write(ctx, begin, Change{Kind: "room", ID: "small", Document: []byte(`{"title":"Hall"}`)})
	require.NoError(t, err)
	require.Nil(t, s.Trouble())

	limit := func(pages int) {
		require.NoError(t, s.now(ctx, func(tx *transaction) error {
			var now int
			return tx.QueryRow(fmt.Sprintf("PRAGMA max_page_count = %d", pages)).Scan(&now)
		}))
	}
	limit(1) // no less than what there is: not a page more
	write(600, 4000)
	_, err = s.Write(ctx, begin, Change{Kind: "room", ID: "large", Document: document})
	require.ErrorIs(t, err, ErrFull, "who waits is told")
	write(4600, 200)
	require.ErrorIs(t, s.Flush(ctx), ErrFull)
	trouble := s.Trouble()
	require.NotNil(t, trouble)
	assert.Equal(t, ErrFull.Error(), trouble.Reason)
	assert.Positive(t, trouble.Lost)
	assert.EqualValues(t, 1, told.Load(), "said once, not for each record")
	rooms, err := s.Definitions(ctx)
	require.NoError(t, err)
	assert.Len(t, rooms, 1, "what was there is there")

	limit(1_000_000)
	write(5000, 600)
	require.NoError(t, s.Flush(ctx))
	assert.Nil(t, s.Trouble())
	assert.EqualValues(t, 2, told.Load())
	h, err := s.History(ctx, "eye", "light", begin, begin.Add(10*time.Hour), 60, time.UTC)
	require.NoError(t, err)
	assert.Len(t, h.Points, 600, "what was kept before is whole")
	h, err = s.History(ctx, "eye", "light", begin.Add(5000*time.Minute), begin.Add(5600*time.Minute), 10, time.UTC)
	require.NoError(t, err)
	require.NotEmpty(t, h.Points)
	assert.InDelta(t, 5599, h.Points[len(h.Points)-1].Most, 1, "and so is what came after")
	_, err = s.Write(ctx, begin, Change{Kind: "room", ID: "large", Document: document})
	require.NoError(t, err)
}
