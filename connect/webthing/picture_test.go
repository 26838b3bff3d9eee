package webthing_test

import (
	"context"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/connect/webthing"
	"amvek/core/thing"
)

func TestAPictureIsAskedFor(t *testing.T) {
	pictures := map[string]struct{ kind, body string }{
		"/small": {"image/png", "PNG"},
		"/page":  {"text/html", "<p>no picture</p>"},
		"/large": {"image/png", strings.Repeat("x", 2<<20)},
	}
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		p, there := pictures[r.URL.Path]
		if !there {
			w.WriteHeader(http.StatusNotFound)
			return
		}
		w.Header().Set("Content-Type", p.kind)
		_, _ = w.Write([]byte(p.body))
	}))
	defer server.Close()
	described, err := thing.ParseDescription([]byte(`{"@context": "https://www.w3.org/2022/wot/td/v1.1", "id": "urn:c", "title": "Camera", "base": "`+server.URL+`",
		"security": "n", "securityDefinitions": {"n": {"scheme": "nosec"}}, "properties": {
			"small": {"forms": [{"href": "/small", "contentType": "image/png"}]},
			"page": {"forms": [{"href": "/page", "contentType": "image/png"}]},
			"large": {"forms": [{"href": "/large", "contentType": "image/png"}]},
			"gone": {"forms": [{"href": "/gone", "contentType": "image/png"}]}}}`), server.URL)
	require.NoError(t, err)
	camera := webthing.Thing{Hardware: "urn:c", Described: described}
	things := webthing.New(func(context.Context) []webthing.Thing { return nil })
	things.Give([]webthing.Thing{camera})
	run(t, things).Await(t, "found 1")
	ctx := context.Background()

	picture, err := things.Picture(ctx, "urn:c", "small")
	require.NoError(t, err)
	assert.Equal(t, connect.Picture{Data: []byte("PNG"), ContentType: "image/png"}, picture)
	for name, reason := range map[string]string{
		"page": "no picture", "large": "larger than 1 MB", "gone": "", "none": "no such picture",
	} {
		_, err := things.Picture(ctx, "urn:c", name)
		assert.ErrorContains(t, err, reason, name)
	}
	_, err = things.Picture(ctx, "urn:other", "small")
	assert.ErrorIs(t, err, webthing.ErrUnknown)
}
