package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amvek/hub"
)

func (s *Server) registerBroker(api huma.API) {
	get(s, api, "broker", "/broker", "Where the hub's own broker is joined", func(context.Context) (hub.BrokerAt, error) { return s.hub.Broker() })
	get(s, api, "broker-clients", "/broker/clients", "Who may join the hub's own broker, and how each stands",
		func(ctx context.Context) ([]hub.BrokerClientView, error) { return s.hub.BrokerClients(ctx) })
	operation(s, api, "add-broker-client", http.MethodPost, "/broker/clients", "Let a client join the hub's own broker",
		func(ctx context.Context, in *struct{ Body hub.BrokerClient }) (*body[ClientKey], error) {
			key, err := s.hub.AddBrokerClient(ctx, in.Body)
			return &body[ClientKey]{ClientKey{key}}, err
		})
	operation(s, api, "remove-broker-client", http.MethodDelete, "/broker/clients/{name}", "Take a broker client's key away",
		func(ctx context.Context, in *struct {
			Name string `path:"name" maxLength:"80"`
		}) (*none, error) {
			return &none{}, s.hub.RemoveBrokerClient(ctx, in.Name)
		})
	operation(s, api, "watch-topics", http.MethodPost, "/connections/{id}/topics", "Listen to all topics of a broker for some minutes; what was heard so far",
		func(ctx context.Context, in *IDPath) (*body[[]hub.Topic], error) {
			topics, err := s.hub.Watch(ctx, in.ID)
			return &body[[]hub.Topic]{topics}, err
		})
	operation(s, api, "say", http.MethodPost, "/connections/{id}/say", "Publish a message, to try what it does", func(ctx context.Context, in *struct {
		IDPath
		Body struct {
			Topic   string `json:"topic" minLength:"1" maxLength:"500"`
			Payload string `json:"payload" maxLength:"20000"`
		}
	}) (*none, error) {
		return &none{}, s.hub.Say(ctx, in.ID, in.Body.Topic, in.Body.Payload)
	})
	operation(s, api, "fields-at", http.MethodPost, "/fields", "The single values in the JSON that an address returns", func(ctx context.Context, in *struct {
		Body struct {
			Address string `json:"address" minLength:"1" maxLength:"2000"`
		}
	}) (*body[hub.Answered], error) {
		answered, err := s.hub.FieldsAt(ctx, in.Body.Address)
		return &body[hub.Answered]{answered}, err
	})
	operation(s, api, "compose", http.MethodPost, "/composed", "Make a device of a topic, or of an address that returns JSON",
		func(ctx context.Context, in *struct{ Body hub.Composed }) (*body[hub.ThingCheck], error) {
			check, err := s.hub.Compose(ctx, in.Body)
			return &body[hub.ThingCheck]{check}, err
		})
}
