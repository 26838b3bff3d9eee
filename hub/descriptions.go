package hub

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"amvek/connect"
	"amvek/connect/webthing"
	"amvek/hub/docs"
)

// GivenThing is a device whose description the owner gave, or made.
type GivenThing struct {
	ID         string `json:"id"`
	Revision   int    `json:"revision"`
	Title      string `json:"title"`
	Hardware   string `json:"hardware" doc:"The id in its description."`
	Connection string `json:"connection"`
	Source     string `json:"source,omitempty" doc:"The address at which its description was read."`
	Profile    string `json:"profile,omitempty" doc:"The model of the profile that its description is derived from."`
	Device     string `json:"device,omitempty" doc:"Its id when it is in the home."`
}

func (h *Hub) givenThing(id string) GivenThing {
	kept := h.definitions.Things[id]
	doc := kept.Doc
	g := GivenThing{
		ID:         id,
		Revision:   kept.Revision,
		Title:      doc.Title,
		Hardware:   doc.Hardware,
		Connection: doc.Connection,
		Source:     doc.Source,
		Profile:    doc.Profile,
	}
	if g.Connection == "" {
		g.Connection = ThingsID
	}
	if l := h.links[g.Connection]; l != nil {
		g.Device = l.Device(doc.Hardware)
	}
	return g
}

// GivenThings returns all descriptions that the owner gave or made.
func (h *Hub) GivenThings(ctx context.Context) (all []GivenThing, err error) {
	all = []GivenThing{}
	err = h.do(ctx, func() {
		for _, id := range h.definitions.Things.IDs() {
			all = append(all, h.givenThing(id))
		}
	})
	return all, err
}

// GivenDocument returns a Thing Description as it was given, or as it is derived from its profile.
func (h *Hub) GivenDocument(ctx context.Context, id string) (document string, err error) {
	failed := h.do(ctx, func() {
		doc := h.definitions.Things[id].Doc
		if doc == nil {
			err = Absent("There is no such description.")
			return
		}
		var text []byte
		var pretty bytes.Buffer
		if text, err = h.description(doc); err == nil {
			err = json.Indent(&pretty, text, "", "  ")
		}
		document = pretty.String() + "\n"
	})
	return document, errors.Join(failed, err)
}

// RemoveThing forgets a description that no device in the home needs; [Hub.Restore] brings it back.
func (h *Hub) RemoveThing(ctx context.Context, id string) error {
	var err error
	if failed := h.do(ctx, func() {
		switch {
		case h.definitions.Things[id].Doc == nil:
			err = Absent("There is no such description.")
		case h.givenThing(id).Device != "":
			err = &ConflictError{fmt.Sprintf("%s is in the home by this description; remove the device first.", h.reader.Title(h.givenThing(id).Device))}
		}
	}); failed != nil {
		return failed
	}
	if err != nil {
		return err
	}
	return h.Remove(ctx, docs.KindThing, id)
}

// ReadThing reads a description again at the address where it was read before, and takes what changed.
func (h *Hub) ReadThing(ctx context.Context, id string) (ThingCheck, error) {
	var doc *docs.Thing
	if err := h.do(ctx, func() { doc = h.definitions.Things[id].Doc }); err != nil {
		return ThingCheck{}, err
	}
	switch {
	case doc == nil:
		return ThingCheck{}, Absent("There is no such description.")
	case doc.Source == "":
		return ThingCheck{}, Invalid("id", "This description was not read at an address.")
	}
	source, err := h.reveal(ctx, doc.Source)
	if err != nil {
		return ThingCheck{}, &ConflictError{connect.Sentence(err)}
	}
	text, err := webthing.Fetch(ctx, source)
	if err != nil {
		return ThingCheck{}, &ConflictError{connect.Sentence(err)}
	}
	if check := h.CheckThing(string(text), source); len(check.Problems) == 0 && check.ID != doc.Hardware {
		return check, &ConflictError{fmt.Sprintf("Another device is described there now: %s, %s.", check.Title, check.ID)}
	}
	return h.AddThing(ctx, string(text), source)
}

// saveThing takes a device whose description is derived from a profile.
func (h *Hub) saveThing(ctx context.Context, id string, doc *docs.Thing) (ThingCheck, error) {
	var text []byte
	var err error
	if failed := h.do(ctx, func() { text, err = h.description(doc) }); failed != nil {
		return ThingCheck{}, failed
	}
	if err != nil {
		return ThingCheck{}, Invalid("profile", connect.Sentence(err))
	}
	check := h.CheckThing(string(text), "")
	if len(check.Problems) > 0 || len(check.Offers) == 0 {
		return check, Invalid("profile", "No device can be made of this profile.")
	}
	_, err = h.Save(ctx, New{Kind: docs.KindThing, ID: docs.ThingID(id), Document: doc})
	return check, err
}
