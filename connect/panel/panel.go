// Package panel speaks with the tablets on the walls: each is a browser that was let in as a panel and holds a connection open to
// the hub's own server, over which it says how it is and is told what to do. It knows no sessions and no sockets, and decides
// nothing; whoever has a connection attaches it here.
package panel

import (
	"context"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"strings"
	"sync"
	"time"

	"amvek/connect"
	"amvek/core/thing"
)

// Order is what a panel is told to do. It answers with a message that has the order's number.
type Order struct {
	Order    int          `json:"order"`
	Property string       `json:"property,omitempty"`
	Value    *thing.Value `json:"value,omitempty"`
	Action   string       `json:"action,omitempty"`
	Inputs   thing.Inputs `json:"inputs,omitempty"`
	Picture  string       `json:"picture,omitempty"`
}

// Said is what a panel says: how something of it is, what happened at it, or what became of an order.
type Said struct {
	Property string      `json:"property,omitempty"`
	Event    string      `json:"event,omitempty"`
	Value    thing.Value `json:"value,omitzero"`
	Done     int         `json:"done,omitempty"`
	Failed   string      `json:"failed,omitempty"`
	// Picture is a JPEG in base64 (RFC 4648).
	Picture string `json:"picture,omitempty"`
}

// LongestMessage is how much a panel says at once, at most, in bytes: a picture.
const LongestMessage = 1 << 20

// answersWithin is how long a panel has for an order.
const answersWithin = 8 * time.Second

// away is why a panel that is not attached is not reached.
const away = "The panel is not connected."

// Panels are all panels, by their addresses. They are a [connect.Connection].
type Panels struct {
	description thing.Description
	keep        func(ctx context.Context, address string, jpeg []byte) error

	mu       sync.Mutex
	sink     connect.Sink // nil while the connection is paused
	home     map[string]bool
	attached map[string]*attached
	orders   int
}

// attached is a panel that is there.
type attached struct {
	send    func(Order) error
	waiting map[int]chan Said
	last    map[string]thing.Value
}

// New returns panels of which none is there yet.
func New() *Panels {
	return &Panels{description: Description(), home: map[string]bool{}, attached: map[string]*attached{}}
}

// KeepPictures says what becomes of the pictures that panels take because they are told to. It is to be called before the first
// of them is there.
func (p *Panels) KeepPictures(keep func(ctx context.Context, address string, jpeg []byte) error) {
	p.keep = keep
}

// Attach takes a panel that opened a connection, in the place of one it had before. What it is told is sent with a function that
// returns soon; detach is to be called when the connection ends.
func (p *Panels) Attach(address string, send func(Order) error) (heard func([]byte), detach func()) {
	a := &attached{send: send, waiting: map[int]chan Said{}, last: map[string]thing.Value{}}
	p.mu.Lock()
	if before := p.attached[address]; before != nil {
		before.leave()
	}
	p.attached[address] = a
	sink := p.sink
	p.mu.Unlock()
	if sink != nil {
		sink.Reach(address, true, "")
	}
	return func(message []byte) { p.hear(address, a, message) }, func() {
		p.mu.Lock()
		gone := p.attached[address] == a
		if gone {
			delete(p.attached, address)
		}
		a.leave()
		sink := p.sink
		p.mu.Unlock()
		if gone && sink != nil {
			sink.Reach(address, false, away)
		}
	}
}

// leave answers whoever waits for a panel that is gone. The lock is held.
func (a *attached) leave() {
	for order, waits := range a.waiting {
		delete(a.waiting, order)
		close(waits)
	}
}

func (p *Panels) hear(address string, a *attached, message []byte) {
	var said Said
	if err := json.Unmarshal(message, &said); err != nil {
		p.fault("What a panel said cannot be read.")
		return
	}
	if said.Done != 0 {
		p.mu.Lock()
		waits := a.waiting[said.Done]
		delete(a.waiting, said.Done)
		p.mu.Unlock()
		if waits != nil {
			waits <- said // it has room for the one answer
		}
		return
	}
	if said.Event != "" {
		p.happened(address, &said)
		return
	}
	property := p.description.Property(said.Property)
	switch {
	case property == nil:
		p.fault(fmt.Sprintf("A panel says that its %q is something, and panels have no such thing.", cut(said.Property)))
		return
	case property.Check(said.Value) != nil:
		p.fault(fmt.Sprintf("A panel says what cannot be: %s.", property.Check(said.Value)))
		return
	}
	p.mu.Lock()
	before, known := a.last[said.Property]
	a.last[said.Property] = said.Value
	sink := p.sink
	p.mu.Unlock()
	if sink != nil && (!known || before != said.Value) {
		body, _ := json.Marshal(said) // it came as JSON
		connect.Heard(sink, "panel", body).Report(address, said.Property, said.Value)
	}
}

// happened takes that something happened at a panel, such as that a key went down.
func (p *Panels) happened(address string, said *Said) {
	event := p.description.Event(said.Event)
	switch {
	case event == nil:
		p.fault(fmt.Sprintf("A panel says that %q happened, and panels have no such thing.", cut(said.Event)))
		return
	case event.Check(said.Value) != nil:
		p.fault(fmt.Sprintf("A panel says what cannot be: %s.", event.Check(said.Value)))
		return
	}
	p.mu.Lock()
	sink := p.sink
	p.mu.Unlock()
	if sink != nil {
		body, _ := json.Marshal(said) // it came as JSON
		connect.Heard(sink, "panel", body).Event(address, said.Event, said.Value)
	}
}

// longestName is how much of a name that a panel made up is told.
const longestName = 40

func cut(text string) string {
	if letters := []rune(text); len(letters) > longestName {
		return string(letters[:longestName]) + "…"
	}
	return text
}

func (p *Panels) fault(reason string) {
	p.mu.Lock()
	sink := p.sink
	p.mu.Unlock()
	if sink != nil {
		sink.Fault(reason)
	}
}

// Run implements [connect.Connection].
func (p *Panels) Run(ctx context.Context, sink connect.Sink) {
	p.mu.Lock()
	p.sink = sink
	there, missing := p.sorted()
	p.mu.Unlock()
	sink.State(true, "")
	for _, address := range missing {
		sink.Reach(address, false, away)
	}
	for _, address := range there {
		sink.Reach(address, true, "")
		p.Recall(ctx, address)
	}
	<-ctx.Done()
	p.mu.Lock()
	p.sink = nil
	p.mu.Unlock()
}

// sorted returns which panels are there, and which of the home are not. The lock is held.
func (p *Panels) sorted() (there, missing []string) {
	for address := range p.attached {
		there = append(there, address)
	}
	for address := range p.home {
		if p.attached[address] == nil {
			missing = append(missing, address)
		}
	}
	return there, missing
}

// Select implements [connect.Selective].
func (p *Panels) Select(hardware map[string]bool) {
	p.mu.Lock()
	p.home = maps.Clone(hardware)
	there, missing := p.sorted()
	sink := p.sink
	p.mu.Unlock()
	if sink == nil {
		return
	}
	for _, address := range missing {
		sink.Reach(address, false, away)
	}
	for _, address := range there {
		sink.Reach(address, true, "")
	}
}

// order tells a panel to do something and returns what it answered.
func (p *Panels) order(ctx context.Context, address string, order Order) (Said, connect.Outcome) {
	p.mu.Lock()
	a := p.attached[address]
	if a == nil {
		p.mu.Unlock()
		return Said{}, connect.Unreached(away)
	}
	p.orders++
	order.Order = p.orders
	waits := make(chan Said, 1)
	a.waiting[order.Order] = waits
	p.mu.Unlock()
	forget := func() {
		p.mu.Lock()
		delete(a.waiting, order.Order)
		p.mu.Unlock()
	}
	if err := a.send(order); err != nil {
		forget()
		return Said{}, connect.Unreached(connect.Sentence(err))
	}
	late, cancel := context.WithTimeout(ctx, answersWithin)
	defer cancel()
	select {
	case said, there := <-waits:
		switch {
		case !there:
			return said, connect.Unreached(away)
		case said.Failed != "":
			return said, connect.Failed(strings.TrimSuffix(cutLong(said.Failed), ".") + ".")
		}
		return said, connect.Outcome{OK: true}
	case <-late.Done():
		forget()
		return Said{}, connect.Unreached("The panel did not answer in time.")
	}
}

// longestReason is how much of a reason that a panel gives is told.
const longestReason = 200

func cutLong(text string) string {
	if letters := []rune(text); len(letters) > longestReason {
		return string(letters[:longestReason])
	}
	return text
}

// Write implements [connect.Connection].
func (p *Panels) Write(ctx context.Context, address, property string, value thing.Value, _ time.Duration) connect.Outcome {
	_, outcome := p.order(ctx, address, Order{Property: property, Value: &value})
	return outcome
}

// Invoke implements [connect.Connection].
func (p *Panels) Invoke(ctx context.Context, address, action string, given thing.Inputs) connect.Outcome {
	said, outcome := p.order(ctx, address, Order{Action: action, Inputs: given})
	if action != TakePicture || !outcome.OK || p.keep == nil {
		return outcome
	}
	picture, err := said.picture()
	if err == nil {
		err = p.keep(ctx, address, picture.Data)
	}
	if err != nil {
		return connect.Failed(connect.Sentence(err))
	}
	return outcome
}

// Picture implements [connect.Pictured].
func (p *Panels) Picture(ctx context.Context, address, name string) (connect.Picture, error) {
	said, outcome := p.order(ctx, address, Order{Picture: name})
	if !outcome.OK {
		return connect.Picture{}, fmt.Errorf("%s", strings.TrimSuffix(outcome.Reason, "."))
	}
	return said.picture()
}

// picture returns what a panel took.
func (s Said) picture() (connect.Picture, error) {
	data, err := base64.StdEncoding.DecodeString(s.Picture)
	if err != nil || len(data) == 0 {
		return connect.Picture{}, errors.New("the panel sent no picture")
	}
	return connect.Picture{Data: data, ContentType: "image/jpeg"}, nil
}

// Sync implements [connect.Connection]: panels say by themselves how they are.
func (p *Panels) Sync(context.Context) {}

// Recall implements [connect.Connection].
func (p *Panels) Recall(_ context.Context, hardware string) {
	p.mu.Lock()
	sink := p.sink
	var last map[string]thing.Value
	if a := p.attached[hardware]; a != nil {
		last = maps.Clone(a.last)
	}
	p.mu.Unlock()
	if sink == nil {
		return
	}
	for property, value := range last {
		sink.Report(hardware, property, value)
	}
}
