package webthing

import (
	"bufio"
	"bytes"
	"context"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"amvek/connect"
	"amvek/core/thing"
)

const (
	answerLimit   = 10 * time.Second // some take seconds
	maximumAnswer = 1 << 20
)

// What can be wrong with an answer.
var (
	errKey         = errors.New("the device does not accept the key")
	errNoKey       = errors.New("the device wants a key; enter it under Found")
	errUnreachable = errors.New("the device cannot be reached")
	errSlow        = errors.New("the device did not answer in time")
)

// refusal is an answer that is not success.
type refusal struct {
	status int
	detail string
}

func (r *refusal) Error() string {
	if r.detail != "" {
		return fmt.Sprintf("the device answers %d: %s", r.status, r.detail)
	}
	return fmt.Sprintf("the device answers %d %s", r.status, http.StatusText(r.status))
}

// session speaks with one thing.
type session struct {
	thing  Thing
	sink   connect.Sink
	stop   context.CancelFunc
	client *http.Client
	up     atomic.Bool
}

func newSession(t Thing, sink connect.Sink, stop context.CancelFunc) *session {
	client := &http.Client{
		Transport: keyed(t, &http.Transport{MaxIdleConnsPerHost: 4, IdleConnTimeout: 30 * time.Second}),
		// A key must not be carried to another host.
		CheckRedirect: func(next *http.Request, before []*http.Request) error {
			if next.URL.Host != before[0].URL.Host || len(before) > 3 {
				return errors.New("the device sends the hub on to another host, which is not followed")
			}
			return nil
		},
	}
	return &session{thing: t, sink: sink, stop: stop, client: client}
}

// same reports whether a thing is spoken with as this one is.
func (s *session) same(t Thing) bool {
	return s.thing.Key == t.Key && s.thing.User == t.User && s.thing.Source == t.Source && (s.thing.Described == t.Described || describedAlike(s.thing.Described, t.Described))
}

func describedAlike(a, b *thing.Described) bool {
	x, errX := json.Marshal(a)
	y, errY := json.Marshal(b)
	return errX == nil && errY == nil && bytes.Equal(x, y)
}

func (s *session) reached() bool { return s.up.Load() }

// run reads the thing now and again, and follows what can be observed, until the context ends.
func (s *session) run(ctx context.Context) {
	defer s.client.CloseIdleConnections()
	var observing sync.WaitGroup
	defer observing.Wait()
	model := s.thing.Described.Model
	for _, p := range model.Description.Properties {
		if form := model.Form("properties/"+p.Name, thing.OpObserve); form != nil && follows(form) {
			observing.Go(func() { s.follow(ctx, form, false, func(body any) { s.tell(p.Name, body) }) })
		}
	}
	for _, e := range model.Description.Events {
		if form := model.Form("events/"+e.Name, thing.OpSubscribe); form != nil && follows(form) {
			observing.Go(func() { s.follow(ctx, form, !e.Number && len(e.Options) == 0, func(body any) { s.happened(e, body) }) })
		}
	}
	retry := connect.Retry{First: firstBackoff, Last: lastBackoff}
	for ctx.Err() == nil {
		err := s.readAll(ctx)
		if ctx.Err() != nil {
			return
		}
		wait := s.pollEvery()
		if err != nil {
			wait = retry.Next()
		} else {
			retry.Well()
		}
		connect.Pause(ctx, wait)
	}
}

func (s *session) pollEvery() time.Duration {
	every := pollEvery
	for _, forms := range s.thing.Described.Model.Forms {
		for _, f := range forms {
			if f.PollSeconds >= 1 {
				every = min(every, time.Duration(f.PollSeconds*float64(time.Second)))
			}
		}
	}
	return every
}

// readAll reads every property, each address once, and tells whether the thing is reached.
func (s *session) readAll(ctx context.Context) error {
	model := s.thing.Described.Model
	read := map[string]any{}
	var failed error
	for _, p := range model.Description.Properties {
		form := model.Form("properties/"+p.Name, thing.OpRead)
		if form == nil {
			continue
		}
		body, known := read[form.Href]
		if !known {
			var err error
			if body, err = s.ask(ctx, form, http.MethodGet, nil); err != nil {
				var no *refusal
				if errors.As(err, &no) {
					s.sink.Fault(s.thing.Described.Title + ", " + p.Title + ": " + connect.Sentence(err))
					continue
				}
				failed = err
				break
			}
			read[form.Href] = body
		}
		s.tell(p.Name, body)
	}
	if ctx.Err() != nil {
		return ctx.Err()
	}
	s.up.Store(failed == nil)
	if failed != nil {
		s.sink.Reach(s.thing.Hardware, false, connect.Sentence(failed))
		return failed
	}
	s.sink.Reach(s.thing.Hardware, true, "")
	return nil
}

func (s *session) tell(property string, body any) {
	model := s.thing.Described.Model
	p := model.Description.Property(property)
	value, err := model.Natives[property].Read(p, thing.Message(body))
	if err != nil {
		if !errors.Is(err, thing.ErrAbsent) {
			s.sink.Fault(s.thing.Described.Title + ": " + connect.Sentence(err))
		}
		return
	}
	s.sink.Report(s.thing.Hardware, property, value)
}

func (s *session) happened(e thing.Event, body any) {
	message := thing.Message(body)
	if _, object := body.(map[string]any); object || body == nil {
		message = map[string]any{"": nil}
	}
	value, err := s.thing.Described.Model.Signals[e.Name].Read(&e, message)
	if err != nil {
		s.sink.Fault(s.thing.Described.Title + ": " + connect.Sentence(err))
		return
	}
	s.sink.Event(s.thing.Hardware, e.Name, value)
}

func (s *session) write(ctx context.Context, property string, value thing.Value) error {
	model := s.thing.Described.Model
	p, form := model.Description.Property(property), model.Form("properties/"+property, thing.OpWrite)
	if p == nil || form == nil || !p.Writable {
		return &refusal{detail: fmt.Sprintf("%s cannot be written", property)}
	}
	fields, err := model.Natives[property].Write(p, value)
	if err != nil {
		return &refusal{detail: err.Error()}
	}
	var payload any = fields
	if single, is := fields[""]; is && len(fields) == 1 {
		payload = single
	}
	_, err = s.ask(ctx, form, http.MethodPut, payload)
	return err
}

// invoke asks for an action and returns what the thing answered, as JSON, or a text as it is.
func (s *session) invoke(ctx context.Context, action string, given thing.Inputs) (answer string, err error) {
	model := s.thing.Described.Model
	form := model.InvokeForm(action, given)
	if form == nil {
		return "", &refusal{detail: fmt.Sprintf("the action %s has no form", action)}
	}
	payload, err := model.Payload(action, given)
	if err != nil {
		return "", &refusal{detail: err.Error()}
	}
	body, err := s.ask(ctx, form, http.MethodPost, payload)
	if err != nil || body == nil {
		return "", err
	}
	if text, is := body.(string); is {
		answer = text
	} else if data, failed := json.Marshal(body); failed == nil {
		answer = string(data)
	}
	if len(answer) > connect.LongestAnswer {
		s.sink.Fault(fmt.Sprintf("%s answered %s with more than %d kB, which are left out.", s.thing.Described.Title, action, connect.LongestAnswer>>10))
		answer = ""
	}
	return answer, nil
}

func (s *session) outcome(err error) connect.Outcome {
	var no *refusal
	switch {
	case err == nil:
		return connect.Outcome{OK: true}
	case errors.As(err, &no), errors.Is(err, errKey), errors.Is(err, errNoKey), errors.Is(err, errToken), errors.Is(err, errClear):
		return connect.Failed(connect.Sentence(err))
	}
	return connect.Unreached(connect.Sentence(err))
}

// request makes a request by a form, with what the thing's security wants.
func (s *session) request(ctx context.Context, form *thing.Form, method string, payload any) (*http.Request, error) {
	if form.Method != "" {
		method = form.Method
	}
	var reader io.Reader
	if payload != nil {
		data, err := json.Marshal(payload)
		if err != nil {
			return nil, err
		}
		reader = bytes.NewReader(data)
	}
	request, err := http.NewRequestWithContext(ctx, method, form.Href, reader)
	if err != nil {
		return nil, fmt.Errorf("%w: %s is no address", errUnreachable, form.Href)
	}
	if payload != nil {
		request.Header.Set("Content-Type", "application/json")
	}
	security := s.thing.Described.Security
	if security.Scheme != "nosec" && s.thing.Key == "" {
		return nil, errNoKey
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
	return request, nil
}

// ask makes a request and returns the decoded answer, nil where there is none.
func (s *session) ask(ctx context.Context, form *thing.Form, method string, payload any) (any, error) {
	limited, cancel := context.WithTimeout(ctx, answerLimit)
	defer cancel()
	request, err := s.request(limited, form, method, payload)
	if err != nil {
		return nil, err
	}
	body, _, err := s.send(request)
	return body, err
}

// send returns the decoded answer, nil where there is none, and its status.
func (s *session) send(request *http.Request) (body any, status int, err error) {
	response, err := s.client.Do(request)
	if err != nil {
		return nil, 0, unreachable(err)
	}
	defer func() { _ = response.Body.Close() }()
	data, err := io.ReadAll(io.LimitReader(response.Body, maximumAnswer))
	if err != nil {
		return nil, 0, unreachable(err)
	}
	switch {
	case response.StatusCode == http.StatusUnauthorized || response.StatusCode == http.StatusForbidden:
		return nil, 0, errKey
	case response.StatusCode >= 300:
		return nil, 0, &refusal{response.StatusCode, detail(data)}
	}
	body, err = decode(data, response.Header.Get("Content-Type"))
	return body, response.StatusCode, err
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

// detail takes the words out of an error that says them (RFC 9457, or plain text).
func detail(data []byte) string {
	var problem struct{ Detail, Title string }
	if json.Unmarshal(data, &problem) == nil && problem.Detail+problem.Title != "" {
		return strings.TrimSuffix(firstOf(problem.Detail, problem.Title), ".")
	}
	if text := strings.TrimSpace(string(data)); len(text) < 120 && !strings.ContainsAny(text, "<\n") {
		return text
	}
	return ""
}

func firstOf(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

func unreachable(err error) error {
	for _, ours := range []error{errToken, errClear} {
		if errors.Is(err, ours) {
			return ours
		}
	}
	var wrapped *url.Error
	if errors.As(err, &wrapped) {
		if wrapped.Timeout() {
			return errSlow
		}
		err = wrapped.Err
	}
	words := err.Error()
	return fmt.Errorf("%w (%s)", errUnreachable, words[strings.LastIndex(words, ": ")+1:])
}

// follows reports whether a form tells of changes by itself.
func follows(form *thing.Form) bool {
	return form.Subprotocol == "longpoll" || form.Subprotocol == "sse"
}

// quickest is the least time from one question of long polling to the next, whatever answers at once.
const quickest = 50 * time.Millisecond

// follow observes by long polling or server-sent events until the context ends. It is an extra:
// where it fails, reading now and again still finds everything. An event may carry nothing: then an answer without a body says
// that it happened, and one without content (204) that nothing did for as long as the device waits.
func (s *session) follow(ctx context.Context, form *thing.Form, empty bool, told func(body any)) {
	retry := connect.Retry{First: firstBackoff, Last: lastBackoff}
	for ctx.Err() == nil {
		request, err := s.request(ctx, form, http.MethodGet, nil)
		wait, asked := retry.Next(), time.Now()
		if err == nil {
			if form.Subprotocol == "sse" {
				err = s.stream(request, told)
			} else {
				var body any
				var status int
				if body, status, err = s.send(request); err == nil && (body != nil || (empty && status == http.StatusOK)) {
					told(body)
					wait = quickest - time.Since(asked)
				}
			}
		}
		connect.Pause(ctx, wait)
		if err == nil {
			retry.Well()
		}
	}
}

func (s *session) stream(request *http.Request, told func(body any)) error {
	request.Header.Set("Accept", "text/event-stream")
	response, err := s.client.Do(request)
	if err != nil {
		return unreachable(err)
	}
	defer func() { _ = response.Body.Close() }()
	if response.StatusCode != http.StatusOK {
		return &refusal{response.StatusCode, "no event stream"}
	}
	lines := bufio.NewScanner(response.Body)
	lines.Buffer(nil, maximumAnswer)
	for lines.Scan() {
		data, is := bytes.CutPrefix(lines.Bytes(), []byte("data:"))
		if !is {
			continue
		}
		if body, err := decode(bytes.TrimSpace(data), "application/json"); err == nil {
			told(body)
		}
	}
	return lines.Err()
}
