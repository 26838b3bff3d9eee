package mqtt

import (
	"context"
	"crypto/tls"
	"crypto/x509"
	"errors"
	"strings"
	"sync"
	"time"

	"amvek/connect"
)

// External says where another broker is and how to join it.
type External struct {
	// Address is host and port.
	Address        string
	User, Password string
	TLS            bool
	// Authority is a certificate (PEM) to trust besides the system's; empty trusts only those.
	Authority string
}

const (
	joinLimit    = 5 * time.Second
	sayLimit     = 3 * time.Second
	keepAlive    = 15 * time.Second
	firstBackoff = 200 * time.Millisecond
	lastBackoff  = 10 * time.Second
)

const closedByBroker = "The broker closed the connection."

// errOlder says that a broker does not speak MQTT 5.
var errOlder = errors.New("the broker does not speak MQTT 5")

// speaker speaks with a broker that is joined.
type speaker interface {
	subscribe(filter string) error
	unsubscribe(filter string) error
	publish(topic string, payload []byte, retain bool) error
}

// joined is the way to a broker elsewhere: by MQTT 5 or, where the broker does not speak it, by MQTT 3.1.1.
type joined struct {
	to       External
	mu       sync.Mutex
	speaker  speaker // nil while the broker is not joined
	handlers map[string]func(topic string, payload []byte)
}

func newJoined(to External) *joined {
	return &joined{to: to, handlers: map[string]func(string, []byte){}}
}

func (w *joined) run(ctx context.Context, state func(up bool, reason string)) {
	trust, err := w.trust()
	if err != nil {
		state(false, connect.Sentence(err))
		<-ctx.Done()
		return
	}
	retry := connect.Retry{First: firstBackoff, Last: lastBackoff}
	for ctx.Err() == nil {
		if err = w.runFive(ctx, trust, state); !errors.Is(err, errOlder) {
			break
		}
		began := time.Now()
		if err = w.runThree(ctx, trust, state); err != nil && ctx.Err() == nil {
			state(false, joinError(err))
		}
		if time.Since(began) > lastBackoff {
			retry.Well()
		}
		retry.Wait(ctx)
	}
	if err != nil && ctx.Err() == nil {
		state(false, joinError(err))
	}
	<-ctx.Done()
}

// trust returns whom to trust over TLS, nil without TLS.
func (w *joined) trust() (*tls.Config, error) {
	if !w.to.TLS {
		return nil, nil
	}
	trust := &tls.Config{MinVersion: tls.VersionTLS12}
	if w.to.Authority != "" {
		pool, err := x509.SystemCertPool()
		if err != nil {
			pool = x509.NewCertPool()
		}
		if !pool.AppendCertsFromPEM([]byte(w.to.Authority)) {
			return nil, errors.New("the certificate authority is not a PEM certificate")
		}
		trust.RootCAs = pool
	}
	return trust, nil
}

// up takes that the broker was joined, and listens to all that is to be listened to.
func (w *joined) up(s speaker, state func(up bool, reason string)) {
	w.mu.Lock()
	w.speaker = s
	filters := make([]string, 0, len(w.handlers))
	for f := range w.handlers {
		filters = append(filters, f)
	}
	w.mu.Unlock()
	for _, f := range filters {
		if err := s.subscribe(f); err != nil {
			state(true, "The broker does not let the hub listen to "+f+".")
			return
		}
	}
	state(true, "")
}

func (w *joined) down() {
	w.mu.Lock()
	w.speaker = nil
	w.mu.Unlock()
}

// received gives a message to whoever listens to its topic.
func (w *joined) received(topic string, payload []byte) {
	w.mu.Lock()
	var told []func(string, []byte)
	for filter, handle := range w.handlers {
		if covers(filter, topic) {
			told = append(told, handle)
		}
	}
	w.mu.Unlock()
	for _, handle := range told {
		handle(topic, payload)
	}
}

func (w *joined) subscribe(filter string, handle func(topic string, payload []byte)) error {
	w.mu.Lock()
	w.handlers[filter] = handle
	s := w.speaker
	w.mu.Unlock()
	if s == nil {
		return nil // it will be, once the broker is joined
	}
	return s.subscribe(filter)
}

func (w *joined) unsubscribe(filter string) error {
	w.mu.Lock()
	delete(w.handlers, filter)
	s := w.speaker
	w.mu.Unlock()
	if s == nil {
		return nil
	}
	return s.unsubscribe(filter)
}

func (w *joined) publish(topic string, payload []byte, retain bool) error {
	w.mu.Lock()
	s := w.speaker
	w.mu.Unlock()
	if s == nil {
		return errors.New("the broker is not joined")
	}
	return s.publish(topic, payload, retain)
}

// refusedError is a broker's answer that it does not take the hub.
type refusedError struct {
	// keys says that it is because of user and password.
	keys   bool
	reason string
}

func (e *refusedError) Error() string { return "refused: " + e.reason }

// joinError says in words why a broker does not take the hub.
func joinError(err error) string {
	var refused *refusedError
	distrust := connect.Distrust(err)
	switch {
	case errors.As(err, &refused) && refused.keys:
		return "The broker does not accept user and password."
	case errors.As(err, &refused):
		return "The broker refuses: " + refused.reason + "."
	case distrust != "":
		return "The broker's certificate is not trusted: " + distrust + "."
	case connect.Unanswered(err):
		return "The broker cannot be reached: " + connect.Reason(err) + "."
	default:
		return "The broker cannot be joined: " + connect.Reason(err) + "."
	}
}

// TryJoin proves in one go whether a broker elsewhere can be joined.
func TryJoin(ctx context.Context, to External) error {
	limited, cancel := context.WithTimeout(ctx, joinLimit)
	defer cancel()
	outcome := make(chan string, 1)
	go newJoined(to).run(limited, func(up bool, reason string) {
		if up {
			reason = ""
		}
		select {
		case outcome <- reason:
		default:
		}
	})
	select {
	case reason := <-outcome:
		if reason != "" {
			return errors.New(strings.ToLower(reason[:1]) + strings.TrimSuffix(reason[1:], "."))
		}
		return nil
	case <-limited.Done():
		return errors.New("the broker did not answer in time")
	}
}
