package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amvek/hub/views"
)

func (s *Server) registerTrials(api huma.API) {
	const path = "/devices/{id}/trial"
	operation(s, api, "trial", http.MethodGet, path, "How the trying of a device stands", func(ctx context.Context, in *IDPath) (*body[views.TrialView], error) {
		view, err := s.hub.Trial(ctx, in.ID)
		return &body[views.TrialView]{view}, err
	})
	operation(s, api, "try-device", http.MethodPost, path, "Begin to try a device", func(ctx context.Context, in *IDPath) (*none, error) {
		return &none{}, s.hub.Try(ctx, in.ID)
	})
	operation(s, api, "answer-trial", http.MethodPost, path+"/answers", "Say what was seen", func(ctx context.Context, in *struct {
		IDPath
		Body struct {
			Step   string `json:"step" maxLength:"120"`
			Answer string `json:"answer" maxLength:"40"`
		}
	}) (*none, error) {
		return &none{}, s.hub.Answer(ctx, in.ID, in.Body.Step, in.Body.Answer)
	})
	operation(s, api, "end-trial", http.MethodDelete, path, "End the trying of a device", func(ctx context.Context, in *IDPath) (*none, error) {
		return &none{}, s.hub.EndTrial(ctx, in.ID)
	})
}
