package hub

import (
	"context"
	"encoding/json"
	"time"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/thing"
	"amvek/core/trial"
	"amvek/hub/docs"
)

// steadyTrial is how a lamp was before the least level was searched at which it is steady. It is kept, so that a lamp is put back also
// by a hub that was stopped meanwhile.
type steadyTrial struct {
	Brightness thing.Value    `json:"brightness,omitzero"`
	Own        thing.Value    `json:"own,omitzero"` // of the lamp's own setting; none where it has none
	Lighting   *home.Lighting `json:"lighting,omitempty"`
	By         cause.By       `json:"by,omitzero"`

	abandoned *time.Timer
}

// steadySetting keeps the lamps whose least level is searched.
const steadySetting = "lamps searched for their least level"

// loadSteady reads which lamps are in a search. They are put back when nobody goes on with it.
func (h *Hub) loadSteady(ctx context.Context) error {
	h.steady = map[string]*steadyTrial{}
	kept, err := h.store.Setting(ctx, steadySetting)
	if err != nil || kept == "" {
		return err
	}
	if json.Unmarshal([]byte(kept), &h.steady) != nil {
		h.log.Warn("which lamps were searched for their least level cannot be read, and they stay as they are")
		h.steady = map[string]*steadyTrial{}
	}
	for id, t := range h.steady {
		h.awaitAnswer(id, t)
	}
	return nil
}

// awaitAnswer lets a search end by itself when nobody goes on with it.
func (h *Hub) awaitAnswer(id string, t *steadyTrial) {
	t.abandoned = time.AfterFunc(steadyPatience, func() { _ = h.LeaveSteady(h.context, id, t.By) })
}

// keepSteady keeps which lamps are in a search.
func (h *Hub) keepSteady(ctx context.Context) error {
	var data []byte
	var wrong error
	if err := h.do(ctx, func() { data, wrong = json.Marshal(h.steady) }); err != nil || wrong != nil {
		return firstError(err, wrong)
	}
	return h.store.PutSetting(ctx, steadySetting, string(data))
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
		t := h.steady[id]
		if fresh = t == nil; fresh {
			t = &steadyTrial{Lighting: d.Lighting, By: by}
			state, _ := h.engine.PropertyState(thing.Ref{Device: id, Name: lamp.light.Name})
			t.Brightness = state.Reported
			if lamp.own != nil {
				state, _ := h.engine.PropertyState(thing.Ref{Device: id, Name: lamp.own.Name})
				t.Own = state.Reported
			}
			h.awaitAnswer(id, t)
			h.steady[id] = t
		}
		t.abandoned.Reset(steadyPatience)
	}); failed != nil || err != nil || !fresh {
		return lamp, firstError(failed, err)
	}
	if err := h.keepSteady(ctx); err != nil {
		return lamp, err
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
		if own := ownSetting(d); own != nil && !t.Own.IsNone() {
			return h.Act(ctx, engine.Input{Kind: engine.InputWrite, Device: id, Name: own.Name, Value: t.Own, Doer: by})
		}
		if t.Lighting == nil {
			return nil
		}
		return h.lightAs(ctx, id, t.Lighting.LeastLevel)
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
	err := set(d, t)
	if err == nil && !t.Brightness.IsNone() {
		err = h.Act(ctx, engine.Input{Kind: engine.InputWrite, Device: id, Name: d.Light(), Value: t.Brightness, Doer: by})
	}
	return firstError(err, h.keepSteady(ctx))
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
