package hub

import (
	"context"
	"maps"

	"amvek/core/cover"
	"amvek/core/engine"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// Shutter is where a shutter stands and what it is about.
type Shutter struct {
	Place  float64 `json:"place" doc:"How far open, in percent; counts only if known."`
	Known  bool    `json:"known" doc:"Whether it is known where it stands."`
	Moving string  `json:"moving,omitempty" enum:"up,down"`
	// Travel is how long it takes from end to end, absent where that is not known.
	Travel   *cover.Travel   `json:"travel,omitempty"`
	Learning *cover.Learning `json:"learning,omitempty" doc:"The last measuring of the travel times, until it is forgotten."`
}

// shutter runs in the loop.
func (h *Hub) shutter(ref thing.Ref, state *cover.State) *Shutter {
	if state == nil {
		return nil
	}
	v := &Shutter{Learning: state.Learning}
	settings := cover.Settings{}
	if d := h.definitions.Device(ref.Device); d != nil {
		if travel, known := d.Travel[ref.Name]; known {
			settings.Travel, v.Travel = travel, &travel
		}
	}
	v.Place, v.Known = state.Estimate(h.clock.Now(), settings)
	if side, moves := state.Moving(); moves {
		v.Moving = map[cover.Side]string{cover.Up: "up", cover.Down: "down"}[side]
	}
	return v
}

func (h *Hub) checkShutter(in *engine.Input) error {
	p := h.engine.Property(in.Device, in.Name)
	switch {
	case p == nil || p.Cover == nil:
		return Absent("There is no such shutter.")
	case !h.engine.Counts(thing.Ref{Device: in.Device, Name: in.Name}):
		return Invalid("property", "The device is not set up as a shutter.")
	}
	return nil
}

// SetTravel says how long a shutter takes from end to end; nil forgets it.
func (h *Hub) SetTravel(ctx context.Context, ref thing.Ref, travel *cover.Travel) error {
	view, err := h.Device(ctx, ref.Device)
	if err != nil {
		return err
	}
	device := view.Device
	if p := device.Description.Property(ref.Name); p == nil || p.Cover == nil {
		return Absent("The device has no such shutter.")
	}
	device.Travel = maps.Clone(device.Travel)
	if travel == nil {
		delete(device.Travel, ref.Name)
	} else {
		if device.Travel == nil {
			device.Travel = map[string]cover.Travel{}
		}
		if err := travel.Check(); err != nil {
			return Invalid("travel", err.Error())
		}
		device.Travel[ref.Name] = *travel
	}
	_, err = h.Save(ctx, New{Kind: docs.KindDevice, ID: ref.Device, Document: &device})
	return err
}
