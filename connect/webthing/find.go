package webthing

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strings"
	"time"

	"amvek/connect"
	"amvek/connect/discovery"
	"amvek/core/thing"
)

const (
	findWait  = 300 * time.Millisecond
	readLimit = 5 * time.Second
	service   = "_wot._tcp" // W3C Web of Things Discovery §6.3
)

// Finder returns a function that finds Things, and directories of Things, on a network.
func Finder(network discovery.Network) func(ctx context.Context) []Thing {
	return func(ctx context.Context) []Thing {
		var things []Thing
		for _, s := range network.Browse(ctx, service, findWait) {
			base := "http://" + s.Address
			path := s.Texts["td"]
			if s.Texts["type"] == "Directory" {
				// The listing of a directory (W3C Web of Things Discovery §7.3.2.1.5).
				listed, err := NewDirectory(connect.Access{Address: base + "/things"}).List(ctx)
				if err == nil {
					things = append(things, listed...)
				}
				continue
			}
			if data, err := Fetch(ctx, base+path); err == nil {
				if t, err := Describe(data, base+path); err == nil {
					things = append(things, t)
				}
			}
		}
		return things
	}
}

// Describe makes a thing of a description read at an address.
func Describe(data []byte, source string) (Thing, error) {
	d, err := thing.ParseDescription(data, source)
	if err != nil {
		return Thing{}, err
	}
	maker := struct {
		Maker        string `json:"amvek:maker"`
		Manufacturer string `json:"schema:manufacturer"`
	}{}
	_ = json.Unmarshal(data, &maker) // an addition; the description itself was read
	return Thing{Hardware: d.ID, Source: source, Maker: firstOf(maker.Maker, maker.Manufacturer), Described: d}, nil
}

// Fetch reads a document of at most [thing.MaximumDocument] bytes. It follows no redirection to another host.
func Fetch(ctx context.Context, address string) ([]byte, error) {
	at, err := url.Parse(strings.TrimSpace(address))
	if err != nil || (at.Scheme != "http" && at.Scheme != "https") || at.Host == "" {
		return nil, errors.New("this is not an address that begins with http:// or https://")
	}
	client := &http.Client{Timeout: readLimit, CheckRedirect: sameHost}
	request, err := http.NewRequestWithContext(ctx, http.MethodGet, at.String(), nil)
	if err != nil {
		return nil, err
	}
	request.Header.Set("Accept", "application/td+json, application/tm+json, application/json")
	response, err := client.Do(request)
	if err != nil {
		return nil, errors.New("nothing could be read there: " + connect.Reason(err))
	}
	defer func() { _ = response.Body.Close() }()
	data, err := io.ReadAll(io.LimitReader(response.Body, thing.MaximumDocument+1))
	switch {
	case err != nil:
		return nil, errors.New("it could not be read to its end")
	case response.StatusCode != http.StatusOK:
		return nil, &AnswerError{response.StatusCode}
	case len(data) > thing.MaximumDocument:
		return nil, errors.New("what is there is larger than a description may be, 1 MB")
	}
	return data, nil
}

// AnswerError is an answer other than success.
type AnswerError struct{ Status int }

func (e *AnswerError) Error() string {
	return fmt.Sprintf("the address answers %d %s", e.Status, http.StatusText(e.Status))
}
