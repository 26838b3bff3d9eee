// Package lan is the connection to devices on the local network that are spoken with by messages on a line of TCP, as
// their profiles spell them out: those that are found by broadcast or by multicast DNS, and those whose owner gave their
// address. Each has a session of its own, so one that is dead delays no other. The package decides nothing.
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
	"amvek/connect/line"
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
	devices  map[string]*device // those that were found, by hardware
	given    map[string]*device // those that the owner gave, by hardware
	taken    map[string]bool    // the hardware that is in the home: of what was given nothing else is spoken with
	synced   time.Time
}

type device struct {
	announcement connect.Announcement
	at           string // host and port
	session      *line.Session
	stop         context.CancelFunc
}

// end ends the session of a device, if it has one.
func (d *device) end() {
	if d.session != nil {
		d.stop()
		d.session = nil
	}
}

// New returns the connection; profiles finds the profile of a model.
func New(o Options, profiles func(model string) *thing.Model) *Network {
	return &Network{
		options:  o,
		profiles: profiles,
		search:   make(chan chan struct{}, 16),
		devices:  map[string]*device{},
		given:    map[string]*device{},
		taken:    map[string]bool{},
	}
}

// Run implements [connect.Connection].
func (n *Network) Run(ctx context.Context, sink connect.Sink) {
	n.mu.Lock()
	n.sink, n.running = sink, ctx
	n.mu.Unlock()
	n.settle(true)
	defer func() {
		n.mu.Lock()
		for _, all := range []map[string]*device{n.devices, n.given} {
			for _, d := range all {
				d.end()
			}
		}
		clear(n.devices)
		n.running = nil
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
		a := connect.Announcement{
			Hardware: s.Hardware,
			Address:  s.address,
			Maker:    s.Maker,
			Model:    s.Model,
			Label:    s.Label,
			Firmware: s.Firmware,
			Profile:  n.profiles(s.Model),
		}
		known := n.devices[s.Hardware]
		if known != nil && known.announcement == a {
			continue
		}
		changed = true
		if known != nil {
			known.end()
		}
		d := &device{announcement: a, at: s.address}
		n.begin(d)
		n.devices[s.Hardware] = d
	}
	n.mu.Unlock()
	if changed {
		n.announce()
	}
}

// announce tells all devices that are there.
func (n *Network) announce() {
	n.mu.Lock()
	var list []connect.Announcement
	for _, all := range []map[string]*device{n.devices, n.given} {
		for _, hardware := range slices.Sorted(maps.Keys(all)) {
			list = append(list, all[hardware].announcement)
		}
	}
	sink := n.sink
	n.mu.Unlock()
	sink.Found(list)
}

// begin begins a device's session; the lock is held. Without a profile nobody knows how to speak with it.
func (n *Network) begin(d *device) {
	if d.announcement.Profile == nil || d.session != nil || n.running == nil {
		return
	}
	ctx, stop := context.WithCancel(n.running)
	session := n.open(d, n.sink, line.Options{})
	d.session, d.stop = session, stop
	n.sessions.Go(func() { session.Run(ctx) })
}

func (n *Network) open(d *device, sink connect.Sink, o line.Options) *line.Session {
	a := d.announcement
	a.Address = d.at
	o.Every = n.options.Every
	return line.New(a, sink, o)
}

// Give takes the devices that the owner described, in place of those given before.
func (n *Network) Give(things map[string]*thing.Described) {
	next := map[string]*device{}
	n.mu.Lock()
	for hardware, t := range things {
		a := connect.Announcement{
			Hardware:      hardware,
			Address:       hardware,
			Model:         t.Model.Model,
			Label:         t.Title,
			Firmware:      t.Version,
			Profile:       t.Model,
			SelfDescribed: true,
		}
		next[hardware] = &device{announcement: a, at: t.At}
	}
	for _, d := range n.given {
		d.end()
	}
	n.given = next
	n.mu.Unlock()
	n.settle(true)
}

var _ connect.Selective = (*Network)(nil)

// Select implements [connect.Selective].
func (n *Network) Select(hardware map[string]bool) {
	n.mu.Lock()
	n.taken = hardware
	n.mu.Unlock()
	n.settle(false)
}

// settle makes the sessions of given devices what they should be: what is not in the home is told of, and not spoken with,
// since where a description leads is not known to be the owner's.
func (n *Network) settle(tell bool) {
	n.mu.Lock()
	running := n.running != nil
	for hardware, d := range n.given {
		if n.taken[hardware] {
			n.begin(d)
		} else {
			d.end()
		}
	}
	tell = tell && running && len(n.given)+len(n.devices) > 0
	n.mu.Unlock()
	if tell {
		n.announce()
	}
}

// session returns the line to the device at an address; a given one that is not in the home has one until end is called.
func (n *Network) session(ctx context.Context, address string) (s *line.Session, end func()) {
	n.mu.Lock()
	defer n.mu.Unlock()
	for _, d := range n.devices {
		if d.announcement.Address == address && d.session != nil {
			return d.session, func() {}
		}
	}
	d := n.given[address]
	switch {
	case d == nil:
		return nil, func() {}
	case d.session != nil:
		return d.session, func() {}
	}
	asked, stop := context.WithCancel(ctx)
	s = n.open(d, connect.Silence{}, line.Options{})
	var running sync.WaitGroup
	running.Go(func() { s.Run(asked) })
	return s, func() { stop(); running.Wait() }
}

const notSeen = "The device has not been seen on the network since the hub started."

// Write implements [connect.Connection].
func (n *Network) Write(ctx context.Context, address, property string, value thing.Value, _ time.Duration) connect.Outcome {
	s, end := n.session(ctx, address)
	defer end()
	if s == nil {
		return connect.Unreached(notSeen)
	}
	return s.Write(ctx, property, value)
}

// Invoke implements [connect.Connection].
func (n *Network) Invoke(ctx context.Context, address, action string, given thing.Inputs) connect.Outcome {
	s, end := n.session(ctx, address)
	defer end()
	if s == nil {
		return connect.Unreached(notSeen)
	}
	return s.Invoke(ctx, action, given)
}

// Sync implements [connect.Connection]: every device that can be reached is asked, unless all were just asked.
func (n *Network) Sync(ctx context.Context) {
	n.mu.Lock()
	if time.Since(n.synced) < connect.SyncAtMost {
		n.mu.Unlock()
		return
	}
	n.synced = time.Now()
	var all []*line.Session
	for _, some := range []map[string]*device{n.devices, n.given} {
		for _, d := range some {
			if d.session != nil {
				all = append(all, d.session)
			}
		}
	}
	n.mu.Unlock()
	var group sync.WaitGroup
	for _, s := range all {
		group.Go(func() { s.Refresh(ctx) })
	}
	group.Wait()
}

// Recall implements [connect.Connection].
func (n *Network) Recall(ctx context.Context, hardware string) {
	n.mu.Lock()
	d := n.device(hardware)
	var session *line.Session
	if d != nil {
		session = d.session
	}
	n.mu.Unlock()
	if session != nil {
		session.Refresh(ctx)
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

// device returns a device, found or given; the lock is held.
func (n *Network) device(hardware string) *device {
	if d := n.devices[hardware]; d != nil {
		return d
	}
	return n.given[hardware]
}

// Try implements [connect.Trier]: over a line of its own, which is closed again.
func (n *Network) Try(ctx context.Context, hardware string, profile *thing.Model) (map[string]any, error) {
	n.mu.Lock()
	d := n.device(hardware)
	n.mu.Unlock()
	if d == nil {
		return nil, errors.New("the device has not been seen on the network")
	}
	a := d.announcement
	a.Profile, a.Address = profile, d.at
	return line.Try(ctx, a)
}

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
