package server

import (
	"context"
	"io"
	"net/http"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"amvek/hub"
	"amvek/hub/docs"
)

// written registers a reading whose answer, of a type, is written as it is: it was put into JSON as things changed.
func written[T any](s *Server, api huma.API, id, path, summary string, read func(context.Context) (func(io.Writer) error, error)) {
	schema := api.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[T](), true, "")
	huma.Register(api, huma.Operation{
		OperationID: id, Method: http.MethodGet, Path: "/api" + path, Summary: summary,
		Responses: map[string]*huma.Response{"200": {Description: "OK", Content: map[string]*huma.MediaType{"application/json": {Schema: schema}}}},
	}, func(ctx context.Context, _ *struct{}) (*huma.StreamResponse, error) {
		write, err := read(ctx)
		if err != nil {
			return nil, s.problem(err)
		}
		return &huma.StreamResponse{Body: func(c huma.Context) {
			c.SetHeader("Content-Type", "application/json")
			if err := write(c.BodyWriter()); err != nil {
				s.log.Debug("an answer could not be written", "error", err)
			}
		}}, nil
	})
}

// lists registers the reading of all definitions of a kind.
func lists[T any](s *Server, api huma.API, kind docs.Kind, id, path, summary string) {
	written[[]T](s, api, id, path, summary, func(ctx context.Context) (func(io.Writer) error, error) { return s.hub.List(ctx, kind) })
}

func (s *Server) registerShown(api huma.API) {
	written[hub.ShownHome](s, api, "shown", "/shown", "All that browsers are shown, as of a number",
		func(ctx context.Context) (func(io.Writer) error, error) {
			return s.hub.Shown(ctx, who(ctx).audience(nil))
		})
}
