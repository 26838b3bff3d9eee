package links

import (
	"slices"
	"sync"

	"amvek/core/engine"
	"amvek/core/thing"
)

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

func (q *outbox) done(d delivery) { q.free(d.output.Device) }

// free takes that a device has nothing under way any more.
func (q *outbox) free(device string) {
	q.mu.Lock()
	delete(q.busy, device)
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
