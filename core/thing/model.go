package thing

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"
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
	// EventFields gives the key in the maker's messages for each event, by name.
	EventFields map[string]string
}

// Native maps one property to the fields of its maker's messages, once, at the edge.
// Exactly one of Range, Factor and Inverse may be set; with none the value is taken as it is.
type Native struct {
	// Field is the key in the maker's message.
	Field string `json:"field"`
	// Gate is the key of a boolean that must be true for the field to count; while it
	// is false the property is 0, and writing 0 sets it false.
	Gate string `json:"gate,omitempty"`
	// Range is the maker's range; it maps linearly onto the property's range
	// (from 1 instead of 0 where there is a gate, since 0 means off).
	Range []float64 `json:"range,omitempty"`
	// Factor multiplies the maker's number to give the canonical one.
	Factor float64 `json:"factor,omitempty"`
	// Inverse divided by the maker's number gives the canonical one (mired: 1,000,000).
	Inverse float64 `json:"inverse,omitempty"`
}

// ErrAbsent says that a maker's message does not carry the field of a property.
var ErrAbsent = errors.New("the message does not carry this field")

type affordanceDocument struct {
	Title      string   `json:"title"`
	Type       string   `json:"type"`
	Unit       Unit     `json:"unit"`
	Minimum    float64  `json:"minimum"`
	Maximum    float64  `json:"maximum"`
	ReadOnly   bool     `json:"readOnly"`
	Enum       []string `json:"enum"`
	Role       Role     `json:"amvek:role"`
	Resolution float64  `json:"amvek:resolution"`
	Native     *Native  `json:"amvek:native"`
	Data       *struct {
		Type string `json:"type"`
	} `json:"data"`
}

type modelDocument struct {
	Context    json.RawMessage               `json:"@context"`
	Type       string                        `json:"@type"`
	Title      string                        `json:"title"`
	Maker      string                        `json:"amvek:maker"`
	Model      string                        `json:"amvek:model"`
	What       string                        `json:"amvek:what"`
	Properties map[string]affordanceDocument `json:"properties"`
	Events     map[string]affordanceDocument `json:"events"`
	Actions    map[string]affordanceDocument `json:"actions"`
}

// ParseModel reads a Thing Model. The error names the affordance that is wrong.
func ParseModel(data []byte) (*Model, error) {
	var doc modelDocument
	decoder := json.NewDecoder(bytes.NewReader(data))
	if err := decoder.Decode(&doc); err != nil {
		return nil, fmt.Errorf("reading a Thing Model: %w", err)
	}
	if doc.Type != "tm:ThingModel" {
		return nil, fmt.Errorf(`reading a Thing Model: "@type" is %q, not "tm:ThingModel"`, doc.Type)
	}
	if doc.Title == "" || doc.Model == "" {
		return nil, errors.New(`reading a Thing Model: "title" and "amvek:model" are needed`)
	}
	m := &Model{Title: doc.Title, Maker: doc.Maker, Model: doc.Model, What: doc.What, Natives: map[string]Native{}, EventFields: map[string]string{}}
	m.Description = Description{Properties: []Property{}, Events: []Event{}, Actions: []Action{}}
	for _, name := range slices.Sorted(maps.Keys(doc.Properties)) {
		p, native, err := doc.Properties[name].property(name)
		if err != nil {
			return nil, fmt.Errorf("reading the Thing Model %s: property %s: %w", doc.Model, name, err)
		}
		m.Description.Properties = append(m.Description.Properties, p)
		m.Natives[name] = native
	}
	for _, name := range slices.Sorted(maps.Keys(doc.Events)) {
		a := doc.Events[name]
		m.Description.Events = append(m.Description.Events, Event{Name: name, Title: a.titleOr(name), Role: a.Role, Number: a.Data != nil && a.Data.Type == "number"})
		m.EventFields[name] = name
		if a.Native != nil && a.Native.Field != "" {
			m.EventFields[name] = a.Native.Field
		}
	}
	for _, name := range slices.Sorted(maps.Keys(doc.Actions)) {
		a := doc.Actions[name]
		m.Description.Actions = append(m.Description.Actions, Action{Name: name, Title: a.titleOr(name), Role: a.Role})
	}
	return m, nil
}

func (a affordanceDocument) titleOr(name string) string {
	if a.Title == "" {
		return name
	}
	return a.Title
}

func (a affordanceDocument) property(name string) (Property, Native, error) {
	meaning := MeaningOf(a.Role)
	p := Property{
		Name: name, Title: a.titleOr(name), Role: a.Role, Unit: a.Unit,
		Minimum: a.Minimum, Maximum: a.Maximum, Resolution: a.Resolution,
		Writable: !a.ReadOnly, Options: a.Enum,
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
	if native.Field == "" {
		return p, native, errors.New(`"amvek:native" needs a "field"`)
	}
	if len(native.Range) != 0 && (len(native.Range) != 2 || native.Range[0] == native.Range[1] || !p.Limited()) {
		return p, native, errors.New(`a native "range" needs two different ends and a property with limits`)
	}
	return p, native, nil
}

// Read takes the value of a property out of a maker's decoded JSON message.
// It returns [ErrAbsent] when the message does not carry it, and an
// [InvalidValueError] when it is of a wrong type or out of range.
func (n Native) Read(p *Property, message map[string]any) (Value, error) {
	if n.Gate != "" {
		if open, ok := message[n.Gate].(bool); ok && !open {
			return Number(0), nil
		}
	}
	raw, present := message[n.Field]
	if !present {
		return Value{}, ErrAbsent
	}
	v, err := n.convert(p, raw)
	if err != nil {
		return Value{}, err
	}
	return v, p.Check(v)
}

func (n Native) convert(p *Property, raw any) (Value, error) {
	wrong := func(wanted string) error {
		return &InvalidValueError{Property: p.Title, Reason: fmt.Sprintf("the device sent %v where %s was expected", raw, wanted)}
	}
	switch p.Type {
	case TypeBoolean:
		switch b := raw.(type) {
		case bool:
			return Boolean(b), nil
		case float64:
			if b == 0 || b == 1 {
				return Boolean(b == 1), nil
			}
		}
		return Value{}, wrong("yes or no")
	case TypeNumber:
		f, ok := raw.(float64)
		if !ok {
			return Value{}, wrong("a number")
		}
		canonical, ok := n.toCanonical(p, f)
		if !ok {
			return Value{}, wrong("a number in the maker's range")
		}
		return Number(canonical), nil
	case TypeColor:
		pair, ok := raw.([]any)
		if ok && len(pair) == 2 {
			x, okX := pair[0].(float64)
			y, okY := pair[1].(float64)
			if okX && okY {
				return Color(x, y), nil
			}
		}
		return Value{}, wrong("a pair of x and y")
	default:
		s, ok := raw.(string)
		if !ok {
			return Value{}, wrong("a text")
		}
		return Text(s), nil
	}
}

func (n Native) lowest(p *Property) float64 {
	if n.Gate != "" && p.Minimum < 1 {
		return 1
	}
	return p.Minimum
}

func (n Native) toCanonical(p *Property, native float64) (float64, bool) {
	switch {
	case len(n.Range) == 2:
		low, high := n.Range[0], n.Range[1]
		if native < math.Min(low, high) || native > math.Max(low, high) {
			return 0, false
		}
		from := n.lowest(p)
		return from + (native-low)*(p.Maximum-from)/(high-low), true
	case n.Inverse != 0:
		if native <= 0 {
			return 0, false
		}
		return n.Inverse / native, true
	case n.Factor != 0:
		return native * n.Factor, true
	default:
		return native, true
	}
}

// Write returns the fields of the maker's message that set the property to v.
// Numbers are rounded to the whole numbers makers use wherever a mapping applies.
func (n Native) Write(p *Property, v Value) (map[string]any, error) {
	if err := p.Check(v); err != nil {
		return nil, err
	}
	fields := map[string]any{}
	if n.Gate != "" {
		fields[n.Gate] = v.Number != 0
		if v.Number == 0 {
			return fields, nil
		}
	}
	switch p.Type {
	case TypeBoolean:
		fields[n.Field] = v.Number != 0
	case TypeNumber:
		fields[n.Field] = n.toNative(p, v.Number)
	case TypeColor:
		fields[n.Field] = []float64{v.Number, v.Second}
	default:
		fields[n.Field] = v.Text
	}
	return fields, nil
}

func (n Native) toNative(p *Property, canonical float64) float64 {
	switch {
	case len(n.Range) == 2:
		from := n.lowest(p)
		share := math.Max(0, (canonical-from)/(p.Maximum-from))
		return math.Round(n.Range[0] + share*(n.Range[1]-n.Range[0]))
	case n.Inverse != 0:
		return math.Round(n.Inverse / canonical)
	case n.Factor != 0:
		return math.Round(canonical / n.Factor)
	default:
		return canonical
	}
}
