// Package penrook is a pretend maker: locks, thermostats, a floor robot and cameras, each
// with a W3C Thing Description of its own, listed in a directory that multicast DNS tells of.
// They take one to three seconds to act, answer before they have acted, and the bolt of one
// lock sometimes jams. Everything but the descriptions wants a code that is printed on the
// maker's box. It shares no code with the hub.
package penrook

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log"
	"math"
	"net"
	"net/http"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/hashicorp/mdns"
)

// Code is what is printed on the box.
const Code = "weir-4417"

const (
	fastest, slowest = time.Second, 3 * time.Second
	maximumBody      = 1024
	longestPoll      = 25 * time.Second
)

// Device is a pretend device.
type Device struct {
	ID, Kind, Title, Spot string

	values  map[string]any // what is really so
	version int
	changed chan struct{} // closed whenever something changes
	jammed  bool
}

// Box is the maker's box with its devices.
type Box struct {
	mu       sync.Mutex
	now      func() time.Time
	warmth   func(room string) float64
	devices  []*Device
	listener net.Listener
	server   *http.Server
	mdns     *mdns.Server
	stirred  func()
	count    int
	done     chan struct{}
	acting   sync.WaitGroup
}

// New returns the box; warmth says how warm a room is.
func New(now func() time.Time, warmth func(room string) float64, stirred func()) *Box {
	b := &Box{now: now, warmth: warmth, stirred: stirred, done: make(chan struct{})}
	add := func(id, kind, title, spot string, values map[string]any) {
		b.devices = append(b.devices, &Device{ID: id, Kind: kind, Title: title, Spot: spot, values: values, changed: make(chan struct{})})
	}
	add("lock-1", "lock", "Penrook L5 Lock 1", "Hall", map[string]any{"locked": true, "battery": 84.0})
	add("lock-2", "lock", "Penrook L5 Lock 2", "Boat shed", map[string]any{"locked": true, "battery": 61.0})
	for i, room := range []string{"Mill room", "East room", "West room"} {
		add(fmt.Sprintf("thermostat-%d", i+1), "thermostat", fmt.Sprintf("Penrook T3 Thermostat %d", i+1), room, map[string]any{"target": 19.0, "mode": "heat"})
	}
	add("robot-1", "robot", "Penrook R1 Floor Robot", "Mill room", map[string]any{"doing": "docked", "battery": 100.0})
	add("blind-1", "blind", "Penrook B6 Slatted Blind 1", "Glasshouse", map[string]any{"position": 100.0, "tilt": 0.0})
	add("camera-1", "camera", "Penrook C2 Camera 1", "Yard", map[string]any{"recording": false})
	add("camera-2", "camera", "Penrook C2 Camera 2", "Weir", map[string]any{"recording": false})
	return b
}

// Serve listens on a loopback address and tells of itself in a domain of multicast DNS.
func (b *Box) Serve(address, domain string) error {
	listener, err := net.Listen("tcp", address)
	if err != nil {
		return fmt.Errorf("the pretend Penrook box cannot listen: %w", err)
	}
	b.listener = listener
	mux := http.NewServeMux()
	mux.HandleFunc("GET /things", b.list)
	mux.HandleFunc("GET /things/{id}", b.describe)
	mux.HandleFunc("GET /d/{id}/{name}", b.withCode(b.read))
	mux.HandleFunc("GET /d/{id}/{name}/changes", b.withCode(b.observe))
	mux.HandleFunc("PUT /d/{id}/{name}", b.withCode(b.write))
	mux.HandleFunc("POST /d/{id}/do/{action}", b.withCode(b.invoke))
	b.server = &http.Server{Handler: mux, ReadHeaderTimeout: 5 * time.Second}
	go func() { _ = b.server.Serve(listener) }()
	if domain == "" {
		return nil
	}
	return b.tell(domain)
}

// tell offers the directory by multicast DNS. Without multicast nobody finds it by itself.
func (b *Box) tell(domain string) error {
	port := b.listener.Addr().(*net.TCPAddr).Port
	loopback, err := net.InterfaceByName("lo")
	if err != nil {
		return nil
	}
	service, err := mdns.NewMDNSService(
		"Penrook box",
		"_wot._tcp",
		domain+".",
		"penrook."+domain+".",
		port,
		[]net.IP{net.IPv4(127, 0, 0, 1)},
		[]string{"td=/things", "type=Directory", "scheme=http"},
	)
	if err != nil {
		return fmt.Errorf("the pretend Penrook box cannot tell of itself: %w", err)
	}
	if b.mdns, err = mdns.NewServer(&mdns.Config{Zone: service, Iface: loopback, Logger: log.New(io.Discard, "", 0)}); err != nil {
		b.mdns = nil
	}
	return nil
}

// Address returns host and port.
func (b *Box) Address() string { return b.listener.Addr().String() }

// Close stops the box.
func (b *Box) Close(ctx context.Context) error {
	close(b.done)
	if b.mdns != nil {
		_ = b.mdns.Shutdown()
	}
	err := b.server.Shutdown(ctx)
	b.acting.Wait()
	return err
}

func answer(w http.ResponseWriter, status int, body any) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(body)
}

func problem(w http.ResponseWriter, status int, detail string) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(map[string]any{"status": status, "detail": detail})
}

func (b *Box) withCode(next http.HandlerFunc) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		if r.Header.Get("Authorization") != "Bearer "+Code {
			problem(w, http.StatusUnauthorized, "The code is wrong.")
			return
		}
		next(w, r)
	}
}

func (b *Box) find(id string) *Device {
	for _, d := range b.devices {
		if d.ID == id {
			return d
		}
	}
	return nil
}

func (b *Box) list(w http.ResponseWriter, _ *http.Request) {
	all := []map[string]any{}
	for _, d := range b.devices {
		all = append(all, b.description(d))
	}
	answer(w, http.StatusOK, all)
}

func (b *Box) describe(w http.ResponseWriter, r *http.Request) {
	d := b.find(r.PathValue("id"))
	if d == nil {
		problem(w, http.StatusNotFound, "There is no such thing.")
		return
	}
	w.Header().Set("Content-Type", "application/td+json")
	_ = json.NewEncoder(w).Encode(b.description(d))
}

// value returns what is so, measured where it is measured; the lock is held.
func (b *Box) value(d *Device, name string) (any, bool) {
	if d.Kind == "thermostat" && name == "temperature" {
		return math.Round(b.warmth(d.Spot)*10) / 10, true
	}
	v, there := d.values[name]
	return v, there
}

func (b *Box) read(w http.ResponseWriter, r *http.Request) {
	b.mu.Lock()
	defer b.mu.Unlock()
	d := b.find(r.PathValue("id"))
	if d == nil {
		problem(w, http.StatusNotFound, "There is no such thing.")
		return
	}
	if d.Kind == "camera" && r.PathValue("name") == "picture" {
		b.picture(w, d)
		return
	}
	v, there := b.value(d, r.PathValue("name"))
	if !there {
		problem(w, http.StatusNotFound, "There is no such property.")
		return
	}
	answer(w, http.StatusOK, v)
}

// observe answers as soon as the property is another than when it was asked.
func (b *Box) observe(w http.ResponseWriter, r *http.Request) {
	b.mu.Lock()
	d := b.find(r.PathValue("id"))
	if d == nil {
		b.mu.Unlock()
		problem(w, http.StatusNotFound, "There is no such thing.")
		return
	}
	name := r.PathValue("name")
	before, _ := b.value(d, name)
	limit := time.NewTimer(longestPoll)
	defer limit.Stop()
	for {
		changed := d.changed
		b.mu.Unlock()
		select {
		case <-changed:
		case <-limit.C:
			w.WriteHeader(http.StatusNoContent)
			return
		case <-r.Context().Done():
			return
		case <-b.done:
			w.WriteHeader(http.StatusServiceUnavailable)
			return
		}
		b.mu.Lock()
		if now, _ := b.value(d, name); now != before {
			b.mu.Unlock()
			answer(w, http.StatusOK, now)
			return
		}
	}
}

func (b *Box) write(w http.ResponseWriter, r *http.Request) {
	var wanted any
	if err := json.NewDecoder(io.LimitReader(r.Body, maximumBody)).Decode(&wanted); err != nil {
		problem(w, http.StatusBadRequest, "The value is not JSON.")
		return
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	d, name := b.find(r.PathValue("id")), r.PathValue("name")
	if d == nil {
		problem(w, http.StatusNotFound, "There is no such thing.")
		return
	}
	if err := fits(d, name, wanted); err != nil {
		problem(w, http.StatusBadRequest, err.Error())
		return
	}
	w.WriteHeader(http.StatusNoContent) // answered before anything was done
	b.later(func() {
		if name == "locked" && d.jammed {
			return // the motor turns, the bolt does not
		}
		d.values[name] = wanted
	}, d)
}

func fits(d *Device, name string, wanted any) error {
	switch d.Kind + " " + name {
	case "lock locked", "camera recording":
		if _, ok := wanted.(bool); ok {
			return nil
		}
	case "thermostat target":
		if n, ok := wanted.(float64); ok && n >= 5 && n <= 30 {
			return nil
		}
	case "blind position", "blind tilt":
		if n, ok := wanted.(float64); ok && n >= 0 && n <= 100 {
			return nil
		}
	case "thermostat mode":
		if wanted == "heat" || wanted == "off" || wanted == "auto" {
			return nil
		}
	default:
		return errors.New("the property cannot be written")
	}
	return errors.New("the value does not fit")
}

// later does something after the time that the device needs; the lock is held now and while it is done.
func (b *Box) later(do func(), d *Device) {
	b.count++
	takes := fastest + time.Duration(b.count*7919%1000)*(slowest-fastest)/1000
	b.acting.Go(func() {
		select {
		case <-time.After(takes):
		case <-b.done:
			return
		}
		b.mu.Lock()
		do()
		d.bump()
		b.mu.Unlock()
		b.stirred()
	})
}

func (d *Device) bump() {
	d.version++
	close(d.changed)
	d.changed = make(chan struct{})
}

func (b *Box) invoke(w http.ResponseWriter, r *http.Request) {
	b.mu.Lock()
	defer b.mu.Unlock()
	d, action := b.find(r.PathValue("id")), r.PathValue("action")
	doing := map[string]string{"start": "cleaning", "dock": "docked"}[action]
	if d == nil || d.Kind != "robot" || doing == "" {
		problem(w, http.StatusNotFound, "There is no such action.")
		return
	}
	w.WriteHeader(http.StatusNoContent)
	b.later(func() { d.values["doing"] = doing }, d)
}

// Jam lets the bolt of a lock jam, or frees it.
func (b *Box) Jam(id string, jammed bool) error {
	b.mu.Lock()
	defer b.mu.Unlock()
	d := b.find(id)
	if d == nil || d.Kind != "lock" {
		return fmt.Errorf("there is no lock %q", id)
	}
	d.jammed = jammed
	go b.stirred()
	return nil
}

// Turn turns a lock's key by hand.
func (b *Box) Turn(id string, locked bool) error {
	b.mu.Lock()
	defer b.mu.Unlock()
	d := b.find(id)
	if d == nil || d.Kind != "lock" {
		return fmt.Errorf("there is no lock %q", id)
	}
	if !d.jammed {
		d.values["locked"] = locked
		d.bump()
	}
	go b.stirred()
	return nil
}

// Seen is what there is to see of a device.
type Seen struct {
	ID, Kind, Title, Spot, Says string
	Locked, Jammed              bool
}

// Seen returns what there is to see.
func (b *Box) Seen() []Seen {
	b.mu.Lock()
	defer b.mu.Unlock()
	var seen []Seen
	for _, d := range b.devices {
		locked, _ := d.values["locked"].(bool)
		says := ""
		switch d.Kind {
		case "robot":
			says, _ = d.values["doing"].(string)
		case "thermostat":
			says = fmt.Sprintf("%v °C wanted", d.values["target"])
		case "camera":
			says = map[bool]string{true: "recording", false: "idle"}[d.values["recording"] == true]
		}
		seen = append(seen, Seen{d.ID, d.Kind, d.Title, d.Spot, says, locked, d.jammed})
	}
	return seen
}

// Save returns what the devices remember.
func (b *Box) Save() ([]byte, error) {
	b.mu.Lock()
	defer b.mu.Unlock()
	all := map[string]map[string]any{}
	for _, d := range b.devices {
		all[d.ID] = d.values
	}
	return json.Marshal(all)
}

// Restore takes what Save returned.
func (b *Box) Restore(data []byte) error {
	var all map[string]map[string]any
	if err := json.Unmarshal(data, &all); err != nil {
		return fmt.Errorf("reading the pretend Penrook devices: %w", err)
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	for _, d := range b.devices {
		for name := range d.values {
			if was, there := all[d.ID][name]; there {
				d.values[name] = was
			}
		}
	}
	return nil
}

// description is the device's Thing Description, with relative forms.
func (b *Box) description(d *Device) map[string]any {
	property := func(name, title, kind string, more map[string]any) map[string]any {
		at := "/d/" + d.ID + "/" + name
		p := map[string]any{"title": title, "type": kind, "observable": true, "forms": []any{
			map[string]any{"href": at, "op": []string{"readproperty", "writeproperty"}, "contentType": "application/json"},
			map[string]any{"href": at + "/changes", "op": "observeproperty", "subprotocol": "longpoll"},
		}}
		for k, v := range more {
			p[k] = v
		}
		if p["readOnly"] == true {
			p["forms"].([]any)[0].(map[string]any)["op"] = "readproperty"
		}
		return p
	}
	battery := property("battery", "Battery", "number", map[string]any{"unit": "%", "minimum": 0, "maximum": 100, "readOnly": true})
	properties, actions := map[string]any{}, map[string]any{}
	switch d.Kind {
	case "lock":
		properties["locked"] = property("locked", "Locked", "boolean", nil)
		properties["battery"] = battery
	case "thermostat":
		properties["temperature"] = property(
			"temperature",
			"Temperature",
			"number",
			map[string]any{"unit": "°C", "minimum": -20, "maximum": 60, "readOnly": true},
		)
		properties["target"] = property("target", "Set temperature", "number", map[string]any{"unit": "°C", "minimum": 5, "maximum": 30, "multipleOf": 0.5})
		properties["mode"] = property("mode", "Mode", "string", map[string]any{"enum": []string{"heat", "off", "auto"}})
	case "robot":
		properties["doing"] = property("doing", "Doing", "string", map[string]any{"readOnly": true})
		properties["battery"] = battery
		for action, title := range map[string]string{"start": "Start cleaning", "dock": "Go to the dock"} {
			actions[action] = map[string]any{
				"title": title,
				"forms": []any{map[string]any{"href": "/d/" + d.ID + "/do/" + action, "contentType": "application/json"}},
			}
		}
	case "blind":
		percent := map[string]any{"unit": "%", "minimum": 0, "maximum": 100}
		properties["position"] = property("position", "Position", "number", percent)
		properties["tilt"] = property("tilt", "Tilt of the slats", "number", percent)
	case "camera":
		properties["recording"] = property("recording", "Recording", "boolean", nil)
		properties["picture"] = map[string]any{
			"title":    "Picture",
			"readOnly": true,
			"forms":    []any{map[string]any{"href": "/d/" + d.ID + "/picture", "op": "readproperty", "contentType": "image/svg+xml"}},
		}
		properties["stream"] = map[string]any{
			"title":    "Moving picture",
			"type":     "string",
			"readOnly": true,
			"forms":    []any{map[string]any{"href": "rtsp://" + strings.Split(b.Address(), ":")[0] + ":554/" + d.ID, "op": "readproperty"}},
		}
	}
	return map[string]any{
		"@context": "https://www.w3.org/2022/wot/td/v1.1", "id": "urn:penrook:" + d.ID, "title": d.Title,
		"base": "http://" + b.Address(), "schema:manufacturer": "Penrook",
		"version":  map[string]any{"instance": "6.1." + strconv.Itoa(len(d.Kind))},
		"security": "code", "securityDefinitions": map[string]any{"code": map[string]any{"scheme": "bearer", "in": "header", "name": "Authorization"}},
		"properties": properties, "actions": actions,
	}
}
