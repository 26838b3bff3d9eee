package hub

import (
	"cmp"
	"context"

	"amvek/core/light"
	"amvek/core/thing"
)

// Mixing is what a scene is mixed of: values, and another scene.
type Mixing struct {
	Targets []light.Target `json:"targets" maxItems:"2000"`
	Scene   string         `json:"scene" doc:"Id of the scene that is mixed in."`
	Percent float64        `json:"percent" minimum:"0" maximum:"100" doc:"How much of it; 0 leaves the values, 100 takes the scene."`
}

// MixScenes returns values between some and those of a scene.
func (h *Hub) MixScenes(ctx context.Context, of Mixing) (mixed []light.Target, err error) {
	var other []light.Target
	properties := map[thing.Ref]*thing.Property{}
	failed := h.do(ctx, func() {
		if !h.engine.HasScene(of.Scene) {
			err = Absent("There is no such scene.")
			return
		}
		other = h.engine.SceneNow(of.Scene)
		for _, targets := range [][]light.Target{of.Targets, other} {
			for _, t := range targets {
				properties[thing.Ref{Device: t.Device, Name: t.Property}] = h.engine.Property(t.Device, t.Property)
			}
		}
	})
	if failed != nil || err != nil {
		return nil, cmp.Or(failed, err)
	}
	mixed = light.MixScenes(of.Targets, other, of.Percent/100, func(device, name string) *thing.Property {
		return properties[thing.Ref{Device: device, Name: name}]
	})
	if mixed == nil {
		mixed = []light.Target{}
	}
	return mixed, nil
}
