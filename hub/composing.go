package hub

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/url"
	"slices"
	"strings"
	"time"

	"amvek/connect"
	"amvek/connect/line"
	"amvek/connect/webthing"
	"amvek/core/thing"
	"amvek/hub/compose"
	"amvek/hub/docs"
)

// refused makes an answer of what is wrong with a device that is composed.
func refused(err error) error {
	var wrong *compose.Error
	if errors.As(err, &wrong) {
		return Invalid(wrong.Field, wrong.Message)
	}
	return err
}

// Compose makes a device of what the owner chose: a profile, which can be used again for others of
// its kind, and a device of that profile, which appears among the found ones. With a profile, the
// device is made of one that is there.
func (h *Hub) Compose(ctx context.Context, c compose.Composed) (ThingCheck, error) {
	if err := c.Check(); err != nil {
		return ThingCheck{}, refused(err)
	}
	switch {
	case c.Way() == compose.OverTopic && c.Connection == "":
		c.Connection = GatewaysID
	case c.Way() == compose.OverLine:
		c.Connection = NetworkID
	}
	if c.Profile != "" {
		return h.composeOf(ctx, c)
	}
	model := "made-" + strings.TrimPrefix(docs.NewID(docs.KindProfile), string(docs.KindProfile)+"-")
	document, err := writtenModel(c, model)
	if err != nil {
		return ThingCheck{}, err
	}
	if _, err := h.SaveProfile(ctx, string(document)); err != nil {
		return ThingCheck{}, err
	}
	check, err := h.makeThing(ctx, c, model, compose.PlaceOf(c))
	if err != nil {
		// Nothing half made is left behind.
		return check, errors.Join(err, h.RemoveProfile(ctx, model))
	}
	return check, nil
}

func writtenModel(c compose.Composed, model string) ([]byte, error) {
	document, err := compose.Model(c, model)
	if err != nil {
		return nil, refused(err)
	}
	return json.MarshalIndent(document, "", "  ")
}

// composeOf makes another device of a profile that was made before.
func (h *Hub) composeOf(ctx context.Context, c compose.Composed) (ThingCheck, error) {
	var profile *thing.Model
	if err := h.do(ctx, func() { profile = h.catalogue.Find(c.Profile) }); err != nil {
		return ThingCheck{}, err
	}
	if profile == nil {
		return ThingCheck{}, Invalid("profile", "There is no such profile.")
	}
	place, fits := compose.PlaceIn(profile, c)
	if !fits {
		return ThingCheck{}, Invalid("profile", "The profile "+profile.Title+" is not for such a topic or address.")
	}
	return h.makeThing(ctx, c, c.Profile, place)
}

func (h *Hub) makeThing(ctx context.Context, c compose.Composed, model, place string) (ThingCheck, error) {
	id := composedPrefix + strings.TrimPrefix(docs.NewID(docs.KindThing), string(docs.KindThing)+"-")
	if c.Key != "" {
		if at, err := url.Parse(c.Address); err == nil {
			if err := h.keepThingKey(ctx, at.Host, webthing.Key{User: c.User, Key: c.Key}); err != nil {
				return ThingCheck{}, err
			}
		}
	}
	return h.saveThing(ctx, id, &docs.Thing{Title: strings.TrimSpace(c.Title), Connection: c.Connection, Profile: model, Place: place, Hardware: id})
}

// composedPrefix is what the hardware of a device begins with that was made here.
const composedPrefix = "urn:amvek:composed:"

// fitting returns the profiles made before that read every one of their values out of what was heard. It runs in the loop.
func (h *Hub) fitting(c compose.Composed, fields []compose.Field) []compose.Fitting {
	fits := []compose.Fitting{}
	for _, id := range h.definitions.Profiles.IDs() {
		profile := h.catalogue.Find(h.definitions.Profiles[id].Doc.Model)
		if profile != nil && compose.Fits(profile, c, fields) {
			fits = append(fits, compose.Fitting{Model: profile.Model, Title: profile.Title})
		}
	}
	return fits
}

// LookAt says what is to be asked for a first look at a device that nothing describes.
type LookAt struct {
	Address string `json:"address" minLength:"1" maxLength:"2000" doc:"http://… or https://…, or host and port of a line."`
	// Read is how the address is asked, where that is not a plain GET.
	Read *compose.Sending `json:"read,omitempty"`
	// Line, Send and Seconds are of a line: how its messages are told apart, what is sent, and how long it is listened to.
	Line     *thing.Line       `json:"line,omitempty"`
	Send     []string          `json:"send,omitempty" maxItems:"20"`
	Seconds  float64           `json:"seconds,omitempty" minimum:"0" maximum:"30"`
	Security *compose.Security `json:"security,omitempty"`
	User     string            `json:"user,omitempty" maxLength:"200"`
	Key      string            `json:"key,omitempty" maxLength:"500"`
}

// Looked is what a first look found.
type Looked struct {
	// Wire is all that went over the wire, in order.
	Wire   []connect.Wire  `json:"wire"`
	Fields []compose.Field `json:"fields"`
	// Fits are profiles made before that fit it.
	Fits []compose.Fitting `json:"fits"`
	// Reason says why there was no answer.
	Reason string `json:"reason,omitempty"`
}

// Inspect asks a device that nothing describes, or listens to it, and finds the single values in what it says.
func (h *Hub) Inspect(ctx context.Context, at LookAt) (Looked, error) {
	c := compose.Composed{Address: at.Address, Read: at.Read, Line: at.Line, Security: at.Security, User: at.User, Key: at.Key}
	if err := c.CheckReach(); err != nil {
		return Looked{}, refused(err)
	}
	var l Looked
	var err error
	if c.Way() == compose.OverLine {
		l.Wire, l.Fields, err = h.inspectLine(ctx, c, at)
	} else {
		l.Wire, l.Fields, err = inspectAddress(ctx, c)
	}
	if err != nil {
		l.Reason = connect.Sentence(err)
	}
	if l.Wire == nil {
		l.Wire = []connect.Wire{}
	}
	return l, h.do(ctx, func() { l.Fits = h.fitting(c, l.Fields) })
}

const (
	shortestListening = 500 * time.Millisecond
	longestListening  = 30 * time.Second
)

func (h *Hub) inspectLine(ctx context.Context, c compose.Composed, at LookAt) ([]connect.Wire, []compose.Field, error) {
	fields := []compose.Field{}
	framing, messages, err := compose.Framing(c, at.Send)
	if err != nil {
		return nil, fields, err
	}
	listen := min(max(shortestListening, time.Duration(at.Seconds*float64(time.Second))), longestListening)
	wire, err := line.Hear(ctx, c.Address, framing, messages, listen)
	heard, asked := map[string]bool{}, ""
	for i, w := range wire {
		wire[i].Text = line.Shown(w.Text)
		if w.Sent {
			asked = wire[i].Text
			continue
		}
		if heard[w.Text] {
			continue
		}
		heard[w.Text] = true
		values := compose.InText(w.Text)
		if framing.JSON {
			values = compose.FieldsOf(w.Text)
		}
		for i := range values {
			values[i].Asked = asked
		}
		fields, asked = append(fields, values...), ""
	}
	return wire, fields, err
}

func inspectAddress(ctx context.Context, c compose.Composed) ([]connect.Wire, []compose.Field, error) {
	form := thing.Form{Href: c.Address}
	if r := c.Read; r != nil {
		form.Method, form.Headers, form.Body, form.ContentType = r.Method, r.Headers, r.Body, r.ContentType
	}
	security := thing.Security{Scheme: "nosec"}
	if s := c.Security; s != nil {
		security = thing.Security{Scheme: s.Scheme, In: s.In, Name: s.Name}
	}
	asked := webthing.Thing{User: c.User, Key: c.Key, Described: &thing.Described{Title: c.Address, Model: &thing.Model{}, Security: security}}
	wire, body, err := webthing.Inspect(ctx, asked, &form)
	if err != nil {
		return wire, []compose.Field{}, err
	}
	return wire, compose.InBody(string(body)), nil
}

// Trying is what is tried of a device before it is made: a value that is set, a command, or all that can be read.
type Trying struct {
	Composed compose.Composed `json:"composed"`
	// Field and Value are of what is set, Command of what is asked for; without either all is read.
	Field   *int `json:"field,omitempty"`
	Value   any  `json:"value,omitempty"`
	Command *int `json:"command,omitempty"`
}

// TriedOut is what came of trying.
type TriedOut struct {
	OK       bool           `json:"ok"`
	Reason   string         `json:"reason,omitempty"`
	Wire     []connect.Wire `json:"wire"`
	Readings []TriedReading `json:"readings"`
	Faults   []string       `json:"faults"`
}

// TryComposed speaks with a device as it would be spoken with if it was made now. Nothing is kept.
func (h *Hub) TryComposed(ctx context.Context, t Trying) (TriedOut, error) {
	out := TriedOut{Wire: []connect.Wire{}, Readings: []TriedReading{}, Faults: []string{}}
	c := t.Composed
	if c.Title == "" {
		c.Title = "Tried"
	}
	if err := c.Check(); err != nil {
		return out, refused(err)
	}
	if c.Way() == compose.OverTopic {
		return out, Invalid("composed.topic", "Over a broker a message is tried by publishing it.")
	}
	d, err := describedAs(c)
	if err != nil {
		return out, err
	}
	do, err := t.chosen(d)
	if err != nil {
		return out, err
	}
	heard := &heardOut{model: d.Model, out: &out}
	var outcome connect.Outcome
	if c.Way() == compose.OverLine {
		a := connect.Announcement{Hardware: d.ID, Label: c.Title, Address: d.At, Profile: d.Model}
		out.Wire, outcome = line.Exchange(
			ctx,
			a,
			heard,
			shortestListening,
			func(ctx context.Context, s *line.Session) connect.Outcome { return do(ctx, lineTrial{s}) },
		)
		for i := range out.Wire {
			out.Wire[i].Text = line.Shown(out.Wire[i].Text)
		}
	} else {
		one := webthing.Thing{Hardware: d.ID, Described: d, User: c.User, Key: c.Key}
		out.Wire, outcome = webthing.Exchange(ctx, one, heard, func(ctx context.Context, s *webthing.Trial) connect.Outcome { return do(ctx, s) })
	}
	out.OK, out.Reason = outcome.OK, outcome.Reason
	if reads := t.Command == nil && (t.Field == nil || len(out.Readings) > 0); out.OK && reads {
		heard.missed()
	}
	return out, nil
}

// describedAs describes a composed device as it would be if it was made.
func describedAs(c compose.Composed) (*thing.Described, error) {
	model, err := writtenModel(c, "tried")
	if err != nil {
		return nil, err
	}
	text, err := thing.Derive(model, "urn:amvek:tried", c.Title, map[string]string{thing.PlaceholderPlace: compose.PlaceOf(c)})
	if err != nil {
		return nil, Invalid("composed", connect.Sentence(err))
	}
	d, err := thing.ParseDescription(text, "")
	if err != nil {
		return nil, Invalid("composed", connect.Sentence(err))
	}
	if len(d.Unreachable) > 0 {
		return nil, Invalid("composed", fmt.Sprintf("%s cannot be used: %s.", d.Unreachable[0].Affordance, d.Unreachable[0].Reason))
	}
	return d, nil
}

// spokenWith is a device that is spoken with for once.
type spokenWith interface {
	Read(ctx context.Context) connect.Outcome
	Write(ctx context.Context, property string, value thing.Value) connect.Outcome
	Invoke(ctx context.Context, action string, given thing.Inputs) connect.Outcome
}

// lineTrial is a line that is read by what is asked whenever it is opened.
type lineTrial struct{ *line.Session }

func (t lineTrial) Read(ctx context.Context) connect.Outcome {
	if !t.Refresh(ctx) {
		return connect.Unreached("The device does not answer what it is asked.")
	}
	return connect.Outcome{OK: true}
}

// chosen returns what is to be done with the device.
func (t *Trying) chosen(d *thing.Described) (func(ctx context.Context, s spokenWith) connect.Outcome, error) {
	switch {
	case t.Command != nil:
		name := fmt.Sprintf("c%d", *t.Command+1)
		if d.Model.Description.Action(name) == nil {
			return nil, Invalid("command", "There is no such command.")
		}
		return func(ctx context.Context, s spokenWith) connect.Outcome { return s.Invoke(ctx, name, nil) }, nil
	case t.Field != nil:
		name, there := compose.NameOf(t.Composed, *t.Field)
		p := d.Model.Description.Property(name)
		if !there || p == nil || !p.Writable {
			return nil, Invalid("field", "There is no such value, or it is not set.")
		}
		data, err := json.Marshal(t.Value)
		var value thing.Value
		if err = errors.Join(err, json.Unmarshal(data, &value)); err != nil {
			return nil, Invalid("value", "This is no value.")
		}
		if err := p.Check(value); err != nil {
			return nil, Invalid("value", connect.Sentence(err))
		}
		return func(ctx context.Context, s spokenWith) connect.Outcome {
			outcome := s.Write(ctx, name, value)
			if outcome.OK && len(d.Model.Forms["properties/"+name]) > 1 {
				s.Read(ctx) // how it is now
			}
			return outcome
		}, nil
	}
	return func(ctx context.Context, s spokenWith) connect.Outcome { return s.Read(ctx) }, nil
}

// heardOut gathers what a device says while it is tried.
type heardOut struct {
	connect.Silence
	model *thing.Model
	out   *TriedOut
}

// Report implements [connect.Sink].
func (h *heardOut) Report(_, property string, value thing.Value) {
	p := h.model.Description.Property(property)
	for i := range h.out.Readings {
		if h.out.Readings[i].Name == property {
			h.out.Readings[i].Text = p.Say(value)
			return
		}
	}
	h.out.Readings = append(h.out.Readings, TriedReading{property, p.Title, p.Say(value)})
}

// Event implements [connect.Sink].
func (h *heardOut) Event(_, event string, value thing.Value) {
	h.out.Readings = append(h.out.Readings, TriedReading{event, h.model.Description.Event(event).Title, value.String()})
}

// missed tells of values that were asked for and are not in what the device said.
func (h *heardOut) missed() {
	for _, p := range h.model.Description.Properties {
		form := h.model.Form("properties/"+p.Name, thing.OpRead)
		if form == nil || (form.Scheme() == "tcp" && form.Query == "") { // told by the device when it likes
			continue
		}
		if !slices.ContainsFunc(h.out.Readings, func(r TriedReading) bool { return r.Name == p.Name }) && len(h.out.Faults) == 0 {
			h.out.Faults = append(h.out.Faults, p.Title+" was not found in what it says.")
		}
	}
}

// Fault implements [connect.Sink].
func (h *heardOut) Fault(reason string) { h.out.Faults = append(h.out.Faults, reason) }
