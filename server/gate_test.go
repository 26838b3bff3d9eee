package server_test

import (
	"context"
	"encoding/json"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/fasthttp/websocket"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/board"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/hub/show"
	"amvek/server"
)

// Every operation, as everybody: what somebody may not do they are refused, and what they may is not refused to them.
func TestEachOperationLetsThroughWhomItMay(t *testing.T) {
	url, h, owner := owned(t)
	_, err := h.Save(t.Context(), hub.New{Kind: docs.KindDashboard, ID: "porch", Document: &board.Dashboard{Grid: board.Columns, Title: "Porch", Controls: []board.Control{
		{ID: "1", Kind: board.Scene, Aim: board.Aim{Scene: "supper"}, Place: board.Place{Width: 2, Height: 2}},
	}}})
	require.NoError(t, err)
	member := asPerson(t, url, h, "tove", home.Person{Title: "Tove", Role: home.Member})
	guest := asPerson(t, url, h, "ada", home.Person{Title: "Ada", Role: home.Guest, Dashboards: []string{"porch"}})
	panel := asPanel(t, url, h, "porch")
	key, err := h.AddClient(t.Context(), "script", hub.ClientMay{Scope: hub.ScopeSetUp})
	require.NoError(t, err)
	data, err := server.Document("test")
	require.NoError(t, err)
	var document struct {
		Paths map[string]map[string]struct{ OperationID string }
	}
	require.NoError(t, json.Unmarshal(data, &document))
	// What is done by these would end what the others are let in by.
	skipped := map[string]bool{"sign-out": true, "set-password": true, "look-as": true, "remove-client": true, "become-owner": true, "live": true, "offer-passkey": true, "keep-passkey": true}
	// Guests may these of all that is asked for here: what is theirs is none of it.
	open := map[string]bool{"session": true, "sign-in": true, "come-in": true, "ask-passkey": true, "show-passkey": true}
	guests := map[string]bool{"about": true, "shown": true, "lines": true, "convert-color": true, "rule-schema": true, "passkeys": true, "remove-passkey": true}
	setUp := regexp.MustCompile(`^(create|save|edit|remove|restore)-(room|group|scene|sequence|rule|schedule|dashboard|device|home|modes)` +
		`|^(connect|found|pair|compose|bench|capture|add-devices)$`)
	owns := regexp.MustCompile(`person$|clients?$|^(sessions|end-session|invite|broker|reach|admit|seen-tried)$`)
	param := regexp.MustCompile(`\{[^}]+\}`)
	asked := 0
	for path, methods := range document.Paths {
		for method, operation := range methods {
			id := operation.OperationID
			if skipped[id] {
				continue
			}
			asked++
			address := url + param.ReplaceAllStringFunc(path, func(p string) string {
				if p == "{entry}" || p == "{revision}" || p == "{run}" {
					return "1"
				}
				return "none"
			})
			as := func(header, value string) int {
				return call(t, strings.ToUpper(method), address, "", header, value).status
			}
			refused := func(status int) bool { return status == 401 || status == 403 }
			assert.Equal(t, !open[id], refused(as("X-Nobody", "1")), "outside: %s", id)
			assert.Equal(t, !open[id] && !guests[id], refused(as("Cookie", guest)), "a guest: %s", id)
			answers := id == "acknowledge" || id == "answer-question" // what rules show on it
			assert.Equal(t, !open[id] && !guests[id] && !answers, refused(as("Cookie", panel)), "a panel: %s", id)
			if setUp.MatchString(id) || owns.MatchString(id) {
				assert.True(t, refused(as("Cookie", member)), "a member: %s", id)
			}
			if owns.MatchString(id) {
				assert.True(t, refused(as("Authorization", "Bearer "+key)), "a program: %s", id)
			}
			assert.False(t, refused(as("Cookie", owner)), "the owner: %s", id)
		}
	}
	assert.Greater(t, asked, 150)
	assert.Equal(t, 200, call(t, "GET", url+"/api/journal", "", "Cookie", member).status)
	assert.Equal(t, 401, call(t, "GET", url+"/things/none/properties/x", "", "Cookie", guest).status)
	assert.Equal(t, 403, call(t, "POST", url+"/api/definitions/person/tove/revisions/1/take-back", "", "Authorization", "Bearer "+key).status)
}

// lamp is a device with a lamp and a lock.
func lamp(title string) *home.Device {
	return &home.Device{Title: title, Connection: hub.GatewaysID, Hardware: title, Description: thing.Description{Properties: []thing.Property{
		{Name: "on", Title: "Power", Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true},
		{Name: "locked", Title: "Lock", Role: thing.RoleLock, Type: thing.TypeBoolean, Writable: true},
	}}}
}

func TestAGuestSeesAndUsesWhatStandsOnTheirDashboards(t *testing.T) {
	url, h, owner := owned(t)
	_, err := h.SaveAll(t.Context(), []hub.New{
		{Kind: docs.KindDevice, ID: "porch-lamp", Document: lamp("Porch lamp")},
		{Kind: docs.KindDevice, ID: "safe", Document: lamp("Safe")},
		{Kind: docs.KindScene, ID: "supper", Document: &light.Scene{Title: "Supper", Note: "the key is under the pot"}},
		{Kind: docs.KindScene, ID: "other", Document: &light.Scene{Title: "Other"}},
		{Kind: docs.KindDashboard, ID: "porch", Document: &board.Dashboard{Grid: board.Columns, Title: "Porch", Controls: []board.Control{
			{ID: "1", Kind: board.Lamp, Aim: board.Aim{Device: "porch-lamp", Property: "on"}, Place: board.Place{Width: 2, Height: 2}},
			{ID: "2", Kind: board.Scene, Aim: board.Aim{Scene: "supper"}, Place: board.Place{Column: 2, Width: 2, Height: 2}},
		}}},
		{Kind: docs.KindDashboard, ID: "study", Document: &board.Dashboard{Grid: board.Columns, Title: "Study", Controls: []board.Control{
			{ID: "1", Kind: board.Lamp, Aim: board.Aim{Device: "safe", Property: "locked"}, Place: board.Place{Width: 2, Height: 2}},
		}}},
	})
	require.NoError(t, err)
	guest := asPerson(t, url, h, "ada", home.Person{Title: "Ada", Role: home.Guest, Until: h.Now().Add(time.Hour), Dashboards: []string{"porch"}})
	assert.Equal(t, []string{"porch"}, sessionOf(t, url, guest).Dashboards)
	put := func(path string) int {
		return call(t, "PUT", url+"/api/devices/"+path, `{"value":true}`, "Cookie", guest).status
	}
	assert.Less(t, put("porch-lamp/properties/on"), 300)
	assert.Equal(t, 403, put("porch-lamp/properties/locked"), "it is not on the dashboard")
	assert.Equal(t, 403, put("safe/properties/on"))
	assert.Equal(t, 403, put("porch-lamp%2F..%2Fsafe/properties/on"))
	assert.Less(t, call(t, "POST", url+"/api/scenes/supper/apply", "", "Cookie", guest).status, 300)
	assert.Equal(t, 403, call(t, "POST", url+"/api/scenes/other/apply", "", "Cookie", guest).status)
	assert.Equal(t, 403, call(t, "GET", url+"/api/lines?of=safe~on", "", "Cookie", guest).status)

	var shown hub.ShownHome
	a := call(t, "GET", url+"/api/shown", "", "Cookie", guest)
	require.NoError(t, json.Unmarshal([]byte(a.body), &shown))
	assert.Contains(t, shown.Entries.Device, "porch-lamp")
	assert.NotContains(t, shown.Entries.Device, "safe")
	require.Len(t, shown.Entries.Device["porch-lamp"].States, 1)
	assert.Equal(t, "on", shown.Entries.Device["porch-lamp"].States[0].Name)
	assert.Contains(t, shown.Entries.Dashboard, "porch")
	assert.NotContains(t, shown.Entries.Dashboard, "study")
	assert.Empty(t, shown.Entries.Person)
	for _, secret := range []string{"Safe", "Other", "under the pot", "Nell", "51.5"} {
		assert.NotContains(t, a.body, secret)
	}

	// The feed says as little, and follows what they may see.
	feed, answered, err := websocket.DefaultDialer.Dial(strings.Replace(url, "http", "ws", 1)+"/api/live?look=journal", http.Header{"Cookie": {guest}})
	require.NoError(t, err)
	defer func() { _ = answered.Body.Close(); _ = feed.Close() }()
	said := make(chan show.Message, 100)
	ended := make(chan struct{})
	go func() {
		defer close(ended)
		for {
			_, data, err := feed.ReadMessage()
			if err != nil {
				return
			}
			var m show.Message
			if json.Unmarshal(data, &m) == nil {
				m.Run = string(data)
				said <- m
			}
		}
	}()
	until := func(is func(show.Message) bool) (all string) {
		for {
			select {
			case m := <-said:
				if all += m.Run; is(m) {
					return all
				}
			case <-time.After(20 * time.Second):
				require.Fail(t, "it was not told", all)
			}
		}
	}
	until(func(m show.Message) bool { return m.Anew })
	scene := func(title string) string { return `{"title":"` + title + `","fadeSeconds":0,"targets":[]}` }
	asOwner := func(method, path, body string) {
		assert.Less(t, call(t, method, url+path, body, "Cookie", owner).status, 300, path)
	}
	asOwner("PUT", "/api/devices/safe/properties/on", `{"value":true}`)
	asOwner("PUT", "/api/scenes/other", scene("Another"))
	asOwner("PUT", "/api/scenes/supper", scene("Late supper"))
	all := until(func(m show.Message) bool { return strings.Contains(m.Run, "Late supper") })
	assert.NotContains(t, all, "Another")
	assert.NotContains(t, all, "safe")
	assert.NotContains(t, all, `"journal"`)
	asOwner("PUT", "/api/people/ada", `{"title":"Ada","role":"guest","dashboards":["study"]}`)
	asOwner("PUT", "/api/scenes/supper", scene("Breakfast"))
	until(func(m show.Message) bool { return m.Anew })
	assert.Equal(t, 403, put("porch-lamp/properties/on"))
	assert.Less(t, put("safe/properties/locked"), 300)
	asOwner("DELETE", "/api/people/ada", "")
	asOwner("PUT", "/api/scenes/supper", scene("Tea"))
	select {
	case <-ended:
	case <-time.After(20 * time.Second):
		require.Fail(t, "somebody who was removed is still told")
	}
	assert.Equal(t, 401, put("safe/properties/locked"))
}

func TestAnOwnerLooksThroughTheEyesOfAnother(t *testing.T) {
	for name, start := range map[string]func(*testing.T) (string, *hub.Hub, string){
		"signed in":      owned,
		"at the machine": func(t *testing.T) (string, *hub.Hub, string) { url, h := serveHome(t, deaf{}); return url, h, "" },
	} {
		t.Run(name, func(t *testing.T) {
			url, h, owner := start(t)
			_, err := h.Save(context.Background(), hub.New{Kind: docs.KindPerson, ID: "ada", Document: &home.Person{Title: "Ada", Role: home.Guest}})
			require.NoError(t, err)
			eyes := func(cookie, person string) answer {
				return call(t, "PUT", url+"/api/session/eyes", `{"person":"`+person+`"}`, "Cookie", cookie)
			}
			assert.Equal(t, 404, eyes(owner, "nobody").status)
			a := eyes(owner, "ada")
			require.Equal(t, 200, a.status, a.body)
			cookie := owner
			if owner == "" {
				cookie = cookieOf(a)
			}
			assert.Equal(t, "ada", sessionOf(t, url, cookie).LooksAs)
			assert.Equal(t, home.Guest, sessionOf(t, url, cookie).Role)
			assert.Equal(t, 403, call(t, "GET", url+"/api/people", "", "Cookie", cookie).status)
			assert.Equal(t, 200, eyes(cookie, "").status)
			assert.Equal(t, 200, call(t, "GET", url+"/api/people", "", "Cookie", cookie).status)
			assert.Equal(t, home.Owner, sessionOf(t, url, cookie).Role)

			guest := asPerson(t, url, h, "eve", home.Person{Title: "Eve", Role: home.Guest})
			assert.Equal(t, 403, eyes(guest, "ada").status, "a guest has their own eyes alone")
		})
	}
}

func TestAProgramMayWhatItsKeySays(t *testing.T) {
	url, h, owner := owned(t)
	inside := lamp("Lamp")
	inside.Room = "hall"
	_, err := h.SaveAll(t.Context(), []hub.New{
		{Kind: docs.KindRoom, ID: "hall", Document: &home.Room{Title: "Hall"}},
		{Kind: docs.KindDevice, ID: "lamp", Document: inside}, {Kind: docs.KindDevice, ID: "safe", Document: lamp("Safe")},
	})
	require.NoError(t, err)
	key := func(body string) []string {
		made := call(t, "POST", url+"/api/clients", body, "Cookie", owner)
		require.Equal(t, 200, made.status, made.body)
		var of server.ClientKey
		require.NoError(t, json.Unmarshal([]byte(made.body), &of))
		return []string{"Authorization", "Bearer " + of.Key}
	}
	reads, operates := key(`{"name":"reader","scope":"read"}`), key(`{"name":"hand"}`)
	setsUp, hall := key(`{"name":"tool","scope":"setUp"}`), key(`{"name":"hall","scope":"operate","rooms":["hall"]}`)
	for _, c := range []struct {
		method, path, body              string
		reads, operates, setsUp, inHall bool
	}{
		{"GET", "/api/journal", "", true, true, true, false},
		{"GET", "/api/people", "", true, true, true, false},
		{"PUT", "/api/devices/lamp/properties/on", `{"value":true}`, false, true, true, true},
		{"PUT", "/api/devices/safe/properties/on", `{"value":true}`, false, true, true, false},
		{"POST", "/api/rooms", `{"title":"Attic","order":3}`, false, false, true, false},
		{"POST", "/api/people", `{"title":"Eve","role":"owner"}`, false, false, false, false},
		{"POST", "/api/clients", `{"name":"more"}`, false, false, false, false},
		{"GET", "/things/lamp", "", true, true, true, true},
		{"GET", "/things/lamp/properties/on", "", true, true, true, true},
		{"PUT", "/things/lamp/properties/on", "true", false, true, true, true},
		{"PUT", "/things/safe/properties/locked", "false", false, true, true, false},
	} {
		for name, who := range map[string]struct {
			key []string
			may bool
		}{"reads": {reads, c.reads}, "operates": {operates, c.operates}, "sets up": {setsUp, c.setsUp}, "in the hall": {hall, c.inHall}} {
			status := call(t, c.method, url+c.path, c.body, who.key...).status
			assert.Equal(t, who.may, status < 300, "%s %s, which %s: %d", c.method, c.path, name, status)
		}
	}
	list := call(t, "GET", url+"/things", "", hall...)
	assert.Contains(t, list.body, "/things/lamp")
	assert.NotContains(t, list.body, "safe")
	assert.Equal(t, 404, call(t, "GET", url+"/things/safe", "", hall...).status)
	assert.NotEqual(t, list.header.Get("ETag"), call(t, "GET", url+"/things", "", reads...).header.Get("ETag"))
	var shown hub.ShownHome
	require.NoError(t, json.Unmarshal([]byte(call(t, "GET", url+"/api/shown", "", hall...).body), &shown))
	assert.Len(t, shown.Entries.Device, 1)
	assert.Equal(t, 422, call(t, "POST", url+"/api/clients", `{"name":"x","scope":"setUp","rooms":["hall"]}`, "Cookie", owner).status)
	assert.Equal(t, 422, call(t, "POST", url+"/api/clients", `{"name":"x","scope":"all"}`, "Cookie", owner).status)

	// A device that leaves the room leaves the reach of its key.
	inside.Room = ""
	_, err = h.Save(t.Context(), hub.New{Kind: docs.KindDevice, ID: "lamp", Document: inside})
	require.NoError(t, err)
	assert.Equal(t, 403, call(t, "PUT", url+"/api/devices/lamp/properties/on", `{"value":true}`, hall...).status)
}

func TestWhatNeedsAHandIsKeptToChosenPeople(t *testing.T) {
	url, h, owner := owned(t)
	safe := lamp("Safe")
	safe.KeptTo = []string{"tove", "gone"}
	_, err := h.SaveAll(t.Context(), []hub.New{
		{Kind: docs.KindDevice, ID: "safe", Document: safe},
		{Kind: docs.KindSequence, ID: "slowly", Document: &light.Sequence{
			Title: "Slowly", Passages: []light.Passage{{Scene: "open", StaySeconds: 60}}, Ending: light.EndRepeat,
		}},
		{Kind: docs.KindScene, ID: "open", Document: &light.Scene{
			Title: "Open", Targets: []light.Target{{Device: "safe", Property: "locked", Value: thing.Boolean(false)}},
		}},
	})
	require.NoError(t, err)
	tove := asPerson(t, url, h, "tove", home.Person{Title: "Tove", Role: home.Member})
	wren := asPerson(t, url, h, "wren", home.Person{Title: "Wren", Role: home.Member})
	key, err := h.AddClient(t.Context(), "script", hub.ClientMay{Scope: hub.ScopeSetUp})
	require.NoError(t, err)
	for _, c := range []struct {
		method, path, body string
		free               bool // for everybody
	}{
		{"PUT", "/api/devices/safe/properties/locked", `{"value":false}`, false},
		{"PUT", "/api/devices/safe/properties/locked", `{"value":true}`, true},
		{"PUT", "/api/devices/safe/properties/on", `{"value":true}`, false},
		{"PUT", "/api/devices/safe/properties/on", `{"value":false}`, true},
		{"POST", "/api/devices/safe/properties/locked/keep", `{"value":false}`, false},
		{"POST", "/api/scenes/open/apply", "", false},
		{"POST", "/api/sequences/slowly/start", "", false},
		{"POST", "/api/sequences/slowly/stop", "", true},
		{"POST", "/api/scenes/try", `{"targets":[{"device":"safe","property":"locked","value":false}]}`, false},
	} {
		for name, who := range map[string]struct {
			header, value string
			chosen        bool
		}{
			"an owner": {"Cookie", owner, true}, "chosen": {"Cookie", tove, true}, "another": {"Cookie", wren, false},
			"a program": {"Authorization", "Bearer " + key, false},
		} {
			a := call(t, c.method, url+c.path, c.body, who.header, who.value)
			assert.Equal(t, who.chosen || c.free, a.status < 300, "%s %s %s, %s: %s", c.method, c.path, c.body, name, a.body)
			if !who.chosen && !c.free {
				assert.Contains(t, a.body, "Safe is kept to Tove, the owners of the home.")
			}
		}
	}
}
