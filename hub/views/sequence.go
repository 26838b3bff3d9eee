package views

import (
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

// Sequence returns a sequence that there is.
func (r *Reader) Sequence(id string) SequenceView {
	s := r.Definitions.Sequences[id]
	stands, _ := r.Engine.SequenceView(id)
	return SequenceView{ID: id, Revision: s.Revision, Sequence: *s.Doc, State: stands, TotalSeconds: s.Doc.Total().Seconds(), UsedBy: r.Definitions.UsedBy(id)}
}
