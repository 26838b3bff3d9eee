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

	"amvek/connect/mqtt"
	"amvek/connect/webthing"
	"amvek/core/home"
	"amvek/hub"
	"amvek/hub/catalogue"
	"amvek/hub/docs"
	"amvek/store"
)

// withThings starts a hub that speaks with described devices.
func withThings(t *testing.T, folder string) (*hub.Hub, *store.Store) {
	log := slog.New(slog.DiscardHandler)
	s, err := store.Open(t.Context(), folder, log)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	h, err := hub.Start(
		t.Context(),
		hub.Options{Store: s, Clock: &manual{now: time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)}, Log: log, Catalogue: catalogue.New(nil),
			Standing: []hub.Standing{{ID: hub.ThingsID, Definition: docs.Connection{Title: "Things", Kind: docs.WebThings}, Connection: webthing.New(nil)}}},
	)
	require.NoError(t, err)
	t.Cleanup(h.Close)
	_, err = h.Save(
		t.Context(),
		hub.New{
			Kind:     docs.KindHome,
			ID:       docs.HomeID,
			Document: &home.Home{Title: "Mill", Latitude: 51.5, Longitude: -2.6, Zone: "Europe/London", NamePattern: "{room} {what}"},
		},
	)
	require.NoError(t, err)
	return h, s
}

func TestKeysInTheAddressesOfADescriptionAreHidden(t *testing.T) {
	folder := t.TempDir()
	h, s := withThings(t, folder)
	asked := make(chan string, 20)
	box := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		asked <- r.URL.RequestURI()
		_, _ = w.Write([]byte("1"))
	}))
	t.Cleanup(box.Close)
	document := strings.ReplaceAll(`{"@context":"https://www.w3.org/2022/wot/td/v1.1","id":"urn:k","title":"K","base":"BASE/",
		"properties":{"v":{"type":"number","forms":[{"href":"v?token=secretword"}]},"w":{"type":"number","forms":[{"href":"BASE/`+sesame+`/w"}]}}}`, "BASE", box.URL)
	_, err := h.AddThing(t.Context(), document, box.URL+"/td?token=secretword")
	require.NoError(t, err)
	given, err := h.GivenThings(t.Context())
	require.NoError(t, err)
	require.Len(t, given, 1)
	assert.NotContains(t, given[0].Source, "secretword")
	text, err := h.GivenDocument(t.Context(), given[0].ID)
	require.NoError(t, err)
	assert.NotContains(t, text, "secretword")
	assert.NotContains(t, text, sesame)
	assert.Contains(t, text, `"title": "K"`)
	require.NoError(t, s.Flush(t.Context()))
	b := &bench{T: t, folder: folder}
	b.nowhereInTheData("secretword")
	b.nowhereInTheData(sesame)
	require.Eventually(t, func() bool {
		_, err := h.Add(t.Context(), []hub.Adding{{Connection: hub.ThingsID, Hardware: "urn:k"}})
		return err == nil
	}, 20*time.Second, time.Millisecond)
	got := map[string]bool{}
	for len(got) < 2 {
		select {
		case address := <-asked:
			got[address] = true
		case <-time.After(20 * time.Second):
			t.Fatalf("only %v was asked for", got)
		}
	}
	assert.Equal(t, map[string]bool{"/v?token=secretword": true, "/" + sesame + "/w": true}, got)
}

func TestADescriptionThatNamesABrokerIsReachedOverThatAndNoOther(t *testing.T) {
	h, _ := withThings(t, t.TempDir())
	document := func(at string) string {
		return `{"@context":"https://www.w3.org/2022/wot/td/v1.1","id":"urn:` + at + `","title":"M","properties":{"v":{"type":"number","forms":[{"href":"mqtt://` + at + `/oven/heat","op":"observeproperty"}]}}}`
	}
	_, err := h.AddThing(t.Context(), document("broker.test"), "")
	assert.ErrorContains(t, err, "broker at broker.test:1883, which the hub does not know")
	_, err = h.Commit(
		t.Context(),
		hub.Together{
			Save: []hub.New{
				{Kind: docs.KindConnection, ID: "far", Document: &docs.Connection{Title: "Far", Kind: mqtt.Kind, Address: "Broker.test:1883", Paused: true}},
			},
		},
	)
	require.NoError(t, err)
	_, err = h.AddThing(t.Context(), document("broker.test"), "")
	require.NoError(t, err)
	_, err = h.AddThing(t.Context(), document("broker"), "")
	require.NoError(t, err)
	given, err := h.GivenThings(t.Context())
	require.NoError(t, err)
	connections := map[string]string{}
	for _, g := range given {
		connections[g.Hardware] = g.Connection
	}
	assert.Equal(t, map[string]string{"urn:broker.test": "far", "urn:broker": hub.GatewaysID}, connections)
}

// A key for a described device does not write over those of others, whether they are there or cannot be read.
func TestAKeyForADescribedDeviceLeavesThoseOfOthers(t *testing.T) {
	folder := t.TempDir()
	h, s := withThings(t, folder)
	add := func(id string) {
		box := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if r.Header.Get("Authorization") != "Bearer "+id {
				w.WriteHeader(http.StatusUnauthorized)
				return
			}
			_, _ = w.Write([]byte("1"))
		}))
		t.Cleanup(box.Close)
		document := strings.NewReplacer("ID", id, "BASE", box.URL).
			Replace(`{"@context":"https://www.w3.org/2022/wot/td/v1.1","id":"ID","title":"ID","base":"BASE",
			"security":"t","securityDefinitions":{"t":{"scheme":"bearer"}},"properties":{"v":{"type":"number","forms":[{"href":"/v"}]}}}`)
		_, err := h.AddThing(t.Context(), document, "")
		require.NoError(t, err)
		require.Eventually(t, func() bool {
			return h.UnlockThing(t.Context(), id, "", "guess") != nil &&
				!strings.Contains(h.UnlockThing(t.Context(), id, "", "guess").Error(), "no description")
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
