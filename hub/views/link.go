package views

import (
	"amvek/core/document"
	"amvek/core/link"
	"amvek/hub/docs"
)

// LinkView is a link with how it stands.
type LinkView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	link.Link
	// Problems keep it from being at work.
	Problems []document.Fault `json:"problems"`
	// Open says that its modes and its condition let it act now.
	Open   bool       `json:"open" doc:"It is at work now: without problems, switched on, and its modes and condition let it act."`
	UsedBy []docs.Use `json:"usedBy"`
}

// ShownTitle implements [show.Titled].
func (v LinkView) ShownTitle() string { return v.Title }

// Link returns a link that there is.
func (r *Reader) Link(id string) LinkView {
	kept := r.Definitions.Links[id]
	stands, _ := r.Engine.LinkView(id)
	v := LinkView{ID: id, Revision: kept.Revision, Link: *kept.Doc, Problems: stands.Problems, Open: stands.Open, UsedBy: r.Definitions.UsedBy(id)}
	if v.Problems == nil {
		v.Problems = []document.Fault{}
	}
	return v
}
