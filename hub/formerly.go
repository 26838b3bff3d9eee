package hub

import (
	"context"
	"fmt"

	"amvek/core/home"
	"amvek/hub/docs"
)

// Former is a device that was in the home and was removed; found again, it can have its old place.
type Former struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	Room  string `json:"room,omitempty" doc:"Name of the room that it was in."`

	room string // its id
}

// hardwareKey names hardware behind a connection.
type hardwareKey struct{ connection, hardware string }

// rememberFormer takes up which devices were removed.
func (h *Hub) rememberFormer(ctx context.Context) error {
	h.former = map[hardwareKey]Former{}
	all, err := h.store.Removed(ctx, string(docs.KindDevice))
	if err != nil {
		return fmt.Errorf("reading the definitions: %w", err)
	}
	for _, d := range all {
		if doc, err := docs.Decode(docs.KindDevice, d.Document); err == nil { // one that cannot be read has no place to go back to
			h.becameFormer(d.ID, doc.(*home.Device))
		}
	}
	return nil
}

func (h *Hub) becameFormer(id string, d *home.Device) {
	h.former[hardwareKey{d.Connection, d.Hardware}] = Former{ID: id, Title: d.Title, room: d.Room}
}

// formerly returns the device that hardware which is not in the home was, nil where it never was one. It runs in the loop.
func (h *Hub) formerly(connection, hardware string) *Former {
	f, was := h.former[hardwareKey{connection, hardware}]
	if !was {
		return nil
	}
	if room := h.definitions.Rooms[f.room].Doc; room != nil {
		f.Room = room.Title
	}
	return &f
}
