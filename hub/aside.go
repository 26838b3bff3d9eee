package hub

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"runtime"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"amvek/core/document"
	"amvek/core/engine"
	"amvek/hub/docs"
	"amvek/hub/show"
	"amvek/store"
)

// Aside is a definition that is there and not at work, since it cannot be read or stopped the hub. The rest of the home
// goes on without it, until its owner has mended or removed it.
type Aside struct {
	Kind     docs.Kind `json:"kind"`
	ID       string    `json:"id"`
	Title    string    `json:"title"`
	Revision int       `json:"revision"`
	Reason   string    `json:"reason"`
	At       time.Time `json:"at" doc:"When it was set aside."`
	Text     string    `json:"text" doc:"Its text, which may not be valid JSON."`
	// Earlier are the versions of it that can be read, the newest first.
	Earlier []EarlierVersion `json:"earlier"`
}

// EarlierVersion is a definition as it was.
type EarlierVersion struct {
	Revision int       `json:"revision"`
	At       time.Time `json:"at"`
}

type asideKey struct {
	kind docs.Kind
	id   string
}

// stateAside is the kind under which it is kept that a definition stopped the hub, so that the next start leaves it alone.
const stateAside = "aside"

// stopper is what is kept of it.
type stopper struct {
	Kind     docs.Kind `json:"kind"`
	ID       string    `json:"id"`
	Revision int       `json:"revision"`
	Reason   string    `json:"reason"`
	At       time.Time `json:"at"`
}

func asideOwner(kind docs.Kind, id string) string { return string(kind) + "/" + id }

// putToWork decodes and checks the definitions that the store has, and sets aside those that cannot be.
func (h *Hub) putToWork(ctx context.Context, all []store.Definition) {
	read := readAll(all)
	for i, d := range all {
		key := asideKey{docs.Kind(d.Kind), d.ID}
		doc, err := read[i].doc, read[i].err
		if stopped, is := h.stoppers[key]; err == nil && is && stopped.Revision == d.Revision {
			h.aside[key] = Aside{Kind: key.kind, ID: d.ID, Revision: d.Revision, Reason: stopped.Reason, At: stopped.At}
			continue
		}
		if err != nil {
			h.log.Error("a definition is set aside", "kind", d.Kind, "id", d.ID, "error", err)
			h.aside[key] = Aside{Kind: key.kind, ID: d.ID, Revision: d.Revision, Reason: readable(err), At: h.clock.Now()}
			h.callAsBefore(ctx, key)
			continue
		}
		h.definitions.Put(key.kind, d.ID, d.Revision, doc)
		if p, is := doc.(*docs.Profile); is {
			h.profilePut(d.ID, p)
		}
	}
}

// readDocument is a definition that the store has as it could be read.
type readDocument struct {
	doc any
	err error
}

// readAll decodes and checks definitions, on all of the machine's cores: a large home is to start soon.
func readAll(all []store.Definition) []readDocument {
	read := make([]readDocument, len(all))
	var next atomic.Int64
	var done sync.WaitGroup
	for range runtime.GOMAXPROCS(0) {
		done.Go(func() {
			for {
				i := int(next.Add(1)) - 1
				if i >= len(all) {
					return
				}
				doc, err := docs.Decode(docs.Kind(all[i].Kind), all[i].Document)
				if err == nil {
					err = document.Check(doc)
				}
				if err == nil {
					err = placed(wellFormed(docs.Kind(all[i].Kind), doc))
				}
				read[i] = readDocument{doc, err}
			}
		})
	}
	done.Wait()
	return read
}

// callAsBefore finds out how a definition that cannot be read was called when it could be.
func (h *Hub) callAsBefore(ctx context.Context, key asideKey) {
	kept, err := h.store.Revisions(ctx, string(key.kind), key.id, 50)
	if err != nil {
		return
	}
	for _, r := range kept {
		if doc, err := docs.Decode(key.kind, r.Document); err == nil && titleOf(key.kind, doc) != "" {
			h.titles[key.id] = titleOf(key.kind, doc)
			return
		}
	}
}

// readable says why a definition cannot be read.
func readable(err error) string {
	var syntax *json.SyntaxError
	var typed *json.UnmarshalTypeError
	var wrong *document.Error
	var invalid *InvalidError
	switch {
	case errors.As(err, &invalid):
		return "Its text does not fit: " + invalid.Message
	case errors.As(err, &syntax):
		return fmt.Sprintf("Its text is damaged: it is not valid JSON at character %d.", syntax.Offset)
	case errors.As(err, &typed):
		return fmt.Sprintf("Its text does not fit: %s cannot be %s.", strings.ReplaceAll(typed.Field, ".", "/"), jsonWord(typed.Value))
	case errors.As(err, &wrong):
		return "Its text does not fit: " + wrong.Error()
	default:
		return "It cannot be read: " + err.Error() + "."
	}
}

// jsonWord says a kind of JSON as people do.
func jsonWord(kind string) string {
	kind, _, _ = strings.Cut(kind, " ")
	switch kind {
	case "bool":
		return "yes or no"
	case "array":
		return "a list"
	case "string":
		return "a text"
	case "object":
		return "a group of values"
	default:
		return "a " + kind
	}
}

// setAside takes a definition out of the home because it stopped the hub. It is false where there is none to take out.
func (h *Hub) setAside(s engine.Suspect, reason string) bool {
	kind := docs.Kind(s.Kind)
	_, revision, there := h.definitions.Get(kind, s.ID)
	if !there || s.ID == docs.OwnID || kind == docs.KindHome {
		return false
	}
	key, now := asideKey{kind, s.ID}, h.clock.Now()
	h.definitions.Drop(kind, s.ID)
	h.aside[key] = Aside{Kind: kind, ID: s.ID, Revision: revision, Reason: reason, At: now}
	h.stoppers[key] = stopper{Kind: kind, ID: s.ID, Revision: revision, Reason: reason, At: now}
	if data, err := json.Marshal(h.stoppers[key]); err == nil {
		h.store.PutState(store.State{Kind: stateAside, Owner: asideOwner(kind, s.ID), JSON: data})
	}
	h.tellNeeds()
	return true
}

// back takes that a definition is at work again, or gone.
func (h *Hub) back(kind docs.Kind, id string) {
	key := asideKey{kind, id}
	if _, is := h.aside[key]; !is {
		return
	}
	delete(h.aside, key)
	if _, stopped := h.stoppers[key]; stopped {
		delete(h.stoppers, key)
		h.store.RemoveState(stateAside, asideOwner(kind, id))
	}
	h.tellNeeds()
}

// tellNeeds tells open browsers that what needs the owner changed.
func (h *Hub) tellNeeds() { h.shown.board.Touch(show.Key{Of: shownNeeds}) }

// SetAside returns all definitions that are set aside, with their texts.
func (h *Hub) SetAside(ctx context.Context) ([]Aside, error) {
	list := []Aside{}
	if err := h.do(ctx, func() {
		for _, a := range h.aside {
			a.Title = h.titles[a.ID]
			list = append(list, a)
		}
	}); err != nil {
		return nil, err
	}
	slices.SortFunc(list, func(a, b Aside) int { return cmp.Or(cmp.Compare(a.Title, b.Title), cmp.Compare(a.ID, b.ID)) })
	for i := range list {
		a := &list[i]
		kept, err := h.store.Revisions(ctx, string(a.Kind), a.ID, 50)
		if err != nil {
			return nil, err
		}
		current, err := h.store.Definition(ctx, string(a.Kind), a.ID)
		if err != nil {
			return nil, err
		}
		a.Text = pretty(current.Document)
		a.Earlier = []EarlierVersion{}
		for _, r := range kept {
			doc, err := docs.Decode(a.Kind, r.Document)
			if r.Removed || err != nil || document.Check(doc) != nil || bytes.Equal(r.Document, current.Document) {
				continue
			}
			a.Earlier = append(a.Earlier, EarlierVersion{Revision: r.Revision, At: r.At})
		}
	}
	return list, nil
}

func pretty(data []byte) string {
	var out bytes.Buffer
	if json.Indent(&out, data, "", "  ") != nil {
		return string(data)
	}
	return out.String()
}

// Mend saves a text in place of a definition that is set aside, and puts it to work.
func (h *Hub) Mend(ctx context.Context, kind docs.Kind, id, text string) error {
	if err := h.isAside(ctx, kind, id); err != nil {
		return err
	}
	doc, err := docs.Decode(kind, []byte(text))
	if err != nil {
		return Invalid("text", readable(err))
	}
	_, err = h.Save(ctx, New{Kind: kind, ID: id, Document: doc})
	return err
}

// MendFrom saves an earlier version in place of a definition that is set aside, and puts it to work.
func (h *Hub) MendFrom(ctx context.Context, kind docs.Kind, id string, revision int) error {
	r, err := h.store.RevisionOf(ctx, string(kind), id, revision)
	if errors.Is(err, store.ErrAbsent) {
		return Absent("There is no such version.")
	}
	if err != nil {
		return err
	}
	return h.Mend(ctx, kind, id, string(r.Document))
}

// RemoveAside removes a definition that is set aside.
func (h *Hub) RemoveAside(ctx context.Context, kind docs.Kind, id string) error {
	if err := h.isAside(ctx, kind, id); err != nil {
		return err
	}
	return h.Remove(ctx, kind, id)
}

func (h *Hub) isAside(ctx context.Context, kind docs.Kind, id string) error {
	is := false
	if err := h.do(ctx, func() { _, is = h.aside[asideKey{kind, id}] }); err != nil {
		return err
	}
	if !is {
		return Absent("Nothing of that name is set aside.")
	}
	return nil
}
