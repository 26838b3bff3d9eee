package hub

import (
	"context"
	"errors"

	"amvek/core/rule"
	"amvek/core/starting"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/hub/views"
)

// StartWith makes the rule of a starting point, switched off, and returns its id.
func (h *Hub) StartWith(ctx context.Context, point string, chosen map[string]thing.Ref) (string, int, error) {
	var doc *rule.Rule
	var wrong error
	if err := h.do(ctx, func() { doc, wrong = starting.Make(point, chosen, h.engine.Property) }); err != nil {
		return "", 0, err
	}
	var invalid *InvalidError
	if errors.As(placed(wrong), &invalid) {
		return "", 0, Invalid("devices/"+invalid.Place, invalid.Message)
	}
	id := docs.NewID(docs.KindRule)
	revision, err := h.Save(ctx, New{Kind: docs.KindRule, ID: id, Document: doc})
	return id, revision, err
}

// SearchRules returns the rules in whose names, notes, lines, devices or rooms all words are found.
func (h *Hub) SearchRules(ctx context.Context, words string) (found []views.FoundRule, err error) {
	err = h.do(ctx, func() { found = h.reader.SearchRules(words) })
	return found, err
}
