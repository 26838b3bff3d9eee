package engine

import (
	"slices"
	"time"

	"amvek/core/cause"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
)

// roomLight is the light of a room at work.
type roomLight struct {
	id      string
	doc     *light.RoomLight
	members []string // the devices of its lamps, in order
	// scene is the one of its scenes that was applied last, since when; "" where its lamps went off since, or it is not known.
	scene string
	since time.Time
	// shares are the levels of its lamps beside the brightest, as they were before a level for all was set, and left is what each was
	// then left at: whoever is at something else was set by somebody meanwhile.
	shares map[string]float64
	left   map[string]thing.Value
}

// RoomLightView is how the light of a room stands.
type RoomLightView struct {
	// Members are the devices of its lamps.
	Members []string
	// Level is how bright it is, in percent, and On how many of its lamps are on.
	Level float64
	On    int
	// Scene is the one of its scenes that is in effect, or was and has been changed since; "" for none.
	Scene string
	Since time.Time
	// Differs are the devices by which what is now is not that scene.
	Differs []string
}

// RoomLightView returns how the light of a room stands; it is false when there is none.
func (e *Engine) RoomLightView(id string) (RoomLightView, bool) {
	l := e.lights[id]
	if l == nil {
		return RoomLightView{}, false
	}
	lamps := e.lampsOf(l)
	v := RoomLightView{Members: l.members, Level: light.LevelOf(lamps)}
	for i := range lamps {
		if lamps[i].Level() > 0 {
			v.On++
		}
	}
	v.Scene = e.sceneOf(l)
	if v.Scene != "" {
		if v.Scene == l.scene {
			v.Since = l.since
		}
		v.Differs = e.differing(e.scenes[v.Scene])
	}
	return v, true
}

// HasRoomLight reports whether there is such a light.
func (e *Engine) HasRoomLight(id string) bool { return e.lights[id] != nil }

// sceneOf returns the scene of a light that is in effect, or was and has been changed since.
func (e *Engine) sceneOf(l *roomLight) string {
	listed := func(id string) bool {
		return e.scenes[id] != nil && !e.scenes[id].Laid && slices.ContainsFunc(l.doc.Scenes, func(s light.RoomScene) bool { return s.Scene == id })
	}
	if listed(l.scene) && e.InEffect(e.scenes[l.scene]) {
		return l.scene
	}
	for _, s := range l.doc.Scenes {
		if scene := e.scenes[s.Scene]; scene != nil && !scene.Laid && e.InEffect(scene) {
			return s.Scene
		}
	}
	if listed(l.scene) && light.LevelOf(e.lampsOf(l)) > 0 {
		return l.scene
	}
	return ""
}

// differing returns the devices by which what is now is not a scene, each once.
func (e *Engine) differing(scene *light.Scene) (devices []string) {
	for _, t := range e.sceneNow(scene).Targets {
		s := e.find(t.Device, t.Property)
		if (s == nil || !s.isAt(&t)) && !slices.Contains(devices, t.Device) {
			devices = append(devices, t.Device)
		}
	}
	return devices
}

func (e *Engine) defineRoomLight(id string, doc *light.RoomLight) {
	l := e.lights[id]
	if l == nil {
		l = &roomLight{id: id}
		e.lights[id] = l
		e.refresh(id)
	}
	if l.doc = doc; !e.loading { // else all are bound when everything is there
		before := l.members
		e.bindLight(l)
		e.followIn(before)
		e.followIn(l.members)
	}
}

func (e *Engine) removeRoomLight(id string) {
	l := e.lights[id]
	if l == nil {
		return
	}
	l.doc = &light.RoomLight{}
	e.bindLight(l)
	delete(e.lights, id)
	e.refresh(id)
}

// bindLights puts the lights of all rooms to work, once all else is there.
func (e *Engine) bindLights() {
	for _, id := range sortedKeys(e.lights) {
		e.bindLight(e.lights[id])
	}
}

// bindLight finds out which lamps a light has.
func (e *Engine) bindLight(l *roomLight) {
	for _, device := range l.members {
		e.leaveLight(l, device)
	}
	l.members = nil
	for _, id := range sortedKeys(e.devices) {
		if d := e.devices[id]; d.Light() != "" && l.doc.Has(id, d.Room) {
			e.joinLight(l, id, d)
		}
	}
	e.touchLight(l)
}

// rebindLights takes a device that changed, or is gone, into the lights that it belongs to, and out of others.
func (e *Engine) rebindLights(id string) {
	if e.loading {
		return
	}
	d := e.devices[id]
	for _, key := range sortedKeys(e.lights) {
		l := e.lights[key]
		was := slices.Contains(l.members, id)
		if was {
			e.leaveLight(l, id)
			l.members = slices.DeleteFunc(l.members, func(m string) bool { return m == id })
		}
		is := d != nil && d.Light() != "" && l.doc.Has(id, d.Room)
		if is {
			e.joinLight(l, id, d)
		}
		if was || is {
			e.touchLight(l)
		}
	}
}

func (e *Engine) joinLight(l *roomLight, id string, d *home.Device) {
	at, _ := slices.BinarySearch(l.members, id)
	l.members = slices.Insert(l.members, at, id)
	slots := e.byDevice[id]
	for i := range slots {
		if s := &slots[i]; d.InLight(s.property) && !slices.Contains(s.lights, l) {
			s.lights = append(s.lights, l)
			s.attach()
		}
	}
}

func (e *Engine) leaveLight(l *roomLight, id string) {
	slots := e.byDevice[id]
	for i := range slots {
		s := &slots[i]
		s.lights = slices.DeleteFunc(s.lights, func(x *roomLight) bool { return x == l })
		s.attach()
	}
}

func (e *Engine) touchLight(l *roomLight) {
	e.out = append(e.out, Output{Kind: OutputRoomLight, Name: l.id})
}

// lampsOf returns the lamps of a light as they are asked to be, or where nobody asked as they are.
func (e *Engine) lampsOf(l *roomLight) []light.Lamp {
	lamps := e.Lamps(l.members)
	for i := range lamps {
		lamp := &lamps[i]
		lamp.Circuit = l.doc.Circuits[lamp.Device]
		if l.left[lamp.Device] == lamp.At {
			lamp.Share = l.shares[lamp.Device]
		}
	}
	return lamps
}

// Lamps returns the lamps among devices as they are asked to be, or where nobody asked as they are.
func (e *Engine) Lamps(devices []string) []light.Lamp {
	lamps := make([]light.Lamp, 0, len(devices))
	for _, id := range devices {
		d := e.devices[id]
		if d == nil {
			continue
		}
		s := e.find(id, d.Light())
		if s == nil || !e.counts(s) || e.aside(s) {
			continue
		}
		lamp := light.Lamp{Device: id, Light: s.property, At: aimed(s)}
		slots := e.byDevice[id]
		for i := range slots {
			switch p := slots[i].property; {
			case !p.Writable:
			case p.Role == thing.RoleColorTemperature:
				lamp.White = p
				if at := aimed(&slots[i]); at.Kind == thing.KindNumber {
					lamp.Kelvin = at.Number
				}
			case p.Role == thing.RoleColor:
				lamp.Color = p
			case p.Role == thing.RoleEffect:
				lamp.Effect = p
			}
		}
		lamps = append(lamps, lamp)
	}
	return lamps
}

// aimed is what a property is asked to be at, or where nobody asked what it is at.
func aimed(s *slot) thing.Value {
	if v := s.state.Stack.Effective(); !v.IsNone() {
		return v
	}
	return s.Reported
}

// lightByHand takes that a person does something with the light of a room.
func (e *Engine) lightByHand(in *Input) {
	l, verb := e.lights[in.ID], light.Verb(in.Verb)
	if l == nil || !verb.Known() || verb.Check(in.Value) != nil {
		return
	}
	origin := e.origin()
	origin.Kind, origin.Link, origin.Value, origin.Note = cause.LitByHand, in.ID, in.Value, in.Verb
	e.inputEntry()
	e.doLight(l, verb, in.Value, true, in.Doer.Hand(), why{})
}

// doLight does something with the light of a room.
func (e *Engine) doLight(l *roomLight, verb light.Verb, value thing.Value, byHand bool, by string, w why) {
	switch verb {
	case light.Next, light.NextOff, light.Previous:
		id, off := e.stepScene(l, verb)
		switch {
		case off:
			verb = light.Off
		case e.scenes[id] == nil, !byHand && e.keptBack(e.scenes[id], id, w):
			return
		default:
			e.applyScene(id, byHand, w)
			return
		}
	}
	if verb == light.Off {
		e.liftFromLamps(l.members, w)
	}
	lamps := e.lampsOf(l)
	targets := light.Do(lamps, verb, value)
	e.applyTargets(targets, 0, byHand, by, w)
	l.shares, l.left = nil, nil
	switch verb {
	case light.LevelTo, light.LevelBy:
		l.shares, l.left = light.Shares(lamps), map[string]thing.Value{}
		for _, lamp := range e.lampsOf(l) {
			l.left[lamp.Device] = lamp.At
		}
	case light.Off:
		l.scene = ""
	}
	e.touchLight(l)
}

// stepScene returns which of the scenes of a light comes next, those that are laid on top left out, or whether it goes off instead.
func (e *Engine) stepScene(l *roomLight, verb light.Verb) (id string, off bool) {
	all := slices.DeleteFunc(l.doc.Stepped(), func(id string) bool { return e.scenes[id] == nil || e.scenes[id].Laid })
	if len(all) == 0 {
		return "", verb == light.NextOff && light.LevelOf(e.lampsOf(l)) > 0
	}
	at := slices.Index(all, e.sceneOf(l))
	switch {
	case verb == light.Previous && at < 0:
		return all[len(all)-1], false
	case verb == light.Previous:
		return all[(at+len(all)-1)%len(all)], false
	case verb == light.NextOff && at == len(all)-1:
		return "", true
	}
	return all[(at+1)%len(all)], false
}

// appliedAsIs reports whether a scene is what is on: it was applied, and every value is as it says. One that only happens to say what is
// on, such as that all is dark, is not.
func (e *Engine) appliedAsIs(id string, scene *light.Scene) bool {
	return scene != nil && !scene.Laid && slices.ContainsFunc(scene.Targets, func(t light.Target) bool {
		s := e.find(t.Device, t.Property)
		return s != nil && s.state.Stack.Base.By == sceneOwner+id
	}) && e.InEffect(scene)
}

// adjustInPlace takes what was changed in a scene that is on to its lamps: those that it set, and those that are new in it. One that a
// hand has set to what the scene says is the hand's.
func (e *Engine) adjustInPlace(id string, before, after *light.Scene) {
	if after.Laid {
		return
	}
	now := e.sceneNow(after)
	var changed []light.Target
	for i, t := range now.Targets {
		same := func(x light.Target) bool {
			y := after.Targets[i]
			return x.Device == y.Device && x.Property == y.Property && x.Value == y.Value && x.Expression == y.Expression && x.Follows == y.Follows &&
				x.Curve == y.Curve
		}
		had := slices.ContainsFunc(before.Targets, func(x light.Target) bool { return x.Device == t.Device && x.Property == t.Property })
		s := e.find(t.Device, t.Property)
		if s != nil && !slices.ContainsFunc(before.Targets, same) && (!had || s.state.Stack.Base.By == sceneOwner+id) {
			changed = append(changed, t)
		}
	}
	if len(changed) > 0 {
		e.applyTargets(changed, 0, true, sceneOwner+id, why{})
	}
}

// applyScene applies a scene that there is.
func (e *Engine) applyScene(id string, byHand bool, w why) {
	now := e.sceneNow(e.scenes[id])
	if !byHand {
		w = e.follow(w, cause.Entry{Kind: cause.Applied, Scene: id})
	}
	if now.Laid {
		e.layScene(id, now, w)
		return
	}
	e.applyTargets(now.Targets, now.Fade(), byHand, sceneOwner+id, w)
	for _, key := range sortedKeys(e.lights) {
		l := e.lights[key]
		if slices.ContainsFunc(l.doc.Scenes, func(s light.RoomScene) bool { return s.Scene == id }) {
			l.scene, l.since, l.shares, l.left = id, e.now, nil, nil
			e.touchLight(l)
		}
	}
}

func init() {
	stepTakers[rule.StepLight] = stepTaker{plain: func(e *Engine, step *rule.Step, by actor, w why) {
		if l := e.lights[step.Light]; l != nil {
			inner := e.follow(w, cause.Entry{Kind: cause.Lit, Link: step.Light, Value: step.Value, Note: string(step.Verb)})
			e.doLight(l, step.Verb, step.Value, false, by.owner, inner)
		}
	}}
}
