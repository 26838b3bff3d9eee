package server

import (
	"context"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amvek/hub"
	"amvek/hub/links"
)

func (s *Server) registerFound(api huma.API) {
	get(s, api, "connections", "/connections", "All ways to devices", func(ctx context.Context) ([]links.ConnectionView, error) { return s.hub.Connections(ctx) })
	operation(s, api, "remove-connection", http.MethodDelete, "/connections/{id}", "Remove a connection and its key", func(ctx context.Context, in *struct {
		IDPath
		Devices bool `query:"devices" doc:"Remove the devices that use it, too."`
	}) (*none, error) {
		return &none{}, s.hub.RemoveConnection(ctx, in.ID, in.Devices)
	})
	operation(s, api, "connect", http.MethodPost, "/connections", "Connect to what answers at an address",
		func(ctx context.Context, in *struct{ Body hub.NewConnection }) (*body[Saved], error) {
			id, err := s.hub.Connect(ctx, in.Body)
			return &body[Saved]{Saved{id, 1}}, err
		})
	operation(s, api, "edit-connection", http.MethodPatch, "/connections/{id}", "Rename, re-address, re-key, pause or resume a connection",
		func(ctx context.Context, in *struct {
			IDPath
			Body hub.ConnectionEdit
		}) (*none, error) {
			return &none{}, s.hub.EditConnection(ctx, in.ID, in.Body)
		})
	operation(s, api, "test-connection", http.MethodPost, "/connections/{id}/test", "Prove whether a connection works",
		func(ctx context.Context, in *IDPath) (*body[hub.TestResult], error) {
			result, err := s.hub.TestConnection(ctx, in.ID)
			return &body[hub.TestResult]{result}, err
		})
	operation(
		s,
		api,
		"join",
		http.MethodPost,
		"/connections/{id}/join",
		"Let new devices join a radio gateway for a while",
		func(ctx context.Context, in *struct {
			IDPath
			Body struct {
				Gateway string `json:"gateway" maxLength:"80"`
				Seconds int    `json:"seconds" doc:"For how long, up to 180; 0 shuts it now."`
			}
		}) (*none, error) {
			return &none{}, s.hub.Join(ctx, in.ID, in.Body.Gateway, time.Duration(in.Body.Seconds)*time.Second)
		},
	)
	get(s, api, "found", "/found", "What announced itself", func(ctx context.Context) (hub.Found, error) { return s.hub.Found(ctx) })
	operation(s, api, "look", http.MethodPost, "/found/look", "Look for devices and boxes, also at an address", func(ctx context.Context, in *struct {
		Body struct {
			Address string `json:"address,omitempty" maxLength:"255" doc:"Host and port."`
		}
	}) (*none, error) {
		return &none{}, s.hub.Look(ctx, in.Body.Address)
	})
	operation(s, api, "identify-found", http.MethodPost, "/found/identify", "Ask a found device to blink or click", func(ctx context.Context, in *struct {
		Body struct {
			Connection string `json:"connection"`
			Hardware   string `json:"hardware"`
		}
	}) (*none, error) {
		return &none{}, s.hub.IdentifyFound(ctx, in.Body.Connection, in.Body.Hardware)
	})
	operation(s, api, "propose-names", http.MethodPost, "/found/names", "Propose names by the owner's pattern",
		func(ctx context.Context, in *struct{ Body []hub.Adding }) (*body[[]hub.Proposal], error) {
			proposals, err := s.hub.Propose(ctx, in.Body)
			return &body[[]hub.Proposal]{proposals}, err
		})
	operation(s, api, "add-devices", http.MethodPost, "/devices", "Take found devices into the home",
		func(ctx context.Context, in *struct{ Body []hub.Adding }) (*body[[]string], error) {
			ids, err := s.hub.Add(ctx, in.Body)
			return &body[[]string]{ids}, err
		})
	operation(s, api, "pair", http.MethodPost, "/pairing", "Begin pairing with a bridge", func(ctx context.Context, in *struct {
		Body struct {
			Address string `json:"address" minLength:"1" maxLength:"255"`
		}
	}) (*body[hub.Pairing], error) {
		pairing, err := s.hub.Pair(ctx, in.Body.Address)
		return &body[hub.Pairing]{pairing}, err
	})
	get(s, api, "pairing", "/pairing", "How the last pairing stands; null when there was none",
		func(ctx context.Context) (*hub.Pairing, error) { return s.hub.Pairing(ctx) })
	operation(s, api, "cancel-pairing", http.MethodDelete, "/pairing", "Stop waiting for the bridge's button",
		func(ctx context.Context, _ *struct{}) (*none, error) {
			return &none{}, s.hub.CancelPairing(ctx)
		})
}
