package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/engine"
	"amvek/core/light"
	"amvek/core/starting"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/hub/views"
)

func (s *Server) registerLights(api huma.API) {
	lists[views.LightView](s, api, docs.KindLight, "lights", "/lights", "The lights of all rooms, each as one thing")
	documents[light.RoomLight](s, api, docs.KindLight, "/lights", "light")
	lists[views.CurveView](s, api, docs.KindCurve, "curves", "/curves", "All day curves")
	documents[light.DayCurve](s, api, docs.KindCurve, "/curves", "curve")
	operation(s, api, "curve-day", http.MethodPost, "/curves/day", "What a day curve says on a day, be it saved or not",
		func(ctx context.Context, in *struct {
			Day  string `query:"day" maxLength:"10" doc:"Such as 2026-06-21; absent for today."`
			Body light.DayCurve
		}) (*body[views.CurveDay], error) {
			day, err := s.hub.CurveDay(ctx, in.Body, in.Day)
			return &body[views.CurveDay]{day}, err
		})
	operation(s, api, "effect-ahead", http.MethodPost, "/sequences/ahead", "What light that moves is going to do, before anything is sent",
		func(ctx context.Context, in *struct{ Body light.Effect }) (*body[hub.EffectAhead], error) {
			ahead, err := s.hub.EffectAhead(ctx, in.Body)
			return &body[hub.EffectAhead]{ahead}, err
		})
	get(s, api, "palettes", "/palettes", "Colors that go together, of which scenes can be made",
		func(context.Context) ([]hub.PaletteView, error) { return s.hub.Palettes(), nil })
	operation(s, api, "in-colors", http.MethodPost, "/scenes/colors", "Colors of a palette or a picture, spread over lamps as a scene's targets",
		func(ctx context.Context, in *struct{ Body hub.FromPalette }) (*body[hub.InColors], error) {
			made, err := s.hub.InColors(ctx, in.Body)
			return &body[hub.InColors]{made}, err
		})
	operation(s, api, "mix-scenes", http.MethodPost, "/scenes/mix", "Values between some and those of a scene, mixed evenly to the eye",
		func(ctx context.Context, in *struct{ Body hub.Mixing }) (*body[[]light.Target], error) {
			mixed, err := s.hub.MixScenes(ctx, in.Body)
			return &body[[]light.Target]{mixed}, err
		})
	operation(s, api, "light-by-itself", http.MethodPost, "/lights/{id}/by-itself", "Make the rule by which the light of a room comes while somebody is there",
		func(ctx context.Context, in *struct {
			IDPath
			Body starting.Presence
		}) (*body[Saved], error) {
			id, revision, err := s.hub.LightByItself(ctx, in.ID, in.Body)
			return &body[Saved]{Saved{id, revision}}, err
		})
	operation(s, api, "light-room", http.MethodPost, "/lights/{id}/do", "Do something with the light of a room", func(ctx context.Context, in *struct {
		IDPath
		Body struct {
			Verb  light.Verb  `json:"verb" enum:"off,on,follow,full,level,levelBy,white,whiteBy,color,next,nextOff,previous"`
			Value thing.Value `json:"value,omitzero" doc:"What goes with it: percent, kelvin, steps of white, or a color."`
		}
	}) (*none, error) {
		return &none{}, s.hub.Act(ctx, engine.Input{Kind: engine.InputLight, ID: in.ID, Verb: string(in.Body.Verb), Value: in.Body.Value, Doer: by(ctx)})
	})
}
