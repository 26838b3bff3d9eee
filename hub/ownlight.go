package hub

import (
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"time"

	"amvek/connect"
	"amvek/core/light"
	"amvek/core/sensor"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// ownLightRecord is how far back the record is looked through for what lamps give a sensor.
const ownLightRecord = 28 * 24 * time.Hour

// OwnLight is what the lamps around a sensor give it, learned from its record.
type OwnLight struct {
	sensor.OwnLight
	// Now is what the sensor reads, Own what of it is of the lamps as they are, and Without what is left.
	Now     float64 `json:"now" doc:"What the sensor reads now, in lux."`
	Own     float64 `json:"own" doc:"What of that is of the lamps as they are now."`
	Without float64 `json:"without" doc:"What is left without them."`
	Times   int     `json:"times" doc:"From how many times that lamps were switched it is learned; only the newest are listed."`
	// Why nothing could be learned.
	Why string `json:"why,omitempty" doc:"Why nothing could be learned."`
}

// newestSwitchings is how many of the moments that something is learned from are shown.
const newestSwitchings = 12

// OwnLight learns what the lamps around a sensor give it: those of the lights of its room.
func (h *Hub) OwnLight(ctx context.Context, ref thing.Ref) (own OwnLight, err error) {
	var p *thing.Property
	var lights map[string]thing.Ref
	var now time.Time
	levels := map[string]float64{}
	if failed := h.do(ctx, func() {
		now, p, lights = h.clock.Now(), h.engine.Property(ref.Device, ref.Name), h.lampsAround(ref.Device)
		if state, ok := h.engine.PropertyState(ref); ok {
			own.Now = state.Reported.Number
		}
		for id, at := range lights {
			if lamp := h.engine.Property(at.Device, at.Name); lamp != nil {
				state, _ := h.engine.PropertyState(at)
				levels[id] = (&light.Lamp{Device: id, Light: lamp, At: state.Reported}).Level() / 100
			}
		}
	}); failed != nil {
		return own, failed
	}
	switch {
	case p == nil:
		return own, Absent("There is no such device or property.")
	case p.Role != thing.RoleIlluminance || p.Type != thing.TypeNumber || p.Writable || p.Without != nil:
		return own, Invalid("property", p.Title+" does not read how light it is.")
	case len(lights) == 0:
		return own, &ConflictError{"There is no lamp in its room."}
	}
	from := now.Add(-ownLightRecord)
	read, err := h.readings(ctx, ref, from, now)
	if err != nil {
		return own, err
	}
	readings := make([]sensor.Sample, len(read))
	for i, p := range read {
		readings[i] = sensor.Sample{At: p.At, Value: p.Value}
	}
	var lamps []sensor.Lamp
	for _, id := range slices.Sorted(maps.Keys(lights)) {
		lamp, err := h.lampRecord(ctx, lights[id], from, now)
		if err != nil {
			return own, err
		}
		lamps = append(lamps, lamp)
	}
	if own.OwnLight, err = sensor.LearnOwnLight(readings, lamps); err != nil {
		own.Why = connect.Sentence(err)
	}
	if own.Lamps == nil {
		own.Lamps = []sensor.LampShare{}
	}
	for i := range own.Lamps {
		l := &own.Lamps[i]
		own.Own += l.Lux * levels[l.Device]
		l.Lux, l.Spread = tenth(l.Lux), tenth(l.Spread)
	}
	for i := range own.Switchings {
		w := &own.Switchings[i]
		w.Before, w.After, w.Explained = tenth(w.Before), tenth(w.After), tenth(w.Explained)
	}
	own.Left, own.Times = tenth(own.Left), len(own.Switchings)
	own.Switchings = own.Switchings[max(0, len(own.Switchings)-newestSwitchings):]
	own.Now, own.Without, own.Own = tenth(own.Now), tenth(math.Max(0, own.Now-own.Own)), tenth(own.Own)
	return own, nil
}

// lampsAround are the lamps that a sensor may see, by their ids: all of its room, and of the lights that its room belongs to.
// It runs in the loop.
func (h *Hub) lampsAround(device string) map[string]thing.Ref {
	all := map[string]thing.Ref{}
	of := h.definitions.Device(device)
	if of == nil || of.Room == "" {
		return all
	}
	add := func(id string) {
		if d := h.definitions.Device(id); d != nil && d.Light() != "" {
			all[id] = thing.Ref{Device: id, Name: d.Light()}
		}
	}
	for _, id := range h.definitions.Devices.IDs() {
		if h.definitions.Device(id).Room == of.Room {
			add(id)
		}
	}
	for _, id := range h.definitions.Lights.IDs() {
		if slices.Contains(h.definitions.Lights[id].Doc.Rooms, of.Room) {
			view, _ := h.engine.RoomLightView(id)
			for _, member := range view.Members {
				add(member)
			}
		}
	}
	return all
}

// lampRecord is how much of its full light a lamp gave.
func (h *Hub) lampRecord(ctx context.Context, at thing.Ref, from, to time.Time) (sensor.Lamp, error) {
	lamp := sensor.Lamp{Device: at.Device}
	samples, err := h.store.Samples(ctx, at.Device, at.Name, from, to)
	if err != nil {
		return lamp, fmt.Errorf("reading the history: %w", err)
	}
	var p *thing.Property
	if err := h.do(ctx, func() { p = h.engine.Property(at.Device, at.Name) }); err != nil || p == nil {
		return lamp, err
	}
	least, most := 0.0, 1.0
	if p.Type == thing.TypeNumber {
		least, most = p.Minimum, p.Maximum
	}
	for _, s := range samples {
		lamp.Light = append(lamp.Light, sensor.Sample{At: s.At, Value: min(max((s.Value-least)/(most-least), 0), 1)})
	}
	return lamp, nil
}

// tenth rounds lux for people.
func tenth(lux float64) float64 { return math.Round(lux*10) / 10 }

// TakeOffOwnLight learns what the lamps around a sensor give it, and gives its device a reading without them; if one is there, what is
// taken off is said anew.
func (h *Hub) TakeOffOwnLight(ctx context.Context, ref thing.Ref) error {
	own, err := h.OwnLight(ctx, ref)
	if err != nil {
		return err
	}
	if own.Why != "" {
		return &ConflictError{own.Why}
	}
	if !own.Sure {
		return &ConflictError{"It is not sure enough yet what its lamps give it."}
	}
	without := thing.Without{Of: ref.Name, Lamps: map[string]float64{}, Learned: h.clock.Now(), Times: own.Times, Left: own.Left}
	for _, l := range own.Lamps {
		if l.Lux > 0 {
			without.Lamps[l.Device] = l.Lux
		}
	}
	if len(without.Lamps) == 0 {
		return &ConflictError{"It does not see the lamps of its room, so there is nothing to take off."}
	}
	return h.saveWithout(ctx, ref.Device, &without)
}

// LeaveOwnLight takes away the reading without its lamps.
func (h *Hub) LeaveOwnLight(ctx context.Context, ref thing.Ref) error {
	return h.saveWithout(ctx, ref.Device, &thing.Without{Of: ref.Name})
}

func (h *Hub) saveWithout(ctx context.Context, id string, without *thing.Without) error {
	view, err := h.Device(ctx, id)
	if err != nil {
		return err
	}
	device := view.Device
	device.Description = cloneDescription(&device.Description)
	if err := device.Description.TakeOff(without); err != nil {
		return Invalid("property", connect.Sentence(err))
	}
	_, err = h.Save(ctx, New{Kind: docs.KindDevice, ID: id, Document: &device})
	return err
}
