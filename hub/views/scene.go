package views

import (
	"amvek/core/light"
	"amvek/hub/docs"
)

// SceneView is a scene as it stands now.
type SceneView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	light.Scene
	InEffect bool       `json:"inEffect" doc:"Whether every value of it is what is in effect now."`
	UsedBy   []docs.Use `json:"usedBy"`
}

// Scene returns a scene that there is.
func (r *Reader) Scene(id string) SceneView {
	s := r.Definitions.Scenes[id]
	return SceneView{ID: id, Revision: s.Revision, Scene: *s.Doc, InEffect: r.Engine.InEffect(s.Doc), UsedBy: r.Definitions.UsedBy(id)}
}
