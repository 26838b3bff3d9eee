package board

import (
	"fmt"
	"maps"
	"math"
	"slices"

	"amvek/core/home"
	"amvek/core/thing"
)

// Kind says which instrument a control is.
type Kind string

// The kinds of control.
const (
	Lamp     Kind = "lamp"
	Level    Kind = "level"
	Color    Kind = "color"
	Switch   Kind = "switch"
	Shutter  Kind = "shutter"
	Warmth   Kind = "warmth"
	Lock     Kind = "lock"
	Opening  Kind = "opening"
	Reading  Kind = "value"
	Chart    Kind = "chart"
	List     Kind = "list"
	Player   Kind = "player"
	Cover    Kind = "cover"
	Camera   Kind = "camera"
	Action   Kind = "action"
	Scene    Kind = "scene"
	Sequence Kind = "sequence"
	Rule     Kind = "rule"
	Modes    Kind = "modes"
	Somebody Kind = "somebody"
	Next     Kind = "next"
	Messages Kind = "messages"
	Clock    Kind = "clock"
	Label    Kind = "label"
	Picture  Kind = "picture"
	Link     Kind = "link"
	Care     Kind = "care"
)

// Subject is what a kind of control is about.
type Subject string

// The subjects.
const (
	AProperty  Subject = "property"
	AnAction   Subject = "action"
	ACamera    Subject = "camera"
	SomeValues Subject = "values"
	AScene     Subject = "scene"
	ASequence  Subject = "sequence"
	ARule      Subject = "rule"
	ADashboard Subject = "dashboard"
	AnUpload   Subject = "upload"
	TheHome    Subject = "home"    // something of the home as a whole
	OfItself   Subject = "nothing" // nothing of the home
)

// Face is how much of an instrument is drawn.
type Face string

// The faces.
const (
	Small  Face = "small"  // its name and its figure
	Middle Face = "middle" // and the instrument
	Large  Face = "large"  // and whatever else there is to see and to do
)

// FittingProperty is which properties a kind of control can be about.
type FittingProperty struct {
	Roles    []thing.Role `json:"roles,omitempty" doc:"One of these; any where none is named."`
	Types    []thing.Type `json:"types,omitempty" doc:"One of these; any where none is named."`
	Writable bool         `json:"writable,omitempty" doc:"Only what can be set."`
	Limited  bool         `json:"limited,omitempty" doc:"Only what has a minimum and a maximum."`
}

// Fits reports whether a property is one that a kind of control can be about.
func (p *FittingProperty) Fits(of *thing.Property) bool {
	return (len(p.Roles) == 0 || slices.Contains(p.Roles, of.Role)) &&
		(len(p.Types) == 0 || slices.Contains(p.Types, of.Type)) &&
		(!p.Writable || of.Writable) && (!p.Limited || of.Limited())
}

// ControlOption is an option of a kind of control, described by words of JSON Schema.
type ControlOption struct {
	Name        string   `json:"name"`
	Title       string   `json:"title"`
	Description string   `json:"description,omitempty"`
	Type        string   `json:"type" enum:"integer,boolean,string"`
	Minimum     int      `json:"minimum,omitempty"`
	Maximum     int      `json:"maximum,omitempty"`
	MaxLength   int      `json:"maxLength,omitempty"`
	Enum        []string `json:"enum,omitempty"`
	Default     any      `json:"default,omitempty"`
	Unit        string   `json:"unit,omitempty"`
}

// Check returns an error where a value does not fit the option.
func (o *ControlOption) Check(value any) error {
	switch o.Type {
	case "boolean":
		if _, is := value.(bool); !is {
			return fmt.Errorf("%s is yes or no", o.Title)
		}
	case "integer":
		n, is := value.(float64)
		if i, whole := value.(int); whole {
			n, is = float64(i), true
		}
		if !is || n != math.Trunc(n) || n < float64(o.Minimum) || n > float64(o.Maximum) {
			return fmt.Errorf("%s is a whole number from %d to %d", o.Title, o.Minimum, o.Maximum)
		}
	case "string":
		text, is := value.(string)
		switch {
		case !is, len(o.Enum) == 0 && tooLong(text, o.MaxLength):
			return fmt.Errorf("%s has %d characters at most", o.Title, o.MaxLength)
		case len(o.Enum) > 0 && !slices.Contains(o.Enum, text):
			return fmt.Errorf("%s is one of %v", o.Title, o.Enum)
		}
	}
	return nil
}

// ControlKind is what a kind of control is.
type ControlKind struct {
	Kind  Kind   `json:"kind" enum:"lamp,color,scene,sequence,switch,level,warmth,shutter,lock,action,player,cover,opening,value,chart,list,camera,rule,modes,somebody,next,messages,care,clock,label,picture,link"`
	Title string `json:"title"`
	// Group is under which heading it is offered.
	Group   string  `json:"group"`
	Help    string  `json:"help"`
	Subject Subject `json:"subject" enum:"property,action,camera,values,scene,sequence,rule,dashboard,upload,home,nothing"`
	// FittingProperty is which properties it can be about, where it is about one or some.
	Property *FittingProperty `json:"property,omitempty"`
	// Operates says that it sets what it is about, and does not only show it.
	Operates bool `json:"operates,omitempty"`
	// Width and Height are what it is added with, in cells of the wide grid.
	Width  int `json:"width"`
	Height int `json:"height"`
	// Faces are those that differ; none where there is only one.
	Faces   []Face          `json:"faces,omitempty"`
	Options []ControlOption `json:"options,omitempty"`
}

var (
	allFaces = []Face{Small, Middle, Large}
	twoFaces = []Face{Small, Middle}
	hours    = ControlOption{Name: "hours", Title: "Looks back", Type: "integer", Minimum: 1, Maximum: 168, Default: 6, Unit: "h"}
	steps    = ControlOption{Name: "keys", Title: "Shows − and +", Type: "boolean", Default: true}
)

func some(name, title string, most, usual int) ControlOption {
	return ControlOption{Name: name, Title: title, Type: "integer", Minimum: 1, Maximum: most, Default: usual}
}

func whether(name, title string, usual bool) ControlOption {
	return ControlOption{Name: name, Title: title, Type: "boolean", Default: usual}
}

// specs are the kinds of control, in the order in which they are offered.
var specs = []ControlKind{
	{Kind: Lamp, Title: "Lamp", Group: "Light", Help: "Switches a lamp on and off, and dims it. Its large face sets its color and its white, too.", Subject: AProperty, Property: &FittingProperty{Roles: []thing.Role{thing.RolePower, thing.RoleBrightness}, Writable: true}, Operates: true, Width: 8, Height: 4, Faces: allFaces},
	{Kind: Color, Title: "Color and white", Group: "Light", Help: "Sets the color or the white of a lamp.", Subject: AProperty, Property: &FittingProperty{Roles: []thing.Role{thing.RoleColor, thing.RoleColorTemperature}, Writable: true}, Operates: true, Width: 8, Height: 4},
	{Kind: Scene, Title: "Scene", Group: "Light", Help: "Applies a scene. It shows the colors that the scene makes, and whether it is in effect.", Subject: AScene, Operates: true, Width: 6, Height: 4, Faces: twoFaces},
	{Kind: Sequence, Title: "Sequence", Group: "Light", Help: "Starts a sequence of scenes and stops it.", Subject: ASequence, Operates: true, Width: 6, Height: 4, Faces: twoFaces},
	{Kind: Switch, Title: "Switch", Group: "Devices", Help: "Switches something on and off.", Subject: AProperty, Property: &FittingProperty{Types: []thing.Type{thing.TypeBoolean}, Writable: true}, Operates: true, Width: 6, Height: 4, Faces: twoFaces},
	{Kind: Level, Title: "Level", Group: "Devices", Help: "Sets a number on a scale: a fan, a volume, a limit.", Subject: AProperty, Property: &FittingProperty{Types: []thing.Type{thing.TypeNumber}, Writable: true, Limited: true}, Operates: true, Width: 8, Height: 4, Faces: twoFaces, Options: []ControlOption{steps}},
	{Kind: Warmth, Title: "Warmth", Group: "Devices", Help: "Shows how warm it is and sets how warm it is to be.", Subject: AProperty, Property: &FittingProperty{Roles: []thing.Role{thing.RoleSetpoint}, Writable: true}, Operates: true, Width: 8, Height: 4, Faces: twoFaces},
	{Kind: Shutter, Title: "Shutter", Group: "Devices", Help: "Moves a shutter or a blind, and shows where it is.", Subject: AProperty, Property: &FittingProperty{Roles: []thing.Role{thing.RolePosition}, Writable: true}, Operates: true, Width: 8, Height: 8, Faces: twoFaces},
	{Kind: Lock, Title: "Lock", Group: "Devices", Help: "Locks, and unlocks when held. It shows where the bolt is.", Subject: AProperty, Property: &FittingProperty{Roles: []thing.Role{thing.RoleLock}, Writable: true}, Operates: true, Width: 6, Height: 4, Faces: twoFaces},
	{Kind: Action, Title: "Action", Group: "Devices", Help: "Asks a device to do something, such as a floor robot to start.", Subject: AnAction, Operates: true, Width: 6, Height: 4, Options: []ControlOption{{Name: "verb", Title: "On its key", Type: "string", MaxLength: 24}, whether("states", "Shows what the device is doing", true)}},
	{Kind: Player, Title: "Player", Group: "Devices", Help: "Plays, pauses and skips, and sets how loud.", Subject: AProperty, Property: &FittingProperty{Roles: []thing.Role{thing.RoleTrack}}, Operates: true, Width: 8, Height: 6, Faces: allFaces},
	{Kind: Cover, Title: "Cover", Group: "Devices", Help: "Only what is playing, large.", Subject: AProperty, Property: &FittingProperty{Roles: []thing.Role{thing.RoleTrack}}, Width: 8, Height: 8},
	{Kind: Opening, Title: "Open or shut", Group: "Readings", Help: "A door, a window or a gate as on a floor plan.", Subject: AProperty, Property: &FittingProperty{Roles: []thing.Role{thing.RoleContact}}, Width: 6, Height: 4, Faces: twoFaces},
	{Kind: Reading, Title: "Reading", Group: "Readings", Help: "What something is at; of a number also the line of the last hours.", Subject: AProperty, Property: &FittingProperty{}, Width: 8, Height: 4, Faces: twoFaces, Options: []ControlOption{hours}},
	{Kind: Chart, Title: "Chart", Group: "Readings", Help: "Several readings over the last hours in one drawing.", Subject: SomeValues, Property: &FittingProperty{Types: []thing.Type{thing.TypeNumber}}, Width: 12, Height: 8, Options: []ControlOption{hours}},
	{Kind: List, Title: "List", Group: "Readings", Help: "Several values one below the other.", Subject: SomeValues, Property: &FittingProperty{}, Width: 8, Height: 6},
	{Kind: Camera, Title: "Camera", Group: "Readings", Help: "What a camera sees, and how old that is.", Subject: ACamera, Width: 8, Height: 8, Options: []ControlOption{{Name: "every", Title: "A new picture every", Type: "integer", Minimum: 2, Maximum: 600, Default: 10, Unit: "s"}}},
	{Kind: Rule, Title: "Rule", Group: "House", Help: "A key that runs a rule. Of one that holds something it shows whether it does.", Subject: ARule, Operates: true, Width: 6, Height: 4, Faces: twoFaces, Options: []ControlOption{{Name: "verb", Title: "On its key", Type: "string", MaxLength: 24}}},
	{Kind: Modes, Title: "Mode", Group: "House", Help: "Which mode the house is in, and the others to choose.", Subject: TheHome, Operates: true, Width: 12, Height: 4},
	{Kind: Somebody, Title: "Who is where", Group: "House", Help: "The rooms in which somebody is now, as their sensors say.", Subject: TheHome, Width: 6, Height: 4},
	{Kind: Next, Title: "What comes next", Group: "House", Help: "What is planned for the next hours.", Subject: TheHome, Width: 8, Height: 6, Options: []ControlOption{some("most", "At most", 12, 4)}},
	{Kind: Messages, Title: "Messages", Group: "House", Help: "Questions and messages of rules, to be answered here.", Subject: TheHome, Operates: true, Width: 12, Height: 6, Options: []ControlOption{some("most", "At most", 12, 4)}},
	{Kind: Care, Title: "Care", Group: "House", Help: "What needs somebody: silent devices, low batteries, differences.", Subject: TheHome, Width: 8, Height: 6, Options: []ControlOption{some("most", "At most", 12, 5)}},
	{Kind: Clock, Title: "Clock", Group: "Page", Help: "The time and the date at home.", Subject: OfItself, Width: 6, Height: 4, Options: []ControlOption{whether("date", "Shows the date", true), whether("seconds", "Shows the seconds", false)}},
	{Kind: Label, Title: "Label", Group: "Page", Help: "Words of your own.", Subject: OfItself, Width: 8, Height: 2, Options: []ControlOption{{Name: "text", Title: "Text", Type: "string", MaxLength: maximumText}, {Name: "size", Title: "Size", Type: "string", Enum: []string{"text", "heading", "figure"}, Default: "heading"}}},
	{Kind: Picture, Title: "Picture", Group: "Page", Help: "A picture of your own.", Subject: AnUpload, Width: 8, Height: 8, Options: []ControlOption{{Name: "fit", Title: "Fit", Type: "string", Enum: []string{"fill", "whole"}, Default: "fill"}}},
	{Kind: Link, Title: "Link", Group: "Page", Help: "Goes to another dashboard.", Subject: ADashboard, Width: 6, Height: 4},
}

// Specs returns the kinds of control, in the order in which they are offered.
func Specs() []ControlKind { return slices.Clone(specs) }

// Of returns what a kind of control is; it is false where there is no such kind.
func Of(kind Kind) (*ControlKind, bool) {
	at := slices.IndexFunc(specs, func(s ControlKind) bool { return s.Kind == kind })
	if at < 0 {
		return nil, false
	}
	return &specs[at], true
}

// chosen reports whether it was chosen what a control of the kind is about.
func (s *ControlKind) chosen(c *Control) bool {
	switch s.Subject {
	case AProperty:
		return c.Device != "" && c.Property != ""
	case AnAction:
		return c.Device != "" && c.Action != ""
	case ACamera:
		return c.Device != "" && c.Camera != ""
	case SomeValues:
		return len(c.Values) > 0
	case AScene:
		return c.Scene != ""
	case ASequence:
		return c.Sequence != ""
	case ARule:
		return c.Rule != ""
	case ADashboard:
		return c.Dashboard != ""
	case AnUpload:
		return c.Upload != ""
	default:
		return true
	}
}

func (s *ControlKind) checkOption(name string, value any) error {
	at := slices.IndexFunc(s.Options, func(o ControlOption) bool { return o.Name == name })
	if at < 0 {
		return fmt.Errorf("a control %q has no option %q", s.Title, name)
	}
	return s.Options[at].Check(value)
}

func sortedNames(options map[string]any) []string { return slices.Sorted(maps.Keys(options)) }

// Best returns the kind of control that a property is drawn by when nobody chose one, and whether there is any better than its
// reading.
func Best(d *home.Device, p *thing.Property) (Kind, bool) {
	if p.Name == d.Light() {
		return Lamp, true
	}
	if p.Role == thing.RoleTrack {
		return Player, true
	}
	for _, kind := range []Kind{Warmth, Shutter, Lock, Opening} {
		if spec, _ := Of(kind); spec.Property.Fits(p) {
			return kind, true
		}
	}
	return Reading, false
}
