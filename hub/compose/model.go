package compose

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"amvek/core/thing"
)

const placeholder = "{{" + thing.PlaceholderPlace + "}}"

// Model writes a Thing Model (W3C Thing Description 1.1 §10) of what the owner chose, under the name of a model.
func Model(c Composed, model string) (map[string]any, error) {
	w := &writer{c: c, place: PlaceOf(c)}
	properties, events, actions := map[string]any{}, map[string]any{}, map[string]any{}
	names := namesOf(c.Fields)
	for i := range c.Fields {
		f, name := &c.Fields[i], names[i]
		if f.Event {
			events[name] = w.event(f)
		} else {
			properties[name] = w.property(f, name)
		}
	}
	for i := range c.Commands {
		actions[fmt.Sprintf("c%d", i+1)] = map[string]any{
			"title": c.Commands[i].Title,
			"forms": []any{w.form(&c.Commands[i].Send, "invokeaction")},
		}
	}
	document := map[string]any{
		"@context": []any{
			"https://www.w3.org/2022/wot/td/v1.1",
			map[string]any{"amvek": "urn:amvek:profile#", "mqv": "https://www.w3.org/2019/wot/mqtt#", "htv": "http://www.w3.org/2011/http#"},
		},
		"@type": "tm:ThingModel", "title": c.Title, "amvek:model": model, "amvek:maker": "made here", "amvek:what": "device",
	}
	for name, affordances := range map[string]map[string]any{"properties": properties, "events": events, "actions": actions} {
		if len(affordances) > 0 {
			document[name] = affordances
		}
	}
	if c.Line != nil {
		document["amvek:line"] = w.framing()
	}
	if s := c.Security; s != nil {
		definition := map[string]any{"scheme": s.Scheme}
		if s.Scheme == "apikey" {
			definition["in"], definition["name"] = s.In, s.Name
		}
		document["security"], document["securityDefinitions"] = "key", map[string]any{"key": definition}
	}
	return document, w.failed
}

type writer struct {
	c      Composed
	place  string
	failed error
}

// plain writes what cannot be typed in place of its escapes.
func (w *writer) plain(text string) string {
	plain, err := unescaped(text)
	if err != nil {
		w.failed = err
	}
	return plain
}

// framing is how messages are told apart, with what cannot be typed in place of its escapes.
func (w *writer) framing() thing.Line {
	framing := *w.c.Line
	framing.EverySeconds = w.c.PollSeconds
	framing.Begin, framing.End = w.plain(framing.Begin), w.plain(framing.End)
	if framing.JSON {
		return framing
	}
	framing.Opening = slices.Clone(framing.Opening)
	for i := range framing.Opening {
		framing.Opening[i] = w.plain(framing.Opening[i])
	}
	framing.Alive = w.plain(framing.Alive)
	return framing
}

// Framing returns how messages on the device's line are told apart, and messages as they are sent.
func Framing(c Composed, messages []string) (thing.Line, []string, error) {
	w := &writer{c: c}
	sent := slices.Clone(messages)
	if !c.Line.JSON {
		for i := range sent {
			sent[i] = w.plain(sent[i])
		}
	}
	return w.framing(), sent, w.failed
}

// namesOf are the names of values within their model: the last part of the pointer to each, or else its number.
func namesOf(fields []Picked) []string {
	names := make([]string, len(fields))
	for i := range fields {
		name := fmt.Sprintf("p%d", i+1)
		if parts := strings.Split(fields[i].Pointer, "/"); parts[len(parts)-1] != "" {
			name = parts[len(parts)-1]
		}
		if name == thing.ValuePlace || slices.Contains(names[:i], name) {
			name = fmt.Sprintf("%s%d", name, i+1)
		}
		names[i] = name
	}
	return names
}

// NameOf is the name of a value within the model of its device.
func NameOf(c Composed, field int) (name string, there bool) {
	if field < 0 || field >= len(c.Fields) {
		return "", false
	}
	return namesOf(c.Fields)[field], true
}

func (w *writer) event(f *Picked) map[string]any {
	event := map[string]any{"title": f.Title, "forms": []any{map[string]any{"href": w.line(), "op": []any{"subscribeevent"}, "amvek:reply": f.Pattern}}}
	switch {
	case f.Type == thing.TypeNumber:
		event["data"] = map[string]any{"type": "number"}
	case len(f.Choices) > 0:
		event["data"] = map[string]any{"type": "string", "enum": f.Choices}
	}
	return event
}

func (w *writer) property(f *Picked, name string) map[string]any {
	p := map[string]any{"title": f.Title, "readOnly": f.Set == nil, "observable": !f.SetOnly}
	p["type"] = map[thing.Type]string{thing.TypeBoolean: "boolean", thing.TypeNumber: "number", thing.TypeText: "string"}[f.Type]
	if f.Unit != "" {
		p["unit"] = string(f.Unit)
	}
	p["amvek:role"] = string(cmp.Or(f.Role, thing.RoleOwn))
	if len(f.Choices) > 0 && f.Type == thing.TypeText {
		p["enum"] = f.Choices
	}
	if f.SetOnly {
		p["writeOnly"], p["amvek:assumed"] = true, true
	}
	p["amvek:native"] = w.native(f, name, p)
	forms := []any{}
	if !f.SetOnly {
		forms = append(forms, w.reading(f))
	}
	if f.Set != nil {
		forms = append(forms, w.form(f.Set, "writeproperty"))
	}
	p["forms"] = forms
	return p
}

// native says how the device writes the value, and puts the limits of it into the property.
func (w *writer) native(f *Picked, name string, p map[string]any) map[string]any {
	native := map[string]any{"field": f.Pointer}
	switch {
	case w.c.Way() == OverLine && !w.c.Line.JSON:
		native["field"] = name // each has its own part of what is heard
	case f.Pattern != "":
		native["field"] = ""
	}
	if f.Factor != 0 {
		native["factor"] = f.Factor
	}
	if len(f.Words) == 2 {
		native["words"] = f.Words
	}
	if f.From == nil {
		return native
	}
	if f.Unit == thing.UnitPercent {
		p["minimum"], p["maximum"], native["range"] = 0, 100, []float64{*f.From, *f.To}
		return native
	}
	p["minimum"], p["maximum"] = min(*f.From, *f.To), max(*f.From, *f.To)
	return native
}

func (w *writer) line() string { return "tcp://" + placeholder }

// there writes a text with the place of the device open.
func (w *writer) there(text string) string {
	if w.place == "" {
		return text
	}
	return strings.Replace(text, w.place, placeholder, 1)
}

// reading is the form by which a value is read.
func (w *writer) reading(f *Picked) map[string]any {
	read := f.Read
	if read == nil {
		read = w.c.Read
	}
	form := map[string]any{}
	if read != nil {
		form = w.form(read, "readproperty")
	}
	form["op"] = []any{"readproperty"}
	switch w.c.Way() {
	case OverTopic:
		return map[string]any{"href": "mqtt://" + thing.BrokerOfOwner, "op": []any{"readproperty", "observeproperty"}, "mqv:filter": w.there(w.c.Topic)}
	case OverLine:
		form["href"] = w.line()
		if body, there := form["amvek:send"]; there {
			form["amvek:query"] = body
			delete(form, "amvek:send")
		}
		form["op"] = []any{"readproperty", "observeproperty"}
	case OverHTTP:
		if read == nil || read.Address == "" {
			form["href"] = w.there(w.c.Address)
		}
		if _, typed := form["contentType"]; !typed && f.Pattern == "" {
			form["contentType"] = "application/json"
		}
		form["amvek:pollSeconds"] = max(1, w.c.PollSeconds)
	}
	if f.Pattern != "" {
		form["amvek:reply"] = f.Pattern
	}
	return form
}

// form is the form by which a message is sent.
func (w *writer) form(m *Sending, op string) map[string]any {
	form := map[string]any{"op": []any{op}}
	switch w.c.Way() {
	case OverTopic:
		body := m.Body
		if body == "" && op == "writeproperty" {
			body = "{" + thing.ValuePlace + "}" // the plain value, which is also what trying it sends
		}
		form["href"], form["mqv:topic"], form["amvek:body"] = "mqtt://"+thing.BrokerOfOwner, w.there(m.Topic), body
	case OverLine:
		form["href"], form["amvek:send"] = w.line(), m.Body
		if !w.c.Line.JSON {
			form["amvek:send"] = w.plain(m.Body)
		}
	case OverHTTP:
		at := m.Address
		if at == "" {
			at = w.c.Address
		}
		form["href"] = w.there(at)
		for name, value := range map[string]string{"htv:methodName": m.Method, "contentType": m.ContentType, "amvek:body": m.Body} {
			if value != "" {
				form[name] = value
			}
		}
		if len(m.Headers) > 0 {
			form["htv:headers"] = m.Headers
		}
	}
	return form
}
