package thing

import (
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"

	"amvek/core/pointer"
)

// Model is a profile: the Thing Model (W3C Thing Description 1.1 §10) of one
// model of device, with Amvek's additions under the prefix "amvek:".
type Model struct {
	Title string
	Maker string
	// Model is the maker's model number by which a found device names its profile.
	Model string
	// What is the plain word for the device used in proposed names, such as "lamp".
	What        string
	Description Description
	// Natives says how each property, by name, appears in the maker's messages.
	Natives map[string]Native
	// Signals says how each event, by name, appears in the maker's messages.
	Signals map[string]Signal
	// Line says how messages on a line of TCP are framed, nil for a device that has none.
	Line *Line
	// Forms say how each affordance is reached, by "properties/NAME", "actions/NAME" and "events/NAME".
	Forms map[string][]Form
}

type affordanceDocument struct {
	Title      string   `json:"title"`
	Help       string   `json:"description"`
	Type       string   `json:"type"`
	Unit       Unit     `json:"unit"`
	Minimum    float64  `json:"minimum"`
	Maximum    float64  `json:"maximum"`
	ReadOnly   bool     `json:"readOnly"`
	Enum       []string `json:"enum"`
	Role       Role     `json:"amvek:role"`
	Resolution float64  `json:"amvek:resolution"`
	Assumed    bool     `json:"amvek:assumed"`
	Fades      bool     `json:"amvek:fades"`
	Setting    *Setting `json:"amvek:setting"`
	Cover      *Cover   `json:"amvek:cover"`
	Only       *Only    `json:"amvek:only"`
	Excludes   []string `json:"amvek:excludes"`
	Native     *Native  `json:"amvek:native"`
	Forms      []Form   `json:"forms"`
	Signal     *Signal  `json:"amvek:signal"`
	Layout     *Layout  `json:"amvek:layout"`
	Data       *struct {
		Type string   `json:"type"`
		Enum []string `json:"enum"`
	} `json:"data"`
	// Input is of an action: a value, or an object with several.
	Input *inputDocument `json:"input"`
}

type inputDocument struct {
	affordanceDocument
	Properties map[string]affordanceDocument `json:"properties"`
	Required   []string                      `json:"required"`
}

type modelDocument struct {
	Context    json.RawMessage               `json:"@context"`
	Type       string                        `json:"@type"`
	Title      string                        `json:"title"`
	Maker      string                        `json:"amvek:maker"`
	Model      string                        `json:"amvek:model"`
	What       string                        `json:"amvek:what"`
	Line       *Line                         `json:"amvek:line"`
	Properties map[string]affordanceDocument `json:"properties"`
	Events     map[string]affordanceDocument `json:"events"`
	Actions    map[string]affordanceDocument `json:"actions"`
}

// ParseModel reads a Thing Model. What is wrong with it comes back as a [ProblemsError], each
// problem with its place.
func ParseModel(data []byte) (*Model, error) {
	if p := checkJSON(data); p != nil {
		return nil, &ProblemsError{[]DocumentProblem{*p}}
	}
	r := &modelReader{data: data}
	var doc modelDocument
	if err := json.Unmarshal(data, &doc); err != nil {
		var wrongType *json.UnmarshalTypeError
		path := ""
		if errors.As(err, &wrongType) {
			path = "/" + strings.ReplaceAll(wrongType.Field, ".", "/")
			err = fmt.Errorf("a %s cannot stand here", wrongType.Value)
		}
		r.say(path, "%s.", err)
		return nil, &ProblemsError{r.problems}
	}
	if doc.Type != "tm:ThingModel" {
		r.say("/@type", `"@type" must be "tm:ThingModel".`)
	}
	if doc.Title == "" {
		r.say("/title", `A "title" is needed.`)
	}
	if doc.Model == "" {
		r.say("/amvek:model", `"amvek:model" is needed: the maker's model number by which a found device names its profile.`)
	}
	m := newModel(doc.Title)
	m.Maker, m.Model, m.What, m.Line = doc.Maker, doc.Model, doc.What, doc.Line
	r.affordances(m, &doc)
	r.checkLine(m)
	if len(r.problems) > 0 {
		return nil, &ProblemsError{r.problems}
	}
	return m, nil
}

func newModel(title string) *Model {
	return &Model{
		Title: title, Natives: map[string]Native{}, Signals: map[string]Signal{}, Forms: map[string][]Form{},
		Description: Description{Properties: []Property{}, Events: []Event{}, Actions: []Action{}},
	}
}

// modelReader gathers what is wrong with a document.
type modelReader struct {
	data     []byte
	problems []DocumentProblem
}

func (r *modelReader) say(path, format string, args ...any) {
	p := DocumentProblem{Path: path, Message: fmt.Sprintf(format, args...)}
	p.Line, p.Column = locate(r.data, path)
	r.problems = append(r.problems, p)
}

// AffordancesMax is how many properties, events and actions a device has at most. Each property is looked at with whatever
// its device says, and each is a row of its page.
const AffordancesMax = 500

// tooMany reports whether these are more than a device has, and says so.
func (r *modelReader) tooMany(affordances int) bool {
	if affordances <= AffordancesMax {
		return false
	}
	r.say("/properties", "A device has at most %d properties, events and actions together; these are %d.", AffordancesMax, affordances)
	return true
}

// affordances reads properties, events and actions.
func (r *modelReader) affordances(m *Model, doc *modelDocument) {
	if r.tooMany(len(doc.Properties) + len(doc.Events) + len(doc.Actions)) {
		return
	}
	for _, name := range slices.Sorted(maps.Keys(doc.Properties)) {
		path := "/properties/" + pointer.Escape(name)
		a := doc.Properties[name]
		p, native, err := a.property(name)
		if err != nil {
			r.say(path, "Property %s: %s.", name, err)
			continue
		}
		m.Description.Properties = append(m.Description.Properties, p)
		m.Natives[name], m.Forms["properties/"+name] = native, a.Forms
		r.checkForms(path, a.Forms)
	}
	for _, name := range slices.Sorted(maps.Keys(doc.Events)) {
		a := doc.Events[name]
		e := Event{Name: name, Title: a.titleOr(name), Role: a.Role}
		if a.Data != nil {
			e.Number = a.Data.Type == "number" || a.Data.Type == "integer"
			e.Options = a.Data.Enum
		}
		if a.Layout != nil {
			if err := a.Layout.Check(); err != nil {
				r.say("/events/"+pointer.Escape(name)+"/amvek:layout", "Event %s: %s.", name, err)
			} else {
				e.Layout = a.Layout
			}
		}
		m.Description.Events = append(m.Description.Events, e)
		m.Signals[name], m.Forms["events/"+name] = Signal{Field: name}, a.Forms
		if a.Signal != nil && a.Signal.Field != "" {
			m.Signals[name] = *a.Signal
		}
		r.checkForms("/events/"+pointer.Escape(name), a.Forms)
	}
	for _, name := range slices.Sorted(maps.Keys(doc.Actions)) {
		a := doc.Actions[name]
		action := Action{Name: name, Title: a.titleOr(name), Role: a.Role}
		r.inputs(m, &action, a.Input)
		m.Description.Actions = append(m.Description.Actions, action)
		m.Forms["actions/"+name] = a.Forms
		r.checkForms("/actions/"+pointer.Escape(name), a.Forms)
	}
	r.checkCovers(&m.Description)
	r.checkExcludes(&m.Description)
}

// checkExcludes checks which properties exclude each other, which goes both ways.
func (r *modelReader) checkExcludes(d *Description) {
	for i := range d.Properties {
		p := &d.Properties[i]
		for _, name := range p.Excludes {
			other := d.Property(name)
			switch {
			case other == nil || other == p:
				r.say("/properties/"+pointer.Escape(p.Name)+"/amvek:excludes", "There is no other property %q.", name)
			case !p.Writable || !other.Writable:
				r.say("/properties/"+pointer.Escape(p.Name)+"/amvek:excludes", "Only what can be set excludes each other.")
			case !slices.Contains(other.Excludes, p.Name):
				other.Excludes = append(other.Excludes, p.Name)
			}
		}
	}
}

// inputs reads what an action can be given.
func (r *modelReader) inputs(m *Model, action *Action, doc *inputDocument) {
	if doc == nil {
		return
	}
	path := "/actions/" + pointer.Escape(action.Name) + "/input"
	parts, required := doc.Properties, doc.Required
	if doc.Type != "object" || doc.Role == RoleColor {
		action.Single = true
		parts, required = map[string]affordanceDocument{SingleInput: doc.affordanceDocument}, []string{SingleInput}
	}
	for _, name := range slices.Sorted(maps.Keys(parts)) {
		p, native, err := parts[name].property(name)
		if err != nil {
			r.say(path, "Input %s of action %s: %s.", name, action.Name, err)
			continue
		}
		action.add(Input{Property: p, Required: slices.Contains(required, name)})
		m.Natives["actions/"+action.Name+"/"+name] = native
	}
	for _, name := range required {
		if action.Input(name) == nil {
			r.say(path+"/required", "Action %s needs %q, which is none of its inputs.", action.Name, name)
		}
	}
}

// checkForms finds what cannot work in forms of our own terms; addresses are tried, not judged.
func (r *modelReader) checkForms(path string, forms []Form) {
	for i, f := range forms {
		if f.Reply == "" {
			continue
		}
		pattern, err := regexp.Compile(f.Reply)
		switch {
		case err != nil:
			r.say(fmt.Sprintf("%s/forms/%d/amvek:reply", path, i), "The reply is no pattern: %s.", err)
		case pattern.NumSubexp() < 1 && !strings.HasPrefix(path, "/events/"):
			r.say(fmt.Sprintf("%s/forms/%d/amvek:reply", path, i), "The reply needs a group in round brackets where the value stands.")
		}
	}
}

// checkLine finds what cannot work in how messages are framed.
func (r *modelReader) checkLine(m *Model) {
	if m.Line == nil || len(r.problems) > 0 {
		return
	}
	if strings.TrimRight(m.Line.End, "\r\n\t \x00") == "" && m.Line.End != "" && !strings.ContainsAny(m.Line.End, "\r\n\x00\t") {
		r.say("/amvek:line/end", "Spaces alone cannot end a message.")
	}
	if _, err := NewTranslator(m); err != nil {
		r.say("/amvek:line", "%s.", err)
	}
}

func (a affordanceDocument) titleOr(name string) string {
	if a.Title == "" {
		return name
	}
	return a.Title
}

// handledByHub is the option of a handler by which a maker's box leaves presses to whoever is its client: this hub.
const handledByHub = "client"

func (a affordanceDocument) property(name string) (Property, Native, error) {
	if a.Role == RoleOwn {
		a.Role = ""
	}
	meaning := MeaningOf(a.Role)
	p := Property{
		Name: name, Title: a.titleOr(name), Role: a.Role, Unit: a.Unit,
		Minimum: a.Minimum, Maximum: a.Maximum, Resolution: a.Resolution,
		Writable: !a.ReadOnly, Options: a.Enum, Help: a.Help, Assumed: a.Assumed, Fades: a.Fades,
		Setting: a.Setting, Cover: a.Cover, Only: a.Only, Excludes: slices.Clone(a.Excludes),
	}
	if p.Resolution == 0 {
		p.Resolution = meaning.Resolution
	}
	if p.Minimum > p.Maximum {
		return p, Native{}, fmt.Errorf("minimum %g is above maximum %g", p.Minimum, p.Maximum)
	}
	if meaning.Unit != UnitNone && p.Unit != meaning.Unit {
		return p, Native{}, fmt.Errorf("role %s needs the unit %q, not %q", a.Role, meaning.Unit, p.Unit)
	}
	switch a.Type {
	case "boolean":
		p.Type = TypeBoolean
		if meaning.Words[1] != "" {
			p.Words = []string{meaning.Words[0], meaning.Words[1]}
		}
	case "number", "integer":
		p.Type = TypeNumber
	case "string":
		p.Type = TypeText
		if len(a.Enum) > 0 {
			p.Type = TypeOption
		}
		if a.Role == RoleHandler && slices.Contains(a.Enum, handledByHub) {
			p.Titles = map[string]string{handledByHub: "this hub"}
		}
	case "object":
		if a.Role != RoleColor {
			return p, Native{}, errors.New("only a color may be an object")
		}
		p.Type = TypeColor
	default:
		return p, Native{}, fmt.Errorf("type %q is not known", a.Type)
	}
	native := Native{Field: name}
	if a.Native != nil {
		native = *a.Native
	}
	if len(native.Words) != 0 && len(native.Words) != 2 {
		return p, native, errors.New(`native "words" are two: for no and for yes`)
	}
	if len(native.Range) != 0 && (len(native.Range) != 2 || native.Range[0] == native.Range[1] || !p.Limited()) {
		return p, native, errors.New(`a native "range" needs two different ends and a property with limits`)
	}
	return p, native, nil
}

// Tell calls report and happened with everything that a maker's decoded message says. One field
// that is wrong does not spoil the others; what is wrong comes back.
func (m *Model) Tell(message map[string]any, report, happened func(name string, value Value)) error {
	var wrong []error
	for i := range m.Description.Properties {
		p := &m.Description.Properties[i]
		value, err := m.Natives[p.Name].Read(p, message)
		switch {
		case errors.Is(err, ErrAbsent):
		case err != nil:
			wrong = append(wrong, err)
		default:
			report(p.Name, value)
		}
	}
	for i := range m.Description.Events {
		e := &m.Description.Events[i]
		value, err := m.Signals[e.Name].Read(e, message)
		switch {
		case errors.Is(err, ErrAbsent):
		case err != nil:
			wrong = append(wrong, err)
		default:
			happened(e.Name, value)
		}
	}
	return errors.Join(wrong...)
}
