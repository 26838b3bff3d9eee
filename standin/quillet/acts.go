package quillet

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"
)

// asked takes what the broker's other clients ask of the gateway or a device.
func (r *Radio) asked(ctx context.Context, at string, payload []byte) {
	rest := strings.TrimPrefix(at, topic()+"/")
	var messages []message
	r.mu.Lock()
	if rest == "ask" {
		messages = r.askedToJoin(payload)
	} else if node, ok := strings.CutSuffix(rest, "/ask"); ok {
		for _, d := range r.devices {
			if d.joined && d.address == node {
				messages = r.askedOf(d, payload)
			}
		}
	}
	r.mu.Unlock()
	select {
	case r.answers <- messages:
	case <-ctx.Done():
	}
}

// answer publishes what was asked for, in order. It is apart from the goroutine that asks, which
// must go on reading what the broker sends, acknowledgments too.
func (r *Radio) answer(ctx context.Context) {
	for {
		select {
		case <-ctx.Done():
			return
		case messages := <-r.answers:
			r.publish(ctx, messages...)
			r.changed()
		}
	}
}

func (r *Radio) askedToJoin(payload []byte) []message {
	var body struct {
		Join *float64 `json:"join"`
	}
	if json.Unmarshal(payload, &body) != nil || body.Join == nil {
		return nil
	}
	now := r.now()
	r.openUntil, r.tellAt = time.Time{}, time.Time{}
	if *body.Join > 0 {
		r.openUntil = now.Add(min(time.Duration(*body.Join*float64(time.Second)), longestJoin))
		r.tellAt = now.Add(min(tellLeftEach, r.openUntil.Sub(now)))
	}
	return []message{r.joining()}
}

func (r *Radio) askedOf(d *device, payload []byte) []message {
	var body struct {
		Blink  int    `json:"blink"`
		First  *int   `json:"o1"`
		Second *int   `json:"o2"`
		Kind   string `json:"kd"`
	}
	if json.Unmarshal(payload, &body) != nil {
		return nil
	}
	now := r.now()
	if body.Blink > 0 {
		d.blinked = now
	}
	if d.Model != relays || d.silent {
		return nil
	}
	if body.Kind == "twin" || body.Kind == "shutter" {
		d.kind, d.outputs = body.Kind, [2]int{}
	}
	for i, wanted := range []*int{body.First, body.Second} {
		if wanted == nil || (*wanted != 0 && *wanted != 1) {
			continue
		}
		d.outputs[i] = *wanted
		if d.kind == "shutter" && *wanted == 1 {
			d.outputs[1-i] = 0 // set up as a shutter it never powers both directions
		}
	}
	return r.saying(nil, d, now)
}

func (r *Radio) find(node string) (*device, error) {
	for _, d := range r.devices {
		if d.Node.Node == node {
			return d, nil
		}
	}
	return nil, fmt.Errorf("the gateway has no device %q", node)
}

// Silence lets a device fall silent, or speak again: then it says at once how things stand.
// The gateway itself goes on, as gateways do.
func (r *Radio) Silence(ctx context.Context, node string, silent bool) error {
	r.mu.Lock()
	d, err := r.find(node)
	var messages []message
	if err == nil {
		d.silent = silent
		messages = r.saying(nil, d, r.now())
	}
	r.mu.Unlock()
	if err != nil {
		return err
	}
	r.publish(ctx, messages...)
	r.changed()
	return nil
}

// Carry hangs a device in another room.
func (r *Radio) Carry(ctx context.Context, node, spot string) error {
	r.mu.Lock()
	d, err := r.find(node)
	var messages []message
	if err == nil {
		d.Spot = spot
		messages = r.saying(nil, d, r.now())
	}
	r.mu.Unlock()
	if err != nil {
		return err
	}
	r.publish(ctx, messages...)
	r.changed()
	return nil
}

// ErrMains says that a device has no battery.
var ErrMains = errors.New("the device has no battery")

// Charge sets what is left in a device's battery, in percent, as after it was replaced or drained.
func (r *Radio) Charge(ctx context.Context, node string, percent float64) error {
	r.mu.Lock()
	d, err := r.find(node)
	if err == nil && d.battery == 0 {
		err = ErrMains
	}
	var messages []message
	if err == nil {
		d.charge, d.chargedAt = 2*percent, r.now()
		messages = r.saying(nil, d, r.now())
	}
	r.mu.Unlock()
	if err != nil {
		return err
	}
	r.publish(ctx, messages...)
	r.changed()
	return nil
}

// ErrJoined says that a device has joined already.
var ErrJoined = errors.New("the device has joined its gateway already")

// Offer presses a device's joining button: for a minute it looks for a gateway that is open.
func (r *Radio) Offer(node string) error {
	r.mu.Lock()
	d, err := r.find(node)
	switch {
	case err != nil:
	case d.joined:
		err = ErrJoined
	default:
		d.offered = r.now().Add(offerLasts)
	}
	r.mu.Unlock()
	if err == nil {
		r.changed()
	}
	return err
}

// Reset sets a device back as it left the factory: it leaves the gateway, and comes under
// another number when it joins again. Its hardware identity stays.
func (r *Radio) Reset(ctx context.Context, node string) error {
	r.mu.Lock()
	d, err := r.find(node)
	var messages []message
	if err == nil && d.joined {
		messages = []message{{topic(d.address, "say"), nil, true}} // nothing is remembered of it
		d.joined, d.address, d.kind, d.outputs = false, "", "shutter", [2]int{}
		messages = append(messages, r.roster())
	}
	r.mu.Unlock()
	if err != nil {
		return err
	}
	r.publish(ctx, messages...)
	r.changed()
	return nil
}

// Seen is what there is to see of a device.
type Seen struct {
	Node, Label, Spot string
	Model             string
	Joined            bool
	Offering          bool
	Blinking          bool
	Sensing           bool
	Silent            bool
	// Battery is what is left, in percent; it is negative on mains power.
	Battery float64
	Outputs [2]bool
}

// Seen returns what there is to see of all devices, and until when the gateway is open, zero while shut.
func (r *Radio) Seen() (devices []Seen, openUntil time.Time) {
	r.mu.Lock()
	defer r.mu.Unlock()
	now := r.now()
	for _, d := range r.devices {
		since := now.Sub(d.blinked)
		devices = append(devices, Seen{
			Node: d.Node.Node, Label: d.Label, Spot: d.Spot, Model: d.Model, Joined: d.joined, Offering: now.Before(d.offered),
			Blinking: !d.blinked.IsZero() && since >= 0 && since < 3*time.Second, Sensing: d.moving, Silent: d.silent, Battery: d.percent(now),
			Outputs: [2]bool{d.outputs[0] == 1, d.outputs[1] == 1},
		})
	}
	return devices, r.openUntil
}

// saved is what the gateway remembers of a device when it loses power.
type saved struct {
	Address string `json:"address"`
	Joined  bool   `json:"joined"`
	Kind    string `json:"kind"`
	Outputs [2]int `json:"outputs"`
	Silent  bool   `json:"silent,omitempty"`
	Spot    string `json:"spot,omitempty"`
	// Charge is in half percents, at ChargedAt.
	Charge    float64   `json:"charge"`
	ChargedAt time.Time `json:"chargedAt"`
}

// Save returns what the gateway and its devices remember.
func (r *Radio) Save() ([]byte, error) {
	r.mu.Lock()
	defer r.mu.Unlock()
	devices := map[string]saved{}
	for _, d := range r.devices {
		devices[d.Hardware] = saved{d.address, d.joined, d.kind, d.outputs, d.silent, d.Spot, d.charge, d.chargedAt}
	}
	return json.Marshal(map[string]any{"devices": devices, "nextNode": r.nextNode})
}

// Restore takes what Save returned.
func (r *Radio) Restore(data []byte) error {
	var file struct {
		Devices  map[string]saved `json:"devices"`
		NextNode int              `json:"nextNode"`
	}
	if err := json.Unmarshal(data, &file); err != nil {
		return fmt.Errorf("reading the pretend Quillet gateway: %w", err)
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	r.nextNode = max(r.nextNode, file.NextNode)
	for _, d := range r.devices {
		if was, ok := file.Devices[d.Hardware]; ok {
			d.address, d.joined, d.kind, d.outputs, d.silent = was.Address, was.Joined, was.Kind, was.Outputs, was.Silent
			d.charge, d.chargedAt = was.Charge, was.ChargedAt
			if was.Spot != "" {
				d.Spot = was.Spot
			}
		}
	}
	return nil
}
