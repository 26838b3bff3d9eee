package server_test

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"strings"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/core/home"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/catalogue"
	"amvek/hub/docs"
	"amvek/server"
	"amvek/store"
)

// deaf is a connection that neither hears nor reaches anything.
type deaf struct{}

func (deaf) Run(ctx context.Context, _ connect.Sink) { <-ctx.Done() }
func (deaf) Write(context.Context, string, string, thing.Value, time.Duration) connect.Outcome {
	return connect.Outcome{}
}
func (deaf) Invoke(context.Context, string, string, thing.Inputs) connect.Outcome {
	return connect.Outcome{}
}
func (deaf) Sync(context.Context)           {}
func (deaf) Recall(context.Context, string) {}

func serve(t *testing.T) string {
	address, _ := serveHome(t, deaf{})
	return address
}

// serveHome serves a home with one connection to whoever is at this machine.
func serveHome(t testing.TB, connection connect.Connection) (address string, h *hub.Hub) {
	return serveWith(t, connection, server.Options{Open: true})
}

// serveWith serves a home with one connection, as the options say.
func serveWith(t testing.TB, connection connect.Connection, o server.Options) (address string, h *hub.Hub) {
	address, h, _ = serveIn(t, t.TempDir(), connection, o)
	return address, h
}

// serveIn serves the home that is kept in a folder, a new one where there is none, until it is ended.
func serveIn(t testing.TB, folder string, connection connect.Connection, o server.Options) (address string, h *hub.Hub, end func()) {
	ctx := context.Background()
	log := slog.New(slog.DiscardHandler)
	kept, err := store.Open(ctx, folder, log)
	require.NoError(t, err)
	h, err = hub.Start(
		ctx,
		hub.Options{
			Store:     kept,
			Clock:     &hub.WallClock{},
			Log:       log,
			Standing:  []hub.Standing{{ID: hub.GatewaysID, Definition: docs.Connection{Title: "Deaf", Kind: docs.HubBroker}, Connection: connection}},
			Catalogue: catalogue.New(nil),
		},
	)
	require.NoError(t, err)
	if _, err := kept.Definition(ctx, string(docs.KindHome), docs.HomeID); errors.Is(err, store.ErrAbsent) {
		mill := home.Home{Title: "Mill", Zone: "Europe/London", NamePattern: "{what}"}
		_, err = h.Save(ctx, hub.New{Kind: docs.KindHome, ID: docs.HomeID, Document: &mill})
		require.NoError(t, err)
	}
	files := fstest.MapFS{"index.html": {Data: []byte("<!doctype html><!--pass-->front")}, "assets/a.js": {Data: []byte("1")}, "assets/a.js.br": {Data: []byte("b")}, "assets/a.js.gz": {Data: []byte("g")}}
	o.Hub, o.Log, o.Files, o.Version, o.PageKey = h, log, files, "test", []byte("secret of this test")
	s := server.New(o)
	require.NoError(t, s.Listen("127.0.0.1:0"))
	ended := make(chan error, 1)
	go func() { ended <- s.Serve() }()
	end = sync.OnceFunc(func() {
		require.NoError(t, s.Close(ctx))
		<-ended
		h.Close()
		require.NoError(t, kept.Close())
	})
	t.Cleanup(end)
	return "http://" + s.Address(), h, end
}

type answer struct {
	status int
	kind   string
	header http.Header
	body   string
}

func call(t *testing.T, method, url, body string, headers ...string) answer {
	t.Helper()
	request, err := http.NewRequest(method, url, strings.NewReader(body))
	require.NoError(t, err)
	if body != "" {
		request.Header.Set("Content-Type", "application/json")
	}
	for i := 0; i+1 < len(headers); i += 2 {
		if headers[i] == "Host" {
			request.Host = headers[i+1]
			continue
		}
		request.Header.Set(headers[i], headers[i+1])
	}
	response, err := http.DefaultClient.Do(request)
	require.NoError(t, err)
	defer func() { _ = response.Body.Close() }()
	data, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	return answer{response.StatusCode, response.Header.Get("Content-Type"), response.Header, string(data)}
}

func TestEveryRefusalIsAProblemDocument(t *testing.T) {
	url := serve(t)
	for _, c := range []struct {
		method, path, body string
		status             int
		says               string
	}{
		{"GET", "/api/nothing", "", 404, "nothing at this address"},
		{"GET", "/api/devices/none", "", 404, "no such device"},
		{"PUT", "/api/devices/none/properties/power", `{"value":true}`, 404, "no such device"},
		{"POST", "/api/rules", `{`, 400, ""},
		{"POST", "/api/rules", `{"title":"x"}`, 422, "is missing"},
		{"POST", "/api/rules", `{"title":"x","enabled":true,"do":[{"kind":"sing"}]}`, 422, "body.do[0].kind"},
		{"POST", "/api/rules", `{"title":"x","enabled":true,"do":[],"colour":1}`, 422, "nothing of this name"},
		{"POST", "/api/rules", `{"title":"  ","enabled":true,"do":[]}`, 422, "Give the rule a name"},
		{"POST", "/api/scenes", `{"title":"x","fadeSeconds":9999,"targets":[]}`, 422, "body.fadeSeconds"},
		{"POST", "/api/scenes", `{"title":"x","fadeSeconds":1,"targets":[{"device":"d","property":"p","value":1}]}`, 422, "targets[0]"},
		{"PUT", "/api/scenes/none", `{"title":"x","fadeSeconds":1,"targets":[]}`, 404, "no such scene"},
		{"DELETE", "/api/rooms/none", "", 404, "no such room"},
		{"PUT", "/api/home", `{"title":"x","latitude":1,"longitude":1,"zone":"Mill/Time","namePattern":"{what}"}`, 422, "not a known time zone"},
		{"POST", "/api/schedules/dates", `{"anchor":"clock","clock":"27:00"}`, 422, "not a time"},
		{"GET", "/api/journal?limit=9000", "", 422, "query.limit"},
		{"GET", "/api/journal/1234567/chain", "", 404, "no such entry"},
		{"GET", "/api/history?series=d~p&from=yesterday&to=now", "", 422, "query.from"},
		{"GET", "/api/bench", "", 404, "no pretend house"},
		{"POST", "/api/pairing", `{"address":"127.0.0.1:1"}`, 422, "no box that is paired with"},
		{"DELETE", "/api/connections/gateways", "", 409, "belongs to the hub"},
		{"GET", "/api/color?swatch=%23000000", "", 422, "Black has no tone"},
	} {
		a := call(t, c.method, url+c.path, c.body)
		assert.Equal(t, c.status, a.status, "%s %s: %s", c.method, c.path, a.body)
		assert.Equal(t, "application/problem+json", a.kind, c.path)
		assert.Contains(t, a.body, c.says, c.path)
	}
	assert.Equal(t, 200, call(t, "GET", url+"/api/rules", "").status, "the hub goes on")
	assert.Equal(t, "[]", strings.TrimSpace(call(t, "GET", url+"/api/rules", "").body), "and nothing was saved")
}

func TestAnOversizedBodyIsRefused(t *testing.T) {
	url := serve(t)
	request, err := http.NewRequest("POST", url+"/api/rules", strings.NewReader(strings.Repeat(" ", server.MaximumBody+1)))
	require.NoError(t, err)
	response, err := http.DefaultClient.Do(request)
	if err == nil { // the hub may also close the connection while the body is still on the way
		_ = response.Body.Close()
		assert.Equal(t, http.StatusRequestEntityTooLarge, response.StatusCode)
	}
	assert.Equal(t, 200, call(t, "GET", url+"/api/about", "").status)
}

func TestPagesFromElsewhereCannotReachTheHub(t *testing.T) {
	url, h := serveHome(t, deaf{})
	assert.Equal(t, 403, call(t, "GET", url+"/api/devices", "", "Host", "evil.example:8420").status)
	assert.Equal(t, 403, call(t, "POST", url+"/api/rules", `{}`, "Origin", "https://evil.example").status)
	assert.Equal(t, 403, call(t, "GET", url+"/api/live", "", "Origin", "https://evil.example", "Connection", "Upgrade", "Upgrade", "websocket").status)
	assert.Equal(t, 403, call(t, "GET", url+"/api/devices", "", "Origin", "http://localhost:8420").status, "another program of this machine")
	assert.Equal(t, 403, call(t, "GET", url+"/api/devices", "", "Sec-Fetch-Site", "cross-site", "Sec-Fetch-Mode", "no-cors", "Sec-Fetch-Dest", "image").status)
	assert.Equal(t, 403, call(t, "GET", url+"/api/devices", "", "Sec-Fetch-Site", "cross-site", "Sec-Fetch-Mode", "navigate", "Sec-Fetch-Dest", "document").status)
	assert.Equal(t, 403, call(t, "GET", url+"/", "", "Sec-Fetch-Site", "cross-site", "Sec-Fetch-Mode", "navigate", "Sec-Fetch-Dest", "iframe").status)
	assert.Equal(t, 200, call(t, "GET", url+"/rules", "", "Sec-Fetch-Site", "cross-site", "Sec-Fetch-Mode", "navigate", "Sec-Fetch-Dest", "document").status, "a link")
	assert.Equal(t, 200, call(t, "GET", url+"/api/devices", "", "Origin", url, "Sec-Fetch-Site", "same-origin").status)
	kept, err := h.Journal(t.Context(), store.JournalQuery{Limit: 20})
	require.NoError(t, err)
	said := []string{}
	for _, e := range kept {
		said = append(said, e.Text)
	}
	assert.Contains(t, said, "Kept out: a page of https://evil.example, which asked for POST /api/rules.")
	assert.Contains(t, said, "Kept out: a request to the name \"evil.example:8420\", which is not the hub's, from 127.0.0.1.")
}

func TestListensOnLoopbackOnly(t *testing.T) {
	for _, address := range []string{"0.0.0.0:8420", ":8420", "192.168.1.5:8420", "mill.example:80"} {
		assert.ErrorContains(t, server.CheckLoopback(address), "refusing to listen", address)
	}
	assert.ErrorContains(t, server.CheckLoopback("8420"), "not an address")
	for _, address := range []string{"127.0.0.1:0", "[::1]:8420", "localhost:8420"} {
		assert.NoError(t, server.CheckLoopback(address))
	}
}

func TestTheFrontEndAnswersAtEveryPage(t *testing.T) {
	url := serve(t)
	for _, path := range []string{"/", "/devices/x", "/panel/y"} {
		a := call(t, "GET", url+path, "")
		assert.Equal(t, 200, a.status)
		assert.Contains(t, a.kind, "text/html")
		assert.Contains(t, a.header.Get("Content-Security-Policy"), "default-src 'self'")
	}
	assert.Contains(t, call(t, "GET", url+"/assets/a.js", "", "Accept-Encoding", "identity").header.Get("Cache-Control"), "immutable")
	assert.Equal(t, 404, call(t, "GET", url+"/assets/missing.js", "").status)
	assert.Equal(t, 404, call(t, "GET", url+"/../../etc/passwd.txt", "").status)
}

func TestTheFrontEndIsSentAsItWasCompressed(t *testing.T) {
	url := serve(t)
	for _, c := range []struct{ accepts, encoding, body string }{
		{"gzip, br", "br", "b"}, {"gzip", "gzip", "g"}, {"identity", "", "1"}, {"br;q=0, gzip", "gzip", "g"},
	} {
		a := call(t, "GET", url+"/assets/a.js", "", "Accept-Encoding", c.accepts)
		assert.Equal(t, []string{c.encoding, c.body}, []string{a.header.Get("Content-Encoding"), a.body}, c.accepts)
		assert.Contains(t, a.kind, "javascript")
		assert.Contains(t, a.header.Get("Vary"), "Accept-Encoding")
	}
}

func TestDocumentDescribesWhatIsServed(t *testing.T) {
	data, err := server.Document("test")
	require.NoError(t, err)
	var document struct {
		OpenAPI    string                    `json:"openapi"`
		Paths      map[string]map[string]any `json:"paths"`
		Components struct {
			Schemas map[string]any `json:"schemas"`
		} `json:"components"`
	}
	require.NoError(t, json.Unmarshal(data, &document))
	assert.Equal(t, "3.1.0", document.OpenAPI)
	assert.Contains(t, document.Components.Schemas, "Message")
	assert.Contains(t, document.Components.Schemas, "Value")
	url := serve(t)
	served := call(t, "GET", url+"/api/openapi.json", "")
	assert.Equal(t, 200, served.status)
	assert.JSONEq(t, string(data), served.body)
	for path, methods := range document.Paths {
		if _, reads := methods["get"]; reads && !strings.Contains(path, "{") && path != "/api/live" && path != "/api/bench" && path != "/api/broker" &&
			path != "/api/color" &&
			!strings.HasPrefix(path, "/api/history") {
			assert.Equal(t, 200, call(t, "GET", url+path, "").status, path)
		}
	}
}

func TestSaveRefusesAnOldRevision(t *testing.T) {
	url := serve(t)
	created := call(t, "POST", url+"/api/rooms", `{"title":"Hall","order":0}`)
	require.Equal(t, 200, created.status, created.body)
	var saved server.Saved
	require.NoError(t, json.Unmarshal([]byte(created.body), &saved))
	room := url + "/api/rooms/" + saved.ID
	assert.Equal(t, 200, call(t, "PUT", room+"?revision=1", `{"title":"Great hall","order":0}`).status)
	assert.Equal(t, 409, call(t, "PUT", room+"?revision=1", `{"title":"Small hall","order":0}`).status)
	assert.Equal(t, 204, call(t, "DELETE", room, "").status)
	assert.Equal(t, 204, call(t, "POST", room+"/restore", "").status)
	assert.Contains(t, call(t, "GET", url+"/api/home", "").body, "Great hall")
}

// Whatever is sent, what is wrong is said in words that are no programming language's, and nothing falls.
func TestWrongInputIsSaidPlainly(t *testing.T) {
	address := serve(t)
	page := pass.FindStringSubmatch(call(t, http.MethodGet, address+"/", "").body)[1]
	for _, c := range []struct {
		method, path, body string
		status             int
		says               string
	}{
		{http.MethodPost, "/api/rules", `<html>`, 400, "This is not valid JSON."},
		{http.MethodPost, "/api/rules", `{`, 400, "This is not valid JSON."},
		{http.MethodPost, "/api/rules", `{"title":"x"}{}`, 400, "This is not valid JSON."},
		{http.MethodPost, "/api/rules", `[]`, 422, "An object is expected here."},
		{http.MethodPost, "/api/rules", `{"title":"x","enabled":true,"do":{}}`, 422, "do: A list is expected here."},
		{http.MethodPost, "/api/rules", `{"title":"x","enabled":true}`, 422, "“do” is missing."},
		{http.MethodPost, "/api/rules", `{"title":"x","enabled":true,"do":[],"colour":1}`, 422, "colour: There is nothing of this name here."},
		{http.MethodPut, "/api/devices/own/properties/mode", `{"value":1e999}`, 400, "A number in it is too large."},
		{http.MethodGet, "/api/journal?limit=many", "", 422, "query.limit: A number is expected here."},
		{http.MethodGet, "/api/journal/18446744073709551615/chain", "", 404, "There is no such entry in the journal."},
		{http.MethodGet, "/api/journal?before=18446744073709551615", "", 200, ""},
		{http.MethodGet, "/api/rules/x/runs/18446744073709551615", "", 404, ""},
		{http.MethodGet, "/api/history?series=own/mode&from=noon&to=night", "", 422, "query.from: This is not a time such as 2026-11-28T22:30:00Z."},
	} {
		got := call(t, c.method, address+c.path, c.body, "Amvek-Page", page)
		assert.Equal(t, c.status, got.status, "%s %s: %s", c.path, c.body, got.body)
		assert.Equal(t, "nosniff", got.header.Get("X-Content-Type-Options"))
		if c.says != "" {
			var problem struct{ Detail string }
			require.NoError(t, json.Unmarshal([]byte(got.body), &problem))
			assert.Equal(t, c.says, problem.Detail, c.body)
		}
	}
	assert.Equal(t, 200, call(t, http.MethodGet, address+"/api/about", "", "Cookie", strings.Repeat("a", 20<<10)).status)
	long := call(t, http.MethodPost, address+"/api/rules", `"`+strings.Repeat("x", 100_000)+`"`)
	assert.Less(t, len(long.body), 2000, "not all is told back")
}

// Who follows the list of Things is told that it is the same, until it is another.
func TestTheListOfThingsHasATag(t *testing.T) {
	url := serve(t)
	first := call(t, "GET", url+"/things", "")
	require.Equal(t, http.StatusOK, first.status)
	tag := first.header.Get("ETag")
	require.NotEmpty(t, tag)
	assert.Equal(t, http.StatusNotModified, call(t, "GET", url+"/things", "", "If-None-Match", tag).status)
	made := call(t, "POST", url+"/api/variables", `{"title":"Guests","type":"boolean"}`)
	require.Less(t, made.status, 300, made.body)
	again := call(t, "GET", url+"/things", "", "If-None-Match", tag)
	assert.Equal(t, http.StatusOK, again.status)
	assert.Contains(t, again.body, "Guests")
}
