// Package haskett is a pretend maker: remotes, switched sockets and outdoor thermometers on
// one-way radio, heard and commanded through a transceiver that speaks a line protocol over
// TCP. Nothing that is sent is ever confirmed; every telegram is repeated three times; now
// and then a line is corrupt; and a thermometer takes a new id when its battery is changed.
// It shares no code with the hub.
package haskett

import (
	"bufio"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net"
	"strings"
	"sync"
	"time"
)

const (
	serial       = "HT3-0077"
	repeats      = 3
	corruptEvery = 7 // every so many telegrams one of its repeats is corrupt
	measureEvery = 10 * time.Minute
)

// socket is a switched socket: it only listens, on the code of one key of a remote.
type socket struct {
	Remote string
	Key    int
	Label  string
	Spot   string
	On     bool
}

type thermometer struct {
	ID    string
	Label string
	Spot  string
}

// Air is the pretend transceiver with all that is on its radio.
type Air struct {
	mu           sync.Mutex
	now          func() time.Time
	warmth       func(room string) float64
	sockets      []*socket
	thermometers []*thermometer
	remotes      map[string]string // label by id
	clients      map[net.Conn]bool
	listener     net.Listener
	telegrams    int
	measureAt    time.Time
	changed      func()
}

// New returns the transceiver; warmth says how warm a place is.
func New(now func() time.Time, warmth func(room string) float64, changed func()) *Air {
	return &Air{
		now: now, warmth: warmth, changed: changed, clients: map[net.Conn]bool{}, measureAt: now(),
		remotes: map[string]string{"20F4": "Handheld remote by the door", "31B7": "Handheld remote in the loft"},
		sockets: []*socket{
			{"20F4", 1, "Yard socket", "Yard", false},
			{"20F4", 2, "Boat shed socket", "Boat shed", false},
			{"31B7", 1, "Loft socket", "Reading loft", false},
		},
		thermometers: []*thermometer{{"7A31", "Yard thermometer", "Yard"}, {"58C2", "Boat shed thermometer", "Boat shed"}},
	}
}

// Serve listens on a loopback address such as 127.0.0.1:0.
func (a *Air) Serve(address string) error {
	listener, err := net.Listen("tcp", address)
	if err != nil {
		return fmt.Errorf("the pretend Haskett transceiver cannot listen: %w", err)
	}
	a.listener = listener
	go func() {
		for {
			c, err := listener.Accept()
			if err != nil {
				return
			}
			a.mu.Lock()
			a.clients[c] = true
			say(c, "HASKETT TX3 SER="+serial)
			a.mu.Unlock()
			go a.serve(c)
		}
	}()
	return nil
}

// Address returns host and port.
func (a *Air) Address() string { return a.listener.Addr().String() }

// Close ends the transceiver.
func (a *Air) Close() error {
	err := a.listener.Close()
	a.mu.Lock()
	defer a.mu.Unlock()
	for c := range a.clients {
		_ = c.Close()
	}
	return err
}

func (a *Air) serve(c net.Conn) {
	lines := bufio.NewScanner(c)
	for lines.Scan() {
		a.mu.Lock()
		answer := a.send(strings.TrimSpace(lines.Text()))
		say(c, answer)
		a.mu.Unlock()
		if answer == "SENT" {
			a.changed()
		}
	}
	a.mu.Lock()
	delete(a.clients, c)
	a.mu.Unlock()
	_ = c.Close()
}

// say writes a line to a client. A deadline stays with a connection, so each line sets its own.
func say(c net.Conn, line string) {
	_ = c.SetWriteDeadline(time.Now().Add(time.Second))
	_, _ = fmt.Fprintf(c, "%s\r\n", line)
}

// checksum is the exclusive or of all bytes of a telegram.
func checksum(body string) string {
	sum := byte(0)
	for i := range len(body) {
		sum ^= body[i]
	}
	return fmt.Sprintf("%02X", sum)
}

// send puts what a client asked for on the air; sockets that hear their code switch.
func (a *Air) send(line string) string {
	if line == "PING" {
		return "PONG"
	}
	body, sum, ok := strings.Cut(line, "*")
	if !ok || sum != checksum(body) {
		return "ERR SUM"
	}
	parts := strings.Split(body, ":")
	if len(parts) != 4 || parts[0] != "T" || (parts[3] != "ON" && parts[3] != "OFF") {
		return "ERR FORM"
	}
	a.hear(parts[1], parts[2], parts[3] == "ON")
	return "SENT"
}

func (a *Air) hear(remote, key string, on bool) {
	for _, s := range a.sockets {
		if s.Remote == remote && fmt.Sprint(s.Key) == key {
			s.On = on
		}
	}
}

// broadcast is what every client hears: each telegram three times, at times one of them corrupt.
func (a *Air) broadcast(body string) {
	a.telegrams++
	for n := range repeats {
		line := body + "*" + checksum(body)
		if a.telegrams%corruptEvery == 0 && n == 1 {
			line = strings.Replace(line, ":", ";", 1)
		}
		for c := range a.clients {
			say(c, line)
		}
	}
}

// Press presses a key of a remote: its sockets hear it, and so does the transceiver.
func (a *Air) Press(remote string, key int, on bool) error {
	a.mu.Lock()
	defer a.mu.Unlock()
	if _, known := a.remotes[remote]; !known || key < 1 || key > 4 {
		return fmt.Errorf("there is no such key")
	}
	word := "OFF"
	if on {
		word = "ON"
	}
	a.hear(remote, fmt.Sprint(key), on)
	a.broadcast(fmt.Sprintf("R:%s:K%d:%s", remote, key, word))
	go a.changed()
	return nil
}

// ChangeBattery changes the battery of a thermometer, which then has a new id.
func (a *Air) ChangeBattery(id string) error {
	a.mu.Lock()
	defer a.mu.Unlock()
	for _, t := range a.thermometers {
		if t.ID == id {
			t.ID = fmt.Sprintf("%04X", 0x1000+rand.IntN(0xEFFF))
			a.measure(t)
			go a.changed()
			return nil
		}
	}
	return fmt.Errorf("there is no thermometer %q", id)
}

func (a *Air) measure(t *thermometer) {
	a.broadcast(fmt.Sprintf("R:%s:T:%+05d:B1", t.ID, int(a.warmth(t.Spot)*10)))
}

// Next returns when a thermometer will next speak by itself.
func (a *Air) Next() time.Time {
	a.mu.Lock()
	defer a.mu.Unlock()
	return a.measureAt
}

// Wake lets the thermometers say what is due. It reports whether anything was said.
func (a *Air) Wake() bool {
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.now().Before(a.measureAt) {
		return false
	}
	a.measureAt = a.now().Add(measureEvery)
	for _, t := range a.thermometers {
		a.measure(t)
	}
	return len(a.clients) > 0
}

// Seen is what there is to see and to press.
type Seen struct {
	Sockets      []SeenSocket
	Thermometers []SeenThermometer
	Remotes      map[string]string
}

// SeenSocket is a socket as it stands in the house.
type SeenSocket struct {
	Label, Spot string
	On          bool
}

// SeenThermometer is a thermometer with its present id.
type SeenThermometer struct{ ID, Label, Spot string }

// Seen returns what there is to see.
func (a *Air) Seen() Seen {
	a.mu.Lock()
	defer a.mu.Unlock()
	seen := Seen{Remotes: a.remotes}
	for _, s := range a.sockets {
		seen.Sockets = append(seen.Sockets, SeenSocket{s.Label, s.Spot, s.On})
	}
	for _, t := range a.thermometers {
		seen.Thermometers = append(seen.Thermometers, SeenThermometer{t.ID, t.Label, t.Spot})
	}
	return seen
}

type saved struct {
	Sockets map[string]bool   `json:"sockets"`
	IDs     map[string]string `json:"ids"`
}

// Save returns what is remembered.
func (a *Air) Save() ([]byte, error) {
	a.mu.Lock()
	defer a.mu.Unlock()
	s := saved{map[string]bool{}, map[string]string{}}
	for _, x := range a.sockets {
		s.Sockets[x.Label] = x.On
	}
	for _, t := range a.thermometers {
		s.IDs[t.Label] = t.ID
	}
	return json.Marshal(s)
}

// Restore takes what Save returned.
func (a *Air) Restore(data []byte) error {
	var s saved
	if err := json.Unmarshal(data, &s); err != nil {
		return fmt.Errorf("reading the pretend Haskett radio: %w", err)
	}
	a.mu.Lock()
	defer a.mu.Unlock()
	for _, x := range a.sockets {
		x.On = s.Sockets[x.Label]
	}
	for _, t := range a.thermometers {
		if id := s.IDs[t.Label]; id != "" {
			t.ID = id
		}
	}
	return nil
}
