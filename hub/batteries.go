package hub

import (
	"time"

	"amvek/core/battery"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/store"
)

const (
	// batteryHistory is how far back a battery's readings are looked at.
	batteryHistory = 120 * 24 * time.Hour
)

// projectBattery looks at a battery's history, outside the loop, and keeps when it will be empty.
func (h *Hub) projectBattery(device, property string) {
	h.workers.Go(func() {
		now := h.clock.Now()
		samples, err := h.store.Samples(h.context, device, property, now.Add(-batteryHistory), now.Add(time.Second))
		if err != nil {
			return // the hub is stopping, or the store says elsewhere what is wrong
		}
		readings := make([]battery.Reading, len(samples))
		for i, s := range samples {
			readings[i] = battery.Reading{At: s.At, Percent: s.Value}
		}
		projection, known := battery.Project(readings)
		h.inbox.push(item{job: func() {
			if known {
				h.projections[device] = projection
			} else {
				delete(h.projections, device)
			}
			h.attend(device)
			h.touch(docs.KindDevice, device)
		}})
	})
}

// projectBatteries does so for all devices, at a start.
func (h *Hub) projectBatteries() {
	for id, d := range h.definitions.Devices {
		for _, p := range d.Doc.Description.Properties {
			if p.Role == thing.RoleBattery {
				h.projectBattery(id, p.Name)
			}
		}
	}
}

// measured runs when a property's reading went into its history.
func (h *Hub) measured(ref thing.Ref, value thing.Value) {
	h.store.AddSample(ref.Device, ref.Name, store.Sample{At: h.clock.Now(), Value: value.Number})
	if p := h.engine.Property(ref.Device, ref.Name); p != nil && p.Role == thing.RoleBattery {
		h.projectBattery(ref.Device, ref.Name)
	}
}
