package views

import (
	"bytes"
	"encoding/json"

	"amvek/core/home"
	"amvek/hub/docs"
)

// GroupView is a group of devices and what uses it.
type GroupView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	home.Group
	UsedBy []docs.Use `json:"usedBy"`
}

// Group returns a group that there is.
func (r *Reader) Group(id string) GroupView {
	g := r.Definitions.Groups[id]
	return GroupView{ID: id, Revision: g.Revision, Group: *g.Doc, UsedBy: r.Definitions.UsedBy(id)}
}

// VariableView is a variable and what uses it. How it stands is a property of the home itself.
type VariableView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	home.Variable
	UsedBy []docs.Use `json:"usedBy"`
}

// Variable returns a variable that there is.
func (r *Reader) Variable(id string) VariableView {
	v := r.Definitions.Variables[id]
	return VariableView{ID: id, Revision: v.Revision, Variable: *v.Doc, UsedBy: r.Definitions.UsedBy(id)}
}

// ModesView is the household's list of modes.
type ModesView struct {
	Revision int `json:"revision"`
	home.Modes
	UsedBy []docs.Use `json:"usedBy"`
	// Uses are of each mode, by its id: what speaks of it.
	Uses map[string][]docs.Use `json:"uses" doc:"What speaks of each mode, by the mode's id; those that nothing speaks of are absent."`
}

// Modes returns the household's modes.
func (r *Reader) Modes() ModesView {
	return ModesView{
		Revision: r.Definitions.ModeLists[docs.ModesID].Revision,
		Modes:    r.Definitions.Modes(),
		UsedBy:   r.Definitions.UsedBy(home.ModeProperty),
		Uses:     r.modeUses(),
	}
}

// modeUses returns what speaks of each mode, by the mode's id: values, lists and expressions all name it in quotes.
func (r *Reader) modeUses() map[string][]docs.Use {
	uses, d := map[string][]docs.Use{}, r.Definitions
	for _, use := range d.UsedBy(home.ModeProperty) {
		doc, _, _ := d.Get(use.Kind, use.ID)
		text, err := json.Marshal(doc)
		if err != nil {
			continue
		}
		for _, m := range d.Modes().Modes {
			if bytes.Contains(text, []byte(`"`+m.ID+`"`)) || bytes.Contains(text, []byte(`"`+m.ID+`\"`)) {
				uses[m.ID] = append(uses[m.ID], use)
			}
		}
	}
	return uses
}
