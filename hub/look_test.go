package hub_test

import (
	"fmt"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/connect/bridge"
	"amvek/hub"
	"amvek/hub/catalogue"
	"amvek/hub/docs"
	"amvek/hub/links"
	"amvek/store"
)

// Whoever says the number of a bridge elsewhere is not given its key, and a search finds all the same.
func TestAKeyDoesNotFollowItsBridgeToAnotherAddress(t *testing.T) {
	asked := make(chan string, 100)
	elsewhere := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		asked <- r.Header.Get("Lumbrook-Key")
		_, _ = fmt.Fprint(w, `{"maker":"Lumbrook","model":"B1","serial":"S1","firmware":"1","label":"Box"}`)
	}))
	t.Cleanup(elsewhere.Close)
	log := slog.New(slog.DiscardHandler)
	s, err := store.Open(t.Context(), t.TempDir(), log)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	begin := func() *hub.Hub {
		h, err := hub.Start(
			t.Context(),
			hub.Options{
				Store:     s,
				Clock:     &manual{now: time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)},
				Log:       log,
				Catalogue: catalogue.New(nil),
				Drivers:   []connect.Driver{bridge.Driver()},
			},
		)
		require.NoError(t, err)
		return h
	}
	h := begin()
	const at = "127.0.0.1:1" // where nothing listens
	_, err = h.Commit(t.Context(), hub.Together{
		Save: []hub.New{{Kind: docs.KindConnection, ID: "box", Document: &docs.Connection{Title: "Box", Kind: "bridge", Address: at, Serial: "S1"}}},
	})
	require.NoError(t, err)
	h.Close()
	h = begin()
	t.Cleanup(h.Close)
	require.NoError(t, h.EditConnection(t.Context(), "box", hub.ConnectionEdit{Secret: new("the key")}))
	box := func() links.ConnectionView {
		all, err := h.Connections(t.Context())
		require.NoError(t, err)
		require.Len(t, all, 1)
		return all[0]
	}
	require.Eventually(t, func() bool { return !box().Up && box().Reason != "" }, 20*time.Second, time.Millisecond, "it is known to be down")
	require.NoError(t, h.Look(t.Context(), strings.TrimPrefix(elsewhere.URL, "http://")))
	assert.Equal(t, at, box().Address)
	assert.Contains(t, box().LastFault, "pair with it again")
	require.NotEmpty(t, asked)
	for len(asked) > 0 {
		assert.Empty(t, <-asked)
	}
}
