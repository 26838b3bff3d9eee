package hub

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"amvek/core/board"
)

// favoritesAtMost is how many favorites somebody has at most.
const favoritesAtMost = 60

// favoritesOf is the setting that keeps somebody's; "" is whoever is at the hub's own machine.
func favoritesOf(person string) string { return "favorites of " + person }

// Favorites returns what somebody keeps at hand, in their order; what is not in the home any more is left out.
func (h *Hub) Favorites(ctx context.Context, person string) (list []board.Pick, err error) {
	kept, err := h.favorites(ctx, person)
	if err != nil {
		return nil, err
	}
	err = h.do(ctx, func() {
		list = slices.DeleteFunc(slices.Clone(kept), func(p board.Pick) bool { return !h.has(p) })
	})
	return list, err
}

// favorites returns what is kept, also of what is not in the home now: it may come back.
func (h *Hub) favorites(ctx context.Context, person string) ([]board.Pick, error) {
	list := []board.Pick{}
	text, err := h.store.Setting(ctx, favoritesOf(person))
	if err != nil || text == "" {
		return list, err
	}
	if json.Unmarshal([]byte(text), &list) != nil {
		h.log.Error("what somebody keeps at hand cannot be read, and is chosen anew", "person", person)
		return []board.Pick{}, nil
	}
	return list, nil
}

// has reports whether something that was picked is in the home. It runs in the loop.
func (h *Hub) has(p board.Pick) bool {
	d := h.definitions
	switch p.Kind {
	case board.PickDevice:
		return d.Devices[p.ID].Doc != nil
	case board.PickScene:
		return d.Scenes[p.ID].Doc != nil
	case board.PickSequence:
		return d.Sequences[p.ID].Doc != nil
	case board.PickRule:
		return d.Rules[p.ID].Doc != nil
	case board.PickDashboard:
		return d.Dashboards[p.ID].Doc != nil
	case board.PickRoom:
		return d.Rooms[p.ID].Doc != nil
	default:
		return false
	}
}

// KeepAtHand puts something among somebody's favorites, at a place counted from 0, or where it is one already, to that place.
func (h *Hub) KeepAtHand(ctx context.Context, person string, p board.Pick, at int) error {
	there := false
	if err := h.do(ctx, func() { there = h.has(p) }); err != nil {
		return err
	}
	if !there {
		return Absent(fmt.Sprintf("There is no such %s.", p.Kind))
	}
	return h.changeFavorites(ctx, person, func(list []board.Pick) ([]board.Pick, error) {
		list = slices.DeleteFunc(list, func(o board.Pick) bool { return o == p })
		if len(list) >= favoritesAtMost {
			return nil, &ConflictError{fmt.Sprintf("%d things are at hand already. Take one away first.", favoritesAtMost)}
		}
		return slices.Insert(list, max(0, min(at, len(list))), p), nil
	})
}

// LeaveFromHand takes something from somebody's favorites.
func (h *Hub) LeaveFromHand(ctx context.Context, person string, p board.Pick) error {
	return h.changeFavorites(ctx, person, func(list []board.Pick) ([]board.Pick, error) {
		return slices.DeleteFunc(list, func(o board.Pick) bool { return o == p }), nil
	})
}

// changeFavorites changes somebody's favorites, one change after the other.
func (h *Hub) changeFavorites(ctx context.Context, person string, change func([]board.Pick) ([]board.Pick, error)) error {
	h.people.favorites.Lock()
	defer h.people.favorites.Unlock()
	list, err := h.favorites(ctx, person)
	if err != nil {
		return err
	}
	if list, err = change(list); err != nil {
		return err
	}
	data, err := json.Marshal(list)
	if err != nil {
		return err
	}
	return h.store.PutSetting(ctx, favoritesOf(person), string(data))
}
