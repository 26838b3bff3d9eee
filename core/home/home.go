// Package home holds what the owner says about the house itself: its place,
// floors and rooms, and the pattern by which devices are named. It does no I/O.
package home

import (
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"amvek/core/cover"
	"amvek/core/document"
	"amvek/core/thing"
)

// Home is the house: where it is and how its devices are named.
type Home struct {
	Title     string  `json:"title" minLength:"1" maxLength:"80"`
	Latitude  float64 `json:"latitude" doc:"In degrees, north positive, from -90 to 90."`
	Longitude float64 `json:"longitude" doc:"In degrees, east positive, from -180 to 180."`
	Zone      string  `json:"zone" doc:"IANA time zone, such as Europe/London."`
	// NamePattern proposes names; see [ProposeName].
	NamePattern string `json:"namePattern" doc:"Pattern for proposed names: {room}, {what}, {maker}, {number}."`
}

// Check returns an error when the home cannot be placed or its pattern not used.
func (h *Home) Check() error {
	if strings.TrimSpace(h.Title) == "" {
		return document.Wrong("title", "the home needs a name")
	}
	if !(h.Latitude >= -90 && h.Latitude <= 90) {
		return document.Wrong("latitude", "a latitude is from -90 to 90, and %g is not", h.Latitude)
	}
	if !(h.Longitude >= -180 && h.Longitude <= 180) {
		return document.Wrong("longitude", "a longitude is from -180 to 180, and %g is not", h.Longitude)
	}
	if _, err := time.LoadLocation(h.Zone); err != nil || h.Zone == "" {
		return document.Wrong("zone", "%q is not a known time zone", h.Zone)
	}
	return CheckPattern(h.NamePattern)
}

// Room is a place in the house.
type Room struct {
	Title string `json:"title" minLength:"1" maxLength:"60"`
	Floor string `json:"floor,omitempty" maxLength:"60" doc:"Name of the floor it is on."`
	Order int    `json:"order"`
}

// Check returns an error when the room has no name.
func (r *Room) Check() error {
	if strings.TrimSpace(r.Title) == "" {
		return document.Wrong("title", "a room needs a name")
	}
	return nil
}

// Device is what the owner decided about a device, and where it is reached.
type Device struct {
	Title string `json:"title" minLength:"1" maxLength:"120"`
	Room  string `json:"room,omitempty" doc:"Id of its room."`
	Note  string `json:"note,omitempty" maxLength:"2000"`
	// Labels cut across rooms.
	Labels []string `json:"labels,omitempty" maxItems:"20"`
	// AttendedOnly says that only a hand switches it on, never automation, unless a step is allowed to.
	AttendedOnly bool `json:"attendedOnly,omitempty" doc:"Only a hand switches it on, never automation, unless a step is allowed to."`
	// KeptTo are the ids of those who alone set it going or unlock it, besides the owners of the home; none is everybody.
	KeptTo []string `json:"keptTo,omitempty" maxItems:"100" doc:"The ids of the people who alone set it going or unlock it, besides owners; none is everybody."`
	// Lamp says that its switch feeds a lamp; what can be dimmed is one anyway.
	Lamp bool `json:"lamp,omitempty" doc:"Its switch feeds a lamp; what can be dimmed is one anyway."`
	// Lighting is how the hub drives a lamp, where that is not as its maker says.
	Lighting *Lighting `json:"lighting,omitempty" doc:"How the hub drives a lamp, where that is not as its maker says."`

	// Dashboards are the ids of those that a panel was given, its own first.
	Dashboards []string `json:"dashboards,omitempty" maxItems:"100" doc:"The ids of the dashboards that a panel was given, its own first."`

	// Agreement is how differences between hub and device are dealt with; without one the device is believed.
	Agreement *Agreement `json:"agreement,omitempty" doc:"How differences between hub and device are dealt with."`
	// Travel is how long shutters take from end to end, by the property of their position.
	Travel map[string]cover.Travel `json:"travel,omitempty" doc:"How long shutters take from end to end, by position."`
	// Adjustments say how readings are taken, by property: calibrated, smoothed, rounded.
	Adjustments map[string]thing.Adjustment `json:"adjustments,omitempty" doc:"How readings are taken, by property."`

	// Keys say how presses of its keys are told apart; without them in the usual times.
	Keys *KeyTiming `json:"keys,omitempty" doc:"How presses of its keys are told apart."`

	// Layout is where its keys sit as its owner has them, by event; the others sit as its profile says.
	Layout map[string]thing.Layout `json:"layout,omitempty" doc:"Where its keys sit as the owner has them, by event; the others sit as its profile says."`

	Connection string `json:"connection" doc:"Id of the connection by which it is reached."`
	Address    string `json:"address" doc:"What the connection calls it."`
	Hardware   string `json:"hardware" doc:"Identity of the hardware, which stays when addresses change."`
	Maker      string `json:"maker"`
	Model      string `json:"model" doc:"Model number; names its profile."`
	// Description is copied from the profile when the device is added.
	Description thing.Description `json:"description"`
}

// Check returns an error when the device could not be used.
func (d *Device) Check() error {
	switch {
	case strings.TrimSpace(d.Title) == "":
		return document.Wrong("title", "a device needs a name")
	case d.Connection == "":
		return document.Wrong("connection", "a device needs one")
	case d.Hardware == "":
		return document.Wrong("hardware", "a device needs an identity")
	}
	for name, a := range d.Adjustments {
		if p := d.Description.Property(name); p == nil || p.Type != thing.TypeNumber || p.Writable {
			return document.Wrong("adjustments", "%s is no reading", name)
		}
		if err := a.Check(); err != nil {
			return err
		}
	}
	if err := d.checkLighting(); err != nil {
		return err
	}
	if err := d.Description.CheckWithout(); err != nil {
		return document.Wrong("description", "%s", err)
	}
	if d.Agreement != nil {
		if err := d.Agreement.Check(); err != nil {
			return err
		}
	}
	if err := d.Keys.Check(); err != nil {
		return err
	}
	for name, l := range d.Layout {
		if d.Description.Event(name) == nil {
			return document.Wrong("layout/"+name, "the device has no key of this name")
		}
		if err := l.Check(); err != nil {
			return document.Wrong("layout/"+name, "%s", err)
		}
	}
	for name, t := range d.Travel {
		if p := d.Description.Property(name); p == nil || p.Cover == nil {
			return document.Wrong("travel", "%s is no shutter", name)
		}
		if err := t.Check(); err != nil {
			return err
		}
	}
	for i, label := range d.Labels {
		if strings.TrimSpace(label) == "" || utf8.RuneCountInString(label) > 40 {
			return document.Wrong("labels", "a label has 1 to 40 letters")
		}
		if slices.Contains(d.Labels[:i], label) {
			return document.Wrong("labels", "the label %q is given twice", label)
		}
	}
	return nil
}

var patternWords = []string{"{room}", "{what}", "{maker}", "{number}"}

// CheckPattern returns an error when a naming pattern has unknown words or none.
func CheckPattern(pattern string) error {
	rest, known := pattern, 0
	for _, word := range patternWords {
		known += strings.Count(rest, word)
		rest = strings.ReplaceAll(rest, word, "")
	}
	if known == 0 {
		return document.Wrong("namePattern", "use at least one of %s", strings.Join(patternWords, ", "))
	}
	if strings.ContainsAny(rest, "{}") {
		return document.Wrong("namePattern", "only %s may stand in braces", strings.Join(patternWords, ", "))
	}
	return nil
}

// Naming is what a name is proposed from.
type Naming struct {
	Room, What, Maker string
}

// ProposeName fills the pattern. The number is the lowest, from 1, that gives a name
// not yet taken; where the pattern has no {number} one is appended only when needed.
func ProposeName(pattern string, of Naming, taken func(name string) bool) string {
	fill := func(number string) string {
		name := strings.NewReplacer("{room}", of.Room, "{what}", of.What, "{maker}", of.Maker, "{number}", number).Replace(pattern)
		return sentenceCase(strings.Join(strings.Fields(name), " "))
	}
	numbered := strings.Contains(pattern, "{number}")
	if !numbered {
		if name := fill(""); name != "" && !taken(name) {
			return name
		}
	}
	for n := 1; ; n++ {
		name := fill(fmt.Sprint(n))
		if !numbered {
			name = fmt.Sprintf("%s %d", fill(""), n+1)
		}
		if !taken(name) {
			return name
		}
	}
}

func sentenceCase(s string) string {
	for i, r := range s {
		return string(unicode.ToUpper(r)) + s[i+len(string(r)):]
	}
	return s
}

// NearDuplicate returns the first of the names that a person would confuse with the given one:
// equal but for case, spaces and punctuation, or one letter apart (numbers at the end excepted).
func NearDuplicate(name string, others []string) (string, bool) {
	folded := fold(name)
	for _, other := range others {
		f := fold(other)
		if f == folded || (len(f) > 5 && len(folded) > 5 && oneLetterApart(f, folded)) {
			return other, true
		}
	}
	return "", false
}

func fold(s string) string {
	var b strings.Builder
	for _, r := range strings.ToLower(s) {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			b.WriteRune(r)
		}
	}
	return b.String()
}

func oneLetterApart(a, b string) bool {
	x, y := []rune(a), []rune(b)
	if len(x) > len(y) {
		x, y = y, x
	}
	if len(y)-len(x) > 1 {
		return false
	}
	i := 0
	for i < len(x) && x[i] == y[i] {
		i++
	}
	tail := y[i+1:]
	rest := x[i:]
	if len(x) == len(y) {
		rest = x[i+1:]
	}
	if string(rest) != string(tail) {
		return false
	}
	// "Lamp 1" and "Lamp 2" are meant to differ by their number.
	return !unicode.IsDigit(y[i])
}
