package hub

import (
	"errors"
	"fmt"
	"strings"

	"amvek/core/document"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
)

// wellFormed returns what is wrong with a document whatever else there is in the home. Rules and schedules may be saved
// unfinished: their problems are shown and they do not run.
func wellFormed(doc any) error {
	switch doc := doc.(type) {
	case *home.Home:
		return doc.Check()
	case *home.Room:
		return doc.Check()
	case *home.Device:
		return doc.Check()
	case *home.Dashboard:
		return doc.Check()
	case *home.Calendar:
		return doc.Check()
	case *home.Group:
		return doc.Check()
	case *home.Variable:
		return doc.Check()
	case *home.Modes:
		return doc.Check()
	case *Connection:
		return doc.Check()
	case *rule.Rule:
		return named("rule", doc.Title)
	case *rule.Schedule:
		return named("schedule", doc.Title)
	case *light.Scene:
		return named("scene", doc.Title)
	case *light.Sequence:
		return named("sequence", doc.Title)
	default:
		return nil
	}
}

func named(kind, title string) error {
	if strings.TrimSpace(title) == "" {
		return errors.New("title: give the " + kind + " a name")
	}
	return nil
}

// check returns what is wrong with a document that keeps it from being saved in this home.
func (h *Hub) check(id string, doc any) error {
	err := wellFormed(doc)
	if err != nil {
		return placed(err)
	}
	switch doc := doc.(type) {
	case *home.Device:
		if doc.Room != "" && h.definitions.rooms[doc.Room].doc == nil {
			err = errors.New("room: there is no such room")
		}
	case *light.Scene:
		if err = doc.Check(h.engine.Property); err == nil {
			err = h.checkFormulas(doc)
		}
	case *light.Sequence:
		err = doc.Check(func(id string) bool { return h.definitions.scenes[id].doc != nil })
	case *home.Group:
		for _, id := range doc.Devices {
			if h.definitions.device(id) == nil {
				err = errors.New("devices: one of them is no longer in the home")
			}
		}
	case *home.Variable:
		err = h.checkComputed(id, doc)
	case *home.Modes:
		p := doc.Property()
		if now, ok := h.engine.PropertyState(thing.Ref{Device: OwnID, Name: home.ModeProperty}); ok && !now.Target.IsNone() && p.Check(now.Target) != nil {
			err = fmt.Errorf("modes: the house is in the mode %s now: set another mode before you remove it", h.modeTitle(now.Target.Text))
		}
	}
	return placed(err)
}

// modeTitle returns how a mode is called.
func (h *Hub) modeTitle(id string) string {
	for _, m := range h.definitions.modeList().Modes {
		if m.ID == id {
			return "“" + m.Title + "”"
		}
	}
	return id
}

// placed makes an error that begins with the place of what is wrong an [InvalidError].
func placed(err error) error {
	if err == nil {
		return nil
	}
	place, message, ok := strings.Cut(err.Error(), ": ")
	if !ok {
		return Invalid("", err.Error())
	}
	return Invalid(place, strings.ToUpper(message[:1])+message[1:]+".")
}

// placedDocument makes an error of a document's check an [InvalidError].
func placedDocument(err error) error {
	var wrong *document.Error
	if errors.As(err, &wrong) {
		return Invalid(wrong.Path, wrong.Message)
	}
	return err
}
