package hub

import (
	"context"
	"strings"

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
	if wrong != nil {
		place, message, _ := strings.Cut(wrong.Error(), ": ")
		return "", 0, Invalid("devices/"+place, strings.ToUpper(message[:1])+message[1:]+".")
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
