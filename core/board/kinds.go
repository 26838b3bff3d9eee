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
	Lamp      Kind = "lamp"
	Level     Kind = "level"
	Color     Kind = "color"
	Switch    Kind = "switch"
	Shutter   Kind = "shutter"
	Warmth    Kind = "warmth"
	Lock      Kind = "lock"
	Opening   Kind = "opening"
	Reading   Kind = "value"
	Chart     Kind = "chart"
	List      Kind = "list"
	Player    Kind = "player"
	Cover     Kind = "cover"
	Camera    Kind = "camera"
	Action    Kind = "action"
	Scene     Kind = "scene"
	Sequence  Kind = "sequence"
	RoomLight Kind = "room"
	Rule      Kind = "rule"
	Modes     Kind = "modes"
	Somebody  Kind = "somebody"
	Next      Kind = "next"
	Messages  Kind = "messages"
	Clock     Kind = "clock"
	Label     Kind = "label"
	Picture   Kind = "picture"
	Link      Kind = "link"
	Care      Kind = "care"
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
	ALight     Subject = "light" // of a room
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
	Kind  Kind   `json:"kind" enum:"lamp,color,room,scene,sequence,switch,level,warmth,shutter,lock,action,player,cover,opening,value,chart,list,camera,rule,modes,somebody,next,messages,care,clock,label,picture,link"`
	Title string `json:"title"`
	// Group is under which heading it is offered.
	Group   string  `json:"group"`
	Help    string  `json:"help"`
	Subject Subject `json:"subject" enum:"property,action,camera,values,light,scene,sequence,rule,dashboard,upload,home,nothing"`
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
	case ALight:
		return c.Light != ""
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
