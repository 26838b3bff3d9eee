package views

import (
	"slices"

	"amvek/core/light"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// SceneView is a scene as it stands now.
type SceneView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	light.Scene
	InEffect bool       `json:"inEffect" doc:"Whether every value of it is what is in effect now; of one that is laid on top, whether it lies there."`
	UsedBy   []docs.Use `json:"usedBy"`
	// Lights are what it makes of lamps.
	Lights []SceneLight `json:"lights" doc:"What it makes of lamps."`
}

// SceneLight is what a scene makes of a lamp.
type SceneLight struct {
	Device string  `json:"device"`
	On     bool    `json:"on"`
	Level  float64 `json:"level" doc:"In percent; 100 for a lamp that only switches and is on."`
	Swatch string  `json:"swatch,omitempty" doc:"The light's color as #rrggbb; absent where the scene sets none."`
}

// Scene returns a scene that there is.
func (r *Reader) Scene(id string) SceneView {
	s := r.Definitions.Scenes[id]
	in := r.Engine.InEffect(s.Doc)
	if s.Doc.Laid {
		_, in = r.Engine.SceneLaid(id)
	}
	return SceneView{ID: id, Revision: s.Revision, Scene: *s.Doc, InEffect: in, UsedBy: r.Definitions.UsedBy(id), Lights: r.sceneLights(s.Doc)}
}

// sceneLights are the lamps of a scene, in its order.
func (r *Reader) sceneLights(scene *light.Scene) []SceneLight {
	list := []SceneLight{}
	for _, t := range scene.Targets {
		d, p := r.Definitions.Device(t.Device), r.Engine.Property(t.Device, t.Property)
		if d == nil || p == nil || d.Light() == "" {
			continue
		}
		i := slices.IndexFunc(list, func(l SceneLight) bool { return l.Device == t.Device })
		if i < 0 {
			i = len(list)
			list = append(list, SceneLight{Device: t.Device})
		}
		switch l := &list[i]; {
		case t.Property == d.Light() && p.Type == thing.TypeNumber:
			l.On, l.Level = t.Value.Number > 0, t.Value.Number
		case t.Property == d.Light():
			if l.On = t.Value.True(); l.On {
				l.Level = fullLevel
			}
		default:
			if swatch := Swatch(p, t.Value); swatch != "" {
				l.Swatch = swatch
			}
		}
	}
	return list
}

// fullLevel is that of a lamp that only switches, while it is on.
const fullLevel = 100
