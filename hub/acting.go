package hub

import (
	"context"
	"errors"
	"fmt"

	"amvek/core/engine"
	"amvek/core/light"
	"amvek/core/thing"
)

// Act lets a person do something; the input is checked first, and an error says what is wrong with it.
func (h *Hub) Act(ctx context.Context, in engine.Input) error {
	var err error
	failed := h.do(ctx, func() {
		if err = h.checkAct(&in); err == nil {
			h.handle(in)
		}
	})
	return errors.Join(failed, err)
}

func (h *Hub) checkAct(in *engine.Input) error {
	if err := h.checkInput(in); err != nil {
		return err
	}
	if reason := h.engine.Forbids(in); reason != "" {
		return &ForbiddenError{reason}
	}
	if reason := h.keeps(in); reason != "" {
		return &ForbiddenError{reason}
	}
	return nil
}

func (h *Hub) checkInput(in *engine.Input) error {
	switch in.Kind {
	case engine.InputWrite, engine.InputKeep:
		p := h.engine.Property(in.Device, in.Name)
		switch {
		case p == nil:
			return Absent("There is no such device or property.")
		case !p.Writable:
			return Invalid("property", p.Title+" can be read but not set.")
		}
		check := p.CheckSet
		if in.Kind == engine.InputKeep {
			check = p.Check
		}
		if err := check(in.Value); err != nil {
			return Invalid("value", err.Error())
		}
		if in.Kind == engine.InputKeep && !in.Until.IsZero() && !in.Until.After(h.clock.Now()) {
			return Invalid("until", "The end lies in the past.")
		}
	case engine.InputLetGo:
		state, ok := h.engine.PropertyState(thing.Ref{Device: in.Device, Name: in.Name})
		if !ok || state.Stack.Find(in.Owner) == nil {
			return Absent("Nobody of that name holds this property.")
		}
	case engine.InputScene:
		if !h.engine.HasScene(in.Scene) {
			return Absent("There is no such scene.")
		}
	case engine.InputRun:
		view, ok := h.engine.RuleView(in.Rule)
		switch {
		case !ok:
			return Absent("There is no such rule.")
		case len(view.Problems) > 0:
			return Invalid("rule", "The rule cannot run: "+view.Problems[0].Message)
		}
	case engine.InputAgree:
		if state, ok := h.engine.PropertyState(thing.Ref{Device: in.Device, Name: in.Name}); !ok || state.Difference == nil {
			return Absent("Hub and device do not differ there.")
		}
	case engine.InputCover:
		return h.checkShutter(in)
	case engine.InputInvoke:
		if d := h.definitions.Device(in.Device); d == nil || d.Description.Action(in.Name) == nil {
			return Absent("There is no such device or action.")
		} else if err := d.Description.Action(in.Name).Check(in.Given); err != nil {
			return Invalid("input", err.Error()+".")
		}
	case engine.InputSequence:
		if doc := h.definitions.Sequences[in.ID].Doc; doc == nil {
			return Absent("There is no such sequence.")
		} else if len(doc.Passages) == 0 && doc.Effect == nil {
			return Invalid("passages", "There is no scene in it yet.")
		}
	case engine.InputLight:
		return h.checkLit(in)
	case engine.InputEvent:
		d := h.definitions.Device(in.Device)
		if d == nil || d.Description.Event(in.Name) == nil {
			return Absent("There is no such device or key.")
		}
		if err := d.Description.Event(in.Name).Check(in.Value); err != nil {
			return Invalid("value", err.Error())
		}
	case engine.InputTry:
		for i, t := range in.Targets {
			p := h.engine.Property(t.Device, t.Property)
			if p == nil || !p.Writable {
				return Invalid(fmt.Sprintf("targets[%d]", i), "There is no such device or property to set.")
			}
			if err := p.Check(t.Value); err != nil {
				return Invalid(fmt.Sprintf("targets[%d]", i), err.Error())
			}
		}
	}
	return nil
}

// checkLit returns what is wrong with something that is to be done with the light of a room.
func (h *Hub) checkLit(in *engine.Input) error {
	verb := light.Verb(in.Verb)
	switch {
	case h.definitions.Lights[in.ID].Doc == nil:
		return Absent("There is no such light.")
	case !verb.Known():
		return Invalid("verb", "The light of a room does not know that.")
	}
	if err := verb.Check(in.Value); err != nil {
		return Invalid("value", capital(err.Error())+".")
	}
	return nil
}
