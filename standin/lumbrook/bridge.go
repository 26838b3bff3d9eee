// Package lumbrook is a pretend maker: lamps, button plates and a remote behind a bridge
// that speaks JSON over HTTP, with an optional event stream. The bridge hands out a key within
// 30 s of its button being pressed, uses the maker's own units (level 1 to 250, mireds, x/y),
// gives its devices long meaningless names and its own rooms and groups, acts on its plates by
// itself unless told to leave that to others, and now and then reports an old state. It shares
// no code with the hub.
package lumbrook

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"strings"
	"sync"
	"time"
)

// PressWindow is how long after a press of its button the bridge hands out keys.
const PressWindow = 30 * time.Second

const (
	maximumBody = 8 << 10
	staleEvery  = 5 // every so many commands the next poll still shows the old state
)

// Lamp is one lamp as the bridge knows it.
type Lamp struct {
	ID       string      `json:"-"`
	Label    string      `json:"label"`
	Kind     string      `json:"kind"`
	Hardware string      `json:"hardware"`
	Room     string      `json:"room"`
	Firmware string      `json:"firmware"`
	Lit      bool        `json:"lit"`
	Level    int         `json:"level,omitempty"`
	Mired    int         `json:"mired,omitempty"`
	Chroma   *[2]float64 `json:"chroma,omitempty"`
	// Floor is the least level it is driven at, Soft how long it fades by itself in tenths of a second, and Back what it
	// does after a power cut: "last", "off" or "on".
	Floor int    `json:"floor"`
	Soft  int    `json:"soft"`
	Back  string `json:"back"`
	// Output is how a dimmer drives what is wired to it: "trailing" or "leading" edge, or "switched" on and off.
	Output string `json:"output,omitempty"`
	// Self is what a color lamp does by itself: "none", "candle" or "embers".
	Self string `json:"self,omitempty"`

	// Steady is the least level at which this very lamp does not flicker.
	Steady int `json:"-"`
	// Place is the room of the pretend house it hangs in, and Lux what it gives its sensor at full level.
	Place string  `json:"-"`
	Lux   float64 `json:"-"`
	// fading
	from    float64
	began   time.Time
	over    time.Duration
	old     *Lamp
	lie     *Lamp // what the bridge says of it, whatever is true
	blinked time.Time
}

// Bridge is the pretend bridge. Make one with [New], then Serve it.
type Bridge struct {
	mu        sync.Mutex
	now       func() time.Time
	lamps     []*Lamp
	plates    []*Plate
	keys      map[string]string
	pressed   time.Time
	commands  int
	taken     int       // requests that changed lamps, frames among them
	framed    time.Time // when it last took a frame, by the machine's clock
	unplug    bool
	listeners map[chan string]bool // open event streams
	changed   func()
	server    *http.Server
	address   string
}

// New returns a bridge with its devices. Now is the pretend house's clock; changed is called after every change.
func New(now func() time.Time, changed func()) *Bridge {
	return &Bridge{now: now, changed: changed, keys: map[string]string{}, listeners: map[chan string]bool{}, lamps: millLamps(), plates: millPlates()}
}

// Serve listens on a loopback address such as 127.0.0.1:0 until Close.
func (b *Bridge) Serve(address string) error {
	listener, err := net.Listen("tcp", address)
	if err != nil {
		return fmt.Errorf("the pretend Lumbrook bridge cannot listen: %w", err)
	}
	b.address = listener.Addr().String()
	mux := http.NewServeMux()
	mux.HandleFunc("GET /lumbrook/about", b.about)
	mux.HandleFunc("POST /lumbrook/keys", b.giveKey)
	mux.HandleFunc("GET /lumbrook/lamps", b.withKey(b.list))
	mux.HandleFunc("PUT /lumbrook/lamps/{id}", b.withKey(b.put))
	mux.HandleFunc("PUT /lumbrook/frame", b.withKey(b.putFrame))
	mux.HandleFunc("POST /lumbrook/lamps/{id}/blink", b.withKey(b.blink))
	mux.HandleFunc("GET /lumbrook/plates", b.withKey(b.listPlates))
	mux.HandleFunc("PUT /lumbrook/plates/{id}", b.withKey(b.putPlate))
	mux.HandleFunc("GET /lumbrook/groups", b.withKey(b.listGroups))
	mux.HandleFunc("PUT /lumbrook/groups/{id}", b.withKey(b.putGroup))
	mux.HandleFunc("GET /lumbrook/stream", b.withKey(b.stream))
	b.server = &http.Server{Handler: b.plugged(mux), ReadHeaderTimeout: 5 * time.Second}
	go func() { _ = b.server.Serve(listener) }()
	return nil
}

// Address returns host and port.
func (b *Bridge) Address() string { return b.address }

// Close stops the bridge.
func (b *Bridge) Close(ctx context.Context) error {
	b.hangUp()
	return b.server.Shutdown(ctx)
}

func answer(w http.ResponseWriter, status int, body any) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(body)
}

func fault(w http.ResponseWriter, status int, word string) {
	answer(w, status, map[string]string{"fault": word})
}

// plugged drops every connection without an answer while the bridge's network is cut.
func (b *Bridge) plugged(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		b.mu.Lock()
		cut := b.unplug
		b.mu.Unlock()
		if cut {
			if hijacker, ok := w.(http.Hijacker); ok {
				if c, _, err := hijacker.Hijack(); err == nil {
					_ = c.Close()
					return
				}
			}
		}
		next.ServeHTTP(w, r)
	})
}

func (b *Bridge) about(w http.ResponseWriter, _ *http.Request) {
	answer(w, http.StatusOK, map[string]string{"maker": "Lumbrook", "model": "LB2", "serial": "LB2-005A31", "firmware": "1.4.2", "label": "Lumbrook bridge"})
}

func (b *Bridge) giveKey(w http.ResponseWriter, r *http.Request) {
	b.mu.Lock()
	defer b.mu.Unlock()
	since := b.now().Sub(b.pressed)
	if b.pressed.IsZero() || since > PressWindow || since < 0 {
		fault(w, http.StatusForbidden, "press-button")
		return
	}
	var body struct {
		For string `json:"for"`
	}
	if err := json.NewDecoder(io.LimitReader(r.Body, maximumBody)).Decode(&body); err != nil || body.For == "" {
		fault(w, http.StatusBadRequest, "say-who")
		return
	}
	raw := make([]byte, 16)
	_, _ = rand.Read(raw)
	key := hex.EncodeToString(raw)
	b.keys[key] = body.For
	b.pressed = time.Time{}
	go b.changed()
	answer(w, http.StatusOK, map[string]string{"key": key})
}

func (b *Bridge) withKey(next http.HandlerFunc) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		b.mu.Lock()
		_, known := b.keys[r.Header.Get("Lumbrook-Key")]
		b.mu.Unlock()
		if !known {
			fault(w, http.StatusUnauthorized, "bad-key")
			return
		}
		next(w, r)
	}
}

func (b *Bridge) list(w http.ResponseWriter, _ *http.Request) {
	b.mu.Lock()
	lamps := map[string]Lamp{}
	for _, l := range b.lamps {
		shown := *l
		shown.Level = int(l.level(b.now()) + 0.5)
		if l.old != nil {
			shown, l.old = *l.old, nil
		}
		if l.lie != nil {
			shown = *l.lie
		}
		lamps[l.ID] = shown
	}
	b.mu.Unlock()
	answer(w, http.StatusOK, map[string]any{"lamps": lamps})
}

// level is the lamp's level at a moment, on the way while it fades.
func (l *Lamp) level(now time.Time) float64 {
	target := float64(l.Level)
	if !l.Lit {
		return target
	}
	passed := now.Sub(l.began)
	if l.over <= 0 || passed >= l.over || passed < 0 {
		return target
	}
	return l.from + (target-l.from)*float64(passed)/float64(l.over)
}

func (b *Bridge) lamp(id string) *Lamp {
	for _, l := range b.lamps {
		if l.ID == id {
			return l
		}
	}
	return nil
}

// Taken is how many requests it has taken that changed lamps, a frame of many being one.
func (b *Bridge) Taken() int {
	b.mu.Lock()
	defer b.mu.Unlock()
	return b.taken
}

// Press presses the bridge's button.
func (b *Bridge) Press() {
	b.mu.Lock()
	b.pressed = b.now()
	b.mu.Unlock()
	b.changed()
}

// Cut cuts the bridge's network, or mends it.
func (b *Bridge) Cut(cut bool) {
	b.mu.Lock()
	b.unplug = cut
	b.mu.Unlock()
	if cut {
		b.hangUp()
	}
	b.changed()
}

// Lie lets the bridge say of a lamp, until it is told otherwise, that it is as it is now.
func (b *Bridge) Lie(id string, lie bool) error {
	b.mu.Lock()
	l := b.lamp(id)
	if l != nil {
		l.lie = nil
		if lie {
			said := *l
			l.lie = &said
		}
	}
	b.mu.Unlock()
	if l == nil {
		return errUnknownLamp
	}
	b.changed()
	return nil
}

// FromApp changes a lamp as the maker's own app does.
func (b *Bridge) FromApp(id string, c Change) error {
	return b.change(id, c)
}

// Seen is what there is to see of a lamp and its bridge.
type Seen struct {
	ID, Label, Kind, Place string
	Lit                    bool
	Level                  float64 // 0 to 1
	Mired                  int
	Chroma                 *[2]float64
	Blinking               bool
	Lying                  bool // whether the bridge says something else of it
	Flickering             bool // whether it is driven lower than it can be
}

// Seen returns what there is to see of the lamps at this moment.
func (b *Bridge) Seen() (lamps []Seen, pressed, cut bool) {
	b.mu.Lock()
	defer b.mu.Unlock()
	now := b.now()
	for _, l := range b.lamps {
		s := Seen{ID: l.ID, Label: l.Label, Kind: l.Kind, Place: l.Place, Lit: l.Lit, Mired: l.Mired, Chroma: l.Chroma, Lying: l.lie != nil}
		if l.Lit {
			s.Level = 1
			if l.Kind != "switch" {
				s.Level = l.driven(now) / 250
				s.Flickering = l.driven(now) < l.steady()
			}
		}
		since := now.Sub(l.blinked)
		s.Blinking = !l.blinked.IsZero() && since >= 0 && since < 3*time.Second
		lamps = append(lamps, s)
	}
	since := now.Sub(b.pressed)
	return lamps, !b.pressed.IsZero() && since >= 0 && since <= PressWindow, b.unplug
}

// Next returns when the next fade ends; it is false when none is under way.
func (b *Bridge) Next() (time.Time, bool) {
	b.mu.Lock()
	defer b.mu.Unlock()
	now, next := b.now(), time.Time{}
	for _, l := range b.lamps {
		if end := l.began.Add(l.over); l.over > 0 && end.After(now) && (next.IsZero() || end.Before(next)) {
			next = end
		}
	}
	return next, !next.IsZero()
}

// Light returns the light that the lamps give at a room's sensor, in lux.
func (b *Bridge) Light(place string) float64 {
	b.mu.Lock()
	defer b.mu.Unlock()
	lux := 0.0
	for _, l := range b.lamps {
		if l.Place == place && l.Lit {
			share := 1.0
			if l.Kind != "switch" {
				share = l.driven(b.now()) / 250
			}
			lux += l.Lux * share
		}
	}
	return lux
}

type saved struct {
	Keys   map[string]string `json:"keys"`
	Lamps  map[string]Lamp   `json:"lamps"`
	Plates map[string]Plate  `json:"plates"`
}

// Save returns what the bridge remembers when it loses power.
func (b *Bridge) Save() ([]byte, error) {
	b.mu.Lock()
	defer b.mu.Unlock()
	s := saved{Keys: b.keys, Lamps: map[string]Lamp{}, Plates: map[string]Plate{}}
	for _, p := range b.plates {
		s.Plates[p.ID] = *p
	}
	for _, l := range b.lamps {
		s.Lamps[l.ID] = *l
	}
	return json.Marshal(s)
}

// Restore takes what Save returned.
func (b *Bridge) Restore(data []byte) error {
	var s saved
	if err := json.Unmarshal(data, &s); err != nil {
		return fmt.Errorf("reading the pretend Lumbrook bridge: %w", err)
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	if s.Keys != nil {
		b.keys = s.Keys
	}
	for _, l := range b.lamps {
		if was, ok := s.Lamps[l.ID]; ok && strings.EqualFold(was.Kind, l.Kind) {
			l.Lit, l.Level, l.Mired, l.Chroma = was.Lit, was.Level, was.Mired, was.Chroma
			l.Floor, l.Soft, l.Back = was.Floor, was.Soft, was.Back
			if was.Output != "" {
				l.Output = was.Output
			}
			if was.Self != "" {
				l.Self = was.Self
			}
		}
	}
	for _, p := range b.plates {
		if was, ok := s.Plates[p.ID]; ok {
			p.Count, p.Acts = was.Count, was.Acts
		}
	}
	return nil
}
