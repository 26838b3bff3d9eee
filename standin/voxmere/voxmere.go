// Package voxmere is a pretend maker of sound and picture: a projector, an amplifier, an
// 8×8 switcher with zone volumes, and two players with a library of drawn covers. They speak
// commands in plain text over TCP, one a line, and tell of themselves by multicast DNS. The
// projector warms up and cools down and refuses commands meanwhile, and every one drops a
// line on which nothing was said for a while. It shares no code with the hub.
package voxmere

import (
	"bufio"
	"encoding/json"
	"fmt"
	"io"
	"log"
	"net"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/hashicorp/mdns"
)

const (
	idleLimit = 20 * time.Second // of real time: it is the line that is dropped
	warmUp    = 25 * time.Second
	coolDown  = 40 * time.Second
	zones     = 8
)

// Track is one in a player's library, or a station.
type Track struct{ Title, By string }

// library holds the tracks that follow each other, and then the stations, which go on until something else is played.
var library = []Track{
	{"Leat in March", "The Sluice Quartet"}, {"Seven Paddles", "Undershot"}, {"Rain on Slate", "M. Tarn"}, {"Evening Head", "The Sluice Quartet"},
	{"Radio Lockgate", "station"}, {"Weirside Quiet", "station"}, {"Kiln FM", "station"},
}

const tracks = 4

// find returns what fits words best: all of them must be in its title or in who it is by.
func find(words string) (int, bool) {
	wanted := strings.Fields(strings.ToLower(words))
	if len(wanted) == 0 {
		return 0, false
	}
	i := slices.IndexFunc(library, func(t Track) bool {
		text := strings.ToLower(t.Title + " " + t.By)
		return !slices.ContainsFunc(wanted, func(word string) bool { return !strings.Contains(text, word) })
	})
	return i, i >= 0
}

// Device is a pretend device.
type Device struct {
	Hardware, Model, Label, Spot string

	on       bool
	until    time.Time // while it warms up or cools down
	input    int
	volume   int // 0 to 80, as the maker counts
	muted    bool
	routes   [zones]int // which input each zone of a switcher hears
	playing  bool
	track    int
	said     string
	saidAt   time.Time
	listener net.Listener
	sessions map[net.Conn]bool
	service  *mdns.Server
}

// Rack is all the gear.
type Rack struct {
	mu      sync.Mutex
	now     func() time.Time
	devices []*Device
	changed func()
}

// New returns the gear, not yet on the network.
func New(now func() time.Time, changed func()) *Rack {
	r := &Rack{now: now, changed: changed, devices: []*Device{
		{Hardware: "vx-9001", Model: "VP-7", Label: "Voxmere VP-7 Projector", Spot: "Mill room", input: 1},
		{Hardware: "vx-9002", Model: "VA-2", Label: "Voxmere VA-2 Amplifier", Spot: "Mill room", input: 1, volume: 24},
		{Hardware: "vx-9003", Model: "VM-8", Label: "Voxmere VM-8 Switcher", Spot: "Mill room", on: true, volume: 30},
		{Hardware: "vx-9004", Model: "VL-1", Label: "Voxmere VL-1 Player 4", Spot: "Mill room", on: true, volume: 20},
		{Hardware: "vx-9005", Model: "VL-1", Label: "Voxmere VL-1 Player 5", Spot: "Galley", on: true, volume: 20},
	}}
	for _, d := range r.devices {
		d.sessions = map[net.Conn]bool{}
		for zone := range d.routes {
			d.routes[zone] = 1
		}
	}
	return r
}

// Serve lets every device listen on a free port and tell of itself in a domain of multicast DNS.
func (r *Rack) Serve(domain string) error {
	loopback, _ := net.InterfaceByName("lo")
	for _, d := range r.devices {
		listener, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			return fmt.Errorf("a pretend Voxmere device cannot listen: %w", err)
		}
		d.listener = listener
		go r.accept(d)
		if domain == "" || loopback == nil {
			continue
		}
		service, err := mdns.NewMDNSService(
			d.Label,
			"_voxmere._tcp",
			domain+".",
			"vx."+domain+".",
			listener.Addr().(*net.TCPAddr).Port,
			[]net.IP{net.IPv4(127, 0, 0, 1)},
			[]string{"maker=Voxmere", "model=" + d.Model, "hw=" + d.Hardware, "label=" + d.Label, "fw=2." + d.Model[len(d.Model)-1:]},
		)
		if err != nil {
			return fmt.Errorf("a pretend Voxmere device cannot tell of itself: %w", err)
		}
		// Without multicast nobody finds it by itself.
		d.service, _ = mdns.NewServer(&mdns.Config{Zone: service, Iface: loopback, Logger: log.New(io.Discard, "", 0)})
	}
	return nil
}

// Close ends all devices.
func (r *Rack) Close() error {
	r.mu.Lock()
	defer r.mu.Unlock()
	for _, d := range r.devices {
		if d.service != nil {
			_ = d.service.Shutdown()
		}
		if d.listener != nil {
			_ = d.listener.Close()
		}
		for c := range d.sessions {
			_ = c.Close()
		}
	}
	return nil
}

// Address returns host and port of a device.
func (r *Rack) Address(hardware string) string {
	for _, d := range r.devices {
		if d.Hardware == hardware {
			return d.listener.Addr().String()
		}
	}
	return ""
}

func (r *Rack) accept(d *Device) {
	for {
		c, err := d.listener.Accept()
		if err != nil {
			return
		}
		r.mu.Lock()
		d.sessions[c] = true
		r.mu.Unlock()
		go r.serve(d, c)
	}
}

func (r *Rack) serve(d *Device, c net.Conn) {
	lines := bufio.NewScanner(c)
	for {
		_ = c.SetReadDeadline(time.Now().Add(idleLimit))
		if !lines.Scan() {
			break
		}
		r.mu.Lock()
		answer, changed := r.command(d, strings.TrimSpace(lines.Text()))
		_, _ = fmt.Fprintf(c, "%s\r\n", answer)
		if changed {
			for other := range d.sessions {
				if other != c {
					_, _ = fmt.Fprintf(other, "%s\r\n", answer)
				}
			}
		}
		r.mu.Unlock()
		if changed {
			r.changed()
		}
	}
	r.mu.Lock()
	delete(d.sessions, c)
	r.mu.Unlock()
	_ = c.Close()
}

// power is the state of a device: a projector is neither on nor off while it changes.
func (r *Rack) power(d *Device) string {
	busy := r.now().Before(d.until)
	switch {
	case busy && d.on:
		return "WARM"
	case busy:
		return "COOL"
	case d.on:
		return "ON"
	}
	return "OFF"
}

// command carries out one line; the lock is held.
func (r *Rack) command(d *Device, line string) (answer string, changed bool) {
	verb, argument, _ := strings.Cut(line, " ")
	if asked, is := strings.CutSuffix(verb, "?"); is {
		return r.question(d, asked, argument), false
	}
	state := r.power(d)
	if state == "WARM" || state == "COOL" {
		return "ERR BUSY", false
	}
	if verb != "POW" && state == "OFF" {
		return "ERR OFF", false
	}
	number, err := strconv.Atoi(argument)
	whole := err == nil
	switch {
	case verb == "POW" && (argument == "ON" || argument == "OFF") && d.Model != "VM-8":
		on := argument == "ON"
		if on != d.on && d.Model == "VP-7" {
			d.until = r.now().Add(map[bool]time.Duration{true: warmUp, false: coolDown}[on])
		}
		d.on = on
		return "POW " + r.power(d), true
	case verb == "INP" && whole && number >= 1 && number <= 4 && (d.Model == "VP-7" || d.Model == "VA-2"):
		d.input = number
	case verb == "VOL" && whole && number >= 0 && number <= 80 && d.Model != "VP-7":
		d.volume = number
	case verb == "MUT" && (argument == "ON" || argument == "OFF") && d.Model != "VP-7":
		d.muted = argument == "ON"
	case verb == "PLY" && (argument == "PLAY" || argument == "PAUSE") && d.Model == "VL-1":
		d.playing = argument == "PLAY"
	case verb == "SAY" && argument != "" && d.Model == "VL-1":
		d.said, d.saidAt = argument, r.now()
	case verb == "FND" && d.Model == "VL-1":
		return r.play(d, argument)
	case verb == "NXT" && d.Model == "VL-1":
		d.track = (d.track + 1) % tracks
		return r.question(d, "TRK", ""), true
	case strings.HasPrefix(verb, "ZON") && whole && number >= 1 && number <= zones && d.Model == "VM-8":
		zone, err := strconv.Atoi(verb[3:])
		if err != nil || zone < 1 || zone > zones {
			return "ERR FORM", false
		}
		d.routes[zone-1] = number
		return r.question(d, verb, ""), true
	default:
		return "ERR FORM", false
	}
	return r.question(d, verb, ""), true
}

// play starts what is searched: "FND words", or "FND @volume words".
func (r *Rack) play(d *Device, argument string) (answer string, changed bool) {
	volume, words := d.volume, argument
	if at, rest, loud := strings.Cut(argument, " "); loud && strings.HasPrefix(at, "@") {
		n, err := strconv.Atoi(at[1:])
		if err != nil || n < 0 || n > 80 {
			return "ERR FORM", false
		}
		volume, words = n, rest
	}
	found, ok := find(words)
	if !ok {
		return "ERR NONE", false
	}
	d.track, d.volume, d.playing = found, volume, true
	return r.question(d, "TRK", "") + "\r\n" + r.question(d, "PLY", "") + "\r\n" + r.question(d, "VOL", ""), true
}

func (r *Rack) question(d *Device, about, _ string) string {
	word := map[bool]string{true: "ON", false: "OFF"}
	switch {
	case about == "POW":
		return "POW " + r.power(d)
	case about == "INP":
		return fmt.Sprintf("INP %d", d.input)
	case about == "VOL":
		return fmt.Sprintf("VOL %d", d.volume)
	case about == "MUT":
		return "MUT " + word[d.muted]
	case about == "PLY":
		return "PLY " + map[bool]string{true: "PLAY", false: "PAUSE"}[d.playing]
	case about == "SAY" && d.Model == "VL-1":
		return "SAY " + d.said
	case about == "TRK" && d.Model == "VL-1":
		return "TRK " + library[d.track].Title + " - " + library[d.track].By
	case strings.HasPrefix(about, "ZON") && d.Model == "VM-8":
		if zone, err := strconv.Atoi(about[3:]); err == nil && zone >= 1 && zone <= zones {
			return fmt.Sprintf("%s %d", about, d.routes[zone-1])
		}
	}
	return "ERR FORM"
}

// Next returns when a projector is next done with warming up or cooling down; it is false when none is at it.
func (r *Rack) Next() (time.Time, bool) {
	r.mu.Lock()
	defer r.mu.Unlock()
	var ends []time.Time
	for _, d := range r.devices {
		if d.until.After(r.now()) {
			ends = append(ends, d.until)
		}
	}
	if len(ends) == 0 {
		return time.Time{}, false
	}
	return slices.MinFunc(ends, time.Time.Compare), true
}

// Seen is what there is to see of a device.
type Seen struct{ Hardware, Model, Label, Spot, Says string }

// Seen returns what there is to see.
func (r *Rack) Seen() []Seen {
	r.mu.Lock()
	defer r.mu.Unlock()
	var seen []Seen
	for _, d := range r.devices {
		says := strings.ToLower(r.power(d))
		if d.Model == "VL-1" && d.playing {
			says = "plays " + library[d.track].Title
		}
		if d.said != "" {
			says += ", said “" + d.said + "” at " + d.saidAt.Format("15:04")
		}
		seen = append(seen, Seen{d.Hardware, d.Model, d.Label, d.Spot, says})
	}
	return seen
}

type saved struct {
	On     bool       `json:"on"`
	Input  int        `json:"input"`
	Volume int        `json:"volume"`
	Muted  bool       `json:"muted"`
	Routes [zones]int `json:"routes"`
	Track  int        `json:"track"`
}

// Save returns what the gear remembers without power.
func (r *Rack) Save() ([]byte, error) {
	r.mu.Lock()
	defer r.mu.Unlock()
	all := map[string]saved{}
	for _, d := range r.devices {
		all[d.Hardware] = saved{d.on, d.input, d.volume, d.muted, d.routes, d.track}
	}
	return json.Marshal(all)
}

// Restore takes what Save returned.
func (r *Rack) Restore(data []byte) error {
	var all map[string]saved
	if err := json.Unmarshal(data, &all); err != nil {
		return fmt.Errorf("reading the pretend Voxmere gear: %w", err)
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	for _, d := range r.devices {
		if was, ok := all[d.Hardware]; ok {
			d.on, d.input, d.volume, d.muted, d.routes, d.track = was.On, was.Input, was.Volume, was.Muted, was.Routes, was.Track
		}
	}
	return nil
}
