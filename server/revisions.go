package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amvek/hub"
	"amvek/hub/docs"
)

// DefinitionPath is the path to a definition of any kind.
type DefinitionPath struct {
	Kind docs.Kind `path:"kind" maxLength:"40"`
	ID   string    `path:"id" maxLength:"80"`
}

func (s *Server) registerRevisions(api huma.API) {
	get(s, api, "removed", "/removed", "What was removed last and can be brought back, the latest first",
		func(ctx context.Context) ([]hub.RemovedView, error) { return s.hub.Removed(ctx) })
	operation(s, api, "restore", http.MethodPost, "/definitions/{kind}/{id}/restore", "Bring back a definition that was removed",
		func(ctx context.Context, in *DefinitionPath) (*none, error) {
			return &none{}, s.hub.Restore(ctx, in.Kind, in.ID)
		})
	operation(s, api, "revisions", http.MethodGet, "/definitions/{kind}/{id}/revisions", "How a definition once was, the newest first",
		func(ctx context.Context, in *DefinitionPath) (*body[[]hub.RevisionView], error) {
			list, err := s.hub.Revisions(ctx, in.Kind, in.ID)
			return &body[[]hub.RevisionView]{list}, err
		})
	operation(s, api, "take-back", http.MethodPost, "/definitions/{kind}/{id}/revisions/{revision}/take-back", "Put a definition to work as it once was",
		func(ctx context.Context, in *struct {
			DefinitionPath
			Revision int `path:"revision" minimum:"1"`
		}) (*none, error) {
			return &none{}, s.hub.TakeBack(ctx, in.Kind, in.ID, in.Revision)
		})
}
