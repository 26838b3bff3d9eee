package webthing

import (
	"bytes"
	"context"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strings"

	"amvek/connect"
	"amvek/core/thing"
)

// message is what goes with a request: what stands in the places of its form, and a payload that is sent as JSON where the
// form spells out no body.
type message struct {
	places  thing.Places
	payload any
}

// answer is what a thing answered, of success.
type answer struct {
	data        []byte
	contentType string
	status      int
}

// request makes a request by a form, with what the thing's security wants, and returns its body beside it.
func (s *session) request(ctx context.Context, form *thing.Form, method string, m message) (*http.Request, string, error) {
	if form.Method != "" {
		method = form.Method
	}
	href, err := filledAddress(form.Href, m.places)
	if err != nil {
		return nil, "", &refusal{detail: err.Error()}
	}
	body, contentType, err := bodyOf(form, m)
	if err != nil {
		return nil, "", err
	}
	var reader io.Reader
	if body != "" {
		reader = strings.NewReader(body)
	}
	request, err := http.NewRequestWithContext(ctx, method, href, reader)
	if err != nil {
		return nil, "", fmt.Errorf("%w: %s is no address", errUnreachable, form.Href)
	}
	if body != "" {
		request.Header.Set("Content-Type", contentType)
	}
	for _, h := range form.Headers {
		value, err := thing.Fill(h.Value, m.places, func(text string) string { return text })
		if err != nil {
			return nil, "", &refusal{detail: err.Error()}
		}
		if strings.ContainsAny(h.Name+value, "\r\n") {
			return nil, "", &refusal{detail: (&thing.BreakError{}).Error()}
		}
		request.Header.Set(h.Name, value)
	}
	return request, body, s.secure(request)
}

// secure puts into a request what the thing's security wants there.
func (s *session) secure(request *http.Request) error {
	security := s.thing.Described.Security
	switch {
	case security.Scheme == "nosec":
		return nil
	case s.thing.Key == "":
		return errNoKey
	case s.thing.Host() != "" && s.thing.Host() != request.URL.Host:
		return &refusal{detail: "it is at another host than the rest, to which the key is not shown"}
	}
	switch security.Scheme {
	case "digest", "oauth2": // by the transport
	case "basic":
		request.Header.Set("Authorization", "Basic "+base64.StdEncoding.EncodeToString([]byte(s.thing.User+":"+s.thing.Key)))
	case "bearer":
		request.Header.Set("Authorization", "Bearer "+s.thing.Key)
	case "apikey":
		if security.In == "query" || security.In == "" {
			query := request.URL.Query()
			query.Set(security.Name, s.thing.Key)
			request.URL.RawQuery = query.Encode()
		} else {
			request.Header.Set(security.Name, s.thing.Key)
		}
	}
	return nil
}

// filledAddress puts what stands in the places of an address there, escaped for where they are (RFC 3986 §3.3 and §3.4).
func filledAddress(href string, places thing.Places) (string, error) {
	if len(thing.PlacesIn(href)) == 0 {
		return href, nil
	}
	path, query, queried := strings.Cut(href, "?")
	path, wrong := thing.Fill(path, places, url.PathEscape)
	if queried {
		filled, err := thing.Fill(query, places, url.QueryEscape)
		path, wrong = path+"?"+filled, errors.Join(wrong, err)
	}
	return path, wrong
}

// bodyOf is the body of a request: what the form spells out, or the payload as JSON.
func bodyOf(form *thing.Form, m message) (body, contentType string, err error) {
	switch {
	case form.Body != "":
		if body, err = form.Filled(m.places); err != nil {
			return "", "", &refusal{detail: err.Error()}
		}
		if contentType = form.ContentType; contentType == "" {
			contentType = "text/plain; charset=utf-8"
			if json.Valid([]byte(body)) {
				contentType = "application/json"
			}
		}
		return body, contentType, nil
	case m.payload != nil:
		data, err := json.Marshal(m.payload)
		return string(data), "application/json", err
	}
	return "", "", nil
}

// ask makes a request and returns the answer.
func (s *session) ask(ctx context.Context, form *thing.Form, method string, m message) (*answer, error) {
	limited, cancel := context.WithTimeout(ctx, answerLimit)
	defer cancel()
	request, body, err := s.request(limited, form, method, m)
	if err != nil {
		return nil, err
	}
	return s.send(request, body)
}

// send returns what is answered, where that is success.
func (s *session) send(request *http.Request, sent string) (*answer, error) {
	if s.wire != nil {
		s.wire(connect.Wire{Sent: true, Text: s.shown(request, sent)})
	}
	connect.Sent(request.Context(), nil, placeOf(request.Method, request.URL.String()), []byte(sent))
	response, err := s.client.Do(request)
	if err != nil {
		return nil, unreachable(err)
	}
	defer func() { _ = response.Body.Close() }()
	data, err := io.ReadAll(io.LimitReader(response.Body, maximumAnswer))
	if err != nil {
		return nil, unreachable(err)
	}
	if s.wire != nil {
		s.wire(connect.Wire{Text: answered(response, data)})
	}
	switch {
	case response.StatusCode == http.StatusUnauthorized || response.StatusCode == http.StatusForbidden:
		return nil, errKey
	case response.StatusCode >= 300:
		return nil, &refusal{response.StatusCode, detail(data)}
	}
	return &answer{data, response.Header.Get("Content-Type"), response.StatusCode}, nil
}

// read returns what an answer says by a form: what its pattern finds, or the decoded body, nil where there is none.
func (a *answer) read(form *thing.Form) (any, error) {
	if form.Reply == "" {
		return decode(a.data, a.contentType)
	}
	pattern, err := regexp.Compile(form.Reply)
	if err != nil {
		return nil, &refusal{a.status, "the pattern of its description cannot be read"}
	}
	m := pattern.FindSubmatch(a.data)
	if len(m) < 2 {
		return nil, &refusal{a.status, "what it sent does not fit the pattern " + form.Reply}
	}
	return string(m[1]), nil
}

func decode(data []byte, contentType string) (any, error) {
	if len(bytes.TrimSpace(data)) == 0 {
		return nil, nil
	}
	var body any
	if err := json.Unmarshal(data, &body); err != nil {
		if strings.HasPrefix(contentType, "text/plain") {
			return strings.TrimSpace(string(data)), nil
		}
		return nil, &refusal{http.StatusOK, "what it sent is not JSON"}
	}
	return body, nil
}

// longestShown is how much of a body is shown of what goes over the wire.
const longestShown = 4000

// hidden stands for a key in what is shown.
const hidden = "…"

// shown writes a request as it goes over the wire, without the key.
func (s *session) shown(request *http.Request, body string) string {
	security := s.thing.Described.Security
	at := *request.URL
	at.User = nil // name and password, if any
	if query := at.Query(); security.Scheme == "apikey" && query.Has(security.Name) {
		query.Set(security.Name, hidden)
		at.RawQuery = query.Encode()
	}
	lines := []string{request.Method + " " + strings.ReplaceAll(at.String(), url.QueryEscape(hidden), hidden)}
	for _, name := range slices.Sorted(maps.Keys(request.Header)) {
		value := request.Header.Get(name)
		if name == "Authorization" || strings.EqualFold(name, security.Name) {
			value = hidden
		}
		lines = append(lines, name+": "+value)
	}
	if body != "" {
		lines = append(lines, "", body)
	}
	return strings.Join(lines, "\n")
}

// answered writes an answer as it came over the wire.
func answered(response *http.Response, data []byte) string {
	lines := []string{response.Proto + " " + response.Status}
	if kind := response.Header.Get("Content-Type"); kind != "" {
		lines = append(lines, "Content-Type: "+kind)
	}
	if len(data) > 0 {
		lines = append(lines, "", strings.ToValidUTF8(string(data[:min(len(data), longestShown)]), "�"))
	}
	return strings.Join(lines, "\n")
}
