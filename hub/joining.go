package hub

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"amvek/core/document"
	"amvek/core/tell"
	"amvek/hub/docs"
	"amvek/store"
)

// Edit is an edit of a definition: from what it was when somebody began to edit it to what it is to be.
type Edit struct {
	Kind     docs.Kind
	ID       string
	From, To any
	// Prefer says whose change counts where somebody else changed the same meanwhile; without it that is asked.
	Prefer document.Side
}

// ClashError says that somebody else changed the same meanwhile, in another way. Nothing was saved.
type ClashError struct {
	// Places are where, such as targets/2/value.
	Places []string
	// Changes are the lines that are different: gone is what is there now, added what was to be saved.
	Changes []tell.Change
}

func (e *ClashError) Error() string {
	return "The same was changed in another window meanwhile. Nothing of it was overwritten."
}

// joinTries is how often an edit is joined with what is there when that changes while it is done.
const joinTries = 5

// SaveEdit saves an edit of a definition that others may have changed meanwhile: what touches different places is joined, and what
// touches the same is asked, with a [ClashError]. It returns the document as it was saved, and its revision.
func (h *Hub) SaveEdit(ctx context.Context, e Edit) (doc any, revision int, err error) {
	for range joinTries {
		if doc, revision, err = h.saveEdit(ctx, e); !errors.As(err, new(*ConflictError)) {
			break
		}
	}
	return doc, revision, err
}

func (h *Hub) saveEdit(ctx context.Context, e Edit) (doc any, revision int, err error) {
	current, err := h.store.Definition(ctx, string(e.Kind), e.ID)
	switch {
	case err == nil && current.Removed, errors.Is(err, store.ErrAbsent) && e.ID != docs.ModesID:
		return nil, 0, Absent(fmt.Sprintf("There is no such %s.", e.Kind))
	case errors.Is(err, store.ErrAbsent):
		_, err := h.Save(ctx, New{Kind: e.Kind, ID: e.ID, Document: e.To}) // the first of its own, instead of the usual ones
		return e.To, 1, err
	case err != nil:
		return nil, 0, err
	}
	now, err := docs.Decode(e.Kind, current.Document)
	if err != nil {
		return nil, 0, &ConflictError{"It cannot be changed: " + readable(err)}
	}
	doc, clashes, err := joined(e, now, e.Prefer)
	if err != nil {
		return nil, 0, err
	}
	if len(clashes) > 0 && e.Prefer == document.Neither {
		return nil, 0, h.clash(ctx, e, now, clashes)
	}
	if same(doc, now) {
		return now, current.Revision, nil
	}
	revision, err = h.Save(ctx, New{Kind: e.Kind, ID: e.ID, Revision: current.Revision, Document: doc})
	return doc, revision, err
}

// joined lays an edit over a document that is there now.
func joined(e Edit, now any, side document.Side) (doc any, clashes []string, err error) {
	var texts [3][]byte
	for i, d := range []any{e.From, e.To, now} {
		if texts[i], err = json.Marshal(d); err != nil {
			return nil, nil, err
		}
	}
	text, clashes, err := document.Join(texts[0], texts[1], texts[2], side)
	if err != nil {
		return nil, nil, err
	}
	doc, err = docs.Decode(e.Kind, text)
	return doc, clashes, err
}

// clash tells what two edits make of the places that both changed.
func (h *Hub) clash(ctx context.Context, e Edit, now any, places []string) error {
	theirs, _, err := joined(e, now, document.Theirs)
	if err != nil {
		return err
	}
	mine, _, err := joined(e, now, document.Mine)
	if err != nil {
		return err
	}
	traits, _ := docs.Of(e.Kind)
	clash := &ClashError{Places: places}
	if failed := h.do(ctx, func() {
		clash.Changes = tell.Compare(traits.Tell(theirs, h.reader.Names()), traits.Tell(mine, h.reader.Names()))
	}); failed != nil {
		return failed
	}
	return clash
}

func same(a, b any) bool {
	first, err := json.Marshal(a)
	if err != nil {
		return false
	}
	second, err := json.Marshal(b)
	return err == nil && string(first) == string(second)
}
