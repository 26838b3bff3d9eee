package main

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"net"
	"os"
	"path/filepath"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// free are flags with which any number of hubs run side by side.
func free(t *testing.T) []string {
	return []string{"--listen", "127.0.0.1:0", "--mqtt-listen", "127.0.0.1:0", "--data", t.TempDir()}
}

var ready = regexp.MustCompile(`ready at http://(127\.0\.0\.1:\d+) \(MQTT at (127\.0\.0\.1:\d+)\)\n`)

// started runs a command until its ready line, then ends it as Ctrl-C does.
func started(t *testing.T, args ...string) string {
	t.Helper()
	return meanwhile(t, func(string, string) {}, args...)
}

// meanwhile is started, and does something before it ends the command: with the addresses of its pages and its broker.
func meanwhile(t *testing.T, do func(page, broker string), args ...string) string {
	t.Helper()
	ctx, stop := context.WithCancel(context.Background())
	defer stop()
	reader, writer := io.Pipe()
	ended := make(chan error, 1)
	go func() {
		ended <- command(ctx, args, writer, io.Discard)
		_ = writer.Close()
	}()
	var said []byte
	buffer := make([]byte, 256)
	for !ready.Match(said) {
		n, err := reader.Read(buffer)
		if err != nil {
			require.NoError(t, <-ended)
			require.NoError(t, err)
		}
		said = append(said, buffer[:n]...)
	}
	addresses := ready.FindSubmatch(said)
	do(string(addresses[1]), string(addresses[2]))
	stop()
	require.NoError(t, <-ended, "it ends cleanly")
	return string(said)
}

func TestServeAndDemoSayWhereTheyListen(t *testing.T) {
	started(t, append([]string{"serve"}, free(t)...)...)
	flags := free(t)
	started(t, append([]string{"demo", "--empty"}, flags...)...)
	started(t, append([]string{"demo"}, flags...)...)
}

// Whoever is connected and silent, does not read, or is in the middle of a request keeps nothing from ending: the process
// would end by itself with an error.
func TestItEndsWhateverIsConnected(t *testing.T) {
	for _, command := range []string{"serve", "demo"} {
		var open []net.Conn
		dial := func(address, say string) net.Conn {
			c, err := net.Dial("tcp", address)
			require.NoError(t, err)
			_, err = c.Write([]byte(say))
			require.NoError(t, err)
			open = append(open, c)
			return c
		}
		meanwhile(t, func(page, broker string) {
			dial(page, "")
			dial(page, "POST /api/rules HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: 1000\r\n\r\n{")
			dial(broker, "")
			dial(broker, "\x10")
			feed := dial(
				page,
				"GET /api/live HTTP/1.1\r\nHost: localhost\r\nUpgrade: websocket\r\nConnection: Upgrade\r\nSec-WebSocket-Version: 13\r\nSec-WebSocket-Key: AAAAAAAAAAAAAAAAAAAAAA==\r\n\r\n",
			)
			_, err := feed.Read(make([]byte, 12))
			require.NoError(t, err)
		}, append([]string{command}, append(free(t), map[string][]string{"demo": {"--empty"}}[command]...)...)...)
		for _, c := range open {
			_ = c.Close()
		}
	}
}

func TestFlagsAreAlsoEnvironmentVariables(t *testing.T) {
	folder := t.TempDir()
	t.Setenv("AMVEK_LISTEN", "127.0.0.1:0")
	t.Setenv("AMVEK_MQTT_LISTEN", "127.0.0.1:0")
	t.Setenv("AMVEK_DATA", folder)
	started(t, "serve")
	assert.FileExists(t, filepath.Join(folder, "amvek.db"))
	t.Setenv("AMVEK_VERBOSE", "loudly")
	assert.ErrorContains(t, command(context.Background(), []string{"serve"}, io.Discard, io.Discard), "AMVEK_VERBOSE")
}

func TestWhatIsWrongIsSaidAndNothingStarted(t *testing.T) {
	taken, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer func() { _ = taken.Close() }()
	file := filepath.Join(t.TempDir(), "file")
	require.NoError(t, os.WriteFile(file, nil, 0o600))
	for _, c := range []struct {
		args []string
		says string
	}{
		{append(append([]string{"serve", "--open"}, free(t)...), "--listen", "0.0.0.0:8420"), "refusing to listen on 0.0.0.0:8420"},
		{append(append([]string{"serve", "--open"}, free(t)...), "--behind", "127.0.0.1"), "leave out --open or --behind"},
		{append(append([]string{"serve"}, free(t)...), "--mqtt-listen", ":1883"), "refusing to listen"},
		{append(append([]string{"serve"}, free(t)...), "--listen", taken.Addr().String()), "choose another address with --listen"},
		{append(append([]string{"serve"}, free(t)...), "--mqtt-listen", taken.Addr().String()), "choose another address with --mqtt-listen"},
		{append(append([]string{"serve"}, free(t)...), "--data", filepath.Join(file, "data")), "cannot be made"},
	} {
		assert.ErrorContains(t, command(context.Background(), c.args, io.Discard, io.Discard), c.says)
	}
	for _, args := range [][]string{{}, {"dance"}, {"serve", "--loud"}, {"serve", "--empty"}, {"demo", "now"}} {
		var said bytes.Buffer
		assert.ErrorIs(t, command(context.Background(), args, io.Discard, &said), errUsage, args)
		assert.Contains(t, said.String(), "amvek serve")
	}
	var said bytes.Buffer
	assert.ErrorIs(t, command(context.Background(), []string{"serve", "--behind", "proxy"}, io.Discard, &said), errUsage)
	assert.Contains(t, said.String(), `--behind: "proxy" is no address of a proxy`)
}

func TestStartingOverKeepsWhatIsNotOurs(t *testing.T) {
	flags := free(t)
	folder := flags[len(flags)-1]
	other := filepath.Join(folder, "letter.txt")
	require.NoError(t, os.WriteFile(other, []byte("dear"), 0o600))
	started(t, append([]string{"demo", "--empty"}, flags...)...)
	before, err := os.ReadFile(filepath.Join(folder, "key"))
	require.NoError(t, err)
	started(t, append([]string{"demo", "--empty"}, flags...)...)
	after, err := os.ReadFile(filepath.Join(folder, "key"))
	require.NoError(t, err)
	assert.NotEqual(t, before, after)
	assert.FileExists(t, other)
}

func TestHelpVersionAndDocument(t *testing.T) {
	for _, arg := range []string{"--help", "--version", "openapi"} {
		var out bytes.Buffer
		require.NoError(t, command(context.Background(), []string{arg}, &out, io.Discard))
		assert.NotEmpty(t, out.String())
		if arg == "openapi" {
			assert.True(t, json.Valid(out.Bytes()))
		}
	}
}
