package thing

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"amvek/core/gesture"
)

// Type is the data type of a property, action input or event.
type Type string

// The data types. TypeOption is a text out of a fixed list.
const (
	TypeBoolean Type = "boolean"
	TypeNumber  Type = "number"
	TypeOption  Type = "option"
	TypeText    Type = "text"
	TypeColor   Type = "color"
)

// Ref names one property, event or action of one device by identity.
type Ref struct {
	Device string `json:"device"`
	Name   string `json:"name"`
}

// Property is a piece of state of a device.
type Property struct {
	Name       string  `json:"name" doc:"Key of the property in its profile."`
	Title      string  `json:"title"`
	Role       Role    `json:"role,omitempty" doc:"What the property means, whatever the maker."`
	Type       Type    `json:"type" enum:"boolean,number,option,text,color"`
	Unit       Unit    `json:"unit,omitempty" doc:"Canonical unit."`
	Minimum    float64 `json:"minimum"`
	Maximum    float64 `json:"maximum" doc:"No limits where minimum and maximum are equal."`
	Resolution float64 `json:"resolution" doc:"Smallest difference that counts."`
	Writable   bool    `json:"writable"`
	// Whole says that a number has no fraction, and MaxLength how many characters a text may have, 0 for any number.
	Whole     bool     `json:"whole,omitempty" doc:"The number has no fraction."`
	MaxLength int      `json:"maxLength,omitempty" doc:"How many characters a text may have; absent for any number."`
	Options   []string `json:"options,omitempty"`
	Words     []string `json:"words,omitempty" doc:"Words for false and true of a boolean."`
	// Titles are the names of options, by option, where they are not their own.
	Titles map[string]string `json:"titles,omitempty" doc:"Names of options, where they are not their own."`
	// Own says that the hub itself keeps it: it is at once what it is set to.
	Own bool `json:"own,omitempty" doc:"The hub itself keeps it: it is at once what it is set to."`
	// Computed is the expression that it is worked out by, of a property of the home itself.
	Computed string `json:"computed,omitempty" doc:"The expression that it is worked out by."`
	// Without says that it is another reading of the device, less what the lamps that it sees give it.
	Without *Without `json:"without,omitempty" doc:"The hub works it out: another reading of the device, less what the lamps that it sees give it."`
	// Full is what the device says that it ranges over, where it really ranges over less.
	Full *NumberRange `json:"full,omitempty" doc:"What the device says that it ranges over, where it really ranges over less."`
	// Fades says that the device goes to a value over a time that it is told.
	Fades bool `json:"fades,omitempty" doc:"The device itself fades to a value over a time that it is told."`
	// Assumed says that the device never answers, so that its value is never confirmed.
	Assumed bool   `json:"assumed,omitempty" doc:"The device never answers, so the value is never confirmed."`
	Help    string `json:"help,omitempty" doc:"What the property changes or means, in a line."`
	// Setting marks an option of the device; Cover a shutter's position; Only what counts at times only.
	Setting *Setting `json:"setting,omitempty" doc:"It sets the device up."`
	Cover   *Cover   `json:"cover,omitempty" doc:"It is a shutter's position, computed by the hub."`
	Only    *Only    `json:"only,omitempty" doc:"It counts only while another property has a value."`
	// Excludes are the properties of the device that are not in effect while this one is, such as a white of a color.
	Excludes []string `json:"excludes,omitempty" doc:"Properties that are not in effect while this one is: setting the one ends the other."`
}

// NumberRange is from which number to which a property goes.
type NumberRange struct {
	Least float64 `json:"least"`
	Most  float64 `json:"most"`
}

// Declared returns what the device says that the property ranges over.
func (p *Property) Declared() (least, most float64) {
	if p.Full != nil {
		return p.Full.Least, p.Full.Most
	}
	return p.Minimum, p.Maximum
}

// Narrow returns what a value comes to that the device says it can be at: the nearest that it really shows.
func (p *Property) Narrow(v Value) Value {
	if p.Full != nil && v.Kind == KindNumber {
		v.Number = min(max(v.Number, p.Minimum), p.Maximum)
	}
	return v
}

// Limited reports whether the property has a minimum and a maximum.
func (p *Property) Limited() bool { return p.Minimum != p.Maximum }

// Rest returns the value at which the property drives nothing: no, the least number, or the option "off".
// It is none for what cannot set anything going.
func (p *Property) Rest() Value {
	switch {
	case !p.Writable:
	case p.Type == TypeBoolean:
		return Boolean(false)
	case p.Type == TypeNumber && p.Limited() && p.Role != RoleColorTemperature:
		return Number(p.Minimum)
	case p.Type == TypeOption && slices.Contains(p.Options, "off"):
		return Text("off")
	}
	return Value{}
}

// Switches reports whether a value switches a light on or off that can be dimmed, without saying how bright.
func (p *Property) Switches(v Value) bool {
	return v.Kind == KindBoolean && p.Role == RoleBrightness && p.Type == TypeNumber
}

// CheckSet is [Property.Check] of a value that the property is set to: one that switches a light fits too.
func (p *Property) CheckSet(v Value) error {
	if p.Switches(v) {
		return nil
	}
	return p.Check(v)
}

// Extinguishes reports whether a light is off at a value of the property.
func (p *Property) Extinguishes(v Value) bool {
	return (p.Role == RoleBrightness || p.Role == RolePower) && !v.IsNone() && v == p.Rest()
}

// Starts reports whether going from one value to another sets something going, or drives it harder.
func (p *Property) Starts(from, to Value) bool {
	rest := p.Rest()
	switch {
	case rest.IsNone() || to == rest || to == from, p.Switches(to) && !to.True():
		return false
	case to.Kind == KindNumber && from.Kind == KindNumber:
		return to.Number > from.Number
	}
	return true
}

// Event is something that happens at a device.
type Event struct {
	Name   string `json:"name"`
	Title  string `json:"title"`
	Role   Role   `json:"role,omitempty"`
	Number bool   `json:"number" doc:"The event carries a number, such as the steps of a turn."`
	// Options are what it may carry instead, such as the gestures of a button.
	Options []string `json:"options,omitempty" doc:"The event carries one of these texts, such as a gesture."`
	// Layout is where a key sits on its device; nil where the profile does not say.
	Layout *Layout `json:"layout,omitempty" doc:"Where the key or dial sits on its device."`
}

// Sends reports whether the device itself sends a gesture: one of its options, or for a key without options a press.
func (e *Event) Sends(g string) bool { return slices.Contains(e.sent(), g) }

func (e *Event) sent() []string {
	if len(e.Options) == 0 && e.Role == RolePress && !e.Number {
		return []string{gesture.Press}
	}
	return e.Options
}

// Made returns the gestures of a key that the hub makes from what the device sends.
func (e *Event) Made() []string {
	if e.Role != RolePress {
		return nil
	}
	return gesture.Made(e.sent())
}

// Gestures returns all that a trigger may tell apart: what the device sends, and what the hub makes of it.
func (e *Event) Gestures() []string {
	all := slices.Concat(e.sent(), e.Made())
	slices.SortStableFunc(all, func(a, b string) int { return cmp.Compare(gesture.Rank(a), gesture.Rank(b)) })
	return all
}

// Check returns an error where the event never carries a value, nor is one made of what it carries.
func (e *Event) Check(value Value) error {
	switch all := e.Gestures(); {
	case e.Number && value.Kind != KindNumber:
		return errors.New("it carries a number")
	case len(e.Options) == 0 && value.Kind == None:
	case len(all) > 0 && (value.Kind != KindText || !slices.Contains(all, value.Text)):
		return fmt.Errorf("it carries one of %s", strings.Join(all, ", "))
	case !e.Number && len(all) == 0:
		return errors.New("it carries nothing")
	}
	return nil
}

// Layout is where a key or a dial sits on the face of its device, in cells of a grid, counted from the upper left.
type Layout struct {
	Column int `json:"column" minimum:"0" maximum:"23"`
	Row    int `json:"row" minimum:"0" maximum:"23"`
	Width  int `json:"width,omitempty" minimum:"0" maximum:"24" doc:"In cells; 1 where it is absent."`
	Height int `json:"height,omitempty" minimum:"0" maximum:"24" doc:"In cells; 1 where it is absent."`
	// Sign is what is printed on it.
	Sign  string `json:"sign,omitempty" maxLength:"12" doc:"What is printed on it."`
	Round bool   `json:"round,omitempty" doc:"Whether it is round, such as a dial."`
}

// cellsAtMost is how many cells a face is wide and high, and longestSign how many characters are printed on a key.
const (
	cellsAtMost = 24
	longestSign = 12
)

// Check returns an error where no face has such a key.
func (l *Layout) Check() error {
	within := func(at, size int) bool { return at >= 0 && size >= 0 && at+max(1, size) <= cellsAtMost }
	switch {
	case !within(l.Column, l.Width), !within(l.Row, l.Height):
		return fmt.Errorf("a face has %d by %d cells, counted from 0; this key would lie outside", cellsAtMost, cellsAtMost)
	case utf8.RuneCountInString(l.Sign) > longestSign:
		return fmt.Errorf("a sign has at most %d characters", longestSign)
	}
	return nil
}

// Description is all that a device offers, each list in the order of the profile's names.
type Description struct {
	Properties []Property `json:"properties"`
	Events     []Event    `json:"events"`
	Actions    []Action   `json:"actions"`
	Pictures   []Picture  `json:"pictures,omitempty"`
}

// Picture is something a device shows, such as what a camera sees now. It is no value: nothing is told of it, it is asked for.
type Picture struct {
	Name  string `json:"name"`
	Title string `json:"title"`
}

// List makes the lists of a description lists where there is nothing in them: whoever reads it as JSON finds no null.
func (d *Description) List() {
	if d.Properties == nil {
		d.Properties = []Property{}
	}
	if d.Events == nil {
		d.Events = []Event{}
	}
	if d.Actions == nil {
		d.Actions = []Action{}
	}
}

// Property returns the property with this name, or nil.
func (d *Description) Property(name string) *Property {
	for i := range d.Properties {
		if d.Properties[i].Name == name {
			return &d.Properties[i]
		}
	}
	return nil
}

// Event returns the event with this name, or nil.
func (d *Description) Event(name string) *Event {
	for i := range d.Events {
		if d.Events[i].Name == name {
			return &d.Events[i]
		}
	}
	return nil
}

// Action returns the action with this name, or nil.
func (d *Description) Action(name string) *Action {
	for i := range d.Actions {
		if d.Actions[i].Name == name {
			return &d.Actions[i]
		}
	}
	return nil
}

// InvalidValueError says why a value does not fit a property.
type InvalidValueError struct {
	Property string
	Reason   string
}

func (e *InvalidValueError) Error() string { return e.Property + ": " + e.Reason }

// Check returns an [InvalidValueError] when v does not fit the property's type, range or options.
func (p *Property) Check(v Value) error {
	fail := func(format string, args ...any) error {
		return &InvalidValueError{Property: p.Title, Reason: fmt.Sprintf(format, args...)}
	}
	switch p.Type {
	case TypeBoolean:
		if v.Kind != KindBoolean {
			return fail("must be %s", strings.Join(p.wordsOrDefault(), " or "))
		}
	case TypeNumber:
		if v.Kind != KindNumber || math.IsNaN(v.Number) || math.IsInf(v.Number, 0) {
			return fail("must be a number")
		}
		if least, most := p.Declared(); least != most && (v.Number < least || v.Number > most) {
			return fail("must be from %g to %g%s", least, most, spaced(p.Unit))
		}
		if p.Whole && v.Number != math.Trunc(v.Number) {
			return fail("must be a whole number")
		}
	case TypeOption:
		if v.Kind != KindText || !slices.Contains(p.Options, v.Text) {
			return fail("must be one of %s", strings.Join(p.optionTitles(), ", "))
		}
	case TypeText:
		if v.Kind != KindText {
			return fail("must be a text")
		}
		if p.MaxLength > 0 && utf8.RuneCountInString(v.Text) > p.MaxLength {
			return fail("must have %d characters at most", p.MaxLength)
		}
	case TypeColor:
		// The chromaticity triangle lies in x + y ≤ 1, y > 0 (ISO/CIE 11664-3).
		if v.Kind != KindColor || !(v.Number >= 0 && v.Number <= 1 && v.Second > 0 && v.Second <= 1 && v.Number+v.Second <= 1.0001) {
			return fail("must be a color with x and y between 0 and 1")
		}
	default:
		return fail("has the unknown type %q", p.Type)
	}
	return nil
}

// optionTitles are the options as people call them.
func (p *Property) optionTitles() []string {
	titles := make([]string, len(p.Options))
	for i, o := range p.Options {
		titles[i] = p.Say(Text(o))
	}
	return titles
}

func (p *Property) wordsOrDefault() []string {
	if len(p.Words) == 2 {
		return p.Words
	}
	return []string{"no", "yes"}
}

// Values says which values the property can have: "off or on", "0 to 100 %", "in °C", "bridge, client".
func (p *Property) Values() string {
	switch p.Type {
	case TypeBoolean:
		return strings.Join(p.wordsOrDefault(), " or ")
	case TypeNumber:
		switch {
		case p.Limited():
			return fmt.Sprintf("%g to %g%s", p.Minimum, p.Maximum, spaced(p.Unit))
		case p.Unit != UnitNone:
			return "in " + string(p.Unit)
		default:
			return "a number"
		}
	case TypeOption:
		titles := make([]string, len(p.Options))
		for i, o := range p.Options {
			titles[i] = p.Say(Text(o))
		}
		return strings.Join(titles, ", ")
	case TypeColor:
		return "a color"
	default:
		return "a text"
	}
}

// Say renders a value of this property as people say it: "60 %", "open", "2700 K".
func (p *Property) Say(v Value) string {
	switch v.Kind {
	case KindBoolean:
		if p.Switches(v) {
			return map[bool]string{false: "off", true: "on"}[v.True()]
		}
		words := p.wordsOrDefault()
		if v.Number != 0 {
			return words[1]
		}
		return words[0]
	case KindNumber:
		if p.Role == RoleBrightness && v.Number == 0 {
			return "off"
		}
		digits := 0
		if p.Resolution < 1 {
			digits = 1
		}
		rounded := math.Round(v.Number*math.Pow10(digits)) / math.Pow10(digits)
		return fmt.Sprintf("%g%s", rounded, spaced(p.Unit))
	case KindText:
		if title, named := p.Titles[v.Text]; named {
			return title
		}
		return v.Text
	default:
		return v.String()
	}
}

func spaced(u Unit) string {
	if u == UnitNone {
		return ""
	}
	return " " + string(u)
}
