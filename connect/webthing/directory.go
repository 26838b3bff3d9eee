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
	"amvek/core/thing"
)

const (
	// directoryEvery is how often a directory is asked whether it lists others now.
	directoryEvery = 10 * time.Second
	// maximumList bounds one page of a list of descriptions, in bytes, and mostPages how many there are.
	maximumList = 16 << 20
	mostPages   = 100
	// mostListed is how many Things of one directory are taken up.
	mostListed = 10_000
)

// Directory reads the list of a directory of Things (W3C Web of Things Discovery §7.3.2.1.5), such as another home's /things.
// Make one with [NewDirectory].
type Directory struct {
	to     connect.Access
	client *http.Client
	// tag is of the list as it was last read, and listed what was in it.
	tag    string
	listed []Thing
	// left is how many in the list could not be read, and why the last of them could not.
	left   int
	reason string
}

// NewDirectory returns the directory at a whole address. A key is shown to its own host alone, as a bearer token.
func NewDirectory(to connect.Access) *Directory {
	return &Directory{to: to, client: &http.Client{Timeout: answerLimit, CheckRedirect: sameHost}}
}

// sameHost follows no redirection to another host.
func sameHost(next *http.Request, before []*http.Request) error {
	if next.URL.Host != before[0].URL.Host || len(before) > 5 {
		return errors.New("it sends the hub on to another host, which is not followed")
	}
	return nil
}

// List reads all that is listed; where nothing changed since, what was listed before.
func (d *Directory) List(ctx context.Context) ([]Thing, error) {
	var all []Thing
	next, first := d.to.Address, ""
	d.left = 0
	for page := 0; next != ""; page++ {
		data, response, err := d.page(ctx, next, page == 0)
		switch {
		case err != nil:
			return nil, err
		case response.StatusCode == http.StatusNotModified:
			return d.listed, nil
		case page >= mostPages:
			return nil, fmt.Errorf("its list has more than %d pages", mostPages)
		}
		if page == 0 {
			first = response.Header.Get("ETag")
		}
		things, err := d.described(data, next)
		if err != nil {
			return nil, err
		}
		if all = append(all, things...); len(all) > mostListed {
			return nil, fmt.Errorf("it lists more than %d devices", mostListed)
		}
		next = nextPage(response, next)
	}
	d.tag, d.listed = first, all
	return all, nil
}

func (d *Directory) page(ctx context.Context, at string, first bool) ([]byte, *http.Response, error) {
	request, err := http.NewRequestWithContext(ctx, http.MethodGet, at, nil)
	if err != nil {
		return nil, nil, errors.New("its address cannot be read")
	}
	request.Header.Set("Accept", "application/ld+json, application/json")
	if d.to.Key != "" && hostOf(at) == hostOf(d.to.Address) {
		request.Header.Set("Authorization", "Bearer "+d.to.Key)
	}
	if first && d.tag != "" {
		request.Header.Set("If-None-Match", d.tag)
	}
	response, err := d.client.Do(request)
	if err != nil {
		if ctx.Err() != nil {
			return nil, nil, ctx.Err()
		}
		return nil, nil, errors.New("the directory cannot be reached")
	}
	defer func() { _ = response.Body.Close() }()
	data, err := io.ReadAll(io.LimitReader(response.Body, maximumList+1))
	switch {
	case err != nil:
		return nil, nil, errors.New("its list breaks off")
	case response.StatusCode == http.StatusUnauthorized || response.StatusCode == http.StatusForbidden:
		return nil, nil, errors.New("the directory does not accept the key")
	case response.StatusCode != http.StatusOK && response.StatusCode != http.StatusNotModified:
		return nil, nil, &AnswerError{response.StatusCode}
	case len(data) > maximumList:
		return nil, nil, fmt.Errorf("a page of its list is larger than %d MB", maximumList>>20)
	}
	return data, response, nil
}

// described takes the descriptions out of a list. One that cannot be read does not spoil the others.
func (d *Directory) described(data []byte, at string) ([]Thing, error) {
	var raw []json.RawMessage
	if err := json.Unmarshal(data, &raw); err != nil {
		return nil, errors.New("what is at this address is no list of Thing Descriptions")
	}
	things := make([]Thing, 0, len(raw))
	for _, one := range raw {
		t, err := Describe(one, at)
		switch {
		case err == nil && len(one) > thing.MaximumDocument:
			err = errors.New("it is larger than a description may be")
		case err == nil && t.Hardware == at:
			err = errors.New("it has no id")
		}
		if err != nil {
			d.left, d.reason = d.left+1, err.Error()
			continue
		}
		t.Source = ""
		things = append(things, t)
	}
	return things, nil
}

func hostOf(at string) string {
	if u, err := url.Parse(at); err == nil {
		return u.Host
	}
	return ""
}

// nextPage returns where the list goes on (RFC 8288), "" at its end or where that would be at another host.
func nextPage(response *http.Response, at string) string {
	for _, link := range strings.Split(response.Header.Get("Link"), ",") {
		target, parameters, linked := strings.Cut(strings.TrimSpace(link), ">")
		if !linked || !strings.Contains(strings.ReplaceAll(parameters, `"`, ""), "rel=next") {
			continue
		}
		base, err := url.Parse(at)
		to, wrong := url.Parse(strings.TrimPrefix(target, "<"))
		if err != nil || wrong != nil {
			return ""
		}
		if to = base.ResolveReference(to); to.Host == base.Host {
			return to.String()
		}
	}
	return ""
}

// OfDirectory returns the connection to the devices that a directory lists. It is up while the directory can be read.
func OfDirectory(to connect.Access) *Things {
	t := New(nil)
	t.directory, t.every = NewDirectory(to), directoryEvery
	if to.Key != "" {
		t.keys[hostOf(to.Address)] = Key{Key: to.Key}
	}
	return t
}

// Lists implements [connect.Lister].
func (t *Things) Lists() bool { return t.directory != nil }

// readDirectories reads the directory: what is no longer listed is gone.
func (t *Things) readDirectories(ctx context.Context) {
	things, err := t.directory.List(ctx)
	if ctx.Err() != nil {
		return
	}
	if err != nil {
		t.sink.State(false, connect.Sentence(err))
		return
	}
	if t.directory.left > 0 && t.directory.left != t.told {
		t.sink.Fault(fmt.Sprintf("Of its list %d cannot be read; the last: %s.", t.directory.left, t.directory.reason))
	}
	t.told = t.directory.left
	t.mu.Lock()
	t.seen = map[string]Thing{}
	for _, one := range things {
		t.seen[one.Hardware] = one
	}
	t.mu.Unlock()
	t.settle()
	t.sink.State(true, "")
}

// DirectoryDriver makes connections to directories of Things.
func DirectoryDriver() connect.Driver {
	return connect.Driver{
		Kind:  "directory",
		Words: "Directory of devices that describe themselves, over HTTP",
		Whole: true,
		Open: func(to connect.Access, _ func(model string) *thing.Model) connect.Connection {
			return OfDirectory(to)
		},
		Try: func(ctx context.Context, to connect.Access) (string, error) {
			d := NewDirectory(to)
			things, err := d.List(ctx)
			if err == nil && len(things) == 0 && d.left > 0 {
				err = fmt.Errorf("none of its descriptions can be read: %s", d.reason)
			}
			return "Devices at " + hostOf(to.Address), err
		},
	}
}
