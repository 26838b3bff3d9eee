package thing

import (
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"net/url"
	"slices"
	"strings"

	"amvek/core/address"
)

// Unreachable is an affordance of a Thing Description that cannot be used, and why.
type Unreachable struct {
	Affordance string `json:"affordance"`
	Reason     string `json:"reason"`
}

// Security is how a Thing wants to be asked (W3C Thing Description 1.1 §5.3.3).
type Security struct {
	// Scheme is nosec, basic, digest, bearer, apikey or oauth2.
	Scheme string
	// In and Name say where an API key stands: header or query, and its name.
	In, Name string
	// Flow of oauth2 is client, by which the hub gets a token at Token for its id and secret (RFC 6749 §4.4), for the Scopes.
	Flow, Token string
	Scopes      string
}

// Described is a device as its own Thing Description tells of it.
type Described struct {
	ID       string
	Title    string
	Model    *Model
	Security Security
	// Version is that of the very thing (TD 1.1 §5.3.1.4, VersionInfo), empty where it does not say.
	Version string
	// Messages says that its forms are for MQTT, so that a broker is needed to reach it.
	Messages bool
	// Broker is the host and port of the broker that its forms name, empty where they name none in particular.
	Broker string
	// At is the host and port that it is reached at by a line of TCP, empty where it has none.
	At string
	// Unreachable is what it offers that cannot be used.
	Unreachable []Unreachable
}

type versionInfo struct {
	Instance string `json:"instance"`
}

type thingDocument struct {
	Context             json.RawMessage               `json:"@context"`
	ID                  string                        `json:"id"`
	Title               string                        `json:"title"`
	Titles              map[string]string             `json:"titles"`
	Model               string                        `json:"amvek:model"`
	Line                *Line                         `json:"amvek:line"`
	Version             versionInfo                   `json:"version"`
	Base                string                        `json:"base"`
	Security            any                           `json:"security"`
	SecurityDefinitions map[string]securityDocument   `json:"securityDefinitions"`
	Properties          map[string]interactionElement `json:"properties"`
	Actions             map[string]interactionElement `json:"actions"`
	Events              map[string]interactionElement `json:"events"`
}

type securityDocument struct {
	Scheme string `json:"scheme"`
	In     string `json:"in"`
	Name   string `json:"name"`
	Flow   string `json:"flow"`
	Token  string `json:"token"`
	// Scopes is one or a list of them.
	Scopes any `json:"scopes"`
}

type interactionElement struct {
	schemaDocument
	ReadOnly  bool            `json:"readOnly"`
	WriteOnly bool            `json:"writeOnly"`
	Role      Role            `json:"amvek:role"`
	Native    *Native         `json:"amvek:native"`
	Signal    *Signal         `json:"amvek:signal"`
	Layout    *Layout         `json:"amvek:layout"`
	Forms     []securedForm   `json:"forms"`
	Data      *schemaDocument `json:"data"`
	Input     *schemaDocument `json:"input"`
	Output    *schemaDocument `json:"output"`
}

// securedForm is a form that may want other security than its thing (§5.3.4.2).
type securedForm struct {
	Form
	Security any `json:"security"`
}

type schemaDocument struct {
	Title      string                    `json:"title"`
	Help       string                    `json:"description"`
	Type       string                    `json:"type"`
	Unit       string                    `json:"unit"`
	Minimum    *float64                  `json:"minimum"`
	Maximum    *float64                  `json:"maximum"`
	Multiple   float64                   `json:"multipleOf"`
	MaxLength  int                       `json:"maxLength"`
	Enum       []any                     `json:"enum"`
	Properties map[string]schemaDocument `json:"properties"`
	Required   []string                  `json:"required"`
}

// contexts are those of the versions that are read.
var contexts = []string{"https://www.w3.org/2022/wot/td/v1.1", "https://www.w3.org/2019/wot/td/v1", "http://www.w3.org/ns/td"}

// Reachable are the schemes of forms that a connection can use.
var Reachable = []string{"http", "https"}

// ParseDescription reads a Thing Description, version 1.0 or 1.1. Source is the address it was read
// at, against which relative forms are resolved where it names no base; it may be empty. What is
// wrong with the whole comes back as a [ProblemsError]; what is wrong with one affordance only makes
// that one unreachable.
func ParseDescription(data []byte, source string) (*Described, error) {
	if p := checkJSON(data); p != nil {
		return nil, &ProblemsError{[]DocumentProblem{*p}}
	}
	r := &modelReader{data: data}
	var doc thingDocument
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
	if !slices.ContainsFunc(contexts, func(c string) bool { return strings.Contains(string(doc.Context), `"`+c+`"`) }) {
		r.say("/@context", "This is no Thing Description of version 1.0 or 1.1: its \"@context\" names neither.")
	}
	if doc.Title == "" && len(doc.Titles) > 0 {
		doc.Title = doc.Titles[slices.Sorted(maps.Keys(doc.Titles))[0]]
	}
	if doc.Title == "" {
		r.say("/title", `A "title" is needed.`)
	}
	if len(r.problems) > 0 {
		return nil, &ProblemsError{r.problems}
	}
	d := &Described{ID: doc.ID, Title: doc.Title, Model: newModel(doc.Title)}
	if d.ID == "" && !keyed(source) {
		d.ID = source // else it is named below: nobody is told a key by the name of a device
	}
	d.Model.What, d.Model.Model, d.Model.Line, d.Version = "device", doc.Model, doc.Line, doc.Version.Instance
	security, problem := doc.security(doc.Security)
	d.Security = security
	if problem != "" {
		d.Security = Security{Scheme: "nosec"} // for forms that have their own
	}
	t := &describer{d: d, doc: &doc, base: first(doc.Base, source), broken: problem}
	t.properties()
	t.actions()
	t.events()
	if of := d.Model.Description; r.tooMany(len(of.Properties) + len(of.Actions) + len(of.Events)) {
		return nil, &ProblemsError{r.problems}
	}
	if r.checkLine(d.Model); len(r.problems) > 0 {
		return nil, &ProblemsError{r.problems}
	}
	if d.ID == "" {
		d.ID = d.named()
	}
	for _, forms := range d.Model.Forms {
		for i := range forms {
			d.Messages = d.Messages || strings.HasPrefix(forms[i].Scheme(), "mqtt")
		}
	}
	return d, nil
}

// keyed reports whether an address carries something that gives access.
func keyed(source string) bool {
	hidden, err := address.Hide(source, func(address.Part) string { return "" })
	return err != nil || hidden != source
}

// named is the identity of a thing that has no id and was read from no address (§5.3.1.1: an id is optional): a hash of its
// title and of where it is reached (RFC 6920), so that it is the same when its description is given again.
func (d *Described) named() string {
	places := []string{}
	for _, forms := range d.Model.Forms {
		for _, f := range forms {
			places = append(places, f.Href+" "+f.Topic+" "+f.Filter)
		}
	}
	slices.Sort(places)
	sum := sha256.Sum256([]byte(d.Title + "\n" + strings.Join(slices.Compact(places), "\n")))
	return "ni:///sha-256;" + base64.RawURLEncoding.EncodeToString(sum[:])
}

func first(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

// textsOf returns what may be one text or a list of them.
func textsOf(one any) (list []string) {
	switch n := one.(type) {
	case string:
		return []string{n}
	case []any:
		for _, x := range n {
			if s, ok := x.(string); ok {
				list = append(list, s)
			}
		}
	}
	return list
}

// security resolves the names of security definitions; the problem says why none can be used.
func (doc *thingDocument) security(names any) (Security, string) {
	list := textsOf(names)
	if len(list) == 0 {
		return Security{Scheme: "nosec"}, ""
	}
	if len(list) > 1 {
		return Security{}, "it wants several kinds of security at once"
	}
	definition, there := doc.SecurityDefinitions[list[0]]
	if !there {
		return Security{}, fmt.Sprintf("its security %q is not defined", list[0])
	}
	s := Security{
		Scheme: definition.Scheme,
		In:     definition.In,
		Name:   definition.Name,
		Flow:   definition.Flow,
		Token:  definition.Token,
		Scopes: strings.Join(textsOf(definition.Scopes), " "),
	}
	switch {
	case s.Scheme == "nosec" || s.Scheme == "basic" || s.Scheme == "digest" || s.Scheme == "bearer":
		return s, ""
	case s.Scheme == "oauth2" && (s.Flow == "client" || s.Flow == "client_credentials"):
		if at, err := url.Parse(s.Token); err != nil || (at.Scheme != "https" && at.Scheme != "http") || at.Host == "" {
			return Security{}, "it does not say where a token is got"
		}
		return s, ""
	case s.Scheme == "oauth2":
		return Security{}, fmt.Sprintf("the flow %q of its security is not supported, only client", s.Flow)
	case s.Scheme == "apikey" && s.Name != "" && (s.In == "header" || s.In == "query" || s.In == ""):
		return s, ""
	}
	return Security{}, fmt.Sprintf("its security %q is not supported", definition.Scheme)
}

// canonicalUnit takes the ways in which units are written for our own; others stay as they are.
func canonicalUnit(unit string) Unit {
	switch strings.ToLower(strings.TrimSpace(unit)) {
	case "":
		return UnitNone
	case "%", "percent", "percentage":
		return UnitPercent
	case "°c", "c", "cel", "celsius", "degree celsius", "degreecelsius", "om:degree_celsius", "degc":
		return UnitCelsius
	case "k", "kelvin":
		return UnitKelvin
	case "lx", "lux":
		return UnitLux
	case "w", "watt":
		return UnitWatt
	case "kwh":
		return UnitKilowattHour
	case "cm", "centimeter":
		return UnitCentimeter
	}
	return Unit(unit)
}

// SuggestRole guesses what a value means from its name, unit and type; "" when nothing is near.
func SuggestRole(name string, unit Unit, kind Type) Role {
	words := strings.ToLower(name)
	has := func(parts ...string) bool {
		return slices.ContainsFunc(parts, func(p string) bool { return strings.Contains(words, p) })
	}
	switch {
	case kind == TypeBoolean && has("motion", "presence", "occup", "movement"):
		return RoleMotion
	case kind == TypeBoolean && has("leak", "water"):
		return RoleLeak
	case kind == TypeBoolean && has("lock"):
		return RoleLock
	case kind == TypeBoolean && has("contact", "door", "window", "open"):
		return RoleContact
	case kind == TypeBoolean && has("power", "on", "relay", "switch", "state"):
		return RolePower
	case kind != TypeNumber:
		return ""
	case has("setpoint", "target") && (unit == UnitCelsius || unit == UnitNone):
		return RoleSetpoint
	case has("batt"):
		return RoleBattery
	case has("temp") || unit == UnitCelsius:
		return RoleTemperature
	case has("humid", "rh"):
		return RoleHumidity
	case has("lux", "illum") || unit == UnitLux:
		return RoleIlluminance
	case has("bright", "dim"):
		return RoleBrightness
	case has("volume"):
		return RoleVolume
	case has("tilt", "slat") && unit == UnitPercent:
		return RoleTilt
	case has("position") && unit == UnitPercent:
		return RolePosition
	case has("watt", "power") || unit == UnitWatt:
		return RoleEnergyPower
	case has("energy", "kwh") || unit == UnitKilowattHour:
		return RoleEnergy
	}
	return ""
}
