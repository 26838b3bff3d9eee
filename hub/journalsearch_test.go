package hub_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/hub"
	"amvek/store"
)

func TestTheJournalIsSearchedByTheWordsOfItsSentences(t *testing.T) {
	b := newBench(t)
	for i := range 1200 {
		require.NoError(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputPhrase, Words: fmt.Sprintf("Good night %d", i)}))
	}
	require.NoError(t, b.store.Flush(b.ctx))
	search := func(words, day string, before cause.ID, limit int) (texts []string, next cause.ID) {
		found, err := b.hub.SearchJournal(b.ctx, store.JournalQuery{Before: before, Limit: limit}, words, day)
		require.NoError(t, err)
		for _, e := range found.Entries {
			texts = append(texts, e.Text)
		}
		return texts, found.Before
	}
	first, next := search("117 NIGHT", "", 0, 4)
	assert.Equal(t, []string{"“Good night 1179” was said", "“Good night 1178” was said", "“Good night 1177” was said", "“Good night 1176” was said"}, first)
	rest, last := search("117 night", "", next, 100)
	assert.Len(t, rest, 8, "1170 to 1175, 1117 and 117 itself, further back than one batch")
	assert.Zero(t, last)
	none, last := search("good morning", "", 0, 10)
	assert.Empty(t, none)
	assert.Zero(t, last, "all was searched")

	today := b.clock.Now().Format("2006-01-02")
	yesterday := b.clock.Now().AddDate(0, 0, -1).Format("2006-01-02")
	some, _ := search("night", today, 0, 10)
	assert.Len(t, some, 10)
	none, _ = search("night", yesterday, 0, 10)
	assert.Empty(t, none)
	var wrong *hub.InvalidError
	_, err := b.hub.SearchJournal(b.ctx, store.JournalQuery{Limit: 1}, "", "tomorrow")
	assert.ErrorAs(t, err, &wrong)
}
