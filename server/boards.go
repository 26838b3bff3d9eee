package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/board"
	"amvek/hub"
	"amvek/hub/uploads"
)

// uploadsPath is where pictures are uploaded to.
const uploadsPath = "/uploads"

func (s *Server) registerBoards(api huma.API) {
	get(s, api, "controls", "/controls", "The kinds of control that a dashboard can have, with their options", func(context.Context) ([]board.ControlKind, error) {
		return board.Specs(), nil
	})
	operation(s, api, "draft-dashboard", http.MethodPost, "/dashboards/draft", "Lay out a dashboard of what was picked, a room, a floor or the house, without saving it",
		func(ctx context.Context, in *struct{ Body hub.DraftOf }) (*body[hub.Drafted], error) {
			d, err := s.hub.DraftDashboard(ctx, in.Body)
			if err != nil {
				return nil, err
			}
			return &body[hub.Drafted]{*d}, nil
		})
	s.registerFavorites(api)
	operation(s, api, "repoint", http.MethodPost, "/dashboards/repoint", "Point copies of controls to what is in another room, without saving them",
		func(ctx context.Context, in *struct{ Body hub.Repointing }) (*body[hub.Repointed], error) {
			r, err := s.hub.Repoint(ctx, in.Body)
			if err != nil {
				return nil, err
			}
			return &body[hub.Repointed]{*r}, nil
		})
	get(s, api, "uploads", uploadsPath, "The pictures that were uploaded for dashboards, the newest first", s.hub.Uploads)
	huma.Register(api, huma.Operation{
		OperationID: "upload", Method: http.MethodPost, Path: "/api" + uploadsPath, Summary: "Upload a picture for dashboards: PNG, JPEG, GIF or WebP",
		DefaultStatus: http.StatusOK, MaxBodyBytes: uploads.MaximumBytes, SkipValidateBody: true,
		RequestBody: &huma.RequestBody{Required: true, Content: map[string]*huma.MediaType{"image/*": {Schema: &huma.Schema{Type: "string", Format: "binary"}}}},
	}, func(ctx context.Context, in *struct{ RawBody []byte }) (*body[hub.Upload], error) {
		u, err := s.hub.TakeUpload(ctx, in.RawBody)
		if err != nil {
			return nil, s.problem(err)
		}
		return &body[hub.Upload]{*u}, nil
	})
	operation(s, api, "uploaded", http.MethodGet, uploadsPath+"/{id}", "A picture that was uploaded", func(ctx context.Context, in *IDPath) (*shown, error) {
		data, err := s.hub.UploadedPicture(ctx, in.ID)
		return &shown{ContentType: "image/jpeg", Policy: "default-src 'none'", Caching: "private, max-age=31536000, immutable", Body: data}, err
	})
	operation(s, api, "icons", http.MethodGet, "/icons", "The icons of the shipped set that words find, the best first", func(_ context.Context, in *struct {
		Words string `query:"words" maxLength:"80"`
	}) (*body[[]string], error) {
		return &body[[]string]{s.icons.find(in.Words)}, nil
	})
}
