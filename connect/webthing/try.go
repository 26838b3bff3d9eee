package webthing

import (
	"context"
	"net/http"
	"sync"

	"amvek/connect"
	"amvek/core/thing"
)

// Inspect makes one request of a thing by a form and returns what went over the wire, with the body of the answer.
func Inspect(ctx context.Context, t Thing, form *thing.Form) (heard []connect.Wire, body []byte, err error) {
	s := newSession(t, connect.Silence{}, func() {})
	defer s.client.CloseIdleConnections()
	s.wire = func(w connect.Wire) { heard = append(heard, w) }
	said, err := s.ask(ctx, form, http.MethodGet, message{places: thing.Places{}})
	if err != nil {
		return heard, nil, err
	}
	return heard, said.data, nil
}

// Trial is a thing that is spoken with for once.
type Trial struct{ session *session }

// Read reads all that the thing has.
func (t *Trial) Read(ctx context.Context) connect.Outcome {
	return t.session.outcome(t.session.readAll(ctx))
}

// Write sets a property.
func (t *Trial) Write(ctx context.Context, property string, value thing.Value) connect.Outcome {
	return t.session.outcome(t.session.write(ctx, property, value))
}

// Invoke asks for an action.
func (t *Trial) Invoke(ctx context.Context, action string, given thing.Inputs) connect.Outcome {
	_, err := t.session.invoke(ctx, action, given)
	return t.session.outcome(err)
}

// Exchange does something with a thing that is spoken with for once, and returns all that went over the wire, with the
// outcome. The sink is told what was heard.
func Exchange(ctx context.Context, t Thing, sink connect.Sink, do func(ctx context.Context, t *Trial) connect.Outcome) ([]connect.Wire, connect.Outcome) {
	s := newSession(t, sink, func() {})
	defer s.client.CloseIdleConnections()
	var mu sync.Mutex
	heard := []connect.Wire{}
	s.wire = func(w connect.Wire) {
		mu.Lock()
		defer mu.Unlock()
		heard = append(heard, w)
	}
	outcome := do(ctx, &Trial{s})
	return heard, outcome
}
