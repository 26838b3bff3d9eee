package hub

import (
	"encoding/json"
	"log/slog"
	"sync"
)

// Message is one change told to every open browser.
type Message struct {
	Kind string `json:"kind" enum:"property,rule,schedule,scene,definition,removed,connection,found,pairing,journal,clock,bench,trial,notice,draft,needs"`
	// Definition and ID say what a definition, removed, rule, schedule or scene message is about.
	Definition string          `json:"definition,omitempty"`
	ID         string          `json:"id,omitempty"`
	Property   *PropertyView   `json:"property,omitempty"`
	Rule       *RuleState      `json:"rule,omitempty"`
	Schedule   *ScheduleState  `json:"schedule,omitempty"`
	InEffect   *bool           `json:"inEffect,omitempty" doc:"Whether a scene is what is in effect now."`
	Connection *ConnectionView `json:"connection,omitempty"`
	Pairing    *Pairing        `json:"pairing,omitempty"`
	Entry      *EntryView      `json:"entry,omitempty"`
	Notice     *Notice         `json:"notice,omitempty"`
	// Draft is that of a rule; absent where it is gone.
	Draft *DraftNote `json:"draft,omitempty"`
}

// feedBuffer is how far a browser may lag before it is told to start over.
const feedBuffer = 1024

// Feed spreads messages to subscribers.
type Feed struct {
	mu          sync.RWMutex
	subscribers map[*Subscription]struct{}
	log         *slog.Logger
}

// Subscription receives messages as JSON until closed; the channel is closed when the
// subscriber lags too far behind, and it must then ask for everything anew.
type Subscription struct {
	C    chan []byte
	feed *Feed
}

// Subscribe begins a subscription.
func (f *Feed) Subscribe() *Subscription {
	s := &Subscription{C: make(chan []byte, feedBuffer), feed: f}
	f.mu.Lock()
	defer f.mu.Unlock()
	if f.subscribers == nil {
		f.subscribers = map[*Subscription]struct{}{}
	}
	f.subscribers[s] = struct{}{}
	return s
}

// Close ends the subscription.
func (s *Subscription) Close() {
	s.feed.mu.Lock()
	defer s.feed.mu.Unlock()
	s.feed.drop(s)
}

func (f *Feed) drop(s *Subscription) {
	if _, there := f.subscribers[s]; there {
		delete(f.subscribers, s)
		close(s.C)
	}
}

func (f *Feed) listened() bool {
	f.mu.RLock()
	defer f.mu.RUnlock()
	return len(f.subscribers) > 0
}

// Publish tells a change to all subscribers; it never waits for any of them.
func (f *Feed) Publish(m Message) {
	if !f.listened() {
		return
	}
	data, err := json.Marshal(m)
	if err != nil {
		f.log.Error("a change could not be told", "kind", m.Kind, "error", err)
		return
	}
	f.mu.Lock()
	defer f.mu.Unlock()
	for s := range f.subscribers {
		select {
		case s.C <- data:
		default:
			f.drop(s)
		}
	}
}
