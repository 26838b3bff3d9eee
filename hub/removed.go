package hub

import (
	"context"
	"time"

	"amvek/hub/docs"
)

// mostRemoved is how many of the definitions that were removed are told.
const mostRemoved = 100

// RemovedView is a definition that was removed and can be brought back.
type RemovedView struct {
	Kind  docs.Kind `json:"kind"`
	ID    string    `json:"id"`
	Title string    `json:"title"`
	At    time.Time `json:"at" doc:"When it was removed."`
}

// Removed returns the definitions that were removed last, the latest first. One that cannot be read any more has no way back,
// and is left out.
func (h *Hub) Removed(ctx context.Context) ([]RemovedView, error) {
	views := []RemovedView{}
	all, err := h.store.LastRemoved(ctx, mostRemoved)
	if err != nil {
		return views, err
	}
	for _, r := range all {
		kind := docs.Kind(r.Kind)
		traits, known := docs.Of(kind)
		if !known {
			continue
		}
		if doc, err := traits.Decode(r.Document); err == nil {
			views = append(views, RemovedView{Kind: kind, ID: r.ID, Title: traits.Title(doc), At: r.At})
		}
	}
	return views, nil
}
