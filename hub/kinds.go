package hub

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"amvek/connect"
	"amvek/core/document"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/hub/views"
)

// effects are what the hub does, besides telling the engine, as definitions of a kind come and go. All run in the loop; each
// may be absent.
type effects struct {
	// check returns what keeps a document from being saved in this home.
	check func(h *Hub, id string, doc any) error
	// leave returns what keeps one from being removed.
	leave func(h *Hub, id string, doc any) error
	// put follows when a document is at work, before the engine knows of it, and gone when it is no longer.
	put  func(h *Hub, id string, doc any)
	gone func(h *Hub, id string, doc any)
	// view returns what a definition of the kind that is there is shown as.
	view func(r *views.Reader, id string) any
	// revert puts a document as it was in the place of what is now, where saving it is not all that has to be done.
	revert func(ctx context.Context, h *Hub, id string, then any) error
}

func viewing[T any](f func(r *views.Reader, id string) T) func(*views.Reader, string) any {
	return func(r *views.Reader, id string) any { return f(r, id) }
}

// viewingOne is viewing for a kind of which there is one.
func viewingOne[T any](f func(r *views.Reader) T) func(*views.Reader, string) any {
	return func(r *views.Reader, _ string) any { return f(r) }
}

func effect[T any](f func(h *Hub, id string, doc *T)) func(*Hub, string, any) {
	return func(h *Hub, id string, doc any) { f(h, id, doc.(*T)) }
}

func checking[T any](f func(h *Hub, id string, doc *T) error) func(*Hub, string, any) error {
	return func(h *Hub, id string, doc any) error { return f(h, id, doc.(*T)) }
}

func takingBack[T any](f func(h *Hub, ctx context.Context, id string, then *T) error) func(context.Context, *Hub, string, any) error {
	return func(ctx context.Context, h *Hub, id string, then any) error { return f(h, ctx, id, then.(*T)) }
}

// effectsOf returns what the hub does for a kind.
func effectsOf(kind docs.Kind) effects {
	switch kind {
	case docs.KindHome:
		return effects{view: viewingOne((*views.Reader).House), put: effect(func(h *Hub, _ string, doc *home.Home) { h.homeCalled(doc.Title) })}
	case docs.KindRoom:
		return effects{view: viewing((*views.Reader).Room)}
	case docs.KindConnection:
		return effects{gone: effect((*Hub).connectionGone), revert: takingBack((*Hub).revertConnection)}
	case docs.KindProfile:
		return effects{
			put: effect((*Hub).profilePut), gone: effect((*Hub).profileGone),
			revert: takingBack((*Hub).revertProfile),
		}
	case docs.KindThing:
		return effects{put: effect((*Hub).thingsChanged), gone: effect((*Hub).thingsChanged)}
	case docs.KindCalendar:
		return effects{gone: effect(func(h *Hub, id string, _ *home.Calendar) { h.dropCalendar(id) }), view: viewing((*views.Reader).Calendar)}
	case docs.KindDevice:
		return effects{
			check: checking((*Hub).checkDevice), put: effect((*Hub).devicePut), gone: effect((*Hub).deviceGone),
			view: viewing((*views.Reader).DeviceHead), revert: takingBack((*Hub).revertDevice),
		}
	case docs.KindGroup:
		return effects{check: checking((*Hub).checkGroup), view: viewing((*views.Reader).Group)}
	case docs.KindScene:
		return effects{check: checking((*Hub).checkScene), view: viewing((*views.Reader).Scene)}
	case docs.KindSequence:
		return effects{check: checking((*Hub).checkSequence), view: viewing((*views.Reader).Sequence)}
	case docs.KindLink:
		return effects{view: viewing((*views.Reader).Link), gone: effect((*Hub).linkGone)}
	case docs.KindMirror:
		return effects{view: viewing((*views.Reader).Mirror)}
	case docs.KindCurve:
		return effects{view: viewing((*views.Reader).Curve)}
	case docs.KindLight:
		return effects{check: checking((*Hub).checkLight), view: viewing((*views.Reader).Light)}
	case docs.KindRule:
		return effects{view: viewing((*views.Reader).Rule), put: effect((*Hub).ruleOfPanel), gone: effect((*Hub).ruleOfPanel)}
	case docs.KindSchedule:
		return effects{view: viewing((*views.Reader).Schedule)}
	case docs.KindDashboard:
		return effects{view: viewing((*views.Reader).Dashboard)}
	case docs.KindVariable:
		return effects{
			check: checking((*Hub).checkComputed), view: viewing((*views.Reader).Variable),
			put: effect(redefineOwn[home.Variable]), gone: effect(redefineOwn[home.Variable]),
		}
	case docs.KindModes:
		return effects{
			check: checking((*Hub).checkModes), view: viewingOne((*views.Reader).Modes),
			put: effect(redefineOwn[home.Modes]), gone: effect(redefineOwn[home.Modes]),
		}
	case docs.KindPerson:
		return effects{
			check: checking((*Hub).checkPerson), leave: checking((*Hub).checkLeaving), view: viewing((*views.Reader).Person),
			put: effect(func(h *Hub, _ string, _ *home.Person) { h.peopleChanged() }), gone: effect((*Hub).personGone),
		}
	default:
		return effects{}
	}
}

// gated are the kinds whose definitions say what those reach who may not see all of the home.
var gated = []docs.Kind{docs.KindDashboard, docs.KindDevice, docs.KindRoom}

// check returns what keeps a well-formed document from being saved in this home. It runs in the loop.
func (h *Hub) check(kind docs.Kind, id string, doc any) error {
	if own := effectsOf(kind).check; own != nil {
		return placed(own(h, id, doc))
	}
	return nil
}

// wellFormed returns what is wrong with a document of a kind whatever else there is in the home.
func wellFormed(kind docs.Kind, doc any) error {
	traits, known := docs.Of(kind)
	if !known {
		return fmt.Errorf("there are no definitions of kind %q", kind)
	}
	return traits.WellFormed(doc)
}

// put takes a document over into the memory of the loop and, where it matters, the engine.
func (h *Hub) put(kind docs.Kind, id string, revision int, doc any, reason string) {
	traits, known := docs.Of(kind)
	if !known {
		return
	}
	h.touchAround(kind, id)
	h.definitions.Put(kind, id, revision, doc)
	if slices.Contains(gated, kind) {
		h.GateChanged()
	}
	if follow := effectsOf(kind).put; follow != nil {
		follow(h, id, doc)
	}
	if in, matters := traits.Define(id, doc); matters {
		in.Reason = reason
		h.handle(in)
	}
	h.touchAround(kind, id)
}

// drop takes a definition out of the memory of the loop and the engine.
func (h *Hub) drop(kind docs.Kind, id string) {
	traits, known := docs.Of(kind)
	if !known {
		return
	}
	doc, _, there := h.definitions.Get(kind, id)
	h.touchAround(kind, id)
	h.definitions.Drop(kind, id)
	if slices.Contains(gated, kind) {
		h.GateChanged()
	}
	if follow := effectsOf(kind).gone; there && follow != nil {
		follow(h, id, doc)
	}
	if in, matters := traits.Remove(id); matters {
		h.handle(in)
	}
}

func (h *Hub) connectionGone(id string, _ *docs.Connection) {
	if l := h.links[id]; l != nil {
		l.Stop()
		delete(h.links, id)
	}
}

func (h *Hub) profilePut(_ string, doc *docs.Profile) {
	if model, err := thing.ParseModel(doc.Document); err == nil { // a profile that is none is not saved
		h.catalogue.Put(doc.Model, model)
	}
}

func (h *Hub) profileGone(_ string, doc *docs.Profile) { h.catalogue.Put(doc.Model, nil) }

func (h *Hub) thingsChanged(string, *docs.Thing) {
	if h.linked {
		h.giveThings()
	}
}

func (h *Hub) devicePut(id string, doc *home.Device) {
	h.bindHardware(doc.Connection, doc.Hardware, id)
	delete(h.former, hardwareKey{doc.Connection, doc.Hardware})
	h.models = nil
	if doc.Connection == PanelsID {
		h.panelsChanged()
	}
	h.attend(id)
}

func (h *Hub) deviceGone(id string, doc *home.Device) {
	h.bindHardware(doc.Connection, doc.Hardware, "")
	h.becameFormer(id, doc)
	delete(h.undone, id)
	h.panelGone(id, doc)
	h.models = nil
	h.attend(id)
}

func redefineOwn[T home.Variable | home.Modes](h *Hub, _ string, _ *T) { h.redefineOwn() }

func (h *Hub) checkDevice(_ string, doc *home.Device) error {
	if doc.Room != "" && h.definitions.Rooms[doc.Room].Doc == nil {
		return document.Wrong("room", "there is no such room")
	}
	return h.checkPanel(doc)
}

func (h *Hub) checkLight(_ string, doc *light.RoomLight) error {
	return doc.Check(lampsOf{&h.definitions})
}

// lampsOf is the home as the light of a room is checked against it.
type lampsOf struct{ *docs.Set }

func (l lampsOf) HasRoom(id string) bool  { return l.Rooms[id].Doc != nil }
func (l lampsOf) HasScene(id string) bool { return l.Scenes[id].Doc != nil }
func (l lampsOf) HasLight(id string) bool { return l.Set.Lights[id].Doc != nil }
func (l lampsOf) HasCurve(id string) bool { return l.Curves[id].Doc != nil }
func (l lampsOf) HasLamp(id string) bool {
	d := l.Device(id)
	return d != nil && d.Light() != ""
}

func (h *Hub) checkScene(_ string, doc *light.Scene) error {
	if err := doc.Check(h.propertyDefined, lampsOf{&h.definitions}.HasCurve); err != nil {
		return err
	}
	return h.checkFormulas(doc)
}

// propertyDefined returns a property of a device that is there, or is about to be; nil where there is none.
func (h *Hub) propertyDefined(device, name string) *thing.Property {
	if d := h.definitions.Device(device); d != nil {
		return d.Description.Property(name)
	}
	return nil
}

func (h *Hub) checkSequence(_ string, doc *light.Sequence) error {
	return doc.Check(lampsOf{&h.definitions})
}

func (h *Hub) checkGroup(_ string, doc *home.Group) error {
	for _, id := range doc.Devices {
		if h.definitions.Device(id) == nil {
			return document.Wrong("devices", "one of them is no longer in the home")
		}
	}
	return nil
}

func (h *Hub) checkModes(_ string, doc *home.Modes) error {
	p := doc.Property()
	now, ok := h.engine.PropertyState(thing.Ref{Device: docs.OwnID, Name: home.ModeProperty})
	if ok && !now.Target.IsNone() && p.Check(now.Target) != nil {
		return document.Wrong("modes", "the house is in the mode %s now: set another mode before you remove it", h.modeTitle(now.Target.Text))
	}
	return nil
}

// modeTitle returns how a mode is called that the house has.
func (h *Hub) modeTitle(id string) string {
	if p := h.engine.Property(docs.OwnID, home.ModeProperty); p != nil {
		return "“" + p.Say(thing.Text(id)) + "”"
	}
	return id
}

// bindHardware ties reports about a piece of hardware to a device; an empty id unties them.
func (h *Hub) bindHardware(connection, hardware, device string) {
	l := h.links[connection]
	if l == nil {
		return
	}
	l.Bind(hardware, device, &h.workers)
}

// definingAll gives the engine that is being made every definition that matters to it.
func (h *Hub) definingAll(give func(engine.Input)) {
	for _, traits := range docs.All() {
		for _, id := range traits.IDs(&h.definitions) {
			doc, _, _ := h.definitions.Get(traits.Kind(), id)
			if in, matters := traits.Define(id, doc); matters {
				give(in)
			}
		}
	}
}

// placed makes an error that says where a document is wrong an [InvalidError].
func placed(err error) error {
	if err == nil {
		return nil
	}
	var wrong *document.Error
	if errors.As(err, &wrong) {
		return Invalid(wrong.Path, connect.Sentence(errors.New(wrong.Message)))
	}
	return Invalid("", connect.Sentence(err))
}
