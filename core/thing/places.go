package thing

import (
	"encoding/json"
	"errors"
	"net/url"
	"regexp"
	"strconv"
	"strings"
)

// Places are what stands in the places {NAME} of a message, as the maker writes it.
type Places map[string]string

// ValuePlace is the name of the place of the value that is set.
const ValuePlace = "value"

var placeholder = regexp.MustCompile(`\{([A-Za-z0-9_-]+)\}`)

// PlaceError says that it is not known what is to stand in a place.
type PlaceError struct{ Name string }

func (e *PlaceError) Error() string { return "it is not known yet what " + e.Name + " is at" }

// Fill puts what stands in the places of a template there; escape writes a text as it may stand in it. It returns a
// [PlaceError] for a place whose text is not known.
func Fill(template string, places Places, escape func(text string) string) (string, error) {
	var missing error
	filled := placeholder.ReplaceAllStringFunc(template, func(place string) string {
		name := place[1 : len(place)-1]
		text, there := places[name]
		if !there {
			missing = &PlaceError{name}
			return place
		}
		return escape(text)
	})
	return filled, missing
}

// InJSON escapes a text as it stands between the quotes of JSON (RFC 8259 §7). Numbers and true and false stay as they are.
func InJSON(text string) string {
	quoted, err := json.Marshal(text)
	if err != nil {
		return ""
	}
	return strings.TrimSuffix(strings.TrimPrefix(string(quoted), `"`), `"`)
}

// Escaper returns how a text is written into a template: of JSON, of a form (application/x-www-form-urlencoded), or as it is.
func Escaper(contentType, template string) func(text string) string {
	begin := strings.TrimSpace(template)
	switch {
	case strings.HasPrefix(contentType, "application/x-www-form-urlencoded"):
		return url.QueryEscape
	case strings.Contains(contentType, "json"), strings.HasPrefix(begin, `{"`), strings.HasPrefix(begin, "["):
		return InJSON
	}
	return func(text string) string { return text }
}

// Filled returns the body that a form spells out, with what stands in its places.
func (f *Form) Filled(places Places) (string, error) {
	return Fill(f.Body, places, Escaper(f.ContentType, f.Body))
}

// PlacesIn returns the names of the places in templates, in order.
func PlacesIn(templates ...string) (names []string) {
	for _, template := range templates {
		for _, m := range placeholder.FindAllStringSubmatch(template, -1) {
			names = append(names, m[1])
		}
	}
	return names
}

// templates are all texts of a form in which there may be places.
func (f *Form) templates() []string {
	all := []string{f.Send, f.Body, f.Href}
	for _, h := range f.Headers {
		all = append(all, h.Value)
	}
	return all
}

// Setting returns what stands in the places of a message that sets a property: its value, and what others are at.
func (m *Model) Setting(p *Property, value Value, known map[string]Value) (Places, error) {
	places := m.Known(known)
	text, err := m.Natives[p.Name].Say(p, value)
	if err != nil {
		return nil, err
	}
	places[ValuePlace] = text
	return places, nil
}

// Giving returns what stands in the places of a message that asks for an action: what it is given, and what properties are at.
func (m *Model) Giving(action string, given Inputs, known map[string]Value) (Places, error) {
	places := m.Known(known)
	a := m.Description.Action(action)
	for name, value := range given {
		in := a.Input(name)
		if in == nil {
			return nil, &InvalidValueError{Property: a.Title, Reason: "takes no " + name}
		}
		text, err := m.Natives["actions/"+action+"/"+name].Say(&in.Property, value)
		if err != nil {
			return nil, err
		}
		places[name] = text
	}
	return places, nil
}

// Known returns what stands in the places that name properties, of what these are at.
func (m *Model) Known(values map[string]Value) Places {
	places := Places{}
	for name, value := range values {
		if p := m.Description.Property(name); p != nil {
			if text, err := m.Natives[name].Say(p, value); err == nil {
				places[name] = text
			}
		}
	}
	return places
}

func parseNumber(text string) (float64, error) {
	return strconv.ParseFloat(strings.TrimSpace(text), 64)
}

func decodeObject(text string) (map[string]any, error) {
	var object map[string]any
	if err := json.Unmarshal([]byte(text), &object); err != nil {
		return nil, errors.New("the message is not a JSON object")
	}
	return object, nil
}
