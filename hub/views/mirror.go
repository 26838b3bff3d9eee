package views

import (
	"amvek/core/document"
	"amvek/core/mirror"
	"amvek/hub/docs"
)

// MirrorView is a mirror with how it stands.
type MirrorView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	mirror.Mirror
	// Problems keep it from being at work.
	Problems []document.Fault `json:"problems"`
	Works    bool             `json:"works" doc:"It is at work: switched on, and without faults."`
	// Agree says for each member whether it is at the state of the first.
	Agree  []bool     `json:"agree" doc:"For each member, whether it is at the state of the first."`
	UsedBy []docs.Use `json:"usedBy"`
}

// ShownTitle implements [show.Titled].
func (v MirrorView) ShownTitle() string { return v.Title }

// Mirror returns a mirror that there is.
func (r *Reader) Mirror(id string) MirrorView {
	kept := r.Definitions.Mirrors[id]
	stands, _ := r.Engine.MirrorView(id)
	v := MirrorView{
		ID: id, Revision: kept.Revision, Mirror: *kept.Doc, Problems: stands.Faults, Works: stands.Works, Agree: stands.Agree, UsedBy: r.Definitions.UsedBy(id),
	}
	if v.Problems == nil {
		v.Problems = []document.Fault{}
	}
	if v.Agree == nil {
		v.Agree = []bool{}
	}
	return v
}
