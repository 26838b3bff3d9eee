package hub

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"amvek/core/rule"
	"amvek/core/tell"
	"amvek/hub/docs"
	"amvek/hub/views"
	"amvek/store"
)

// Draft is a rule as somebody works on it, beside what is live. It may be half done.
type Draft struct {
	views.DraftNote
	Document any `json:"document"`
}

// maximumDraft bounds a draft, in bytes.
const maximumDraft = 1 << 20

func (h *Hub) loadDrafts(ctx context.Context) error {
	all, err := h.store.Drafts(ctx, string(docs.KindRule))
	if err != nil {
		return fmt.Errorf("reading the drafts: %w", err)
	}
	h.drafts = map[string]store.Draft{}
	for _, d := range all {
		h.drafts[d.ID] = d
	}
	return nil
}

// draftNote runs in the loop.
func (h *Hub) draftNote(id string) *views.DraftNote {
	if d, there := h.drafts[id]; there {
		return &views.DraftNote{Version: d.Version, Based: d.Based, At: d.At}
	}
	return nil
}

// Draft returns the draft of a rule; it is absent where there is none.
func (h *Hub) Draft(ctx context.Context, id string) (draft Draft, err error) {
	there := false
	err = h.do(ctx, func() {
		if d, is := h.drafts[id]; is {
			there = true
			draft = Draft{DraftNote: *h.draftNote(id), Document: json.RawMessage(d.Document)}
		}
	})
	if err == nil && !there {
		err = Absent("There is no draft of this rule.")
	}
	return draft, err
}

// SaveDraft keeps a draft of a rule that was made after a version, 0 for none, from a revision of the rule.
func (h *Hub) SaveDraft(ctx context.Context, id string, after, based int, document any) (views.DraftNote, error) {
	data, err := json.Marshal(document)
	if err != nil {
		return views.DraftNote{}, Invalid("document", err.Error())
	}
	var doc rule.Rule
	if err := json.Unmarshal(data, &doc); err != nil {
		return views.DraftNote{}, Invalid("document", err.Error())
	}
	if len(data) > maximumDraft {
		return views.DraftNote{}, Invalid("document", "A draft has at most 1 MB.")
	}
	parts, err := h.hide(&doc)
	if err != nil {
		return views.DraftNote{}, err
	}
	if len(parts) > 0 {
		if data, err = json.Marshal(&doc); err != nil {
			return views.DraftNote{}, Invalid("document", err.Error())
		}
	}
	return h.writeDraft(ctx, store.Draft{Kind: string(docs.KindRule), ID: id, Version: after, Based: based, Document: data}, parts)
}

// DropDraft discards the draft of a rule as it was at a version.
func (h *Hub) DropDraft(ctx context.Context, id string, after int) error {
	_, err := h.writeDraft(ctx, store.Draft{Kind: string(docs.KindRule), ID: id, Version: after}, nil)
	return err
}

func (h *Hub) writeDraft(ctx context.Context, d store.Draft, secrets map[string]string) (views.DraftNote, error) {
	there := false
	if err := h.do(ctx, func() { there = h.definitions.Rules[d.ID].Doc != nil }); err != nil {
		return views.DraftNote{}, err
	}
	if !there {
		return views.DraftNote{}, Absent("There is no such rule.")
	}
	d.At = h.clock.Now()
	h.drafting.Lock()
	defer h.drafting.Unlock()
	version, err := h.store.WriteDraft(ctx, d, secrets)
	if errors.Is(err, store.ErrRevision) {
		return views.DraftNote{}, &ConflictError{"The draft was changed meanwhile, perhaps in another window."}
	}
	if err != nil {
		return views.DraftNote{}, fmt.Errorf("keeping the draft: %w", err)
	}
	d.Version = version
	err = h.do(ctx, func() {
		if len(d.Document) == 0 {
			delete(h.drafts, d.ID)
		} else {
			h.drafts[d.ID] = d
		}
		h.touch(docs.KindRule, d.ID)
	})
	return views.DraftNote{Version: d.Version, Based: d.Based, At: d.At}, err
}

// CompareDraft returns how a document differs from the draft of a rule that another browser made.
func (h *Hub) CompareDraft(ctx context.Context, id string, doc *rule.Rule) (lines []tell.Change, err error) {
	err = Absent("There is no draft of this rule.")
	failed := h.do(ctx, func() {
		d, there := h.drafts[id]
		var theirs rule.Rule
		if there && json.Unmarshal(d.Document, &theirs) == nil {
			lines, err = tell.Compare(h.reader.Told(&theirs), h.reader.Told(doc)), nil
		}
	})
	return lines, errors.Join(failed, err)
}

// CompareRule returns how a document differs from what is live.
func (h *Hub) CompareRule(ctx context.Context, id string, doc *rule.Rule) (lines []tell.Change, err error) {
	err = Absent("There is no such rule.")
	failed := h.do(ctx, func() {
		if live := h.definitions.Rules[id].Doc; live != nil {
			lines, err = tell.Compare(h.reader.Told(live), h.reader.Told(doc)), nil
		}
	})
	return lines, errors.Join(failed, err)
}
