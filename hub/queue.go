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
	// patient is true if nobody waits for what comes of it.
	patient bool
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
	q.wake()
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

// wake has the loop look at what waits.
func (q *inbox) wake() {
	select {
	case q.ready <- struct{}{}:
	default:
	}
}

// pressing reports whether anything waits that is not patient.
func (q *inbox) pressing() bool {
	q.mu.Lock()
	defer q.mu.Unlock()
	return slices.ContainsFunc(q.items, func(it item) bool { return !it.patient })
}
