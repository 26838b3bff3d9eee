package hub

import (
	"context"

	"amvek/core/light"
	"amvek/core/state"
)

// SequenceView is a sequence with how it stands.
type SequenceView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	light.Sequence
	State state.SequenceState `json:"state"`
	// TotalSeconds is how long one round takes.
	TotalSeconds float64 `json:"totalSeconds" doc:"How long one round takes."`
	UsedBy       []Use   `json:"usedBy"`
}

// Sequences returns all sequences, by name.
func (h *Hub) Sequences(ctx context.Context) (views []SequenceView, err error) {
	views = []SequenceView{}
	err = h.do(ctx, func() {
		for _, id := range sortedKeys(h.definitions.sequences) {
			s := h.definitions.sequences[id]
			stands, _ := h.engine.SequenceView(id)
			views = append(views, SequenceView{ID: id, Revision: s.revision, Sequence: *s.doc, State: stands, TotalSeconds: s.doc.Total().Seconds(), UsedBy: h.usedBy(id)})
		}
	})
	views = byTitle(views, func(v *SequenceView) string { return v.Title })
	return views, err
}
