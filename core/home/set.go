package home

import "strings"

// SetKind says what a set of devices is: wherever rules may speak of a group, they may speak of the devices of a room, of a
// floor, or with a label, too.
type SetKind string

// The kinds of sets. Groups and rooms are named by their ids; floors and labels have no id but what they are called.
const (
	SetOfGroup SetKind = ""
	SetOfFloor SetKind = "floor:"
	SetOfLabel SetKind = "label:"
)

// KindOfSet tells floors and labels from groups and rooms, by the id of the set.
func KindOfSet(id string) SetKind {
	for _, kind := range []SetKind{SetOfFloor, SetOfLabel} {
		if strings.HasPrefix(id, string(kind)) {
			return kind
		}
	}
	return SetOfGroup
}

// Sets returns the ids of the sets, besides groups, that a device is in.
func (d *Device) Sets(room *Room) (ids []string) {
	if d.Room != "" {
		ids = append(ids, d.Room)
	}
	if room != nil && room.Floor != "" {
		ids = append(ids, string(SetOfFloor)+room.Floor)
	}
	for _, label := range d.Labels {
		ids = append(ids, string(SetOfLabel)+label)
	}
	return ids
}

// SetTitle says what a floor or label is called in a sentence, "" for other sets.
func SetTitle(id string) string {
	switch kind := KindOfSet(id); kind {
	case SetOfFloor:
		return "the floor " + strings.TrimPrefix(id, string(kind))
	case SetOfLabel:
		return "what is labelled " + strings.TrimPrefix(id, string(kind))
	default:
		return ""
	}
}
