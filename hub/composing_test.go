package hub_test

import (
	"context"
	"fmt"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect/mqtt"
	"amvek/connect/webthing"
	"amvek/core/home"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/catalogue"
	"amvek/hub/compose"
	"amvek/hub/docs"
	"amvek/hub/show"
	"amvek/store"
)

// composing starts a hub with a broker of its own and the connection to described devices.
func composing(t *testing.T) *hub.Hub {
	log := slog.New(slog.DiscardHandler)
	s, err := store.Open(t.Context(), t.TempDir(), log)
	require.NoError(t, err)
	broker, err := mqtt.Listen("127.0.0.1:0", log)
	require.NoError(t, err)
	models := catalogue.New(nil)
	h, err := hub.Start(
		t.Context(),
		hub.Options{
			Store:     s,
			Clock:     &manual{now: time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)},
			Log:       log,
			Catalogue: models,
			Broker:    broker,
			Standing: []hub.Standing{
				{ID: hub.GatewaysID, Definition: docs.Connection{Title: "Broker", Kind: docs.HubBroker}, Connection: mqtt.NewGateways(broker, models.Find)},
				{ID: hub.ThingsID, Definition: docs.Connection{Title: "Things", Kind: docs.WebThings}, Connection: webthing.New(nil)},
			},
		},
	)
	require.NoError(t, err)
	t.Cleanup(func() { h.Close(); _ = broker.Close(); _ = s.Close() })
	_, err = h.Save(
		t.Context(),
		hub.New{
			Kind:     docs.KindHome,
			ID:       docs.HomeID,
			Document: &home.Home{Title: "Mill", Latitude: 51.5, Longitude: -2.6, Zone: "Europe/London", NamePattern: "{room} {what}"},
		},
	)
	require.NoError(t, err)
	return h
}

// found waits until a device is announced.
func found(t *testing.T, h *hub.Hub, label string) hub.FoundDevice {
	t.Helper()
	told := h.Feed.Subscribe(show.Audience{}, "", 0)
	defer told.Close()
	for {
		f, err := h.Found(t.Context())
		require.NoError(t, err)
		for _, d := range f.Devices {
			if d.Label == label {
				return d
			}
		}
		select {
		case <-told.C:
		case <-t.Context().Done():
			t.Fatal("never found: " + label)
		}
	}
}

var box = []compose.Picked{
	{Pointer: "/env/temp", Title: "Temperature", Type: thing.TypeNumber, Role: thing.RoleTemperature, Unit: thing.UnitCelsius},
	{Pointer: "/relay", Title: "Lamp", Type: thing.TypeBoolean, Words: []string{"OFF", "ON"}, Set: &compose.Sending{Topic: "shed/box/set"}},
}

func TestADeviceMadeOfATopicLeavesAProfileForTheNext(t *testing.T) {
	h := composing(t)
	ctx := context.Background()
	_, err := h.Compose(ctx, compose.Composed{Title: "Shed box", Topic: "shed/box", Fields: box})
	require.NoError(t, err)
	first := found(t, h, "Shed box")
	assert.Equal(t, []string{"Lamp", "Temperature"}, slices.Sorted(slices.Values(first.Offers)))
	profiles, err := h.Profiles(ctx)
	require.NoError(t, err)
	require.Len(t, profiles, 1)
	assert.True(t, profiles[0].Own && profiles[0].InUse)

	_, err = h.Compose(ctx, compose.Composed{Title: "Barn box", Topic: "barn/box", Profile: profiles[0].Model})
	require.NoError(t, err)
	second := found(t, h, "Barn box")
	assert.NotEqual(t, first.Hardware, second.Hardware)
	assert.Equal(t, profiles[0].Model, second.Model)
	given, err := h.GivenThings(ctx)
	require.NoError(t, err)
	require.Len(t, given, 2)
	for _, g := range given {
		text, err := h.GivenDocument(ctx, g.ID)
		require.NoError(t, err)
		d, err := thing.ParseDescription([]byte(text), "")
		require.NoError(t, err)
		topic := map[string]string{"Shed box": "shed/box", "Barn box": "barn/box"}[g.Title]
		assert.Equal(t, topic, d.Model.Form("properties/temp", thing.OpRead).Filter)
		assert.Equal(t, topic+"/set", d.Model.Form("properties/relay", thing.OpWrite).Topic)
	}

	// The profile cannot go while something is made of it; the descriptions can, and come back.
	var conflict *hub.ConflictError
	assert.ErrorAs(t, h.RemoveProfile(ctx, profiles[0].Model), &conflict)
	require.NoError(t, h.RemoveThing(ctx, given[0].ID))
	require.NoError(t, h.Restore(ctx, docs.KindThing, given[0].ID))
	require.NoError(t, h.RemoveThing(ctx, given[0].ID))
	require.NoError(t, h.RemoveThing(ctx, given[1].ID))
	require.NoError(t, h.RemoveProfile(ctx, profiles[0].Model))
}

func TestAChangedProfileChangesWhatWasMadeOfIt(t *testing.T) {
	h := composing(t)
	ctx := context.Background()
	_, err := h.Compose(ctx, compose.Composed{Title: "Shed box", Topic: "shed/box", Fields: box[:1]})
	require.NoError(t, err)
	before := found(t, h, "Shed box")
	ids, err := h.Add(ctx, []hub.Adding{{Connection: before.Connection, Hardware: before.Hardware, Title: "Shed box"}})
	require.NoError(t, err)
	document, err := h.ProfileDocument(ctx, before.Model)
	require.NoError(t, err)
	changed := strings.Replace(document, `"title": "Temperature"`, `"title": "Warmth"`, 1)
	check, err := h.CheckProfile(ctx, changed)
	require.NoError(t, err)
	require.Len(t, check.Touches, 1)
	assert.Equal(t, "Shed box", check.Touches[0].Title)
	_, err = h.SaveProfile(ctx, changed)
	require.NoError(t, err)
	after, err := h.Device(ctx, ids[0])
	require.NoError(t, err)
	assert.Equal(t, "Warmth", after.Description.Properties[0].Title)
	var conflict *hub.ConflictError
	given, err := h.GivenThings(ctx)
	require.NoError(t, err)
	assert.NotEmpty(t, given[0].Device)
	assert.ErrorAs(t, h.RemoveThing(ctx, given[0].ID), &conflict, "a device in the home needs it")
}

func TestWhatCannotBeComposedSaysWhyAndLeavesNothing(t *testing.T) {
	h := composing(t)
	ctx := context.Background()
	var invalid *hub.InvalidError
	for name, c := range map[string]compose.Composed{
		"neither":          {Title: "X", Fields: box},
		"both":             {Title: "X", Topic: "a", Address: "http://127.0.0.1/", Fields: box},
		"no fields":        {Title: "X", Topic: "a"},
		"no such profile":  {Title: "X", Topic: "a", Profile: "none"},
		"a unit not known": {Title: "X", Topic: "a", Fields: []compose.Picked{{Pointer: "/a", Title: "A", Type: thing.TypeNumber, Role: thing.RoleTemperature, Unit: "%"}}},
	} {
		_, err := h.Compose(ctx, c)
		assert.ErrorAs(t, err, &invalid, name)
	}
	profiles, err := h.Profiles(ctx)
	require.NoError(t, err)
	assert.Empty(t, profiles)
}

func TestADescriptionIsReadAgainAtItsAddress(t *testing.T) {
	h := composing(t)
	ctx := context.Background()
	id, extra := "urn:kettle", ""
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path != "/td" {
			_, _ = w.Write([]byte("21"))
			return
		}
		_, _ = w.Write(
			[]byte(
				`{"@context":"https://www.w3.org/2022/wot/td/v1.1","id":"` + id + `","title":"Kettle","security":"n","securityDefinitions":{"n":{"scheme":"nosec"}},
			"properties":{"warm":{"type":"number","readOnly":true,"forms":[{"href":"/warm"}]}` + extra + `}}`,
			),
		)
	}))
	defer server.Close()
	text, err := h.Fetch(ctx, server.URL+"/td")
	require.NoError(t, err)
	_, err = h.AddThing(ctx, text, server.URL+"/td")
	require.NoError(t, err)
	given, err := h.GivenThings(ctx)
	require.NoError(t, err)
	extra = `,"boiling":{"type":"boolean","readOnly":true,"forms":[{"href":"/boiling"}]}`
	check, err := h.ReadThing(ctx, given[0].ID)
	require.NoError(t, err)
	assert.Len(t, check.Offers, 2)
	id = "urn:toaster"
	var conflict *hub.ConflictError
	_, err = h.ReadThing(ctx, given[0].ID)
	assert.ErrorAs(t, err, &conflict, "another device answers there")
	server.Close()
	_, err = h.ReadThing(ctx, given[0].ID)
	assert.ErrorAs(t, err, &conflict)
	var absent *hub.AbsentError
	_, err = h.ReadThing(ctx, "none")
	assert.ErrorAs(t, err, &absent)
}

func TestAnAddressThatReturnsJSONBecomesADeviceAndAProfileForTheNext(t *testing.T) {
	h := composing(t)
	ctx := context.Background()
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		_, _ = w.Write([]byte(`{"env":{"temp":18.4},"relay":"OFF"}`))
	}))
	defer server.Close()
	first, err := h.Inspect(ctx, hub.LookAt{Address: server.URL + "/one"})
	require.NoError(t, err)
	assert.Len(t, first.Fields, 2)
	assert.Empty(t, first.Fits)
	_, err = h.Compose(ctx, compose.Composed{Title: "Weather post", Address: server.URL + "/one", PollSeconds: 60, Fields: box[:1]})
	require.NoError(t, err)
	found(t, h, "Weather post")
	second, err := h.Inspect(ctx, hub.LookAt{Address: server.URL + "/two"})
	require.NoError(t, err)
	require.Len(t, second.Fits, 1)
	_, err = h.Compose(ctx, compose.Composed{Title: "Second post", Address: server.URL + "/two", Profile: second.Fits[0].Model})
	require.NoError(t, err)
	device := found(t, h, "Second post")
	given, err := h.GivenThings(ctx)
	require.NoError(t, err)
	for _, g := range given {
		if g.Hardware != device.Hardware {
			continue
		}
		text, err := h.GivenDocument(ctx, g.ID)
		require.NoError(t, err)
		assert.Contains(t, text, server.URL+"/two")
		assert.Contains(t, text, `"amvek:pollSeconds": 60`)
	}
	var invalid *hub.InvalidError
	_, err = h.Compose(ctx, compose.Composed{Title: "Third", Topic: "a/b", Profile: second.Fits[0].Model})
	assert.ErrorAs(t, err, &invalid, "the profile is for addresses")
	_, err = h.Inspect(ctx, hub.LookAt{Address: "ftp://somewhere"})
	assert.ErrorAs(t, err, &invalid)
}

func TestKeysThatAreMadeAtOnceAreAllKept(t *testing.T) {
	h := composing(t)
	var all sync.WaitGroup
	for i := range 20 {
		all.Go(func() {
			_, err := h.AddBrokerClient(t.Context(), hub.BrokerClient{Name: fmt.Sprintf("client%d", i), Publish: []string{"a"}})
			assert.NoError(t, err)
		})
		all.Go(func() {
			_, err := h.AddClient(t.Context(), fmt.Sprintf("program%d", i), hub.ClientMay{})
			assert.NoError(t, err)
		})
	}
	all.Wait()
	clients, err := h.BrokerClients(t.Context())
	require.NoError(t, err)
	assert.Len(t, clients, 20)
	programs, err := h.Clients(t.Context())
	require.NoError(t, err)
	assert.Len(t, programs, 20)
}
