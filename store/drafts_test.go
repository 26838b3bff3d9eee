package store_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/store"
)

func TestADraftIsKeptAndFollowsOnItsNewestVersionOnly(t *testing.T) {
	ctx := context.Background()
	folder := t.TempDir()
	s := open(t, folder)
	draft := func(after int, document string) (int, error) {
		return s.WriteDraft(ctx, store.Draft{Kind: "rule", ID: "r", Version: after, Based: 3, At: at, Document: []byte(document)}, nil)
	}
	first, err := draft(0, `{"title":"a"}`)
	require.NoError(t, err)
	second, err := draft(first, `{"title":"b"}`)
	require.NoError(t, err)
	for _, stale := range []int{0, first, second + 1} {
		_, err = draft(stale, `{"title":"c"}`)
		assert.ErrorIs(t, err, store.ErrRevision, stale)
	}
	require.NoError(t, s.Close())

	s = open(t, folder)
	defer func() { _ = s.Close() }()
	all, err := s.Drafts(ctx, "rule")
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.JSONEq(t, `{"title":"b"}`, string(all[0].Document))
	assert.Equal(t, []int{second, 3}, []int{all[0].Version, all[0].Based})

	gone, err := draft(second, "")
	require.NoError(t, err)
	all, err = s.Drafts(ctx, "rule")
	require.NoError(t, err)
	assert.Empty(t, all)
	_, err = draft(second, `{"title":"d"}`)
	assert.ErrorIs(t, err, store.ErrRevision, "who has not seen that it is gone")
	anew, err := draft(0, `{"title":"e"}`)
	require.NoError(t, err)
	assert.Greater(t, anew, gone, "versions go on growing")
}
