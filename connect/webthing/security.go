package webthing

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"time"

	"github.com/icholy/digest"
	"golang.org/x/oauth2"
	"golang.org/x/oauth2/clientcredentials"
)

// errToken says that no token could be got for an id and a secret.
var errToken = errors.New("the device's authorization server gives no token for this id and key")

// errClear says that a secret would go to another machine for everybody to read.
var errClear = errors.New("the address of its token is neither encrypted nor at the device itself, so its key is not sent there")

// tokenLimit bounds how long a token may take to be got.
const tokenLimit = 10 * time.Second

// keyed returns a transport that shows a thing's key where its security is more than a line of the request: a digest of it (RFC
// 7616), or a token got for it by client credentials (RFC 6749 §4.4). Without a key nothing is sent anywhere.
func keyed(t Thing, plain http.RoundTripper) http.RoundTripper {
	security := t.Described.Security
	switch {
	case t.Key == "":
		return plain
	case security.Scheme == "digest":
		return &digest.Transport{Username: t.User, Password: t.Key, Transport: plain}
	case security.Scheme == "oauth2" && inTheClear(security.Token, t.Host()):
		return refusing{errClear}
	case security.Scheme == "oauth2":
		credentials := clientcredentials.Config{ClientID: t.User, ClientSecret: t.Key, TokenURL: security.Token}
		if security.Scopes != "" {
			credentials.Scopes = []string{security.Scopes}
		}
		// The secret goes to the token's address alone: it follows no redirection.
		client := &http.Client{
			Transport:     plain,
			Timeout:       tokenLimit,
			CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
		}
		return &tokened{&oauth2.Transport{Source: credentials.TokenSource(context.WithValue(context.Background(), oauth2.HTTPClient, client)), Base: plain}}
	default:
		return plain
	}
}

// tokened tells a token that is refused from a device that cannot be reached.
type tokened struct{ inner http.RoundTripper }

func (t *tokened) RoundTrip(request *http.Request) (*http.Response, error) {
	response, err := t.inner.RoundTrip(request)
	var refused *oauth2.RetrieveError
	if errors.As(err, &refused) {
		err = errToken
	}
	return response, err
}

// inTheClear reports whether a secret would go unencrypted to another host than the thing's own.
func inTheClear(token, host string) bool {
	at, err := url.Parse(token)
	return err != nil || (at.Scheme != "https" && at.Host != host)
}

// refusing is a transport that sends nothing, and says why.
type refusing struct{ reason error }

func (r refusing) RoundTrip(*http.Request) (*http.Response, error) { return nil, r.reason }
