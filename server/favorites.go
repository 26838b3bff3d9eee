package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/board"
	"amvek/core/cause"
	"amvek/hub"
)

// FavoritePath names something that is kept at hand.
type FavoritePath struct {
	Kind board.PickKind `path:"kind" enum:"device,scene,sequence,rule,dashboard,room"`
	IDPath
}

func (s *Server) registerFavorites(api huma.API) {
	get(s, api, "favorites", "/session/favorites", "What one keeps at hand, in one's order", func(ctx context.Context) ([]board.Pick, error) {
		return s.hub.Favorites(ctx, who(ctx).session.Person)
	})
	const path = "/session/favorites/{kind}/{id}"
	operation(s, api, "keep-at-hand", http.MethodPut, path, "Keep something at hand, or move it among what is", func(ctx context.Context, in *struct {
		FavoritePath
		At int `query:"at" minimum:"0" maximum:"1000" doc:"Where, counted from 0; at the end where there are not so many."`
	}) (*none, error) {
		person, err := favoring(ctx)
		if err != nil {
			return nil, err
		}
		return &none{}, s.hub.KeepAtHand(ctx, person, board.Pick{Kind: in.Kind, ID: in.ID}, in.At)
	})
	operation(s, api, "leave-from-hand", http.MethodDelete, path, "Keep something at hand no longer",
		func(ctx context.Context, in *FavoritePath) (*none, error) {
			person, err := favoring(ctx)
			if err != nil {
				return nil, err
			}
			return &none{}, s.hub.LeaveFromHand(ctx, person, board.Pick{Kind: in.Kind, ID: in.ID})
		})
}

// favoring returns whose favorites are changed.
func favoring(ctx context.Context) (person string, err error) {
	c := who(ctx)
	if c.By.Who != cause.Person {
		return "", &hub.ForbiddenError{Message: "Only people keep things at hand."}
	}
	return c.session.Person, nil
}
