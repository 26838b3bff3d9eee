package hub

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"amvek/connect"
	"amvek/connect/webthing"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// Picked is a field that the owner chose to be a property.
type Picked struct {
	Pointer string     `json:"pointer" maxLength:"500"`
	Title   string     `json:"title" minLength:"1" maxLength:"80"`
	Type    thing.Type `json:"type" enum:"boolean,number,text"`
	Role    thing.Role `json:"role,omitempty"`
	Unit    thing.Unit `json:"unit,omitempty"`
	// Factor multiplies the device's number to give the unit; 0 leaves it.
	Factor float64 `json:"factor,omitempty"`
	// SetTopic and SetBody say how it is set; {value} stands for the value. Without a topic it is read only.
	SetTopic string `json:"setTopic,omitempty" maxLength:"500"`
	SetBody  string `json:"setBody,omitempty" maxLength:"2000"`
	// Words are the device's words for no and yes, where it writes words.
	Words []string `json:"words,omitempty" maxItems:"2"`
}

// Composed is a device that the owner makes of a topic, or of an address that returns JSON.
type Composed struct {
	Title      string `json:"title" minLength:"1" maxLength:"80"`
	Connection string `json:"connection,omitempty" doc:"The broker's connection; absent for an address."`
	Topic      string `json:"topic,omitempty" maxLength:"500"`
	Address    string `json:"address,omitempty" maxLength:"2000"`
	// PollSeconds is how often the address is read.
	PollSeconds float64  `json:"pollSeconds,omitempty" minimum:"0" maximum:"86400"`
	Fields      []Picked `json:"fields,omitempty" maxItems:"50"`
	// Profile is the model of a profile made before, in place of fields.
	Profile string `json:"profile,omitempty" maxLength:"200"`
}

// Compose makes a device of what the owner chose: a profile, which can be used again for others of
// its kind, and a device of that profile, which appears among the found ones. With docs.Profile, the
// device is made of one that is there.
func (h *Hub) Compose(ctx context.Context, c Composed) (ThingCheck, error) {
	overTopic := c.Topic != ""
	switch {
	case overTopic == (c.Address != ""):
		return ThingCheck{}, Invalid("topic", "Choose a topic, or an address.")
	case overTopic && c.Connection == "":
		c.Connection = GatewaysID
	}
	if c.Profile != "" {
		return h.composeOf(ctx, c)
	}
	if len(c.Fields) == 0 {
		return ThingCheck{}, Invalid("fields", "Choose at least one value.")
	}
	place := placeOf(c)
	model := "made-" + strings.TrimPrefix(docs.NewID(docs.KindProfile), string(docs.KindProfile)+"-")
	document, err := json.MarshalIndent(modelOf(c, model, place), "", "  ")
	if err != nil {
		return ThingCheck{}, err
	}
	if _, err := h.SaveProfile(ctx, string(document)); err != nil {
		return ThingCheck{}, err
	}
	check, err := h.makeThing(ctx, c, model, place)
	if err != nil {
		// Nothing half made is left behind.
		return check, errors.Join(err, h.RemoveProfile(ctx, model))
	}
	return check, nil
}

// composeOf makes another device of a profile that was made before.
func (h *Hub) composeOf(ctx context.Context, c Composed) (ThingCheck, error) {
	var profile *thing.Model
	if err := h.do(ctx, func() { profile = h.catalogue.Find(c.Profile) }); err != nil {
		return ThingCheck{}, err
	}
	if profile == nil {
		return ThingCheck{}, Invalid("profile", "There is no such profile.")
	}
	place, fits := placeIn(profile, c)
	if !fits {
		return ThingCheck{}, Invalid("profile", "The profile "+profile.Title+" is not for such a topic.")
	}
	return h.makeThing(ctx, c, c.Profile, place)
}

func (h *Hub) makeThing(ctx context.Context, c Composed, model, place string) (ThingCheck, error) {
	id := "urn:amvek:composed:" + strings.TrimPrefix(docs.NewID(docs.KindThing), string(docs.KindThing)+"-")
	return h.saveThing(ctx, id, &docs.Thing{Title: strings.TrimSpace(c.Title), Connection: c.Connection, Profile: model, Place: place, Hardware: id})
}

// modelOf writes a Thing Model (W3C Thing Description 1.1 §10) of what the owner chose.
func modelOf(c Composed, model, place string) map[string]any {
	properties := map[string]any{}
	for i, f := range c.Fields {
		name := fmt.Sprintf("p%d", i+1)
		if parts := strings.Split(f.Pointer, "/"); parts[len(parts)-1] != "" {
			name = parts[len(parts)-1]
		}
		if _, twice := properties[name]; twice {
			name = fmt.Sprintf("%s%d", name, i+1)
		}
		native := map[string]any{"field": f.Pointer}
		if f.Factor != 0 {
			native["factor"] = f.Factor
		}
		if len(f.Words) == 2 {
			native["words"] = f.Words
		}
		p := map[string]any{"title": f.Title, "readOnly": f.SetTopic == "", "observable": true, "amvek:native": native}
		p["type"] = map[thing.Type]string{thing.TypeBoolean: "boolean", thing.TypeNumber: "number", thing.TypeText: "string"}[f.Type]
		if f.Unit != "" {
			p["unit"] = string(f.Unit)
		}
		if f.Role != "" {
			p["amvek:role"] = string(f.Role)
		}
		p["forms"] = formsOf(c, f, place)
		properties[name] = p
	}
	protocol := protocolTopics
	if c.Address != "" {
		protocol = protocolAddress
	}
	return map[string]any{
		"@context": []any{"https://www.w3.org/2022/wot/td/v1.1", map[string]any{"amvek": "urn:amvek:profile#", "mqv": "https://www.w3.org/2019/wot/mqtt#"}},
		"@type":    "tm:ThingModel", "title": c.Title, "amvek:model": model, "amvek:maker": "made here", "amvek:what": "device", "amvek:protocol": protocol,
		"properties": properties,
	}
}

// The protocols of profiles that were made of topics, or of an address.
const (
	protocolTopics  = "topics"
	protocolAddress = "address"
)

const placeholder = "{{" + thing.PlaceholderPlace + "}}"

func formsOf(c Composed, f Picked, place string) []any {
	there := func(text string) string {
		if place == "" {
			return text
		}
		return strings.Replace(text, place, placeholder, 1)
	}
	if c.Address != "" {
		return []any{map[string]any{"href": there(c.Address), "op": []any{"readproperty"}, "contentType": "application/json", "amvek:pollSeconds": max(1, c.PollSeconds)}}
	}
	forms := []any{map[string]any{"href": "mqtt://broker", "op": []any{"readproperty", "observeproperty"}, "mqv:filter": there(c.Topic)}}
	if f.SetTopic != "" {
		body := f.SetBody
		if body == "" {
			body = "{value}" // the plain value, which is also what trying it sends
		}
		forms = append(forms, map[string]any{"href": "mqtt://broker", "op": []any{"writeproperty"}, "mqv:topic": there(f.SetTopic), "amvek:body": body})
	}
	return forms
}

// placeOf returns that part of the topics, or the address, in which another device of the kind would
// differ: what all topics begin with, or else the longest level that all of them have.
func placeOf(c Composed) string {
	if c.Address != "" {
		return c.Address
	}
	levels := strings.Split(c.Topic, "/")
	shared := len(levels)
	all := [][]string{}
	for _, f := range c.Fields {
		if f.SetTopic == "" {
			continue
		}
		set := strings.Split(f.SetTopic, "/")
		all = append(all, set)
		n := 0
		for n < shared && n < len(set) && set[n] == levels[n] {
			n++
		}
		shared = n
	}
	if shared > 0 {
		return strings.Join(levels[:shared], "/")
	}
	longest := ""
	for _, level := range levels {
		everywhere := true
		for _, set := range all {
			everywhere = everywhere && strings.Contains("/"+strings.Join(set, "/")+"/", "/"+level+"/")
		}
		if everywhere && len(level) > len(longest) {
			longest = level
		}
	}
	return longest
}

// placeIn returns where a device of a profile is, if the profile is for such a topic or address.
func placeIn(profile *thing.Model, c Composed) (place string, fits bool) {
	for _, p := range profile.Description.Properties {
		form := profile.Form("properties/"+p.Name, thing.OpRead)
		if form == nil {
			continue
		}
		pattern, actual := form.Filter, c.Topic
		if c.Address != "" {
			pattern, actual = form.Href, c.Address
		}
		before, after, open := strings.Cut(pattern, placeholder)
		switch {
		case pattern == "":
		case !open:
			return "", pattern == actual
		case len(actual) > len(before)+len(after) && strings.HasPrefix(actual, before) && strings.HasSuffix(actual, after):
			return actual[len(before) : len(actual)-len(after)], true
		default:
			return "", false
		}
	}
	return "", false
}

// Fitting is a profile that was made before and fits what is heard.
type Fitting struct {
	Model string `json:"model"`
	Title string `json:"title"`
}

// fitting returns the profiles made before that read every one of their values out of a payload. It runs in the loop.
func (h *Hub) fitting(c Composed, fields []Field) []Fitting {
	fits := []Fitting{}
	there := map[string]bool{}
	for _, f := range fields {
		there[f.Pointer] = true
	}
	protocol := protocolTopics
	if c.Address != "" {
		protocol = protocolAddress
	}
	for _, id := range h.definitions.Profiles.IDs() {
		profile := h.catalogue.Find(h.definitions.Profiles[id].Doc.Model)
		if profile == nil || profile.Protocol != protocol {
			continue
		}
		all := true
		for _, native := range profile.Natives {
			all = all && there[native.Field]
		}
		if _, placed := placeIn(profile, c); all && placed {
			fits = append(fits, Fitting{profile.Model, profile.Title})
		}
	}
	return fits
}

// Answered is what an address that returns JSON answered.
type Answered struct {
	Fields []Field `json:"fields"`
	// Fits are profiles made before that fit it.
	Fits []Fitting `json:"fits"`
}

// FieldsAt reads an address once and returns the single values in what it answers.
func (h *Hub) FieldsAt(ctx context.Context, address string) (Answered, error) {
	data, err := webthing.Fetch(ctx, address)
	if err != nil {
		return Answered{}, Invalid("address", connect.Sentence(err))
	}
	if !json.Valid(data) {
		return Answered{}, Invalid("address", "What the address answers is not JSON.")
	}
	a := Answered{Fields: fieldsOf(string(data))}
	return a, h.do(ctx, func() { a.Fits = h.fitting(Composed{Address: address}, a.Fields) })
}
