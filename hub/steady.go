package hub

import (
	"context"
	"time"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/thing"
	"amvek/core/trial"
	"amvek/hub/docs"
)

// steadyTrial is how a lamp was before the least level was searched at which it is steady.
type steadyTrial struct {
	brightness, own thing.Value // own is of the lamp's own setting; none where it has none
	lighting        *home.Lighting
	abandoned       *time.Timer
}

// steadyPatience is how long nobody may answer until the lamp is put back.
const steadyPatience = 3 * time.Minute

// steadyLamp is by which properties a lamp is tried: how bright it is, and its own setting where it has one.
type steadyLamp struct{ light, own *thing.Property }

// ownSetting returns the setting of a lamp below which it drives itself no lower; nil where it has none.
func ownSetting(d *home.Device) *thing.Property {
	for i := range d.Description.Properties {
		if p := &d.Description.Properties[i]; p.Role == thing.RoleLeastLevel && p.Writable {
			return p
		}
	}
	return nil
}

// SearchSteady goes on with the search for the least level at which a lamp is steady, by what was seen so far, and lets the lamp show the
// level that is to be looked at next. Once that is found, it is set, in the lamp itself where it has a setting for it, and the lamp is
// as bright as it was before.
func (h *Hub) SearchSteady(ctx context.Context, id string, by cause.By, flickered []bool) (trial.Steady, error) {
	lamp, err := h.beginSteady(ctx, id, by)
	if err != nil {
		return trial.Steady{}, err
	}
	next := trial.SearchSteady(flickered)
	if next.Done {
		return next, h.endSteady(ctx, id, by, next)
	}
	size := lamp.light.Maximum - lamp.light.Minimum
	return next, h.Act(ctx, engine.Input{
		Kind: engine.InputWrite, Device: id, Name: lamp.light.Name, Value: thing.Number(lamp.light.Minimum + size*next.Level/100), Doer: by,
	})
}

// beginSteady remembers how a lamp is, and lets it be driven as low as it goes.
func (h *Hub) beginSteady(ctx context.Context, id string, by cause.By) (steadyLamp, error) {
	var lamp steadyLamp
	var d *home.Device
	var fresh bool
	var err error
	if failed := h.do(ctx, func() {
		d = h.definitions.Device(id)
		if d == nil {
			err = Absent("There is no such device.")
			return
		}
		if lamp.light = d.Description.Property(d.Light()); lamp.light == nil || lamp.light.Role != thing.RoleBrightness {
			err = Invalid("device", "It is no lamp that can be dimmed.")
			return
		}
		lamp.own = ownSetting(d)
		if h.steady == nil {
			h.steady = map[string]*steadyTrial{}
		}
		t := h.steady[id]
		if fresh = t == nil; fresh {
			t = &steadyTrial{lighting: d.Lighting}
			state, _ := h.engine.PropertyState(thing.Ref{Device: id, Name: lamp.light.Name})
			t.brightness = state.Reported
			if lamp.own != nil {
				state, _ := h.engine.PropertyState(thing.Ref{Device: id, Name: lamp.own.Name})
				t.own = state.Reported
			}
			t.abandoned = time.AfterFunc(steadyPatience, func() { _ = h.LeaveSteady(h.context, id, by) })
			h.steady[id] = t
		}
		t.abandoned.Reset(steadyPatience)
	}); failed != nil || err != nil || !fresh {
		return lamp, firstError(failed, err)
	}
	if lamp.own != nil {
		return lamp, h.Act(ctx, engine.Input{Kind: engine.InputWrite, Device: id, Name: lamp.own.Name, Value: thing.Number(lamp.own.Minimum), Doer: by})
	}
	return lamp, h.lightAs(ctx, id, 0)
}

// endSteady sets what was found, and puts the lamp back.
func (h *Hub) endSteady(ctx context.Context, id string, by cause.By, found trial.Steady) error {
	if found.Never {
		return h.LeaveSteady(ctx, id, by)
	}
	level := found.Level
	if level <= 1 {
		level = 0 // it is steady as low as it goes
	}
	return h.putBack(ctx, id, by, func(d *home.Device, _ *steadyTrial) error {
		if own := ownSetting(d); own != nil {
			value := thing.Number(min(own.Maximum, own.Minimum+level))
			return h.Act(ctx, engine.Input{Kind: engine.InputWrite, Device: id, Name: own.Name, Value: value, Doer: by})
		}
		return h.lightAs(ctx, id, level)
	})
}

// LeaveSteady ends the search for the least level and puts the lamp back as it was.
func (h *Hub) LeaveSteady(ctx context.Context, id string, by cause.By) error {
	return h.putBack(ctx, id, by, func(d *home.Device, t *steadyTrial) error {
		if own := ownSetting(d); own != nil && !t.own.IsNone() {
			return h.Act(ctx, engine.Input{Kind: engine.InputWrite, Device: id, Name: own.Name, Value: t.own, Doer: by})
		}
		if t.lighting == nil {
			return nil
		}
		return h.lightAs(ctx, id, t.lighting.LeastLevel)
	})
}

// putBack forgets a search and lets the lamp be as bright as before; without one it does nothing.
func (h *Hub) putBack(ctx context.Context, id string, by cause.By, set func(d *home.Device, t *steadyTrial) error) error {
	var t *steadyTrial
	var d *home.Device
	if err := h.do(ctx, func() {
		if t, d = h.steady[id], h.definitions.Device(id); t != nil {
			t.abandoned.Stop()
			delete(h.steady, id)
		}
	}); err != nil || t == nil || d == nil {
		return err
	}
	if err := set(d, t); err != nil || t.brightness.IsNone() {
		return err
	}
	return h.Act(ctx, engine.Input{Kind: engine.InputWrite, Device: id, Name: d.Light(), Value: t.brightness, Doer: by})
}

// lightAs drives a lamp no lower than a level, in percent, by the hub.
func (h *Hub) lightAs(ctx context.Context, id string, least float64) error {
	view, err := h.Device(ctx, id)
	if err != nil {
		return err
	}
	device, lighting := view.Device, home.Lighting{}
	if device.Lighting != nil {
		lighting = *device.Lighting
	}
	if lighting.LeastLevel == least {
		return nil
	}
	lighting.LeastLevel = least
	device.Lighting = &lighting
	if lighting == (home.Lighting{}) {
		device.Lighting = nil
	}
	_, err = h.Save(ctx, New{Kind: docs.KindDevice, ID: id, Document: &device})
	return err
}
