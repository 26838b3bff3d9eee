package hub_test

import (
	"bufio"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/compose"
)

// httpPlug is switched by an address that carries a key, and answers text.
func httpPlug(t *testing.T) (at string) {
	var mu sync.Mutex
	on := "off"
	s := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		mu.Lock()
		defer mu.Unlock()
		if r.URL.Query().Get("k") != "secret" {
			w.WriteHeader(http.StatusForbidden)
			return
		}
		if to, is := strings.CutPrefix(r.URL.Path, "/turn/"); is {
			on = to
		}
		w.Header().Set("Content-Type", "text/html")
		_, _ = w.Write([]byte("<p>relay " + on + "</p>\n<p>load 46 W</p>"))
	}))
	t.Cleanup(s.Close)
	return s.URL
}

func TestAnHTTPDeviceIsLookedAtTriedAndMade(t *testing.T) {
	h := composing(t)
	at := httpPlug(t)
	security := &compose.Security{Scheme: "apikey", In: "query", Name: "k"}
	looked, err := h.Inspect(t.Context(), hub.LookAt{Address: at + "/state", Security: security, Key: "wrong"})
	require.NoError(t, err)
	assert.Equal(t, "The device does not accept the key.", looked.Reason)
	looked, err = h.Inspect(t.Context(), hub.LookAt{Address: at + "/state", Security: security, Key: "secret"})
	require.NoError(t, err)
	require.Len(t, looked.Wire, 2)
	assert.Equal(t, "GET "+at+"/state?k=…", looked.Wire[0].Text, "the key is not shown")
	named, err := h.Inspect(t.Context(), hub.LookAt{Address: strings.Replace(at, "http://", "http://me:sesame@", 1)})
	require.NoError(t, err)
	assert.NotContains(t, named.Wire[0].Text, "sesame", "nor is a password in the address")
	assert.Contains(t, looked.Wire[1].Text, "<p>load 46 W</p>")
	require.Len(t, looked.Fields, 2)

	c := compose.Composed{Title: "Kiln plug", Address: at + "/state", PollSeconds: 3600, Security: security, Key: "secret", Fields: []compose.Picked{
		{
			Pattern: `relay (on|off)`,
			Title:   "Power",
			Type:    thing.TypeBoolean,
			Role:    thing.RolePower,
			Words:   []string{"off", "on"},
			Set:     &compose.Sending{Method: "GET", Address: at + "/turn/{value}"},
		},
		{Pattern: looked.Fields[1].Pattern, Title: "Load", Type: thing.TypeNumber, Unit: "W"},
	}}
	first := 0
	tried, err := h.TryComposed(t.Context(), hub.Trying{Composed: c, Field: &first, Value: true})
	require.NoError(t, err)
	assert.True(t, tried.OK, tried.Reason)
	assert.Contains(t, tried.Wire, connect.Wire{Sent: true, Text: "GET " + at + "/turn/on?k=…"})
	assert.Equal(t, []hub.TriedReading{{Name: "p1", Title: "Power", Text: "on"}, {Name: "p2", Title: "Load", Text: "46 W"}}, tried.Readings)
	lost := c
	lost.Fields = []compose.Picked{{Pattern: `gone (\d+)`, Title: "Gone", Type: thing.TypeNumber}}
	missed, err := h.TryComposed(t.Context(), hub.Trying{Composed: lost})
	require.NoError(t, err)
	assert.Len(t, missed.Faults, 1, "what was not found is said")
	var invalid *hub.InvalidError
	hidden := hub.LookAt{Address: at, Read: &compose.Sending{Headers: []thing.Header{{Name: "Cookie", Value: "x"}}}}
	_, err = h.Inspect(t.Context(), hidden)
	assert.ErrorAs(t, err, &invalid, "a key stands in no header of a profile")
	_, err = h.TryComposed(t.Context(), hub.Trying{Composed: c, Field: &first, Value: 7})
	assert.ErrorAs(t, err, &invalid)
	second := 1
	_, err = h.TryComposed(t.Context(), hub.Trying{Composed: c, Field: &second, Value: 7})
	assert.ErrorAs(t, err, &invalid, "the load is not set")

	_, err = h.Compose(t.Context(), c)
	require.NoError(t, err)
	device := found(t, h, "Kiln plug")
	assert.False(t, device.Locked, "its key is kept")
	names, err := h.Propose(t.Context(), []hub.Adding{{Connection: device.Connection, Hardware: device.Hardware}})
	require.NoError(t, err)
	assert.Equal(t, "Kiln plug", names[0].Title, "the name typed is the name kept")
	profiles, err := h.Profiles(t.Context())
	require.NoError(t, err)
	document, err := h.ProfileDocument(t.Context(), profiles[0].Model)
	require.NoError(t, err)
	assert.NotContains(t, document, "secret")
}

// amplifier answers messages that end with a carriage return.
func amplifierLine(t *testing.T) (at string) {
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	var all sync.WaitGroup
	all.Go(func() {
		volume := "20"
		for {
			c, err := listener.Accept()
			if err != nil {
				return
			}
			messages := bufio.NewScanner(c)
			messages.Split(func(data []byte, last bool) (int, []byte, error) {
				if i := strings.IndexByte(string(data), '\r'); i >= 0 {
					return i + 1, data[:i], nil
				}
				return 0, nil, nil
			})
			for messages.Scan() {
				if to, is := strings.CutPrefix(messages.Text(), "MV"); is && to != "?" {
					volume = to
				}
				_, _ = c.Write([]byte("MV" + volume + "\r"))
			}
			_ = c.Close()
		}
	})
	t.Cleanup(func() { _ = listener.Close(); all.Wait() })
	return listener.Addr().String()
}

func TestALineIsLookedAtAndTried(t *testing.T) {
	h := composing(t)
	at := amplifierLine(t)
	looked, err := h.Inspect(t.Context(), hub.LookAt{Address: at, Line: &thing.Line{End: `\r`}, Send: []string{"MV?"}})
	require.NoError(t, err)
	assert.Equal(t, []connect.Wire{{Sent: true, Text: "MV?"}, {Text: "MV20"}}, looked.Wire)
	c := compose.Composed{Title: "Amp", Address: at, Line: &thing.Line{End: `\r`}, Fields: []compose.Picked{
		{Pattern: `MV(\d+)`, Title: "Volume", Type: thing.TypeNumber, Read: &compose.Sending{Body: "MV?"}, Set: &compose.Sending{Body: "MV{value}"}},
	}}
	first := 0
	tried, err := h.TryComposed(t.Context(), hub.Trying{Composed: c, Field: &first, Value: 33})
	require.NoError(t, err)
	assert.True(t, tried.OK, tried.Reason)
	assert.Contains(t, tried.Wire, connect.Wire{Sent: true, Text: "MV33"})
	assert.Equal(t, []hub.TriedReading{{Name: "p1", Title: "Volume", Text: "33"}}, tried.Readings)
	read, err := h.TryComposed(t.Context(), hub.Trying{Composed: c})
	require.NoError(t, err)
	assert.True(t, read.OK)
	looked, err = h.Inspect(t.Context(), hub.LookAt{Address: "127.0.0.1:1", Line: &thing.Line{}})
	require.NoError(t, err)
	assert.Equal(t, "The device cannot be reached at 127.0.0.1:1: nothing listens at this address and port.", looked.Reason)
	var invalid *hub.InvalidError
	_, err = h.Inspect(t.Context(), hub.LookAt{Address: "nowhere", Line: &thing.Line{}})
	assert.ErrorAs(t, err, &invalid)
}
