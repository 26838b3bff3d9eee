package server

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"strings"

	"amvek/core/cause"
	"amvek/core/gate"
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

// program returns the program whose key is given as a bearer token (RFC 6750), in by a way.
func (s *Server) program(ctx context.Context, authorization string, via cause.Via) (p gate.Principal, is bool) {
	given, bears := strings.CutPrefix(authorization, "Bearer ")
	if !bears {
		return p, false
	}
	client, is := s.hub.ClientOf(ctx, given)
	if !is {
		return p, false
	}
	return s.hub.ClientPrincipal(ctx, client, via)
}
