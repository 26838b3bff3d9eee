// Package connecttest helps to test connections: a sink that remembers what it was told and
// waits for words. It is for tests alone.
package connecttest

import (
	"fmt"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"amvek/connect"
	"amvek/core/thing"
	"amvek/profiles"
)

// patience is how long a test waits for what should come at once.
const patience = 30 * time.Second

// Heard is a sink that remembers. Make one with [NewHeard].
type Heard struct {
	mu      sync.Mutex
	lines   []string
	last    map[string]string
	found   []connect.Announcement
	changed chan struct{} // closed and made anew whenever something is heard
}

// NewHeard returns a sink that has heard nothing.
func NewHeard() *Heard { return &Heard{last: map[string]string{}, changed: make(chan struct{})} }

func (h *Heard) hear(key, value string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.lines = append(h.lines, key+" "+value)
	h.last[key] = value
	close(h.changed)
	h.changed = make(chan struct{})
}

// Found implements [connect.Sink].
func (h *Heard) Found(list []connect.Announcement) {
	h.mu.Lock()
	h.found = slices.Clone(list)
	h.mu.Unlock()
	h.hear("found", fmt.Sprint(len(list)))
}

// Report implements [connect.Sink].
func (h *Heard) Report(hardware, property string, v thing.Value) {
	h.hear(hardware+" "+property, v.String())
}

// Event implements [connect.Sink].
func (h *Heard) Event(hardware, event string, v thing.Value) {
	h.hear(hardware+" "+event+"!", v.String())
}

// State implements [connect.Sink].
func (h *Heard) State(up bool, reason string) {
	h.hear("up", strings.TrimSpace(fmt.Sprint(up, " ", reason)))
}

// Fault implements [connect.Sink].
func (h *Heard) Fault(reason string) { h.hear("fault", reason) }

// Reach implements [connect.Sink].
func (h *Heard) Reach(hardware string, reached bool, reason string) {
	h.hear("reach "+hardware, strings.TrimSpace(fmt.Sprint(reached, " ", reason)))
}

// Joining implements [connect.Sink].
func (h *Heard) Joining(gateway string, left time.Duration) {
	h.hear("joining "+gateway, left.String())
}

// Devices returns what was last found.
func (h *Heard) Devices() []connect.Announcement {
	h.mu.Lock()
	defer h.mu.Unlock()
	return slices.Clone(h.found)
}

// Forget forgets all that was heard.
func (h *Heard) Forget() {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.lines = nil
	clear(h.last)
}

// Lines returns all that was heard.
func (h *Heard) Lines() []string {
	h.mu.Lock()
	defer h.mu.Unlock()
	return slices.Clone(h.lines)
}

// Count returns how many lines so far hold the words.
func (h *Heard) Count(words string) int {
	h.mu.Lock()
	defer h.mu.Unlock()
	n := 0
	for _, line := range h.lines {
		if strings.Contains(line, words) {
			n++
		}
	}
	return n
}

// Await returns once a line with the words was heard, at any time.
func (h *Heard) Await(t *testing.T, words string) {
	t.Helper()
	h.Until(t, "never heard: "+words, func() bool { return h.Count(words) > 0 })
}

// AwaitLast returns once what was last heard of a key, such as "up" or "HARDWARE PROPERTY", holds the words.
func (h *Heard) AwaitLast(t *testing.T, key, words string) {
	t.Helper()
	h.Until(t, "never heard: "+key+" "+words, func() bool {
		h.mu.Lock()
		defer h.mu.Unlock()
		value, there := h.last[key]
		return there && strings.Contains(value, words)
	})
}

// Until returns once the condition is true; it is looked at whenever something is heard.
func (h *Heard) Until(t *testing.T, otherwise string, condition func() bool) {
	t.Helper()
	limit := time.After(patience)
	for {
		h.mu.Lock()
		changed := h.changed
		h.mu.Unlock()
		if condition() {
			return
		}
		select {
		case <-changed:
		case <-limit:
			h.mu.Lock()
			all := strings.Join(h.lines, "\n")
			h.mu.Unlock()
			t.Fatalf("%s\nheard was:\n%s", otherwise, all)
		}
	}
}

// Profiles returns the shipped catalogue as connections ask for it.
func Profiles(t testing.TB) func(model string) *thing.Model {
	shipped, err := profiles.Load()
	if err != nil {
		t.Fatal(err)
	}
	return func(model string) *thing.Model {
		for _, s := range shipped {
			if s.Installed && s.Model.Model == model {
				return s.Model
			}
		}
		return nil
	}
}
