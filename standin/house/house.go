// Package house is the pretend house: rooms with daylight and lamps, doors and windows,
// warmth, damp, the river, and people who walk about. Its physics is simple but honest. It knows nothing
// of the hub or of makers; the pretend makers' devices look at it and act on it.
package house

import (
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"sync"
	"time"
)

// Out is where somebody is who is in no room.
const Out = ""

// Rooms are the rooms and the places outside, floor by floor.
var Rooms = []string{
	"Hall", "Galley", "Mill room", "Wheel room", "Glasshouse", "Wash house",
	"Landing", "East room", "West room", "Reading loft",
	"Yard", "Boat shed", "Weir",
}

// Openings are what can be opened and shut, by name.
var Openings = []string{"Hall door", "Galley window", "Glasshouse door", "Boat shed door", "Weir gate", "Cat flap"}

type room struct {
	// window is the share of the outdoor light that reaches the sensor's place.
	window float64
	// faces is the direction of the window in degrees from north.
	faces float64
	// leak and gain are of the room's resistance–capacity pair: per hour towards
	// outdoors, and °C per hour from its heating at full power.
	leak, gain float64
	setpoint   float64
	// sun is how much the light outdoors warms it, in °C per hour at 100,000 lx.
	sun float64
	// opening lets the outdoors in while it is open.
	opening string
}

var plan = map[string]room{
	"Hall":         {window: 0.0030, faces: 90, leak: 0.10, gain: 2.4, setpoint: 18, opening: "Hall door"},
	"Galley":       {window: 0.0110, faces: 180, leak: 0.07, gain: 2.6, setpoint: 19.5, opening: "Galley window"},
	"Mill room":    {window: 0.0090, faces: 270, leak: 0.05, gain: 2.0, setpoint: 20},
	"Wheel room":   {window: 0.0060, faces: 0, leak: 0.09, gain: 2.0, setpoint: 17},
	"Glasshouse":   {window: 0.5000, faces: 180, leak: 0.45, gain: 4.0, setpoint: 12, sun: 9, opening: "Glasshouse door"},
	"Wash house":   {window: 0.0040, faces: 90, leak: 0.12, gain: 2.0, setpoint: 15, opening: "Cat flap"},
	"Landing":      {window: 0.0012, faces: 0, leak: 0.06, gain: 2.0, setpoint: 17.5},
	"East room":    {window: 0.0080, faces: 90, leak: 0.06, gain: 2.2, setpoint: 18},
	"West room":    {window: 0.0080, faces: 270, leak: 0.06, gain: 2.2, setpoint: 18},
	"Reading loft": {window: 0.0140, faces: 180, leak: 0.08, gain: 2.2, setpoint: 18.5},
	"Yard":         {window: 1, faces: 180, leak: 8},
	"Boat shed":    {window: 0.0030, faces: 270, leak: 0.6, opening: "Boat shed door"},
	"Weir":         {window: 1, faces: 180, leak: 8},
}

// State is what there is to remember of the house.
type State struct {
	// People says where everybody is.
	People map[string]string `json:"people"`
	Living bool              `json:"living"`
	Open   map[string]bool   `json:"open"`
	Wet    map[string]bool   `json:"wet"`
	// Jammed says that driftwood dams the weir up.
	Jammed bool               `json:"jammed,omitempty"`
	Warmth map[string]float64 `json:"warmth"`
	// Heaters are the devices that heat a room besides its radiators, in kW by room.
	Heaters map[string]float64 `json:"heaters"`
	At      time.Time          `json:"at"`
}

// House is the pretend house. Its methods may be called from any goroutine.
type House struct {
	mu       sync.Mutex
	state    State
	zone     *time.Location
	lat, lon float64
	// lamps returns the light that the lamps of a room give at its sensor, in lux.
	lamps func(room string) float64
	// shade returns how much of a room's daylight its shutter lets in.
	shade  func(room string) float64
	moved  []func()
	opened []func()
	// reached are told of a room that somebody entered in the dark.
	reached []func(room string)
	plan    []move
}

// New returns the house at a moment; everything about it follows from that moment and what is done to it.
func New(now time.Time, zone *time.Location, latitude, longitude float64) *House {
	h := &House{zone: zone, lat: latitude, lon: longitude, lamps: func(string) float64 { return 0 }, shade: func(string) float64 { return 1 }}
	h.state = State{
		People:  map[string]string{People[0]: "Galley"},
		Open:    map[string]bool{},
		Wet:     map[string]bool{},
		Warmth:  map[string]float64{},
		Heaters: map[string]float64{},
		At:      now,
	}
	for name, r := range plan {
		h.state.Warmth[name] = max(r.setpoint-0.5, h.Air(now))
	}
	return h
}

// Shaded lets a function say how much of a room's daylight comes in, from 0 to 1.
func (h *House) Shaded(shade func(room string) float64) { h.shade = shade }

// Lit tells the house where the light of lamps comes from.
func (h *House) Lit(lamps func(room string) float64) { h.lamps = lamps }

// OnMove calls f after somebody has moved; OnOpening after something was opened or shut,
// or got wet or dry. Call both before use.
func (h *House) OnMove(f func()) { h.moved = append(h.moved, f) }

// OnOpening: see OnMove.
func (h *House) OnOpening(f func()) { h.opened = append(h.opened, f) }

// OnDark calls f with the room that somebody entered in the dark, where they reach for the plate by the door.
func (h *House) OnDark(f func(room string)) { h.reached = append(h.reached, f) }

// State returns a copy of the state.
func (h *House) State() State {
	h.mu.Lock()
	defer h.mu.Unlock()
	s := h.state
	s.Warmth, s.Heaters = maps.Clone(h.state.Warmth), maps.Clone(h.state.Heaters)
	s.Open, s.Wet, s.People = maps.Clone(h.state.Open), maps.Clone(h.state.Wet), maps.Clone(h.state.People)
	return s
}

// Restore takes a state that State returned as JSON.
func (h *House) Restore(data []byte) error {
	var s State
	if err := json.Unmarshal(data, &s); err != nil {
		return fmt.Errorf("reading the pretend house: %w", err)
	}
	if s.Warmth == nil || s.Open == nil || s.Wet == nil || s.Heaters == nil || s.People == nil {
		return errors.New("reading the pretend house: it has no rooms")
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	h.state = s
	return nil
}

// Walk takes somebody to a room, or out.
func (h *House) Walk(who, to string) error {
	if _, known := plan[to]; !known && to != Out {
		return fmt.Errorf("the house has no room %q", to)
	}
	if !slices.Contains(People, who) {
		return fmt.Errorf("nobody called %q lives here", who)
	}
	h.mu.Lock()
	h.state.People[who] = to
	h.mu.Unlock()
	for _, f := range h.moved {
		f()
	}
	return nil
}

// SetOpening opens or shuts a door, a window or a gate.
func (h *House) SetOpening(name string, open bool) error {
	if !slices.Contains(Openings, name) {
		return fmt.Errorf("the house has nothing called %q to open", name)
	}
	h.mu.Lock()
	changed := h.state.Open[name] != open
	h.state.Open[name] = open
	h.mu.Unlock()
	h.tell(changed)
	return nil
}

// Wind lets a motor open or shut something, as Heat lets a heater heat: who does it tells that something is different.
func (h *House) Wind(name string, open bool) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.state.Open[name] = open
}

// Pour wets the floor of a room, or dries it.
func (h *House) Pour(name string, wet bool) error {
	if _, known := plan[name]; !known {
		return fmt.Errorf("the house has no room %q", name)
	}
	h.mu.Lock()
	changed := h.state.Wet[name] != wet
	h.state.Wet[name] = wet
	h.mu.Unlock()
	h.tell(changed)
	return nil
}

// dammed is by how much driftwood at the weir raises the water, in cm.
const dammed = 120

// drained is by how much the open gate of the weir lowers it, in cm.
const drained = 45

// Dam lets driftwood dam the weir up, or clears it.
func (h *House) Dam(jammed bool) {
	h.mu.Lock()
	changed := h.state.Jammed != jammed
	h.state.Jammed = jammed
	h.mu.Unlock()
	h.tell(changed)
}

func (h *House) tell(changed bool) {
	if changed {
		for _, f := range h.opened {
			f()
		}
	}
}

// Heat tells what a device heats a room with, in kW.
func (h *House) Heat(name string, kilowatt float64) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.state.Heaters[name] = kilowatt
}

// Open reports whether a door, window or gate is open.
func (h *House) Open(name string) bool {
	h.mu.Lock()
	defer h.mu.Unlock()
	return h.state.Open[name]
}

// Wet reports whether the floor of a room is wet.
func (h *House) Wet(name string) bool {
	h.mu.Lock()
	defer h.mu.Unlock()
	return h.state.Wet[name]
}

// Live lets everybody follow their daily pattern, or not.
func (h *House) Live(on bool) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.state.Living = on
	h.plan = nil
}

// Light returns the light at a room's sensor at a moment, in lux: daylight by the sun's height,
// the window's direction and the clouds, and the lamps.
func (h *House) Light(name string, at time.Time) float64 {
	r := plan[name]
	return h.Outdoors(at)*r.window*h.facing(r.faces, at)*h.shade(name) + h.lamps(name)
}

// Outdoors returns the light outdoors in lux.
func (h *House) Outdoors(at time.Time) float64 {
	height, _ := h.sun(at)
	switch {
	case height < -6:
		return 0
	case height < 0:
		return 400 * math.Pow((height+6)/6, 3) // twilight
	}
	clear := 400 + 98000*math.Pow(math.Sin(height*math.Pi/180), 1.2)
	return clear * (1 - 0.8*cloud(at))
}

func (h *House) facing(direction float64, at time.Time) float64 {
	height, azimuth := h.sun(at)
	if height <= 0 {
		return 0.6
	}
	towards := math.Cos((azimuth - direction) * math.Pi / 180)
	return 0.5 + 0.8*math.Max(0, towards)*(1-cloud(at))
}

// sun returns height and azimuth in degrees, by the short formula (±1°), which is plenty for a window.
func (h *House) sun(at time.Time) (height, azimuth float64) {
	utc := at.UTC()
	declination := -23.44 * math.Cos(2*math.Pi*(float64(utc.YearDay())+10)/365.25) * math.Pi / 180
	hours := float64(utc.Hour()) + float64(utc.Minute())/60 + float64(utc.Second())/3600 + h.lon/15
	angle := (hours - 12) * 15 * math.Pi / 180
	latitude := h.lat * math.Pi / 180
	sinHeight := math.Sin(latitude)*math.Sin(declination) + math.Cos(latitude)*math.Cos(declination)*math.Cos(angle)
	height = math.Asin(sinHeight)
	azimuth = math.Atan2(-math.Sin(angle), math.Tan(declination)*math.Cos(latitude)-math.Sin(latitude)*math.Cos(angle))
	return height * 180 / math.Pi, math.Mod(azimuth*180/math.Pi+360, 360)
}

// cloud returns the share of the sky that is covered: smooth, and the same at the same time.
func cloud(at time.Time) float64 {
	hour := at.Unix() / 3600
	share := float64(at.Unix()%3600) / 3600
	value := func(n int64) float64 {
		return rand.New(rand.NewPCG(uint64(n), 7)).Float64()
	}
	return value(hour)*(1-share) + value(hour+1)*share
}

// Air returns the outdoor temperature in °C: by season and time of day.
func (h *House) Air(at time.Time) float64 {
	local := at.In(h.zone)
	year := math.Cos(2 * math.Pi * (float64(local.YearDay()) - 200) / 365.25)
	day := math.Cos(2 * math.Pi * (float64(local.Hour()*60+local.Minute())/1440 - 15.0/24))
	return 10 + 7*year + 3.5*day
}

// Warmth returns a room's temperature in °C.
func (h *House) Warmth(name string) float64 {
	h.mu.Lock()
	defer h.mu.Unlock()
	return h.state.Warmth[name]
}

// Somebody reports whether anybody is in a room.
func (h *House) Somebody(room string) bool {
	h.mu.Lock()
	defer h.mu.Unlock()
	for _, place := range h.state.People {
		if place == room {
			return true
		}
	}
	return false
}

// Damp returns a room's relative humidity in percent: what the air outdoors holds, warmed.
func (h *House) Damp(name string) float64 {
	h.mu.Lock()
	defer h.mu.Unlock()
	air := h.Air(h.state.At)
	outside := 0.82 * saturation(air) // g of water in a cubic meter, more or less
	if name == "Glasshouse" || name == "Wash house" {
		outside *= 1.35
	}
	return min(99, 100*outside/saturation(h.state.Warmth[name])*0.9+8)
}

// saturation is the pressure of saturated water vapor in hPa (Magnus formula, WMO-No. 8).
func saturation(celsius float64) float64 {
	return 6.112 * math.Exp(17.62*celsius/(243.12+celsius))
}

// River returns the water level at the weir in cm: by the clouds, hence the rain, of the last day, by what dams it up,
// and by its gate.
func (h *House) River(at time.Time) float64 {
	rain := 0.0
	for hour := range 24 {
		rain += math.Max(0, cloud(at.Add(-time.Duration(hour)*time.Hour))-0.55) * (1 - float64(hour)/30)
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	level := 62 + 9*rain
	if h.state.Jammed {
		level += dammed
	}
	if h.state.Open["Weir gate"] {
		level -= drained
	}
	return level
}

// Advance brings the rooms' warmth to the moment: dT/dt = (outdoors − T)·leak + heating + sun.
func (h *House) Advance(now time.Time) {
	h.mu.Lock()
	defer h.mu.Unlock()
	const step = 5 * time.Minute
	for h.state.At.Before(now) {
		dt := min(step, now.Sub(h.state.At))
		air := h.Air(h.state.At)
		for name, r := range plan {
			t := h.state.Warmth[name]
			leak := r.leak
			if r.opening != "" && h.state.Open[r.opening] {
				leak *= 8
			}
			heating := r.gain*math.Min(1, math.Max(0, (r.setpoint-t)/0.8)) + h.state.Heaters[name]*1.5
			sun := r.sun * h.Outdoors(h.state.At) / 100_000
			// Exact over the step, so that a quick room (outdoors) does not overshoot.
			rest := air + (heating+sun)/leak
			h.state.Warmth[name] = rest + (t-rest)*math.Exp(-leak*dt.Hours())
		}
		h.state.At = h.state.At.Add(dt)
	}
}
