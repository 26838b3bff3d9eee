package views

import (
	"slices"
	"time"

	"amvek/core/board"
	"amvek/core/home"
	"amvek/hub/docs"
)

// DashboardView is a dashboard.
type DashboardView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	board.Dashboard
	TallPlaces map[string]board.Place `json:"tallPlaces" doc:"Where each control lies on a tall screen, in twelve columns, by its id."`
}

// Dashboard returns a dashboard that there is.
func (r *Reader) Dashboard(id string) DashboardView {
	d := r.Definitions.Dashboards[id]
	return DashboardView{ID: id, Revision: d.Revision, Dashboard: *d.Doc, TallPlaces: d.Doc.Tall()}
}

// RoomView is a room.
type RoomView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	home.Room
}

// Room returns a room that there is.
func (r *Reader) Room(id string) RoomView {
	kept := r.Definitions.Rooms[id]
	return RoomView{ID: id, Revision: kept.Revision, Room: *kept.Doc}
}

// HouseView is the house without its rooms.
type HouseView struct {
	Revision int `json:"revision"`
	home.Home
}

// House returns the house without its rooms.
func (r *Reader) House() HouseView {
	return HouseView{Revision: r.Definitions.Homes[docs.HomeID].Revision, Home: *r.Definitions.House()}
}

// HomeView is the house with its rooms.
type HomeView struct {
	Revision int `json:"revision"`
	home.Home
	Rooms []RoomView `json:"rooms"`
	Now   time.Time  `json:"now" doc:"By the hub's clock."`
}

// Home returns the house with its rooms in the owner's order.
func (r *Reader) Home() HomeView {
	house := r.House()
	view := HomeView{Revision: house.Revision, Home: house.Home, Rooms: []RoomView{}, Now: r.Now()}
	for _, id := range r.Definitions.Rooms.IDs() {
		view.Rooms = append(view.Rooms, r.Room(id))
	}
	slices.SortStableFunc(view.Rooms, func(a, b RoomView) int { return a.Order - b.Order })
	return view
}
