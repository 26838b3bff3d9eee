package bridge_test

import (
	"context"
	"net/http"
	"net/http/httptest"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect/bridge"
	"amvek/connect/connecttest"
	"amvek/core/thing"
	"amvek/standin/lumbrook"
)

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

func run(t *testing.T, address, key string) (*bridge.Bridge, *connecttest.Heard) {
	b, h := bridge.New(address, key, "", connecttest.Profiles(t)), connecttest.NewHeard()
	ctx, cancel := context.WithCancel(context.Background())
	var running sync.WaitGroup
	running.Go(func() { b.Run(ctx, h) })
	t.Cleanup(func() { cancel(); running.Wait() })
	return b, h
}

func paired(t *testing.T) (*lumbrook.Bridge, *bridge.Bridge, *connecttest.Heard) {
	p := pretend(t)
	p.Press()
	key, err := bridge.RequestKey(context.Background(), p.Address())
	require.NoError(t, err)
	b, h := run(t, p.Address(), key)
	h.AwaitLast(t, "found", "21")
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
	number, err := bridge.Count(ctx, p.Address(), key)
	require.NoError(t, err)
	assert.Equal(t, 21, number)
	_, err = bridge.RequestKey(ctx, p.Address())
	assert.ErrorIs(t, err, bridge.ErrNotPressed, "one press gives one key")
}

func TestFaultsOfABridgeAreToldApart(t *testing.T) {
	ctx := context.Background()
	p := pretend(t)
	_, err := bridge.Count(ctx, p.Address(), "wrong")
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
	h.AwaitLast(t, tuned+" brightness", "0")
	require.True(t, b.Write(ctx, "lamps/7", "brightness", thing.Number(60), 0).OK)
	h.AwaitLast(t, tuned+" brightness", "59.8")
	require.True(t, b.Write(ctx, "lamps/7", "colorTemperature", thing.Number(2703), 0).OK)
	h.AwaitLast(t, tuned+" colorTemperature", "2702.7")
	require.True(t, b.Write(ctx, "lamps/9", "color", thing.Color(0.2, 0.3), 0).OK)
	h.AwaitLast(t, "lb-00-5a-31-09 color", "x 0.20 y 0.30")
	require.True(t, b.Write(ctx, "lamps/3", "power", thing.Boolean(true), time.Second).OK, "what cannot fade is not asked to")
	h.AwaitLast(t, "lb-00-5a-31-03 power", "true")

	on := true
	require.NoError(t, p.FromApp("4", lumbrook.Change{Lit: &on}))
	h.AwaitLast(t, dimmed+" brightness", "80.1")
	require.True(t, b.Invoke(ctx, "lamps/4", "identify", nil).OK)
	lamps, _, _ := p.Seen()
	assert.True(t, lamps[1].Blinking)
}

// A lamp that was white, then in a color, and is white again in the same white: that is told again.
func TestAWhiteThatComesBackIsToldAgain(t *testing.T) {
	p, _, h := paired(t)
	white, chroma := 250, [2]float64{0.5, 0.4}
	const color, warmth = "lb-00-5a-31-09 color x 0.50 y 0.40", "lb-00-5a-31-09 colorTemperature 4000"
	for round := 1; round <= 3; round++ {
		require.NoError(t, p.FromApp("9", lumbrook.Change{Mired: &white}))
		h.Until(t, "the white is not told", func() bool { return h.Count(warmth) == round })
		require.NoError(t, p.FromApp("9", lumbrook.Change{Chroma: &chroma}))
		h.Until(t, "the color is not told", func() bool { return h.Count(color) == round })
	}
}

func TestAWriteThatCannotBeDoneSaysWhy(t *testing.T) {
	p, b, _ := paired(t)
	ctx := context.Background()
	assert.Contains(t, b.Write(ctx, "lamps/4", "color", thing.Color(0.3, 0.3), 0).Reason, "no property color")
	assert.Contains(t, b.Write(ctx, "lamps/4", "brightness", thing.Number(300), 0).Reason, "from 0 to 100")
	assert.True(t, b.Write(ctx, "lamps/44", "brightness", thing.Number(30), 0).Unreached)
	p.Cut(true)
	outcome := b.Write(ctx, "lamps/4", "brightness", thing.Number(30), 0)
	assert.True(t, outcome.Unreached)
	assert.Contains(t, outcome.Reason, "cannot be reached")
}

func TestALostBridgeIsToldAndComesBackByItself(t *testing.T) {
	p, b, h := paired(t)
	h.AwaitLast(t, "up", "true")
	p.Cut(true)
	b.Sync(context.Background())
	h.AwaitLast(t, "up", "false The bridge cannot be reached")
	p.Cut(false)
	h.AwaitLast(t, "up", "true")
}

func TestARefusedKeyIsSaid(t *testing.T) {
	p := pretend(t)
	_, h := run(t, p.Address(), "expired")
	h.AwaitLast(t, "up", "does not accept the key")
}

func TestAPressIsHeardOnceAndAtOnce(t *testing.T) {
	p, b, h := paired(t)
	const plate = "lb-00-5a-31-41"
	h.AwaitLast(t, plate+" handler", "bridge")
	require.NoError(t, p.PressButton("41", 2, "press"))
	h.AwaitLast(t, plate+" button2!", "press")
	h.AwaitLast(t, dimmed+" brightness", "80.1") // the bridge acted too
	b.Sync(context.Background())                 // the same press, seen again in a poll, is not a second one
	assert.Equal(t, 1, h.Count(plate+" button2!"))

	require.True(t, b.Write(context.Background(), "plates/41", "handler", thing.Text("client"), 0).OK)
	h.AwaitLast(t, plate+" handler", "client")
	require.NoError(t, p.PressButton("41", 2, "hold"))
	h.AwaitLast(t, plate+" button2!", "hold")
	b.Sync(context.Background())
	h.AwaitLast(t, dimmed+" brightness", "80.1") // now the bridge leaves it to the hub
	assert.Error(t, p.PressButton("41", 9, "press"))
}

func TestTheBridgesOwnGroupsAreToldAndFollowed(t *testing.T) {
	p, b, h := paired(t)
	of := map[string]string{}
	for _, a := range h.Devices() {
		of[a.Hardware] = a.Groups
	}
	assert.Equal(t, "Downstairs", of[dimmed])
	assert.Equal(t, "Upstairs", of[tuned])
	assert.Empty(t, of["lb-00-5a-31-14"])
	on := true
	require.NoError(t, p.GroupFromApp("1", lumbrook.Change{Lit: &on}))
	b.Sync(context.Background())
	h.AwaitLast(t, dimmed+" brightness", "80.1")
	h.AwaitLast(t, "lb-00-5a-31-03 power", "true")
	assert.Error(t, p.GroupFromApp("9", lumbrook.Change{Lit: &on}))
}

func TestABridgeSwappedForAnotherIsNotTakenForIt(t *testing.T) {
	p := pretend(t)
	b, h := bridge.New(p.Address(), "key", "LB2-999999", connecttest.Profiles(t)), connecttest.NewHeard()
	ctx, cancel := context.WithCancel(context.Background())
	var running sync.WaitGroup
	running.Go(func() { b.Run(ctx, h) })
	h.AwaitLast(t, "up", "false Another bridge answers at this address")
	cancel()
	running.Wait()
	assert.Empty(t, h.Devices())
}
