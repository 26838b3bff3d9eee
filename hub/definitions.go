package hub

import (
	"cmp"
	"crypto/rand"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
)

// Kind names a kind of definition.
type Kind string

// The kinds of definition.
const (
	DefinitionHome       Kind = "home"
	DefinitionRoom       Kind = "room"
	DefinitionConnection Kind = "connection"
	DefinitionProfile    Kind = "profile"
	DefinitionThing      Kind = "thing"
	DefinitionDevice     Kind = "device"
	DefinitionScene      Kind = "scene"
	DefinitionRule       Kind = "rule"
	DefinitionSchedule   Kind = "schedule"
	DefinitionDashboard  Kind = "dashboard"
	DefinitionGroup      Kind = "group"
	DefinitionVariable   Kind = "variable"
	DefinitionModes      Kind = "modes"
	DefinitionCalendar   Kind = "calendar"
	DefinitionSequence   Kind = "sequence"
)

// HomeID is the id of the one home.
const HomeID = "home"

// kept is a definition in memory. Documents are never changed in place.
type kept[T any] struct {
	revision int
	doc      *T
}

// definitions are all that are there now, by id. They belong to the loop.
type definitions struct {
	home        kept[home.Home]
	rooms       map[string]kept[home.Room]
	connections map[string]kept[Connection]
	profiles    map[string]kept[Profile]
	things      map[string]kept[ThingDocument]
	devices     map[string]kept[home.Device]
	scenes      map[string]kept[light.Scene]
	rules       map[string]kept[rule.Rule]
	schedules   map[string]kept[rule.Schedule]
	dashboards  map[string]kept[home.Dashboard]
	groups      map[string]kept[home.Group]
	variables   map[string]kept[home.Variable]
	modes       kept[home.Modes]
	calendars   map[string]kept[home.Calendar]
	sequences   map[string]kept[light.Sequence]
	references  references
}

func newDefinitions() definitions {
	return definitions{
		rooms: map[string]kept[home.Room]{}, connections: map[string]kept[Connection]{}, profiles: map[string]kept[Profile]{}, things: map[string]kept[ThingDocument]{}, devices: map[string]kept[home.Device]{},
		scenes: map[string]kept[light.Scene]{}, rules: map[string]kept[rule.Rule]{}, schedules: map[string]kept[rule.Schedule]{},
		dashboards: map[string]kept[home.Dashboard]{}, groups: map[string]kept[home.Group]{}, variables: map[string]kept[home.Variable]{}, calendars: map[string]kept[home.Calendar]{}, sequences: map[string]kept[light.Sequence]{},
		references: newReferences(),
	}
}

// house returns the home as it is, or where its document cannot be read one that stands in for it meanwhile. It runs in the loop.
func (h *Hub) house() *home.Home {
	if h.definitions.home.doc != nil {
		return h.definitions.home.doc
	}
	return &home.Home{Title: "Home", Zone: "UTC", NamePattern: "{room} {what}"}
}

func (d *definitions) device(id string) *home.Device { return d.devices[id].doc }

// NewID returns an id that no other definition has, beginning with the kind for readers of logs.
func NewID(kind Kind) string {
	return string(kind) + "-" + strings.ToLower(rand.Text()[:10])
}

// decode reads a document of a kind.
func decode(kind Kind, data []byte) (any, error) {
	var doc any
	switch kind {
	case DefinitionHome:
		doc = &home.Home{}
	case DefinitionRoom:
		doc = &home.Room{}
	case DefinitionConnection:
		doc = &Connection{}
	case DefinitionProfile:
		doc = &Profile{}
	case DefinitionThing:
		doc = &ThingDocument{}
	case DefinitionDevice:
		doc = &home.Device{}
	case DefinitionScene:
		doc = &light.Scene{}
	case DefinitionRule:
		doc = &rule.Rule{}
	case DefinitionSchedule:
		doc = &rule.Schedule{}
	case DefinitionDashboard:
		doc = &home.Dashboard{}
	case DefinitionGroup:
		doc = &home.Group{}
	case DefinitionVariable:
		doc = &home.Variable{}
	case DefinitionModes:
		doc = &home.Modes{}
	case DefinitionCalendar:
		doc = &home.Calendar{}
	case DefinitionSequence:
		doc = &light.Sequence{}
	default:
		return nil, fmt.Errorf("definitions of kind %q are not known", kind)
	}
	if err := json.Unmarshal(data, doc); err != nil {
		return nil, fmt.Errorf("reading a %s: %w", kind, err)
	}
	return doc, nil
}

// remember takes a document over into the memory of the loop. It fails where the document cannot be used as it is.
func (h *Hub) remember(id string, revision int, doc any) error {
	d := &h.definitions
	switch doc := doc.(type) {
	case *home.Home:
		d.home = kept[home.Home]{revision, doc}
	case *home.Room:
		d.rooms[id] = kept[home.Room]{revision, doc}
	case *Connection:
		d.connections[id] = kept[Connection]{revision, doc}
	case *Profile:
		model, err := thing.ParseModel(doc.Document)
		if err != nil {
			return err
		}
		d.profiles[id] = kept[Profile]{revision, doc}
		h.catalogue.put(doc.Model, model)
	case *ThingDocument:
		d.things[id] = kept[ThingDocument]{revision, doc}
	case *home.Device:
		d.devices[id] = kept[home.Device]{revision, doc}
	case *light.Scene:
		d.scenes[id] = kept[light.Scene]{revision, doc}
	case *rule.Rule:
		d.rules[id] = kept[rule.Rule]{revision, doc}
	case *rule.Schedule:
		d.schedules[id] = kept[rule.Schedule]{revision, doc}
	case *home.Dashboard:
		d.dashboards[id] = kept[home.Dashboard]{revision, doc}
	case *home.Group:
		d.groups[id] = kept[home.Group]{revision, doc}
	case *home.Variable:
		d.variables[id] = kept[home.Variable]{revision, doc}
	case *light.Sequence:
		d.sequences[id] = kept[light.Sequence]{revision, doc}
	case *home.Calendar:
		d.calendars[id] = kept[home.Calendar]{revision, doc}
	case *home.Modes:
		d.modes = kept[home.Modes]{revision, doc}
	}
	if kind, ids, refers := refersTo(id, doc); refers {
		d.references.put(Use{Kind: kind, ID: id}, ids)
	}
	return nil
}

// forgetDefinition takes a document out of the memory of the loop.
func (h *Hub) forgetDefinition(kind Kind, id string) {
	d := &h.definitions
	switch kind {
	case DefinitionRoom:
		delete(d.rooms, id)
	case DefinitionConnection:
		delete(d.connections, id)
	case DefinitionProfile:
		if p := d.profiles[id].doc; p != nil {
			h.catalogue.put(p.Model, nil)
		}
		delete(d.profiles, id)
	case DefinitionThing:
		delete(d.things, id)
	case DefinitionDevice:
		delete(d.devices, id)
	case DefinitionScene:
		delete(d.scenes, id)
	case DefinitionRule:
		delete(d.rules, id)
	case DefinitionSchedule:
		delete(d.schedules, id)
	case DefinitionDashboard:
		delete(d.dashboards, id)
	case DefinitionGroup:
		delete(d.groups, id)
	case DefinitionVariable:
		delete(d.variables, id)
	case DefinitionSequence:
		delete(d.sequences, id)
	case DefinitionCalendar:
		delete(d.calendars, id)
	case DefinitionModes:
		d.modes = kept[home.Modes]{}
	}
	d.references.put(Use{Kind: kind, ID: id}, nil)
}

// revision returns that of a definition; it is false when there is none at work.
func (d *definitions) revision(kind Kind, id string) (revision int, there bool) {
	of := func(revision int, there bool) (int, bool) { return revision, there }
	switch kind {
	case DefinitionHome:
		return of(d.home.revision, d.home.doc != nil)
	case DefinitionDevice:
		return of(d.devices[id].revision, d.devices[id].doc != nil)
	case DefinitionScene:
		return of(d.scenes[id].revision, d.scenes[id].doc != nil)
	case DefinitionRule:
		return of(d.rules[id].revision, d.rules[id].doc != nil)
	case DefinitionSchedule:
		return of(d.schedules[id].revision, d.schedules[id].doc != nil)
	case DefinitionGroup:
		return of(d.groups[id].revision, d.groups[id].doc != nil)
	case DefinitionSequence:
		return of(d.sequences[id].revision, d.sequences[id].doc != nil)
	case DefinitionCalendar:
		return of(d.calendars[id].revision, d.calendars[id].doc != nil)
	case DefinitionDashboard:
		return of(d.dashboards[id].revision, d.dashboards[id].doc != nil)
	default:
		return 0, false // the engine knows no others
	}
}

// defining returns how the engine is told of a document; it is false where the engine need not know of it.
func defining(id string, doc any) (in engine.Input, matters bool) {
	in = engine.Input{Kind: engine.InputDefine, ID: id}
	switch doc := doc.(type) {
	case *home.Home:
		in.Definition, in.Home = engine.KindHome, doc
	case *home.Device:
		in.Definition, in.Thing = engine.KindDevice, doc
	case *light.Scene:
		in.Definition, in.SceneDoc = engine.KindScene, doc
	case *rule.Rule:
		in.Definition, in.RuleDoc = engine.KindRule, doc
	case *rule.Schedule:
		in.Definition, in.Schedule = engine.KindSchedule, doc
	case *home.Dashboard:
		in.Definition = engine.KindDashboard
	case *home.Room:
		in.Definition, in.Room = engine.KindRoom, doc
	case *home.Group:
		in.Definition, in.Group = engine.KindGroup, doc
	case *light.Sequence:
		in.Definition, in.Sequence = engine.KindSequence, doc
	case *home.Calendar:
		in.Definition = engine.KindCalendar
	}
	return in, in.Definition != ""
}

// put takes a document over into the memory of the loop and, where it matters, the engine.
func (h *Hub) put(id string, revision int, doc any, reason string) {
	if err := h.remember(id, revision, doc); err != nil {
		h.log.Error("a definition cannot be used and is left out", "id", id, "error", err)
		return
	}
	switch doc := doc.(type) {
	case *ThingDocument:
		if h.linked {
			h.giveThings()
		}
	case *home.Device:
		h.bindHardware(doc.Connection, doc.Hardware, id)
		h.attend(id)
	case *home.Variable, *home.Modes:
		h.redefineOwn()
	}
	if in, matters := defining(id, doc); matters {
		in.Reason = reason
		h.handle(in)
	}
}

// drop takes a definition out of the memory of the loop and the engine.
func (h *Hub) drop(kind Kind, id string) {
	device := h.definitions.device(id)
	h.forgetDefinition(kind, id)
	in := engine.Input{Kind: engine.InputRemove, ID: id, Reason: "removed"}
	switch kind {
	case DefinitionConnection:
		if l := h.links[id]; l != nil {
			l.stop()
			delete(h.links, id)
		}
	case DefinitionThing:
		h.giveThings()
	case DefinitionVariable, DefinitionModes:
		h.redefineOwn()
	case DefinitionDevice:
		if device != nil {
			h.bindHardware(device.Connection, device.Hardware, "")
		}
		h.attend(id)
		in.Definition = engine.KindDevice
	case DefinitionScene:
		in.Definition = engine.KindScene
	case DefinitionRule:
		in.Definition = engine.KindRule
	case DefinitionSchedule:
		in.Definition = engine.KindSchedule
	case DefinitionDashboard:
		in.Definition, in.Reason = engine.KindDashboard, "" // no device, scene or rule goes with it
	case DefinitionRoom:
		in.Definition, in.Reason = engine.KindRoom, ""
	case DefinitionGroup:
		in.Definition = engine.KindGroup
	case DefinitionSequence:
		in.Definition = engine.KindSequence
	case DefinitionCalendar:
		h.dropCalendar(id)
		in.Definition, in.Reason = engine.KindCalendar, ""
	}
	if in.Definition != "" {
		h.handle(in)
	}
}

// bindHardware ties reports about a piece of hardware to a device; an empty id unties them.
func (h *Hub) bindHardware(connection, hardware, device string) {
	l := h.links[connection]
	if l == nil {
		return
	}
	h.hardware.Lock()
	if device == "" {
		delete(l.byHardware, hardware)
	} else {
		l.byHardware[hardware] = device
	}
	h.hardware.Unlock()
	h.takeHardware(l)
}

func sortedKeys[T any](m map[string]T) []string {
	keys := make([]string, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	slices.SortFunc(keys, cmp.Compare[string])
	return keys
}
