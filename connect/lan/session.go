package lan

import (
	"bufio"
	"cmp"
	"context"
	"errors"
	"fmt"
	"net"
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

// session is the line to one device: opened anew whenever it is lost.
type session struct {
	announcement connect.Announcement
	translator   translator
	broken       error // why the profile cannot be used
	sink         connect.Sink
	raw          func(fields map[string]any) // where set, takes fields before they are read
	every        time.Duration               // how often it is asked how it stands

	asking sync.Mutex // one question at a time
	mu     sync.Mutex
	line   net.Conn
	answer chan answer // where the next line goes, while somebody waits for it
	opened chan struct{}
	lost   string
}

type answer struct {
	refused string
	err     error
}

func newSession(a connect.Announcement, sink connect.Sink, every time.Duration) *session {
	s := &session{announcement: a, sink: sink, every: cmp.Or(every, usualAsking), opened: make(chan struct{})}
	s.translator, s.broken = newTranslator(a.Profile)
	return s
}

// run keeps the line open until the context ends.
func (s *session) run(ctx context.Context) {
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
func (s *session) hold(ctx context.Context, up func()) error {
	line, err := (&net.Dialer{Timeout: dialLimit}).DialContext(ctx, "tcp", s.announcement.Address)
	if err != nil {
		return fmt.Errorf("the device cannot be reached at %s", s.announcement.Address)
	}
	stop := context.AfterFunc(ctx, func() { _ = line.Close() })
	defer stop()
	defer func() { _ = line.Close() }()
	s.mu.Lock()
	s.line = line
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
func (s *session) keepAlive(ctx context.Context) {
	if s.refresh(ctx) {
		s.sink.Reach(s.announcement.Hardware, true, "")
	}
	ticker := time.NewTicker(s.every)
	defer ticker.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-ticker.C:
			s.refresh(ctx)
		}
	}
}

func (s *session) read(line net.Conn) error {
	lines := bufio.NewScanner(line)
	lines.Buffer(nil, maximumLine)
	for lines.Scan() {
		text := strings.TrimSpace(lines.Text())
		if text == "" {
			continue
		}
		fields, refused, err := s.translator.hear(text)
		if err != nil {
			s.sink.Fault(fmt.Sprintf("%s: %s", s.announcement.Label, err))
		}
		if len(fields) > 0 {
			s.tell(fields)
		}
		s.mu.Lock()
		waiting := s.answer
		s.answer = nil
		s.mu.Unlock()
		if waiting != nil {
			waiting <- answer{refused, err}
		}
	}
	if errors.Is(lines.Err(), bufio.ErrTooLong) {
		return errors.New("the device sent a line without an end")
	}
	return errors.New("the device closed the line")
}

func (s *session) tell(fields map[string]any) {
	if s.raw != nil {
		s.raw(fields)
	}
	hardware := s.announcement.Hardware
	err := s.announcement.Profile.Tell(fields,
		func(property string, value thing.Value) { s.sink.Report(hardware, property, value) },
		func(event string, value thing.Value) { s.sink.Event(hardware, event, value) })
	if err != nil {
		s.sink.Fault(s.announcement.Label + ": " + connect.Sentence(err))
	}
}

func (s *session) close(reason string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.line, s.lost = nil, reason
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

// ask sends a line and waits for the next one that comes.
func (s *session) ask(ctx context.Context, line string) error {
	s.asking.Lock()
	defer s.asking.Unlock()
	s.mu.Lock()
	connection, lost, opened := s.line, s.lost, s.opened
	s.mu.Unlock()
	if connection == nil {
		if lost != "" {
			return errors.New(strings.ToLower(lost[:1]) + strings.TrimSuffix(lost[1:], "."))
		}
		// It is being opened for the first time.
		select {
		case <-opened:
			s.mu.Lock()
			connection = s.line
			s.mu.Unlock()
		case <-time.After(dialLimit):
		case <-ctx.Done():
		}
		if connection == nil {
			return errors.New("the device cannot be reached at " + s.announcement.Address)
		}
	}
	waiting := make(chan answer, 1)
	s.mu.Lock()
	s.answer = waiting
	s.mu.Unlock()
	_ = connection.SetWriteDeadline(time.Now().Add(answerLimit))
	if _, err := connection.Write([]byte(line + "\r\n")); err != nil {
		return errLost
	}
	limit := time.NewTimer(answerLimit)
	defer limit.Stop()
	select {
	case a := <-waiting:
		if a.refused != "" {
			return &refusal{a.refused}
		}
		return a.err
	case <-limit.C:
		_ = connection.Close() // whatever answers now would be taken for the answer to the next
		return errSlow
	case <-ctx.Done():
		return ctx.Err()
	}
}

// refresh asks for all that the device knows, and reports whether it answered.
func (s *session) refresh(ctx context.Context) bool {
	if s.broken != nil {
		return false
	}
	for _, question := range s.translator.questions() {
		var no *refusal
		if err := s.ask(ctx, question); err != nil && !errors.As(err, &no) {
			return false
		}
	}
	return true
}

func (s *session) write(ctx context.Context, property string, value thing.Value) connect.Outcome {
	return s.carryOut(ctx, func() (string, error) { return s.translator.set(property, value) })
}

func (s *session) invoke(ctx context.Context, action string, given thing.Inputs) connect.Outcome {
	return s.carryOut(ctx, func() (string, error) { return s.translator.invoke(action, given) })
}

func (s *session) carryOut(ctx context.Context, command func() (string, error)) connect.Outcome {
	if s.broken != nil {
		return connect.Failed(connect.Sentence(s.broken))
	}
	line, err := command()
	if err != nil {
		return connect.Failed(connect.Sentence(err))
	}
	err = s.ask(ctx, line)
	var no *refusal
	switch {
	case errors.As(err, &no):
		return connect.Failed(connect.Sentence(err))
	case err != nil:
		return connect.Unreached(connect.Sentence(err))
	}
	return connect.Outcome{OK: true}
}
