package bridge

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"math/rand/v2"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"amvek/connect"
	"amvek/core/thing"
)

const (
	pollEvery    = 400 * time.Millisecond
	firstBackoff = 500 * time.Millisecond
	lastBackoff  = 15 * time.Second
)

// Bridge is the connection to one bridge, polled.
type Bridge struct {
	client   *client
	profiles func(model string) *thing.Model
	poke     chan chan struct{}

	mu      sync.Mutex
	lamps   map[string]connect.Announcement // by address
	told    map[thing.Ref]thing.Value       // last report of each property, by hardware
	renewed map[string]bool                 // hardware whose state is told again though unchanged
}

// New returns the connection to the bridge at an address with a key.
func New(address, key string, profiles func(model string) *thing.Model) *Bridge {
	return &Bridge{client: newClient(address, key), profiles: profiles, poke: make(chan chan struct{}, 16), lamps: map[string]connect.Announcement{}, told: map[thing.Ref]thing.Value{}, renewed: map[string]bool{}}
}

// Run implements [connect.Connection].
func (b *Bridge) Run(ctx context.Context, sink connect.Sink) {
	defer b.client.http.CloseIdleConnections()
	backoff := firstBackoff
	for {
		err := b.poll(ctx, sink)
		wait := pollEvery
		if ctx.Err() != nil {
			return
		}
		if err != nil {
			sink.State(false, sentence(err))
			wait = backoff/2 + rand.N(backoff) // jitter: bridges that fell silent together do not come back together
			backoff = min(backoff*2, lastBackoff)
		} else {
			sink.State(true, "")
			backoff = firstBackoff
		}
		timer := time.NewTimer(wait)
		select {
		case <-ctx.Done():
			timer.Stop()
			return
		case done := <-b.poke:
			timer.Stop()
			// The poll that answers a poke begins after it, so that it sees what the poker saw.
			if err := b.poll(ctx, sink); err == nil {
				sink.State(true, "")
			}
			close(done)
		case <-timer.C:
		}
	}
}

func sentence(err error) string {
	words := err.Error()
	return strings.ToUpper(words[:1]) + words[1:] + "."
}

func (b *Bridge) poll(ctx context.Context, sink connect.Sink) error {
	lamps, err := b.client.lamps(ctx)
	if err != nil {
		return err
	}
	if b.roster(lamps) {
		b.mu.Lock()
		all := slices.Collect(maps.Values(b.lamps))
		b.mu.Unlock()
		sink.Found(all)
	}
	for _, id := range slices.Sorted(maps.Keys(lamps)) {
		b.tell(sink, id, lamps[id])
	}
	return nil
}

// roster takes the list of lamps and reports whether it is another than before.
func (b *Bridge) roster(lamps map[string]map[string]any) bool {
	b.mu.Lock()
	defer b.mu.Unlock()
	next := map[string]connect.Announcement{}
	for id, lamp := range lamps {
		text := func(key string) string { s, _ := lamp[key].(string); return s }
		model := ""
		// The second word of the bridge's default label is the model number.
		if words := strings.Fields(text("label")); len(words) > 1 {
			model = words[1]
		}
		a := connect.Announcement{Hardware: text("hardware"), Address: id, Maker: "Lumbrook", Model: model, Label: text("label"), Room: text("room")}
		if a.Hardware == "" {
			continue
		}
		a.Profile = b.profiles(model)
		next[id] = a
	}
	if maps.Equal(next, b.lamps) {
		return false
	}
	b.lamps = next
	return true
}

func (b *Bridge) tell(sink connect.Sink, id string, message map[string]any) {
	b.mu.Lock()
	a, known := b.lamps[id]
	renewed := b.renewed[a.Hardware]
	delete(b.renewed, a.Hardware)
	b.mu.Unlock()
	if !known || a.Profile == nil {
		return
	}
	for i := range a.Profile.Description.Properties {
		p := &a.Profile.Description.Properties[i]
		value, err := a.Profile.Natives[p.Name].Read(p, message)
		if errors.Is(err, thing.ErrAbsent) {
			continue
		}
		if err != nil {
			sink.Fault(fmt.Sprintf("%s: %s.", a.Label, err))
			continue
		}
		ref := thing.Ref{Device: a.Hardware, Name: p.Name}
		b.mu.Lock()
		same := b.told[ref] == value && !renewed
		b.told[ref] = value
		b.mu.Unlock()
		if !same {
			sink.Report(a.Hardware, p.Name, value)
		}
	}
}

func (b *Bridge) lamp(address string) (connect.Announcement, bool) {
	b.mu.Lock()
	defer b.mu.Unlock()
	a, known := b.lamps[address]
	return a, known && a.Profile != nil
}

// Write implements [connect.Connection].
func (b *Bridge) Write(ctx context.Context, address, property string, value thing.Value, fade time.Duration) connect.Outcome {
	a, known := b.lamp(address)
	if !known {
		return connect.Unreached("The bridge has not listed this lamp since the hub started.")
	}
	p := a.Profile.Description.Property(property)
	if p == nil {
		return connect.Failed(fmt.Sprintf("The profile of %s has no property %s.", a.Model, property))
	}
	fields, err := a.Profile.Natives[property].Write(p, value)
	if err != nil {
		return connect.Failed(err.Error())
	}
	if fade > 0 && p.Type != thing.TypeBoolean {
		fields["over"] = fade.Milliseconds()
	}
	return b.outcome(ctx, a, http.MethodPut, "lamps/"+address, fields)
}

// Invoke implements [connect.Connection].
func (b *Bridge) Invoke(ctx context.Context, address, action string) connect.Outcome {
	a, known := b.lamp(address)
	if !known {
		return connect.Unreached("The bridge has not listed this lamp since the hub started.")
	}
	if action != string(thing.RoleIdentify) {
		return connect.Failed(fmt.Sprintf("The bridge does not know the action %s.", action))
	}
	return b.outcome(ctx, a, http.MethodPost, "lamps/"+address+"/blink", nil)
}

func (b *Bridge) outcome(ctx context.Context, a connect.Announcement, method, path string, body any) connect.Outcome {
	err := b.client.do(ctx, method, path, body, nil)
	var refusal *refusal
	switch {
	case errors.As(err, &refusal), errors.Is(err, ErrKey):
		return connect.Failed(sentence(err))
	case err != nil:
		return connect.Unreached(sentence(err))
	}
	b.mu.Lock()
	b.renewed[a.Hardware] = true
	b.mu.Unlock()
	select {
	case b.poke <- make(chan struct{}):
	default:
	}
	return connect.Outcome{OK: true}
}

// Sync implements [connect.Connection]: the bridge is polled at once.
func (b *Bridge) Sync(ctx context.Context) {
	done := make(chan struct{})
	select {
	case b.poke <- done:
	case <-ctx.Done():
		return
	}
	select {
	case <-done:
	case <-ctx.Done():
	}
}

// Recall implements [connect.Connection].
func (b *Bridge) Recall(ctx context.Context, hardware string) {
	b.mu.Lock()
	b.renewed[hardware] = true
	b.mu.Unlock()
	b.Sync(ctx)
}
