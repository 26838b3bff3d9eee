package docs

import (
	"cmp"
	"maps"
	"slices"

	"amvek/core/board"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/link"
	"amvek/core/mirror"
	"amvek/core/rule"
)

// Kept is a definition in memory. Documents are never changed in place.
type Kept[T any] struct {
	Revision int
	Doc      *T
}

// Shelf holds the definitions of one kind, by id.
type Shelf[T any] map[string]Kept[T]

// IDs returns the ids of what is on the shelf, in order.
func (s Shelf[T]) IDs() []string { return slices.Sorted(maps.Keys(s)) }

// Documents returns what is on the shelf without its revisions.
func (s Shelf[T]) Documents() map[string]*T {
	docs := make(map[string]*T, len(s))
	for id, k := range s {
		docs[id] = k.Doc
	}
	return docs
}

// Set is all definitions that are at work. It belongs to whoever holds it: it is not safe for several goroutines.
type Set struct {
	Homes       Shelf[home.Home] // one, by HomeID
	Rooms       Shelf[home.Room]
	Connections Shelf[Connection]
	Profiles    Shelf[Profile]
	Things      Shelf[Thing]
	Devices     Shelf[home.Device]
	Scenes      Shelf[light.Scene]
	Rules       Shelf[rule.Rule]
	Schedules   Shelf[rule.Schedule]
	Dashboards  Shelf[board.Dashboard]
	Groups      Shelf[home.Group]
	Variables   Shelf[home.Variable]
	ModeLists   Shelf[home.Modes] // one, by ModesID, or none while the household has the usual ones
	Calendars   Shelf[home.Calendar]
	Sequences   Shelf[light.Sequence]
	Links       Shelf[link.Link]
	Mirrors     Shelf[mirror.Mirror]
	Lights      Shelf[light.RoomLight]
	Curves      Shelf[light.DayCurve]
	People      Shelf[home.Person]
	references  references
}

// NewSet returns a set without any definition.
func NewSet() Set {
	return Set{
		Homes: Shelf[home.Home]{}, Rooms: Shelf[home.Room]{}, Connections: Shelf[Connection]{}, Profiles: Shelf[Profile]{}, Things: Shelf[Thing]{},
		Devices: Shelf[home.Device]{}, Scenes: Shelf[light.Scene]{}, Rules: Shelf[rule.Rule]{}, Schedules: Shelf[rule.Schedule]{},
		Dashboards: Shelf[board.Dashboard]{}, Groups: Shelf[home.Group]{}, Variables: Shelf[home.Variable]{}, ModeLists: Shelf[home.Modes]{},
		Calendars: Shelf[home.Calendar]{}, Sequences: Shelf[light.Sequence]{}, Links: Shelf[link.Link]{}, Mirrors: Shelf[mirror.Mirror]{},
		Lights: Shelf[light.RoomLight]{}, Curves: Shelf[light.DayCurve]{},
		People: Shelf[home.Person]{}, references: newReferences(),
	}
}

// House returns the home as it is, or where its document cannot be read one that stands in for it meanwhile.
func (s *Set) House() *home.Home {
	if doc := s.Homes[HomeID].Doc; doc != nil {
		return doc
	}
	return &home.Home{Title: "Home", Zone: "UTC", NamePattern: "{room} {what}"}
}

// Modes returns the household's modes: its own, or those that a new home has.
func (s *Set) Modes() home.Modes {
	if doc := s.ModeLists[ModesID].Doc; doc != nil {
		return *doc
	}
	return home.UsualModes()
}

// Device returns a device, nil where there is none.
func (s *Set) Device(id string) *home.Device { return s.Devices[id].Doc }

// Put takes a document of a kind over, in the place of the one that was there.
func (s *Set) Put(kind Kind, id string, revision int, doc any) {
	traits, known := Of(kind)
	if !known {
		return
	}
	traits.put(s, id, revision, doc)
	s.references.put(Named{kind, id}, traits.Refers(id, doc))
}

// Drop takes a definition away.
func (s *Set) Drop(kind Kind, id string) {
	if traits, known := Of(kind); known {
		traits.drop(s, id)
		s.references.put(Named{kind, id}, nil)
	}
}

// Get returns a definition; it is false where there is none.
func (s *Set) Get(kind Kind, id string) (doc any, revision int, there bool) {
	traits, known := Of(kind)
	if !known {
		return nil, 0, false
	}
	return traits.get(s, id)
}

// Title returns what a definition is called, "" where there is none.
func (s *Set) Title(kind Kind, id string) string {
	doc, _, there := s.Get(kind, id)
	if !there {
		return ""
	}
	traits, _ := Of(kind)
	return traits.Title(doc)
}

// Use is a definition that refers to something.
type Use struct {
	Kind  Kind   `json:"kind"`
	ID    string `json:"id"`
	Title string `json:"title"`
	// Through is what it speaks of, where that is a group, room, floor or label that the device is in.
	Through string `json:"through,omitempty" doc:"The group, room, floor or label that it speaks of; absent where it speaks of the thing itself."`
}

// UsedBy returns which definitions refer to something, by kind and id: first those that speak of it, then, of a device, those
// that speak of a set that it is in.
func (s *Set) UsedBy(id string) []Use {
	uses := s.using(id, "")
	if s.Device(id) == nil {
		return uses
	}
	told := map[Named]bool{}
	for _, u := range uses {
		told[Named{u.Kind, u.ID}] = true
	}
	for _, set := range s.SetsOf(id) {
		for _, u := range s.using(set, s.setTitle(set)) {
			if by := (Named{u.Kind, u.ID}); !told[by] {
				told[by] = true
				uses = append(uses, u)
			}
		}
	}
	return uses
}

func (s *Set) using(id, through string) []Use {
	uses := []Use{}
	for by := range s.references.to[id] {
		if traits, _ := Of(by.Kind); traits.Speaks() {
			uses = append(uses, Use{by.Kind, by.ID, s.Title(by.Kind, by.ID), through})
		}
	}
	slices.SortFunc(uses, func(a, b Use) int {
		return cmp.Or(cmp.Compare(place(a.Kind), place(b.Kind)), cmp.Compare(a.ID, b.ID))
	})
	return uses
}

// SetsOf returns the ids of the sets that a device is in: groups, then its room, floor and labels.
func (s *Set) SetsOf(device string) (ids []string) {
	for by := range s.references.to[device] {
		if by.Kind == KindGroup {
			ids = append(ids, by.ID)
		}
	}
	slices.Sort(ids)
	if d := s.Device(device); d != nil {
		ids = append(ids, d.Sets(s.Rooms[d.Room].Doc)...)
	}
	return ids
}

func (s *Set) setTitle(id string) string {
	if g := s.Groups[id].Doc; g != nil {
		return g.Title
	}
	if r := s.Rooms[id].Doc; r != nil {
		return r.Title
	}
	return home.SetTitle(id)
}

// Referring returns the definitions that refer to something by its id.
func (s *Set) Referring(id string) []Named { return slices.Collect(maps.Keys(s.references.to[id])) }

// References returns what a definition refers to, by ids.
func (s *Set) References(kind Kind, id string) []string { return s.references.from[Named{kind, id}] }

// Near returns the definitions whose views may change with one: those that refer to it, and those to which it refers.
func (s *Set) Near(kind Kind, id string) []Named {
	near := slices.Collect(maps.Keys(s.references.to[id]))
	for _, other := range s.references.from[Named{kind, id}] {
		for _, k := range table {
			if _, _, there := k.get(s, other); there {
				near = append(near, Named{k.Kind(), other})
			}
		}
	}
	return near
}
