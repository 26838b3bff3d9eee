package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/cover"
	"amvek/core/engine"
	"amvek/core/thing"
)

func (s *Server) registerShutters(api huma.API) {
	const path = "/devices/{id}/properties/{property}/travel"
	operation(s, api, "measure-travel", http.MethodPost, path+"/measuring", "Measure how long a shutter takes from end to end",
		func(ctx context.Context, in *struct {
			PropertyPath
			Body struct {
				Verb string `json:"verb" enum:"learn,here,forget" doc:"Begin; say that it has just come to an end; or end the measuring."`
			}
		}) (*none, error) {
			return &none{}, s.hub.Act(ctx, engine.Input{Kind: engine.InputCover, Device: in.ID, Name: in.Property, Verb: in.Body.Verb, Doer: by(ctx)})
		})
	operation(s, api, "set-travel", http.MethodPut, path, "Say how long a shutter takes from end to end", func(ctx context.Context, in *struct {
		PropertyPath
		Body cover.Travel
	}) (*none, error) {
		return &none{}, s.hub.SetTravel(ctx, thing.Ref{Device: in.ID, Name: in.Property}, &in.Body)
	})
	operation(s, api, "forget-travel", http.MethodDelete, path, "Forget how long a shutter takes", func(ctx context.Context, in *PropertyPath) (*none, error) {
		return &none{}, s.hub.SetTravel(ctx, thing.Ref{Device: in.ID, Name: in.Property}, nil)
	})
}
