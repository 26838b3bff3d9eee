package hub

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"

	"amvek/core/document"
	"amvek/core/home"
	"amvek/hub/docs"
	"amvek/store"
)

// New is a definition to save.
type New struct {
	Kind docs.Kind
	ID   string
	// Revision is the one that was edited; 0 saves over whatever is there.
	Revision int
	Document any
}

// Save checks a definition, commits it as a new revision and puts it to work. It returns the revision.
func (h *Hub) Save(ctx context.Context, n New) (int, error) {
	revisions, err := h.SaveAll(ctx, []New{n})
	if err != nil {
		return 0, err
	}
	return revisions[0], nil
}

// SaveAll is Save for several, all or none.
func (h *Hub) SaveAll(ctx context.Context, all []New) ([]int, error) {
	return h.Commit(ctx, Together{Save: all})
}

// Gone is a definition that is to be removed.
type Gone struct {
	Kind docs.Kind
	ID   string
}

// Together is what is changed all or none: everything is checked before anything is written, and all is written at once.
type Together struct {
	Save   []New
	Remove []Gone
	// Secrets are keys and passwords, by name; an empty one is forgotten.
	Secrets map[string]string
}

// Commit makes changes together and puts them to work. It returns the revisions of what was saved.
func (h *Hub) Commit(ctx context.Context, t Together) ([]int, error) {
	h.saving.Lock()
	defer h.saving.Unlock()
	batch := store.Batch{Secrets: map[string]string{}}
	maps.Copy(batch.Secrets, t.Secrets)
	for _, n := range t.Save {
		if err := document.Check(n.Document); err != nil {
			return nil, placed(err)
		}
	}
	if err := h.checkTogether(ctx, t); err != nil {
		return nil, err
	}
	for _, n := range t.Save {
		parts, err := h.hide(n.Document)
		if err == nil {
			err = h.checkHidden(ctx, n.Document, parts)
		}
		if err != nil {
			return nil, err
		}
		maps.Copy(batch.Secrets, parts)
		data, err := json.Marshal(n.Document)
		if err != nil {
			return nil, err
		}
		if _, err := docs.Decode(n.Kind, data); err != nil {
			return nil, fmt.Errorf("what is to be saved could not be read again: %w", err)
		}
		batch.Changes = append(batch.Changes, store.Change{Kind: string(n.Kind), ID: n.ID, Revision: n.Revision, Document: data})
	}
	for _, g := range t.Remove {
		current, err := h.store.Definition(ctx, string(g.Kind), g.ID)
		if errors.Is(err, store.ErrAbsent) || (err == nil && current.Removed) {
			return nil, Absent(fmt.Sprintf("There is no such %s.", g.Kind))
		}
		if err != nil {
			return nil, err
		}
		batch.Changes = append(batch.Changes, store.Change{Kind: string(g.Kind), ID: g.ID, Document: current.Document, Removed: true})
	}
	revisions, err := h.store.WriteBatch(ctx, h.clock.Now(), batch)
	if errors.Is(err, store.ErrRevision) {
		return nil, &ConflictError{"It was changed meanwhile, perhaps in another window. Look at the newest version and try again."}
	}
	if err != nil {
		return nil, fmt.Errorf("saving: %w", err)
	}
	return revisions[:len(t.Save)], h.do(ctx, func() {
		for _, g := range t.Remove {
			h.back(g.Kind, g.ID)
			h.drop(g.Kind, g.ID)
		}
		for i, n := range t.Save {
			h.putSaved(n, revisions[i])
		}
	})
}

// checkTogether returns what keeps a change from being made, with all of it thought to be there: a device may be in a room that
// is made with it.
func (h *Hub) checkTogether(ctx context.Context, t Together) (err error) {
	failed := h.do(ctx, func() {
		type was struct {
			kind     docs.Kind
			id       string
			doc      any
			revision int
			there    bool
		}
		var before []was
		remember := func(kind docs.Kind, id string) {
			doc, revision, there := h.definitions.Get(kind, id)
			before = append(before, was{kind, id, doc, revision, there})
		}
		defer func() {
			for _, w := range slices.Backward(before) {
				if w.there {
					h.definitions.Put(w.kind, w.id, w.revision, w.doc)
				} else {
					h.definitions.Drop(w.kind, w.id)
				}
			}
		}()
		for _, n := range t.Save {
			if err = placed(wellFormed(n.Kind, n.Document)); err != nil {
				return
			}
		}
		for _, g := range t.Remove {
			remember(g.Kind, g.ID)
			h.definitions.Drop(g.Kind, g.ID)
		}
		for _, n := range t.Save {
			remember(n.Kind, n.ID)
			h.definitions.Put(n.Kind, n.ID, 0, n.Document)
		}
		for _, n := range t.Save {
			if err = h.check(n.Kind, n.ID, n.Document); err != nil {
				return
			}
		}
	})
	return errors.Join(failed, err)
}

// putSaved puts to work what was saved. It runs in the loop.
func (h *Hub) putSaved(n New, revision int) {
	reason := ""
	if n.Kind == docs.KindDevice && h.definitions.Device(n.ID) == nil {
		reason = "added"
		if h.added[n.ID].IsZero() {
			h.added[n.ID] = h.clock.Now()
		}
	}
	h.titles[n.ID] = titleOf(n.Kind, n.Document)
	h.back(n.Kind, n.ID)
	h.put(n.Kind, n.ID, revision, n.Document, reason)
}

// titleOf returns what a definition is called.
func titleOf(kind docs.Kind, doc any) string {
	traits, known := docs.Of(kind)
	if !known {
		return ""
	}
	return traits.Title(doc)
}

// Remove takes a definition away; Restore brings it back.
func (h *Hub) Remove(ctx context.Context, kind docs.Kind, id string) error {
	return h.removal(ctx, kind, id, true)
}

// Restore brings a removed definition back as it was.
func (h *Hub) Restore(ctx context.Context, kind docs.Kind, id string) error {
	return h.removal(ctx, kind, id, false)
}

func (h *Hub) removal(ctx context.Context, kind docs.Kind, id string, removed bool) error {
	h.saving.Lock()
	defer h.saving.Unlock()
	current, err := h.store.Definition(ctx, string(kind), id)
	if errors.Is(err, store.ErrAbsent) || (err == nil && current.Removed == removed) {
		return Absent(fmt.Sprintf("There is no such %s.", kind))
	}
	if err != nil {
		return err
	}
	doc, err := docs.Decode(kind, current.Document)
	if err != nil && !removed {
		return &ConflictError{"It cannot be brought back: " + readable(err)}
	}
	if removed {
		err = h.checkLeave(ctx, kind, id, doc)
	} else {
		err = h.checkRestore(ctx, id, doc)
	}
	if err != nil {
		return err
	}
	revisions, err := h.store.Write(ctx, h.clock.Now(), store.Change{Kind: string(kind), ID: id, Document: current.Document, Removed: removed})
	if err != nil {
		return fmt.Errorf("saving: %w", err)
	}
	return h.do(ctx, func() {
		h.back(kind, id)
		if removed {
			h.drop(kind, id)
			return
		}
		h.put(kind, id, revisions[0], doc, "restored")
		switch d := doc.(type) {
		case *home.Device:
			h.recall(d.Connection, d.Hardware)
		case *docs.Connection:
			h.openConnection(id)
			h.giveThings()
			h.touchFound()
		}
	})
}

// checkRestore refuses to bring back a device whose hardware was added again meanwhile.
// checkLeave returns what keeps a definition from being removed; one that cannot be read may go.
func (h *Hub) checkLeave(ctx context.Context, kind docs.Kind, id string, doc any) (err error) {
	keeps := effectsOf(kind).leave
	if keeps == nil || doc == nil {
		return nil
	}
	failed := h.do(ctx, func() { err = keeps(h, id, doc) })
	return errors.Join(failed, err)
}

func (h *Hub) checkRestore(ctx context.Context, id string, doc any) error {
	device, ok := doc.(*home.Device)
	if !ok {
		return nil
	}
	var err error
	failed := h.do(ctx, func() {
		for other, d := range h.definitions.Devices {
			if other != id && d.Doc.Connection == device.Connection && d.Doc.Hardware == device.Hardware {
				err = &ConflictError{fmt.Sprintf("The same hardware is in the home again, as %s.", d.Doc.Title)}
			}
		}
	})
	return errors.Join(failed, err)
}

// recall asks a connection to tell again what hardware last said, for devices that were just added.
func (h *Hub) recall(connection string, hardware ...string) {
	if l := h.links[connection]; l != nil && l.Running() {
		h.workers.Go(func() {
			for _, one := range hardware {
				l.Connection.Recall(h.context, one)
			}
		})
	}
}

// Replace is Save for a definition that must be there already.
func (h *Hub) Replace(ctx context.Context, n New) (int, error) {
	current, err := h.store.Definition(ctx, string(n.Kind), n.ID)
	if errors.Is(err, store.ErrAbsent) || (err == nil && current.Removed) {
		return 0, Absent(fmt.Sprintf("There is no such %s.", n.Kind))
	}
	if err != nil {
		return 0, err
	}
	return h.Save(ctx, n)
}
