package hub

import (
	"context"
	"maps"

	"amvek/core/cover"
	"amvek/core/engine"
	"amvek/core/thing"
	"amvek/hub/docs"
)

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
