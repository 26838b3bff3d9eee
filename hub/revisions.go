package hub

import (
	"context"
	"errors"
	"fmt"
	"time"

	"amvek/core/home"
	"amvek/core/tell"
	"amvek/hub/docs"
	"amvek/store"
)

// RevisionView is a definition as it once was, and what became different with it.
type RevisionView struct {
	Revision int           `json:"revision"`
	At       time.Time     `json:"at"`
	Removed  bool          `json:"removed"`
	Title    string        `json:"title"`
	Changes  []tell.Change `json:"changes" doc:"The definition as it was then, with what became different with this revision."`
	// Unreadable says that its text cannot be read any more.
	Unreadable bool `json:"unreadable,omitempty" doc:"Its text cannot be read any more."`
}

const revisionsShown = 50

// Revisions returns the revisions of a definition, the newest first.
func (h *Hub) Revisions(ctx context.Context, kind docs.Kind, id string) ([]RevisionView, error) {
	traits, known := docs.Of(kind)
	if !known {
		return nil, Absent(fmt.Sprintf("There are no definitions of kind %q.", kind))
	}
	list, err := h.store.Revisions(ctx, string(kind), id, revisionsShown+1)
	if err != nil {
		return nil, fmt.Errorf("reading the revisions: %w", err)
	}
	if len(list) == 0 {
		return nil, Absent(fmt.Sprintf("There is no such %s.", kind))
	}
	documents := make([]any, len(list)) // nil where one cannot be read
	for i := range list {
		documents[i], _ = traits.Decode(list[i].Document)
	}
	views := []RevisionView{}
	err = h.do(ctx, func() {
		lines := make([][]tell.Line, len(list))
		for i, doc := range documents {
			if doc != nil {
				lines[i] = traits.Tell(doc, h.reader.Names())
			}
		}
		for i, r := range list[:min(len(list), revisionsShown)] {
			view := RevisionView{Revision: r.Revision, At: r.At, Removed: r.Removed, Unreadable: documents[i] == nil, Changes: []tell.Change{}}
			if !view.Unreadable {
				view.Title = traits.Title(documents[i])
				var before []tell.Line
				switch {
				case i+1 < len(list):
					before = lines[i+1]
				case r.Revision > 1:
					before = lines[i] // what was before is not looked at any more
				}
				view.Changes = tell.Compare(before, lines[i])
			}
			views = append(views, view)
		}
	})
	return views, err
}

// Revision returns a definition as it once was.
func (h *Hub) Revision(ctx context.Context, kind docs.Kind, id string, revision int) (any, error) {
	r, err := h.store.RevisionOf(ctx, string(kind), id, revision)
	if errors.Is(err, store.ErrAbsent) {
		return nil, Absent("There is no such revision.")
	}
	if err != nil {
		return nil, fmt.Errorf("reading a revision: %w", err)
	}
	doc, err := docs.Decode(kind, r.Document)
	if err != nil {
		return nil, &ConflictError{"It cannot be read any more: " + readable(err)}
	}
	return doc, nil
}

// TakeBack puts a definition to work as it once was, as a new revision.
func (h *Hub) TakeBack(ctx context.Context, kind docs.Kind, id string, revision int) error {
	then, err := h.Revision(ctx, kind, id, revision)
	if err != nil {
		return err
	}
	if own := effectsOf(kind).revert; own != nil {
		return own(ctx, h, id, then)
	}
	_, err = h.Replace(ctx, New{Kind: kind, ID: id, Document: then})
	return err
}

// revertDevice leaves the hardware as it is, which may be another than it was then.
func (h *Hub) revertDevice(ctx context.Context, id string, then *home.Device) error {
	view, err := h.Device(ctx, id)
	if err != nil {
		return err
	}
	now := view.Device
	doc := *then
	doc.Connection, doc.Address, doc.Hardware = now.Connection, now.Address, now.Hardware
	doc.Maker, doc.Model, doc.Description = now.Maker, now.Model, now.Description
	doc.FitLighting()
	_, err = h.Replace(ctx, New{Kind: docs.KindDevice, ID: id, Revision: view.Revision, Document: &doc})
	return err
}

// revertConnection lets the connection be opened anew; at another address its key is asked for.
func (h *Hub) revertConnection(ctx context.Context, id string, then *docs.Connection) error {
	edit := ConnectionEdit{Title: &then.Title, User: &then.User, Paused: &then.Paused}
	if then.Address != "" {
		edit.Address = &then.Address
	}
	return h.EditConnection(ctx, id, edit)
}

// revertProfile describes the devices of its model anew.
func (h *Hub) revertProfile(ctx context.Context, _ string, then *docs.Profile) error {
	_, err := h.SaveProfile(ctx, string(then.Document))
	return err
}
