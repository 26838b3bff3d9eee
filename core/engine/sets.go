package engine

import (
	"slices"

	"amvek/core/home"
	"amvek/core/rule"
)

// Devices returns the devices of a set: of a group in its order, of a room, a floor or a label by their ids. It is empty
// where there is no such set.
func (e *Engine) Devices(set string) []string {
	if g := e.groups[set]; g != nil {
		return g.Devices
	}
	if set == "" {
		return nil
	}
	if e.sets == nil {
		e.sets = map[string][]string{}
		for _, id := range sortedKeys(e.devices) {
			for _, of := range e.devices[id].Sets(e.rooms[e.devices[id].Room]) {
				e.sets[of] = append(e.sets[of], id)
			}
		}
	}
	return e.sets[set]
}

// HasGroup reports whether there is such a set of devices: a group or a room, even an empty one, or a floor or a label that
// some device has.
func (e *Engine) HasGroup(id string) bool {
	return e.groups[id] != nil || e.rooms[id] != nil || len(e.Devices(id)) > 0
}

// setsOf returns the ids of the sets, besides groups, that a device is in.
func (e *Engine) setsOf(device string) []string {
	d := e.devices[device]
	if d == nil {
		return nil
	}
	return d.Sets(e.rooms[d.Room])
}

// defineRoom takes a room, new, changed or gone (nil): its devices may now be of another floor.
func (e *Engine) defineRoom(id string, room *home.Room) {
	before := e.floorsOf(id)
	if room == nil {
		delete(e.rooms, id)
	} else {
		e.rooms[id] = room
	}
	e.sets = nil
	if after := e.floorsOf(id); !slices.Equal(before, after) || room == nil {
		e.refresh(id, slices.Concat(before, after)...)
	}
}

func (e *Engine) floorsOf(room string) []string {
	if r := e.rooms[room]; r != nil && r.Floor != "" {
		return []string{string(home.SetOfFloor) + r.Floor}
	}
	return nil
}

// concerning returns what reports whether what a rule or schedule refers to is touched by a change of a definition, or of sets:
// it is asked of all of them, so each set is looked through once.
func (e *Engine) concerning(id string, sets []string) func(u *rule.Uses) bool {
	has := map[string]bool{}
	within := func(set string) bool {
		is, known := has[set]
		if !known {
			is = slices.Contains(e.Devices(set), id)
			has[set] = is
		}
		return is
	}
	return func(u *rule.Uses) bool {
		return u.Has(id) || slices.ContainsFunc(u.Groups, within) || slices.ContainsFunc(sets, func(set string) bool {
			return set != "" && (slices.Contains(u.Rooms, set) || slices.Contains(u.Groups, set))
		})
	}
}
