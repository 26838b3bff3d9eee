package hub

import (
	"context"
	"fmt"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/hub/views"
	"amvek/store"
)

// How much of the journal one question goes through: the loop is asked for the words of so many entries at a time, and
// whoever searches is told how far it went.
const (
	searchBatch  = 500
	searchAtMost = 100_000
)

// JournalFound is what a search of the journal found.
type JournalFound struct {
	Entries []views.EntryView `json:"entries"`
	// Before is where to search on from; absent when all was searched.
	Before cause.ID `json:"before,omitempty" doc:"Where to search on from; absent when all was searched."`
}

// SearchJournal returns the entries whose sentence has all words in it, newest first. Names are those of today, as the
// sentences have them. A day, if there is one, is the last that is searched.
func (h *Hub) SearchJournal(ctx context.Context, q store.JournalQuery, words, day string) (found JournalFound, err error) {
	h.settleRecords(ctx)
	if day != "" {
		var zone *time.Location
		if err := h.do(ctx, func() { zone = h.engine.Moment().Location() }); err != nil {
			return found, err
		}
		begins, err := time.ParseInLocation(time.DateOnly, day, zone)
		if err != nil {
			return found, Invalid("day", "A day is written like 2026-11-24.")
		}
		q.To = begins.AddDate(0, 0, 1)
	}
	wanted := strings.Fields(strings.ToLower(words))
	limit := q.Limit
	found.Entries = []views.EntryView{}
	q.Limit = searchBatch
	for range searchAtMost / searchBatch {
		entries, err := h.store.Journal(ctx, q)
		if err != nil {
			return found, fmt.Errorf("reading the journal: %w", err)
		}
		views, err := h.inWords(ctx, entries)
		if err != nil {
			return found, err
		}
		for _, v := range views {
			found.Before = v.ID
			if !containsAll(strings.ToLower(v.Text), wanted) {
				continue
			}
			if found.Entries = append(found.Entries, v); len(found.Entries) == limit {
				return found, nil
			}
		}
		if len(entries) < searchBatch {
			found.Before = 0
			return found, nil
		}
		q.Before = found.Before
	}
	return found, nil
}

func containsAll(text string, words []string) bool {
	for _, w := range words {
		if !strings.Contains(text, w) {
			return false
		}
	}
	return true
}
