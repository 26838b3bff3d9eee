package hub

import (
	"errors"
	"strings"

	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
)

// check returns what is wrong with a document that keeps it from being saved. Rules and
// schedules may be saved unfinished: their problems are shown and they do not run.
func (h *Hub) check(id string, doc any) error {
	var err error
	switch doc := doc.(type) {
	case *home.Home:
		err = doc.Check()
	case *home.Room:
		err = doc.Check()
	case *home.Device:
		err = doc.Check()
		if err == nil && doc.Room != "" && h.definitions.rooms[doc.Room].doc == nil {
			err = errors.New("room: there is no such room")
		}
	case *light.Scene:
		err = doc.Check(h.engine.Property)
	case *home.Dashboard:
		err = doc.Check()
	case *light.Sequence:
		err = doc.Check(func(id string) bool { return h.definitions.scenes[id].doc != nil })
	case *home.Calendar:
		err = doc.Check()
	case *home.Group:
		if err = doc.Check(); err == nil {
			for _, id := range doc.Devices {
				if h.definitions.device(id) == nil {
					err = errors.New("devices: one of them is no longer in the home")
				}
			}
		}
	case *home.Variable:
		if err = doc.Check(); err == nil {
			err = h.checkComputed(id, doc)
		}
	case *home.Modes:
		err = doc.Check()
	case *Connection:
		err = doc.Check()
	case *rule.Rule:
		if strings.TrimSpace(doc.Title) == "" {
			err = errors.New("title: give the rule a name")
		}
	case *rule.Schedule:
		if strings.TrimSpace(doc.Title) == "" {
			err = errors.New("title: give the schedule a name")
		}
	}
	if err != nil {
		place, message, ok := strings.Cut(err.Error(), ": ")
		if !ok {
			return Invalid("", err.Error())
		}
		return Invalid(place, strings.ToUpper(message[:1])+message[1:]+".")
	}
	return nil
}
