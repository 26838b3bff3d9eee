package thing

import (
	"net/url"
	"strings"
)

// Describe returns the Thing Description (W3C, version 1.1) of one of the hub's own devices, as a
// JSON object, with HTTP forms under an address such as http://127.0.0.1:8420/things/ID. Whoever
// follows it gives a key as a bearer token.
func Describe(id, title, note, base string, d *Description) map[string]any {
	properties, actions, events := map[string]any{}, map[string]any{}, map[string]any{}
	for i := range d.Properties {
		p := &d.Properties[i]
		properties[p.Name] = describeProperty(p, base)
	}
	for _, a := range d.Actions {
		action := map[string]any{"title": a.Title, "forms": []any{
			map[string]any{"href": base + "/actions/" + escape(a.Name), "op": "invokeaction", "htv:methodName": "POST", "contentType": "application/json"},
		}}
		if len(a.Inputs) > 0 {
			action["input"] = describeInputs(&a)
		}
		actions[a.Name] = action
	}
	for _, e := range d.Events {
		event := map[string]any{"title": e.Title, "forms": []any{
			map[string]any{"href": base + "/events/" + escape(e.Name), "op": "subscribeevent", "subprotocol": "longpoll", "contentType": "application/json"},
		}}
		switch {
		case e.Number:
			event["data"] = map[string]any{"type": "number"}
		case len(e.Options) > 0:
			event["data"] = map[string]any{"type": "string", "enum": e.Options}
		}
		if e.Layout != nil {
			event["amvek:layout"] = e.Layout
		}
		events[e.Name] = event
	}
	td := map[string]any{
		"@context": []any{"https://www.w3.org/2022/wot/td/v1.1", map[string]any{"amvek": "urn:amvek:profile#", "htv": "http://www.w3.org/2011/http#"}},
		"@type":    "Thing", "id": "urn:amvek:" + escape(id), "title": title, "security": "key",
		"securityDefinitions": map[string]any{"key": map[string]any{"scheme": "bearer", "in": "header", "name": "Authorization"}},
		"properties":          properties, "actions": actions, "events": events,
	}
	if note != "" {
		td["description"] = note
	}
	return td
}

// escape keeps a name whole within one part of an address, whatever it holds.
func escape(name string) string { return strings.ReplaceAll(url.PathEscape(name), "%2F", "%252F") }

func describeInputs(a *Action) map[string]any {
	if a.Single {
		return describeSchema(&a.Inputs[0].Property)
	}
	parts, required := map[string]any{}, []any{}
	for i := range a.Inputs {
		parts[a.Inputs[i].Name] = describeSchema(&a.Inputs[i].Property)
		if a.Inputs[i].Required {
			required = append(required, a.Inputs[i].Name)
		}
	}
	schema := map[string]any{"type": "object", "properties": parts}
	if len(required) > 0 {
		schema["required"] = required
	}
	return schema
}

func describeProperty(p *Property, base string) map[string]any {
	href := base + "/properties/" + escape(p.Name)
	op := []any{"readproperty"}
	if p.Writable {
		op = append(op, "writeproperty")
	}
	schema := describeSchema(p)
	schema["readOnly"], schema["observable"] = !p.Writable, true
	schema["forms"] = []any{
		map[string]any{"href": href, "op": op, "contentType": "application/json"},
		map[string]any{"href": href + "/changes", "op": []any{"observeproperty"}, "subprotocol": "longpoll", "contentType": "application/json"},
	}
	return schema
}

// describeSchema says what values there are (W3C Thing Description 1.1 §5.3.2, DataSchema).
func describeSchema(p *Property) map[string]any {
	schema := map[string]any{"title": p.Title}
	if p.Help != "" {
		schema["description"] = p.Help
	}
	if p.Role != "" {
		schema["amvek:role"] = string(p.Role)
	}
	switch p.Type {
	case TypeBoolean:
		schema["type"] = "boolean"
	case TypeNumber:
		schema["type"] = "number"
		if p.Limited() {
			schema["minimum"], schema["maximum"] = p.Minimum, p.Maximum
		}
	case TypeOption:
		schema["type"], schema["enum"] = "string", p.Options
	case TypeColor:
		coordinate := map[string]any{"type": "number", "minimum": 0.0, "maximum": 1.0}
		schema["type"], schema["properties"], schema["required"] = "object", map[string]any{"x": coordinate, "y": coordinate}, []any{"x", "y"}
	default:
		schema["type"] = "string"
	}
	if p.Unit != UnitNone {
		schema["unit"] = string(p.Unit)
	}
	return schema
}
