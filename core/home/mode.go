package home

import (
	"fmt"
	"slices"
	"strings"

	"amvek/core/document"
	"amvek/core/thing"
)

// Modes is the household's own list of what the house may be in: in, out, asleep, away. It is in one of them.
type Modes struct {
	Modes []Mode `json:"modes" minItems:"2" maxItems:"30"`
}

// Mode is one of them. Rules refer to it by its id, so it can be renamed.
type Mode struct {
	ID    string `json:"id" minLength:"1" maxLength:"60"`
	Title string `json:"title" minLength:"1" maxLength:"40"`
}

// UsualModes are those that a new home has.
func UsualModes() Modes {
	return Modes{Modes: []Mode{{"mode-in", "In"}, {"mode-out", "Out"}, {"mode-asleep", "Asleep"}, {"mode-away", "Away"}}}
}

// Check returns an error when the list could not be used.
func (m *Modes) Check() error {
	if len(m.Modes) < 2 {
		return document.Wrong("modes", "there must be two at least")
	}
	var ids, titles []string
	for i, mode := range m.Modes {
		title := strings.ToLower(strings.TrimSpace(mode.Title))
		switch {
		case title == "" || mode.ID == "":
			return document.Wrong(fmt.Sprintf("modes[%d]", i), "give the mode a name")
		case slices.Contains(titles, title):
			return document.Wrong(fmt.Sprintf("modes[%d]", i), "there is already a mode “%s”", mode.Title)
		case slices.Contains(ids, mode.ID):
			return document.Wrong(fmt.Sprintf("modes[%d]", i), "two modes have the id %s", mode.ID)
		}
		ids, titles = append(ids, mode.ID), append(titles, title)
	}
	return nil
}

// OwnID is the id of what the home says of itself, as a device: rules, histories and dashboards use it like any other.
const OwnID = "own"

// ModeProperty is the name of the home's own property that is its mode.
const ModeProperty = "mode"

// Property returns the mode as a property of the home itself.
func (m *Modes) Property() thing.Property {
	p := thing.Property{
		Name:     ModeProperty,
		Title:    "Mode of the house",
		Role:     thing.RoleMode,
		Type:     thing.TypeOption,
		Writable: true,
		Own:      true,
		Titles:   map[string]string{},
	}
	for _, mode := range m.Modes {
		p.Options = append(p.Options, mode.ID)
		p.Titles[mode.ID] = mode.Title
	}
	return p
}
