package links

import (
	"sync"
	"time"
)

const (
	trafficSlots = 12
	trafficSlot  = 5 * time.Second // twelve of them make the minute that is counted
)

// traffic counts the messages of a connection over the last minute, by the machine's clock, and
// how long its commands take. The zero value has counted nothing.
type traffic struct {
	mu      sync.Mutex
	slots   [trafficSlots]int
	current int64 // number of the slot that is being filled
	round   float64
}

// forward empties the slots that are older than a minute.
func (t *traffic) forward(now time.Time) {
	slot := now.UnixNano() / int64(trafficSlot)
	for n := max(t.current+1, slot-trafficSlots+1); n <= slot; n++ {
		t.slots[n%trafficSlots] = 0
	}
	t.current = max(t.current, slot)
}

// count counts one message.
func (t *traffic) count(now time.Time) {
	t.mu.Lock()
	defer t.mu.Unlock()
	t.forward(now)
	t.slots[t.current%trafficSlots]++
}

// took takes how long a command took; the figure shown follows the last ones.
func (t *traffic) took(d time.Duration) {
	const weight = 0.2
	ms := float64(d.Microseconds()) / 1000
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.round == 0 {
		t.round = ms
	}
	t.round += weight * (ms - t.round)
}

// read returns the messages of the last minute and the milliseconds a command takes, 0 when none was sent.
func (t *traffic) read(now time.Time) (perMinute int, milliseconds float64) {
	t.mu.Lock()
	defer t.mu.Unlock()
	t.forward(now)
	for _, n := range t.slots {
		perMinute += n
	}
	return perMinute, t.round
}
