package hub

import (
	"context"
	"fmt"

	"amvek/core/home"
	"amvek/hub/docs"
)

// RoomPlace says on which floor a room is.
type RoomPlace struct {
	ID    string `json:"id"`
	Floor string `json:"floor,omitempty" maxLength:"60"`
}

// ArrangeRooms puts rooms into an order and on floors, all at once. Rooms that are not named come last, as they were.
func (h *Hub) ArrangeRooms(ctx context.Context, places []RoomPlace) error {
	var all []New
	var err error
	if failed := h.do(ctx, func() {
		named := map[string]bool{}
		for i, p := range places {
			room := h.definitions.Rooms[p.ID].Doc
			switch {
			case room == nil:
				err = Invalid(fmt.Sprintf("[%d].id", i), "There is no such room.")
				return
			case named[p.ID]:
				err = Invalid(fmt.Sprintf("[%d].id", i), fmt.Sprintf("%s is named twice.", room.Title))
				return
			}
			named[p.ID] = true
			if room.Order != i || room.Floor != p.Floor {
				all = append(all, New{Kind: docs.KindRoom, ID: p.ID, Document: &home.Room{Title: room.Title, Floor: p.Floor, Order: i}})
			}
		}
		for _, id := range h.definitions.Rooms.IDs() {
			room := *h.definitions.Rooms[id].Doc
			if !named[id] && room.Order < len(places) {
				room.Order += len(places)
				all = append(all, New{Kind: docs.KindRoom, ID: id, Document: &room})
			}
		}
	}); failed != nil {
		return failed
	}
	if err != nil || len(all) == 0 {
		return err
	}
	_, err = h.SaveAll(ctx, all)
	return err
}
