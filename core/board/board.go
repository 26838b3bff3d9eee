// Package board holds the dashboards of the household: which controls stand where, what each is about, how it looks and what a touch
// of it does. It also lays one out from what is there, and points the controls of one room to what is in another. It knows no
// interface, no requests and no states, and does no I/O.
package board

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"amvek/core/document"
	"amvek/core/thing"
)

// Columns is how many columns the grid of a dashboard has on a wide screen, and TallColumns on a tall one.
const (
	Columns     = 24
	TallColumns = 12
)

// formerColumns is how many columns the grid of older documents has, whose rows are twice as high, too.
const formerColumns = 12

const (
	maximumRow      = 800
	maximumHeight   = 40
	maximumControls = 400
	maximumValues   = 24
	maximumText     = 2000
)

// Place is where something lies, in cells of a grid.
type Place struct {
	Column int `json:"column" minimum:"0" maximum:"23"`
	Row    int `json:"row" minimum:"0" maximum:"800"`
	Width  int `json:"width" minimum:"1" maximum:"24"`
	Height int `json:"height" minimum:"1" maximum:"40"`
}

// over reports whether two places have a cell in common.
func (p Place) over(q Place) bool {
	return p.Column < q.Column+q.Width && q.Column < p.Column+p.Width && p.Row < q.Row+q.Height && q.Row < p.Row+p.Height
}

func (p Place) within(columns int) bool {
	return p.Width >= 1 && p.Height >= 1 && p.Height <= maximumHeight && p.Column >= 0 && p.Column+p.Width <= columns && p.Row >= 0 && p.Row <= maximumRow
}

// Aim is what a control, or a touch of it, is about: ids of what is in the home.
type Aim struct {
	Device    string `json:"device,omitempty"`
	Property  string `json:"property,omitempty"`
	Action    string `json:"action,omitempty"`
	Camera    string `json:"camera,omitempty" doc:"The picture of the device that is shown."`
	Scene     string `json:"scene,omitempty"`
	Sequence  string `json:"sequence,omitempty"`
	Light     string `json:"light,omitempty" doc:"Id of the light of a room."`
	Rule      string `json:"rule,omitempty"`
	Dashboard string `json:"dashboard,omitempty"`
}

// Control is an instrument on a dashboard.
type Control struct {
	ID   string `json:"id" minLength:"1" maxLength:"60"`
	Kind Kind   `json:"kind" enum:"lamp,color,room,scene,sequence,switch,level,warmth,shutter,lock,action,player,cover,opening,value,chart,list,camera,rule,modes,somebody,next,messages,care,clock,label,picture,link"`
	Aim
	// Values are the properties of a chart or a list.
	Values []thing.Ref `json:"values,omitempty" maxItems:"24" doc:"The properties of a chart or a list."`
	// Upload is the id of a picture that was uploaded.
	Upload string `json:"upload,omitempty" maxLength:"80" doc:"The id of a picture that was uploaded."`
	// Inputs are what an action is given.
	Inputs thing.Inputs `json:"inputs,omitempty" doc:"What the action is given."`

	Label string `json:"label,omitempty" maxLength:"80" doc:"Shown instead of the name of what it is about."`
	Icon  string `json:"icon,omitempty" maxLength:"60" doc:"The name of an icon of the shipped set."`
	Color string `json:"color,omitempty" enum:",verdigris,ember,ochre,slate,plum" doc:"That of its title and icon."`
	// Clear is how much of the background shows through, in percent.
	Clear int  `json:"clear,omitempty" minimum:"0" maximum:"100" doc:"How much of the background shows through, in percent."`
	Face  Face `json:"face,omitempty" enum:",small,middle,large" doc:"How much of the instrument is drawn; as much as there is room for where it is not said."`

	// Tap, Double and Hold are what a touch does, where it is not what the instrument does by itself.
	Tap    *Touch `json:"tap,omitempty"`
	Double *Touch `json:"double,omitempty"`
	Hold   *Touch `json:"hold,omitempty"`
	// Ask says that a touch is asked about before it counts.
	Ask bool `json:"ask,omitempty" doc:"A touch is asked about before it counts."`
	// SeenBy are the roles, or the ids of the people and panels, who see it; none is everybody.
	SeenBy []string `json:"seenBy,omitempty" maxItems:"100" doc:"The roles, or the ids of people and panels, who see it; none is everybody."`

	// Options are those that its kind has, by their names.
	Options map[string]any `json:"options,omitempty" doc:"The options that its kind has, as their schema says."`

	// Place is where it lies on a wide screen, and Tall on a tall one, where that was chosen and is not as proposed.
	Place
	Tall *Place `json:"tall,omitempty" doc:"Where it lies on a tall screen, in twelve columns, where that is not as proposed."`
}

// Deed is what a touch does.
type Deed string

// The deeds.
const (
	DoNothing  Deed = "nothing"
	DoSet      Deed = "set"       // writes a value
	DoToggle   Deed = "toggle"    // switches on or off
	DoAsk      Deed = "action"    // asks a device to do something
	DoScene    Deed = "scene"     // applies a scene
	DoSequence Deed = "sequence"  // starts a sequence, or stops it
	DoRule     Deed = "rule"      // runs a rule
	DoOpen     Deed = "dashboard" // goes to a dashboard
	DoExplain  Deed = "explain"   // says why it is so
)

// Touch is what a touch does, and to what.
type Touch struct {
	Do Deed `json:"do" enum:"nothing,set,toggle,action,scene,sequence,rule,dashboard,explain"`
	Aim
	Value  *thing.Value `json:"value,omitempty" doc:"What is written."`
	Inputs thing.Inputs `json:"inputs,omitempty" doc:"What the action is given."`
}

// Background is what lies behind the controls of a dashboard.
type Background struct {
	// Upload is the id of a picture that was uploaded; without one there is only the tint.
	Upload string `json:"upload,omitempty" maxLength:"80" doc:"The id of a picture that was uploaded."`
	Tint   string `json:"tint,omitempty" enum:",verdigris,ember,ochre,slate,plum"`
	// Darkest and Lightest are the relative luminances of the picture, as measured when it was uploaded.
	Darkest  float64 `json:"darkest,omitempty" minimum:"0" maximum:"1" doc:"The relative luminance that nearly all of the picture is above, as measured when it was uploaded."`
	Lightest float64 `json:"lightest,omitempty" minimum:"0" maximum:"1" doc:"The relative luminance that nearly all of the picture is below."`
	// Dim is how far it gives way to the paper, in percent; it is dimmed further where text could not be read on it.
	Dim  int `json:"dim,omitempty" minimum:"0" maximum:"100" doc:"How far it gives way to the paper, in percent; further where text could not be read on it."`
	Blur int `json:"blur,omitempty" minimum:"0" maximum:"40" doc:"In pixels."`
	Fade int `json:"fade,omitempty" minimum:"0" maximum:"100" doc:"How much of it, from its foot, goes over into the paper, in percent."`
}

// Dashboard is a board of controls for the household.
type Dashboard struct {
	Title string `json:"title" minLength:"1" maxLength:"80"`
	Icon  string `json:"icon,omitempty" maxLength:"60" doc:"The name of an icon of the shipped set."`
	// Order is where it stands among the dashboards, the smallest first.
	Order float64 `json:"order,omitempty" doc:"Where it stands among the dashboards, the smallest first."`
	// SeenBy are the roles, or the ids of the people, who are offered it; none is everybody. Guests and panels are given theirs.
	SeenBy []string `json:"seenBy,omitempty" maxItems:"100" doc:"The roles, or the ids of people, who are offered it; none is everybody."`
	// Margin says that the clock, the modes and what comes next stand at its side.
	Margin     bool        `json:"margin,omitempty" doc:"The clock, the modes and what comes next stand at its side."`
	Background *Background `json:"background,omitempty"`
	// Grid is how many columns the places of its controls are in.
	Grid     int       `json:"grid,omitempty" enum:"12,24" doc:"How many columns the places of its controls are in: 24. Where it is not said they are in 12, with rows twice as high, as in older documents."`
	Controls []Control `json:"controls" maxItems:"400"`
}

// UnmarshalJSON reads a dashboard. The places of an older one, in twelve columns, are taken over into the finer grid.
func (d *Dashboard) UnmarshalJSON(data []byte) error {
	type plain Dashboard
	if err := json.Unmarshal(data, (*plain)(d)); err != nil {
		return err
	}
	if d.Grid != 0 && d.Grid != formerColumns {
		return nil
	}
	const finer = Columns / formerColumns
	d.Grid, d.Margin = Columns, true
	for i := range d.Controls {
		p := &d.Controls[i].Place
		p.Column, p.Row, p.Width, p.Height = p.Column*finer, p.Row*finer, p.Width*finer, p.Height*finer
	}
	return nil
}

// Check returns an error naming the control that is wrong, and what of it.
func (d *Dashboard) Check() error {
	switch {
	case strings.TrimSpace(d.Title) == "":
		return document.Wrong("title", "a dashboard needs a name")
	case d.Grid != Columns:
		return document.Wrong("grid", "the grid has %d columns", Columns)
	case len(d.Controls) > maximumControls:
		return document.Wrong("controls", "a dashboard has %d controls at most", maximumControls)
	}
	if err := document.CheckIcon("icon", d.Icon); err != nil {
		return err
	}
	if err := everyOne("seenBy", d.SeenBy); err != nil {
		return err
	}
	seen := map[string]bool{}
	for i := range d.Controls {
		c := &d.Controls[i]
		at := fmt.Sprintf("controls[%d]", i)
		if c.ID == "" || seen[c.ID] {
			return document.Wrong(at+".id", "each control needs an id of its own")
		}
		seen[c.ID] = true
		if err := c.check(at); err != nil {
			return err
		}
	}
	return nil
}

func (c *Control) check(at string) error {
	spec, known := Of(c.Kind)
	switch {
	case !known:
		return document.Wrong(at+".kind", "there is no control %q", c.Kind)
	case !c.within(Columns):
		return document.Wrong(at, "it lies outside the %d columns", Columns)
	case c.Tall != nil && !c.Tall.within(TallColumns):
		return document.Wrong(at+".tall", "it lies outside the %d columns", TallColumns)
	case len(c.Values) > maximumValues:
		return document.Wrong(at+".values", "%d values at most", maximumValues)
	case !spec.chosen(c):
		return document.Wrong(at, "choose what it is about")
	}
	if err := document.CheckIcon(at+".icon", c.Icon); err != nil {
		return err
	}
	if err := everyOne(at+".seenBy", c.SeenBy); err != nil {
		return err
	}
	for name, act := range map[string]*Touch{"tap": c.Tap, "double": c.Double, "hold": c.Hold} {
		if act != nil && !act.complete(c) {
			return document.Wrong(at+"."+name, "choose what the touch does it to")
		}
	}
	for _, name := range sortedNames(c.Options) {
		if err := spec.checkOption(name, c.Options[name]); err != nil {
			return document.Wrong(at+".options."+name, "%s", err)
		}
	}
	return nil
}

// complete reports whether it is said what a touch does.
func (a *Touch) complete(c *Control) bool {
	switch a.Do {
	case DoNothing, DoExplain:
		return true
	case DoSet:
		return a.Device != "" && a.Property != "" && a.Value != nil
	case DoToggle:
		return a.Device != "" && a.Property != "" || c.Device != ""
	case DoAsk:
		return a.Device != "" && a.Action != ""
	case DoScene:
		return a.Scene != ""
	case DoSequence:
		return a.Sequence != ""
	case DoRule:
		return a.Rule != ""
	case DoOpen:
		return a.Dashboard != ""
	}
	return false
}

func everyOne(at string, ids []string) error {
	for i, id := range ids {
		if id == "" || slices.Contains(ids[:i], id) {
			return document.Wrong(fmt.Sprintf("%s[%d]", at, i), "somebody is named twice, or nobody was chosen")
		}
	}
	return nil
}

// Acts returns what touches of a control do that is not what its instrument does by itself.
func (c *Control) Acts() []*Touch {
	return slices.DeleteFunc([]*Touch{c.Tap, c.Double, c.Hold}, func(a *Touch) bool { return a == nil })
}

// Mentions calls a function for all that a control is about, and what touches of it do something to. What it changes is changed.
func (c *Control) Mentions(each func(*Aim)) {
	each(&c.Aim)
	for _, a := range c.Acts() {
		each(&a.Aim)
	}
}

// IDs returns the ids of all that a control is about, or that touches of it do something to.
func (c *Control) IDs() []string {
	var ids []string
	c.Mentions(func(of *Aim) { ids = append(ids, of.Device, of.Scene, of.Sequence, of.Light, of.Rule, of.Dashboard) })
	for _, v := range c.Values {
		ids = append(ids, v.Device)
	}
	return slices.DeleteFunc(ids, func(id string) bool { return id == "" })
}

// SeenBy reports whether somebody of a role, with an id, is among those who see something.
func SeenBy(who []string, role, id string) bool {
	return len(who) == 0 || slices.Contains(who, role) || id != "" && slices.Contains(who, id)
}

func tooLong(text string, most int) bool { return utf8.RuneCountInString(text) > most }
