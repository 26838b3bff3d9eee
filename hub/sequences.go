package hub

import (
	"context"

	"amvek/core/light"
	"amvek/core/state"
	"amvek/hub/docs"
)

// SequenceView is a sequence with how it stands.
type SequenceView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	light.Sequence
	State state.SequenceState `json:"state"`
	// TotalSeconds is how long one round takes.
	TotalSeconds float64    `json:"totalSeconds" doc:"How long one round takes."`
	UsedBy       []docs.Use `json:"usedBy"`
}

// sequenceView runs in the loop.
func (h *Hub) sequenceView(id string) SequenceView {
	s := h.definitions.Sequences[id]
	stands, _ := h.engine.SequenceView(id)
	return SequenceView{ID: id, Revision: s.Revision, Sequence: *s.Doc, State: stands, TotalSeconds: s.Doc.Total().Seconds(), UsedBy: h.definitions.UsedBy(id)}
}

// Sequences returns all sequences, by name.
func (h *Hub) Sequences(ctx context.Context) ([]SequenceView, error) {
	return listed(ctx, h, docs.KindSequence, h.sequenceView, func(v *SequenceView) string { return v.Title })
}
