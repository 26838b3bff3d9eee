package docs

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"amvek/core/board"
	"amvek/core/document"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/link"
	"amvek/core/mirror"
	"amvek/core/rule"
	"amvek/core/tell"
)

// Traits are what is known of a kind of definition, as those see it who handle definitions of any kind. The documents that
// they are given must be of the kind.
type Traits interface {
	Kind() Kind
	// Decode reads a document.
	Decode(data []byte) (doc any, err error)
	// WellFormed returns what is wrong with a document whatever else there is in the home. Rules and schedules may be
	// unfinished: their problems are shown and they do not run.
	WellFormed(doc any) error
	// Title is what a definition is called, "" where there is one in a home at most.
	Title(doc any) string
	// Refers returns what a document refers to, besides itself: ids of other definitions, of floors and labels, and names of
	// the home's own properties.
	Refers(id string, doc any) []string
	// Speaks says that a reference counts as a use: a group has its members, a scene uses its lamps.
	Speaks() bool
	// Tell says a document as lines of words.
	Tell(doc any, names tell.Names) []tell.Line
	// Define returns how an engine is told of a document, and Remove that it is gone; they are false where it need not know.
	Define(id string, doc any) (engine.Input, bool)
	Remove(id string) (engine.Input, bool)
	// IDs returns which there are in a set, in order.
	IDs(s *Set) []string

	get(s *Set, id string) (doc any, revision int, there bool)
	put(s *Set, id string, revision int, doc any)
	drop(s *Set, id string)
}

// table is all kinds, in the order in which they are put to work; a new kind is a line here and a shelf in [Set].
var table = []Traits{
	&traits[home.Home]{
		kind:   KindHome,
		shelf:  func(s *Set) Shelf[home.Home] { return s.Homes },
		check:  (*home.Home).Check,
		tell:   tell.Home,
		engine: engine.KindHome,
		define: func(in *engine.Input, doc *home.Home) { in.Home = doc },
	},
	&traits[home.Room]{
		kind:   KindRoom,
		shelf:  func(s *Set) Shelf[home.Room] { return s.Rooms },
		check:  (*home.Room).Check,
		title:  func(doc *home.Room) string { return doc.Title },
		tell:   tell.Room,
		engine: engine.KindRoom,
		define: func(in *engine.Input, doc *home.Room) { in.Room = doc },
	},
	&traits[Connection]{
		kind:  KindConnection,
		shelf: func(s *Set) Shelf[Connection] { return s.Connections },
		check: (*Connection).Check,
		title: func(doc *Connection) string { return doc.Title },
		tell:  tellJSON[Connection],
	},
	&traits[Profile]{
		kind:  KindProfile,
		shelf: func(s *Set) Shelf[Profile] { return s.Profiles },
		check: (*Profile).Check,
		title: func(doc *Profile) string { return doc.Title },
		tell:  tellProfile,
	},
	&traits[Thing]{
		kind:  KindThing,
		shelf: func(s *Set) Shelf[Thing] { return s.Things },
		title: func(doc *Thing) string { return doc.Title },
		tell:  tellJSON[Thing],
	},
	&traits[home.Calendar]{
		kind:   KindCalendar,
		shelf:  func(s *Set) Shelf[home.Calendar] { return s.Calendars },
		check:  (*home.Calendar).Check,
		title:  func(doc *home.Calendar) string { return doc.Title },
		tell:   tell.Calendar,
		engine: engine.KindCalendar,
		silent: true,
	},
	&traits[home.Device]{
		kind:   KindDevice,
		shelf:  func(s *Set) Shelf[home.Device] { return s.Devices },
		check:  (*home.Device).Check,
		title:  func(doc *home.Device) string { return doc.Title },
		refers: func(doc *home.Device) []string { return doc.Dashboards },
		tell:   tell.Device,
		engine: engine.KindDevice,
		define: func(in *engine.Input, doc *home.Device) { in.Thing = doc },
		mend:   func(doc *home.Device) { doc.Description.List() },
	},
	&traits[home.Group]{
		kind:   KindGroup,
		shelf:  func(s *Set) Shelf[home.Group] { return s.Groups },
		check:  (*home.Group).Check,
		title:  func(doc *home.Group) string { return doc.Title },
		refers: groupRefers,
		tell:   tell.Group,
		engine: engine.KindGroup,
		define: func(in *engine.Input, doc *home.Group) { in.Group = doc },
	},
	&traits[light.Scene]{
		kind:   KindScene,
		shelf:  func(s *Set) Shelf[light.Scene] { return s.Scenes },
		check:  func(doc *light.Scene) error { return named(KindScene, doc.Title) },
		title:  func(doc *light.Scene) string { return doc.Title },
		refers: sceneRefers,
		speaks: true,
		tell:   tell.Scene,
		engine: engine.KindScene,
		define: func(in *engine.Input, doc *light.Scene) { in.SceneDoc = doc },
	},
	&traits[light.Sequence]{
		kind:   KindSequence,
		shelf:  func(s *Set) Shelf[light.Sequence] { return s.Sequences },
		check:  func(doc *light.Sequence) error { return named(KindSequence, doc.Title) },
		title:  func(doc *light.Sequence) string { return doc.Title },
		refers: sequenceRefers,
		speaks: true,
		tell:   tell.Sequence,
		engine: engine.KindSequence,
		define: func(in *engine.Input, doc *light.Sequence) { in.Sequence = doc },
	},
	&traits[rule.Rule]{
		kind:   KindRule,
		shelf:  func(s *Set) Shelf[rule.Rule] { return s.Rules },
		check:  func(doc *rule.Rule) error { return named(KindRule, doc.Title) },
		title:  func(doc *rule.Rule) string { return doc.Title },
		refers: ruleRefers,
		speaks: true,
		tell:   wholeRule,
		engine: engine.KindRule,
		define: func(in *engine.Input, doc *rule.Rule) { in.RuleDoc = doc },
	},
	&traits[rule.Schedule]{
		kind:   KindSchedule,
		shelf:  func(s *Set) Shelf[rule.Schedule] { return s.Schedules },
		check:  func(doc *rule.Schedule) error { return named(KindSchedule, doc.Title) },
		title:  func(doc *rule.Schedule) string { return doc.Title },
		refers: scheduleRefers,
		speaks: true,
		tell:   tell.Schedule,
		engine: engine.KindSchedule,
		define: func(in *engine.Input, doc *rule.Schedule) { in.Schedule = doc },
	},
	&traits[link.Link]{
		kind:   KindLink,
		shelf:  func(s *Set) Shelf[link.Link] { return s.Links },
		check:  (*link.Link).WellFormed,
		title:  func(doc *link.Link) string { return doc.Title },
		refers: linkRefers,
		speaks: true,
		tell:   tell.Link,
		engine: engine.KindLink,
		define: func(in *engine.Input, doc *link.Link) { in.Link = doc },
	},
	&traits[mirror.Mirror]{
		kind:   KindMirror,
		shelf:  func(s *Set) Shelf[mirror.Mirror] { return s.Mirrors },
		check:  (*mirror.Mirror).WellFormed,
		title:  func(doc *mirror.Mirror) string { return doc.Title },
		refers: mirrorRefers,
		speaks: true,
		tell:   tell.Mirror,
		engine: engine.KindMirror,
		define: func(in *engine.Input, doc *mirror.Mirror) { in.Mirror = doc },
	},
	&traits[light.DayCurve]{
		kind:   KindCurve,
		shelf:  func(s *Set) Shelf[light.DayCurve] { return s.Curves },
		check:  (*light.DayCurve).Check,
		title:  func(doc *light.DayCurve) string { return doc.Title },
		tell:   tell.Curve,
		engine: engine.KindCurve,
		define: func(in *engine.Input, doc *light.DayCurve) { in.Curve = doc },
	},
	&traits[light.RoomLight]{
		kind:   KindLight,
		shelf:  func(s *Set) Shelf[light.RoomLight] { return s.Lights },
		check:  (*light.RoomLight).WellFormed,
		title:  func(doc *light.RoomLight) string { return doc.Title },
		refers: lightRefers,
		tell:   tell.Light,
		engine: engine.KindRoomLight,
		define: func(in *engine.Input, doc *light.RoomLight) { in.RoomLight = doc },
	},
	&traits[home.Variable]{
		kind:   KindVariable,
		shelf:  func(s *Set) Shelf[home.Variable] { return s.Variables },
		check:  (*home.Variable).Check,
		title:  func(doc *home.Variable) string { return doc.Title },
		refers: variableRefers,
		speaks: true,
		tell:   tell.Variable,
	},
	&traits[home.Modes]{
		kind:  KindModes,
		shelf: func(s *Set) Shelf[home.Modes] { return s.ModeLists },
		check: (*home.Modes).Check,
		tell:  tell.Modes,
	},
	&traits[board.Dashboard]{
		kind:   KindDashboard,
		shelf:  func(s *Set) Shelf[board.Dashboard] { return s.Dashboards },
		check:  (*board.Dashboard).Check,
		title:  func(doc *board.Dashboard) string { return doc.Title },
		refers: dashboardRefers,
		speaks: true,
		tell:   tell.Dashboard,
		engine: engine.KindDashboard,
		silent: true,
	},
	&traits[home.Person]{
		kind:   KindPerson,
		shelf:  func(s *Set) Shelf[home.Person] { return s.People },
		check:  (*home.Person).Check,
		title:  func(doc *home.Person) string { return doc.Title },
		refers: func(doc *home.Person) []string { return doc.Dashboards },
		tell:   tell.Person,
	},
}

// All returns all kinds, in the order in which they are put to work.
func All() []Traits { return slices.Clone(table) }

// Of returns what is known of a kind; it is false where there is no such kind.
func Of(kind Kind) (Traits, bool) {
	if at := place(kind); at >= 0 {
		return table[at], true
	}
	return nil, false
}

// place is that of a kind in the table, -1 where it is in none.
func place(kind Kind) int {
	return slices.IndexFunc(table, func(t Traits) bool { return t.Kind() == kind })
}

// Decode reads a document of a kind.
func Decode(kind Kind, data []byte) (any, error) {
	traits, known := Of(kind)
	if !known {
		return nil, fmt.Errorf("definitions of kind %q are not known", kind)
	}
	return traits.Decode(data)
}

// traits are those of a kind whose documents are of a type.
type traits[T any] struct {
	kind   Kind
	shelf  func(*Set) Shelf[T]
	check  func(*T) error    // nil: whatever can be read is well-formed
	title  func(*T) string   // nil: there is one in a home at most
	refers func(*T) []string // nil: it refers to nothing
	speaks bool
	tell   func(*T, tell.Names) []tell.Line
	engine engine.DefinitionKind          // "": the engine need not know of it
	define func(in *engine.Input, doc *T) // nil: the engine needs to know that it is there, no more
	silent bool                           // nobody reads in the journal that it was removed
	mend   func(*T)                       // nil: nothing that may be left out has to be there
}

func (t *traits[T]) Kind() Kind { return t.kind }

func (t *traits[T]) Decode(data []byte) (any, error) {
	doc := new(T)
	if err := json.Unmarshal(data, doc); err != nil {
		return nil, fmt.Errorf("reading a %s: %w", t.kind, err)
	}
	return doc, nil
}

func (t *traits[T]) WellFormed(doc any) error {
	typed, is := doc.(*T)
	if !is {
		return fmt.Errorf("this is no document of a %s", t.kind)
	}
	if t.check == nil {
		return nil
	}
	return t.check(typed)
}

func (t *traits[T]) Title(doc any) string {
	if t.title == nil {
		return ""
	}
	return t.title(doc.(*T))
}

func (t *traits[T]) Refers(id string, doc any) []string {
	if t.refers == nil {
		return nil
	}
	return slices.DeleteFunc(t.refers(doc.(*T)), func(other string) bool { return other == id })
}

func (t *traits[T]) Speaks() bool { return t.speaks }

func (t *traits[T]) Tell(doc any, names tell.Names) []tell.Line { return t.tell(doc.(*T), names) }

func (t *traits[T]) Define(id string, doc any) (engine.Input, bool) {
	in := engine.Input{Kind: engine.InputDefine, ID: id, Definition: t.engine}
	if t.define != nil {
		t.define(&in, doc.(*T))
	}
	return in, t.engine != ""
}

func (t *traits[T]) Remove(id string) (engine.Input, bool) {
	in := engine.Input{Kind: engine.InputRemove, ID: id, Definition: t.engine, Reason: "removed"}
	if t.silent {
		in.Reason = ""
	}
	return in, t.engine != ""
}

func (t *traits[T]) IDs(s *Set) []string { return t.shelf(s).IDs() }

func (t *traits[T]) get(s *Set, id string) (any, int, bool) {
	k, there := t.shelf(s)[id]
	return k.Doc, k.Revision, there
}

func (t *traits[T]) put(s *Set, id string, revision int, doc any) {
	typed := doc.(*T)
	if t.mend != nil {
		t.mend(typed)
	}
	t.shelf(s)[id] = Kept[T]{revision, typed}
}

func (t *traits[T]) drop(s *Set, id string) { delete(t.shelf(s), id) }

func named(kind Kind, title string) error {
	if strings.TrimSpace(title) == "" {
		return document.Wrong("title", "give the %s a name", kind)
	}
	return nil
}

func tellJSON[T any](doc *T, _ tell.Names) []tell.Line {
	data, err := json.Marshal(doc)
	if err != nil {
		return nil
	}
	return tell.JSON(data)
}

// wholeRule says a rule with its name, which its lines alone do not.
func wholeRule(doc *rule.Rule, names tell.Names) []tell.Line {
	return append(tell.Head(doc.Title, doc.Note, doc.Enabled), tell.Rule(doc, names)...)
}

func tellProfile(doc *Profile, _ tell.Names) []tell.Line { return tell.JSON(doc.Document) }
