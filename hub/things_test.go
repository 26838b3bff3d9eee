package hub_test

import (
	"database/sql"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect/webthing"
	"amvek/hub"
	"amvek/store"
)

// A key for a described device does not write over those of others, whether they are there or cannot be read.
func TestAKeyForADescribedDeviceLeavesThoseOfOthers(t *testing.T) {
	folder, log := t.TempDir(), slog.New(slog.DiscardHandler)
	s, err := store.Open(t.Context(), folder, log)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	h, err := hub.Start(t.Context(), hub.Options{Store: s, Clock: &manual{now: time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)}, Log: log, Catalogue: hub.NewCatalogue(nil),
		Standing: []hub.Standing{{ID: hub.ThingsID, Definition: hub.Connection{Title: "Things", Kind: hub.KindThings}, Connection: webthing.New(nil)}}})
	require.NoError(t, err)
	t.Cleanup(h.Close)
	add := func(id string) {
		box := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if r.Header.Get("Authorization") != "Bearer "+id {
				w.WriteHeader(http.StatusUnauthorized)
				return
			}
			_, _ = w.Write([]byte("1"))
		}))
		t.Cleanup(box.Close)
		document := strings.NewReplacer("ID", id, "BASE", box.URL).Replace(`{"@context":"https://www.w3.org/2022/wot/td/v1.1","id":"ID","title":"ID","base":"BASE",
			"security":"t","securityDefinitions":{"t":{"scheme":"bearer"}},"properties":{"v":{"type":"number","forms":[{"href":"/v"}]}}}`)
		_, err := h.AddThing(t.Context(), document, "")
		require.NoError(t, err)
		require.Eventually(t, func() bool {
			return h.UnlockThing(t.Context(), id, "", "guess") != nil && !strings.Contains(h.UnlockThing(t.Context(), id, "", "guess").Error(), "no description")
		}, 20*time.Second, time.Millisecond)
	}
	kept := func() string {
		all, err := s.Secret(t.Context(), "connection/"+hub.ThingsID)
		require.NoError(t, err)
		return all
	}
	for _, id := range []string{"one", "two"} {
		add(id)
		require.NoError(t, h.UnlockThing(t.Context(), id, "", id))
	}
	assert.Contains(t, kept(), `"key":"one"`)
	assert.Contains(t, kept(), `"key":"two"`)

	db, err := sql.Open("sqlite", filepath.Join(folder, store.FileName))
	require.NoError(t, err)
	var sealed []byte
	require.NoError(t, db.QueryRow(`SELECT sealed FROM secrets WHERE name = ?`, "connection/"+hub.ThingsID).Scan(&sealed))
	_, err = db.Exec(`UPDATE secrets SET sealed = ? WHERE name = ?`, []byte("damaged and long enough to be taken for one"), "connection/"+hub.ThingsID)
	require.NoError(t, err)
	add("three")
	assert.Error(t, h.UnlockThing(t.Context(), "three", "", "three"))
	_, err = db.Exec(`UPDATE secrets SET sealed = ? WHERE name = ?`, sealed, "connection/"+hub.ThingsID)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	assert.Contains(t, kept(), `"key":"one"`, "they are there again once they can be read")
}
