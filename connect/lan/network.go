// Package lan is the connection to devices on the local network that are found by
// broadcast or by multicast DNS and speak lines over TCP: JSON objects, or commands in
// plain text that their profile spells out. Each has a session of its own, so one that is
// dead delays no other. The package decides nothing.
package lan

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"sync"
	"time"

	"amvek/connect"
	"amvek/connect/discovery"
	"amvek/core/thing"
)

const (
	searchEvery = 15 * time.Second
	searchWait  = 300 * time.Millisecond
)

// Options say where devices are looked for.
type Options struct {
	// Broadcast is the address that is asked over UDP, such as 255.255.255.255:8423; empty asks nobody.
	Broadcast string
	// Services is where multicast DNS is asked.
	Services discovery.Network
	// Every is how often a device is asked how it stands, besides what it tells by itself; 10 s where it is 0.
	Every time.Duration
}

// Network is the connection. Make one with [New].
type Network struct {
	options  Options
	profiles func(model string) *thing.Model
	search   chan chan struct{}

	mu       sync.Mutex
	sink     connect.Sink
	running  context.Context
	sessions sync.WaitGroup
	devices  map[string]*device // by hardware
	synced   time.Time
}

type device struct {
	announcement connect.Announcement
	session      *session
	stop         context.CancelFunc
}

// New returns the connection; profiles finds the profile of a model.
func New(o Options, profiles func(model string) *thing.Model) *Network {
	return &Network{options: o, profiles: profiles, search: make(chan chan struct{}, 16), devices: map[string]*device{}}
}

// Run implements [connect.Connection].
func (n *Network) Run(ctx context.Context, sink connect.Sink) {
	n.mu.Lock()
	n.sink, n.running = sink, ctx
	n.mu.Unlock()
	defer func() {
		n.mu.Lock()
		for _, d := range n.devices {
			d.stop()
		}
		clear(n.devices)
		n.mu.Unlock()
		n.sessions.Wait()
	}()
	for {
		n.look(ctx)
		timer := time.NewTimer(searchEvery)
		select {
		case <-ctx.Done():
			timer.Stop()
			return
		case done := <-n.search:
			timer.Stop()
			n.look(ctx)
			close(done)
		case <-timer.C:
		}
	}
}

// Search implements [connect.Searcher].
func (n *Network) Search(ctx context.Context) {
	done := make(chan struct{})
	select {
	case n.search <- done:
	case <-ctx.Done():
		return
	}
	select {
	case <-done:
	case <-ctx.Done():
	}
}

// look searches once, by every way at the same time.
func (n *Network) look(ctx context.Context) {
	var group sync.WaitGroup
	var answered, offered []sighting
	var broken error
	if n.options.Broadcast != "" {
		group.Go(func() { answered, broken = askAll(ctx, n.options.Broadcast, searchWait) })
	}
	group.Go(func() { offered = browse(ctx, n.options.Services, searchWait) })
	group.Wait()
	if ctx.Err() != nil {
		return
	}
	if broken != nil {
		n.sink.State(false, connect.Sentence(broken))
	} else {
		n.sink.State(true, "")
	}
	n.sighted(append(answered, offered...))
}

// sighted takes who answered: new devices get a session, moved ones are followed. What does not
// answer a search stays listed, since datagrams get lost.
func (n *Network) sighted(all []sighting) {
	n.mu.Lock()
	changed := false
	byHardware := map[string]string{}
	for _, s := range all {
		if at, twice := byHardware[s.Hardware]; twice && at != s.address {
			n.sink.Fault(fmt.Sprintf("Two devices say that they are %s, at %s and at %s; the first is used.", s.Hardware, at, s.address))
			continue
		}
		byHardware[s.Hardware] = s.address
		a := connect.Announcement{Hardware: s.Hardware, Address: s.address, Maker: s.Maker, Model: s.Model, Label: s.Label, Firmware: s.Firmware, Profile: n.profiles(s.Model)}
		known := n.devices[s.Hardware]
		if known != nil && known.announcement == a {
			continue
		}
		changed = true
		if known != nil {
			known.stop()
		}
		n.devices[s.Hardware] = n.start(a)
	}
	list := make([]connect.Announcement, 0, len(n.devices))
	for _, hardware := range slices.Sorted(maps.Keys(n.devices)) {
		list = append(list, n.devices[hardware].announcement)
	}
	n.mu.Unlock()
	if changed {
		n.sink.Found(list)
	}
}

// start begins a device's session; the lock is held.
func (n *Network) start(a connect.Announcement) *device {
	ctx, stop := context.WithCancel(n.running)
	d := &device{announcement: a, stop: stop}
	if a.Profile == nil {
		return d // nobody knows how to speak with it
	}
	d.session = newSession(a, n.sink, n.options.Every)
	n.sessions.Go(func() { d.session.run(ctx) })
	return d
}

func (n *Network) session(address string) (*session, bool) {
	n.mu.Lock()
	defer n.mu.Unlock()
	for _, d := range n.devices {
		if d.announcement.Address == address && d.session != nil {
			return d.session, true
		}
	}
	return nil, false
}

const notSeen = "The device has not been seen on the network since the hub started."

// Write implements [connect.Connection].
func (n *Network) Write(ctx context.Context, address, property string, value thing.Value, _ time.Duration) connect.Outcome {
	s, seen := n.session(address)
	if !seen {
		return connect.Unreached(notSeen)
	}
	return s.write(ctx, property, value)
}

// Invoke implements [connect.Connection].
func (n *Network) Invoke(ctx context.Context, address, action string, given thing.Inputs) connect.Outcome {
	s, seen := n.session(address)
	if !seen {
		return connect.Unreached(notSeen)
	}
	return s.invoke(ctx, action, given)
}

// Sync implements [connect.Connection]: every device that can be reached is asked, unless all were just asked.
func (n *Network) Sync(ctx context.Context) {
	n.mu.Lock()
	if time.Since(n.synced) < connect.SyncAtMost {
		n.mu.Unlock()
		return
	}
	n.synced = time.Now()
	var all []*session
	for _, d := range n.devices {
		if d.session != nil {
			all = append(all, d.session)
		}
	}
	n.mu.Unlock()
	var group sync.WaitGroup
	for _, s := range all {
		group.Go(func() { s.refresh(ctx) })
	}
	group.Wait()
}

// Recall implements [connect.Connection].
func (n *Network) Recall(ctx context.Context, hardware string) {
	n.mu.Lock()
	d := n.devices[hardware]
	n.mu.Unlock()
	if d != nil && d.session != nil {
		d.session.refresh(ctx)
	}
}

// Profiled implements [connect.Profiled]: a profile was added or changed, so what is known of the
// devices is looked up anew.
func (n *Network) Profiled() {
	n.mu.Lock()
	all := make([]sighting, 0, len(n.devices))
	for _, d := range n.devices {
		a := d.announcement
		all = append(all, sighting{Maker: a.Maker, Model: a.Model, Hardware: a.Hardware, Label: a.Label, address: a.Address})
	}
	n.mu.Unlock()
	n.sighted(all)
}

// Try implements [connect.Trier]: over a line of its own, which is closed again.
func (n *Network) Try(ctx context.Context, hardware string, profile *thing.Model) (map[string]any, error) {
	n.mu.Lock()
	d := n.devices[hardware]
	n.mu.Unlock()
	if d == nil {
		return nil, errors.New("the device has not been seen on the network")
	}
	a := d.announcement
	a.Profile = profile
	heard := &gathered{fields: map[string]any{}}
	s := newSession(a, heard, 0)
	if s.broken != nil {
		return nil, s.broken
	}
	s.raw = heard.take
	trying, stop := context.WithTimeout(ctx, dialLimit+answerLimit)
	var running sync.WaitGroup
	running.Go(func() { s.run(trying) })
	answered := s.refresh(trying)
	stop()
	running.Wait()
	heard.mu.Lock()
	defer heard.mu.Unlock()
	if !answered && len(heard.fields) == 0 {
		return nil, errors.New("the device does not answer by this profile")
	}
	return heard.fields, nil
}

// gathered keeps the fields of all lines that a device says while a profile is tried.
type gathered struct {
	mu     sync.Mutex
	fields map[string]any
}

func (g *gathered) take(fields map[string]any) {
	g.mu.Lock()
	defer g.mu.Unlock()
	maps.Copy(g.fields, fields)
}
func (*gathered) Found([]connect.Announcement)       {}
func (*gathered) Report(string, string, thing.Value) {}
func (*gathered) Event(string, string, thing.Value)  {}
func (*gathered) State(bool, string)                 {}
func (*gathered) Reach(string, bool, string)         {}
func (*gathered) Joining(string, time.Duration)      {}
func (*gathered) Fault(string)                       {}

// Test implements [connect.Tester]: somebody must answer a search.
func (n *Network) Test(ctx context.Context) error {
	n.Search(ctx)
	n.mu.Lock()
	defer n.mu.Unlock()
	if len(n.devices) == 0 {
		return errors.New("no device answered the search")
	}
	return nil
}
