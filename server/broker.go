package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amvek/hub"
	"amvek/hub/compose"
	"amvek/hub/links"
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
	operation(s, api, "messages", http.MethodGet, "/messages", "What went over all connections lately, the oldest first", func(ctx context.Context, in *struct {
		After      uint64 `query:"after" doc:"Only messages of greater numbers."`
		Connection string `query:"connection"`
		Device     string `query:"device" doc:"Only what became something of this device, or was sent to it."`
		Way        string `query:"way" enum:"in,out" doc:"Only what came in, or was sent."`
		Words      string `query:"words" maxLength:"200" doc:"Only those in which all of these words are."`
		Limit      int    `query:"limit" minimum:"1" maximum:"1000" default:"200"`
	}) (*body[hub.MessagesView], error) {
		return &body[hub.MessagesView]{s.hub.Messages(ctx, links.Wanted{
			After: in.After, Connection: in.Connection, Device: in.Device, Way: in.Way, Words: in.Words, Limit: in.Limit,
		})}, nil
	})
	operation(s, api, "say", http.MethodPost, "/connections/{id}/say", "Publish a message, to try what it does", func(ctx context.Context, in *struct {
		IDPath
		Body struct {
			Topic   string `json:"topic" minLength:"1" maxLength:"500"`
			Payload string `json:"payload" maxLength:"20000"`
		}
	}) (*none, error) {
		return &none{}, s.hub.SayByHand(ctx, in.ID, in.Body.Topic, in.Body.Payload, by(ctx))
	})
	operation(
		s,
		api,
		"look-at",
		http.MethodPost,
		"/composed/look",
		"Ask a device that nothing describes, or listen to it: what went over the wire, and the single values in it",
		func(ctx context.Context, in *struct{ Body hub.LookAt }) (*body[hub.Looked], error) {
			looked, err := s.hub.Inspect(ctx, in.Body)
			return &body[hub.Looked]{looked}, err
		},
	)
	operation(s, api, "try-composed", http.MethodPost, "/composed/try", "Speak with a device as it would be spoken with if it was made now; nothing is kept",
		func(ctx context.Context, in *struct{ Body hub.Trying }) (*body[hub.TriedOut], error) {
			tried, err := s.hub.TryComposed(ctx, in.Body)
			return &body[hub.TriedOut]{tried}, err
		})
	operation(s, api, "compose", http.MethodPost, "/composed", "Make a device of a topic, of an address that is asked over HTTP, or of a line of TCP",
		func(ctx context.Context, in *struct{ Body compose.Composed }) (*body[hub.ThingCheck], error) {
			check, err := s.hub.Compose(ctx, in.Body)
			return &body[hub.ThingCheck]{check}, err
		})
}
