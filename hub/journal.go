package hub

import (
	"context"
	"fmt"
	"slices"

	"amvek/core/cause"
	"amvek/hub/views"
	"amvek/store"
)

// settleRecords returns when what was told before can be read: an entry is told to browsers before it is written. Where it
// cannot be written, what can be read is read.
func (h *Hub) settleRecords(ctx context.Context) {
	if err := h.store.Flush(ctx); err != nil {
		h.log.Debug("records could not be settled", "error", err)
	}
}

// Journal returns journal entries in words, newest first.
func (h *Hub) Journal(ctx context.Context, q store.JournalQuery) ([]views.EntryView, error) {
	h.settleRecords(ctx)
	entries, err := h.store.Journal(ctx, q)
	if err != nil {
		return nil, fmt.Errorf("reading the journal: %w", err)
	}
	return h.inWords(ctx, entries)
}

// Chain returns the whole chain of an entry: from where it began, and all that followed from it.
func (h *Hub) Chain(ctx context.Context, id cause.ID) ([]views.EntryView, error) {
	h.settleRecords(ctx)
	entries, err := h.store.Chain(ctx, id)
	if err != nil {
		return nil, fmt.Errorf("reading the journal: %w", err)
	}
	if len(entries) == 0 {
		return nil, Absent("There is no such entry in the journal.")
	}
	return h.inWords(ctx, entries)
}

func (h *Hub) inWords(ctx context.Context, entries []cause.Entry) ([]views.EntryView, error) {
	words := make([]views.EntryView, len(entries))
	err := h.do(ctx, func() {
		for i, e := range entries {
			words[i] = h.reader.Entry(e)
		}
	})
	return words, err
}

const marksPerDay = 160

var marked = []cause.Kind{
	cause.ByDevice, cause.Written, cause.Kept, cause.LetGo, cause.SceneStarted, cause.RunByHand,
	cause.PlayedByHand, cause.HaltedByHand, cause.LitByHand, cause.LiftedByHand,
	cause.Began, cause.Ran, cause.Played, cause.Due, cause.Failed, cause.Stopped, cause.ConnectedDown, cause.Missed,
}

// Day returns the day that now belongs to: its light, what happened and what is planned.
func (h *Hub) Day(ctx context.Context) (views.Day, error) {
	var day views.Day
	if err := h.do(ctx, func() { day = h.reader.Day() }); err != nil {
		return day, err
	}
	happened, err := h.Journal(ctx, store.JournalQuery{Kinds: marked, From: day.From, To: day.To, Limit: marksPerDay})
	if err != nil {
		return day, err
	}
	for _, e := range happened {
		day.Marks = append(day.Marks, views.MarkOf(e))
	}
	slices.SortStableFunc(day.Marks, func(a, b views.Mark) int { return a.At.Compare(b.At) })
	return day, nil
}
