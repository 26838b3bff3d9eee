package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amvek/hub"
	"amvek/hub/docs"
)

// ProfileText is a profile as it is written.
type ProfileText struct {
	Document string `json:"document" doc:"A Thing Model (W3C Thing Description 1.1 §10) as JSON text."`
}

// ThingText is a Thing Description as it is written.
type ThingText struct {
	Document string `json:"document" doc:"A Thing Description (W3C, version 1.0 or 1.1) as JSON text."`
	Source   string `json:"source,omitempty" maxLength:"2000" doc:"The address at which it was read."`
}

// ClientKey is a key that is shown this once.
type ClientKey struct {
	Key string `json:"key" doc:"Give it as a bearer token. It is not shown again."`
}

// ModelPath names a profile by its model.
type ModelPath struct {
	Model string `path:"model" maxLength:"120"`
}

func (s *Server) registerProfiles(api huma.API) {
	get(s, api, "profiles", "/profiles", "The catalogue of profiles", func(ctx context.Context) ([]hub.ProfileView, error) { return s.hub.Profiles(ctx) })
	operation(s, api, "profile", http.MethodGet, "/profiles/{model}", "One profile as it is written",
		func(ctx context.Context, in *ModelPath) (*body[ProfileText], error) {
			document, err := s.hub.ProfileDocument(ctx, in.Model)
			return &body[ProfileText]{ProfileText{document}}, err
		})
	operation(s, api, "save-profile", http.MethodPost, "/profiles", "Take a profile into use, new or in place of one for the same model",
		func(ctx context.Context, in *struct{ Body ProfileText }) (*body[Saved], error) {
			model, err := s.hub.SaveProfile(ctx, in.Body.Document)
			return &body[Saved]{Saved{ID: model}}, err
		})
	operation(s, api, "install-profile", http.MethodPost, "/profiles/{model}/install", "Take a shipped profile into use",
		func(ctx context.Context, in *ModelPath) (*none, error) {
			return &none{}, s.hub.InstallProfile(ctx, in.Model)
		})
	operation(s, api, "remove-profile", http.MethodDelete, "/profiles/{model}", "Take the owner's profile of a model away",
		func(ctx context.Context, in *ModelPath) (*none, error) {
			return &none{}, s.hub.RemoveProfile(ctx, in.Model)
		})
	operation(s, api, "check-profile", http.MethodPost, "/profiles/check", "What is wrong with a profile, and what saving it would touch",
		func(ctx context.Context, in *struct{ Body ProfileText }) (*body[hub.ProfileCheck], error) {
			check, err := s.hub.CheckProfile(ctx, in.Body.Document)
			return &body[hub.ProfileCheck]{check}, err
		})
	operation(s, api, "try-profile", http.MethodPost, "/profiles/try", "Speak with a found device by a profile that is not saved",
		func(ctx context.Context, in *struct {
			Body struct {
				ProfileText
				Connection string `json:"connection"`
				Hardware   string `json:"hardware"`
			}
		}) (*body[hub.Tried], error) {
			tried, err := s.hub.TryProfile(ctx, in.Body.Document, in.Body.Connection, in.Body.Hardware)
			return &body[hub.Tried]{tried}, err
		})
	get(s, api, "clients", "/clients", "The programs that have a key to this home",
		func(ctx context.Context) ([]hub.Client, error) { return s.hub.Clients(ctx) })
	operation(s, api, "add-client", http.MethodPost, "/clients", "Make a key to this home for a program", func(ctx context.Context, in *struct {
		Body struct {
			Name string `json:"name" minLength:"1" maxLength:"80"`
			hub.ClientMay
		}
	}) (*body[ClientKey], error) {
		key, err := s.hub.AddClient(ctx, in.Body.Name, in.Body.ClientMay)
		return &body[ClientKey]{ClientKey{key}}, err
	})
	operation(s, api, "remove-client", http.MethodDelete, "/clients/{name}", "Take a program's key away", func(ctx context.Context, in *struct {
		Name string `path:"name" maxLength:"80"`
	}) (*none, error) {
		return &none{}, s.hub.RemoveClient(ctx, in.Name)
	})
	s.registerBroker(api)
	operation(s, api, "check-thing", http.MethodPost, "/things/check", "What a Thing Description offers, and what of it can be used",
		func(_ context.Context, in *struct{ Body ThingText }) (*body[hub.ThingCheck], error) {
			return &body[hub.ThingCheck]{s.hub.CheckThing(in.Body.Document, in.Body.Source)}, nil
		})
	operation(s, api, "add-thing", http.MethodPost, "/things", "Take a device by its Thing Description (W3C, version 1.0 or 1.1)",
		func(ctx context.Context, in *struct{ Body ThingText }) (*body[hub.ThingCheck], error) {
			check, err := s.hub.AddThing(ctx, in.Body.Document, in.Body.Source)
			return &body[hub.ThingCheck]{check}, err
		})
	get(s, api, "given-things", "/things", "Devices whose description the owner gave or made",
		func(ctx context.Context) ([]hub.GivenThing, error) { return s.hub.GivenThings(ctx) })
	operation(s, api, "given-thing", http.MethodGet, "/things/{id}", "One description as it was given or is derived from its profile",
		func(ctx context.Context, in *IDPath) (*body[ProfileText], error) {
			document, err := s.hub.GivenDocument(ctx, in.ID)
			return &body[ProfileText]{ProfileText{document}}, err
		})
	operation(s, api, "remove-thing", http.MethodDelete, "/things/{id}", "Forget a description", func(ctx context.Context, in *IDPath) (*none, error) {
		return &none{}, s.hub.RemoveThing(ctx, in.ID)
	})
	operation(s, api, "restore-thing", http.MethodPost, "/things/{id}/restore", "Bring a forgotten description back",
		func(ctx context.Context, in *IDPath) (*none, error) {
			return &none{}, s.hub.Restore(ctx, docs.KindThing, in.ID)
		})
	operation(s, api, "read-thing", http.MethodPost, "/things/{id}/read", "Read a description again at its address",
		func(ctx context.Context, in *IDPath) (*body[hub.ThingCheck], error) {
			check, err := s.hub.ReadThing(ctx, in.ID)
			return &body[hub.ThingCheck]{check}, err
		})
	operation(s, api, "unlock-thing", http.MethodPost, "/things/key", "Give a described device the key that it wants", func(ctx context.Context, in *struct {
		Body struct {
			Hardware string `json:"hardware" minLength:"1" maxLength:"2000"`
			User     string `json:"user,omitempty" maxLength:"200"`
			Key      string `json:"key" minLength:"1" maxLength:"500"`
		}
	}) (*none, error) {
		return &none{}, s.hub.UnlockThing(ctx, in.Body.Hardware, in.Body.User, in.Body.Key)
	})
	operation(s, api, "fetch", http.MethodPost, "/fetch", "Read a document at an address on the owner's behalf", func(ctx context.Context, in *struct {
		Body struct {
			Address string `json:"address" minLength:"1" maxLength:"2000"`
		}
	}) (*body[ProfileText], error) {
		document, err := s.hub.Fetch(ctx, in.Body.Address)
		return &body[ProfileText]{ProfileText{document}}, err
	})
}
