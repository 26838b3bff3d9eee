package lumbrook

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"slices"
)

// Plate is a plate of four buttons, or a remote, as the bridge knows it.
type Plate struct {
	ID       string `json:"-"`
	Label    string `json:"label"`
	Kind     string `json:"kind"`
	Hardware string `json:"hardware"`
	Room     string `json:"room"`
	// Acts says who acts on a press: "bridge" (it switches a lamp by itself) or "client".
	Acts string `json:"acts"`
	// Count is of all its presses so far, Button and Gesture are of the last.
	Count   int    `json:"count"`
	Button  int    `json:"button,omitempty"`
	Gesture string `json:"gesture,omitempty"`

	Place string `json:"-"`
	lamp  string // the lamp that the bridge switches with it
}

// gestures a button knows.
var gestures = []string{"press", "double", "hold", "release"}

func (b *Bridge) listPlates(w http.ResponseWriter, _ *http.Request) {
	b.mu.Lock()
	plates := map[string]Plate{}
	for _, p := range b.plates {
		plates[p.ID] = *p
	}
	b.mu.Unlock()
	answer(w, http.StatusOK, map[string]any{"plates": plates})
}

func (b *Bridge) putPlate(w http.ResponseWriter, r *http.Request) {
	var body struct {
		Acts string `json:"acts"`
	}
	err := json.NewDecoder(io.LimitReader(r.Body, maximumBody)).Decode(&body)
	if err != nil || (body.Acts != "bridge" && body.Acts != "client") {
		fault(w, http.StatusBadRequest, "not-understood")
		return
	}
	b.mu.Lock()
	p := b.plate(r.PathValue("id"))
	if p != nil {
		p.Acts = body.Acts
		b.tell(`{"plate":"` + p.ID + `"}`)
	}
	b.mu.Unlock()
	if p == nil {
		fault(w, http.StatusNotFound, "no-such-plate")
		return
	}
	w.WriteHeader(http.StatusNoContent)
}

// plate finds a plate; b.mu is held.
func (b *Bridge) plate(id string) *Plate {
	for _, p := range b.plates {
		if p.ID == id {
			return p
		}
	}
	return nil
}

// PressButton does a gesture at a button, from 1, of a plate.
func (b *Bridge) PressButton(plate string, button int, gesture string) error {
	b.mu.Lock()
	p := b.plate(plate)
	if p == nil || button < 1 || button > 4 || !slices.Contains(gestures, gesture) {
		b.mu.Unlock()
		return errors.New("no-such-button")
	}
	p.Count++
	p.Button, p.Gesture = button, gesture
	b.tell(fmt.Sprintf(`{"plate":%q,"count":%d,"button":%d,"gesture":%q}`, p.ID, p.Count, button, gesture))
	acts, lamp := p.Acts == "bridge" && gesture == "press", b.lamp(p.lamp)
	lit := lamp != nil && lamp.Lit
	b.mu.Unlock()
	if acts && lamp != nil {
		on := !lit
		return b.change(lamp.ID, Change{Lit: &on})
	}
	return nil
}

// PressNear presses the first button of the plate in a room, where there is one.
func (b *Bridge) PressNear(place string) {
	b.mu.Lock()
	id := ""
	for _, p := range b.plates {
		if p.Kind == "plate" && p.Place == place {
			id = p.ID
		}
	}
	b.mu.Unlock()
	if id != "" {
		_ = b.PressButton(id, 1, "press") // it is there
	}
}

func (b *Bridge) listGroups(w http.ResponseWriter, _ *http.Request) {
	answer(w, http.StatusOK, map[string]any{"groups": groups})
}

func (b *Bridge) putGroup(w http.ResponseWriter, r *http.Request) {
	var c Change
	if err := json.NewDecoder(io.LimitReader(r.Body, maximumBody)).Decode(&c); err != nil {
		fault(w, http.StatusBadRequest, "not-understood")
		return
	}
	if err := b.GroupFromApp(r.PathValue("id"), c); err != nil {
		fault(w, http.StatusNotFound, err.Error())
		return
	}
	w.WriteHeader(http.StatusNoContent)
}

// GroupFromApp changes all lamps of one of the bridge's groups, as the maker's own app does.
func (b *Bridge) GroupFromApp(id string, c Change) error {
	group, known := groups[id]
	if !known {
		return errors.New("no-such-group")
	}
	for _, lamp := range group.Lamps {
		if err := b.change(lamp, c); err != nil {
			return err
		}
	}
	return nil
}

// tell tells every open event stream; b.mu is held.
func (b *Bridge) tell(event string) {
	for l := range b.listeners {
		select {
		case l <- event:
		default: // a listener that does not listen misses it, and finds it at its next poll
		}
	}
	go b.changed()
}

// hangUp ends all event streams.
func (b *Bridge) hangUp() {
	b.mu.Lock()
	defer b.mu.Unlock()
	for l := range b.listeners {
		delete(b.listeners, l)
		close(l)
	}
}

// stream tells what changes, as it changes (WHATWG HTML §9.2, server-sent events).
func (b *Bridge) stream(w http.ResponseWriter, r *http.Request) {
	const waiting = 64
	events := make(chan string, waiting)
	b.mu.Lock()
	b.listeners[events] = true
	b.mu.Unlock()
	defer func() {
		b.mu.Lock()
		delete(b.listeners, events)
		b.mu.Unlock()
	}()
	w.Header().Set("Content-Type", "text/event-stream")
	controller := http.NewResponseController(w)
	_, _ = io.WriteString(w, ": here\n\n")
	if controller.Flush() != nil {
		return
	}
	for {
		select {
		case <-r.Context().Done():
			return
		case event, open := <-events:
			if !open {
				return
			}
			if _, err := fmt.Fprintf(w, "data: %s\n\n", event); err != nil || controller.Flush() != nil {
				return
			}
		}
	}
}

// SeenPlate is what there is to see of a plate.
type SeenPlate struct {
	ID, Label, Kind, Place, Acts string
}

// SeenPlates returns what there is to see of the plates.
func (b *Bridge) SeenPlates() []SeenPlate {
	b.mu.Lock()
	defer b.mu.Unlock()
	var seen []SeenPlate
	for _, p := range b.plates {
		seen = append(seen, SeenPlate{p.ID, p.Label, p.Kind, p.Place, p.Acts})
	}
	return seen
}

// Groups returns the labels of the bridge's groups by id.
func (b *Bridge) Groups() map[string]string {
	labels := map[string]string{}
	for id, g := range groups {
		labels[id] = g.Label
	}
	return labels
}
