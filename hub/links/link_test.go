package links

import (
	"context"
	"fmt"
	"log/slog"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/core/engine"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// loop stands for the hub: it does jobs when it is told to, and writes down what it is told.
type loop struct {
	mu   sync.Mutex
	jobs []func()
	told []string
}

func (h *loop) Report(ref thing.Ref, value thing.Value, _ bool) { h.tell("report %s %s", ref, value) }
func (h *loop) Event(device, event string, _ thing.Value) bool {
	h.tell("event %s %s", device, event)
	return true
}
func (h *loop) Outcome(command engine.Output, outcome connect.Outcome) {
	h.tell("outcome %s %v", command.Name, outcome.OK)
}
func (h *loop) Undelivered(command engine.Output, reason string) {
	h.tell("undelivered %s: %s", command.Name, reason)
}
func (h *loop) Job(job func()) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.jobs = append(h.jobs, job)
}

func (h *loop) Now() time.Time { return time.Date(2026, 11, 28, 21, 0, 0, 0, time.UTC) }
func (h *loop) Stands(_ *Link, up bool, reason string, changed, first bool) {
	h.tell("stands %v %q changed %v first %v", up, reason, changed, first)
}
func (h *loop) Reaches(device string, reached bool, reason string, behind bool) {
	h.tell("reaches %s %v %q behind %v", device, reached, reason, behind)
}
func (h *loop) GatewayReached(_ *Link, gateway string, reached bool, _ string) {
	h.tell("gateway %s %v", gateway, reached)
}
func (h *loop) Changed(*Link)                       {}
func (h *loop) Noticed(device string)               { h.tell("noticed %s", device) }
func (h *loop) Behind(_ *Link, g map[string]string) { h.tell("behind %v", g) }
func (h *loop) Found(l *Link)                       { h.tell("found %d", len(l.Announcements())) }
func (h *loop) Overheard(_ *Link, hardware string)  { h.tell("overheard %s", hardware) }

func (h *loop) tell(format string, args ...any) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.told = append(h.told, fmt.Sprintf(format, args...))
}

// turn does what waits, and returns what was told since it was called last.
func (h *loop) turn() []string {
	for {
		h.mu.Lock()
		jobs := h.jobs
		h.jobs = nil
		h.mu.Unlock()
		if len(jobs) == 0 {
			break
		}
		for _, job := range jobs {
			job()
		}
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	told := h.told
	h.told = nil
	return told
}

// wire is a connection that does what it is told, until its context ends.
type wire struct {
	connect.Connection
	ending chan struct{} // where it is not nil, it ends only once this is closed
}

func (w *wire) Run(ctx context.Context, _ connect.Sink) {
	<-ctx.Done()
	if w.ending != nil {
		<-w.ending
	}
}

func (w *wire) Write(context.Context, string, string, thing.Value, time.Duration) connect.Outcome {
	return connect.Outcome{OK: true}
}

func newLink(h *loop, connection connect.Connection) *Link {
	return New(Options{
		ID: "gateways", Definition: docs.Connection{Title: "Gateways"}, Connection: connection, Inbox: h, Home: h, Log: slog.New(slog.DiscardHandler),
		Devices: map[string]string{"w1": "lamp", "w2": "shutter"},
	})
}

func announce(hardware, gateway string) connect.Announcement {
	return connect.Announcement{Hardware: hardware, Gateway: gateway, Label: hardware}
}

func TestWhatAGatewayNoLongerListsIsNoticedOnce(t *testing.T) {
	h := &loop{}
	l := newLink(h, &wire{})
	l.Found([]connect.Announcement{announce("w1", "Rosehip"), announce("w2", "Rosehip")})
	assert.Equal(t, []string{"behind map[w1:Rosehip w2:Rosehip]", "found 2"}, h.turn())
	l.Found([]connect.Announcement{announce("w1", "Rosehip")})
	assert.Equal(t, []string{"noticed shutter", "found 1"}, h.turn())
	assert.Equal(t, "Its gateway Rosehip no longer lists it.", l.LeftBy("w2"))
	assert.Empty(t, l.LeftBy("w1"))
	l.Found([]connect.Announcement{announce("w1", "Rosehip")})
	assert.Equal(t, []string{"found 1"}, h.turn(), "told once")
	l.Found([]connect.Announcement{announce("w1", "Rosehip"), announce("w2", "Sloe")})
	assert.Equal(t, []string{"noticed shutter", "behind map[w1:Rosehip w2:Sloe]", "found 2"}, h.turn())
	assert.Empty(t, l.LeftBy("w2"), "another gateway has it now")
}

func TestALostGatewayIsToldOnceForAllItsDevices(t *testing.T) {
	h := &loop{}
	l := newLink(h, &wire{})
	l.Found([]connect.Announcement{announce("w1", "Rosehip"), announce("w2", "Rosehip")})
	h.turn()
	l.Reach("w1", false, "no power")
	l.Reach("w2", false, "no power")
	l.Reach("w2", false, "no power")
	assert.Equal(t, []string{
		"gateway Rosehip false", `reaches lamp false "no power" behind true`, `reaches shutter false "no power" behind true`,
	}, h.turn(), "and the same word twice is told once")
	unreached, reason := l.Unreached("w1")
	assert.True(t, unreached)
	assert.Equal(t, "no power", reason)
	l.Reach("w1", true, "")
	assert.Equal(t, []string{"gateway Rosehip true", `reaches lamp true "" behind true`}, h.turn())
}

func TestHardwareThatAnnouncesItselfTwiceIsLeftOutAndTold(t *testing.T) {
	h := &loop{}
	l := newLink(h, &wire{})
	l.Found([]connect.Announcement{announce("w1", ""), announce("w1", "")})
	assert.Contains(t, h.turn(), "found 1")
	view := l.View()
	assert.Equal(t, 1, view.Faults)
	assert.Contains(t, view.LastFault, "the same hardware, w1")
}

func TestALinkThatWasStoppedTellsNothingMore(t *testing.T) {
	h, workers := &loop{}, &sync.WaitGroup{}
	l := newLink(h, &wire{})
	l.Begin(t.Context(), workers, nil)
	l.State(true, "")
	assert.Equal(t, []string{`stands true "" changed true first true`}, h.turn())
	l.State(false, "cable out")
	l.Stop()
	assert.Empty(t, h.turn(), "what it said before it was stopped and nobody took yet counts no more")
	workers.Wait()
}

func TestASessionBeginsOnceTheOneBeforeHasEnded(t *testing.T) {
	h, workers := &loop{}, &sync.WaitGroup{}
	first := &wire{ending: make(chan struct{})}
	before := newLink(h, first)
	before.Begin(t.Context(), workers, nil)
	before.Stop()
	next := newLink(h, &wire{})
	next.Begin(t.Context(), workers, before)
	next.Deliver(engine.Output{Kind: engine.OutputCommand, Device: "lamp", Name: "on"}, "", "w1")
	assert.Empty(t, h.turn(), "nothing goes out while the one before may still clear what this one set up")
	close(first.ending)
	next.outbox.wait()
	assert.Equal(t, []string{"outcome on true"}, h.turn())
	next.Stop()
	workers.Wait()
}

func TestWhatCannotBeSentIsToldWithTheReason(t *testing.T) {
	h := &loop{}
	command := engine.Output{Kind: engine.OutputCommand, Device: "lamp", Name: "on"}
	l := newLink(h, &wire{})
	l.Definition.Paused = true
	l.Deliver(command, "", "w1")
	assert.Equal(t, []string{"undelivered on: The connection of this device is paused."}, h.turn())

	impossible := New(Options{ID: "x", Reason: "Its key cannot be read.", Inbox: h, Home: h, Log: slog.New(slog.DiscardHandler)})
	impossible.Deliver(command, "", "w1")
	assert.Equal(t, []string{"undelivered on: Its key cannot be read."}, h.turn())
	down, reason := impossible.Down()
	require.True(t, down)
	assert.Equal(t, "Its key cannot be read.", reason)
}

func TestWhatWaitedWhenALinkEndsIsUndelivered(t *testing.T) {
	h, workers := &loop{}, &sync.WaitGroup{}
	l := newLink(h, &wire{})
	ctx, stop := context.WithCancel(t.Context())
	l.outbox.push(delivery{output: engine.Output{Kind: engine.OutputCommand, Device: "lamp", Name: "on"}})
	require.True(t, l.outbox.claim("shutter"))
	l.outbox.busy["lamp"] = true // another is under way to it, so this one waits
	l.Begin(ctx, workers, nil)
	stop()
	workers.Wait()
	assert.Equal(t, []string{"undelivered on: The connection was changed before this was sent."}, h.turn())
}
