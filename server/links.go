package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/link"
	"amvek/core/mirror"
	"amvek/hub/docs"
	"amvek/hub/views"
)

func (s *Server) registerLinks(api huma.API) {
	lists[views.LinkView](s, api, docs.KindLink, "links", "/links", "All links, with how they stand")
	documents[link.Link](s, api, docs.KindLink, "/links", "link")
	lists[views.MirrorView](s, api, docs.KindMirror, "mirrors", "/mirrors", "All mirrors, with how they stand")
	documents[mirror.Mirror](s, api, docs.KindMirror, "/mirrors", "mirror")
	operation(s, api, "link-samples", http.MethodGet, "/links/{id}/samples", "What went through a link lately", func(ctx context.Context, in *struct {
		IDPath
		After uint64 `query:"after" doc:"Only samples of greater numbers."`
	}) (*body[[]link.Sample], error) {
		samples, err := s.hub.Samples(ctx, in.ID, in.After)
		return &body[[]link.Sample]{samples}, err
	})
	operation(
		s,
		api,
		"try-stages",
		http.MethodPost,
		"/links/try",
		"What would have left each stage, had samples gone through them",
		func(ctx context.Context, in *struct {
			Body struct {
				Stages  []link.Stage  `json:"stages" maxItems:"32"`
				Samples []link.Sample `json:"samples" maxItems:"2000" doc:"What came in, the oldest first."`
				At      float64       `json:"at,omitempty" doc:"Where the targets are as it begins."`
			}
		}) (*body[[]link.Sample], error) {
			samples, err := s.hub.TryStages(ctx, in.Body.Stages, in.Body.Samples, in.Body.At)
			return &body[[]link.Sample]{samples}, err
		},
	)
}
