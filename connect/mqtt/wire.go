package mqtt

import (
	"context"
	"sync"

	mochi "github.com/mochi-mqtt/server/v2"
	"github.com/mochi-mqtt/server/v2/packets"
)

// wire is a way to a broker. Handlers may be called from any goroutine, the loop of the hub among them: they return at once
// and ask nothing of the hub.
type wire interface {
	// run keeps the way open until the context ends, telling of its state.
	run(ctx context.Context, state func(up bool, reason string))
	// subscribe listens to a filter, also after the way was lost and found again.
	subscribe(filter string, handle func(topic string, payload []byte)) error
	unsubscribe(filter string) error
	publish(topic string, payload []byte, retain bool) error
}

// overhearing is a wire over which all can be heard that others say, whoever listens to it.
type overhearing interface {
	// overhear tells of each message that the hub did not send itself; nil ends it.
	overhear(handle func(topic string, payload []byte))
}

// inline is the way to the hub's own broker.
type inline struct {
	broker *Broker
	mu     sync.Mutex
	ids    map[string]int
	next   int
}

func (w *inline) run(ctx context.Context, _ func(bool, string)) { <-ctx.Done() }

func (w *inline) subscribe(filter string, handle func(topic string, payload []byte)) error {
	w.mu.Lock()
	if w.ids == nil {
		w.ids = map[string]int{}
	}
	w.next++
	id := w.next
	w.ids[filter] = id
	w.mu.Unlock()
	return w.broker.server.Subscribe(filter, id, func(_ *mochi.Client, _ packets.Subscription, p packets.Packet) {
		handle(p.TopicName, p.Payload)
	})
}

// overhear implements [overhearing].
func (w *inline) overhear(handle func(topic string, payload []byte)) {
	if handle == nil {
		w.broker.guard.overhears.Store(nil)
		return
	}
	w.broker.guard.overhears.Store(&handle)
}

func (w *inline) unsubscribe(filter string) error {
	w.mu.Lock()
	id, there := w.ids[filter]
	delete(w.ids, filter)
	w.mu.Unlock()
	if !there {
		return nil
	}
	return w.broker.server.Unsubscribe(filter, id)
}

func (w *inline) publish(topic string, payload []byte, retain bool) error {
	w.broker.sent.Add(1)
	return w.broker.server.Publish(topic, payload, retain, 0)
}
