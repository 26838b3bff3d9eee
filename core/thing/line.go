package thing

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"amvek/core/pointer"
)

// Line says how a device is spoken with by messages on a line of TCP; what the messages are is spelled out by forms.
type Line struct {
	// Begin is what each message begins with, and End what it ends with: CR and LF, of which LF alone is enough where the
	// device sends, while it is empty.
	Begin string `json:"begin,omitempty" maxLength:"20"`
	End   string `json:"end,omitempty" maxLength:"20"`
	// JSON says that messages are JSON objects, into which the fields of natives lead; else they are text, read by the
	// patterns of forms.
	JSON bool `json:"json,omitempty"`
	// Opening are messages that are sent when the line was opened, before all others.
	Opening []string `json:"opening,omitempty" maxItems:"10"`
	// Ask are messages that ask how the device stands, besides those of its forms; EverySeconds is how often, 10 s while 0.
	Ask          []string `json:"ask,omitempty" maxItems:"20"`
	EverySeconds float64  `json:"everySeconds,omitempty" minimum:"0" maximum:"86400"`
	// Alive is sent every EverySeconds where nothing is asked, so that the line stays open.
	Alive string `json:"alive,omitempty" maxLength:"200"`
	// Accepted is a pattern (RE2) of messages that say only that something was done. Where it is given, messages that nothing
	// tells how to read are faults; else they are left aside.
	Accepted string `json:"accepted,omitempty" maxLength:"500"`
	// Refused tells a no: a pattern (RE2), whose first group is why where it has one, or of JSON a pointer (RFC 6901) to why.
	Refused string `json:"refused,omitempty" maxLength:"500"`
	// Unanswered says that the device answers nothing to what it is told to do: what was sent counts as done.
	Unanswered bool `json:"unanswered,omitempty"`
}

// Ending is what ends a message that is sent.
func (l *Line) Ending() string {
	if l.End == "" {
		return "\r\n"
	}
	return l.End
}

// Translator turns what is wanted of a device into messages on its line, and messages into the fields that natives read.
// Make one with [NewTranslator].
type Translator struct {
	model    *Model
	replies  []reply
	refused  *regexp.Regexp
	accepted *regexp.Regexp
}

// reply reads one field of a message.
type reply struct {
	pattern *regexp.Regexp
	field   string
	number  bool // of an event, which carries a number
}

// LineError says why a device cannot be spoken with by a profile.
type LineError struct{ Title, Reason string }

func (e *LineError) Error() string { return "the profile " + e.Title + " " + e.Reason }

// NewTranslator returns the translator of a model; a [LineError] says why there is none.
func NewTranslator(m *Model) (*Translator, error) {
	if m.Line == nil {
		return nil, &LineError{m.Title, "does not say how its messages are framed (amvek:line)"}
	}
	t := &Translator{model: m}
	var err error
	if !m.Line.JSON {
		if t.refused, err = patterned(m.Line.Refused); err != nil {
			return nil, &LineError{m.Title, "has a pattern for what is refused that cannot be read"}
		}
	}
	if t.accepted, err = patterned(m.Line.Accepted); err != nil {
		return nil, &LineError{m.Title, "has a pattern for what is accepted that cannot be read"}
	}
	for i := range m.Description.Properties {
		p := &m.Description.Properties[i]
		if err := t.reads(m.Form("properties/"+p.Name, OpRead), m.Natives[p.Name].Field, false); err != nil {
			return nil, &LineError{m.Title, "has no pattern with a group for the reply of " + p.Name}
		}
	}
	for i := range m.Description.Events {
		e := &m.Description.Events[i]
		if err := t.reads(m.Form("events/"+e.Name, OpSubscribe), m.Signals[e.Name].Field, e.Number); err != nil {
			return nil, &LineError{m.Title, "has no pattern for the event " + e.Name}
		}
	}
	return t, nil
}

// patterned compiles a pattern that is to fit a whole message; nil for none.
func patterned(pattern string) (*regexp.Regexp, error) {
	if pattern == "" {
		return nil, nil
	}
	return regexp.Compile("^(?:" + pattern + ")$")
}

func (t *Translator) reads(form *Form, field string, number bool) error {
	if form == nil || form.Reply == "" {
		return nil
	}
	pattern, err := patterned(form.Reply)
	if err != nil {
		return err
	}
	t.replies = append(t.replies, reply{pattern, field, number})
	return nil
}

// Questions are the messages that ask for all that the device knows, each once.
func (t *Translator) Questions() []string {
	messages := slices.Clone(t.model.Line.Ask)
	for i := range t.model.Description.Properties {
		if q := t.Question(t.model.Description.Properties[i].Name); q != "" && !slices.Contains(messages, q) {
			messages = append(messages, q)
		}
	}
	return messages
}

// Question is the message that asks for one property, "" where there is none.
func (t *Translator) Question(property string) string {
	if form := t.model.Form("properties/"+property, OpRead); form != nil {
		return form.Query
	}
	return ""
}

// Heard is what a message of a device says.
type Heard struct {
	// Fields are read by the natives and signals of the model.
	Fields map[string]any
	// Refused is why the device does not do what it was asked, which may say nothing more; No says that it refuses.
	No      bool
	Refused string
	// Known says that the profile tells how to read the message.
	Known bool
}

// Hear reads a message. An error says that it cannot be one of the device.
func (t *Translator) Hear(message string) (Heard, error) {
	if t.model.Line.JSON {
		return t.hearJSON(message)
	}
	if t.refused != nil {
		if m := t.refused.FindStringSubmatch(message); m != nil {
			h := Heard{No: true, Known: true, Refused: message}
			if len(m) > 1 && m[1] != "" {
				h.Refused = m[1]
			}
			return h, nil
		}
	}
	h := Heard{Fields: map[string]any{}}
	for _, r := range t.replies {
		if m := r.pattern.FindStringSubmatch(message); m != nil {
			h.Fields[r.field] = r.value(m)
		}
	}
	h.Known = len(h.Fields) > 0 || (t.accepted != nil && t.accepted.MatchString(message))
	if !h.Known && t.accepted != nil {
		return h, fmt.Errorf("the message %q is not known", message)
	}
	return h, nil
}

// value is what stands in the pattern's group, or that it fitted.
func (r *reply) value(groups []string) any {
	if len(groups) < 2 {
		return true
	}
	if number, err := parseNumber(groups[1]); r.number && err == nil {
		return number
	}
	return groups[1]
}

func (t *Translator) hearJSON(message string) (Heard, error) {
	fields, err := decodeObject(message)
	if err != nil {
		return Heard{}, err
	}
	h := Heard{Fields: fields, Known: true}
	if at := t.model.Line.Refused; at != "" {
		if why, err := pointer.At(fields, at); err == nil && why != nil && why != false && why != "" {
			h.No, h.Refused = true, fmt.Sprint(why)
		}
	}
	return h, nil
}

// Set returns the message that sets a property; known are what properties are at, for the places that name them.
func (t *Translator) Set(property string, value Value, known map[string]Value) (string, error) {
	p, form := t.model.Description.Property(property), t.model.Form("properties/"+property, OpWrite)
	if p == nil || !p.Writable || form == nil || form.Send == "" {
		return "", &LineError{t.model.Title, "cannot write " + property}
	}
	places, err := t.model.Setting(p, value, known)
	if err != nil {
		return "", err
	}
	return t.fill(form.Send, places)
}

// Invoke returns the message that asks for an action.
func (t *Translator) Invoke(action string, given Inputs, known map[string]Value) (string, error) {
	form := t.model.InvokeForm(action, given)
	if form == nil || form.Send == "" {
		return "", &LineError{t.model.Title, "does not know the action " + action}
	}
	places, err := t.model.Giving(action, given, known)
	if err != nil {
		return "", err
	}
	return t.fill(form.Send, places)
}

// BreakError says that a text cannot be sent, since it would end the message that it is in.
type BreakError struct{}

func (*BreakError) Error() string { return "a line break cannot be sent" }

func (t *Translator) fill(template string, places Places) (string, error) {
	plain := func(text string) string { return text }
	if t.model.Line.JSON {
		plain = InJSON
	}
	message, err := Fill(template, places, plain)
	if err != nil {
		return "", err
	}
	if strings.ContainsAny(message, "\r\n") || strings.Contains(message, t.model.Line.Ending()) {
		return "", &BreakError{}
	}
	return message, nil
}
