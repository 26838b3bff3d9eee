package radio_test

import (
	"context"
	"net"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect/connecttest"
	"amvek/connect/radio"
	"amvek/core/thing"
	"amvek/standin/haskett"
)

func pretend(t *testing.T) *haskett.Air {
	a := haskett.New(time.Now, func(string) float64 { return 6.34 }, func() {})
	require.NoError(t, a.Serve("127.0.0.1:0"))
	t.Cleanup(func() { _ = a.Close() })
	return a
}

func run(t *testing.T, address string) (*radio.Transceiver, *connecttest.Heard) {
	r, h := radio.New(address, connecttest.Profiles(t)), connecttest.NewHeard()
	ctx, cancel := context.WithCancel(context.Background())
	var running sync.WaitGroup
	running.Go(func() { r.Run(ctx, h) })
	t.Cleanup(func() { cancel(); running.Wait() })
	return r, h
}

func TestATelegramIsHeardOnceThoughItIsRepeated(t *testing.T) {
	a := pretend(t)
	r, h := run(t, a.Address())
	h.AwaitLast(t, "up", "true")
	require.NoError(t, a.Press("20F4", 1, true))
	r.Sync(context.Background())
	assert.Equal(t, 1, h.Count("hk-20F4 key1! ON"))
	h.AwaitLast(t, "hk-20F4-1 power", "true")
	h.Await(t, "found 2") // the remote, and the socket that hears its key
	require.NoError(t, a.Press("20F4", 1, false))
	r.Sync(context.Background())
	assert.Equal(t, 1, h.Count("hk-20F4 key1! OFF"), "another telegram is another press")
	h.AwaitLast(t, "hk-20F4-1 power", "false")
}

func TestThermometersAreHeardAndCorruptLinesRefused(t *testing.T) {
	a := pretend(t)
	r, h := run(t, a.Address())
	h.AwaitLast(t, "up", "true")
	require.True(t, a.Wake())
	h.AwaitLast(t, "hk-7A31 temperature", "6.3")
	h.AwaitLast(t, "hk-58C2 battery", "100")
	for n := range 8 {
		require.NoError(t, a.Press("31B7", 1+n%4, true))
	}
	r.Sync(context.Background())
	h.Await(t, "fault A line was refused: the checksum is wrong")
	require.NoError(t, a.ChangeBattery("7A31"))
	r.Sync(context.Background())
	assert.Len(t, h.Devices(), 2+1+1+4, "the thermometer comes back as another")
}

func TestWhatIsSentIsAssumed(t *testing.T) {
	a := pretend(t)
	r, h := run(t, a.Address())
	h.AwaitLast(t, "up", "true")
	outcome := r.Write(context.Background(), "20F4:2", "power", thing.Boolean(true), 0)
	assert.True(t, outcome.OK && outcome.Assumed)
	assert.True(t, a.Seen().Sockets[1].On)
	assert.False(t, r.Write(context.Background(), "20F4", "power", thing.Boolean(true), 0).OK, "a remote only sends")
	require.NoError(t, r.Test(context.Background()))
}

func TestALostTransceiverIsToldAndComesBack(t *testing.T) {
	a := pretend(t)
	address := a.Address()
	r, h := run(t, address)
	h.AwaitLast(t, "up", "true")
	require.NoError(t, a.Close())
	h.AwaitLast(t, "up", "false")
	assert.True(t, r.Write(context.Background(), "20F4:2", "power", thing.Boolean(true), 0).Unreached)
	again := haskett.New(time.Now, func(string) float64 { return 5 }, func() {})
	require.NoError(t, again.Serve(address))
	t.Cleanup(func() { _ = again.Close() })
	h.AwaitLast(t, "up", "true")
}

func TestProbeTellsATransceiverFromOthers(t *testing.T) {
	ctx := context.Background()
	about, err := radio.Probe(ctx, pretend(t).Address())
	require.NoError(t, err)
	assert.Equal(t, "HT3-0077", about.Serial)
	_, err = radio.Probe(ctx, "127.0.0.1:1")
	assert.ErrorContains(t, err, "nothing answers")
	other, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer func() { _ = other.Close() }()
	go func() {
		if c, err := other.Accept(); err == nil {
			_, _ = c.Write([]byte("220 mail\r\n"))
		}
	}()
	_, err = radio.Probe(ctx, other.Addr().String())
	assert.ErrorIs(t, err, radio.ErrNotATransceiver)
}

func FuzzParse(f *testing.F) {
	f.Add("R:7A31:T:+0063:B1*3C")
	f.Add("R:20F4:K1:ON*00")
	f.Fuzz(func(t *testing.T, line string) {
		telegram, err := radio.Parse(line)
		if err == nil {
			assert.Len(t, telegram.ID, 4)
		}
	})
}
