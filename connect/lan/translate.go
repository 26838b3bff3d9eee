package lan

import (
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"amvek/core/thing"
)

// Framings that a profile's protocol names.
const (
	jsonLines    = "jsonLines"    // {"get":1}, {"set":{…}}, {"blink":3}; answers {"state":{…}} or {"fault":"…"}
	commandLines = "commandLines" // spelled out by the forms of the profile
)

// translator turns what is wanted of a device into lines and its lines into fields.
type translator interface {
	// questions are the lines that ask for all that the device knows.
	questions() []string
	// hear reads a line; refused is the device's reason for not doing what it was asked.
	hear(line string) (fields map[string]any, refused string, err error)
	set(property string, value thing.Value) (string, error)
	invoke(action string, given thing.Inputs) (string, error)
}

func newTranslator(m *thing.Model) (translator, error) {
	switch m.Protocol {
	case jsonLines:
		return jsonTranslator{m}, nil
	case commandLines:
		return newCommandTranslator(m)
	default:
		return nil, fmt.Errorf("the profile %s names no protocol that devices on the network speak", m.Title)
	}
}

type jsonTranslator struct{ model *thing.Model }

func (jsonTranslator) questions() []string { return []string{`{"get":1}`} }

func (jsonTranslator) hear(line string) (map[string]any, string, error) {
	var message struct {
		State map[string]any `json:"state"`
		Fault string         `json:"fault"`
	}
	if err := json.Unmarshal([]byte(line), &message); err != nil {
		return nil, "", errors.New("the line is not a JSON object")
	}
	return message.State, message.Fault, nil
}

func (t jsonTranslator) set(property string, value thing.Value) (string, error) {
	p := t.model.Description.Property(property)
	if p == nil || !p.Writable {
		return "", fmt.Errorf("the profile of %s cannot write %s", t.model.Model, property)
	}
	fields, err := t.model.Natives[property].Write(p, value)
	if err != nil {
		return "", err
	}
	line, err := json.Marshal(map[string]any{"set": fields})
	return string(line), err
}

func (t jsonTranslator) invoke(action string, _ thing.Inputs) (string, error) {
	if action != string(thing.RoleIdentify) {
		return "", fmt.Errorf("the device does not know the action %s", action)
	}
	return `{"blink":3}`, nil
}

var errLineBreak = errors.New("a line break cannot be sent")

// commandTranslator follows the forms of a profile: a query, a pattern for its answer, a line to send.
type commandTranslator struct {
	model   *thing.Model
	replies map[string]*regexp.Regexp // by property
	refusal *regexp.Regexp
}

func newCommandTranslator(m *thing.Model) (translator, error) {
	t := &commandTranslator{model: m, replies: map[string]*regexp.Regexp{}, refusal: regexp.MustCompile(`^ERR ?(.*)$`)}
	for _, p := range m.Description.Properties {
		form := m.Form("properties/"+p.Name, thing.OpRead)
		if form == nil || form.Reply == "" {
			continue
		}
		pattern, err := regexp.Compile("^(?:" + form.Reply + ")$")
		if err != nil || pattern.NumSubexp() < 1 {
			return nil, fmt.Errorf("the profile %s: the reply of %s is no pattern with a group", m.Title, p.Name)
		}
		t.replies[p.Name] = pattern
	}
	return t, nil
}

func (t *commandTranslator) questions() []string {
	var lines []string
	for _, p := range t.model.Description.Properties {
		if form := t.model.Form("properties/"+p.Name, thing.OpRead); form != nil && form.Query != "" && !slices.Contains(lines, form.Query) {
			lines = append(lines, form.Query)
		}
	}
	return lines
}

func (t *commandTranslator) hear(line string) (map[string]any, string, error) {
	if m := t.refusal.FindStringSubmatch(line); m != nil {
		return nil, m[1], nil
	}
	fields := map[string]any{}
	for property, pattern := range t.replies {
		if m := pattern.FindStringSubmatch(line); m != nil {
			fields[t.model.Natives[property].Field] = m[1]
		}
	}
	if len(fields) == 0 && line != "OK" {
		return nil, "", fmt.Errorf("the line %q is not known", line)
	}
	return fields, "", nil
}

func (t *commandTranslator) set(property string, value thing.Value) (string, error) {
	p, form := t.model.Description.Property(property), t.model.Form("properties/"+property, thing.OpWrite)
	if p == nil || !p.Writable || form == nil || form.Send == "" {
		return "", fmt.Errorf("the profile of %s cannot write %s", t.model.Model, property)
	}
	text, err := t.model.Natives[property].Say(p, value)
	if err != nil {
		return "", err
	}
	if strings.ContainsAny(text, "\r\n") {
		return "", errLineBreak
	}
	return strings.ReplaceAll(form.Send, "{value}", text), nil
}

func (t *commandTranslator) invoke(action string, given thing.Inputs) (string, error) {
	form := t.model.InvokeForm(action, given)
	if form == nil || form.Send == "" {
		return "", fmt.Errorf("the device does not know the action %s", action)
	}
	line, err := t.model.Fill(form.Send, action, given)
	if err == nil && strings.ContainsAny(line, "\r\n") {
		err = errLineBreak
	}
	return line, err
}
