package server

import (
	"context"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/views"
)

func (s *Server) registerToday(api huma.API) {
	operation(s, api, "since", http.MethodGet, "/since", "What happened since somebody was here", func(ctx context.Context, in *struct {
		From time.Time `query:"from" doc:"When somebody was last here; absent for a day ago."`
	}) (*body[views.Since], error) {
		since, err := s.hub.Since(ctx, in.From)
		return &body[views.Since]{since}, err
	})
	operation(s, api, "lines", http.MethodGet, "/lines", "How readings went over the last hours, each in a few points", func(ctx context.Context, in *struct {
		Of     []string `query:"of,explode" maxItems:"200" doc:"Each as device~property."`
		Hours  int      `query:"hours" minimum:"1" maximum:"168" default:"6"`
		Points int      `query:"points" minimum:"2" maximum:"240" default:"24" doc:"How many points each has, at most."`
	}) (*body[[]hub.ReadingLine], error) {
		refs := make([]thing.Ref, len(in.Of))
		for i, of := range in.Of {
			refs[i].Device, refs[i].Name, _ = strings.Cut(of, "~")
			if !who(ctx).told("property", refs[i].Device, refs[i].Name) {
				return nil, &hub.ForbiddenError{Message: "This is not yours to see."}
			}
		}
		lines, err := s.hub.Lines(ctx, refs, time.Duration(in.Hours)*time.Hour, in.Points)
		return &body[[]hub.ReadingLine]{lines}, err
	})
}
