package server_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/fasthttp/websocket"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/connect/panel"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/server"
)

// asPanel adds a panel with a dashboard and returns the cookie of a tablet that was let in as it.
func asPanel(t *testing.T, url string, h *hub.Hub, dashboard string) (cookie string) {
	id, err := h.AddPanel(t.Context(), hub.NewPanel{Title: "Porch panel", Dashboards: []string{dashboard}})
	require.NoError(t, err)
	code, _ := h.Sessions.Invite(id)
	in := call(t, "POST", url+"/api/session/code", `{"code":"`+code+`"}`)
	require.Equal(t, 200, in.status, in.body)
	return cookieOf(in)
}

// withPanels serves a home that has an owner, a dashboard and a way to panels.
func withPanels(t *testing.T) (url string, h *hub.Hub, owner, dashboard string) {
	url, h = serveWith(t, deaf{}, server.Options{Panels: panel.New(), Code: func() (string, error) { return "code", nil }, CodeUsed: func() error { return nil }})
	in := call(t, "POST", url+"/api/owner", `{"code":"code","title":"Nell","password":"under the weir"}`)
	require.Equal(t, 200, in.status, in.body)
	owner = cookieOf(in)
	made := call(t, "POST", url+"/api/dashboards", `{"title":"Porch","grid":24,"margin":true,"controls":[]}`, "Cookie", owner)
	require.Equal(t, 200, made.status, made.body)
	var saved server.Saved
	require.NoError(t, json.Unmarshal([]byte(made.body), &saved))
	return url, h, owner, saved.ID
}

func dialPanel(url, cookie string) (*websocket.Conn, *http.Response, error) {
	return websocket.DefaultDialer.Dial(strings.Replace(url, "http", "ws", 1)+"/api/panel", http.Header{"Cookie": {cookie}})
}

func TestATabletThatWasLetInAsAPanelIsAndStaysThatPanel(t *testing.T) {
	url, h, owner, dashboard := withPanels(t)
	cookie := asPanel(t, url, h, dashboard)
	view := sessionOf(t, url, cookie)
	assert.Equal(t, home.Role("panel"), view.Role)
	assert.Equal(t, "Porch panel", view.Title)
	assert.Equal(t, []string{dashboard}, view.Dashboards)
	assert.Equal(t, 403, call(t, "DELETE", url+"/api/session", "", "Cookie", cookie).status, "it is left only by a code")
	assert.Equal(t, 403, call(t, "PUT", url+"/api/session/password", `{"next":"long enough"}`, "Cookie", cookie).status)
	assert.Equal(t, 403, call(t, "PUT", url+"/api/session/eyes", `{"person":"nell"}`, "Cookie", cookie).status)
	assert.Less(t, call(t, "PUT", url+"/api/devices/own/properties/mode", `{"value":"mode-out"}`, "Cookie", cookie).status, 300, "the modes stand at the side of its dashboard")

	// An owner sees the home as it does.
	id := view.Person
	assert.Equal(t, 200, call(t, "PUT", url+"/api/session/eyes", `{"person":"`+id+`"}`, "Cookie", owner).status)
	assert.Equal(t, home.Role("panel"), sessionOf(t, url, owner).Role)
	assert.Less(t, call(t, "PUT", url+"/api/devices/own/properties/mode", `{"value":"mode-in"}`, "Cookie", owner).status, 300)
	assert.Contains(t, call(t, "GET", url+"/api/journal", "", "Cookie", asPerson(t, url, h, "eve", home.Person{Title: "Eve", Role: home.Member})).body,
		"by Nell", "what is done through other eyes stays one's own")
	assert.Equal(t, 200, call(t, "PUT", url+"/api/session/eyes", `{"person":""}`, "Cookie", owner).status)

	// What it sees is for the owner alone.
	member := asPerson(t, url, h, "tove", home.Person{Title: "Tove", Role: home.Member})
	assert.Equal(t, 403, call(t, "GET", url+"/api/devices/"+id+"/pictures/view", "", "Cookie", member).status)
	assert.NotEqual(t, 403, call(t, "GET", url+"/api/devices/"+id+"/pictures/view", "", "Cookie", owner).status)

	// Removed, it is out.
	require.NoError(t, h.Remove(t.Context(), docs.KindDevice, id))
	assert.Equal(t, 401, call(t, "GET", url+"/api/shown", "", "Cookie", cookie).status)
}

func TestAPanelIsGivenDashboardsThatThereAre(t *testing.T) {
	url, h, owner, dashboard := withPanels(t)
	wrong := call(t, "POST", url+"/api/panels", `{"title":"Wall","dashboards":["none"]}`, "Cookie", owner)
	assert.Equal(t, 422, wrong.status)
	assert.Contains(t, wrong.body, "dashboards[0]")
	assert.Equal(t, 422, call(t, "POST", url+"/api/panels", `{"title":"Wall","dashboards":[]}`, "Cookie", owner).status)
	lamp := lamp("Lamp")
	lamp.Dashboards = []string{dashboard}
	_, err := h.Save(t.Context(), hub.New{Kind: docs.KindDevice, ID: "lamp", Document: lamp})
	assert.ErrorContains(t, err, "Only a panel")
}

func TestAPanelShowsTheKeysThatDoSomething(t *testing.T) {
	url, h, _, dashboard := withPanels(t)
	cookie := asPanel(t, url, h, dashboard)
	id := sessionOf(t, url, cookie).Person
	keys := func() []hub.PanelKey { return sessionOf(t, url, cookie).Keys }
	assert.Empty(t, keys())
	pressed := func(key, title string, on bool) *rule.Rule {
		press := rule.Trigger{Device: id, Event: key, Comparison: rule.Is, Value: thing.Text("press")}
		return &rule.Rule{Title: title, Enabled: on, When: []rule.Trigger{press}, Do: []rule.Step{{Kind: rule.StepWait, ForSeconds: 1}}}
	}
	revision := 0
	save := func(doc *rule.Rule) {
		var err error
		if revision == 0 {
			_, err = h.Save(t.Context(), hub.New{Kind: docs.KindRule, ID: "film", Document: doc})
			revision = 1
		} else {
			revision, err = h.Replace(t.Context(), hub.New{Kind: docs.KindRule, ID: "film", Revision: revision, Document: doc})
		}
		require.NoError(t, err)
	}
	save(pressed("key2", "Porch panel, key 2 pressed: Film", true))
	assert.Equal(t, []hub.PanelKey{{Name: "key2", Sign: "Film"}}, keys())
	save(pressed("key3", "Film night", true))
	assert.Equal(t, []hub.PanelKey{{Name: "key3", Sign: "Film night"}}, keys(), "the rule goes by another key now")

	view, err := h.Device(t.Context(), id)
	require.NoError(t, err)
	panel := view.Device
	panel.Layout = map[string]thing.Layout{"key3": {Column: 2, Sign: "Cinema"}, "key1": {Sign: "1"}}
	_, err = h.Replace(t.Context(), hub.New{Kind: docs.KindDevice, ID: id, Revision: view.Revision, Document: &panel})
	require.NoError(t, err)
	assert.Equal(t, []hub.PanelKey{{Name: "key3", Sign: "Cinema"}}, keys(), "what its owner has printed on it")
	save(pressed("key3", "Film night", false))
	assert.Empty(t, keys(), "a rule that is off is not offered")
}

func TestOnlyAPanelSpeaksAsOne(t *testing.T) {
	url, h, owner, dashboard := withPanels(t)
	for who, cookie := range map[string]string{"nobody": "", "the owner": owner} {
		_, answer, err := dialPanel(url, cookie)
		require.Error(t, err, who)
		assert.Equal(t, 403, answer.StatusCode, who)
		_ = answer.Body.Close()
	}
	cookie := asPanel(t, url, h, dashboard)
	line, answer, err := dialPanel(url, cookie)
	require.NoError(t, err)
	defer func() { _ = answer.Body.Close(); _ = line.Close() }()
	require.NoError(t, h.Sessions.End(t.Context(), sessionOf(t, url, cookie).Session))
	h.GateChanged()
	require.NoError(t, line.SetReadDeadline(time.Now().Add(20*time.Second)))
	_, _, err = line.ReadMessage()
	assert.Error(t, err, "a session that was ended ends its line")
	var late interface{ Timeout() bool }
	assert.NotErrorAs(t, err, &late)
}

func TestAPanelIsADeviceOfTheHome(t *testing.T) {
	panels := panel.New()
	url, h := serveWith(t, panels, server.Options{Panels: panels, Open: true})
	_, err := h.Save(t.Context(), hub.New{Kind: docs.KindDevice, ID: "wall", Document: &home.Device{
		Title: "Wall", Connection: hub.GatewaysID, Hardware: "wall", Address: "wall", Description: panel.Description(),
	}})
	require.NoError(t, err)
	said := make(chan panel.Order, 1)
	heard, detach := panels.Attach("wall", func(o panel.Order) error { said <- o; return nil })
	defer detach()
	heard([]byte(`{"property":"lit","value":true}`))
	lit := func() string {
		d, err := h.Device(t.Context(), "wall")
		require.NoError(t, err)
		for _, s := range d.States {
			if s.Name == panel.Lit {
				return s.Text + " " + string(s.Certainty)
			}
		}
		return ""
	}
	require.Eventually(t, func() bool { return lit() == "on confirmed" }, 20*time.Second, time.Millisecond, lit())
	assert.Less(t, call(t, "PUT", url+"/api/devices/wall/properties/lit", `{"value":false}`).status, 300)
	order := <-said
	assert.Equal(t, thing.Boolean(false), *order.Value)
	answer, err := json.Marshal(panel.Said{Done: order.Order})
	require.NoError(t, err)
	heard(answer)
	heard([]byte(`{"property":"lit","value":false}`))
	require.Eventually(t, func() bool { return lit() == "off confirmed" }, 20*time.Second, time.Millisecond)
}

var _ connect.Connection = (*panel.Panels)(nil)

func TestAPictureIsTakenInScaledAndShown(t *testing.T) {
	url, _ := serveHome(t, deaf{})
	var picture bytes.Buffer
	require.NoError(t, png.Encode(&picture, image.NewRGBA(image.Rect(0, 0, 2400, 40))))
	upload := func(data string) answer {
		return call(t, "POST", url+"/api/uploads", data, "Content-Type", "image/png")
	}
	a := upload(picture.String())
	require.Equal(t, 200, a.status, a.body)
	var taken hub.Upload
	require.NoError(t, json.Unmarshal([]byte(a.body), &taken))
	assert.Equal(t, 1920, taken.Width)
	shown := call(t, "GET", url+"/api/uploads/"+taken.ID, "")
	assert.Equal(t, "image/jpeg", shown.header.Get("Content-Type"))
	assert.Equal(t, a.body, upload(picture.String()).body, "the same picture is kept once")
	wrong := upload("<svg onload='alert(1)'/>")
	assert.Equal(t, 422, wrong.status)
	assert.Contains(t, wrong.body, "not a picture")
	assert.Equal(t, 404, call(t, "GET", url+"/api/uploads/none", "").status)
}

func TestAStrangerSendsNoLargePictures(t *testing.T) {
	url, _, owner, _ := withPanels(t)
	noise := image.NewRGBA(image.Rect(0, 0, 1200, 600))
	for i := range noise.Pix {
		noise.Pix[i] = byte(i * i >> 7)
	}
	var large bytes.Buffer
	require.NoError(t, (&png.Encoder{CompressionLevel: png.NoCompression}).Encode(&large, noise))
	require.Greater(t, large.Len(), server.MaximumBody)
	assert.Equal(t, 200, call(t, "POST", url+"/api/uploads", large.String(), "Cookie", owner).status)
	request, err := http.NewRequest(http.MethodPost, url+"/api/uploads", bytes.NewReader(large.Bytes()))
	require.NoError(t, err)
	answer, err := http.DefaultClient.Do(request)
	if err == nil { // else it was ended while more was sent
		assert.Equal(t, 413, answer.StatusCode)
		_ = answer.Body.Close()
	}
}

func TestADashboardIsDraftedAndPointedElsewhere(t *testing.T) {
	url, h := serveHome(t, deaf{})
	hall, attic := lamp("Hall lamp"), lamp("Attic lamp")
	hall.Room, attic.Room, hall.Lamp, attic.Lamp = "hall", "attic", true, true
	_, err := h.SaveAll(t.Context(), []hub.New{
		{Kind: docs.KindRoom, ID: "hall", Document: &home.Room{Title: "Hall", Floor: "ground"}},
		{Kind: docs.KindRoom, ID: "attic", Document: &home.Room{Title: "Attic", Floor: "upper"}},
		{Kind: docs.KindRoom, ID: "cellar", Document: &home.Room{Title: "Cellar"}},
		{Kind: docs.KindDevice, ID: "hall-lamp", Document: hall}, {Kind: docs.KindDevice, ID: "attic-lamp", Document: attic},
	})
	require.NoError(t, err)
	draft := func(of string) answer { return call(t, "POST", url+"/api/dashboards/draft", of) }
	assert.Contains(t, draft(`{"room":"hall"}`).body, `"device":"hall-lamp"`)
	assert.NotContains(t, draft(`{"floor":"upper"}`).body, "hall-lamp")
	assert.Contains(t, draft(`{}`).body, "attic-lamp")
	assert.Equal(t, 422, draft(`{"room":"none"}`).status)
	assert.Equal(t, 409, draft(`{"room":"cellar"}`).status, "nothing is in it")
	body := func(room, choices string) string {
		return `{"room":"` + room + `","choices":{` + choices + `},"controls":[{"id":"a","kind":"lamp","device":"hall-lamp","property":"on","column":0,"row":0,"width":8,"height":4}]}`
	}
	repoint := func(room, choices string) answer {
		return call(t, "POST", url+"/api/dashboards/repoint", body(room, choices))
	}
	var to hub.Repointed
	require.NoError(t, json.Unmarshal([]byte(repoint("attic", "").body), &to))
	require.Len(t, to.Controls, 1)
	assert.Equal(t, "attic-lamp", to.Controls[0].Device)
	assert.Equal(t, "same model, same name", to.Rows[0].Why)
	require.NoError(t, json.Unmarshal([]byte(repoint("attic", `"hall-lamp":"leave out"`).body), &to))
	assert.Empty(t, to.Controls)
	assert.Equal(t, 422, repoint("none", "").status)
	wrong := repoint("attic", `"hall-lamp":"gone"`)
	assert.Equal(t, 422, wrong.status)
	assert.Contains(t, wrong.body, "choices")
}

func TestPicturesOfAPanelAreItsOwnersAlone(t *testing.T) {
	url, h, owner, dashboard := withPanels(t)
	id, err := h.AddPanel(t.Context(), hub.NewPanel{Title: "Galley panel", Dashboards: []string{dashboard}})
	require.NoError(t, err)
	tove := asPerson(t, url, h, "tove", home.Person{Title: "Tove", Role: home.Member})
	var picture bytes.Buffer
	require.NoError(t, jpeg.Encode(&picture, image.NewGray(image.Rect(0, 0, 4, 3)), nil))
	require.NoError(t, h.KeepPanelPicture(t.Context(), id, picture.Bytes()))
	assert.Error(t, h.KeepPanelPicture(t.Context(), id, []byte("no picture")))
	assert.Error(t, h.KeepPanelPicture(t.Context(), "none", picture.Bytes()))

	path := url + "/api/panels/" + id + "/pictures"
	var list []hub.PanelPicture
	require.NoError(t, json.Unmarshal([]byte(call(t, "GET", path, "", "Cookie", owner).body), &list))
	require.Len(t, list, 1)
	one := fmt.Sprint(path, "/", list[0].At)
	taken := call(t, "GET", one, "", "Cookie", owner)
	assert.Equal(t, picture.String(), taken.body)
	assert.Equal(t, "image/jpeg", taken.kind)
	assert.Equal(t, 404, call(t, "GET", path+"/1", "", "Cookie", owner).status)
	for _, of := range []string{path, one} {
		assert.Equal(t, 403, call(t, "GET", of, "", "Cookie", tove).status)
		assert.Equal(t, 401, call(t, "GET", of, "").status)
	}
}
