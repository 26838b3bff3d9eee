package hub

import (
	"context"
	"fmt"
	"slices"
	"time"

	"amvek/connect"
	"amvek/core/home"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/hub/links"
)

// Candidate is a device in the home whose place a found one may take.
type Candidate struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	// LastHeard is when it last said something; absent when it never did.
	LastHeard time.Time `json:"lastHeard,omitzero"`
}

// candidates returns the devices of the same model that have said nothing since a found one first
// appeared: it may be one of them, come back with another identity. It runs in the loop.
func (h *Hub) candidates(l *links.Link, a connect.Announcement) []Candidate {
	if a.Profile == nil || a.Model == "" || l.Device(a.Hardware) != "" {
		return nil
	}
	var found []Candidate
	for _, id := range h.ofModel(a.Maker, a.Model) {
		d := h.definitions.Device(id)
		if last := h.lastHeard(id, d); !last.IsZero() && last.Before(l.SeenSince(a.Hardware)) {
			found = append(found, Candidate{id, d.Title, last})
		}
	}
	slices.SortStableFunc(found, func(x, y Candidate) int { return y.LastHeard.Compare(x.LastHeard) })
	return found
}

// ofModel returns the devices of a maker's model, by their ids. It runs in the loop.
func (h *Hub) ofModel(maker, model string) []string {
	if h.models == nil {
		h.models = map[[2]string][]string{}
		for _, id := range h.definitions.Devices.IDs() {
			d := h.definitions.Device(id)
			of := [2]string{d.Maker, d.Model}
			h.models[of] = append(h.models[of], id)
		}
	}
	return h.models[[2]string{maker, model}]
}

// lastHeard returns when a device last said anything.
func (h *Hub) lastHeard(id string, d *home.Device) (last time.Time) {
	for _, p := range d.Description.Properties {
		if state, ok := h.engine.PropertyState(thing.Ref{Device: id, Name: p.Name}); ok && state.ReportedAt.After(last) {
			last = state.ReportedAt
		}
	}
	return last
}

// ReplaceHardware puts found hardware in the place of a device in the home: name, room, note,
// history and everything that refers to it go on.
func (h *Hub) ReplaceHardware(ctx context.Context, id, connection, hardware string) error {
	var err error
	var doc home.Device
	failed := h.do(ctx, func() {
		d := h.definitions.Device(id)
		if d == nil {
			err = Absent("There is no such device.")
			return
		}
		var found connect.Announcement
		if found, err = h.announcement("hardware", Adding{Connection: connection, Hardware: hardware}); err != nil {
			return
		}
		if other := h.links[connection].Device(hardware); other != "" {
			err = Invalid("hardware", fmt.Sprintf("It is in the home already, as %s.", h.titles[other]))
			return
		}
		if lost := missing(&d.Description, &found.Profile.Description); len(lost) > 0 {
			err = Invalid("hardware", fmt.Sprintf("It is another kind of device: it has no %s.", lost[0]))
			return
		}
		doc = *d
		doc.Connection, doc.Hardware, doc.Address, doc.Maker, doc.Model = connection, hardware, found.Address, found.Maker, found.Model
		doc.Description = cloneDescription(&found.Profile.Description)
		doc.Description.CarryOver(&d.Description) // the other one hangs where it hung
		doc.Lighting = nil                        // and is another lamp
		h.bindHardware(d.Connection, d.Hardware, "")
	})
	if failed != nil || err != nil {
		return firstError(failed, err)
	}
	if _, err := h.Save(ctx, New{Kind: docs.KindDevice, ID: id, Document: &doc}); err != nil {
		return err
	}
	return h.do(ctx, func() {
		h.touchFound()
		h.recall(connection, hardware)
	})
}

func firstError(all ...error) error {
	for _, err := range all {
		if err != nil {
			return err
		}
	}
	return nil
}

// EditDevices renames, moves or labels several devices, all or none; what is nil stays.
func (h *Hub) EditDevices(ctx context.Context, edits []DeviceEdit) error {
	var all []New
	var err error
	failed := h.do(ctx, func() {
		for i, e := range edits {
			d, there := h.definitions.Devices[e.ID]
			if !there {
				err = Invalid(fmt.Sprintf("[%d].id", i), "There is no such device.")
				return
			}
			doc := *d.Doc
			if e.Title != nil {
				doc.Title = *e.Title
			}
			if e.Room != nil {
				doc.Room = *e.Room
			}
			if e.Labels != nil {
				doc.Labels = *e.Labels
			}
			if e.AttendedOnly != nil {
				doc.AttendedOnly = *e.AttendedOnly
			}
			if e.Lamp != nil {
				doc.Lamp = *e.Lamp
			}
			if e.Agreement != nil {
				doc.Agreement = e.Agreement
			}
			all = append(all, New{Kind: docs.KindDevice, ID: e.ID, Document: &doc})
		}
	})
	if failed != nil || err != nil {
		return firstError(failed, err)
	}
	_, err = h.SaveAll(ctx, all)
	return err
}

// DeviceEdit is what the owner changes about one of several devices.
type DeviceEdit struct {
	ID     string    `json:"id"`
	Title  *string   `json:"title,omitempty" minLength:"1" maxLength:"120"`
	Room   *string   `json:"room,omitempty" doc:"Id of a room; empty takes it out of every room."`
	Labels *[]string `json:"labels,omitempty" maxItems:"20"`
	// AttendedOnly says that only a hand switches it on.
	AttendedOnly *bool `json:"attendedOnly,omitempty"`
	// Lamp says that its switch feeds a lamp.
	Lamp *bool `json:"lamp,omitempty" doc:"Its switch feeds a lamp."`
	// Agreement is how differences between hub and device are dealt with.
	Agreement *home.Agreement `json:"agreement,omitempty"`
}
