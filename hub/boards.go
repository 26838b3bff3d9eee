package hub

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"slices"
	"time"

	"amvek/core/board"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/hub/docs"
	"amvek/hub/uploads"
	"amvek/store"
)

// DraftOf is what a dashboard is drafted for: what was picked, a room, a floor, or where nothing is named the whole house.
type DraftOf struct {
	Picked []board.Pick `json:"picked,omitempty" maxItems:"200" doc:"What stands on it, in this order, instead of all of a room, a floor or the house."`
	Room   string       `json:"room,omitempty" doc:"Id of the room."`
	Floor  string       `json:"floor,omitempty" doc:"Name of the floor."`
}

// Drafted is a dashboard that was drafted.
type Drafted struct {
	Dashboard  board.Dashboard        `json:"dashboard"`
	TallPlaces map[string]board.Place `json:"tallPlaces" doc:"Where each control would lie on a tall screen, in twelve columns, by its id."`
}

// DraftDashboard lays out a dashboard from what is there. It is not saved.
func (h *Hub) DraftDashboard(ctx context.Context, of DraftOf) (*Drafted, error) {
	d, err := h.draftDashboard(ctx, of)
	if err != nil {
		return nil, err
	}
	return &Drafted{*d, d.Tall()}, nil
}

func (h *Hub) draftDashboard(ctx context.Context, of DraftOf) (d *board.Dashboard, err error) {
	failed := h.do(ctx, func() {
		if len(of.Picked) > 0 {
			there := slices.DeleteFunc(slices.Clone(of.Picked), func(p board.Pick) bool { return !h.has(p) })
			d = board.Picked(h.definitions.House().Title, there, h.knownToBoards())
			return
		}
		rooms := h.roomsOf(of)
		title := h.definitions.House().Title
		switch {
		case len(rooms) == 0:
			err = Invalid("room", "There is no such room.")
			return
		case of.Room != "":
			title = rooms[0].Title
		case of.Floor != "":
			title = of.Floor
		}
		d = board.Draft(title, rooms, h.knownToBoards())
		if len(d.Controls) == 0 {
			err = &ConflictError{"There is nothing in it yet that could stand on a dashboard."}
		}
	})
	if failed != nil {
		return nil, failed
	}
	return d, err
}

// roomsOf returns the rooms that a dashboard is drafted for, in the owner's order. It runs in the loop.
func (h *Hub) roomsOf(of DraftOf) []board.Room {
	var rooms []board.Room
	ids := h.definitions.Rooms.IDs()
	slices.SortStableFunc(ids, func(a, b string) int { return h.definitions.Rooms[a].Doc.Order - h.definitions.Rooms[b].Doc.Order })
	for _, id := range ids {
		room := h.definitions.Rooms[id].Doc
		if of.Room != "" && id != of.Room || of.Room == "" && of.Floor != "" && room.Floor != of.Floor {
			continue
		}
		rooms = append(rooms, board.Room{ID: id, Title: room.Title})
	}
	return rooms
}

// knownToBoards returns what of the home dashboards are made from. It runs in the loop.
func (h *Hub) knownToBoards() board.Known {
	known := board.Known{Devices: map[string]*home.Device{}}
	for id, d := range h.definitions.Devices {
		if d.Doc.Connection != PanelsID { // a panel shows dashboards, and stands on none
			known.Devices[id] = d.Doc
		}
	}
	for _, id := range h.definitions.Scenes.IDs() {
		scene := h.definitions.Scenes[id].Doc
		known.Scenes = append(known.Scenes, board.Made{ID: id, Title: scene.Title, Devices: devicesOf(scene)})
	}
	for _, id := range h.definitions.Lights.IDs() {
		known.Lights = append(known.Lights, board.Lit{ID: id, Rooms: h.definitions.Lights[id].Doc.Rooms})
	}
	return known
}

func devicesOf(scene *light.Scene) []string {
	var all []string
	for _, t := range scene.Targets {
		if !slices.Contains(all, t.Device) {
			all = append(all, t.Device)
		}
	}
	return all
}

// Repointing is controls to be copied, and what each of their devices, scenes and lights is to be replaced by.
type Repointing struct {
	Controls []board.Control `json:"controls" maxItems:"400"`
	Room     string          `json:"room" doc:"Id of the room that they are pointed to."`
	// Choices say what replaces what, by its id; as proposed where nothing is said.
	Choices map[string]string `json:"choices,omitempty" doc:"What replaces each device and scene, by its id: another id, leave out, or as it is. As proposed where nothing is said."`
	Below   int               `json:"below,omitempty" minimum:"0" maximum:"400" doc:"The row at which the copies begin."`
}

// Repointed is how controls are pointed to another room.
type Repointed struct {
	Rows     []board.Replacement `json:"rows"`
	Controls []board.Control     `json:"controls" doc:"The copies, as they would stand."`
}

// Repoint points copies of some controls to what is in another room. Nothing is saved.
func (h *Hub) Repoint(ctx context.Context, of Repointing) (r *Repointed, err error) {
	failed := h.do(ctx, func() {
		room := h.definitions.Rooms[of.Room].Doc
		if room == nil {
			err = Invalid("room", "There is no such room.")
			return
		}
		known := h.knownToBoards()
		to := board.Target{
			Room: board.Room{ID: of.Room, Title: room.Title}, Rooms: map[string]string{},
			Devices: known.Devices, Scenes: known.Scenes, Lights: known.Lights,
		}
		for id, r := range h.definitions.Rooms {
			to.Rooms[id] = r.Doc.Title
		}
		r = &Repointed{Rows: board.Match(of.Controls, to)}
		choices := map[string]string{}
		for _, row := range r.Rows {
			choices[row.From] = row.To
			if chosen, said := of.Choices[row.From]; said {
				choices[row.From] = chosen
			}
		}
		r.Controls, err = board.Repoint(of.Controls, choices, known.Devices, func() string { return docs.NewID("control") }, of.Below)
		if err != nil {
			err = Invalid("choices", capital(err.Error())+".")
		}
	})
	if failed != nil {
		return nil, failed
	}
	return r, err
}

// Upload is a picture that was uploaded for dashboards.
type Upload struct {
	ID     string `json:"id"`
	Width  int    `json:"width"`
	Height int    `json:"height"`
	// Darkest and Lightest are the relative luminances between which nearly all of it lies (WCAG 2.2).
	Darkest  float64 `json:"darkest" doc:"The relative luminance that nearly all of it is above, from 0 to 1 (WCAG 2.2)."`
	Lightest float64 `json:"lightest" doc:"The relative luminance that nearly all of it is below, from 0 to 1."`
}

// most is how many pictures a home keeps.
const mostUploads = 500

// TakeUpload takes in a picture for dashboards: checked, turned upright and scaled.
func (h *Hub) TakeUpload(ctx context.Context, data []byte) (*Upload, error) {
	sum := sha256.Sum256(data)
	id := "upload-" + hex.EncodeToString(sum[:12])
	if known, err := h.store.Upload(ctx, id); err != nil || known != nil {
		return uploadOf(known), err
	}
	all, err := h.store.Uploads(ctx)
	switch {
	case err != nil:
		return nil, err
	case len(all) >= mostUploads:
		return nil, &ConflictError{"There are too many pictures already. Those on no dashboard are dropped after a month."}
	}
	picture, err := h.taker.Take(data)
	switch {
	case errors.Is(err, uploads.ErrNoPicture), errors.Is(err, uploads.ErrTooLarge):
		return nil, Invalid("", capital(err.Error())+".")
	case err != nil:
		return nil, err
	}
	kept := &store.Upload{
		ID: id, JPEG: picture.JPEG, Width: picture.Width, Height: picture.Height, Darkest: picture.Darkest, Lightest: picture.Lightest, Made: h.clock.Now(),
	}
	if err := h.store.PutUpload(ctx, kept); err != nil {
		return nil, err
	}
	return uploadOf(kept), nil
}

func uploadOf(u *store.Upload) *Upload {
	if u == nil {
		return nil
	}
	return &Upload{ID: u.ID, Width: u.Width, Height: u.Height, Darkest: u.Darkest, Lightest: u.Lightest}
}

// Uploads returns the pictures that were uploaded, the newest first.
func (h *Hub) Uploads(ctx context.Context) ([]Upload, error) {
	all, err := h.store.Uploads(ctx)
	list := make([]Upload, 0, len(all))
	for i := range all {
		list = append(list, *uploadOf(&all[i]))
	}
	return list, err
}

// UploadedPicture returns a picture as a JPEG.
func (h *Hub) UploadedPicture(ctx context.Context, id string) ([]byte, error) {
	u, err := h.store.Upload(ctx, id)
	if err != nil {
		return nil, err
	}
	if u == nil {
		return nil, Absent("There is no such picture.")
	}
	return u.JPEG, nil
}

// uploadsKept is for how long a picture is kept that stands on no dashboard.
const uploadsKept = 30 * 24 * time.Hour

// dropUnusedUploads forgets pictures that no dashboard shows, or ever showed.
func (h *Hub) dropUnusedUploads(ctx context.Context) {
	if err := h.store.DropUnusedUploads(ctx, h.clock.Now().Add(-uploadsKept)); err != nil && !errors.Is(err, context.Canceled) {
		h.log.Error("pictures that no dashboard shows could not be dropped", "error", err)
	}
}
