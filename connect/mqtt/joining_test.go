package mqtt_test

import (
	"context"
	"fmt"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect/mqtt"
	"amvek/core/thing"
	"amvek/standin/house"
	"amvek/standin/quillet"
)

// radio is the pretend gateway on a clock of its own, joined to the hub's broker.
type radio struct {
	*bench
	house   *house.House
	gateway *quillet.Radio
	mu      sync.Mutex
	now     time.Time
}

func newRadio(t *testing.T) *radio {
	r := &radio{bench: newBench(t), now: time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)}
	r.house = house.New(r.now, time.UTC, 51.5, -2.6)
	r.gateway = quillet.New(r.clock, r.house, func() {})
	topics := "quillet/" + quillet.Gateway
	r.broker.Allow(mqtt.Client{Name: "radio", Key: "kr", Publish: []string{topics + "/#"}, Subscribe: []string{topics + "/+/ask", topics + "/ask"}})
	ctx, cancel := context.WithCancel(context.Background())
	t.Cleanup(cancel)
	require.NoError(t, r.gateway.Connect(ctx, "mqtt://"+r.broker.Address(), "radio", "kr"))
	r.heard.Await(t, "qt-7f-10-49 output2") // the last of all that it announces
	return r
}

// rostered is how many devices are on the gateway's roster from the beginning.
func rostered() (n int) {
	for _, node := range quillet.Nodes {
		if node.Joined {
			n++
		}
	}
	return n
}

func (r *radio) clock() time.Time {
	r.mu.Lock()
	defer r.mu.Unlock()
	return r.now
}

// pass lets time pass, stopping whenever something is due.
func (r *radio) pass(d time.Duration) {
	end := r.clock().Add(d)
	for {
		r.gateway.Wake(context.Background())
		next := r.gateway.Next()
		if next.After(end) {
			next = end
		}
		if !next.After(r.clock()) {
			return
		}
		r.mu.Lock()
		r.now = next
		r.mu.Unlock()
	}
}

func (r *radio) open(t *testing.T, last time.Duration) {
	before := r.heard.Count("joining")
	require.NoError(t, r.gateways.Join(context.Background(), quillet.Gateway, last))
	r.heard.Until(t, "the gateway does not answer", func() bool { return r.heard.Count("joining") > before })
}

func TestAJoiningWindowShutsByItself(t *testing.T) {
	r := newRadio(t)
	r.open(t, 90*time.Second)
	r.heard.AwaitLast(t, "joining "+quillet.Gateway, "1m30s")
	r.pass(30 * time.Second)
	r.heard.AwaitLast(t, "joining "+quillet.Gateway, "1m0s")
	r.pass(61 * time.Second)
	r.heard.AwaitLast(t, "joining "+quillet.Gateway, "0s")
	_, until := r.gateway.Seen()
	assert.True(t, until.IsZero(), "nobody had to shut it")

	r.open(t, time.Hour)
	r.heard.AwaitLast(t, "joining "+quillet.Gateway, "3m0s") // never longer than the gateway lets
	r.open(t, 0)
	r.heard.AwaitLast(t, "joining "+quillet.Gateway, "0s")
}

func TestADeviceJoinsOnlyWhileTheGatewayIsOpen(t *testing.T) {
	r := newRadio(t)
	require.NoError(t, r.gateway.Offer("n50"))
	r.pass(2 * time.Minute)
	assert.Len(t, r.heard.Devices(), rostered(), "the gateway is shut, and the device gives up after a while")
	r.open(t, time.Minute)
	r.pass(time.Second)
	assert.Len(t, r.heard.Devices(), rostered())

	require.NoError(t, r.gateway.Offer("n50"))
	r.pass(time.Second)
	r.heard.Await(t, fmt.Sprintf("found %d", rostered()+1))
	r.heard.AwaitLast(t, "qt-7f-10-50 leak", "false")
	require.NoError(t, r.house.Pour("Galley", true))
	r.pass(time.Second)
	r.heard.AwaitLast(t, "qt-7f-10-50 leak", "true")
	assert.ErrorIs(t, r.gateway.Offer("n50"), quillet.ErrJoined)
	assert.Error(t, r.gateway.Offer("n999"))
}

func TestAResetDeviceComesBackUnderAnotherNumber(t *testing.T) {
	r := newRadio(t)
	ctx := context.Background()
	require.NoError(t, r.gateway.Reset(ctx, "n33"))
	r.heard.Until(t, "still listed", func() bool { return len(r.heard.Devices()) == rostered()-1 })
	r.open(t, time.Minute)
	require.NoError(t, r.gateway.Offer("n33"))
	r.pass(time.Second)
	r.heard.Until(t, "not back", func() bool { return len(r.heard.Devices()) == rostered() })
	for _, a := range r.heard.Devices() {
		if a.Hardware == "qt-7f-10-33" {
			assert.Equal(t, quillet.Gateway+"/n60", a.Address)
		}
	}
	for _, line := range r.heard.Lines() {
		assert.NotContains(t, line, "fault", "an emptied topic is no bad message")
	}

	kept, err := r.gateway.Save()
	require.NoError(t, err)
	again := quillet.New(r.clock, r.house, func() {})
	require.NoError(t, again.Restore(kept))
	require.Error(t, again.Restore([]byte("none")))
	seen, _ := again.Seen()
	assert.True(t, seen[2].Joined)
}

func TestARelayModuleIsOperatedThroughItsGateway(t *testing.T) {
	r := newRadio(t)
	ctx := context.Background()
	const module, address = "qt-7f-10-48 ", quillet.Gateway + "/n48"
	r.heard.AwaitLast(t, module+"kind", "twin")
	r.heard.AwaitLast(t, module+"reversed", "false")
	write := func(property string, v thing.Value) {
		require.True(t, r.gateways.Write(ctx, address, property, v, 0).OK)
	}
	write("kind", thing.Text("shutter"))
	r.heard.AwaitLast(t, module+"kind", "shutter")
	write("output1", thing.Boolean(true))
	r.heard.AwaitLast(t, module+"output1", "true")
	r.heard.AwaitLast(t, module+"watts", "140")
	r.pass(30 * time.Second)
	r.heard.AwaitLast(t, module+"watts", "0") // it is at its end, and what switched it on lets it be
	write("buttons", thing.Text("push"))
	r.heard.AwaitLast(t, module+"buttons", "push")
	assert.Contains(t, r.gateways.Write(ctx, address, "kind", thing.Text("dimmer"), 0).Reason, "one of")

	// Told to run both ways it burns out, and says nothing any more until it is renewed.
	write("output2", thing.Boolean(true))
	require.Eventually(t, func() bool {
		seen, _ := r.gateway.Seen()
		for _, d := range seen {
			if d.Node == "n48" {
				return d.Module.Burnt && len(d.Module.Log) == 1
			}
		}
		return false
	}, 30*time.Second, 5*time.Millisecond, "it still works")
	require.NoError(t, r.gateway.AtModule(ctx, "n48", func(m *quillet.Module, now time.Time) { m.Renew(now) }))
	r.heard.Await(t, module+"restarted! unknown")
	r.heard.AwaitLast(t, module+"output1", "false")
	assert.Error(t, r.gateway.AtModule(ctx, "n31", func(*quillet.Module, time.Time) {}))
}

func TestTheWallButtonsOfARelayModuleAreKeys(t *testing.T) {
	r := newRadio(t)
	ctx := context.Background()
	const module, address = "qt-7f-10-49 ", quillet.Gateway + "/n49"
	button := func(act func(m *quillet.Module, now time.Time)) {
		require.NoError(t, r.gateway.AtModule(ctx, "n49", act))
	}
	r.heard.AwaitLast(t, module+"handler", "module")
	button(func(m *quillet.Module, now time.Time) { m.Press(1, true, now) })
	r.heard.AwaitLast(t, module+"lower!", "down")
	r.heard.AwaitLast(t, module+"output2", "true") // it runs its motor by itself
	button(func(m *quillet.Module, now time.Time) { m.Press(1, false, now) })
	r.heard.AwaitLast(t, module+"lower!", "up")
	button(func(m *quillet.Module, now time.Time) { m.Tap(0, now) })
	r.heard.AwaitLast(t, module+"upper!", "down")
	r.heard.AwaitLast(t, module+"output2", "false")
	r.pass(time.Second)
	r.heard.AwaitLast(t, module+"upper!", "up")

	require.True(t, r.gateways.Write(ctx, address, "handler", thing.Text("client"), 0).OK)
	r.heard.AwaitLast(t, module+"handler", "client")
	downs := r.heard.Count("upper! down")
	button(func(m *quillet.Module, now time.Time) { m.Tap(0, now) })
	r.heard.Until(t, "it is still told", func() bool { return r.heard.Count("upper! down") > downs })
	r.heard.AwaitLast(t, module+"output1", "false")
	seen, _ := r.gateway.Seen()
	for _, d := range seen {
		if d.Node == "n49" {
			assert.Zero(t, d.Module.Running(), "left to the client, its buttons switch nothing")
		}
	}
}
