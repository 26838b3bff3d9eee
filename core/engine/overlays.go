package engine

import (
	"slices"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/hold"
	"amvek/core/light"
	"amvek/core/thing"
)

// VerbLift lifts a scene by hand that is laid on top; else it is applied.
const VerbLift = "lift"

const sceneOwner = "scene:"

// laidScene is a scene that lies on top of what is on.
type laidScene struct {
	refs  []thing.Ref
	since time.Time
}

// SceneLaid returns since when a scene lies on top of what is on; it is false where it does not.
func (e *Engine) SceneLaid(id string) (since time.Time, laid bool) {
	l := e.laid[id]
	if l == nil {
		return time.Time{}, false
	}
	return l.since, true
}

// layScene lays a scene on top of what is on, which stays as it is below: also where it is changed meanwhile.
func (e *Engine) layScene(id string, now *light.Scene, w why) {
	e.yieldLights(now.Targets, nil, now.Fade(), w) // a sequence would lay its next scene over it
	l := &laidScene{since: e.now}
	before := e.laid[id]
	e.laid[id] = l
	for _, t := range e.tonesFirst(now.Targets) {
		s := e.find(t.Device, t.Property)
		if s == nil || !s.property.Writable || s.property.Check(t.Value) != nil {
			continue
		}
		l.refs = append(l.refs, s.ref)
		s.state.Stack.Place(hold.Hold{Owner: sceneOwner + id, Level: hold.Overlay, Value: t.Value, Source: t.Source(), Since: e.now, Cause: e.resolve(w), Laid: true})
		e.apply(s, t.Fade(now.Fade()), w)
	}
	if before != nil { // laid again, it takes what it sets now and nothing else
		e.liftFrom(id, slices.DeleteFunc(before.refs, func(ref thing.Ref) bool { return slices.Contains(l.refs, ref) }), now.Fade(), w)
	}
	e.touchScene(id)
}

// liftScene lifts a scene off again that is laid on top: what lies below shows as it is by now.
func (e *Engine) liftScene(id string, fade time.Duration, w why) {
	l := e.laid[id]
	if l == nil {
		return
	}
	delete(e.laid, id)
	e.liftFrom(id, l.refs, fade, w)
	e.touchScene(id)
}

func (e *Engine) liftFrom(id string, refs []thing.Ref, fade time.Duration, w why) {
	for _, ref := range refs {
		if s := e.at(ref); s != nil && s.state.Stack.Release(sceneOwner+id) {
			e.apply(s, fade, w)
		}
	}
}

// lift lifts a scene by automation.
func (e *Engine) lift(id string, w why) {
	if scene := e.scenes[id]; scene != nil && e.laid[id] != nil {
		inner := e.follow(w, cause.Entry{Kind: cause.Lifted, Scene: id})
		e.liftScene(id, e.sceneNow(scene).Fade(), inner)
	}
}

// liftFromLamps lifts the scenes that are laid on any of some devices.
func (e *Engine) liftFromLamps(devices []string, w why) {
	for _, id := range sortedKeys(e.laid) {
		if slices.ContainsFunc(e.laid[id].refs, func(ref thing.Ref) bool { return slices.Contains(devices, ref.Device) }) {
			e.lift(id, w)
		}
	}
}

// relay takes over another document of a scene that is laid on top, nil where it is gone.
func (e *Engine) relay(id string, doc *light.Scene) {
	switch {
	case e.loading || e.laid[id] == nil:
	case doc == nil || !doc.Laid:
		e.liftScene(id, 0, why{})
	default:
		e.layScene(id, e.sceneNow(doc), why{})
	}
}

// relaid finds again which scenes were laid on top when the hub stopped. Those that are there no longer, or are laid no more, are
// lifted.
func (e *Engine) relaid() {
	for _, device := range sortedKeys(e.byDevice) {
		slots := e.byDevice[device]
		for i := range slots {
			s := &slots[i]
			for _, h := range slices.Clone(s.state.Stack.Holds) {
				id, is := strings.CutPrefix(h.Owner, sceneOwner)
				if !is || !h.Laid {
					continue
				}
				if scene := e.scenes[id]; scene == nil || !scene.Laid {
					s.state.Stack.Release(h.Owner)
					e.apply(s, 0, why{})
					continue
				}
				if e.laid[id] == nil {
					e.laid[id] = &laidScene{since: h.Since}
					e.touchScene(id)
				}
				e.laid[id].refs = append(e.laid[id].refs, s.ref)
			}
		}
	}
}

func (e *Engine) touchScene(id string) {
	e.out = append(e.out, Output{Kind: OutputScene, Name: id})
}
