package home

import (
	"fmt"
	"strings"

	"amvek/core/document"
)

// Columns is how many columns a dashboard has at its full width.
const Columns = 12

const (
	maximumRows     = 400
	maximumControls = 200
)

// ControlKind says what a control on a dashboard is for.
type ControlKind string

// The kinds of control.
const (
	ControlLamp  ControlKind = "lamp"  // switches and dims
	ControlValue ControlKind = "value" // shows a property
	ControlScene ControlKind = "scene" // applies a scene
	ControlRule  ControlKind = "rule"  // runs a rule, or shows that it holds
)

// controlKinds are the kinds of control, each with what of a control says what it controls.
var controlKinds = map[ControlKind]func(c *Control) string{
	ControlLamp:  func(c *Control) string { return c.Device },
	ControlValue: func(c *Control) string { return c.Device },
	ControlScene: func(c *Control) string { return c.Scene },
	ControlRule:  func(c *Control) string { return c.Rule },
}

// Control is one cell of a dashboard.
type Control struct {
	ID       string      `json:"id" minLength:"1"`
	Kind     ControlKind `json:"kind" enum:"lamp,value,scene,rule"`
	Label    string      `json:"label,omitempty" maxLength:"80" doc:"Shown instead of the name of what it controls."`
	Device   string      `json:"device,omitempty"`
	Property string      `json:"property,omitempty"`
	Scene    string      `json:"scene,omitempty"`
	Rule     string      `json:"rule,omitempty"`
	// Column, Row, Width and Height are in cells of a grid with twelve columns.
	Column int `json:"column" minimum:"0" maximum:"11"`
	Row    int `json:"row" minimum:"0" maximum:"400"`
	Width  int `json:"width" minimum:"1" maximum:"12"`
	Height int `json:"height" minimum:"1" maximum:"12"`
}

// Dashboard is a board of controls for the household.
type Dashboard struct {
	Title    string    `json:"title" minLength:"1" maxLength:"80"`
	Controls []Control `json:"controls"`
}

// Check returns an error naming the control that is wrong.
func (d *Dashboard) Check() error {
	if strings.TrimSpace(d.Title) == "" {
		return document.Wrong("title", "a dashboard needs a name")
	}
	if len(d.Controls) > maximumControls {
		return document.Wrong("controls", "at most %d", maximumControls)
	}
	seen := map[string]bool{}
	for i, c := range d.Controls {
		switch {
		case c.ID == "" || seen[c.ID]:
			return document.Wrong(fmt.Sprintf("controls[%d].id", i), "each control needs an id of its own")
		case c.Width < 1 || c.Height < 1 || c.Column < 0 || c.Column+c.Width > Columns || c.Row < 0 || c.Row > maximumRows:
			return document.Wrong(fmt.Sprintf("controls[%d]", i), "lies outside the %d columns", Columns)
		}
		seen[c.ID] = true
		of, known := controlKinds[c.Kind]
		if !known {
			return document.Wrong(fmt.Sprintf("controls[%d].kind", i), "%q is not known", c.Kind)
		}
		if of(&c) == "" {
			return document.Wrong(fmt.Sprintf("controls[%d]", i), "choose what it controls")
		}
	}
	return nil
}
