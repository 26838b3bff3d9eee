package hub

import (
	"cmp"
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/store"
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
}

func newDefinitions() definitions {
	return definitions{
		rooms: map[string]kept[home.Room]{}, connections: map[string]kept[Connection]{}, profiles: map[string]kept[Profile]{}, things: map[string]kept[ThingDocument]{}, devices: map[string]kept[home.Device]{},
		scenes: map[string]kept[light.Scene]{}, rules: map[string]kept[rule.Rule]{}, schedules: map[string]kept[rule.Schedule]{},
		dashboards: map[string]kept[home.Dashboard]{}, groups: map[string]kept[home.Group]{}, variables: map[string]kept[home.Variable]{}, calendars: map[string]kept[home.Calendar]{}, sequences: map[string]kept[light.Sequence]{},
	}
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

// put takes a document over into the memory of the loop and, where it matters, the engine.
func (h *Hub) put(id string, revision int, doc any, reason string) {
	d := &h.definitions
	in := engine.Input{Kind: engine.InputDefine, ID: id, Reason: reason}
	switch doc := doc.(type) {
	case *home.Home:
		d.home = kept[home.Home]{revision, doc}
		in.Definition, in.Home = engine.KindHome, doc
	case *home.Room:
		d.rooms[id] = kept[home.Room]{revision, doc}
	case *Connection:
		d.connections[id] = kept[Connection]{revision, doc}
	case *Profile:
		model, err := thing.ParseModel(doc.Document)
		if err != nil {
			h.log.Error("a profile cannot be read and is left out", "model", doc.Model, "error", err)
			return
		}
		d.profiles[id] = kept[Profile]{revision, doc}
		h.catalogue.put(doc.Model, model)
	case *ThingDocument:
		d.things[id] = kept[ThingDocument]{revision, doc}
		if h.linked {
			h.giveThings()
		}
	case *home.Device:
		d.devices[id] = kept[home.Device]{revision, doc}
		in.Definition, in.Thing = engine.KindDevice, doc
		h.bindHardware(doc.Connection, doc.Hardware, id)
		h.attend(id)
	case *light.Scene:
		d.scenes[id] = kept[light.Scene]{revision, doc}
		in.Definition, in.SceneDoc = engine.KindScene, doc
	case *rule.Rule:
		d.rules[id] = kept[rule.Rule]{revision, doc}
		in.Definition, in.RuleDoc = engine.KindRule, doc
	case *rule.Schedule:
		d.schedules[id] = kept[rule.Schedule]{revision, doc}
		in.Definition, in.Schedule = engine.KindSchedule, doc
	case *home.Dashboard:
		d.dashboards[id] = kept[home.Dashboard]{revision, doc}
		in.Definition = engine.KindDashboard
	case *home.Group:
		d.groups[id] = kept[home.Group]{revision, doc}
		in.Definition, in.Group = engine.KindGroup, doc
	case *home.Variable:
		d.variables[id] = kept[home.Variable]{revision, doc}
		h.redefineOwn()
	case *light.Sequence:
		d.sequences[id] = kept[light.Sequence]{revision, doc}
		in.Definition, in.Sequence = engine.KindSequence, doc
	case *home.Calendar:
		d.calendars[id] = kept[home.Calendar]{revision, doc}
		in.Definition = engine.KindCalendar
	case *home.Modes:
		d.modes = kept[home.Modes]{revision, doc}
		h.redefineOwn()
	}
	if in.Definition != "" {
		h.handle(in)
	}
}

// drop takes a definition out of the memory of the loop and the engine.
func (h *Hub) drop(kind Kind, id string) {
	d := &h.definitions
	in := engine.Input{Kind: engine.InputRemove, ID: id, Reason: "removed"}
	switch kind {
	case DefinitionRoom:
		delete(d.rooms, id)
	case DefinitionConnection:
		delete(d.connections, id)
		if l := h.links[id]; l != nil {
			l.stop()
			delete(h.links, id)
		}
	case DefinitionProfile:
		if p := d.profiles[id].doc; p != nil {
			h.catalogue.put(p.Model, nil)
		}
		delete(d.profiles, id)
	case DefinitionThing:
		delete(d.things, id)
		h.giveThings()
	case DefinitionDevice:
		if doc := d.device(id); doc != nil {
			h.bindHardware(doc.Connection, doc.Hardware, "")
		}
		delete(d.devices, id)
		h.attend(id)
		in.Definition = engine.KindDevice
	case DefinitionScene:
		delete(d.scenes, id)
		in.Definition = engine.KindScene
	case DefinitionRule:
		delete(d.rules, id)
		in.Definition = engine.KindRule
	case DefinitionSchedule:
		delete(d.schedules, id)
		in.Definition = engine.KindSchedule
	case DefinitionDashboard:
		delete(d.dashboards, id)
		in.Definition, in.Reason = engine.KindDashboard, "" // no device, scene or rule goes with it
	case DefinitionGroup:
		delete(d.groups, id)
		in.Definition = engine.KindGroup
	case DefinitionVariable:
		delete(d.variables, id)
		h.redefineOwn()
	case DefinitionSequence:
		delete(d.sequences, id)
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
	defer h.hardware.Unlock()
	if device == "" {
		delete(l.byHardware, hardware)
		return
	}
	l.byHardware[hardware] = device
}

func (h *Hub) load(ctx context.Context) error {
	h.definitions = newDefinitions()
	last, at, err := h.store.LastEntry(ctx)
	if err != nil {
		return fmt.Errorf("reading the journal: %w", err)
	}
	h.clock.NotBefore(at)
	all, err := h.store.Definitions(ctx)
	if err != nil {
		return fmt.Errorf("reading the definitions: %w", err)
	}
	if h.titles, err = h.store.Titles(ctx); err != nil {
		return fmt.Errorf("reading the definitions: %w", err)
	}
	h.titles[OwnID] = own().Title
	if err := h.loadDrafts(ctx); err != nil {
		return err
	}
	saved, lastCommand, err := h.saved(ctx)
	if err != nil {
		return err
	}
	if h.added, err = h.store.Firsts(ctx, string(DefinitionDevice)); err != nil {
		return fmt.Errorf("reading the definitions: %w", err)
	}
	h.engine = engine.New(last+1, lastCommand+1)
	if h.chance, err = h.seed(ctx); err != nil {
		return err
	}
	h.engine.Seed(h.chance)
	h.engine.BeginLoading(h.clock.Now())
	for _, d := range all {
		doc, err := decode(Kind(d.Kind), d.Document)
		if err != nil {
			h.log.Error("a definition cannot be read and is left out", "kind", d.Kind, "id", d.ID, "error", err)
			continue
		}
		h.put(d.ID, d.Revision, doc, "")
	}
	h.defineOwn()
	for _, id := range sortedKeys(h.calendars) {
		h.handle(engine.Input{Kind: engine.InputEntries, ID: id, Entries: h.calendars[id].Entries})
	}
	h.engine.Load(saved)
	h.firstValues()
	return nil
}

// New is a definition to save.
type New struct {
	Kind Kind
	ID   string
	// Revision is the one that was edited; 0 saves over whatever is there.
	Revision int
	Document any
}

// Save checks a definition, commits it as a new revision and puts it to work. It returns the revision.
func (h *Hub) Save(ctx context.Context, n New) (int, error) {
	revisions, err := h.SaveAll(ctx, []New{n})
	if err != nil {
		return 0, err
	}
	return revisions[0], nil
}

// SaveAll is Save for several, all or none.
func (h *Hub) SaveAll(ctx context.Context, all []New) ([]int, error) {
	h.saving.Lock()
	defer h.saving.Unlock()
	changes := make([]store.Change, len(all))
	for i, n := range all {
		var err error
		if failed := h.do(ctx, func() { err = h.check(n.ID, n.Document) }); failed != nil {
			return nil, failed
		}
		if err != nil {
			return nil, err
		}
		data, err := json.Marshal(n.Document)
		if err != nil {
			return nil, err
		}
		changes[i] = store.Change{Kind: string(n.Kind), ID: n.ID, Revision: n.Revision, Document: data}
	}
	revisions, err := h.store.Write(ctx, h.clock.Now(), changes...)
	if errors.Is(err, store.ErrRevision) {
		return nil, &ConflictError{"It was changed meanwhile, perhaps in another window. Look at the newest version and try again."}
	}
	if err != nil {
		return nil, fmt.Errorf("saving: %w", err)
	}
	return revisions, h.do(ctx, func() {
		for i, n := range all {
			reason := ""
			if n.Kind == DefinitionDevice && h.definitions.device(n.ID) == nil {
				reason = "added"
				if h.added[n.ID].IsZero() {
					h.added[n.ID] = h.clock.Now()
				}
			}
			h.titles[n.ID] = titleOf(n.Document)
			h.put(n.ID, revisions[i], n.Document, reason)
			h.Feed.Publish(Message{Kind: "definition", Definition: string(n.Kind), ID: n.ID})
		}
		h.tellScenes()
	})
}

func titleOf(doc any) string {
	var t struct {
		Title string `json:"title"`
	}
	data, err := json.Marshal(doc)
	if err == nil {
		err = json.Unmarshal(data, &t)
	}
	if err != nil {
		return ""
	}
	return t.Title
}

// Remove takes a definition away; Restore brings it back.
func (h *Hub) Remove(ctx context.Context, kind Kind, id string) error {
	return h.removal(ctx, kind, id, true)
}

// Restore brings a removed definition back as it was.
func (h *Hub) Restore(ctx context.Context, kind Kind, id string) error {
	return h.removal(ctx, kind, id, false)
}

func (h *Hub) removal(ctx context.Context, kind Kind, id string, removed bool) error {
	h.saving.Lock()
	defer h.saving.Unlock()
	current, err := h.store.Definition(ctx, string(kind), id)
	if errors.Is(err, store.ErrAbsent) || (err == nil && current.Removed == removed) {
		return Absent(fmt.Sprintf("There is no such %s.", kind))
	}
	if err != nil {
		return err
	}
	doc, err := decode(kind, current.Document)
	if err != nil {
		return err
	}
	if !removed {
		if err := h.checkRestore(ctx, id, doc); err != nil {
			return err
		}
	}
	revisions, err := h.store.Write(ctx, h.clock.Now(), store.Change{Kind: string(kind), ID: id, Document: current.Document, Removed: removed})
	if err != nil {
		return fmt.Errorf("saving: %w", err)
	}
	return h.do(ctx, func() {
		if removed {
			h.drop(kind, id)
			h.Feed.Publish(Message{Kind: "removed", Definition: string(kind), ID: id})
			return
		}
		h.put(id, revisions[0], doc, "restored")
		h.Feed.Publish(Message{Kind: "definition", Definition: string(kind), ID: id})
		if d, ok := doc.(*home.Device); ok {
			h.recall(d.Connection, d.Hardware)
		}
	})
}

// checkRestore refuses to bring back a device whose hardware was added again meanwhile.
func (h *Hub) checkRestore(ctx context.Context, id string, doc any) error {
	device, ok := doc.(*home.Device)
	if !ok {
		return nil
	}
	var err error
	failed := h.do(ctx, func() {
		for other, d := range h.definitions.devices {
			if other != id && d.doc.Connection == device.Connection && d.doc.Hardware == device.Hardware {
				err = &ConflictError{fmt.Sprintf("The same hardware is in the home again, as %s.", d.doc.Title)}
			}
		}
	})
	return errors.Join(failed, err)
}

// recall asks a connection to tell again what hardware last said, for devices that were just added.
func (h *Hub) recall(connection string, hardware ...string) {
	if l := h.links[connection]; l != nil && l.running() {
		h.workers.Go(func() {
			for _, one := range hardware {
				l.connection.Recall(h.context, one)
			}
		})
	}
}

func sortedKeys[T any](m map[string]T) []string {
	keys := make([]string, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	slices.SortFunc(keys, cmp.Compare[string])
	return keys
}

// Replace is Save for a definition that must be there already.
func (h *Hub) Replace(ctx context.Context, n New) (int, error) {
	current, err := h.store.Definition(ctx, string(n.Kind), n.ID)
	if errors.Is(err, store.ErrAbsent) || (err == nil && current.Removed) {
		return 0, Absent(fmt.Sprintf("There is no such %s.", n.Kind))
	}
	if err != nil {
		return 0, err
	}
	return h.Save(ctx, n)
}
