package bridge

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"net/http"
	"path"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"amvek/connect"
	"amvek/core/thing"
)

const (
	pollEvery       = 400 * time.Millisecond
	pollBesideEvery = 2 * time.Second // while the event stream tells what changes
	firstBackoff    = 500 * time.Millisecond
	lastBackoff     = 15 * time.Second
)

// Bridge is the connection to one bridge: polled, and told at once where its event stream is open.
type Bridge struct {
	client   *client
	serial   string
	profiles func(model string) *thing.Model
	poke     chan chan struct{}
	streams  atomic.Bool

	mu      sync.Mutex
	devices map[string]connect.Announcement // by address
	told    map[thing.Ref]thing.Value       // last report of each property, by hardware
	renewed map[string]bool                 // hardware whose state is told again though unchanged
	presses map[string]float64              // presses of each plate so far, by hardware
}

// New returns the connection to the bridge at an address with a key. Where its serial number is
// given, another bridge that answers there is not taken for it.
func New(address, key, serial string, profiles func(model string) *thing.Model) *Bridge {
	return &Bridge{
		client: newClient(address, key), serial: serial, profiles: profiles, poke: make(chan chan struct{}, 16),
		devices: map[string]connect.Announcement{}, told: map[thing.Ref]thing.Value{}, renewed: map[string]bool{}, presses: map[string]float64{},
	}
}

// Run implements [connect.Connection].
func (b *Bridge) Run(ctx context.Context, sink connect.Sink) {
	defer b.client.http.CloseIdleConnections()
	var following sync.WaitGroup
	defer following.Wait()
	following.Go(func() { b.follow(ctx, sink) })
	retry := connect.Retry{First: firstBackoff, Last: lastBackoff}
	proven := false
	for {
		var err error
		if !proven {
			err = b.prove(ctx)
		}
		if err == nil {
			err = b.poll(ctx, sink)
		}
		proven = err == nil
		if ctx.Err() != nil {
			return
		}
		var wait time.Duration
		switch {
		case err != nil:
			sink.State(false, connect.Sentence(err))
			wait = retry.Next()
		case b.streams.Load():
			wait = pollBesideEvery
		default:
			wait = pollEvery
		}
		if err == nil {
			sink.State(true, "")
			retry.Well()
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

// follow keeps the event stream open. It is an extra: while it is closed, polling finds everything, later.
func (b *Bridge) follow(ctx context.Context, sink connect.Sink) {
	retry := connect.Retry{First: firstBackoff, Last: lastBackoff}
	for ctx.Err() == nil {
		_ = b.client.stream(ctx, func() {
			b.streams.Store(true)
			retry.Well()
		}, func(event []byte) { b.happened(sink, event) })
		b.streams.Store(false)
		retry.Wait(ctx)
	}
}

// happened takes an event of the stream: a press is told at once, any other change is looked at.
func (b *Bridge) happened(sink connect.Sink, event []byte) {
	var message map[string]any
	sink = connect.Heard(sink, "event stream", event)
	if err := json.Unmarshal(event, &message); err != nil {
		sink.Fault("The bridge's event stream told something that is not JSON.")
		return
	}
	if plate, ok := message["plate"].(string); ok && message["count"] != nil {
		b.tell(sink, "plates/"+plate, message)
		return
	}
	b.pollSoon()
}

// pollSoon asks for a poll soon.
func (b *Bridge) pollSoon() {
	select {
	case b.poke <- make(chan struct{}):
	default:
	}
}

// prove makes sure, after every loss, that it is still the same bridge.
func (b *Bridge) prove(ctx context.Context) error {
	about, err := Probe(ctx, b.client.address)
	if err == nil && b.serial != "" && about.Serial != b.serial {
		return ErrSwapped
	}
	return err
}

func (b *Bridge) poll(ctx context.Context, sink connect.Sink) error {
	devices, err := b.client.devices(ctx)
	if err != nil {
		return err
	}
	changed, err := b.roster(ctx, devices)
	if err != nil {
		return err
	}
	if changed {
		b.mu.Lock()
		all := slices.Collect(maps.Values(b.devices))
		b.mu.Unlock()
		sink.Found(all)
	}
	for _, address := range slices.Sorted(maps.Keys(devices)) {
		b.tell(&polled{Sink: sink, place: "GET " + address, message: devices[address]}, address, devices[address])
	}
	return nil
}

// polled is a sink that tells of the answer to a poll only where that says anything new: the bridge is asked every second.
type polled struct {
	connect.Sink
	place   string
	message map[string]any
	heard   connect.Sink
}

func (p *polled) hear() connect.Sink {
	if p.heard == nil {
		body, err := json.Marshal(p.message)
		if err != nil {
			body = nil // it was JSON
		}
		p.heard = connect.Heard(p.Sink, p.place, body)
	}
	return p.heard
}

// Report implements [connect.Sink].
func (p *polled) Report(hardware, property string, value thing.Value) {
	p.hear().Report(hardware, property, value)
}

// Event implements [connect.Sink].
func (p *polled) Event(hardware, event string, value thing.Value) {
	p.hear().Event(hardware, event, value)
}

// Fault implements [connect.Sink].
func (p *polled) Fault(reason string) { p.hear().Fault(reason) }

// roster takes the list of devices and reports whether it is another than before.
func (b *Bridge) roster(ctx context.Context, devices map[string]map[string]any) (bool, error) {
	next := map[string]connect.Announcement{}
	for address, device := range devices {
		text := func(key string) string { s, _ := device[key].(string); return s }
		model := ""
		// The second word of the bridge's default label is the model number.
		if words := strings.Fields(text("label")); len(words) > 1 {
			model = words[1]
		}
		a := connect.Announcement{
			Hardware: text("hardware"),
			Address:  address,
			Maker:    "Lumbrook",
			Model:    model,
			Label:    text("label"),
			Room:     text("room"),
			Firmware: text("firmware"),
		}
		if a.Hardware != "" {
			a.Profile = b.profiles(model)
			next[address] = a
		}
	}
	b.mu.Lock()
	same := maps.EqualFunc(next, b.devices, func(x, y connect.Announcement) bool {
		y.Groups = ""
		return x == y
	})
	b.mu.Unlock()
	if same {
		return false, nil
	}
	groups, err := b.client.groups(ctx)
	if err != nil {
		return false, err
	}
	for address, a := range next {
		a.Groups = strings.Join(groups[address], ", ")
		next[address] = a
	}
	b.mu.Lock()
	b.devices = next
	b.mu.Unlock()
	return true, nil
}

// pressed reports whether a message tells of a press that was not told yet.
func (b *Bridge) pressed(hardware string, message map[string]any) bool {
	count, counts := message["count"].(float64)
	b.mu.Lock()
	defer b.mu.Unlock()
	before, known := b.presses[hardware]
	if !counts {
		return false
	}
	b.presses[hardware] = max(count, before)
	return known && count > before
}

func (b *Bridge) tell(sink connect.Sink, address string, message map[string]any) {
	b.mu.Lock()
	a, known := b.devices[address]
	renewed := b.renewed[a.Hardware]
	delete(b.renewed, a.Hardware)
	b.mu.Unlock()
	if !known || a.Profile == nil {
		return
	}
	pressed := b.pressed(a.Hardware, message)
	err := a.Profile.Tell(message, func(property string, value thing.Value) {
		ref := thing.Ref{Device: a.Hardware, Name: property}
		b.mu.Lock()
		same := b.told[ref] == value && !renewed
		b.told[ref] = value
		if p := a.Profile.Description.Property(property); p != nil {
			for _, other := range p.Excludes { // what is in effect again later is told again, at whatever it is
				delete(b.told, thing.Ref{Device: a.Hardware, Name: other})
			}
		}
		b.mu.Unlock()
		if !same {
			sink.Report(a.Hardware, property, value)
		}
	}, func(event string, value thing.Value) {
		if pressed {
			sink.Event(a.Hardware, event, value)
		}
	})
	if err != nil {
		sink.Fault(a.Label + ": " + connect.Sentence(err))
	}
}

func (b *Bridge) device(address string) (connect.Announcement, bool) {
	b.mu.Lock()
	defer b.mu.Unlock()
	a, known := b.devices[address]
	return a, known && a.Profile != nil
}

const unlisted = "The bridge has not listed this device since the hub started."

// Write implements [connect.Connection].
func (b *Bridge) Write(ctx context.Context, address, property string, value thing.Value, fade time.Duration) connect.Outcome {
	a, known := b.device(address)
	if !known {
		return connect.Unreached(unlisted)
	}
	p := a.Profile.Description.Property(property)
	if p == nil {
		return connect.Failed(fmt.Sprintf("The profile of %s has no property %s.", a.Model, property))
	}
	fields, err := a.Profile.Natives[property].Write(p, value)
	if err != nil {
		return connect.Failed(err.Error())
	}
	if fade > 0 && p.Type == thing.TypeNumber {
		fields["over"] = fade.Milliseconds()
	}
	return b.outcome(ctx, a, http.MethodPut, address, fields)
}

// pace is how often the bridge takes a frame, with something to spare.
const pace = 60 * time.Millisecond

// Pace implements [connect.Framer].
func (b *Bridge) Pace() time.Duration { return pace }

// WriteFrame implements [connect.Framer].
func (b *Bridge) WriteFrame(ctx context.Context, settings []connect.Setting, over time.Duration) connect.Outcome {
	lamps := map[string]map[string]any{}
	for _, s := range settings {
		a, known := b.device(s.Address)
		if !known {
			continue
		}
		p := a.Profile.Description.Property(s.Property)
		if p == nil {
			continue
		}
		fields, err := a.Profile.Natives[s.Property].Write(p, s.Value)
		if err != nil {
			continue
		}
		id := path.Base(s.Address)
		if lamps[id] == nil {
			lamps[id] = map[string]any{"over": over.Milliseconds()}
		}
		maps.Copy(lamps[id], fields)
	}
	err := b.client.do(ctx, http.MethodPut, "frame", map[string]any{"lamps": lamps}, nil)
	var refusal *refusal
	switch {
	case errors.As(err, &refusal), errors.Is(err, ErrKey):
		return connect.Failed(connect.Sentence(err))
	case err != nil:
		return connect.Unreached(connect.Sentence(err))
	}
	return connect.Outcome{OK: true}
}

// Invoke implements [connect.Connection].
func (b *Bridge) Invoke(ctx context.Context, address, action string, _ thing.Inputs) connect.Outcome {
	a, known := b.device(address)
	if !known {
		return connect.Unreached(unlisted)
	}
	if action != string(thing.RoleIdentify) {
		return connect.Failed(fmt.Sprintf("The bridge does not know the action %s.", action))
	}
	return b.outcome(ctx, a, http.MethodPost, address+"/blink", nil)
}

func (b *Bridge) outcome(ctx context.Context, a connect.Announcement, method, path string, body any) connect.Outcome {
	err := b.client.do(ctx, method, path, body, nil)
	var refusal *refusal
	switch {
	case errors.As(err, &refusal), errors.Is(err, ErrKey):
		return connect.Failed(connect.Sentence(err))
	case err != nil:
		return connect.Unreached(connect.Sentence(err))
	}
	b.mu.Lock()
	b.renewed[a.Hardware] = true
	b.mu.Unlock()
	b.pollSoon()
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

// Test implements [connect.Tester].
func (b *Bridge) Test(ctx context.Context) error {
	_, err := b.client.devices(ctx)
	return err
}

// Try implements [connect.Trier].
func (b *Bridge) Try(ctx context.Context, hardware string, _ *thing.Model) (map[string]any, error) {
	devices, err := b.client.devices(ctx)
	if err != nil {
		return nil, err
	}
	for _, device := range devices {
		if device["hardware"] == hardware {
			return device, nil
		}
	}
	return nil, errors.New("the bridge does not list the device")
}

// Profiled implements [connect.Profiled]: the next poll looks the profiles up again.
func (b *Bridge) Profiled() { b.pollSoon() }
