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

// Sequences returns all sequences, by name.
func (h *Hub) Sequences(ctx context.Context) (views []SequenceView, err error) {
	views = []SequenceView{}
	err = h.do(ctx, func() {
		for _, id := range h.definitions.Sequences.IDs() {
			s := h.definitions.Sequences[id]
			stands, _ := h.engine.SequenceView(id)
			views = append(views, SequenceView{ID: id, Revision: s.Revision, Sequence: *s.Doc, State: stands, TotalSeconds: s.Doc.Total().Seconds(), UsedBy: h.definitions.UsedBy(id)})
		}
	})
	views = byTitle(views, func(v *SequenceView) string { return v.Title })
	return views, err
}
