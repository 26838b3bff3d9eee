// Package webthing is the connection to devices that describe themselves by a W3C Thing
// Description with forms for HTTP: read, written, invoked, and observed where the forms offer
// it, polled where they do not. It decides nothing.
package webthing

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"sync"
	"time"

	"amvek/connect"
	"amvek/core/thing"
)

const (
	pollEvery    = 5 * time.Second
	firstBackoff = 500 * time.Millisecond
	lastBackoff  = 30 * time.Second
)

// Thing is a device to speak with.
type Thing struct {
	// Hardware is its identity: the id of its description, or the address that was read.
	Hardware string
	// Source is the address at which its description was read; empty for one out of a file.
	Source    string
	Maker     string
	Described *thing.Described
	// Key is a password, a token or an API key; User goes with a password.
	User, Key string
}

// Key is what a host's things are unlocked with.
type Key struct {
	User string `json:"user,omitempty"`
	Key  string `json:"key"`
}

// Things is the connection. Make one with [New].
type Things struct {
	// find looks for descriptions on the network; nil looks for none.
	find func(ctx context.Context) []Thing
	// directory, where there is one, says which things there are, and told is how many of its list were told to be left out.
	directory *Directory
	told      int
	every     time.Duration // how often things are looked for

	mu       sync.Mutex
	sink     connect.Sink
	running  context.Context
	sessions sync.WaitGroup
	given    []Thing             // by the owner
	taken    map[string]bool     // the hardware that is in the home: nothing else is spoken with
	keys     map[string]Key      // by host and port
	seen     map[string]Thing    // on the network, by hardware
	known    map[string]Thing    // given or seen, with their keys
	work     map[string]*session // by hardware, with those that are taken
	search   chan chan struct{}
	synced   time.Time
}

// New returns the connection; find looks for descriptions on the network.
func New(find func(ctx context.Context) []Thing) *Things {
	return &Things{
		find:   find,
		every:  searchEvery,
		keys:   map[string]Key{},
		seen:   map[string]Thing{},
		known:  map[string]Thing{},
		taken:  map[string]bool{},
		work:   map[string]*session{},
		search: make(chan chan struct{}, 16),
	}
}

const searchEvery = 20 * time.Second

// Run implements [connect.Connection].
func (t *Things) Run(ctx context.Context, sink connect.Sink) {
	t.mu.Lock()
	t.sink, t.running = sink, ctx
	t.mu.Unlock()
	if t.directory == nil {
		sink.State(true, "")
	}
	defer func() {
		t.mu.Lock()
		for _, s := range t.work {
			s.stop()
		}
		clear(t.work)
		t.running = nil
		t.mu.Unlock()
		t.sessions.Wait()
	}()
	t.look(ctx)
	for {
		timer := time.NewTimer(t.every)
		select {
		case <-ctx.Done():
			timer.Stop()
			return
		case done := <-t.search:
			timer.Stop()
			t.look(ctx)
			close(done)
		case <-timer.C:
			t.look(ctx)
		}
	}
}

func (t *Things) look(ctx context.Context) {
	if t.directory != nil {
		t.readDirectories(ctx)
		return
	}
	var found []Thing
	if t.find != nil {
		found = t.find(ctx)
	}
	t.mu.Lock()
	for _, f := range found {
		t.seen[f.Hardware] = f
	}
	t.mu.Unlock()
	t.settle()
}

// Polls implements [connect.Polled].
func (t *Things) Polls() {}

// Search implements [connect.Searcher].
func (t *Things) Search(ctx context.Context) {
	done := make(chan struct{})
	select {
	case t.search <- done:
	case <-ctx.Done():
		return
	}
	select {
	case <-done:
	case <-ctx.Done():
	}
}

// Give takes the things that the owner gave, in place of those given before.
func (t *Things) Give(things []Thing) {
	t.mu.Lock()
	t.given = things
	t.mu.Unlock()
	t.settle()
}

var _ connect.Selective = (*Things)(nil)

// Select implements [connect.Selective].
func (t *Things) Select(hardware map[string]bool) {
	t.mu.Lock()
	t.taken = hardware
	t.mu.Unlock()
	t.settle()
}

// Host returns the host and port that a thing is spoken with at; those of one maker's box share a key, which is shown to no other.
func (t *Thing) Host() string {
	all := t.Described.Model.Forms
	for _, affordance := range slices.Sorted(maps.Keys(all)) {
		for _, f := range all[affordance] {
			if at, err := url.Parse(f.Href); err == nil && at.Host != "" {
				return at.Host
			}
		}
	}
	return ""
}

// Keys takes the keys that are known, by host, besides those that it has.
func (t *Things) Keys(keys map[string]Key) {
	t.mu.Lock()
	for host, key := range keys {
		t.keys[host] = key
	}
	t.mu.Unlock()
	t.settle()
}

// UseKey uses a key for all things of a host, without trying it.
func (t *Things) UseKey(host string, key Key) {
	t.mu.Lock()
	t.keys[host] = key
	t.mu.Unlock()
	t.settle()
}

// ErrUnknown says that there is no such thing.
var ErrUnknown = errors.New("the hub has no description of this device")

// Unlock tries a key with one thing and, if it fits, uses it for all of its host, which it returns.
func (t *Things) Unlock(ctx context.Context, hardware string, key Key) (host string, err error) {
	t.mu.Lock()
	trial, there := t.known[hardware]
	t.mu.Unlock()
	if !there {
		return "", ErrUnknown
	}
	trial.User, trial.Key = key.User, key.Key
	if err := newSession(trial, connect.Silence{}, func() {}).readAll(ctx); err != nil {
		return "", err
	}
	host = trial.Host()
	t.mu.Lock()
	t.keys[host] = key
	t.mu.Unlock()
	t.settle()
	return host, nil
}

// settle makes the sessions what they should be, and tells what is there. What is not in the home is told of, and not spoken
// with: where a description leads is not known to be the owner's.
func (t *Things) settle() {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.running == nil {
		return
	}
	want := maps.Clone(t.seen)
	for _, g := range t.given {
		want[g.Hardware] = g
	}
	for hardware, w := range want {
		key := t.keys[w.Host()]
		w.User, w.Key = key.User, key.Key
		want[hardware] = w
	}
	t.known = want
	for hardware, s := range t.work {
		if w, still := want[hardware]; !still || !t.taken[hardware] || !s.same(w) {
			s.stop()
			delete(t.work, hardware)
		}
	}
	list := make([]connect.Announcement, 0, len(want))
	for _, hardware := range slices.Sorted(maps.Keys(want)) {
		w := want[hardware]
		profile := w.Described.Model
		if s := t.work[hardware]; s != nil {
			profile = s.thing.Described.Model
		} else if t.taken[hardware] {
			ctx, stop := context.WithCancel(t.running)
			s := newSession(w, t.sink, stop)
			t.work[hardware] = s
			t.sessions.Go(func() { s.run(ctx) })
		}
		list = append(list, connect.Announcement{
			Hardware: hardware, Address: hardware, Maker: w.Maker, Model: w.Described.Model.Model,
			Label: w.Described.Title, Firmware: w.Described.Version, Profile: profile,
			Locked: w.Described.Security.Scheme != "nosec" && w.Key == "", SelfDescribed: true,
		})
	}
	t.sink.Found(list)
}

func (t *Things) session(hardware string) *session {
	t.mu.Lock()
	defer t.mu.Unlock()
	return t.work[hardware]
}

// asked returns a session for what somebody asks a thing for now: also one that is not in the home, nil for one that is not known.
func (t *Things) asked(hardware string) (s *session, end func()) {
	if s := t.session(hardware); s != nil {
		return s, func() {}
	}
	t.mu.Lock()
	one, there := t.known[hardware]
	t.mu.Unlock()
	if !there {
		return nil, func() {}
	}
	s = newSession(one, connect.Silence{}, func() {})
	return s, s.client.CloseIdleConnections
}

const unknown = "The hub has no description of this device."

// Write implements [connect.Connection].
func (t *Things) Write(ctx context.Context, address, property string, value thing.Value, _ time.Duration) connect.Outcome {
	s, end := t.asked(address)
	defer end()
	if s == nil {
		return connect.Unreached(unknown)
	}
	return s.outcome(s.write(ctx, property, value))
}

// Invoke implements [connect.Connection].
func (t *Things) Invoke(ctx context.Context, address, action string, given thing.Inputs) connect.Outcome {
	s, end := t.asked(address)
	defer end()
	if s == nil {
		return connect.Unreached(unknown)
	}
	answer, err := s.invoke(ctx, action, given)
	outcome := s.outcome(err)
	if outcome.OK && s.thing.Described.Model.Description.Action(action).Answers {
		outcome.Answer = answer
	}
	return outcome
}

// Picture implements [connect.Pictured].
func (t *Things) Picture(ctx context.Context, address, name string) (connect.Picture, error) {
	s, end := t.asked(address)
	defer end()
	if s == nil {
		return connect.Picture{}, ErrUnknown
	}
	form := s.thing.Described.Model.Form("properties/"+name, thing.OpRead)
	if form == nil {
		return connect.Picture{}, &refusal{detail: "it shows no such picture"}
	}
	said, err := s.ask(ctx, form, http.MethodGet, message{places: s.places()})
	switch {
	case err != nil:
		return connect.Picture{}, err
	case !strings.HasPrefix(said.contentType, "image/"):
		return connect.Picture{}, &refusal{said.status, "what it sent is no picture"}
	case len(said.data) == maximumAnswer:
		return connect.Picture{}, &refusal{said.status, "its picture is larger than 1 MB"}
	}
	return connect.Picture{Data: said.data, ContentType: said.contentType}, nil
}

// Sync implements [connect.Connection]: every thing that is reached is read, unless all were just read.
func (t *Things) Sync(ctx context.Context) {
	t.mu.Lock()
	if time.Since(t.synced) < connect.SyncAtMost {
		t.mu.Unlock()
		return
	}
	t.synced = time.Now()
	all := slices.Collect(maps.Values(t.work))
	t.mu.Unlock()
	var group sync.WaitGroup
	for _, s := range all {
		if s.reached() {
			group.Go(func() { _ = s.readAll(ctx) })
		}
	}
	group.Wait()
}

// Recall implements [connect.Connection].
func (t *Things) Recall(ctx context.Context, hardware string) {
	if s := t.session(hardware); s != nil {
		_ = s.readAll(ctx)
	}
}

// Test implements [connect.Tester].
func (t *Things) Test(ctx context.Context) error {
	if t.directory != nil {
		_, err := NewDirectory(t.directory.to).List(ctx)
		return err
	}
	t.mu.Lock()
	all := slices.Collect(maps.Values(t.work))
	t.mu.Unlock()
	if len(all) == 0 {
		return errors.New("no described device is in the home yet")
	}
	var wrong []string
	for _, s := range all {
		if err := s.readAll(ctx); err != nil {
			wrong = append(wrong, fmt.Sprintf("%s: %s", s.thing.Described.Title, err))
		}
	}
	if len(wrong) > 0 {
		return errors.New(strings.Join(wrong, "; "))
	}
	return nil
}
