package server

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amvek/hub"
	"amvek/hub/sessions"
)

// PasskeyAnswer is what a browser answered to an offer.
type PasskeyAnswer struct {
	Ceremony string          `json:"ceremony" maxLength:"80"`
	Answer   json.RawMessage `json:"answer" doc:"The credential in the JSON form of Web Authentication."`
}

func (s *Server) registerPasskeys(api huma.API) {
	get(s, api, "passkeys", "/session/passkeys", "One's own passkeys", func(ctx context.Context) ([]sessions.Passkey, error) {
		return s.hub.Sessions.Passkeys(ctx, who(ctx).session.Person)
	})
	operation(s, api, "offer-passkey", http.MethodPost, "/session/passkeys/offer", "Begin to make a passkey for oneself",
		func(ctx context.Context, _ *struct{}) (*body[sessions.Offer], error) {
			person, err := s.keeper(ctx)
			if err != nil {
				return nil, err
			}
			offer, err := s.hub.Sessions.OfferPasskey(ctx, person, s.titleOf(person), who(ctx).origin, s.hub.Title())
			return &body[sessions.Offer]{offer}, passkeyProblem(err)
		})
	operation(s, api, "keep-passkey", http.MethodPost, "/session/passkeys", "Keep a passkey that the browser made", func(ctx context.Context, in *struct {
		UserAgent string `header:"User-Agent"`
		Body      PasskeyAnswer
	}) (*none, error) {
		c := who(ctx)
		person, err := s.keeper(ctx)
		if err != nil {
			return nil, err
		}
		err = s.hub.Sessions.KeepPasskey(ctx, in.Body.Ceremony, person, s.titleOf(person), c.origin, s.hub.Title(), deviceOf(in.UserAgent), in.Body.Answer)
		if err != nil {
			return nil, passkeyProblem(err)
		}
		s.hub.WayIn(ctx, c.own(), "made a passkey, from "+c.from.Address)
		return &none{}, nil
	})
	operation(s, api, "remove-passkey", http.MethodDelete, "/session/passkeys/{id}", "Remove one of one's passkeys",
		func(ctx context.Context, in *IDPath) (*none, error) {
			if err := s.hub.Sessions.DropPasskey(ctx, who(ctx).session.Person, in.ID); err != nil {
				return nil, err
			}
			s.hub.WayIn(ctx, who(ctx).own(), "removed a passkey")
			return &none{}, nil
		})
	operation(s, api, "ask-passkey", http.MethodPost, "/session/passkey/offer", "Be asked for a passkey",
		func(ctx context.Context, _ *struct{}) (*body[sessions.Offer], error) {
			offer, err := s.hub.Sessions.AskPasskey(who(ctx).origin, s.hub.Title())
			return &body[sessions.Offer]{offer}, passkeyProblem(err)
		})
	operation(s, api, "show-passkey", http.MethodPost, "/session/passkey", "Sign in with a passkey", func(ctx context.Context, in *struct {
		UserAgent string `header:"User-Agent"`
		Body      PasskeyAnswer
	}) (*letIn, error) {
		return s.showPasskey(ctx, in.Body, in.UserAgent)
	})
}

// keeper returns who may have passkeys of their own.
func (s *Server) keeper(ctx context.Context) (person string, err error) {
	person = who(ctx).session.Person
	if _, panel := s.hub.Panel(person); panel {
		return "", &hub.ForbiddenError{Message: "A panel has no passkey."}
	}
	if person == "" {
		return "", &hub.ConflictError{Message: "Whoever is at this machine needs no passkey."}
	}
	return person, nil
}

func (s *Server) titleOf(person string) string {
	one, _ := s.hub.Person(person)
	return one.Title
}

func (s *Server) showPasskey(ctx context.Context, given PasskeyAnswer, device string) (*letIn, error) {
	c := who(ctx)
	if err := s.hub.Sessions.Slowed(sessions.ByAddress, sessions.From{Address: c.from.Address}); err != nil {
		return nil, err
	}
	person, err := s.hub.Sessions.ByPasskey(ctx, given.Ceremony, c.origin, s.hub.Title(), given.Answer)
	if _, there := s.hub.Person(person); errors.Is(err, sessions.ErrPasskey) || err == nil && !there {
		const said = "This passkey lets nobody in here. It may have been removed, or be of another hub."
		return nil, s.wrong(ctx, sessions.ByAddress, c.from, "a passkey that lets nobody in", "answer", said)
	}
	if err != nil {
		return nil, passkeyProblem(err)
	}
	s.hub.Sessions.WasRight(person, c.from)
	return s.begin(ctx, person, device, "with a passkey", c.from)
}

// passkeyProblem says to whoever asks what is wrong with a passkey.
func passkeyProblem(err error) error {
	switch {
	case errors.Is(err, sessions.ErrNoName):
		const said = "Browsers have passkeys only for names, and only over HTTPS or at the hub’s own machine."
		return &hub.ConflictError{Message: said + " Open the hub by one of its names."}
	case errors.Is(err, sessions.ErrPasskey):
		return hub.Invalid("answer", "The passkey could not be made. Begin again.")
	default:
		return err
	}
}
