package hub

import (
	"runtime"
	"slices"
	"sync"
	"time"

	"amvek/core/engine"
	"amvek/core/thing"
)

// inboxLimit is how many inputs wait at most; past it reports coalesce whatever
// their type, and events of a flooding device are refused.
const inboxLimit = 8192

// inbox is the bounded queue to the loop. Numeric reports of one property coalesce, the
// last wins, so a flood shrinks instead of piling up. Jobs are as many as there are who wait for them: whoever sends
// more than one without waiting keeps what they are about and sends one, as [overheard] does.
type inbox struct {
	mu    sync.Mutex
	items []item
	spare []item
	last  map[thing.Ref]int // where in items a property's newest report stands
	ready chan struct{}
}

// item is one of a report, another input, and a job.
type item struct {
	report report
	input  *engine.Input
	job    func()
	// at is when it came, by the machine's clock.
	at time.Time
}

// report is what a device says of a property, by far the most frequent of what comes in.
type report struct {
	thing.Ref
	value  thing.Value
	polled bool
}

func newInbox() *inbox {
	return &inbox{last: map[thing.Ref]int{}, ready: make(chan struct{}, 1)}
}

// push takes an item; it is false for an event that does not fit any more.
func (q *inbox) push(it item) bool {
	it.at = time.Now()
	q.mu.Lock()
	full := len(q.items) >= inboxLimit
	switch {
	case it.report.Device != "":
		at, waiting := q.last[it.report.Ref]
		if waiting && (full || it.report.value.Kind == thing.KindNumber) {
			q.items[at].report.value = it.report.value
			q.mu.Unlock()
			return true
		}
		q.last[it.report.Ref] = len(q.items)
	case full && it.input != nil && it.input.Kind == engine.InputEvent:
		q.mu.Unlock()
		return false
	}
	q.items = append(q.items, it)
	q.mu.Unlock()
	select {
	case q.ready <- struct{}{}:
	default:
	}
	// The loop goes first: what the sender has left to do, such as reading on, is not what the house waits for.
	runtime.Gosched()
	return true
}

// take returns all that waits.
func (q *inbox) take() (items []item) {
	q.mu.Lock()
	defer q.mu.Unlock()
	items = q.items
	q.items = q.spare[:0]
	q.spare = items
	clear(q.last)
	return items
}

// outbox is the bounded queue of commands to one connection. Commands to one property
// coalesce, the last wins; the bound is the number of properties behind the connection.
// Commands to one device go out one after the other; a slow device delays no other.
type outbox struct {
	mu      sync.Mutex
	order   []thing.Ref
	waiting map[thing.Ref]delivery
	busy    map[string]bool // devices with a command under way
	ready   chan struct{}
	idle    *sync.Cond
}

type delivery struct {
	output  engine.Output
	address string
}

func newOutbox() *outbox {
	q := &outbox{waiting: map[thing.Ref]delivery{}, busy: map[string]bool{}, ready: make(chan struct{}, 1)}
	q.idle = sync.NewCond(&q.mu)
	return q
}

func (q *outbox) push(d delivery) {
	ref := thing.Ref{Device: d.output.Device, Name: d.output.Name}
	q.mu.Lock()
	if _, there := q.waiting[ref]; !there {
		q.order = append(q.order, ref)
	}
	q.waiting[ref] = d
	q.mu.Unlock()
	q.signal()
}

func (q *outbox) signal() {
	select {
	case q.ready <- struct{}{}:
	default:
	}
}

// drain returns what waits, and waits no longer.
func (q *outbox) drain() []delivery {
	q.mu.Lock()
	defer q.mu.Unlock()
	left := make([]delivery, 0, len(q.order))
	for _, ref := range q.order {
		if d, there := q.waiting[ref]; there {
			left = append(left, d)
		}
	}
	q.order = nil
	clear(q.waiting)
	q.idle.Broadcast()
	return left
}

// next returns the next delivery to a device that has none under way; it counts as under way
// until done is called.
func (q *outbox) next() (delivery, bool) {
	q.mu.Lock()
	defer q.mu.Unlock()
	for i, ref := range q.order {
		if q.busy[ref.Device] {
			continue
		}
		q.order = slices.Delete(q.order, i, i+1)
		d := q.waiting[ref]
		delete(q.waiting, ref)
		q.busy[ref.Device] = true
		if len(q.order) > 0 {
			q.signal() // another worker may have something to do as well
		}
		return d, true
	}
	return delivery{}, false
}

// claim takes a device as having a command under way, until done is called; it is false where it has one already, or
// one that waits.
func (q *outbox) claim(device string) bool {
	q.mu.Lock()
	defer q.mu.Unlock()
	if q.busy[device] || slices.ContainsFunc(q.order, func(ref thing.Ref) bool { return ref.Device == device }) {
		return false
	}
	q.busy[device] = true
	return true
}

func (q *outbox) done(d delivery) {
	q.mu.Lock()
	delete(q.busy, d.output.Device)
	more := len(q.order) > 0
	q.idle.Broadcast()
	q.mu.Unlock()
	if more {
		q.signal()
	}
}

// waits returns how many commands wait.
func (q *outbox) waits() int {
	q.mu.Lock()
	defer q.mu.Unlock()
	return len(q.order)
}

// wait returns when nothing waits and nothing is under way.
func (q *outbox) wait() {
	q.mu.Lock()
	for len(q.order) > 0 || len(q.busy) > 0 {
		q.idle.Wait()
	}
	q.mu.Unlock()
}
