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

// LightByItself makes the rule by which the light of a room comes by itself while somebody is there, and returns its id.
func (h *Hub) LightByItself(ctx context.Context, id string, of starting.Presence) (string, int, error) {
	var doc *rule.Rule
	var wrong error
	if err := h.do(ctx, func() {
		light := h.definitions.Lights[id].Doc
		if light == nil {
			wrong = Absent("There is no such light.")
			return
		}
		view, _ := h.engine.RoomLightView(id)
		var lamps []thing.Ref
		for _, device := range view.Members {
			lamps = append(lamps, thing.Ref{Device: device, Name: h.definitions.Device(device).Light()})
		}
		doc, wrong = of.Rule(light.Title, lamps, h.engine.Property)
		wrong = placed(wrong)
	}); err != nil || wrong != nil {
		return "", 0, errors.Join(err, wrong)
	}
	rule := docs.NewID(docs.KindRule)
	revision, err := h.Save(ctx, New{Kind: docs.KindRule, ID: rule, Document: doc})
	return rule, revision, err
}

// SearchRules returns the rules in whose names, notes, lines, devices or rooms all words are found.
func (h *Hub) SearchRules(ctx context.Context, words string) (found []views.FoundRule, err error) {
	err = h.do(ctx, func() { found = h.reader.SearchRules(words) })
	return found, err
}
