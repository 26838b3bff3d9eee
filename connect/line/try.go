package line

import (
	"context"
	"errors"
	"maps"
	"sync"
	"time"

	"amvek/connect"
	"amvek/core/thing"
)

// Try speaks with a device over a line of its own, which is closed again, and returns what it says, as the fields that the
// natives of its profile read.
func Try(ctx context.Context, a connect.Announcement) (map[string]any, error) {
	var mu sync.Mutex
	fields := map[string]any{}
	s := New(a, connect.Silence{}, Options{Fields: func(said map[string]any) {
		mu.Lock()
		defer mu.Unlock()
		maps.Copy(fields, said)
	}})
	if s.broken != nil {
		return nil, s.broken
	}
	answered := false
	s.during(ctx, dialLimit+answerLimit, func(trying context.Context) { answered = s.Refresh(trying) })
	mu.Lock()
	defer mu.Unlock()
	if !answered && len(fields) == 0 {
		return nil, errors.New("the device does not answer by this profile")
	}
	return fields, nil
}

// during runs the session for as long as something is done with it, at most for a time.
func (s *Session) during(ctx context.Context, limit time.Duration, do func(ctx context.Context)) {
	trying, stop := context.WithTimeout(ctx, limit)
	var running sync.WaitGroup
	running.Go(func() { s.Run(trying) })
	do(trying)
	stop()
	running.Wait()
}

// afterFirst is how much longer is listened to a device once it has said something.
const afterFirst = 2 * time.Second

// Hear opens a line, sends messages and listens: for a time while nothing is said, and two seconds more at most once something
// is. It returns all that went over the wire. What cannot be reached is an error.
func Hear(ctx context.Context, address string, framing thing.Line, messages []string, listen time.Duration) ([]connect.Wire, error) {
	var heard wires
	said := make(chan struct{}, 1)
	model := thing.Model{Title: "tried", Line: &framing}
	s := New(connect.Announcement{Address: address, Profile: &model}, connect.Silence{}, Options{
		Wire: func(w connect.Wire) {
			if heard.add(w); !w.Sent {
				select {
				case said <- struct{}{}:
				default:
				}
			}
		},
		Every: time.Hour,
	})
	if s.broken != nil {
		return nil, s.broken
	}
	var failed error
	s.during(ctx, dialLimit+listen, func(trying context.Context) {
		for _, message := range messages {
			if failed = s.tell(trying, message); failed != nil {
				return
			}
		}
		if _, failed = s.open(trying); failed != nil {
			return
		}
		silent, end := context.WithTimeout(trying, listen)
		defer end()
		select {
		case <-silent.Done():
		case <-said:
			connect.Pause(silent, afterFirst)
		}
	})
	return heard.list(), failed
}

// Exchange does something with a device over a line of its own, and returns all that went over the wire, with the outcome.
// What the sink is told is what was heard on the way.
func Exchange(
	ctx context.Context,
	a connect.Announcement,
	sink connect.Sink,
	listen time.Duration,
	do func(ctx context.Context, s *Session) connect.Outcome,
) ([]connect.Wire, connect.Outcome) {
	var heard wires
	s := New(a, sink, Options{Wire: heard.add})
	if s.broken != nil {
		return nil, connect.Failed(connect.Sentence(s.broken))
	}
	var outcome connect.Outcome
	s.during(ctx, dialLimit+answerLimit+listen, func(trying context.Context) {
		s.Refresh(trying) // what other properties are at may stand in what is sent
		if outcome = do(trying, s); outcome.OK {
			connect.Pause(trying, listen)
		}
	})
	return heard.list(), outcome
}

// wires gathers what goes over a wire.
type wires struct {
	mu  sync.Mutex
	all []connect.Wire
}

// mostWires bounds how much is kept of what a device that talks without end says.
const mostWires = 200

func (w *wires) add(one connect.Wire) {
	w.mu.Lock()
	defer w.mu.Unlock()
	if len(w.all) < mostWires {
		w.all = append(w.all, one)
	}
}

func (w *wires) list() []connect.Wire {
	w.mu.Lock()
	defer w.mu.Unlock()
	return append([]connect.Wire{}, w.all...)
}
