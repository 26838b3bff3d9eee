package hub_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/home"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/store"
)

func TestHowMuchIsKeptIsTheOwnersAndSurvivesAStart(t *testing.T) {
	b := newBench(t)
	usual, err := b.hub.Keeping(b.ctx)
	require.NoError(t, err)
	assert.Equal(t, hub.Kept{Days: 730, JournalDays: 730, Revisions: 500}, usual.Kept)
	for field, wrong := range map[string]hub.Kept{
		"days": {Days: 6, JournalDays: 7, Revisions: 10}, "journalDays": {Days: 7, JournalDays: 6, Revisions: 10},
		"revisions": {Days: 7, JournalDays: 7, Revisions: 9},
	} {
		var invalid *hub.InvalidError
		require.ErrorAs(t, b.hub.Keep(b.ctx, wrong), &invalid)
		assert.Equal(t, field, invalid.Place)
	}
	for range 40 {
		b.save(docs.KindRoom, "hall", &home.Room{Title: "Hall"})
	}
	b.report("hw-eye", "motion", thing.Boolean(true))
	b.pass(30 * 24 * time.Hour)
	b.report("hw-eye", "motion", thing.Boolean(false))
	least := hub.Kept{Days: 7, JournalDays: 7, Revisions: 10}
	require.NoError(t, b.hub.Keep(b.ctx, least))
	require.Eventually(t, func() bool {
		left, err := b.store.Revisions(b.ctx, "room", "hall", 100)
		require.NoError(t, err)
		return len(left) == 11
	}, 20*time.Second, time.Millisecond, "the first and the ten newest")
	require.Eventually(t, func() bool {
		page, err := b.hub.Journal(b.ctx, store.JournalQuery{Limit: 200})
		require.NoError(t, err)
		for _, e := range page {
			if b.clock.Now().Sub(e.At) > 7*24*time.Hour {
				return false
			}
		}
		return len(page) > 0
	}, 20*time.Second, time.Millisecond)
	b.stop()
	b.start()
	kept, err := b.hub.Keeping(b.ctx)
	require.NoError(t, err)
	assert.Equal(t, least, kept.Kept)
}
