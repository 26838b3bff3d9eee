package hub

import (
	"fmt"
	"slices"
	"strings"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/thing"
)

// keeps says why somebody may not do what an input says, since it is kept to others; "" where they may. What is kept to some
// people is what needs a hand: setting a device going, and unlocking. It runs in the loop.
func (h *Hub) keeps(in *engine.Input) string {
	switch in.Kind {
	case engine.InputWrite, engine.InputKeep:
		return h.keepsOne(in.Device, in.Name, in.Value, in.Doer)
	case engine.InputInvoke:
		d := h.definitions.Device(in.Device)
		action := d.Description.Action(in.Name) // was looked up before
		if action.Role == thing.RoleStop || action.Role == thing.RoleIdentify {
			return ""
		}
		return h.keptWords(d, in.Doer)
	case engine.InputTry:
		for _, t := range in.Targets {
			if reason := h.keepsOne(t.Device, t.Property, t.Value, in.Doer); reason != "" {
				return reason
			}
		}
	case engine.InputScene:
		if in.Verb == engine.VerbLift {
			return "" // what lies below was set before
		}
		return h.keepsScene(in.Scene, in.Doer)
	case engine.InputLight:
		return h.keepsLight(in)
	case engine.InputSequence:
		doc := h.definitions.Sequences[in.ID].Doc
		if doc.Effect != nil && in.Verb != engine.VerbStop {
			for _, l := range h.engine.LampsMoved(doc.Effect) {
				if reason := h.keptFrom(l.Device, in.Doer); reason != "" {
					return reason
				}
			}
		}
		for _, p := range doc.Passages {
			if reason := h.keepsScene(p.Scene, in.Doer); reason != "" && in.Verb != engine.VerbStop {
				return reason
			}
		}
	case engine.InputAgree:
		if state, there := h.engine.PropertyState(thing.Ref{Device: in.Device, Name: in.Name}); there && in.Verb == engine.AgreeSet {
			return h.keepsOne(in.Device, in.Name, state.Target, in.Doer)
		}
	case engine.InputCover:
		if d := h.definitions.Device(in.Device); d != nil {
			return h.keptWords(d, in.Doer)
		}
	}
	return ""
}

// keepsLight is [Hub.keeps] for the light of a room: whatever lights a lamp of it, or a scene of it.
func (h *Hub) keepsLight(in *engine.Input) string {
	doc := h.definitions.Lights[in.ID].Doc
	switch light.Verb(in.Verb) {
	case light.Off:
		return ""
	case light.Next, light.NextOff, light.Previous:
		for _, s := range doc.Scenes {
			if reason := h.keepsScene(s.Scene, in.Doer); reason != "" {
				return reason
			}
		}
		return ""
	}
	view, _ := h.engine.RoomLightView(in.ID)
	for _, id := range view.Members {
		if reason := h.keptFrom(id, in.Doer); reason != "" {
			return reason
		}
	}
	return ""
}

// keptFrom says why somebody may not do anything with a device that is kept to others; "" where they may.
func (h *Hub) keptFrom(device string, by cause.By) string {
	if d := h.definitions.Device(device); d != nil && len(d.KeptTo) > 0 {
		return h.keptWords(d, by)
	}
	return ""
}

func (h *Hub) keepsScene(id string, by cause.By) string {
	scene := h.definitions.Scenes[id].Doc
	if scene == nil {
		return ""
	}
	for _, t := range scene.Targets {
		if reason := h.keepsOne(t.Device, t.Property, t.Value, by); reason != "" {
			return reason
		}
	}
	return ""
}

func (h *Hub) keepsOne(device, name string, value thing.Value, by cause.By) string {
	d, p := h.definitions.Device(device), h.engine.Property(device, name)
	if d == nil || p == nil || len(d.KeptTo) == 0 {
		return ""
	}
	state, _ := h.engine.PropertyState(thing.Ref{Device: device, Name: name})
	unlocks := p.Role == thing.RoleLock && value == thing.Boolean(false)
	if !unlocks && (p.Role == thing.RoleLock || !p.Starts(state.Reported, value)) {
		return ""
	}
	return h.keptWords(d, by)
}

// keptWords says whose it is to set a device going, where it is not theirs who want to.
func (h *Hub) keptWords(d *home.Device, by cause.By) string {
	if len(d.KeptTo) == 0 {
		return ""
	}
	if by.Who == cause.Person {
		person, _ := h.Person(by.ID)
		if by.ID == "" || person.Role == home.Owner || slices.Contains(d.KeptTo, by.ID) {
			return ""
		}
	}
	names := []string{}
	for _, id := range d.KeptTo {
		if person, there := h.Person(id); there {
			names = append(names, person.Title)
		}
	}
	slices.Sort(names)
	return fmt.Sprintf("%s is kept to %s.", d.Title, strings.Join(append(names, "the owners of the home"), ", "))
}
