package thing

import (
	"fmt"
	"maps"
	"math"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"amvek/core/pointer"
)

// describer turns affordances into properties, actions and events with forms that can be used.
type describer struct {
	d      *Described
	doc    *thingDocument
	base   string
	broken string
}

func (t *describer) cannot(affordance, reason string) {
	t.d.Unreachable = append(t.d.Unreachable, Unreachable{affordance, reason})
}

// forms returns the forms that can be used, with whole addresses, or says why there is none. Inputs are those of an action,
// which may have places in them.
func (t *describer) forms(forms []securedForm, inputs ...string) ([]Form, string) {
	if len(forms) == 0 {
		return nil, "it has no form"
	}
	var usable []Form
	reason := ""
	for _, form := range forms {
		f := form.Form
		if problem := t.secure(form.Security); problem != "" {
			reason = problem
			continue
		}
		href := strings.SplitN(f.Href, "{?", 2)[0]
		address, err := url.Parse(bracketed(href))
		if err == nil && t.base != "" {
			var base *url.URL
			if base, err = url.Parse(t.base); err == nil {
				address = base.ResolveReference(address)
			}
		}
		switch {
		case err != nil:
			reason = "its address cannot be read"
		case (address.Scheme == "mqtt" || address.Scheme == "mqtts") && !t.through(address):
			reason = "it is reached over another broker than the rest"
		case (address.Scheme == "mqtt" || address.Scheme == "mqtts") && (f.Topic != "" || f.Filter != ""):
			f.Href = address.String()
			usable = append(usable, f)
		case (address.Scheme == "mqtt" || address.Scheme == "mqtts") && strings.Trim(address.Path, "/") != "":
			// The topic is the path of the address (W3C Web of Things MQTT Binding, its early form).
			f.Href, f.Topic = address.String(), strings.Trim(address.Path, "/")
			if len(f.Op) == 0 {
				f.Filter = f.Topic
			}
			usable = append(usable, f)
		case address.Scheme == "mqtt" || address.Scheme == "mqtts":
			reason = "its address has no topic"
		case address.Scheme == "":
			reason = "its address is not whole, and the description names no base"
		case strings.EqualFold(address.Scheme, "tcp"):
			if reason = t.lineForm(address, &f); reason == "" {
				usable = append(usable, f)
			}
		case !slices.Contains(Reachable, strings.ToLower(address.Scheme)):
			reason = fmt.Sprintf("the protocol %q is not known", address.Scheme)
		case !t.filled(href, inputs):
			reason = "its address has variables"
		case f.ContentType != "" && !readable(&f):
			reason = fmt.Sprintf("the content type %q is not known", f.ContentType)
		default:
			f.Href = places.Replace(address.String())
			usable = append(usable, f)
		}
	}
	if len(usable) > 0 {
		return usable, ""
	}
	return nil, reason
}

// readable reports whether bodies of a form's content type can be read, or are spelled out by the form.
func readable(f *Form) bool {
	return strings.Contains(f.ContentType, "json") || strings.HasPrefix(f.ContentType, "text/plain") || f.Reply != "" || f.Body != ""
}

// places undoes how the brackets of a place are written in an address (RFC 3986 §2.1).
var places = strings.NewReplacer("%7B", "{", "%7D", "}")

// bracketed writes the brackets of places as they may stand in an address.
func bracketed(href string) string {
	return strings.NewReplacer("{", "%7B", "}", "%7D").Replace(href)
}

// filled reports whether it is known what stands in every place of an address: the value, an input, or another property.
func (t *describer) filled(href string, inputs []string) bool {
	for _, name := range PlacesIn(href) {
		if _, property := t.doc.Properties[name]; name != ValuePlace && !property && !slices.Contains(inputs, name) {
			return false
		}
	}
	return !strings.ContainsAny(placeholder.ReplaceAllString(href, ""), "{}")
}

// lineForm takes a form for a line of TCP, or says why it cannot be used.
func (t *describer) lineForm(address *url.URL, f *Form) string {
	switch at := strings.ToLower(address.Host); {
	case t.doc.Line == nil:
		return "it is reached by a line, and the description does not say how messages are framed (amvek:line)"
	case address.Port() == "" || address.Hostname() == "":
		return "its address is not host and port"
	case t.d.At != "" && t.d.At != at:
		return "it is reached by another line than the rest"
	case f.Send == "" && f.Query == "" && f.Reply == "":
		return "it does not say what is sent"
	default:
		t.d.At, f.Href = at, address.String()
	}
	return ""
}

// BrokerOfOwner is the host in the address of a form over MQTT that names no broker in particular: the connection's counts.
const BrokerOfOwner = "broker"

// through takes the broker that a form names. It is false where others name another: a thing is reached over one.
func (t *describer) through(address *url.URL) bool {
	if address.Hostname() == "" || address.Hostname() == BrokerOfOwner {
		return true
	}
	port := address.Port()
	if port == "" {
		port = map[string]string{"mqtt": "1883", "mqtts": "8883"}[address.Scheme]
	}
	named := strings.ToLower(hostAndPort(address.Hostname(), port))
	if t.d.Broker == "" {
		t.d.Broker = named
	}
	return t.d.Broker == named
}

// hostAndPort joins them; an address of IP version 6 stands in brackets (RFC 3986 §3.2.2).
func hostAndPort(host, port string) string {
	if strings.Contains(host, ":") {
		host = "[" + host + "]"
	}
	return host + ":" + port
}

// secure takes what a form wants for security, nil for what its thing wants, or says why it cannot be had. A thing has one
// key: where it wants none itself, it is for the first form that wants one.
func (t *describer) secure(names any) string {
	if names == nil {
		return t.broken
	}
	s, problem := t.doc.security(names)
	switch {
	case problem != "" || s.Scheme == "nosec" || s == t.d.Security:
		return problem
	case t.d.Security.Scheme == "nosec":
		t.d.Security = s
		return ""
	}
	return "it wants another key than the rest"
}

func (t *describer) properties() {
	for _, name := range slices.Sorted(maps.Keys(t.doc.Properties)) {
		a := t.doc.Properties[name]
		if t.picture(name, a) {
			continue
		}
		forms, reason := t.forms(a.Forms)
		if reason != "" {
			t.cannot(name, reason)
			continue
		}
		model := t.d.Model
		writable := !a.ReadOnly && slices.ContainsFunc(forms, func(f Form) bool { return len(f.Op) == 0 || slices.Contains(f.Op, OpWrite) })
		if a.WriteOnly {
			if !writable {
				t.cannot(name, "it can only be written, and no form writes it")
				continue
			}
			forms = writing(forms)
		}
		if a.kind() == "object" && a.Role != RoleColor {
			t.members(name, first(a.Title, name), "", a.schemaDocument, forms, 0)
			if writable && len(a.Properties) > 0 {
				t.cannot(name, "it is an object: its parts can be read, and not written")
			}
			continue
		}
		p, ok := a.property(name, first(a.Title, name), writable, a.Role)
		if !ok {
			t.cannot(name, a.unusable())
			continue
		}
		p.Assumed = a.WriteOnly
		model.Description.Properties = append(model.Description.Properties, p)
		model.Natives[name] = a.native("")
		if forms[0].Scheme() == "tcp" && !t.doc.Line.JSON {
			model.Natives[name] = a.native(name) // each has its own part of what is heard
		}
		if a.Native != nil {
			model.Natives[name] = *a.Native
		}
		model.Forms["properties/"+name] = forms
	}
}

// mostPictures is how many pictures of a device are taken.
const mostPictures = 16

// picture takes a property that is read as a picture (§5.3.4.2: its form has an image for content type); it is false for others.
func (t *describer) picture(name string, a interactionElement) bool {
	var shown []securedForm
	for _, f := range a.Forms {
		if strings.HasPrefix(f.ContentType, "image/") {
			f.ContentType = "" // that of what is answered, not of what is asked
			shown = append(shown, f)
		}
	}
	if len(shown) == 0 {
		return false
	}
	forms, reason := t.forms(shown)
	if reason == "" && len(t.d.Model.Description.Pictures) == mostPictures {
		reason = fmt.Sprintf("it shows more than %d pictures", mostPictures)
	}
	if reason != "" {
		t.cannot(name, reason)
		return true
	}
	t.d.Model.Description.Pictures = append(t.d.Model.Description.Pictures, Picture{Name: name, Title: first(a.Title, name)})
	t.d.Model.Forms["properties/"+name] = forms
	return true
}

// deepest is how many objects within each other are read.
const deepest = 5

// members makes properties of the single values in an object, read out of it, and of those in objects within it.
func (t *describer) members(name, title, within string, object schemaDocument, forms []Form, depth int) {
	if len(object.Properties) == 0 {
		t.cannot(name, "it is an object of unknown make")
	}
	for _, member := range slices.Sorted(maps.Keys(object.Properties)) {
		inner, path, at := object.Properties[member], name+"/"+member, within+"/"+pointer.Escape(member)
		called := title + " " + first(inner.Title, member)
		if inner.kind() == "object" && depth < deepest {
			t.members(path, called, at, inner, forms, depth+1)
			continue
		}
		p, ok := inner.property(path, called, false, "")
		if !ok {
			t.cannot(path, inner.unusable())
			continue
		}
		t.d.Model.Description.Properties = append(t.d.Model.Description.Properties, p)
		t.d.Model.Natives[p.Name] = inner.native(at)
		t.d.Model.Forms["properties/"+p.Name] = forms
	}
}

// native says how values of a data schema are written at a place in what the device sends.
func (s schemaDocument) native(field string) Native {
	return Native{Field: field, Numeric: len(s.numbers()) > 0}
}

// numbers are the choices of a data schema that are numbers, as texts; nil where they are not all numbers.
func (s schemaDocument) numbers() (options []string) {
	for _, e := range s.Enum {
		n, is := e.(float64)
		if !is {
			return nil
		}
		options = append(options, strconv.FormatFloat(n, 'f', -1, 64))
	}
	return options
}

// unusable says why values of a data schema cannot be used.
func (s schemaDocument) unusable() string {
	if s.kind() == "" {
		return "it does not say which type its values are of"
	}
	return fmt.Sprintf("values of the type %q cannot be used", s.Type)
}

// writing returns forms as they are for a property that can only be written.
func writing(forms []Form) []Form {
	var all []Form
	for _, f := range forms {
		if len(f.Op) == 0 || slices.Contains(f.Op, OpWrite) {
			f.Op = Ops{OpWrite}
			all = append(all, f)
		}
	}
	return all
}

// kind returns the type of a data schema's values. Where it names none (§5.3.2.1: it may), what else it says tells it.
func (s schemaDocument) kind() string {
	text := func(e any) bool { _, is := e.(string); return is }
	number := func(e any) bool { _, is := e.(float64); return is }
	switch {
	case s.Type != "":
		return s.Type
	case len(s.Properties) > 0:
		return "object"
	case s.Minimum != nil || s.Maximum != nil || s.Multiple != 0:
		return "number"
	case len(s.Enum) > 0 && !slices.ContainsFunc(s.Enum, func(e any) bool { return !text(e) }):
		return "string"
	case len(s.Enum) > 0 && !slices.ContainsFunc(s.Enum, func(e any) bool { return !number(e) }):
		return "number"
	}
	return ""
}

// property makes a property of a data schema; it is false for what is no single value.
func (s schemaDocument) property(name, title string, writable bool, role Role) (Property, bool) {
	p := Property{Name: name, Title: title, Role: role, Help: s.Help, Unit: canonicalUnit(s.Unit), Writable: writable, Resolution: s.Multiple}
	if s.Minimum != nil && s.Maximum != nil && *s.Minimum < *s.Maximum {
		p.Minimum, p.Maximum = *s.Minimum, *s.Maximum
	}
	switch s.kind() {
	case "boolean":
		p.Type = TypeBoolean
	case "number", "integer":
		p.Type, p.Whole = TypeNumber, s.Type == "integer"
		if options := s.numbers(); len(options) > 0 {
			p.Type, p.Whole, p.Options, p.Resolution, p.Minimum, p.Maximum = TypeOption, false, options, 0, 0, 0
		}
	case "string":
		p.Type, p.MaxLength = TypeText, s.MaxLength
		for _, e := range s.Enum {
			if text, ok := e.(string); ok {
				p.Options = append(p.Options, text)
			}
		}
		if len(p.Options) > 0 {
			p.Type = TypeOption
		}
	case "object":
		if role != RoleColor {
			return p, false
		}
		p.Type = TypeColor
	default:
		return p, false
	}
	switch p.Role {
	case RoleOwn:
		p.Role = ""
	case "":
		p.Role = SuggestRole(name, p.Unit, p.Type)
	}
	meaning := MeaningOf(p.Role)
	if meaning.Unit != UnitNone && p.Unit != meaning.Unit {
		p.Role, meaning = "", RoleMeaning{}
	}
	if p.Resolution == 0 {
		p.Resolution = meaning.Resolution
	}
	if p.Whole {
		p.Resolution = max(1, math.Trunc(p.Resolution))
	}
	if p.Type == TypeNumber && p.Resolution == 0 {
		p.Resolution = 0.01
	}
	if p.Type == TypeBoolean && meaning.Words[1] != "" {
		p.Words = []string{meaning.Words[0], meaning.Words[1]}
	}
	return p, true
}

func (t *describer) actions() {
	for _, name := range slices.Sorted(maps.Keys(t.doc.Actions)) {
		a := t.doc.Actions[name]
		var inputs []string
		if a.Input != nil {
			inputs = append(slices.Collect(maps.Keys(a.Input.Properties)), SingleInput)
		}
		forms, reason := t.forms(a.Forms, inputs...)
		if reason != "" {
			t.cannot(name, reason)
			continue
		}
		action := Action{Name: name, Title: first(a.Title, name), Role: a.Role, Answers: a.Output != nil}
		if reason := t.inputs(&action, a.Input); reason != "" {
			t.cannot(name, reason)
			continue
		}
		t.d.Model.Description.Actions = append(t.d.Model.Description.Actions, action)
		t.d.Model.Forms["actions/"+name] = forms
	}
}

// inputs reads what an action can be given, or says why it cannot be given what it needs.
func (t *describer) inputs(action *Action, schema *schemaDocument) string {
	if schema == nil {
		return ""
	}
	if schema.kind() != "object" {
		p, ok := schema.property(SingleInput, first(schema.Title, action.Title), true, "")
		if !ok {
			return fmt.Sprintf("it takes a value of the type %q", schema.Type)
		}
		action.Single = true
		action.add(Input{Property: p, Required: true})
		t.d.Model.Natives["actions/"+action.Name+"/"+SingleInput] = schema.native("")
		return ""
	}
	for _, name := range slices.Sorted(maps.Keys(schema.Properties)) {
		part := schema.Properties[name]
		required := slices.Contains(schema.Required, name)
		p, ok := part.property(name, first(part.Title, name), true, "")
		if !ok && required {
			return fmt.Sprintf("it needs %s, whose type %q cannot be given", name, part.Type)
		}
		if !ok {
			t.cannot(action.Name+"/"+name, part.unusable())
		} else {
			action.add(Input{Property: p, Required: required})
			t.d.Model.Natives["actions/"+action.Name+"/"+name] = part.native("")
		}
	}
	return ""
}

func (t *describer) events() {
	for _, name := range slices.Sorted(maps.Keys(t.doc.Events)) {
		a := t.doc.Events[name]
		forms, reason := t.forms(a.Forms)
		if reason != "" {
			t.cannot(name, reason)
			continue
		}
		e := Event{Name: name, Title: first(a.Title, name), Role: a.Role}
		if a.Data != nil {
			e.Number = a.Data.kind() == "number" || a.Data.kind() == "integer"
			for _, option := range a.Data.Enum {
				if text, ok := option.(string); ok {
					e.Options = append(e.Options, text)
				}
			}
			if a.Data.kind() == "object" || a.Data.kind() == "array" {
				t.cannot(name+"/data", "that it happens is told, and not what it carries")
			}
		}
		if a.Layout != nil && a.Layout.Check() == nil {
			e.Layout = a.Layout
		}
		t.d.Model.Description.Events = append(t.d.Model.Description.Events, e)
		t.d.Model.Signals[name] = Signal{Field: whole}
		if forms[0].Scheme() == "tcp" {
			t.d.Model.Signals[name] = Signal{Field: name}
		}
		if a.Signal != nil && a.Signal.Field != "" {
			t.d.Model.Signals[name] = *a.Signal
		}
		t.d.Model.Forms["events/"+name] = forms
	}
}
