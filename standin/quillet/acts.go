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
	var echo uint64
	r.mu.Lock()
	if rest == "ask" {
		messages, echo = r.askedOfGateway(payload)
	} else if node, ok := strings.CutSuffix(rest, "/ask"); ok {
		for _, d := range r.devices {
			if d.joined && d.address == node {
				messages = r.askedOf(d, payload)
			}
		}
	}
	r.mu.Unlock()
	select {
	case r.answers <- answer{messages, echo}:
	case <-ctx.Done():
	}
}

// answer is what is to be said to something that was asked, or an echo of the gateway's own.
type answer struct {
	messages []message
	echo     uint64
}

// answer publishes what was asked for, in order. It is apart from the goroutine that asks, which
// must go on reading what the broker sends, acknowledgments too.
func (r *Radio) answer(ctx context.Context) {
	for {
		select {
		case <-ctx.Done():
			return
		case a := <-r.answers:
			r.publish(ctx, a.messages...)
			if a.echo == 0 {
				r.changed()
				continue
			}
			select {
			case r.echoed <- a.echo:
			default:
			}
		}
	}
}

func (r *Radio) askedOfGateway(payload []byte) (messages []message, echo uint64) {
	var body struct {
		Join *float64 `json:"join"`
		Echo uint64   `json:"echo"`
	}
	if json.Unmarshal(payload, &body) != nil || body.Join == nil {
		return nil, body.Echo
	}
	now := r.now()
	r.openUntil, r.tellAt = time.Time{}, time.Time{}
	if *body.Join > 0 {
		r.openUntil = now.Add(min(time.Duration(*body.Join*float64(time.Second)), longestJoin))
		r.tellAt = now.Add(min(tellLeftEach, r.openUntil.Sub(now)))
	}
	return []message{r.joining()}, 0
}

func (r *Radio) askedOf(d *device, payload []byte) []message {
	var body struct {
		Blink  int    `json:"blink"`
		First  *int   `json:"o1"`
		Second *int   `json:"o2"`
		Kind   string `json:"kd"`
		Style  string `json:"bs"`
		Hands  string `json:"ha"`
		Turned *int   `json:"rv"`
		On     *int   `json:"on"`
		Level  *int   `json:"br"`
	}
	if json.Unmarshal(payload, &body) != nil {
		return nil
	}
	now := r.now()
	if body.Blink > 0 {
		d.blinked = now
	}
	if d.Model == lamp && body.Level != nil && !d.silent && *body.Level >= 0 && *body.Level <= fullLevel {
		if !d.takes(now) {
			return nil
		}
		d.level = *body.Level
		r.shine(d)
		return r.saying(nil, d, now)
	}
	if d.Model == wallSwitch && body.On != nil && !d.silent {
		d.lit = *body.On == 1
		return r.saying(nil, d, now)
	}
	if d.Model != relays || d.silent {
		return nil
	}
	m := d.module
	m.Set("kd", body.Kind, now)
	m.Set("bs", body.Style, now)
	m.Set("ha", body.Hands, now)
	if body.Turned != nil {
		m.Set("rv", fmt.Sprint(*body.Turned), now)
	}
	for i, wanted := range []*int{body.First, body.Second} {
		if wanted != nil && (*wanted == 0 || *wanted == 1) {
			m.Tell(i, *wanted == 1, now)
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

// toDevice does something to a device, publishes what it says to that, and tells that it looks different.
func (r *Radio) toDevice(ctx context.Context, node string, act func(d *device, now time.Time) ([]message, error)) error {
	r.mu.Lock()
	d, err := r.find(node)
	var messages []message
	if err == nil {
		messages, err = act(d, r.now())
	}
	r.mu.Unlock()
	if err != nil {
		return err
	}
	r.publish(ctx, messages...)
	r.changed()
	return nil
}

// Silence lets a device fall silent, or speak again: then it says at once how things stand.
// The gateway itself goes on, as gateways do.
func (r *Radio) Silence(ctx context.Context, node string, silent bool) error {
	return r.toDevice(ctx, node, func(d *device, now time.Time) ([]message, error) {
		d.silent = silent
		return r.saying(nil, d, now), nil
	})
}

// Carry hangs a device in another room.
func (r *Radio) Carry(ctx context.Context, node, spot string) error {
	return r.toDevice(ctx, node, func(d *device, now time.Time) ([]message, error) {
		d.Spot = spot
		return r.saying(nil, d, now), nil
	})
}

// fullLevel is the level of a lamp at its brightest.
const fullLevel = 254

// Rocker moves a rocker of a wall switch, 0 the left: it says that it went down or up. As the left one goes down, the small lamp
// in it turns on or off.
func (r *Radio) Rocker(ctx context.Context, node string, rocker int, down bool) error {
	return r.toDevice(ctx, node, func(d *device, now time.Time) ([]message, error) {
		if d.Model != wallSwitch || rocker < 0 || rocker > 1 {
			return nil, fmt.Errorf("%s has no such rocker", node)
		}
		if !d.joined || d.silent {
			return nil, nil
		}
		messages := []message{d.clicked("k", rocker, down)}
		if down && rocker == 0 {
			d.lit = !d.lit
			messages = r.saying(messages, d, now)
		}
		return messages, nil
	})
}

// clicked is that a key of a device went down or up.
func (d *device) clicked(field string, key int, down bool) message {
	way := "up"
	if down {
		way = "down"
	}
	return message{topic(d.address, "say"), fmt.Appendf(nil, `{"%s%d":%q}`, field, key+1, way), false}
}

// ErrMains says that a device has no battery.
var ErrMains = errors.New("the device has no battery")

// Charge sets what is left in a device's battery, in percent, as after it was replaced or drained.
func (r *Radio) Charge(ctx context.Context, node string, percent float64) error {
	return r.toDevice(ctx, node, func(d *device, now time.Time) ([]message, error) {
		if d.battery == 0 {
			return nil, ErrMains
		}
		d.charge, d.chargedAt = 2*percent, now
		return r.saying(nil, d, now), nil
	})
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
	return r.toDevice(ctx, node, func(d *device, now time.Time) ([]message, error) {
		if !d.joined {
			return nil, nil
		}
		forgotten := message{topic(d.address, "say"), nil, true} // nothing is remembered of it
		d.joined, d.address = false, ""
		if d.module != nil {
			d.module.Set("kd", kindShutter, now)
		}
		return []message{forgotten, r.roster()}, nil
	})
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
	// Module is what there is to see of a relay module and its shutter, nil for other devices.
	Module *Module
	// Rockers is how many a wall switch has, and Lit whether its small lamp is on.
	Rockers int
	Lit     bool
	// Lamp says that it is a lamp, and Level how bright it is, from 0 to 1.
	Lamp  bool
	Level float64
}

// Seen returns what there is to see of all devices, and until when the gateway is open, zero while shut.
func (r *Radio) Seen() (devices []Seen, openUntil time.Time) {
	r.mu.Lock()
	defer r.mu.Unlock()
	now := r.now()
	for _, d := range r.devices {
		since := now.Sub(d.blinked)
		rockers := 0
		if d.Model == wallSwitch {
			rockers = 2
		}
		devices = append(devices, Seen{
			Node: d.Node.Node, Label: d.Label, Spot: d.Spot, Model: d.Model, Joined: d.joined, Offering: now.Before(d.offered),
			Blinking: !d.blinked.IsZero() && since >= 0 && since < 3*time.Second, Sensing: d.moving, Silent: d.silent, Battery: d.percent(now),
			Module: d.seenModule(now), Rockers: rockers, Lit: d.lit,
			Lamp: d.Model == lamp, Level: float64(d.level) / fullLevel,
		})
	}
	return devices, r.openUntil
}

// saved is what the gateway remembers of a device when it loses power.
type saved struct {
	Address string `json:"address"`
	Joined  bool   `json:"joined"`
	Silent  bool   `json:"silent,omitempty"`
	Spot    string `json:"spot,omitempty"`
	// Charge is in half percents, at ChargedAt.
	Charge    float64   `json:"charge"`
	ChargedAt time.Time `json:"chargedAt"`
	Module    *Module   `json:"module,omitempty"`
	Lit       bool      `json:"lit,omitempty"`
	Level     int       `json:"level,omitempty"`
}

// Save returns what the gateway and its devices remember.
func (r *Radio) Save() ([]byte, error) {
	r.mu.Lock()
	defer r.mu.Unlock()
	devices := map[string]saved{}
	for _, d := range r.devices {
		devices[d.Hardware] = saved{d.address, d.joined, d.silent, d.Spot, d.charge, d.chargedAt, d.module, d.lit, d.level}
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
			d.address, d.joined, d.silent = was.Address, was.Joined, was.Silent
			if was.Module != nil && d.module != nil {
				was.Module.wiring = d.module.wiring
				d.module = was.Module
			}
			d.charge, d.chargedAt, d.lit, d.level = was.Charge, was.ChargedAt, was.Lit, was.Level
			if was.Spot != "" {
				d.Spot = was.Spot
			}
			r.shine(d)
		}
	}
	return nil
}

// seenModule returns how a relay module and its shutter stand; r.mu is held.
func (d *device) seenModule(now time.Time) *Module {
	if d.module == nil {
		return nil
	}
	d.module.Advance(now)
	seen := *d.module
	seen.Log = append([]string(nil), seen.Log...)
	return &seen
}

// AtModule does something to a relay module by hand: at its wall buttons, its fuse, or by putting in a new one.
func (r *Radio) AtModule(ctx context.Context, node string, act func(m *Module, now time.Time)) error {
	return r.toDevice(ctx, node, func(d *device, now time.Time) ([]message, error) {
		if d.module == nil {
			return nil, fmt.Errorf("%s is no relay module", node)
		}
		wasDark := d.module.Dark || d.module.Burnt
		act(d.module, now)
		var messages []message
		if d.joined && wasDark && !d.mute(now) {
			messages = append(messages, message{topic(d.address, "say"), []byte(`{"rs":1}`), false})
		}
		return r.saying(messages, d, now), nil
	})
}

// fullLux is what a lamp gives the sensor of its room at full light, in lux.
const fullLux = 55

// shine remembers the light of a lamp where whoever holds the radio finds it, too.
func (r *Radio) shine(d *device) {
	if d.Model == lamp {
		r.lamps.Store(d.Node.Node, light{d.Spot, float64(d.level) / fullLevel * fullLux})
	}
}

// light is what a lamp gives the sensor of its room, in lux.
type light struct {
	room string
	lux  float64
}

// Light returns the light that the lamps give at a room's sensor, in lux. Whoever holds the radio may ask.
func (r *Radio) Light(room string) (lux float64) {
	r.lamps.Range(func(_, is any) bool {
		if l := is.(light); l.room == room {
			lux += l.lux
		}
		return true
	})
	return lux
}

// Shade returns how much of a room's daylight its shutter lets in, 1 where it has none. Whoever holds the radio
// may ask, since its devices look at the light.
func (r *Radio) Shade(room string) float64 {
	const through = 0.06
	if place, has := r.shutters.Load(room); has {
		return through + (1-through)*place.(float64)/100
	}
	return 1
}
