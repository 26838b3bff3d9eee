// Package radio is the connection to a Haskett transceiver: a line protocol over TCP to
// one-way radio. What is sent is never confirmed, what is heard is repeated, and lines may be
// corrupt. It turns telegrams into reports and events, each once; it decides nothing.
package radio

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"maps"
	"net"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"amvek/connect"
	"amvek/core/thing"
)

const (
	dialLimit    = 3 * time.Second
	answerLimit  = 2 * time.Second
	keepAlive    = 20 * time.Second
	maximumLine  = 1024
	firstBackoff = 250 * time.Millisecond
	lastBackoff  = 15 * time.Second
	// sameWithin is how close equal telegrams are the repeats of one. A person cannot press twice that fast.
	sameWithin = 250 * time.Millisecond
)

// The models that telegrams tell of.
const (
	thermometer = "HO-1"
	remote      = "HR-4"
	socket      = "HS-2"
)

// About is what a transceiver tells of itself.
type About struct{ Model, Serial string }

var greeting = regexp.MustCompile(`^HASKETT (\S+) SER=(\S+)$`)

// ErrNotATransceiver says that something else answers.
var ErrNotATransceiver = errors.New("something answers at this address, but it is not a Haskett transceiver")

// Probe asks what is at an address.
func Probe(ctx context.Context, address string) (About, error) {
	line, err := (&net.Dialer{Timeout: dialLimit}).DialContext(ctx, "tcp", address)
	if err != nil {
		return About{}, fmt.Errorf("nothing answers at %s", address)
	}
	defer func() { _ = line.Close() }()
	_ = line.SetReadDeadline(time.Now().Add(answerLimit))
	text, err := bufio.NewReaderSize(line, maximumLine).ReadString('\n')
	m := greeting.FindStringSubmatch(strings.TrimSpace(text))
	if err != nil || m == nil {
		return About{}, ErrNotATransceiver
	}
	return About{m[1], m[2]}, nil
}

// Telegram is a line that was heard, checked.
type Telegram struct {
	ID     string
	Kind   string // T: a temperature, K and a number: a key
	Value  string // tenths of a degree, or ON and OFF
	Weak   bool   // of a thermometer: its battery is nearly empty
	Status string
}

// checksum is the exclusive or of all bytes (the maker's own).
func checksum(body string) string {
	sum := byte(0)
	for i := range len(body) {
		sum ^= body[i]
	}
	return fmt.Sprintf("%02X", sum)
}

var identity = regexp.MustCompile(`^[0-9A-F]{4}$`)

// Parse reads a line such as R:7A31:T:+0063:B1*5C. A line with a wrong checksum is refused whole.
func Parse(line string) (Telegram, error) {
	body, sum, ok := strings.Cut(line, "*")
	if !ok || !strings.EqualFold(sum, checksum(body)) {
		return Telegram{}, errors.New("the checksum is wrong")
	}
	parts := strings.Split(body, ":")
	if len(parts) < 4 || parts[0] != "R" || !identity.MatchString(parts[1]) {
		return Telegram{}, errors.New("the telegram is not known")
	}
	t := Telegram{ID: parts[1], Kind: parts[2], Value: parts[3]}
	switch {
	case t.Kind == "T" && len(parts) == 5:
		if _, err := strconv.Atoi(t.Value); err != nil {
			return Telegram{}, errors.New("the temperature is no number")
		}
		t.Weak = parts[4] == "B0"
	case len(t.Kind) == 2 && t.Kind[0] == 'K' && t.Kind[1] >= '1' && t.Kind[1] <= '4' && len(parts) == 4:
		if t.Value != "ON" && t.Value != "OFF" {
			return Telegram{}, errors.New("the key says neither ON nor OFF")
		}
	default:
		return Telegram{}, errors.New("the telegram is not known")
	}
	return t, nil
}

// Transceiver is the connection.
type Transceiver struct {
	address  string
	profiles func(model string) *thing.Model

	mu      sync.Mutex
	sink    connect.Sink
	line    net.Conn
	sent    chan string // where the transceiver's answer to what was sent goes
	devices map[string]connect.Announcement
	last    map[string]map[string]any // what each device last said, by hardware
	heard   map[string]time.Time      // telegrams and when they were last heard
	sending sync.Mutex
}

// New returns the connection to a transceiver at an address.
func New(address string, profiles func(model string) *thing.Model) *Transceiver {
	return &Transceiver{
		address:  address,
		profiles: profiles,
		devices:  map[string]connect.Announcement{},
		last:     map[string]map[string]any{},
		heard:    map[string]time.Time{},
	}
}

// Run implements [connect.Connection].
func (t *Transceiver) Run(ctx context.Context, sink connect.Sink) {
	t.mu.Lock()
	t.sink = sink
	t.mu.Unlock()
	retry := connect.Retry{First: firstBackoff, Last: lastBackoff}
	for ctx.Err() == nil {
		err := t.hold(ctx, retry.Well)
		if ctx.Err() != nil {
			return
		}
		sink.State(false, connect.Sentence(err))
		retry.Wait(ctx)
	}
}

func (t *Transceiver) hold(ctx context.Context, up func()) error {
	line, err := (&net.Dialer{Timeout: dialLimit}).DialContext(ctx, "tcp", t.address)
	if err != nil {
		return fmt.Errorf("the transceiver cannot be reached at %s: %s", t.address, connect.Reason(err))
	}
	stop := context.AfterFunc(ctx, func() { _ = line.Close() })
	defer stop()
	defer func() { _ = line.Close() }()
	lines := bufio.NewScanner(line)
	lines.Buffer(nil, maximumLine)
	_ = line.SetReadDeadline(time.Now().Add(answerLimit))
	if !lines.Scan() || !greeting.MatchString(strings.TrimSpace(lines.Text())) {
		return ErrNotATransceiver
	}
	t.mu.Lock()
	t.line = line
	t.mu.Unlock()
	defer func() {
		t.mu.Lock()
		t.line = nil
		t.mu.Unlock()
	}()
	up()
	t.sink.State(true, "")
	alive, ended := context.WithCancel(ctx)
	var beside sync.WaitGroup
	beside.Go(func() { t.keepAlive(alive) })
	defer func() { ended(); beside.Wait() }()
	for {
		_ = line.SetReadDeadline(time.Now().Add(2 * keepAlive))
		if !lines.Scan() {
			return errors.New("the transceiver fell silent")
		}
		t.hear(strings.TrimSpace(lines.Text()))
	}
}

func (t *Transceiver) keepAlive(ctx context.Context) {
	ticker := time.NewTicker(keepAlive)
	defer ticker.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-ticker.C:
			_, _ = t.send(ctx, "PING")
		}
	}
}

func (t *Transceiver) hear(line string) {
	if !strings.HasPrefix(line, "R") {
		t.mu.Lock()
		waiting := t.sent
		t.sent = nil
		t.mu.Unlock()
		if waiting != nil {
			waiting <- line
		}
		return
	}
	telegram, err := Parse(line)
	sink := connect.Heard(t.sink, "transceiver", []byte(line))
	if err != nil {
		sink.Fault(fmt.Sprintf("A line was refused: %s.", err))
		return
	}
	now := time.Now()
	t.mu.Lock()
	repeated := now.Sub(t.heard[line]) < sameWithin
	t.heard[line] = now
	if len(t.heard) > maximumLine {
		maps.DeleteFunc(t.heard, func(_ string, at time.Time) bool { return now.Sub(at) > sameWithin })
	}
	t.mu.Unlock()
	if !repeated {
		t.take(sink, telegram)
	}
}

// take turns a telegram into what its devices say. A key tells of two: the remote that was
// pressed, and the socket that hears it and never answers.
func (t *Transceiver) take(sink connect.Sink, telegram Telegram) {
	if telegram.Kind == "T" {
		tenths, _ := strconv.Atoi(telegram.Value)
		battery := 100.0
		if telegram.Weak {
			battery = 5
		}
		t.tell(sink, "hk-"+telegram.ID, telegram.ID, thermometer, "Outdoor thermometer "+telegram.ID, map[string]any{"t": float64(tenths), "b": battery})
		return
	}
	key := telegram.Kind[1:]
	t.tell(sink, "hk-"+telegram.ID, telegram.ID, remote, "Remote "+telegram.ID, map[string]any{"key" + key: telegram.Value})
	hardware := "hk-" + telegram.ID + "-" + key
	t.tell(sink, hardware, telegram.ID+":"+key, socket, "Socket switched by key "+key+" of "+telegram.ID, map[string]any{"on": telegram.Value})
}

func (t *Transceiver) tell(sink connect.Sink, hardware, address, model, label string, message map[string]any) {
	a := connect.Announcement{Hardware: hardware, Address: address, Maker: "Haskett", Model: model, Label: label, Profile: t.profiles(model)}
	t.mu.Lock()
	known, there := t.devices[hardware]
	t.devices[hardware] = a
	t.last[hardware] = message
	t.mu.Unlock()
	if !there || known != a {
		t.announce()
	}
	if a.Profile == nil {
		return
	}
	err := a.Profile.Tell(message,
		func(property string, value thing.Value) { sink.Report(hardware, property, value) },
		func(event string, value thing.Value) { sink.Event(hardware, event, value) })
	if err != nil {
		sink.Fault(label + ": " + connect.Sentence(err))
	}
}

func (t *Transceiver) announce() {
	t.mu.Lock()
	list := make([]connect.Announcement, 0, len(t.devices))
	for _, hardware := range slices.Sorted(maps.Keys(t.devices)) {
		list = append(list, t.devices[hardware])
	}
	t.mu.Unlock()
	t.sink.Found(list)
}

// send sends a line and returns the transceiver's own answer, which says nothing of whoever should hear it.
func (t *Transceiver) send(ctx context.Context, line string) (string, error) {
	t.sending.Lock()
	defer t.sending.Unlock()
	waiting := make(chan string, 1)
	t.mu.Lock()
	connection := t.line
	t.sent = waiting
	t.mu.Unlock()
	if connection == nil {
		return "", errors.New("the transceiver cannot be reached")
	}
	_ = connection.SetWriteDeadline(time.Now().Add(answerLimit))
	connect.Sent(ctx, t.sink, "transceiver", []byte(line))
	if _, err := connection.Write([]byte(line + "\r\n")); err != nil {
		return "", errors.New("the transceiver closed the line")
	}
	limit := time.NewTimer(answerLimit)
	defer limit.Stop()
	select {
	case answer := <-waiting:
		return answer, nil
	case <-limit.C:
		return "", errors.New("the transceiver did not answer in time")
	case <-ctx.Done():
		return "", ctx.Err()
	}
}

// Write implements [connect.Connection]: it is sent, and assumed to have been heard.
func (t *Transceiver) Write(ctx context.Context, address, property string, value thing.Value, _ time.Duration) connect.Outcome {
	id, key, isSocket := strings.Cut(address, ":")
	if !isSocket || property != "power" || value.Kind != thing.KindBoolean {
		return connect.Failed("Nothing can be sent to this device: it only sends.")
	}
	word := "OFF"
	if value.True() {
		word = "ON"
	}
	body := fmt.Sprintf("T:%s:%s:%s", id, key, word)
	answer, err := t.send(ctx, body+"*"+checksum(body))
	switch {
	case err != nil:
		return connect.Unreached(connect.Sentence(err))
	case answer != "SENT":
		return connect.Failed("The transceiver refuses: " + answer + ".")
	}
	return connect.Outcome{OK: true, Assumed: true}
}

// Invoke implements [connect.Connection].
func (t *Transceiver) Invoke(context.Context, string, string, thing.Inputs) connect.Outcome {
	return connect.Failed("Nothing can be asked of a device that only sends or only listens.")
}

// Sync implements [connect.Connection]. All that was sent before has been read once the
// transceiver answers.
func (t *Transceiver) Sync(ctx context.Context) { _, _ = t.send(ctx, "PING") }

// Recall implements [connect.Connection]. Presses are not told again.
func (t *Transceiver) Recall(_ context.Context, hardware string) {
	t.mu.Lock()
	a, message := t.devices[hardware], t.last[hardware]
	t.mu.Unlock()
	if a.Profile == nil {
		return
	}
	_ = a.Profile.Tell(message, func(property string, value thing.Value) { t.sink.Report(hardware, property, value) }, func(string, thing.Value) {})
}

// Test implements [connect.Tester].
func (t *Transceiver) Test(ctx context.Context) error {
	answer, err := t.send(ctx, "PING")
	if err == nil && answer != "PONG" {
		err = fmt.Errorf("the transceiver answers %q", answer)
	}
	return err
}

// Profiled implements [connect.Profiled].
func (t *Transceiver) Profiled() {
	t.mu.Lock()
	for hardware, a := range t.devices {
		a.Profile = t.profiles(a.Model)
		t.devices[hardware] = a
	}
	t.mu.Unlock()
	t.announce()
}

// Try implements [connect.Trier] with what was last heard.
func (t *Transceiver) Try(_ context.Context, hardware string, _ *thing.Model) (map[string]any, error) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if message := t.last[hardware]; message != nil {
		return message, nil
	}
	return nil, errors.New("the device has not been heard since the hub started")
}
