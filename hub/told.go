package hub

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"amvek/core/rule"
	"amvek/core/tell"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/store"
)

// names gives the names of what rules refer to, as they are now. It is used in the loop.
type names struct{ h *Hub }

func (n names) Title(id string) string { return n.h.titles[id] }
func (n names) Property(device, name string) *thing.Property {
	return n.h.engine.Property(device, name)
}
func (n names) Members(group, role string) []thing.Ref { return n.h.engine.Members(group, role) }

// told returns a rule as lines. It runs in the loop.
func (h *Hub) told(doc *rule.Rule) []tell.Line { return tell.Rule(doc, names{h}) }

// RevisionView is a rule as it once was, and what became different with it.
type RevisionView struct {
	Revision int           `json:"revision"`
	At       time.Time     `json:"at"`
	Removed  bool          `json:"removed"`
	Title    string        `json:"title"`
	Changes  []tell.Change `json:"changes" doc:"The rule as it was then, with what became different with this revision."`
	Enabled  bool          `json:"enabled"`
}

const revisionsShown = 50

// Revisions returns a rule's revisions, newest first.
func (h *Hub) Revisions(ctx context.Context, id string) ([]RevisionView, error) {
	list, err := h.store.Revisions(ctx, string(docs.KindRule), id, revisionsShown+1)
	if err != nil {
		return nil, fmt.Errorf("reading the revisions: %w", err)
	}
	if len(list) == 0 {
		return nil, Absent("There is no such rule.")
	}
	docs := make([]rule.Rule, len(list))
	for i := range list {
		if err := json.Unmarshal(list[i].Document, &docs[i]); err != nil {
			return nil, fmt.Errorf("reading a revision: %w", err)
		}
	}
	views := []RevisionView{}
	err = h.do(ctx, func() {
		for i, r := range list[:min(len(list), revisionsShown)] {
			var before []tell.Line
			if i+1 < len(list) {
				before = h.told(&docs[i+1])
			} else if r.Revision > 1 {
				before = h.told(&docs[i]) // what was before is not looked at any more
			}
			views = append(views, RevisionView{Revision: r.Revision, At: r.At, Removed: r.Removed, Title: docs[i].Title, Enabled: docs[i].Enabled, Changes: tell.Compare(before, h.told(&docs[i]))})
		}
	})
	return views, err
}

// Revision returns a rule as it once was.
func (h *Hub) Revision(ctx context.Context, id string, revision int) (rule.Rule, error) {
	var doc rule.Rule
	r, err := h.store.RevisionOf(ctx, string(docs.KindRule), id, revision)
	if errors.Is(err, store.ErrAbsent) {
		return doc, Absent("There is no such revision.")
	}
	if err != nil {
		return doc, fmt.Errorf("reading a revision: %w", err)
	}
	return doc, json.Unmarshal(r.Document, &doc)
}

// CompareRule returns how a document differs from what is live.
func (h *Hub) CompareRule(ctx context.Context, id string, doc *rule.Rule) (lines []tell.Change, err error) {
	err = Absent("There is no such rule.")
	failed := h.do(ctx, func() {
		if live := h.definitions.Rules[id].Doc; live != nil {
			lines, err = tell.Compare(h.told(live), h.told(doc)), nil
		}
	})
	return lines, errors.Join(failed, err)
}
