package hub

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"amvek/connect"
	"amvek/connect/webthing"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/hub/links"
)

// ProfileView is a profile in the catalogue.
type ProfileView struct {
	Model    string `json:"model"`
	Revision int    `json:"revision" doc:"Of the owner's own; 0 where there is none."`
	Title    string `json:"title"`
	Maker    string `json:"maker"`
	What     string `json:"what"`
	Shipped  bool   `json:"shipped" doc:"It comes with Amvek."`
	Own      bool   `json:"own" doc:"The owner's: imported, written, installed or changed."`
	// Changed says that the owner's is not as it was shipped.
	Changed bool `json:"changed" doc:"The owner's is not as it was shipped."`
	InUse   bool `json:"inUse" doc:"Devices of its model can be added."`
	// Devices is how many in the home are described by it.
	Devices int            `json:"devices"`
	Offers  []ProfileOffer `json:"offers" doc:"What it says that its devices offer."`
}

// ProfileOffer is something that devices of a profile offer, in words.
type ProfileOffer struct {
	// Kind is told for what is only read, and for events; set for what can be set; done for actions.
	Kind  string `json:"kind" enum:"told,set,done" doc:"Told is what is only read, and what happens; set what can be set; done what can be had done."`
	Title string `json:"title"`
	Text  string `json:"text,omitempty" doc:"Which values it can have."`
	Help  string `json:"help,omitempty" doc:"What it changes or means."`
}

func offers(d *thing.Description) []ProfileOffer {
	list := []ProfileOffer{}
	for _, p := range d.Properties {
		o := ProfileOffer{Kind: "told", Title: p.Title, Text: p.Values(), Help: p.Help}
		if p.Writable {
			o.Kind = "set"
		}
		list = append(list, o)
	}
	for _, e := range d.Events {
		gestures := make([]string, len(e.Options))
		for i, o := range e.Options {
			gestures[i] = thing.GestureWords(o)
		}
		list = append(list, ProfileOffer{Kind: "told", Title: e.Title, Text: strings.Join(gestures, ", ")})
	}
	for _, a := range d.Actions {
		list = append(list, ProfileOffer{Kind: "done", Title: a.Title})
	}
	return list
}

func (h *Hub) profileView(model string) ProfileView {
	shipped, isShipped := h.catalogue.Shipped(model)
	used := h.catalogue.Find(model)
	m := used
	if m == nil {
		m = shipped.Model
	}
	_, own := h.definitions.Profiles[docs.ProfileID(model)]
	v := ProfileView{
		Model: model, Revision: h.definitions.Profiles[docs.ProfileID(model)].Revision, Title: m.Title, Maker: m.Maker,
		What: m.What, Shipped: isShipped, Own: own, InUse: used != nil,
		Devices: len(h.devicesOf(model)), Offers: offers(&m.Description),
	}
	if kept := h.definitions.Profiles[docs.ProfileID(model)].Doc; kept != nil && isShipped {
		v.Changed = !sameJSON(kept.Document, shipped.Document)
	}
	return v
}

// devicesOf returns the devices of a model, by id. It runs in the loop.
func (h *Hub) devicesOf(model string) []string {
	var ids []string
	for _, id := range h.definitions.Devices.IDs() {
		if h.definitions.Devices[id].Doc.Model == model {
			ids = append(ids, id)
		}
	}
	return ids
}

// Profiles returns the catalogue.
func (h *Hub) Profiles(ctx context.Context) (views []ProfileView, err error) {
	views = []ProfileView{}
	err = h.do(ctx, func() {
		models := map[string]bool{}
		for _, model := range h.catalogue.AllShipped() {
			models[model] = true
		}
		for _, p := range h.definitions.Profiles {
			models[p.Doc.Model] = true
		}
		for _, model := range sortedKeys(models) {
			views = append(views, h.profileView(model))
		}
	})
	return views, err
}

// ProfileDocument returns a profile as it is written.
func (h *Hub) ProfileDocument(ctx context.Context, model string) (document string, err error) {
	failed := h.do(ctx, func() {
		shipped, isShipped := h.catalogue.Shipped(model)
		switch own := h.definitions.Profiles[docs.ProfileID(model)].Doc; {
		case own != nil:
			var pretty bytes.Buffer
			if err = json.Indent(&pretty, own.Document, "", "  "); err == nil {
				document = pretty.String() + "\n"
			}
		case isShipped:
			document = string(shipped.Document)
		default:
			err = Absent("There is no profile of that model.")
		}
	})
	return document, errors.Join(failed, err)
}

// ProfileCheck is what is to be said of a profile before it is saved.
type ProfileCheck struct {
	Problems []thing.DocumentProblem `json:"problems"`
	Model    string                  `json:"model,omitempty"`
	Title    string                  `json:"title,omitempty"`
	// Touches are the devices that it describes, and what uses them.
	Touches []docs.Use `json:"touches"`
	// Lost are properties, events and actions that such devices have now and would not have any more.
	Lost []string `json:"lost"`
}

// CheckProfile says what is wrong with a profile, and what saving it would touch.
func (h *Hub) CheckProfile(ctx context.Context, document string) (ProfileCheck, error) {
	check := ProfileCheck{Problems: []thing.DocumentProblem{}, Touches: []docs.Use{}, Lost: []string{}}
	model, err := thing.ParseModel([]byte(document))
	var wrong *thing.ProblemsError
	if errors.As(err, &wrong) {
		check.Problems = wrong.Problems
		return check, nil
	}
	if err != nil {
		return check, err
	}
	check.Model, check.Title = model.Model, model.Title
	return check, h.do(ctx, func() {
		seen := map[string]bool{}
		for _, id := range h.devicesOf(model.Model) {
			d := h.definitions.Device(id)
			check.Touches = append(check.Touches, docs.Use{Kind: docs.KindDevice, ID: id, Title: d.Title})
			for _, u := range h.definitions.UsedBy(id) {
				if !seen[u.ID] {
					seen[u.ID] = true
					check.Touches = append(check.Touches, u)
				}
			}
			if len(check.Lost) == 0 {
				check.Lost = append(check.Lost, missing(&d.Description, &model.Description)...)
			}
		}
	})
}

// missing returns the titles of what the second description lacks of the first.
func missing(of, in *thing.Description) []string {
	var lost []string
	for _, p := range of.Properties {
		if p.Without != nil {
			continue // the hub works it out of another
		}
		if now := in.Property(p.Name); now == nil || now.Type != p.Type {
			lost = append(lost, p.Title)
		}
	}
	for _, e := range of.Events {
		if in.Event(e.Name) == nil {
			lost = append(lost, e.Title)
		}
	}
	for _, a := range of.Actions {
		if in.Action(a.Name) == nil {
			lost = append(lost, a.Title)
		}
	}
	return lost
}

// SaveProfile takes a profile into use: new, or in place of one for the same model. Devices of its
// model are described by it from then on.
func (h *Hub) SaveProfile(ctx context.Context, document string) (string, error) {
	model, err := thing.ParseModel([]byte(document))
	if err != nil {
		var wrong *thing.ProblemsError
		if errors.As(err, &wrong) {
			p := wrong.Problems[0]
			return "", Invalid(fmt.Sprintf("line %d, column %d", p.Line, p.Column), fmt.Sprintf("Line %d: %s", p.Line, p.Message))
		}
		return "", err
	}
	doc := &docs.Profile{Title: model.Title, Model: model.Model, Document: json.RawMessage(document)}
	all := []New{{Kind: docs.KindProfile, ID: docs.ProfileID(model.Model), Document: doc}}
	return model.Model, h.useProfile(ctx, Together{Save: all}, model.Model, model)
}

// InstallProfile takes a shipped profile into use.
func (h *Hub) InstallProfile(ctx context.Context, model string) error {
	shipped, there := h.catalogue.Shipped(model)
	if !there {
		return Absent("The catalogue has no profile of that model.")
	}
	_, err := h.SaveProfile(ctx, string(shipped.Document))
	return err
}

// RemoveProfile takes the owner's own profile away; what was shipped comes back in its place.
func (h *Hub) RemoveProfile(ctx context.Context, model string) error {
	var used []string
	if err := h.do(ctx, func() { used = h.devicesOf(model) }); err != nil {
		return err
	}
	shipped, _ := h.catalogue.Shipped(model)
	var made string
	if err := h.do(ctx, func() {
		for _, id := range h.definitions.Things.IDs() {
			if doc := h.definitions.Things[id].Doc; doc.Profile == model {
				made = doc.Title
			}
		}
	}); err != nil {
		return err
	}
	if made != "" {
		return &ConflictError{fmt.Sprintf("%s was made of this profile; remove it from its connection first.", made)}
	}
	if len(used) > 0 && !shipped.Installed {
		return &ConflictError{fmt.Sprintf("%d devices in the home are described by this profile; remove them first.", len(used))}
	}
	var back *thing.Model
	if shipped.Installed {
		back = shipped.Model
	}
	return h.useProfile(ctx, Together{Remove: []Gone{{docs.KindProfile, docs.ProfileID(model)}}}, model, back)
}

// useProfile makes changes, describes the devices of a model anew, and lets the connections look
// their profiles up again.
func (h *Hub) useProfile(ctx context.Context, all Together, model string, profile *thing.Model) error {
	if err := h.do(ctx, func() {
		for _, id := range h.devicesOf(model) {
			if profile == nil {
				continue
			}
			all.Save = append(all.Save, New{Kind: docs.KindDevice, ID: id, Document: describedBy(h.definitions.Device(id), &profile.Description)})
		}
	}); err != nil {
		return err
	}
	if _, err := h.Commit(ctx, all); err != nil {
		return err
	}
	var links []*links.Link
	if err := h.do(ctx, func() {
		h.giveThings() // some may be made of this profile
		for _, l := range h.links {
			links = append(links, l)
		}
	}); err != nil {
		return err
	}
	for _, l := range links {
		if p, able := l.Connection.(connect.Profiled); able && l.Running() {
			p.Profiled()
		}
	}
	return nil
}

// Tried is what a device says when it is spoken with by a profile that is not saved yet.
type Tried struct {
	Readings []TriedReading `json:"readings"`
	Faults   []string       `json:"faults"`
	// Silent are properties of which it said nothing.
	Silent []string `json:"silent"`
}

// TriedReading is what a device says of one property or event.
type TriedReading struct {
	Name  string `json:"name"`
	Title string `json:"title"`
	Text  string `json:"text"`
}

// TryProfile speaks with a found device by a profile that is not saved yet.
func (h *Hub) TryProfile(ctx context.Context, document, connection, hardware string) (Tried, error) {
	tried := Tried{Readings: []TriedReading{}, Faults: []string{}, Silent: []string{}}
	model, err := thing.ParseModel([]byte(document))
	if err != nil {
		return tried, Invalid("document", connect.Sentence(err))
	}
	var l *links.Link
	if err := h.do(ctx, func() { l = h.links[connection] }); err != nil {
		return tried, err
	}
	if l == nil {
		return tried, Absent("There is no such connection.")
	}
	trier, able := l.Connection.(connect.Trier)
	if !able || !l.Running() {
		return tried, &ConflictError{"Over this connection a profile cannot be tried before it is saved."}
	}
	message, err := trier.Try(ctx, hardware, model)
	if err != nil {
		tried.Faults = append(tried.Faults, connect.Sentence(err))
		return tried, nil
	}
	said := map[string]bool{}
	err = model.Tell(message, func(name string, v thing.Value) {
		p := model.Description.Property(name)
		said[name] = true
		tried.Readings = append(tried.Readings, TriedReading{name, p.Title, p.Say(v)})
	}, func(name string, v thing.Value) {
		tried.Readings = append(tried.Readings, TriedReading{name, model.Description.Event(name).Title, v.String()})
	})
	if err != nil {
		tried.Faults = strings.Split(err.Error(), "\n")
	}
	for _, p := range model.Description.Properties {
		if !said[p.Name] {
			tried.Silent = append(tried.Silent, p.Title)
		}
	}
	return tried, nil
}

// Fetch reads a document, such as a profile, at an address. It follows no redirection to another host.
func (h *Hub) Fetch(ctx context.Context, address string) (string, error) {
	data, err := webthing.Fetch(ctx, address)
	if err != nil {
		return "", Invalid("address", connect.Sentence(err))
	}
	return string(data), nil
}

// sameJSON reports whether two documents say the same, however they are laid out.
func sameJSON(a, b []byte) bool {
	var x, y bytes.Buffer
	return json.Compact(&x, a) == nil && json.Compact(&y, b) == nil && bytes.Equal(x.Bytes(), y.Bytes())
}
