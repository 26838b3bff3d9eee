package lan_test

import (
	"context"
	"net"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect/connecttest"
	"amvek/connect/discovery"
	"amvek/connect/lan"
	"amvek/core/thing"
	"amvek/standin/voxmere"
)

func TestGearThatSpeaksCommandsIsFoundAndUsed(t *testing.T) {
	const domain = "lantest.local"
	var mu sync.Mutex
	now := time.Date(2026, 11, 20, 20, 0, 0, 0, time.UTC)
	rack := voxmere.New(func() time.Time { mu.Lock(); defer mu.Unlock(); return now }, func() {})
	require.NoError(t, rack.Serve(domain))
	t.Cleanup(func() { _ = rack.Close() })
	loopback, err := net.InterfaceByName("lo")
	require.NoError(t, err)
	n, h := lan.New(
		lan.Options{Services: discovery.Network{Domain: domain, Interface: loopback}, Every: time.Millisecond},
		connecttest.Profiles(t),
	), connecttest.NewHeard()
	ctx, cancel := context.WithCancel(context.Background())
	var running sync.WaitGroup
	running.Go(func() { n.Run(ctx, h) })
	t.Cleanup(func() { cancel(); running.Wait() })
	h.Until(t, "not all found", func() bool {
		if len(h.Devices()) < 5 {
			go n.Search(ctx)
		}
		return len(h.Devices()) == 5
	})
	const projector, amplifier, player, switcher = "vx-9001", "vx-9002", "vx-9004", "vx-9003"
	h.AwaitLast(t, projector+" state", "off")
	h.AwaitLast(t, amplifier+" volume", "30")
	h.AwaitLast(t, player+" track", "Leat in March - The Sluice Quartet")
	h.AwaitLast(t, switcher+" zone8", "1")

	require.True(t, n.Write(ctx, rack.Address(projector), "power", thing.Boolean(true), 0).OK)
	h.AwaitLast(t, projector+" state", "warming up")
	busy := n.Write(ctx, rack.Address(projector), "input", thing.Text("2"), 0)
	assert.Equal(t, "The device refuses: BUSY.", busy.Reason)
	mu.Lock()
	now = now.Add(time.Minute)
	mu.Unlock()
	h.AwaitLast(t, projector+" state", "on") // it is asked again and again, since it does not tell
	h.AwaitLast(t, projector+" power", "true")
	require.True(t, n.Write(ctx, rack.Address(projector), "input", thing.Text("2"), 0).OK)
	h.AwaitLast(t, projector+" input", "2")

	require.True(t, n.Write(ctx, rack.Address(switcher), "zone3", thing.Text("7"), 0).OK)
	h.AwaitLast(t, switcher+" zone3", "7")
	require.True(t, n.Invoke(ctx, rack.Address(player), "next", nil).OK)
	h.AwaitLast(t, player+" track", "Seven Paddles")
	find := thing.Inputs{"search": thing.Text("slate rain"), "volume": thing.Number(50)}
	require.True(t, n.Invoke(ctx, rack.Address(player), "find", find).OK)
	h.AwaitLast(t, player+" track", "Rain on Slate - M. Tarn")
	h.AwaitLast(t, player+" volume", "50")
	h.AwaitLast(t, player+" playing", "true")
	assert.Equal(t, "The device refuses: NONE.", n.Invoke(ctx, rack.Address(player), "find", thing.Inputs{"search": thing.Text("opera")}).Reason)
	assert.Equal(t, "A line break cannot be sent.", n.Invoke(ctx, rack.Address(player), "find", thing.Inputs{"search": thing.Text("a\nPOW OFF")}).Reason)
	off := n.Write(ctx, rack.Address(amplifier), "volume", thing.Number(50), 0)
	assert.Equal(t, "The device refuses: OFF.", off.Reason)
	assert.Contains(t, n.Invoke(ctx, rack.Address(player), "fly", nil).Reason, "does not know the action")
	assert.Zero(t, h.Count("fault"))

	kept, err := rack.Save()
	require.NoError(t, err)
	again := voxmere.New(time.Now, func() {})
	require.NoError(t, again.Restore(kept))
	assert.Equal(t, "on", again.Seen()[0].Says)
}
