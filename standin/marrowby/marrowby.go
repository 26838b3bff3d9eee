// Package marrowby is a pretend maker: plugs, a heater, a kiln switch, an extractor and a
// power reader on the local network. They answer a question broadcast over UDP with their
// address, and speak one JSON object a line over TCP. After a restart of the router every
// one has another address. They use the maker's own units (tenths of a watt, watt hours,
// stages). It shares no code with the hub.
package marrowby

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net"
	"slices"
	"sync"
	"time"
)

// Device is a pretend device. What it draws and gives is in watts.
type Device struct {
	Hardware, Model, Label, Spot string

	on     bool
	stage  int    // of an extractor, 0 to 4
	run    string // of a heater: "h" heats, "c" cools, "a" is for it to say, "0" is neither
	watts  float64
	lux    float64 // of the lamp that is plugged into it, at the sensor of its room; 0 for none
	winds  string  // what its motor winds open while it is on, and shut else
	energy float64 // watt hours so far
	at     time.Time
	dead   bool // its plug is pulled
	blink  time.Time
	// back is what it does after a power cut: "last", "off" or "on"; mute says that its button does nothing.
	back string
	mute bool

	listener net.Listener
	sessions map[net.Conn]bool
}

func millDevices() []*Device {
	return []*Device{
		{Hardware: "mb-c4-12-a0", Model: "MP-1", Label: "MP-1 Plug C412A0", Spot: "Mill room", watts: 46, lux: 40},
		{Hardware: "mb-c4-12-a1", Model: "MP-1", Label: "MP-1 Plug C412A1", Spot: "Reading loft", watts: 18},
		{Hardware: "mb-c4-12-a2", Model: "MP-1", Label: "MP-1 Plug C412A2", Spot: "Wash house", watts: 410},
		{Hardware: "mb-c4-12-a3", Model: "MP-1", Label: "MP-1 Plug C412A3", Spot: "Weir", watts: 220, winds: "Weir gate"},
		{Hardware: "mb-c4-12-b0", Model: "MH-4", Label: "MH-4 Heater C412B0", Spot: "Glasshouse", watts: 1500},
		{Hardware: "mb-c4-12-c0", Model: "MK-9", Label: "MK-9 Heavy Switch C412C0", Spot: "Wheel room", watts: 6200},
		{Hardware: "mb-c4-12-d0", Model: "MX-2", Label: "MX-2 Air Mover C412D0", Spot: "Wheel room", watts: 85},
		{Hardware: "mb-c4-12-e0", Model: "MW-1", Label: "MW-1 Power Reader C412E0", Spot: "Hall", watts: 640},
	}
}

// firmware is what runs on the devices, by model.
var firmware = map[string]string{"MP-1": "4.11", "MH-4": "2.0", "MK-9": "1.7.3", "MX-2": "3.2", "MW-1": "1.0"}

// Network is the pretend local network with its devices.
type Network struct {
	mu      sync.Mutex
	now     func() time.Time
	devices []*Device
	udp     *net.UDPConn
	house   House
	changed func()
}

// House is what the devices act on.
type House interface {
	// Heat is told what heats a room.
	Heat(room string, kilowatt float64)
	// Wind is told what a motor winds open or shut.
	Wind(name string, open bool)
}

// New returns the devices, none of them on the network yet.
func New(now func() time.Time, house House, changed func()) *Network {
	n := &Network{now: now, devices: millDevices(), house: house, changed: changed}
	for _, d := range n.devices {
		d.at, d.sessions, d.back, d.run = now(), map[net.Conn]bool{}, "last", "h"
		d.on = d.Model == "MW-1"
	}
	return n
}

// Serve answers broadcast questions on a free UDP port and lets every device listen.
func (n *Network) Serve() error {
	udp, err := net.ListenUDP("udp4", &net.UDPAddr{})
	if err != nil {
		return fmt.Errorf("the pretend Marrowby devices cannot listen: %w", err)
	}
	n.udp = udp
	go n.answerQuestions()
	return n.Restart()
}

// Port is the UDP port at which the devices hear questions.
func (n *Network) Port() int { return n.udp.LocalAddr().(*net.UDPAddr).Port }

// Restart restarts the router: every device gets another address, and what was connected is cut off.
func (n *Network) Restart() error {
	n.mu.Lock()
	defer n.mu.Unlock()
	for _, d := range n.devices {
		fresh, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			return fmt.Errorf("a pretend Marrowby device cannot listen: %w", err)
		}
		d.hangUp()
		d.listener = fresh
		go n.accept(d, fresh)
	}
	return nil
}

// hangUp cuts a device off; the network's lock is held.
func (d *Device) hangUp() {
	if d.listener != nil {
		_ = d.listener.Close()
	}
	for c := range d.sessions {
		_ = c.Close()
	}
	d.sessions = map[net.Conn]bool{}
}

// Close takes all devices off the network.
func (n *Network) Close() error {
	n.mu.Lock()
	defer n.mu.Unlock()
	for _, d := range n.devices {
		d.hangUp()
	}
	return n.udp.Close()
}

func (n *Network) answerQuestions() {
	buffer := make([]byte, 512)
	for {
		size, from, err := n.udp.ReadFromUDP(buffer)
		if err != nil {
			return
		}
		var question struct {
			Who string `json:"who"`
		}
		if json.Unmarshal(buffer[:size], &question) != nil || question.Who != "marrowby" {
			continue
		}
		n.mu.Lock()
		for _, d := range n.devices {
			if d.dead {
				continue
			}
			answer, _ := json.Marshal(
				map[string]any{
					"maker":    "Marrowby",
					"model":    d.Model,
					"hardware": d.Hardware,
					"label":    d.Label,
					"firmware": firmware[d.Model],
					"port":     d.listener.Addr().(*net.TCPAddr).Port,
				},
			)
			_, _ = n.udp.WriteToUDP(answer, from)
		}
		n.mu.Unlock()
	}
}

func (n *Network) accept(d *Device, listener net.Listener) {
	for {
		c, err := listener.Accept()
		if err != nil {
			return
		}
		n.mu.Lock()
		if d.dead || d.listener != listener {
			_ = c.Close()
		} else {
			d.sessions[c] = true
			go n.serve(d, c)
		}
		n.mu.Unlock()
	}
}

type request struct {
	Get   int `json:"get"`
	Blink int `json:"blink"`
	Set   *struct {
		On    *bool   `json:"on"`
		Stage *int    `json:"stage"`
		Run   *string `json:"run"`
		// Back and Button set it up.
		Back   *string `json:"pc"`
		Button *bool   `json:"btn"`
	} `json:"set"`
}

func (n *Network) serve(d *Device, c net.Conn) {
	lines := bufio.NewScanner(c)
	lines.Buffer(nil, 4096)
	for lines.Scan() {
		var ask request
		if json.Unmarshal(lines.Bytes(), &ask) != nil {
			_ = say(c, map[string]any{"fault": "not understood"})
			continue
		}
		n.mu.Lock()
		fault := n.ask(d, ask)
		body := map[string]any{"state": d.state(n.now())}
		if fault != nil {
			body = map[string]any{"fault": fault.Error()}
		}
		_ = say(c, body)
		n.mu.Unlock()
		if ask.Set != nil || ask.Blink > 0 {
			n.tell(d, c)
		}
	}
	n.mu.Lock()
	delete(d.sessions, c)
	n.mu.Unlock()
	_ = c.Close()
}

func say(c net.Conn, body any) error {
	line, err := json.Marshal(body)
	if err != nil {
		return err
	}
	_ = c.SetWriteDeadline(time.Now().Add(time.Second))
	_, err = c.Write(append(line, '\n'))
	return err
}

// tell tells the other sessions of a device what is so now.
func (n *Network) tell(d *Device, but net.Conn) {
	n.mu.Lock()
	for c := range d.sessions {
		if c != but {
			_ = say(c, map[string]any{"state": d.state(n.now())})
		}
	}
	n.mu.Unlock()
	n.changed()
}

// ask carries out a request; the lock is held.
func (n *Network) ask(d *Device, r request) error {
	now := n.now()
	d.advance(now)
	if r.Blink > 0 {
		d.blink = now
	}
	if r.Set == nil {
		return nil
	}
	switch {
	case d.Model == "MW-1":
		return errors.New("nothing to switch")
	case r.Set.Stage != nil && (d.Model != "MX-2" || *r.Set.Stage < 0 || *r.Set.Stage > 4):
		return errors.New("no such stage")
	case r.Set.Run != nil && (d.Model != "MH-4" || programs[*r.Set.Run] == (program{})):
		return errors.New("no such program")
	case r.Set.Back != nil && !slices.Contains([]string{"last", "off", "on"}, *r.Set.Back):
		return errors.New("no such word for after a power cut")
	}
	if r.Set.Back != nil {
		d.back = *r.Set.Back
	}
	if r.Set.Button != nil {
		d.mute = !*r.Set.Button
	}
	if r.Set.Stage != nil {
		d.stage = *r.Set.Stage
		d.on = d.stage > 0
	}
	if r.Set.On != nil {
		d.on = *r.Set.On
	}
	if r.Set.Run != nil {
		d.run = *r.Set.Run
	}
	n.act(d)
	return nil
}

// program is what a heater does: by which share of its power it draws, and what it gives to the room.
type program struct{ draws, gives float64 }

// programs are those of a heater. A fan turns with each but the first; left to itself it heats gently.
var programs = map[string]program{"0": {0.001, 0}, "h": {1, 1}, "c": {0.5, -0.5}, "a": {0.4, 0.4}}

// act does to the house what a device does: it heats, or winds something open.
func (n *Network) act(d *Device) {
	switch {
	case d.winds != "":
		n.house.Wind(d.winds, d.on && !d.dead)
	case d.Model == "MK-9":
		n.house.Heat(d.Spot, d.draws()/1000)
	case d.Model == "MH-4" && (!d.on || d.dead):
		n.house.Heat(d.Spot, 0)
	case d.Model == "MH-4":
		n.house.Heat(d.Spot, d.watts/1000*programs[d.run].gives)
	}
}

// draws returns what the device draws now, in watts.
func (d *Device) draws() float64 {
	switch {
	case !d.on || d.dead:
		return 0
	case d.Model == "MX-2":
		return d.watts * float64(d.stage) / 4
	case d.Model == "MH-4":
		return d.watts * programs[d.run].draws
	}
	return d.watts
}

// advance adds up what it has drawn until now.
func (d *Device) advance(now time.Time) {
	if hours := now.Sub(d.at).Hours(); hours > 0 {
		d.energy += d.draws() * hours
	}
	d.at = now
}

// state is what the device says of itself, in the maker's units.
func (d *Device) state(now time.Time) map[string]any {
	d.advance(now)
	state := map[string]any{"dw": int(d.draws()*10 + 0.5), "wh": int(d.energy)}
	if d.Model != "MW-1" {
		state["on"], state["pc"], state["btn"] = d.on, d.back, !d.mute
	}
	switch d.Model {
	case "MX-2":
		state["stage"] = d.stage
	case "MH-4":
		state["run"] = d.run
	}
	return state
}

func (n *Network) find(hardware string) (*Device, error) {
	for _, d := range n.devices {
		if d.Hardware == hardware {
			return d, nil
		}
	}
	return nil, fmt.Errorf("there is no Marrowby device %q", hardware)
}

// PowerCut takes the power from all devices and gives it back; each does what it is set up to do then.
func (n *Network) PowerCut() {
	n.mu.Lock()
	for _, d := range n.devices {
		d.advance(n.now())
		if d.back != "last" && d.Model != "MW-1" {
			d.on = d.back == "on"
			if d.Model == "MX-2" {
				d.stage = map[bool]int{true: max(d.stage, 1), false: 0}[d.on]
			}
		}
		n.act(d)
	}
	n.mu.Unlock()
	for _, d := range n.devices {
		n.tell(d, nil)
	}
}

// Switch presses the button of a device.
func (n *Network) Switch(hardware string, on bool) error {
	n.mu.Lock()
	d, err := n.find(hardware)
	if err == nil && !d.mute {
		d.advance(n.now())
		d.on = on && d.Model != "MW-1" || d.Model == "MW-1"
		if d.Model == "MX-2" {
			d.stage = map[bool]int{true: 2, false: 0}[on]
		}
		n.act(d)
	}
	n.mu.Unlock()
	if err != nil {
		return err
	}
	n.tell(d, nil)
	return nil
}

// Pull pulls a device's plug, or puts it back.
func (n *Network) Pull(hardware string, pulled bool) error {
	n.mu.Lock()
	d, err := n.find(hardware)
	if err == nil {
		d.advance(n.now())
		d.dead = pulled
		if pulled {
			for c := range d.sessions {
				_ = c.Close()
			}
			d.sessions = map[net.Conn]bool{}
		}
		n.act(d)
	}
	n.mu.Unlock()
	if err != nil {
		return err
	}
	n.changed()
	return nil
}

// Measured lets the devices say what they draw now, as they do every few minutes. It reports whether any was listened to.
func (n *Network) Measured(context.Context) bool {
	n.mu.Lock()
	defer n.mu.Unlock()
	told := false
	for _, d := range n.devices {
		for c := range d.sessions {
			told = say(c, map[string]any{"state": d.state(n.now())}) == nil || told
		}
	}
	return told
}

// Seen is what there is to see of a device.
type Seen struct {
	Hardware, Model, Label, Spot string
	On, Pulled, Blinking, Lamp   bool
	Watts                        float64
}

// Light returns the light that lamps which are plugged in give at a room's sensor, in lux.
func (n *Network) Light(room string) (lux float64) {
	n.mu.Lock()
	defer n.mu.Unlock()
	for _, d := range n.devices {
		if d.Spot == room && d.on && !d.dead {
			lux += d.lux
		}
	}
	return lux
}

// Seen returns what there is to see of the devices.
func (n *Network) Seen() []Seen {
	n.mu.Lock()
	defer n.mu.Unlock()
	now := n.now()
	var seen []Seen
	for _, d := range n.devices {
		since := now.Sub(d.blink)
		seen = append(seen, Seen{d.Hardware, d.Model, d.Label, d.Spot, d.on, d.dead, !d.blink.IsZero() && since >= 0 && since < 3*time.Second, d.lux > 0, d.draws()})
	}
	return seen
}

type saved struct {
	On     bool      `json:"on"`
	Stage  int       `json:"stage"`
	Run    string    `json:"run"`
	Energy float64   `json:"energy"`
	At     time.Time `json:"at"`
	Pulled bool      `json:"pulled,omitempty"`
	Back   string    `json:"back"`
	Mute   bool      `json:"mute,omitempty"`
}

// Save returns what the devices remember without power.
func (n *Network) Save() ([]byte, error) {
	n.mu.Lock()
	defer n.mu.Unlock()
	all := map[string]saved{}
	for _, d := range n.devices {
		all[d.Hardware] = saved{d.on, d.stage, d.run, d.energy, d.at, d.dead, d.back, d.mute}
	}
	return json.Marshal(all)
}

// Restore takes what Save returned.
func (n *Network) Restore(data []byte) error {
	var all map[string]saved
	if err := json.Unmarshal(data, &all); err != nil {
		return fmt.Errorf("reading the pretend Marrowby devices: %w", err)
	}
	n.mu.Lock()
	defer n.mu.Unlock()
	for _, d := range n.devices {
		if was, ok := all[d.Hardware]; ok {
			d.on, d.stage, d.run, d.energy, d.at, d.dead, d.back, d.mute = was.On, was.Stage, was.Run, was.Energy, was.At, was.Pulled, was.Back, was.Mute
			n.act(d)
		}
	}
	return nil
}
