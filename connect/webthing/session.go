package webthing

import (
	"bufio"
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
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
	soon   chan struct{} // it is to be read soon, since something was asked of it
	// wire, where set, is told every message that is sent or heard.
	wire func(w connect.Wire)

	mu      sync.Mutex
	answers map[string][]byte      // the last of each request
	values  map[string]thing.Value // what properties are at
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
	return &session{thing: t, sink: sink, stop: stop, client: client, soon: make(chan struct{}, 1), values: map[string]thing.Value{}}
}

// same reports whether a thing is spoken with as this one is.
func (s *session) same(t Thing) bool {
	return s.thing.Key == t.Key && s.thing.User == t.User && s.thing.Source == t.Source &&
		(s.thing.Described == t.Described || describedAlike(s.thing.Described, t.Described))
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
			observing.Go(func() { s.follow(ctx, form, false, func(body any) { s.tell(s.heard(form, body), p.Name, body) }) })
		}
	}
	for _, e := range model.Description.Events {
		if form := model.Form("events/"+e.Name, thing.OpSubscribe); form != nil && follows(form) {
			observing.Go(func() {
				s.follow(ctx, form, !e.Number && len(e.Options) == 0, func(body any) { s.happened(s.heard(form, body), e, body) })
			})
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
		s.pause(ctx, wait)
	}
}

// pause waits for a time, until something is asked of the thing, or until the context ends.
func (s *session) pause(ctx context.Context, wait time.Duration) {
	timer := time.NewTimer(wait)
	defer timer.Stop()
	select {
	case <-timer.C:
	case <-s.soon:
	case <-ctx.Done():
	}
}

// readSoon has the thing read soon: what was asked of it shows.
func (s *session) readSoon() {
	select {
	case s.soon <- struct{}{}:
	default:
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
	read, heard := map[string]*answer{}, map[string]connect.Sink{}
	var failed error
	for _, p := range model.Description.Properties {
		form := model.Form("properties/"+p.Name, thing.OpRead)
		if form == nil {
			continue
		}
		what := form.Method + " " + form.Href + "\n" + form.Body
		said, known := read[what]
		if !known {
			var err error
			if said, err = s.ask(ctx, form, http.MethodGet, message{places: s.places()}); err != nil {
				var no *refusal
				if errors.As(err, &no) {
					s.sink.Fault(s.thing.Described.Title + ", " + p.Title + ": " + connect.Sentence(err))
					continue
				}
				failed = err
				break
			}
			read[what], heard[what] = said, s.answered(what, form, said.data)
		}
		body, err := said.read(form)
		if err != nil {
			heard[what].Fault(s.thing.Described.Title + ", " + p.Title + ": " + connect.Sentence(err))
			continue
		}
		s.tell(heard[what], p.Name, body)
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

// answered tells of an answer, if it is another than before: things are asked again and again.
func (s *session) answered(what string, form *thing.Form, data []byte) connect.Sink {
	s.mu.Lock()
	same := bytes.Equal(s.answers[what], data)
	if s.answers == nil {
		s.answers = map[string][]byte{}
	}
	s.answers[what] = data
	s.mu.Unlock()
	if same {
		return connect.Again(s.sink)
	}
	return connect.Heard(s.sink, placeOf(cmp.Or(form.Method, http.MethodGet), form.Href), data)
}

// heard tells of what was observed by a form.
func (s *session) heard(form *thing.Form, body any) connect.Sink {
	text, err := json.Marshal(body)
	if err != nil {
		text = nil // it was JSON
	}
	return connect.Heard(s.sink, placeOf(http.MethodGet, form.Href), text)
}

// placeOf is a request as it may be shown: an address may have a key behind its path.
func placeOf(method, href string) string {
	at, err := url.Parse(href)
	if err != nil {
		return method
	}
	return method + " " + at.Host + at.EscapedPath()
}

func (s *session) tell(sink connect.Sink, property string, body any) {
	model := s.thing.Described.Model
	p := model.Description.Property(property)
	value, err := model.Natives[property].Read(p, thing.Message(body))
	if err != nil {
		if !errors.Is(err, thing.ErrAbsent) {
			sink.Fault(s.thing.Described.Title + ": " + connect.Sentence(err))
		}
		return
	}
	s.mu.Lock()
	s.values[property] = value
	s.mu.Unlock()
	sink.Report(s.thing.Hardware, property, value)
}

// places is what stands in the places that name properties.
func (s *session) places() thing.Places {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.thing.Described.Model.Known(s.values)
}

func (s *session) happened(sink connect.Sink, e thing.Event, body any) {
	message := thing.Message(body)
	if _, object := body.(map[string]any); object || body == nil {
		message = map[string]any{"": nil}
	}
	value, err := s.thing.Described.Model.Signals[e.Name].Read(&e, message)
	if err != nil {
		sink.Fault(s.thing.Described.Title + ": " + connect.Sentence(err))
		return
	}
	sink.Event(s.thing.Hardware, e.Name, value)
}

func (s *session) write(ctx context.Context, property string, value thing.Value) error {
	model := s.thing.Described.Model
	p, form := model.Description.Property(property), model.Form("properties/"+property, thing.OpWrite)
	if p == nil || form == nil || !p.Writable {
		return &refusal{detail: fmt.Sprintf("%s cannot be written", property)}
	}
	m, err := s.setting(p, form, value)
	if err != nil {
		return &refusal{detail: err.Error()}
	}
	if _, err = s.ask(ctx, form, http.MethodPut, m); err == nil && model.Form("properties/"+property, thing.OpObserve) == nil {
		s.readSoon()
	}
	return err
}

// setting is what goes with a request that sets a property: the value, and a payload where the form spells out no body.
func (s *session) setting(p *thing.Property, form *thing.Form, value thing.Value) (message, error) {
	model := s.thing.Described.Model
	s.mu.Lock()
	places, err := model.Setting(p, value, s.values)
	s.mu.Unlock()
	if form.Body != "" {
		return message{places: places}, err
	}
	if err != nil && len(thing.PlacesIn(form.Href)) == 0 {
		places, err = thing.Places{}, nil // such as a color, which no text has a place for, and JSON has
	}
	if err != nil || form.Method == http.MethodGet || len(thing.PlacesIn(form.Href)) > 0 {
		return message{places: places}, err
	}
	fields, err := model.Natives[p.Name].Write(p, value)
	if err != nil {
		return message{}, err
	}
	m := message{places: places, payload: fields}
	if single, is := fields[""]; is && len(fields) == 1 {
		m.payload = single
	}
	return m, nil
}

// invoke asks for an action and returns what the thing answered, as JSON, or a text as it is.
func (s *session) invoke(ctx context.Context, action string, given thing.Inputs) (text string, err error) {
	model := s.thing.Described.Model
	form := model.InvokeForm(action, given)
	if form == nil {
		return "", &refusal{detail: fmt.Sprintf("the action %s has no form", action)}
	}
	m, err := s.giving(form, action, given)
	if err != nil {
		return "", &refusal{detail: err.Error()}
	}
	said, err := s.ask(ctx, form, http.MethodPost, m)
	if err != nil {
		return "", err
	}
	s.readSoon()
	if !model.Description.Action(action).Answers {
		return "", nil
	}
	body, err := said.read(form)
	if err != nil || body == nil {
		return "", err
	}
	if plain, is := body.(string); is {
		text = plain
	} else if data, failed := json.Marshal(body); failed == nil {
		text = string(data)
	}
	if len(text) > connect.LongestAnswer {
		s.sink.Fault(fmt.Sprintf("%s answered %s with more than %d kB, which are left out.", s.thing.Described.Title, action, connect.LongestAnswer>>10))
		text = ""
	}
	return text, nil
}

// giving is what goes with a request that asks for an action.
func (s *session) giving(form *thing.Form, action string, given thing.Inputs) (m message, err error) {
	model := s.thing.Described.Model
	if form.Body != "" || len(thing.PlacesIn(form.Href)) > 0 {
		s.mu.Lock()
		defer s.mu.Unlock()
		m.places, err = model.Giving(action, given, s.values)
		return m, err
	}
	m.payload, err = model.Payload(action, given)
	return m, err
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
	if connect.Late(err) {
		return errSlow
	}
	return fmt.Errorf("%w: %s", errUnreachable, connect.Reason(err))
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
		request, _, err := s.request(ctx, form, http.MethodGet, message{places: s.places()})
		wait, asked := retry.Next(), time.Now()
		if err == nil {
			if form.Subprotocol == "sse" {
				err = s.stream(request, told)
			} else {
				var said *answer
				if said, err = s.send(request, ""); err == nil {
					var body any
					if body, err = said.read(form); err == nil && (body != nil || (empty && said.status == http.StatusOK)) {
						told(body)
						wait = quickest - time.Since(asked)
					}
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
