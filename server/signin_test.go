package server_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/home"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/server"
	"amvek/store"
)

const ownersCode = "AAAA-BBBB-CCCC-DDDD"

// closed is a home that is open to nobody, with the owner's code.
func closed(t testing.TB) (url string, h *hub.Hub) {
	code := ownersCode
	return serveWith(t, deaf{}, server.Options{
		Code:     func() (string, error) { return code, nil },
		CodeUsed: func() error { code = ""; return nil },
	})
}

// cookieOf returns the cookie that an answer sets, as it is sent back.
func cookieOf(a answer) string {
	cookie, _, _ := strings.Cut(a.header.Get("Set-Cookie"), ";")
	return cookie
}

func owned(t *testing.T) (url string, h *hub.Hub, owner string) {
	url, h = closed(t)
	made := call(t, "POST", url+"/api/owner", `{"code":"`+ownersCode+`","title":"Nell","password":"under the weir"}`)
	require.Equal(t, 200, made.status, made.body)
	return url, h, cookieOf(made)
}

// asPerson adds somebody to the home and lets a browser in as them.
func asPerson(t *testing.T, url string, h *hub.Hub, id string, person home.Person) (cookie string) {
	_, err := h.Save(t.Context(), hub.New{Kind: docs.KindPerson, ID: id, Document: &person})
	require.NoError(t, err)
	code, _ := h.Sessions.Invite(id)
	in := call(t, "POST", url+"/api/session/code", `{"code":"`+code+`"}`)
	require.Equal(t, 200, in.status, in.body)
	return cookieOf(in)
}

func sessionOf(t *testing.T, url, cookie string) (view server.SessionView) {
	a := call(t, "GET", url+"/api/session", "", "Cookie", cookie)
	require.Equal(t, 200, a.status)
	require.NoError(t, json.Unmarshal([]byte(a.body), &view))
	return view
}

func TestAHomeWithoutAnOwnerShowsOnlyHowToBecomeOne(t *testing.T) {
	url, h := closed(t)
	assert.Equal(t, "setUp", sessionOf(t, url, "").State)
	assert.Equal(t, 401, call(t, "GET", url+"/api/devices", "").status)
	assert.Equal(t, 401, call(t, "GET", url+"/things", "").status)
	assert.Contains(t, call(t, "GET", url+"/api/shown", "").body, "This home has no owner yet.")
	assert.Equal(t, 200, call(t, "GET", url+"/rules", "").status, "the front end itself says nothing of the home")

	for _, c := range []struct {
		body, place string
		status      int
	}{
		{`{"code":"AAAA-BBBB-CCCC-DDDE","title":"Nell","password":"under the weir"}`, "code", 422},
		{`{"code":"","title":"Nell","password":"under the weir"}`, "code", 422},
		{`{"code":"` + ownersCode + `","title":"Nell","password":"short"}`, "password", 422},
		{`{"code":"` + ownersCode + `","title":" ","password":"under the weir"}`, "title", 422},
	} {
		a := call(t, "POST", url+"/api/owner", c.body)
		assert.Equal(t, c.status, a.status, c.body)
		assert.Contains(t, a.body, c.place)
	}
	made := call(t, "POST", url+"/api/owner", `{"code":"aaaabbbb ccccdddd","title":"Nell","password":"under the weir"}`)
	require.Equal(t, 200, made.status, made.body)
	set := made.header.Get("Set-Cookie")
	assert.Contains(t, set, "HttpOnly")
	assert.Contains(t, set, "SameSite=Strict")
	view := sessionOf(t, url, cookieOf(made))
	assert.Equal(t, []string{"in", "Nell", "owner", "Mill"}, []string{view.State, view.Title, string(view.Role), view.Home})
	assert.Equal(t, 422, call(t, "POST", url+"/api/owner", `{"code":"`+ownersCode+`","title":"Eve","password":"under the weir"}`).status, "the code was used")
	assert.Equal(t, "signIn", sessionOf(t, url, "").State)
	assert.True(t, h.Owned())
}

func TestSigningIn(t *testing.T) {
	url, h, owner := owned(t)
	assert.Equal(t, 200, call(t, "GET", url+"/api/devices", "", "Cookie", owner).status)
	for _, wrong := range []string{"amvek=x", strings.ToLower(owner), owner + "x", "x" + owner, ""} {
		assert.Equal(t, 401, call(t, "GET", url+"/api/devices", "", "Cookie", wrong).status, wrong)
	}
	in := call(t, "POST", url+"/api/session", `{"title":" nell ","password":"under the weir"}`)
	require.Equal(t, 200, in.status, in.body)
	second := cookieOf(in)
	assert.NotEqual(t, owner, second)

	// Signing out ends this session alone.
	assert.Equal(t, 200, call(t, "DELETE", url+"/api/session", "", "Cookie", second).status)
	assert.Equal(t, 401, call(t, "GET", url+"/api/devices", "", "Cookie", second).status)
	assert.Equal(t, 200, call(t, "GET", url+"/api/devices", "", "Cookie", owner).status)

	// A new password ends all others, and is asked for the present one.
	third := cookieOf(call(t, "POST", url+"/api/session", `{"title":"Nell","password":"under the weir"}`))
	assert.Equal(t, 422, call(t, "PUT", url+"/api/session/password", `{"now":"wrong","next":"above the weir"}`, "Cookie", owner).status)
	assert.Equal(t, 422, call(t, "PUT", url+"/api/session/password", `{"now":"under the weir","next":"short"}`, "Cookie", owner).status)
	assert.Equal(t, 204, call(t, "PUT", url+"/api/session/password", `{"now":"under the weir","next":"above the weir"}`, "Cookie", owner).status)
	assert.Equal(t, 401, call(t, "GET", url+"/api/devices", "", "Cookie", third).status)
	assert.Equal(t, 200, call(t, "GET", url+"/api/devices", "", "Cookie", owner).status)

	// Wrong ones are answered alike whoever they are for, slowed, and told.
	for i, body := range []string{`{"title":"Nell","password":"x"}`, `{"title":"Eve","password":"x"}`} {
		a := call(t, "POST", url+"/api/session", body)
		assert.Equal(t, 422, a.status, i)
		assert.Contains(t, a.body, "Name and password do not fit.")
	}
	slowed := call(t, "POST", url+"/api/session", `{"title":"Nell","password":"above the weir"}`)
	assert.Equal(t, 429, slowed.status)
	assert.NotEmpty(t, slowed.header.Get("Retry-After"))
	said := []string{}
	kept, err := h.Journal(t.Context(), store.JournalQuery{Limit: 30})
	require.NoError(t, err)
	for _, e := range kept {
		said = append(said, e.Text)
	}
	assert.Contains(t, said, "Kept out: a wrong password for Nell, from 127.0.0.1.")
	assert.Contains(t, said, "Nell came in as an owner, by the code of the hub's machine, from 127.0.0.1")
	assert.Equal(t, 409, call(t, "DELETE", serve(t)+"/api/session", "").status, "whoever is at the machine is always in")
}

func TestTheLastOwnerStays(t *testing.T) {
	url, h, owner := owned(t)
	view := sessionOf(t, url, owner)
	remove := func(id, cookie string) int {
		return call(t, "DELETE", url+"/api/people/"+id, "", "Cookie", cookie).status
	}
	assert.Equal(t, 409, remove(view.Person, owner))
	assert.Equal(t, 422, call(t, "PUT", url+"/api/people/"+view.Person, `{"title":"Nell","role":"member"}`, "Cookie", owner).status)
	other := asPerson(t, url, h, "tove", home.Person{Title: "Tove", Role: home.Owner})
	assert.Equal(t, 422, call(t, "PUT", url+"/api/people/tove", `{"title":"nell ","role":"owner"}`, "Cookie", owner).status, "two of one name")

	// Of two owners who remove each other one stays.
	assert.Equal(t, 204, remove("tove", owner))
	assert.Equal(t, 401, remove(view.Person, other))
	assert.Equal(t, 409, remove(view.Person, owner))
	assert.Equal(t, 204, call(t, "POST", url+"/api/people/tove/restore", "", "Cookie", owner).status)
	require.Eventually(t, func() bool { return len(h.Sessions.All()) == 1 }, 20*time.Second, time.Millisecond)
	assert.Equal(t, 401, call(t, "GET", url+"/api/devices", "", "Cookie", other).status, "who comes back is let in anew")
}

func TestAPictureCode(t *testing.T) {
	url, h, owner := owned(t)
	tove := asPerson(t, url, h, "tove", home.Person{Title: "Tove", Role: home.Member})
	made := call(t, "POST", url+"/api/people/tove/code", "", "Cookie", owner)
	require.Equal(t, 200, made.status)
	var code server.Invitation
	require.NoError(t, json.Unmarshal([]byte(made.body), &code))
	assert.Equal(t, 403, call(t, "POST", url+"/api/people/tove/code", "", "Cookie", tove).status, "only an owner lets others in")
	assert.Equal(t, 404, call(t, "POST", url+"/api/people/nobody/code", "", "Cookie", owner).status)
	assert.Equal(t, 200, call(t, "POST", url+"/api/session/code", `{"code":"`+code.Code+`"}`).status)
	assert.Equal(t, 422, call(t, "POST", url+"/api/session/code", `{"code":"`+code.Code+`"}`).status, "it was used")
	assert.Len(t, h.Sessions.All(), 3)

	var all server.Sessions
	require.NoError(t, json.Unmarshal([]byte(call(t, "GET", url+"/api/sessions", "", "Cookie", owner).body), &all))
	assert.Len(t, all.Sessions, 3)
	assert.Equal(t, []string{sessionOf(t, url, owner).Person}, all.Passwords)
	for _, one := range all.Sessions {
		if one.Person == "tove" {
			assert.Equal(t, 204, call(t, "DELETE", url+"/api/sessions/"+one.ID, "", "Cookie", owner).status)
		}
	}
	assert.Equal(t, 401, call(t, "GET", url+"/api/devices", "", "Cookie", tove).status)
}

func TestAGuestIsOutWhenTheirTimeIsOverAndStaysOut(t *testing.T) {
	url, h, _ := owned(t)
	over := h.Now().Add(time.Hour)
	guest := asPerson(t, url, h, "ada", home.Person{Title: "Ada", Role: home.Guest, Until: over})
	assert.Equal(t, "in", sessionOf(t, url, guest).State)
	until := func(at time.Time) {
		_, err := h.Save(t.Context(), hub.New{Kind: docs.KindPerson, ID: "ada", Document: &home.Person{Title: "Ada", Role: home.Guest, Until: at}})
		require.NoError(t, err)
	}
	until(h.Now().Add(-time.Second))
	assert.Equal(t, "signIn", sessionOf(t, url, guest).State)
	until(over)
	assert.Equal(t, "signIn", sessionOf(t, url, guest).State, "as if the clock had been set back")
	code, _ := h.Sessions.Invite("ada")
	assert.Equal(t, 200, call(t, "POST", url+"/api/session/code", fmt.Sprintf(`{"code":%q}`, code)).status)
}

func TestWhoOwnsTheHomeAndWhoIsInOutlivesARestart(t *testing.T) {
	folder, code := t.TempDir(), ownersCode
	o := server.Options{Code: func() (string, error) { return code, nil }, CodeUsed: func() error { code = ""; return nil }}
	url, h, end := serveIn(t, folder, deaf{}, o)
	made := call(t, "POST", url+"/api/owner", `{"code":"`+ownersCode+`","title":"Nell","password":"under the weir"}`)
	require.Equal(t, 200, made.status, made.body)
	_, guest, _ := strings.Cut(asPerson(t, url, h, "ada", home.Person{Title: "Ada", Role: home.Guest}), "=")
	_, owner, _ := strings.Cut(cookieOf(made), "=")
	end()

	url, h, _ = serveIn(t, folder, deaf{}, o)
	name := "amvek-" + url[strings.LastIndex(url, ":")+1:] + "="
	assert.True(t, h.Owned())
	assert.Equal(t, "signIn", sessionOf(t, url, "").State)
	view := sessionOf(t, url, name+owner)
	assert.Equal(t, []string{"in", "Nell", "owner", "Mill"}, []string{view.State, view.Title, string(view.Role), view.Home})
	assert.Equal(t, home.Guest, sessionOf(t, url, name+guest).Role)
	assert.Equal(t, 403, call(t, "GET", url+"/api/devices", "", "Cookie", name+guest).status)
	assert.Equal(t, 200, call(t, "POST", url+"/api/session", `{"title":"Nell","password":"under the weir"}`).status)
}
