package webthing_test

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"net/http/httptest"
	"net/http/httputil"
	"net/url"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/connect/connecttest"
	"amvek/connect/discovery"
	"amvek/connect/webthing"
	"amvek/core/thing"
	"amvek/standin/penrook"
)

func run(t *testing.T, things *webthing.Things) *connecttest.Heard {
	h := connecttest.NewHeard()
	ctx, cancel := context.WithCancel(context.Background())
	var running sync.WaitGroup
	running.Go(func() { things.Run(ctx, h) })
	t.Cleanup(func() { cancel(); running.Wait() })
	h.AwaitLast(t, "up", "true")
	return h
}

func pretend(t *testing.T, domain string) *penrook.Box {
	b := penrook.New(time.Now, func(string) float64 { return 18.46 }, func() {})
	require.NoError(t, b.Serve("127.0.0.1:0", domain))
	t.Cleanup(func() { _ = b.Close(context.Background()) })
	return b
}

const lock, thermostat = "urn:penrook:lock-1", "urn:penrook:thermostat-1"

func TestDescribedDevicesAreFoundUnlockedAndUsed(t *testing.T) {
	ctx := context.Background()
	const domain = "webthingtest.local"
	box := pretend(t, domain)
	loopback, err := net.InterfaceByName("lo")
	require.NoError(t, err)
	things := webthing.New(webthing.Finder(discovery.Network{Domain: domain, Interface: loopback}))
	h := run(t, things)
	things.Search(ctx)
	h.Await(t, "found 9")
	assert.True(t, h.Devices()[0].Locked)
	all := map[string]bool{}
	for _, d := range h.Devices() {
		all[d.Hardware] = true
	}
	things.Select(all)
	h.AwaitLast(t, "reach "+lock, "wants a key")

	_, err = things.Unlock(ctx, lock, webthing.Key{Key: "guess"})
	assert.ErrorContains(t, err, "does not accept the key")
	_, err = things.Unlock(ctx, "urn:none", webthing.Key{Key: penrook.Code})
	assert.ErrorIs(t, err, webthing.ErrUnknown)
	host, err := things.Unlock(ctx, lock, webthing.Key{Key: penrook.Code})
	require.NoError(t, err)
	assert.Equal(t, box.Address(), host)
	h.AwaitLast(t, lock+" locked", "true")
	h.AwaitLast(t, thermostat+" temperature", "18.5") // the same key opens all of the box
	h.AwaitLast(t, thermostat+" mode", "heat")

	require.True(t, things.Write(ctx, thermostat, "target", thing.Number(21.5), 0).OK)
	h.AwaitLast(t, thermostat+" target", "21.5") // seconds later, when it has acted
	outcome := things.Write(ctx, thermostat, "target", thing.Number(25), 0)
	require.True(t, outcome.OK, outcome.Reason)
	require.True(t, things.Invoke(ctx, "urn:penrook:robot-1", "start", nil).OK)
	h.AwaitLast(t, "urn:penrook:robot-1 doing", "cleaning")
	assert.Contains(t, things.Invoke(ctx, "urn:penrook:robot-1", "fly", nil).Reason, "has no form")
	require.NoError(t, box.Turn("lock-1", false))
	h.AwaitLast(t, lock+" locked", "false") // observed, not asked for
	require.NoError(t, things.Test(ctx))
}

// server serves a thing described by the given properties.
func server(t *testing.T, handler http.HandlerFunc) (base string) {
	s := httptest.NewServer(handler)
	t.Cleanup(s.Close)
	return s.URL
}

func given(t *testing.T, document string) (*webthing.Things, *connecttest.Heard) {
	described, err := webthing.Describe([]byte(document), "")
	require.NoError(t, err)
	things := webthing.New(nil)
	h := run(t, things)
	things.Give([]webthing.Thing{described})
	things.Select(map[string]bool{"urn:x": true})
	h.Await(t, "found 1")
	return things, h
}

func td(base, security, properties string) string {
	return fmt.Sprintf(`{"@context":"https://www.w3.org/2019/wot/td/v1","id":"urn:x","title":"X","base":%q,%s,"properties":{%s}}`, base, security, properties)
}

const nosec = `"security":"n","securityDefinitions":{"n":{"scheme":"nosec"}}`

func TestSecurityIsSentAsTheDescriptionWants(t *testing.T) {
	for security, wants := range map[string]string{
		`"security":["b"],"securityDefinitions":{"b":{"scheme":"basic"}}`:                             "Authorization Basic dTprZXk=",
		`"security":"k","securityDefinitions":{"k":{"scheme":"apikey","in":"header","name":"X-Key"}}`: "X-Key key",
		`"security":"q","securityDefinitions":{"q":{"scheme":"apikey","in":"query","name":"token"}}`:  "?token=key",
		`"security":"t","securityDefinitions":{"t":{"scheme":"bearer"}}`:                              "Authorization Bearer key",
	} {
		got := make(chan string, 16)
		base := server(t, func(w http.ResponseWriter, r *http.Request) {
			name, _, _ := strings.Cut(wants, " ")
			said := "?" + r.URL.RawQuery
			if !strings.HasPrefix(wants, "?") {
				said = name + " " + r.Header.Get(name)
			}
			select {
			case got <- said:
			default:
			}
			_, _ = w.Write([]byte("5"))
		})
		things, h := given(t, td(base, security, `"v":{"type":"number","forms":[{"href":"/v"}]}`))
		_, err := things.Unlock(context.Background(), "urn:x", webthing.Key{User: "u", Key: "key"})
		require.NoError(t, err)
		h.AwaitLast(t, "urn:x v", "5")
		assert.Equal(t, wants, <-got)
	}
}

func TestWhatADeviceAnswersIsToldInWords(t *testing.T) {
	ctx := context.Background()
	elsewhere := server(t, func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write([]byte("9")) })
	base := server(t, func(w http.ResponseWriter, r *http.Request) {
		switch {
		case r.URL.Path == "/away":
			http.Redirect(w, r, elsewhere, http.StatusFound)
		case r.Method == http.MethodPut:
			w.Header().Set("Content-Type", "application/problem+json")
			w.WriteHeader(http.StatusConflict)
			_, _ = w.Write([]byte(`{"title":"Conflict","detail":"The lamp is being updated."}`))
		case r.URL.Path == "/odd":
			_, _ = w.Write([]byte(`<html>`))
		default:
			_, _ = w.Write([]byte(`{"t": 21.25, "deep": {"on": true}}`))
		}
	})
	things, h := given(t, td(base, nosec, `
		"state":{"type":"object","readOnly":true,"properties":{"t":{"type":"number","unit":"celsius"}},"forms":[{"href":"/state"}]},
		"on":{"type":"boolean","amvek:native":{"field":"/deep/on"},"forms":[{"href":"/state"}]},
		"odd":{"type":"number","forms":[{"href":"/odd"}]}`))
	h.AwaitLast(t, "urn:x state/t", "21.25")
	h.AwaitLast(t, "urn:x on", "true")
	h.Await(t, "what it sent is not JSON")
	outcome := things.Write(ctx, "urn:x", "on", thing.Boolean(false), 0)
	assert.Equal(t, "The device answers 409: The lamp is being updated.", outcome.Reason)
	assert.True(t, things.Write(ctx, "urn:none", "on", thing.Boolean(false), 0).Unreached)

	_, away := given(t, td(base, nosec, `"v":{"type":"number","forms":[{"href":"/away"}]}`))
	away.AwaitLast(t, "reach urn:x", "false The device cannot be reached")
	assert.Zero(t, away.Count("urn:x v 9"), "another host is not followed")
}

func TestADeadThingIsToldAndTheOthersGoOn(t *testing.T) {
	base := server(t, func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write([]byte("1")) })
	alive, err := webthing.Describe([]byte(td(base, nosec, `"v":{"type":"number","forms":[{"href":"/v"}]}`)), "")
	require.NoError(t, err)
	dead, err := webthing.Describe(
		[]byte(strings.Replace(td("http://127.0.0.1:1", nosec, `"v":{"type":"number","forms":[{"href":"/v"}]}`), "urn:x", "urn:dead", 1)),
		"",
	)
	require.NoError(t, err)
	things := webthing.New(nil)
	h := run(t, things)
	things.Give([]webthing.Thing{dead, alive})
	things.Select(map[string]bool{"urn:x": true, "urn:dead": true})
	h.AwaitLast(t, "urn:x v", "1")
	h.AwaitLast(t, "reach urn:dead", "false The device cannot be reached")
	things.Give([]webthing.Thing{alive})
	h.AwaitLast(t, "found", "1")
}

// Where a description leads is not known to be the owner's: nothing is asked there before its device is in the home, but what
// the owner asks for.
func TestNothingIsAskedBeforeADeviceIsTaken(t *testing.T) {
	asked := make(chan string, 16)
	base := server(t, func(w http.ResponseWriter, r *http.Request) {
		asked <- r.Method + " " + r.URL.Path
		_, _ = w.Write([]byte("1"))
	})
	described, err := webthing.Describe([]byte(td(base, nosec, `"v":{"type":"number","forms":[{"href":"/v"}]}`)), "")
	require.NoError(t, err)
	things := webthing.New(nil)
	h := run(t, things)
	things.Give([]webthing.Thing{described})
	h.Await(t, "found 1")
	things.Sync(context.Background())
	things.Recall(context.Background(), "urn:x")
	assert.Error(t, things.Test(context.Background()))
	assert.Empty(t, asked)
	require.True(t, things.Write(context.Background(), "urn:x", "v", thing.Number(2), 0).OK, "asked by somebody")
	assert.Equal(t, "PUT /v", <-asked)
	things.Select(map[string]bool{"urn:x": true})
	h.AwaitLast(t, "urn:x v", "1")
	assert.Equal(t, "GET /v", <-asked)
	things.Select(nil)
	h.AwaitLast(t, "found", "1")
}

func TestAnActionsAnswerComesBack(t *testing.T) {
	base := server(t, func(w http.ResponseWriter, r *http.Request) {
		switch r.URL.Path {
		case "/long":
			_, _ = w.Write([]byte(`"` + strings.Repeat("x", 20<<10) + `"`))
		case "/quiet":
			w.WriteHeader(http.StatusNoContent)
		default:
			_, _ = w.Write([]byte(`{"liters": 4.5}`))
		}
	})
	document := strings.Replace(
		td(base, nosec, `"v":{"type":"number","forms":[{"href":"/v"}]}`),
		`"properties"`,
		`"actions":{"measure":{"output":{"type":"object"},"forms":[{"href":"/measure"}]},"long":{"output":{"type":"string"},"forms":[{"href":"/long"}]},"quiet":{"output":{"type":"string"},"forms":[{"href":"/quiet"}]},"plain":{"forms":[{"href":"/measure"}]}},"properties"`,
		1,
	)
	things, h := given(t, document)
	h.Await(t, "found 1")
	for action, answer := range map[string]string{"measure": `{"liters":4.5}`, "long": "", "quiet": "", "plain": ""} {
		outcome := things.Invoke(context.Background(), "urn:x", action, nil)
		assert.True(t, outcome.OK, action)
		assert.Equal(t, answer, outcome.Answer, action)
	}
}

// A digest and a token are got with the key that the owner gave, and nothing is sent before there is one.
func TestDigestsAndTokensAreShown(t *testing.T) {
	var tokens atomic.Int64
	authorization := server(t, func(w http.ResponseWriter, r *http.Request) {
		tokens.Add(1)
		user, secret, _ := r.BasicAuth()
		if user != "u" || secret != "key" {
			w.WriteHeader(http.StatusUnauthorized)
			_, _ = w.Write([]byte(`{"error":"invalid_client"}`))
			return
		}
		w.Header().Set("Content-Type", "application/json")
		_, _ = fmt.Fprintf(w, `{"access_token":"tok-%s","token_type":"Bearer","expires_in":3600}`, r.FormValue("scope"))
	})
	for _, box := range []struct{ name, security, guess, key string }{
		{"digest", `"security":"d","securityDefinitions":{"d":{"scheme":"digest"}}`, "", ""},
		{"token", `"security":"o","securityDefinitions":{"o":{"scheme":"oauth2","flow":"client","token":"BASE/given","scopes":["read"]}}`, "gives no token", ""},
		{"elsewhere", `"security":"o","securityDefinitions":{"o":{"scheme":"oauth2","flow":"client","token":"http://other.test/t"}}`, "", "neither encrypted"},
		{"sent on", `"security":"o","securityDefinitions":{"o":{"scheme":"oauth2","flow":"client","token":"BASE/token","scopes":["read"]}}`, "gives no token", "gives no token"},
	} {
		t.Run(box.name, func(t *testing.T) {
			var asked atomic.Int64
			base := server(t, func(w http.ResponseWriter, r *http.Request) {
				if r.URL.Path == "/given" {
					r.URL.Path = "/"
					proxied(authorization, w, r)
					return
				}
				asked.Add(1)
				said := r.Header.Get("Authorization")
				switch {
				case r.URL.Path == "/token":
					http.Redirect(w, r, authorization, http.StatusTemporaryRedirect)
				case said == "Bearer tok-read",
					strings.HasPrefix(said, `Digest username="u"`) && strings.Contains(said, `uri="/v"`) && strings.Contains(said, "response="):
					_, _ = w.Write([]byte("5"))
				default:
					w.Header().Set("WWW-Authenticate", `Digest realm="box", nonce="abc", qop="auth", algorithm=SHA-256`)
					w.WriteHeader(http.StatusUnauthorized)
				}
			})
			things, h := given(t, strings.ReplaceAll(td(base, box.security, `"v":{"type":"number","forms":[{"href":"/v"}]}`), "BASE", base))
			h.AwaitLast(t, "reach urn:x", "wants a key")
			assert.Zero(t, asked.Load(), "nothing is asked without a key")
			_, err := things.Unlock(context.Background(), "urn:x", webthing.Key{User: "u", Key: "guess"})
			if box.guess != "" {
				assert.ErrorContains(t, err, box.guess)
			}
			_, err = things.Unlock(context.Background(), "urn:x", webthing.Key{User: "u", Key: "key"})
			if box.key != "" {
				assert.ErrorContains(t, err, box.key)
				return
			}
			require.NoError(t, err)
			h.AwaitLast(t, "urn:x v", "5")
		})
	}
	assert.Positive(t, tokens.Load())
}

// proxied hands a request on, as a box does that has its authorization server inside.
func proxied(to string, w http.ResponseWriter, r *http.Request) {
	at, _ := url.Parse(to)
	httputil.NewSingleHostReverseProxy(at).ServeHTTP(w, r)
}

// An event that carries nothing is heard by long polling: by an empty answer, by null and by an object, and not by the end of
// the time for which the device waits.
func TestAnEventThatCarriesNothingIsHeardByLongPolling(t *testing.T) {
	answers := make(chan func(w http.ResponseWriter))
	base := server(t, func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path != "/rings" {
			_, _ = w.Write([]byte("1"))
			return
		}
		select {
		case answer := <-answers:
			answer(w)
		case <-r.Context().Done():
		}
	})
	document := strings.Replace(td(base, nosec, `"v":{"type":"number","forms":[{"href":"/v"}]}`), `"properties"`,
		`"events":{"rings":{"forms":[{"href":"/rings","op":"subscribeevent","subprotocol":"longpoll"}]}},"properties"`, 1)
	_, h := given(t, document)
	for _, answer := range []func(w http.ResponseWriter){
		func(w http.ResponseWriter) { w.WriteHeader(http.StatusNoContent) },
		func(w http.ResponseWriter) { w.WriteHeader(http.StatusOK) },
		func(w http.ResponseWriter) { _, _ = w.Write([]byte("null")) },
		func(w http.ResponseWriter) { w.WriteHeader(http.StatusNoContent) },
		func(w http.ResponseWriter) { _, _ = w.Write([]byte(`{"by":"Tove"}`)) },
	} {
		answers <- answer
	}
	h.Until(t, "not all heard", func() bool { return h.Count("urn:x rings!") >= 3 })
	answers <- func(w http.ResponseWriter) { w.WriteHeader(http.StatusNoContent) } // asked again: all before is told
	assert.Equal(t, 3, h.Count("urn:x rings!"))
}

// A directory is read page by page, what is described badly is left out and told, and what it lists no more is gone.
func TestADirectoryIsFollowed(t *testing.T) {
	var mu sync.Mutex
	pages, tag, asked, key := [][]string{{"a", "b"}, {"c"}}, "1", 0, ""
	set := func(t string, p ...[]string) { mu.Lock(); defer mu.Unlock(); tag, pages = t, p }
	one := func(id string) string {
		if id == "broken" {
			return `{"title":"No context"}`
		}
		return `{"@context":"https://www.w3.org/2022/wot/td/v1.1","id":"urn:` + id + `","title":"` + strings.ToUpper(
			id,
		) + `","security":"n","securityDefinitions":{"n":{"scheme":"nosec"}},
			"properties":{"v":{"type":"number","forms":[{"href":"/v"}]}}}`
	}
	at := server(t, func(w http.ResponseWriter, r *http.Request) {
		mu.Lock()
		defer mu.Unlock()
		if r.URL.Path == "/v" {
			_, _ = w.Write([]byte("5"))
			return
		}
		key = r.Header.Get("Authorization")
		page := 0
		_, _ = fmt.Sscan(r.URL.Query().Get("page"), &page)
		if page == 0 {
			asked++
			w.Header().Set("ETag", `"`+tag+`"`)
			if r.Header.Get("If-None-Match") == `"`+tag+`"` {
				w.WriteHeader(http.StatusNotModified)
				return
			}
		}
		if page+1 < len(pages) {
			w.Header().Set("Link", fmt.Sprintf(`<?page=%d>; rel="next"`, page+1))
		}
		all := []string{}
		for _, id := range pages[page] {
			all = append(all, one(id))
		}
		_, _ = fmt.Fprintf(w, "[%s]", strings.Join(all, ","))
	})
	ctx := context.Background()
	things := webthing.OfDirectory(connect.Access{Address: at + "/things", Key: "k"})
	h := run(t, things)
	h.Await(t, "found 3")
	mu.Lock()
	assert.Equal(t, "Bearer k", key)
	mu.Unlock()
	things.Select(map[string]bool{"urn:b": true})
	h.AwaitLast(t, "urn:b v", "5")

	things.Search(ctx)
	set("2", []string{"b", "d", "broken"})
	things.Search(ctx)
	h.Await(t, "found 2")
	h.Await(t, "Of its list 1 cannot be read; the last: ")
	set("3", []string{"b"}, []string{"broken"}, []string{"c"})
	require.NoError(t, things.Test(ctx))
	assert.True(t, things.Lists())

	driver := webthing.DirectoryDriver()
	title, err := driver.Try(ctx, connect.Access{Address: at + "/things"})
	require.NoError(t, err)
	assert.Equal(t, "Devices at "+strings.TrimPrefix(at, "http://"), title)
	set("4", []string{"broken"})
	_, err = driver.Try(ctx, connect.Access{Address: at + "/things"})
	assert.ErrorContains(t, err, "none of its descriptions can be read")
	_, err = driver.Try(ctx, connect.Access{Address: at + "/v"})
	assert.ErrorContains(t, err, "no list of Thing Descriptions")
	_, err = driver.Try(ctx, connect.Access{Address: "http://127.0.0.1:1/things"})
	assert.ErrorContains(t, err, "cannot be reached")
}

// The key of a host is shown to no other, whatever a description says.
func TestAKeyIsNotShownElsewhere(t *testing.T) {
	shown := make(chan string, 100)
	elsewhere := server(t, func(w http.ResponseWriter, r *http.Request) {
		shown <- r.Header.Get("Authorization")
		_, _ = w.Write([]byte("1"))
	})
	base := server(t, func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write([]byte("5")) })
	things, h := given(
		t,
		td(
			base,
			`"security":"b","securityDefinitions":{"b":{"scheme":"bearer"}}`,
			`"a":{"type":"number","forms":[{"href":"/a"}]},"z":{"type":"number","forms":[{"href":"`+elsewhere+`/z"}]}`,
		),
	)
	h.AwaitLast(t, "reach urn:x", "wants a key")
	_, err := things.Unlock(context.Background(), "urn:x", webthing.Key{Key: "secret"})
	require.NoError(t, err)
	h.AwaitLast(t, "urn:x a", "5")
	h.Await(t, "to which the key is not shown")
	assert.Empty(t, shown)
}
