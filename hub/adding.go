package hub

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"amvek/connect"
	"amvek/core/home"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// Adding is a found device to take into the home.
type Adding struct {
	Connection string `json:"connection"`
	Hardware   string `json:"hardware"`
	Title      string `json:"title" doc:"Its name; empty takes the proposed one."`
	Room       string `json:"room,omitempty" doc:"Id of its room."`
}

// Proposal is a name proposed for a found device, and what it may be confused with.
type Proposal struct {
	Hardware string `json:"hardware"`
	Title    string `json:"title"`
	// Near is the name of another device that looks almost the same.
	Near string `json:"near,omitempty"`
}

// Propose returns names by the owner's pattern for the untitled, and warns of near-duplicates.
func (h *Hub) Propose(ctx context.Context, adding []Adding) (proposals []Proposal, err error) {
	failed := h.do(ctx, func() { proposals, err = h.propose(adding) })
	return proposals, errors.Join(failed, err)
}

func (h *Hub) propose(adding []Adding) ([]Proposal, error) {
	var names []string
	for _, id := range h.definitions.Devices.IDs() {
		names = append(names, h.definitions.Devices[id].Doc.Title)
	}
	proposals := make([]Proposal, 0, len(adding))
	for i, a := range adding {
		found, err := h.announcement(fmt.Sprintf("devices[%d]", i), a)
		if err != nil {
			return nil, err
		}
		title := strings.TrimSpace(a.Title)
		if title == "" && strings.HasPrefix(a.Hardware, composedPrefix) {
			title = found.Label // whoever made it gave it its name
		}
		if title == "" {
			of := home.Naming{Maker: found.Maker, What: found.Profile.What}
			if room := h.definitions.Rooms[a.Room].Doc; room != nil {
				of.Room = room.Title
			}
			title = home.ProposeName(h.definitions.House().NamePattern, of, func(name string) bool { return slices.Contains(names, name) })
		}
		proposal := Proposal{Hardware: a.Hardware, Title: title}
		if near, ok := home.NearDuplicate(title, names); ok {
			proposal.Near = near
		}
		names = append(names, title)
		proposals = append(proposals, proposal)
	}
	return proposals, nil
}

// Renaming is a device in the home that is to be called otherwise.
type Renaming struct {
	ID    string  `json:"id"`
	Title string  `json:"title,omitempty" maxLength:"120" doc:"The name that it is to have; absent to have one proposed by the pattern."`
	Room  *string `json:"room,omitempty" doc:"Id of the room that it is to be in; absent for the one that it is in."`
}

// Renamed is a name for a device in the home, and what it may be confused with.
type Renamed struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	// Near is the name of another device that looks almost the same.
	Near string `json:"near,omitempty" doc:"Another device, whose name looks almost the same."`
}

// ProposeAgain returns names for devices in the home by the owner's pattern, and warns of near-duplicates. Nothing is renamed.
func (h *Hub) ProposeAgain(ctx context.Context, all []Renaming) (names []Renamed, err error) {
	names = []Renamed{}
	failed := h.do(ctx, func() {
		renamed := map[string]bool{}
		for _, r := range all {
			renamed[r.ID] = true
		}
		var taken []string
		for _, id := range h.definitions.Devices.IDs() {
			if !renamed[id] {
				taken = append(taken, h.definitions.Devices[id].Doc.Title)
			}
		}
		for i, r := range all {
			d := h.definitions.Device(r.ID)
			if d == nil || r.ID == docs.OwnID {
				err = Invalid(fmt.Sprintf("[%d].id", i), "There is no such device.")
				return
			}
			now := Renamed{ID: r.ID, Title: strings.TrimSpace(r.Title)}
			if now.Title == "" {
				now.Title = h.patterned(d, r.Room, taken)
			}
			if near, is := home.NearDuplicate(now.Title, taken); is {
				now.Near = near
			}
			taken = append(taken, now.Title)
			names = append(names, now)
		}
	})
	return names, errors.Join(failed, err)
}

// patterned returns a name for a device by the owner's pattern that nothing else has. It runs in the loop.
func (h *Hub) patterned(d *home.Device, room *string, taken []string) string {
	of := home.Naming{Maker: d.Maker}
	if model := h.catalogue.Find(d.Model); model != nil {
		of.What = model.What
	} else {
		of.What = strings.ToLower(d.Title) // without a profile it is what it is called, but for its room
		if r := h.definitions.Rooms[d.Room].Doc; r != nil {
			of.What = strings.TrimPrefix(of.What, strings.ToLower(r.Title)+" ")
		}
	}
	id := d.Room
	if room != nil {
		id = *room
	}
	if r := h.definitions.Rooms[id].Doc; r != nil {
		of.Room = r.Title
	}
	return home.ProposeName(h.definitions.House().NamePattern, of, func(name string) bool { return slices.Contains(taken, name) })
}

func (h *Hub) announcement(place string, a Adding) (connect.Announcement, error) {
	l := h.links[a.Connection]
	if l == nil {
		return connect.Announcement{}, Invalid(place, "The connection is gone.")
	}
	seen, there := l.Announced(a.Hardware)
	switch {
	case !there:
		return connect.Announcement{}, Invalid(place, "The device is no longer announced.")
	case seen.Profile == nil:
		return connect.Announcement{}, Invalid(place, fmt.Sprintf("No profile for the model %s is installed.", seen.Model))
	}
	return seen, nil
}

// Add takes found devices into the home, all or none, and returns their ids.
func (h *Hub) Add(ctx context.Context, adding []Adding) ([]string, error) {
	var all []New
	var err error
	failed := h.do(ctx, func() {
		var proposals []Proposal
		if proposals, err = h.propose(adding); err != nil {
			return
		}
		for i, a := range adding {
			found, _ := h.announcement("", a)
			if id := h.links[a.Connection].Device(a.Hardware); id != "" {
				err = Invalid(fmt.Sprintf("devices[%d]", i), fmt.Sprintf("It is in the home already, as %s.", h.titles[id]))
				return
			}
			d := &home.Device{
				Title: proposals[i].Title, Room: a.Room, Connection: a.Connection, Address: found.Address, Hardware: a.Hardware,
				Maker: found.Maker, Model: found.Model, Description: cloneDescription(&found.Profile.Description),
			}
			d.Lamp = found.Profile.What == "lamp" && d.Light() == ""
			all = append(all, New{Kind: docs.KindDevice, ID: docs.NewID(docs.KindDevice), Document: d})
		}
	})
	if err := errors.Join(failed, err); err != nil {
		return nil, err
	}
	if len(all) == 0 {
		return nil, Invalid("devices", "Choose at least one device.")
	}
	if _, err := h.SaveAll(ctx, all); err != nil {
		return nil, err
	}
	ids := make([]string, len(all))
	for i := range all {
		ids[i] = all[i].ID
	}
	return ids, h.do(ctx, func() {
		h.touchFound()
		added := map[string][]string{} // hardware by connection
		for _, a := range adding {
			added[a.Connection] = append(added[a.Connection], a.Hardware)
		}
		for connection, hardware := range added {
			h.recall(connection, hardware...)
		}
	})
}

func cloneDescription(d *thing.Description) thing.Description {
	copied := *d
	copied.Properties, copied.Events, copied.Actions = slices.Clone(d.Properties), slices.Clone(d.Events), slices.Clone(d.Actions)
	copied.Pictures = slices.Clone(d.Pictures)
	return copied
}
