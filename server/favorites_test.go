package server_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/home"
	"amvek/hub"
	"amvek/hub/docs"
)

func TestFavoritesAreOnesOwnAndLastLikeTheirThings(t *testing.T) {
	url, h, nell := owned(t)
	tove := asPerson(t, url, h, "tove", home.Person{Title: "Tove", Role: home.Member})
	for _, id := range []string{"hall", "attic"} {
		_, err := h.Save(t.Context(), hub.New{Kind: docs.KindRoom, ID: id, Document: &home.Room{Title: strings.ToUpper(id)}})
		require.NoError(t, err)
	}
	path := url + "/api/session/favorites"
	put := func(cookie, what string) int { return call(t, "PUT", path+what, "", "Cookie", cookie).status }
	of := func(cookie string) string { return strings.TrimSpace(call(t, "GET", path, "", "Cookie", cookie).body) }
	assert.Equal(t, "[]", of(tove))
	assert.Equal(t, 204, put(tove, "/room/hall"))
	assert.Equal(t, 204, put(tove, "/room/attic?at=9"))
	assert.Equal(t, `[{"kind":"room","id":"hall"},{"kind":"room","id":"attic"}]`, of(tove))
	assert.Equal(t, "[]", of(nell))
	assert.Equal(t, 204, put(tove, "/room/attic?at=0"), "moved")
	assert.Equal(t, `[{"kind":"room","id":"attic"},{"kind":"room","id":"hall"}]`, of(tove))
	assert.Equal(t, 404, put(tove, "/room/cellar"))
	assert.Equal(t, 404, put(tove, "/scene/hall"))
	assert.Equal(t, 422, put(tove, "/person/tove"))

	// What is removed is not at hand, and is again once it is back.
	require.NoError(t, h.Remove(t.Context(), docs.KindRoom, "attic"))
	assert.Equal(t, `[{"kind":"room","id":"hall"}]`, of(tove))
	require.NoError(t, h.Restore(t.Context(), docs.KindRoom, "attic"))
	assert.Equal(t, `[{"kind":"room","id":"attic"},{"kind":"room","id":"hall"}]`, of(tove))
	assert.Equal(t, 204, call(t, "DELETE", path+"/room/attic", "", "Cookie", tove).status)
	assert.Equal(t, `[{"kind":"room","id":"hall"}]`, of(tove))

	key, err := h.AddClient(t.Context(), "script", hub.ClientMay{Scope: hub.ScopeSetUp})
	require.NoError(t, err)
	assert.Equal(t, 403, call(t, "PUT", path+"/room/hall", "", "Authorization", "Bearer "+key).status, "a program has none")
}
