package server

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"encoding/json"
	"strings"

	"github.com/gofiber/fiber/v3"

	"amvek/core/cause"
)

// pageHeader is where a page of the hub shows the pass that it was served with.
const pageHeader = "Amvek-Page"

// passMark stands in the front end's document where its pass belongs.
const passMark = "<!--pass-->"

// passes are what the hub's own pages show with each request: made by the hub when it serves a page, for that page, and
// signed, so that nobody makes their own. A page from elsewhere cannot read them, and other programs have keys instead.
type passes struct{ key []byte }

// issue makes a pass for a page that is served at a path: a panel's is of that panel.
func (p passes) issue(path string) string {
	by := cause.By{Who: cause.Person, Via: cause.ViaPage}
	if id, is := strings.CutPrefix(path, "/panel/"); is {
		by = cause.By{Who: cause.Panel, ID: strings.Trim(id, "/"), Via: cause.ViaPanel}
	}
	data, err := json.Marshal(by)
	if err != nil {
		return ""
	}
	said := base64.RawURLEncoding.EncodeToString(data)
	return said + "." + p.sign(said)
}

func (p passes) sign(said string) string {
	mac := hmac.New(sha256.New, p.key)
	_, _ = mac.Write([]byte(said))
	return base64.RawURLEncoding.EncodeToString(mac.Sum(nil))
}

// read returns who shows a pass; it is false where the hub has not made it.
func (p passes) read(pass string) (by cause.By, is bool) {
	said, signed, _ := strings.Cut(pass, ".")
	if len(p.key) == 0 || !hmac.Equal([]byte(p.sign(said)), []byte(signed)) {
		return by, false
	}
	data, err := base64.RawURLEncoding.DecodeString(said)
	return by, err == nil && json.Unmarshal(data, &by) == nil
}

// keyHolder returns the name of the program whose key is given as a bearer token (RFC 6750).
func (s *Server) keyHolder(ctx context.Context, authorization string) (name string, is bool) {
	given, bears := strings.CutPrefix(authorization, "Bearer ")
	if !bears {
		return "", false
	}
	keys, err := s.hub.ClientKeys(ctx)
	if err != nil {
		return "", false
	}
	for holder, key := range keys {
		if subtle.ConstantTimeCompare([]byte(key), []byte(given)) == 1 {
			name, is = holder, true
		}
	}
	return name, is
}

// thingKeyName is where a request for a Thing keeps the name of the key that let it in.
type thingKeyName struct{}

// thingUser is who uses the Thing interface, by the key that let them in.
func thingUser(c fiber.Ctx) cause.By {
	name, _ := c.Locals(thingKeyName{}).(string)
	return cause.By{Who: cause.Program, ID: name, Via: cause.ViaThing}
}
