// Package line is the way to devices that are spoken with by messages on a line of TCP, as their profiles spell them out: one
// session for each, opened anew whenever it is lost, so that one which is dead delays no other. It decides nothing, and
// looks for no devices.
package line

import (
	"bufio"
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"maps"
	"net"
	"strconv"
	"strings"
	"sync"
	"time"

	"amvek/connect"
	"amvek/core/thing"
)

const (
	dialLimit    = 3 * time.Second
	answerLimit  = 3 * time.Second
	usualAsking  = 10 * time.Second // some devices drop the line when nothing is said on it, and some tell of no change
	maximumLine  = 16 << 10
	firstBackoff = 250 * time.Millisecond
	lastBackoff  = 10 * time.Second
)

// Options are what a session may be told besides; the zero value tells nothing.
type Options struct {
	// Every is how often the device is asked how it stands, where its profile does not say it; 10 s where it is 0.
	Every time.Duration
	// Fields, where set, takes the fields of messages before they are read.
	Fields func(fields map[string]any)
	// Wire, where set, is told every message that is sent or heard.
	Wire func(w connect.Wire)
}

// Session is the line to one device. Make one with [New].
type Session struct {
	announcement connect.Announcement
	options      Options
	translator   *thing.Translator
	framing      thing.Line
	broken       error // why the profile cannot be used
	sink         connect.Sink

	asking sync.Mutex // one question at a time
	mu     sync.Mutex
	line   net.Conn
	answer chan answer // where the next message goes, while somebody waits for it
	opened chan struct{}
	lost   string
	values map[string]thing.Value // what properties are at
}

type answer struct {
	heard thing.Heard
	err   error
}

// New returns a session with a device, which [Session.Run] opens.
func New(a connect.Announcement, sink connect.Sink, o Options) *Session {
	s := &Session{announcement: a, sink: sink, options: o, opened: make(chan struct{}), values: map[string]thing.Value{}}
	s.translator, s.broken = thing.NewTranslator(a.Profile)
	if s.broken == nil {
		s.framing = *a.Profile.Line
	}
	return s
}

// Broken says why the device cannot be spoken with by its profile; nil where it can.
func (s *Session) Broken() error { return s.broken }

// Run keeps the line open until the context ends.
func (s *Session) Run(ctx context.Context) {
	if s.broken != nil {
		s.sink.Reach(s.announcement.Hardware, false, connect.Sentence(s.broken))
		return
	}
	retry := connect.Retry{First: firstBackoff, Last: lastBackoff}
	for ctx.Err() == nil {
		err := s.hold(ctx, retry.Well)
		if ctx.Err() != nil {
			return
		}
		s.close(connect.Sentence(err))
		s.sink.Reach(s.announcement.Hardware, false, connect.Sentence(err))
		retry.Wait(ctx)
	}
}

// hold opens the line and reads it until it is lost.
func (s *Session) hold(ctx context.Context, up func()) error {
	line, err := (&net.Dialer{Timeout: dialLimit}).DialContext(ctx, "tcp", s.announcement.Address)
	if err != nil {
		return fmt.Errorf("the device cannot be reached at %s: %s", s.announcement.Address, connect.Reason(err))
	}
	stop := context.AfterFunc(ctx, func() { _ = line.Close() })
	defer stop()
	defer func() { _ = line.Close() }()
	for _, message := range s.framing.Opening {
		if err := s.send(ctx, line, message); err != nil {
			return err
		}
	}
	s.mu.Lock()
	s.line, s.lost = line, ""
	close(s.opened)
	s.opened = make(chan struct{})
	s.mu.Unlock()
	up()
	var beside sync.WaitGroup
	defer beside.Wait()
	alive, ended := context.WithCancel(ctx)
	defer ended()
	beside.Go(func() { s.keepAlive(alive) })
	return s.read(line)
}

// keepAlive asks at once for all, and again and again, so that the line stays open and what the device does not tell by itself,
// such as that it has warmed up, is known.
func (s *Session) keepAlive(ctx context.Context) {
	if s.Refresh(ctx) {
		s.sink.Reach(s.announcement.Hardware, true, "")
	}
	ticker := time.NewTicker(cmp.Or(time.Duration(s.framing.EverySeconds*float64(time.Second)), s.options.Every, usualAsking))
	defer ticker.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-ticker.C:
			s.Refresh(ctx)
			if s.framing.Alive != "" {
				s.tell(ctx, s.framing.Alive)
			}
		}
	}
}

func (s *Session) read(line net.Conn) error {
	messages := bufio.NewScanner(line)
	messages.Buffer(nil, maximumLine)
	messages.Split(Splitter(&s.framing))
	for messages.Scan() {
		text := strings.TrimSpace(messages.Text())
		if text == "" {
			continue
		}
		s.wired(false, text)
		heard, err := s.translator.Hear(text)
		sink := connect.Heard(s.sink, s.announcement.Address, []byte(text))
		if err != nil {
			sink.Fault(fmt.Sprintf("%s: %s", s.announcement.Label, err))
		}
		if len(heard.Fields) > 0 {
			s.report(sink, heard.Fields)
		}
		s.mu.Lock()
		waiting := s.answer
		s.answer = nil
		s.mu.Unlock()
		if waiting != nil {
			waiting <- answer{heard, err}
		}
	}
	if errors.Is(messages.Err(), bufio.ErrTooLong) {
		return errors.New("the device sent a message without an end")
	}
	return errors.New("the device closed the line")
}

// Splitter tells messages apart by how they begin and end.
func Splitter(framing *thing.Line) bufio.SplitFunc {
	if framing.End == "" && framing.Begin == "" {
		return bufio.ScanLines
	}
	begin, end := []byte(framing.Begin), []byte(framing.End)
	if len(end) == 0 {
		end = []byte("\n")
	}
	return func(data []byte, last bool) (advance int, token []byte, err error) {
		at := bytes.Index(data, end)
		switch {
		case at >= 0:
			token = data[:at]
		case last && len(data) > 0:
			return len(data), nil, nil // a message without its end was cut off
		default:
			return 0, nil, nil
		}
		if from := bytes.LastIndex(token, begin); len(begin) > 0 && from >= 0 {
			token = token[from+len(begin):]
		}
		return at + len(end), append([]byte{}, token...), nil
	}
}

func (s *Session) wired(sent bool, text string) {
	if s.options.Wire != nil {
		s.options.Wire(connect.Wire{Sent: sent, Text: text})
	}
}

func (s *Session) report(sink connect.Sink, fields map[string]any) {
	if s.options.Fields != nil {
		s.options.Fields(maps.Clone(fields))
	}
	hardware := s.announcement.Hardware
	err := s.announcement.Profile.Tell(fields,
		func(property string, value thing.Value) {
			s.mu.Lock()
			s.values[property] = value
			s.mu.Unlock()
			sink.Report(hardware, property, value)
		},
		func(event string, value thing.Value) { sink.Event(hardware, event, value) })
	if err != nil {
		sink.Fault(s.announcement.Label + ": " + connect.Sentence(err))
	}
}

func (s *Session) known() map[string]thing.Value {
	s.mu.Lock()
	defer s.mu.Unlock()
	return maps.Clone(s.values)
}

func (s *Session) close(reason string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.line, s.lost = nil, reason
	close(s.opened) // who waits for the line sees that there is none
	s.opened = make(chan struct{})
	if s.answer != nil {
		s.answer <- answer{err: errLost}
		s.answer = nil
	}
}

var (
	errLost = errors.New("the device closed the line")
	errSlow = errors.New("the device did not answer in time")
)

// refusal is the device's own no.
type refusal struct{ reason string }

func (r *refusal) Error() string { return "the device refuses: " + r.reason }

func (s *Session) send(ctx context.Context, line net.Conn, message string) error {
	_ = line.SetWriteDeadline(time.Now().Add(answerLimit))
	s.wired(true, message)
	connect.Sent(ctx, s.sink, s.announcement.Address, []byte(message))
	if _, err := line.Write([]byte(s.framing.Begin + message + s.framing.Ending())); err != nil {
		return errLost
	}
	return nil
}

// open returns the line, once it is there when it is being opened for the first time.
func (s *Session) open(ctx context.Context) (net.Conn, error) {
	s.mu.Lock()
	connection, lost, opened := s.line, s.lost, s.opened
	s.mu.Unlock()
	switch {
	case connection != nil:
		return connection, nil
	case lost != "":
		return nil, errors.New(unsentenced(lost))
	}
	limit := time.NewTimer(dialLimit)
	defer limit.Stop()
	select {
	case <-opened:
		s.mu.Lock()
		connection, lost = s.line, s.lost
		s.mu.Unlock()
	case <-limit.C:
	case <-ctx.Done():
	}
	switch {
	case connection != nil:
		return connection, nil
	case lost != "":
		return nil, errors.New(unsentenced(lost))
	}
	return nil, errors.New("the device cannot be reached at " + s.announcement.Address)
}

// unsentenced writes a sentence as an error.
func unsentenced(sentence string) string {
	return strings.ToLower(sentence[:1]) + strings.TrimSuffix(sentence[1:], ".")
}

// tell sends a message to which no answer is expected.
func (s *Session) tell(ctx context.Context, message string) error {
	s.asking.Lock()
	defer s.asking.Unlock()
	connection, err := s.open(ctx)
	if err != nil {
		return err
	}
	return s.send(ctx, connection, message)
}

// ask sends a message and waits for the next one that comes.
func (s *Session) ask(ctx context.Context, message string) (thing.Heard, error) {
	s.asking.Lock()
	defer s.asking.Unlock()
	connection, err := s.open(ctx)
	if err != nil {
		return thing.Heard{}, err
	}
	waiting := make(chan answer, 1)
	s.mu.Lock()
	s.answer = waiting
	s.mu.Unlock()
	if err := s.send(ctx, connection, message); err != nil {
		return thing.Heard{}, err
	}
	limit := time.NewTimer(answerLimit)
	defer limit.Stop()
	select {
	case a := <-waiting:
		if a.heard.No {
			return a.heard, &refusal{a.heard.Refused}
		}
		return a.heard, a.err
	case <-limit.C:
		_ = connection.Close() // whatever answers now would be taken for the answer to the next
		return thing.Heard{}, errSlow
	case <-ctx.Done():
		return thing.Heard{}, ctx.Err()
	}
}

// Refresh asks for all that the device knows, and reports whether it answered; one that nothing can be asked of is reached
// when its line is open.
func (s *Session) Refresh(ctx context.Context) bool {
	if s.broken != nil {
		return false
	}
	questions := s.translator.Questions()
	for _, question := range questions {
		var no *refusal
		if _, err := s.ask(ctx, question); err != nil && !errors.As(err, &no) {
			return false
		}
	}
	if len(questions) == 0 {
		_, err := s.open(ctx)
		return err == nil
	}
	return true
}

// Write sets a property.
func (s *Session) Write(ctx context.Context, property string, value thing.Value) connect.Outcome {
	return s.carryOut(ctx, property, func(known map[string]thing.Value) (string, error) {
		return s.translator.Set(property, value, known)
	})
}

// Invoke asks for an action.
func (s *Session) Invoke(ctx context.Context, action string, given thing.Inputs) connect.Outcome {
	return s.carryOut(ctx, "", func(known map[string]thing.Value) (string, error) {
		return s.translator.Invoke(action, given, known)
	})
}

// carryOut sends a command. A property that can be asked for is asked for afterwards, where the answer does not say what it is
// at now.
func (s *Session) carryOut(ctx context.Context, property string, command func(known map[string]thing.Value) (string, error)) connect.Outcome {
	if s.broken != nil {
		return connect.Failed(connect.Sentence(s.broken))
	}
	message, err := command(s.known())
	if err != nil {
		return connect.Failed(connect.Sentence(err))
	}
	var heard thing.Heard
	if s.framing.Unanswered {
		err = s.tell(ctx, message)
	} else {
		heard, err = s.ask(ctx, message)
	}
	var no *refusal
	switch {
	case errors.As(err, &no):
		return connect.Failed(connect.Sentence(err))
	case err != nil:
		return connect.Unreached(connect.Sentence(err))
	}
	if question := s.translator.Question(property); question != "" && heard.Fields[s.announcement.Profile.Natives[property].Field] == nil {
		_, _ = s.ask(ctx, question) // that it does not answer is noticed when it is next asked for all
	}
	return connect.Outcome{OK: true}
}

// Shown writes a message so that everything in it can be seen: what is no printable character as an escape of Go.
func Shown(text string) string {
	quoted := strconv.Quote(text)
	return strings.ReplaceAll(quoted[1:len(quoted)-1], `\"`, `"`)
}
