package views

import (
	"slices"

	"amvek/core/home"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// DeviceHead is a device as it stands now, without its properties.
type DeviceHead struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	home.Device
	// Own says that it is the home itself, which is no device that could be edited or removed.
	Own bool `json:"own,omitempty" doc:"It is the home itself, no device that could be edited or removed."`
	// Silent says that it cannot be reached, so that its values may be stale.
	Silent       bool   `json:"silent"`
	SilentReason string `json:"silentReason,omitempty" doc:"Why it cannot be reached."`
	// Light is the property by which its light is dimmed or switched.
	Light string `json:"light,omitempty" doc:"The property by which its light is dimmed or switched; absent for what is no lamp."`
	// Captured says that a scene may take more of it than its light.
	Captured bool `json:"captured,omitempty" doc:"A scene may take more of it than its light."`
	// Gestures are those that its keys give, by event, and Times how presses are told apart; absent for what has no keys.
	Gestures map[string]Gestures `json:"gestures,omitempty" doc:"The gestures of its keys, by event."`
	Times    *home.KeyTiming     `json:"times,omitempty" doc:"How presses of its keys are told apart: as was chosen, or as usual."`
	// UsedBy are the definitions that refer to it.
	UsedBy []docs.Use `json:"usedBy"`
	Care   Care       `json:"care"`
	// Undone are the actions that it did not carry out when it was asked last.
	Undone []Undone `json:"undone,omitempty" doc:"The actions that it did not carry out when it was asked last."`
}

// Gestures are what a key gives.
type Gestures struct {
	All []string `json:"all" doc:"All that rules can tell apart; empty for one that only happens."`
	// Made are those of them that the hub makes of what the device sends.
	Made []string `json:"made,omitempty" doc:"Those of them that the hub makes of what the device sends."`
}

// gestures returns the gestures of a device's keys, and how its presses are told apart.
func gestures(d *home.Device) (all map[string]Gestures, times *home.KeyTiming) {
	for i := range d.Description.Events {
		e := &d.Description.Events[i]
		if e.Role != thing.RolePress {
			continue
		}
		if all == nil {
			all = map[string]Gestures{}
		}
		all[e.Name] = Gestures{All: e.Gestures(), Made: e.Made()}
	}
	if all != nil {
		t := d.Keys.Timing()
		times = &home.KeyTiming{Within: int(t.Within.Milliseconds()), Hold: int(t.Hold.Milliseconds()), Limit: int(t.Limit.Milliseconds())}
	}
	return all, times
}

// laidOut returns the events of a device with its keys where its owner has them.
func laidOut(d *home.Device) []thing.Event {
	if len(d.Layout) == 0 {
		return d.Description.Events
	}
	events := slices.Clone(d.Description.Events)
	for i := range events {
		if at, is := d.Layout[events[i].Name]; is {
			events[i].Layout = &at
		}
	}
	return events
}

// DeviceView is a device as it stands now.
type DeviceView struct {
	DeviceHead
	States []PropertyView `json:"states"`
}

// DeviceHead returns a device that there is, without its properties.
func (r *Reader) DeviceHead(id string) DeviceHead {
	d := r.Definitions.Devices[id]
	v := DeviceHead{
		ID: id, Revision: d.Revision, Device: *d.Doc, Own: id == docs.OwnID, Light: d.Doc.Light(), Captured: d.Doc.Captured(),
		UsedBy: r.Definitions.UsedBy(id),
	}
	v.Silent, v.SilentReason = r.Links.Unreached(d.Doc)
	if said := r.fellSilent(id); said != "" && !v.Silent {
		v.Silent, v.SilentReason = true, said
	}
	v.Gestures, v.Times = gestures(d.Doc)
	v.Description.Events = laidOut(d.Doc)
	v.Care = r.care(id, d.Doc)
	v.Undone = r.Kept.Undone(id)
	return v
}

// Device returns a device that there is.
func (r *Reader) Device(id string) DeviceView {
	v := DeviceView{DeviceHead: r.DeviceHead(id), States: []PropertyView{}}
	for _, p := range v.Description.Properties {
		ref := thing.Ref{Device: id, Name: p.Name}
		if state, ok := r.Engine.PropertyState(ref); ok {
			v.States = append(v.States, r.Property(ref, state))
		}
	}
	return v
}
