package store_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cause"
	"amvek/store"
)

func TestTheJournalIsGivenUpByItsAge(t *testing.T) {
	ctx := context.Background()
	s := open(t, t.TempDir())
	begin := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	for i := range 10 {
		s.AddEntry(cause.Entry{ID: cause.ID(i + 1), At: begin.AddDate(0, 0, i), Kind: cause.Notified})
	}
	require.NoError(t, s.Flush(ctx))
	gone, err := s.ForgetJournal(ctx, begin.AddDate(0, 0, 6))
	require.NoError(t, err)
	assert.EqualValues(t, 6, gone)
	left, err := s.Journal(ctx, store.JournalQuery{Limit: 100})
	require.NoError(t, err)
	require.Len(t, left, 4)
	gone, err = s.ForgetJournal(ctx, begin.AddDate(1, 0, 0))
	require.NoError(t, err)
	assert.EqualValues(t, 3, gone)
	last, _, err := s.LastEntry(ctx)
	require.NoError(t, err)
	assert.EqualValues(t, 10, last, "numbers go on from the newest, which stays")
}

func TestEarlierVersionsAreGivenUpButTheFirstAndTheNewest(t *testing.T) {
	ctx := context.Background()
	s := open(t, t.TempDir())
	for i := range 30 {
		_, err := s.Write(ctx, time.UnixMilli(int64(i)), store.Change{Kind: "room", ID: "hall", Document: fmt.Appendf(nil, `{"title":"Hall %d"}`, i+1)})
		require.NoError(t, err)
	}
	_, err := s.Write(ctx, time.UnixMilli(50), store.Change{Kind: "room", ID: "attic", Document: []byte(`{"title":"Attic"}`)})
	require.NoError(t, err)
	gone, err := s.ForgetRevisions(ctx, 10)
	require.NoError(t, err)
	assert.EqualValues(t, 19, gone)
	left, err := s.Revisions(ctx, "room", "hall", 100)
	require.NoError(t, err)
	require.Len(t, left, 11)
	assert.Equal(t, 30, left[0].Revision)
	assert.Equal(t, 21, left[9].Revision)
	assert.Equal(t, 1, left[10].Revision)
	firsts, err := s.Firsts(ctx, "room")
	require.NoError(t, err)
	assert.Equal(t, time.UnixMilli(0), firsts["hall"])
	others, err := s.Revisions(ctx, "room", "attic", 100)
	require.NoError(t, err)
	assert.Len(t, others, 1)
}
