package server

import (
	"context"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amvek/core/home"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/hub/sessions"
	"amvek/hub/views"
)

// Invitation is a code by which one browser is let in as a person.
type Invitation struct {
	Code  string    `json:"code"`
	Until time.Time `json:"until" doc:"By the machine's clock."`
}

// Sessions are the browsers that were let in, and who has a password.
type Sessions struct {
	Sessions  []sessions.Session `json:"sessions"`
	Passwords []string           `json:"passwords" doc:"The ids of those who have a password."`
}

func (s *Server) registerPeople(api huma.API) {
	lists[views.PersonView](s, api, docs.KindPerson, "people", "/people", "Everybody who is let into the home")
	documents[home.Person](s, api, docs.KindPerson, "/people", "person")
	operation(s, api, "invite", http.MethodPost, "/people/{id}/code", "Make a code by which one browser is let in as a person, or as a panel",
		func(ctx context.Context, in *IDPath) (*body[Invitation], error) {
			_, person := s.hub.Person(in.ID)
			if _, panel := s.hub.Panel(in.ID); !person && !panel {
				return nil, hub.Absent("There is no such person or panel.")
			}
			code, until := s.hub.Sessions.Invite(in.ID)
			return &body[Invitation]{Invitation{code, until}}, nil
		})
	get(s, api, "sessions", "/sessions", "The browsers that were let in", func(ctx context.Context) (Sessions, error) {
		return Sessions{s.hub.Sessions.All(), s.hub.WithPasswords(ctx)}, nil
	})
	operation(s, api, "end-session", http.MethodDelete, "/sessions/{id}", "End a session: that browser is out",
		func(ctx context.Context, in *IDPath) (*none, error) {
			err := s.hub.Sessions.End(ctx, in.ID)
			s.hub.GateChanged()
			return &none{}, err
		})
}
