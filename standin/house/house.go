// Package house is the pretend house: rooms with daylight and lamps, a door, warmth,
// and a person who walks about. Its physics is simple but honest. It knows nothing
// of the hub or of makers; the pretend makers' devices look at it and act on it.
package house

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"sync"
	"time"
)

// Out is where the person is when in no room.
const Out = ""

// Rooms are the rooms so far, in the order in which one walks through them from the door.
var Rooms = []string{"Hall", "Galley", "Landing"}

type room struct {
	// window is the share of the outdoor light that reaches the sensor's place.
	window float64
	// faces is the direction of the window in degrees from north.
	faces float64
	// leak and gain are of the room's resistance–capacity pair: per hour towards
	// outdoors, and °C per hour from its heating at full power.
	leak, gain float64
	setpoint   float64
}

var plan = map[string]room{
	"Hall":    {window: 0.0030, faces: 90, leak: 0.10, gain: 2.4, setpoint: 18},
	"Galley":  {window: 0.0110, faces: 180, leak: 0.07, gain: 2.6, setpoint: 19.5},
	"Landing": {window: 0.0012, faces: 0, leak: 0.06, gain: 2.0, setpoint: 17.5},
}

// State is what there is to remember of the house.
type State struct {
	Person   string             `json:"person"`
	Living   bool               `json:"living"`
	DoorOpen bool               `json:"doorOpen"`
	Warmth   map[string]float64 `json:"warmth"`
	At       time.Time          `json:"at"`
}

// House is the pretend house. Its methods may be called from any goroutine.
type House struct {
	mu       sync.Mutex
	state    State
	zone     *time.Location
	lat, lon float64
	// lamps returns the light that the lamps of a room give at its sensor, in lux.
	lamps  func(room string) float64
	moved  []func()
	doored []func()
	plan   []move
}

// New returns the house at a moment; everything about it follows from that moment and what is done to it.
func New(now time.Time, zone *time.Location, latitude, longitude float64) *House {
	h := &House{zone: zone, lat: latitude, lon: longitude, lamps: func(string) float64 { return 0 }}
	h.state = State{Person: "Galley", Warmth: map[string]float64{}, At: now}
	for name, r := range plan {
		h.state.Warmth[name] = r.setpoint - 0.5
	}
	return h
}

// Lit tells the house where the light of lamps comes from.
func (h *House) Lit(lamps func(room string) float64) { h.lamps = lamps }

// OnMove calls f after the person has moved; OnDoor after the door has. Call both before use.
func (h *House) OnMove(f func()) { h.moved = append(h.moved, f) }

// OnDoor calls f after the door was opened or shut.
func (h *House) OnDoor(f func()) { h.doored = append(h.doored, f) }

// State returns a copy of the state.
func (h *House) State() State {
	h.mu.Lock()
	defer h.mu.Unlock()
	s := h.state
	s.Warmth = map[string]float64{}
	for k, v := range h.state.Warmth {
		s.Warmth[k] = v
	}
	return s
}

// Restore takes a state that State returned as JSON.
func (h *House) Restore(data []byte) error {
	var s State
	if err := json.Unmarshal(data, &s); err != nil {
		return fmt.Errorf("reading the pretend house: %w", err)
	}
	if s.Warmth == nil {
		return errors.New("reading the pretend house: it has no rooms")
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	h.state = s
	return nil
}

// Walk takes the person to a room, or out.
func (h *House) Walk(to string) error {
	if _, known := plan[to]; !known && to != Out {
		return fmt.Errorf("the house has no room %q", to)
	}
	h.mu.Lock()
	h.state.Person = to
	h.mu.Unlock()
	for _, f := range h.moved {
		f()
	}
	return nil
}

// SetDoor opens or shuts the door in the Hall.
func (h *House) SetDoor(open bool) {
	h.mu.Lock()
	changed := h.state.DoorOpen != open
	h.state.DoorOpen = open
	h.mu.Unlock()
	if changed {
		for _, f := range h.doored {
			f()
		}
	}
}

// Live lets the person follow their daily pattern, or not.
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
	return h.Outdoors(at)*r.window*h.facing(r.faces, at) + h.lamps(name)
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

// Person returns where the person is.
func (h *House) Person() string {
	h.mu.Lock()
	defer h.mu.Unlock()
	return h.state.Person
}

// DoorOpen reports whether the door in the Hall is open.
func (h *House) DoorOpen() bool {
	h.mu.Lock()
	defer h.mu.Unlock()
	return h.state.DoorOpen
}

// Advance brings the rooms' warmth to the moment: dT/dt = (outdoors − T)·leak + heating.
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
			if name == "Hall" && h.state.DoorOpen {
				leak *= 8
			}
			heating := r.gain * math.Min(1, math.Max(0, (r.setpoint-t)/0.8))
			h.state.Warmth[name] = t + dt.Hours()*((air-t)*leak+heating)
		}
		h.state.At = h.state.At.Add(dt)
	}
}
