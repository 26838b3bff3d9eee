package lan_test

import (
	"context"
	"fmt"
	"net"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect/connecttest"
	"amvek/connect/lan"
	"amvek/core/thing"
	"amvek/standin/marrowby"
)

const (
	plug   = "mb-c4-12-a0"
	mover  = "mb-c4-12-d0"
	reader = "mb-c4-12-e0"
)

func pretend(t *testing.T) *marrowby.Network {
	n := marrowby.New(time.Now, stillHouse{}, func() {})
	require.NoError(t, n.Serve())
	t.Cleanup(func() { _ = n.Close() })
	return n
}

func run(t *testing.T, broadcast string) (*lan.Network, *connecttest.Heard) {
	n, h := lan.New(lan.Options{Broadcast: broadcast}, connecttest.Profiles(t)), connecttest.NewHeard()
	ctx, cancel := context.WithCancel(context.Background())
	var running sync.WaitGroup
	running.Go(func() { n.Run(ctx, h) })
	t.Cleanup(func() { cancel(); running.Wait() })
	return n, h
}

func found(t *testing.T) (*marrowby.Network, *lan.Network, *connecttest.Heard) {
	p := pretend(t)
	n, h := run(t, fmt.Sprintf("127.255.255.255:%d", p.Port()))
	h.Await(t, "found 8")
	return p, n, h
}

func address(t *testing.T, h *connecttest.Heard, hardware string) string {
	for _, a := range h.Devices() {
		if a.Hardware == hardware {
			return a.Address
		}
	}
	require.Fail(t, "not found", hardware)
	return ""
}

func TestDevicesAreFoundByBroadcastAndSpokenWith(t *testing.T) {
	p, n, h := found(t)
	ctx := context.Background()
	h.AwaitLast(t, plug+" power", "false")
	h.AwaitLast(t, plug+" energy", "0")
	for _, a := range h.Devices() {
		assert.Equal(t, a.Hardware != reader, a.Profile != nil, "the reader's profile is not installed")
	}
	require.True(t, n.Write(ctx, address(t, h, plug), "power", thing.Boolean(true), 0).OK)
	h.AwaitLast(t, plug+" power", "true")
	h.AwaitLast(t, plug+" electricPower", "46")
	require.True(t, n.Write(ctx, address(t, h, mover), "speed", thing.Number(50), 0).OK)
	h.AwaitLast(t, mover+" speed", "50")
	require.NoError(t, p.Switch(plug, false))
	h.AwaitLast(t, plug+" power", "false") // told by the device, not asked for
	require.True(t, n.Invoke(ctx, address(t, h, plug), "identify", nil).OK)
	assert.True(t, p.Seen()[0].Blinking)
	assert.Contains(t, n.Write(ctx, address(t, h, plug), "energy", thing.Number(1), 0).Reason, "cannot write energy")
	assert.True(t, n.Write(ctx, "127.0.0.1:1", "power", thing.Boolean(true), 0).Unreached)
}

func TestADeviceWithANewAddressIsFollowed(t *testing.T) {
	p, n, h := found(t)
	ctx := context.Background()
	h.AwaitLast(t, "reach "+plug, "true")
	before := address(t, h, plug)
	require.NoError(t, p.Restart())
	h.AwaitLast(t, "reach "+plug, "false")
	n.Search(ctx)
	h.AwaitLast(t, "reach "+plug, "true")
	after := address(t, h, plug)
	assert.NotEqual(t, before, after)
	require.True(t, n.Write(ctx, after, "power", thing.Boolean(true), 0).OK)
	h.AwaitLast(t, plug+" power", "true")
}

func TestAPulledPlugIsToldAndTheOthersGoOn(t *testing.T) {
	p, n, h := found(t)
	h.AwaitLast(t, "reach "+plug, "true")
	require.NoError(t, p.Pull(plug, true))
	h.AwaitLast(t, "reach "+plug, "false")
	outcome := n.Write(context.Background(), address(t, h, plug), "power", thing.Boolean(true), 0)
	assert.True(t, outcome.Unreached, outcome.Reason)
	require.True(t, n.Write(context.Background(), address(t, h, mover), "speed", thing.Number(100), 0).OK)
	require.NoError(t, p.Pull(plug, false))
	h.AwaitLast(t, "reach "+plug, "true")
	assert.Error(t, p.Pull("none", true))
}

// strangers answers the search with whatever it is told, over UDP.
func strangers(t *testing.T, answers ...string) string {
	udp, err := net.ListenUDP("udp4", &net.UDPAddr{IP: net.IPv4(127, 0, 0, 1)})
	require.NoError(t, err)
	t.Cleanup(func() { _ = udp.Close() })
	go func() {
		buffer := make([]byte, 512)
		for {
			_, from, err := udp.ReadFromUDP(buffer)
			if err != nil {
				return
			}
			for _, a := range answers {
				_, _ = udp.WriteToUDP([]byte(a), from)
			}
		}
	}()
	return udp.LocalAddr().String()
}

func TestStrangeAnswersDoNoHarm(t *testing.T) {
	_, h := run(t, strangers(t,
		`not json`, `{}`, `{"hardware":"x","port":99999}`, `[1,2]`,
		`{"hardware":"hw1","model":"MP-1","label":"One","port":1}`,
		`{"hardware":"hw1","model":"MP-1","label":"One","port":2}`))
	h.Await(t, "found 1")
	h.Await(t, "Two devices say that they are hw1")
	h.AwaitLast(t, "reach hw1", "false The device cannot be reached at 127.0.0.1:1")
	h.AwaitLast(t, "up", "true")
}

func TestADeviceThatSpeaksNonsenseIsSaid(t *testing.T) {
	device, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { _ = device.Close() })
	go func() {
		for {
			c, err := device.Accept()
			if err != nil {
				return
			}
			_, _ = c.Write([]byte("hello\n{\"state\":{\"on\":\"perhaps\",\"dw\":\"many\",\"wh\":7000}}\n"))
		}
	}()
	_, port, err := net.SplitHostPort(device.Addr().String())
	require.NoError(t, err)
	_, h := run(t, strangers(t, `{"hardware":"hw2","model":"MP-1","label":"Odd plug","port":`+port+`}`))
	h.Await(t, "Odd plug: the message is not a JSON object")
	h.Await(t, "Power: the device sent perhaps where yes or no was expected")
	h.AwaitLast(t, "hw2 energy", "7") // beside the wrong fields the good one counts
}

// stillHouse is a house in which nothing that devices do has any effect.
type stillHouse struct{}

func (stillHouse) Heat(string, float64) {}
func (stillHouse) Wind(string, bool)    {}
