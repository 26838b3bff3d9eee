package bridge_test

import (
	"context"
	"fmt"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/connect/bridge"
	"amvek/core/thing"
	"amvek/profiles"
	"amvek/standin/lumbrook"
)

// heard keeps the last of each that a connection tells.
type heard struct {
	mu     sync.Mutex
	last   map[string]string
	signal chan struct{}
}

func newHeard() *heard { return &heard{last: map[string]string{}, signal: make(chan struct{}, 1)} }

func (h *heard) set(key, value string) {
	h.mu.Lock()
	h.last[key] = value
	h.mu.Unlock()
	select {
	case h.signal <- struct{}{}:
	default:
	}
}
func (h *heard) Found(list []connect.Announcement) { h.set("found", fmt.Sprint(len(list))) }
func (h *heard) Report(hardware, property string, v thing.Value) {
	h.set(hardware+" "+property, v.String())
}
func (h *heard) Event(string, string, thing.Value) {}
func (h *heard) State(up bool, reason string)      { h.set("state", fmt.Sprintf("%t %s", up, reason)) }
func (h *heard) Fault(reason string)               { h.set("fault", reason) }

func (h *heard) await(t *testing.T, key, words string) {
	t.Helper()
	limit := time.After(10 * time.Second)
	for {
		h.mu.Lock()
		got := h.last[key]
		h.mu.Unlock()
		if strings.Contains(got, words) {
			return
		}
		select {
		case <-h.signal:
		case <-limit:
			require.Fail(t, "never heard: "+key+" "+words, "but %s", got)
		}
	}
}

const (
	tuned  = "lb-00-5a-31-07"
	dimmed = "lb-00-5a-31-04"
)

func pretend(t *testing.T) *lumbrook.Bridge {
	b := lumbrook.New(time.Now, func() {})
	require.NoError(t, b.Serve("127.0.0.1:0"))
	t.Cleanup(func() { _ = b.Close(context.Background()) })
	return b
}

func run(t *testing.T, address, key string) (*bridge.Bridge, *heard) {
	catalogue, err := profiles.Load()
	require.NoError(t, err)
	b, h := bridge.New(address, key, func(m string) *thing.Model { return catalogue[m] }), newHeard()
	ctx, cancel := context.WithCancel(context.Background())
	var running sync.WaitGroup
	running.Go(func() { b.Run(ctx, h) })
	t.Cleanup(func() { cancel(); running.Wait() })
	return b, h
}

func paired(t *testing.T) (*lumbrook.Bridge, *bridge.Bridge, *heard) {
	p := pretend(t)
	p.Press()
	key, err := bridge.RequestKey(context.Background(), p.Address())
	require.NoError(t, err)
	b, h := run(t, p.Address(), key)
	h.await(t, "found", "4")
	return p, b, h
}

func TestPairingNeedsThePress(t *testing.T) {
	ctx := context.Background()
	p := pretend(t)
	about, err := bridge.Probe(ctx, p.Address())
	require.NoError(t, err)
	assert.Equal(t, "LB2-005A31", about.Serial)
	_, err = bridge.RequestKey(ctx, p.Address())
	assert.ErrorIs(t, err, bridge.ErrNotPressed)
	p.Press()
	key, err := bridge.RequestKey(ctx, p.Address())
	require.NoError(t, err)
	number, err := bridge.CountLamps(ctx, p.Address(), key)
	require.NoError(t, err)
	assert.Equal(t, 4, number)
	_, err = bridge.RequestKey(ctx, p.Address())
	assert.ErrorIs(t, err, bridge.ErrNotPressed, "one press gives one key")
}

func TestFaultsOfABridgeAreToldApart(t *testing.T) {
	ctx := context.Background()
	p := pretend(t)
	_, err := bridge.CountLamps(ctx, p.Address(), "wrong")
	assert.ErrorIs(t, err, bridge.ErrKey)

	_, err = bridge.Probe(ctx, "127.0.0.1:1")
	assert.ErrorIs(t, err, bridge.ErrUnreachable)
	_, err = bridge.Probe(ctx, "no address at all")
	assert.ErrorIs(t, err, bridge.ErrUnreachable)

	p.Cut(true)
	_, err = bridge.Probe(ctx, p.Address())
	assert.ErrorIs(t, err, bridge.ErrUnreachable)

	for _, body := range []string{`<html>`, `{}`, `{"maker":"Other","serial":"1"}`} {
		other := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write([]byte(body)) }))
		_, err = bridge.Probe(ctx, other.Listener.Addr().String())
		assert.ErrorIs(t, err, bridge.ErrNotABridge, body)
		other.Close()
	}

	release := make(chan struct{})
	slow := httptest.NewServer(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { <-release }))
	limited, cancel := context.WithTimeout(ctx, 50*time.Millisecond)
	_, err = bridge.Probe(limited, slow.Listener.Addr().String())
	assert.ErrorIs(t, err, bridge.ErrSlow)
	cancel()
	close(release)
	slow.Close()
}

func TestLampsAreWrittenAndHeardInCanonicalUnits(t *testing.T) {
	p, b, h := paired(t)
	ctx := context.Background()
	h.await(t, tuned+" brightness", "0")
	require.True(t, b.Write(ctx, "7", "brightness", thing.Number(60), 0).OK)
	h.await(t, tuned+" brightness", "59.8")
	require.True(t, b.Write(ctx, "7", "colorTemperature", thing.Number(2703), 0).OK)
	h.await(t, tuned+" colorTemperature", "2702.7")
	require.True(t, b.Write(ctx, "9", "color", thing.Color(0.2, 0.3), 0).OK)
	h.await(t, "lb-00-5a-31-09 color", "x 0.20 y 0.30")
	require.True(t, b.Write(ctx, "3", "power", thing.Boolean(true), time.Second).OK, "what cannot fade is not asked to")
	h.await(t, "lb-00-5a-31-03 power", "true")

	on := true
	require.NoError(t, p.FromApp("4", lumbrook.Change{Lit: &on}))
	h.await(t, dimmed+" brightness", "80.1")
	require.True(t, b.Invoke(ctx, "4", "identify").OK)
	lamps, _, _ := p.Seen()
	assert.True(t, lamps[1].Blinking)
}

func TestAWriteThatCannotBeDoneSaysWhy(t *testing.T) {
	p, b, _ := paired(t)
	ctx := context.Background()
	assert.Contains(t, b.Write(ctx, "4", "color", thing.Color(0.3, 0.3), 0).Reason, "no property color")
	assert.Contains(t, b.Write(ctx, "4", "brightness", thing.Number(300), 0).Reason, "from 0 to 100")
	assert.True(t, b.Write(ctx, "44", "brightness", thing.Number(30), 0).Unreached)
	p.Cut(true)
	outcome := b.Write(ctx, "4", "brightness", thing.Number(30), 0)
	assert.True(t, outcome.Unreached)
	assert.Contains(t, outcome.Reason, "cannot be reached")
}

func TestALostBridgeIsToldAndComesBackByItself(t *testing.T) {
	p, b, h := paired(t)
	h.await(t, "state", "true")
	p.Cut(true)
	b.Sync(context.Background())
	h.await(t, "state", "false The bridge cannot be reached")
	p.Cut(false)
	h.await(t, "state", "true")
}

func TestARefusedKeyIsSaid(t *testing.T) {
	p := pretend(t)
	_, h := run(t, p.Address(), "expired")
	h.await(t, "state", "does not accept the key")
}
