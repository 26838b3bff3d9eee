package main

import (
	"context"
	"fmt"
	"time"

	"amvek/core/cause"
	"amvek/core/gate"
	"amvek/core/home"
	"amvek/hub"
	"amvek/hub/docs"
)

const (
	gateRuns     = 200_000
	signInRuns   = 20
	gateSessions = 50
)

// measureGate measures what recognising a browser and asking the gate adds to each request, for a guest with a dashboard of
// sixty controls among fifty sessions; and what a right password costs.
func measureGate(ctx context.Context) ([]figure, error) {
	made, s, board, _, err := boarded(ctx)
	if err != nil {
		return nil, err
	}
	defer made.close()
	defer s.close()
	guest := home.Person{Title: "Guest", Role: home.Guest, Until: time.Now().Add(24 * time.Hour), Dashboards: []string{board}}
	if _, err := made.hub.Save(ctx, hub.New{Kind: docs.KindPerson, ID: "guest", Document: &guest}); err != nil {
		return nil, err
	}
	secret := ""
	for range gateSessions {
		if secret, err = made.hub.Sessions.Begin(ctx, "guest", "bench", "127.0.0.1"); err != nil {
			return nil, err
		}
	}
	began := time.Now()
	for range gateRuns {
		session, in := made.hub.Sessions.Find(ctx, secret, "127.0.0.1")
		principal, still := made.hub.Principal(ctx, session.Person, "", cause.ViaPage)
		if !in || !still || principal.May(gate.Use, gate.Thing{Kind: "property", ID: "none", Name: "level"}) {
			return nil, fmt.Errorf("the gate let through what it may not, or kept out whom it may not")
		}
	}
	each := time.Since(began) / gateRuns
	if err := made.hub.Sessions.SetPassword(ctx, "guest", "under the weir"); err != nil {
		return nil, err
	}
	signIn, err := median(signInRuns, func() error {
		_, err := made.hub.Sessions.Right(ctx, "guest", "under the weir")
		return err
	})
	return []figure{
		{Name: "gate_us", Value: float64(each.Nanoseconds()) / 1e3, Unit: "µs"},
		{Name: "sign_in_ms", Value: signIn, Unit: "ms"},
	}, err
}
