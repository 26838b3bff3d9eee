package quillet

import (
	"math"
	"slices"
	"time"
)

// Node is a pretend device behind the gateway.
type Node struct {
	// Node is its number as the bench knows it, and its first address.
	Node     string
	Model    string
	Hardware string
	Label    string
	// Spot is where it hangs in the house, and Watches the opening it sits at; the gateway tells neither.
	Spot, Watches string
	// Joined says that it is on the gateway's roster from the beginning.
	Joined bool
	// battery is in half percents; 0 is a device on mains power.
	battery int
}

// The models.
const (
	motionSensor = "QM-2"
	reedContact  = "QK-1"
	thermometer  = "QT-1"
	climate      = "QT-2"
	dial         = "QD-1"
	leak         = "QL-1"
	waterLevel   = "QW-1"
	relays       = "QR-2"
	wallSwitch   = "QS-2"
	lamp         = "QB-1"
)

// Nodes are the pretend devices.
var Nodes = []Node{
	{"n31", motionSensor, "qt-7f-10-31", "QM-2 Presence Node 31", "Landing", "", true, 174},
	{"n32", reedContact, "qt-7f-10-32", "QK-1 Reed Node 32", "Hall", "Hall door", true, 191},
	{"n33", thermometer, "qt-7f-10-33", "QT-1 Climate Node 33", "Galley", "", true, 122},
	{"n34", dial, "qt-7f-10-34", "QD-1 Rotary Node 34", "Mill room", "", true, 200},
	{"n35", motionSensor, "qt-7f-10-35", "QM-2 Presence Node 35", "Hall", "", true, 166},
	{"n36", motionSensor, "qt-7f-10-36", "QM-2 Presence Node 36", "Mill room", "", true, 158},
	{"n37", motionSensor, "qt-7f-10-37", "QM-2 Presence Node 37", "Yard", "", true, 141},
	{"n38", reedContact, "qt-7f-10-38", "QK-1 Reed Node 38", "Galley", "Galley window", true, 180},
	{"n39", reedContact, "qt-7f-10-39", "QK-1 Reed Node 39", "Glasshouse", "Glasshouse door", true, 177},
	{"n40", reedContact, "qt-7f-10-40", "QK-1 Reed Node 40", "Boat shed", "Boat shed door", true, 169},
	{"n41", reedContact, "qt-7f-10-41", "QK-1 Reed Node 41", "Weir", "Weir gate", true, 150},
	{"n42", reedContact, "qt-7f-10-42", "QK-1 Reed Node 42", "Wash house", "Cat flap", true, 133},
	{"n43", climate, "qt-7f-10-43", "QT-2 Climate Node 43", "Mill room", "", true, 188},
	{"n44", climate, "qt-7f-10-44", "QT-2 Climate Node 44", "Glasshouse", "", true, 120},
	{"n45", climate, "qt-7f-10-45", "QT-2 Climate Node 45", "Wash house", "", true, 112},
	{"n46", climate, "qt-7f-10-46", "QT-2 Climate Node 46", "Reading loft", "", true, 195},
	{"n47", waterLevel, "qt-7f-10-47", "QW-1 Gauge Node 47", "Weir", "", true, 148},
	{"n48", relays, "qt-7f-10-48", "QR-2 Relay Node 48", "Mill room", "", true, 0},
	{"n49", relays, "qt-7f-10-49", "QR-2 Relay Node 49", "East room", "", true, 0},
	{"n53", relays, "qt-7f-10-53", "QR-2 Relay Node 53", "West room", "", true, 0},
	{"n54", wallSwitch, "qt-7f-10-54", "QS-2 Rocker Node 54", "East room", "", true, 0},
	{"n55", lamp, "qt-7f-10-55", "QB-1 Lamp Node 55", "Mill room", "", true, 0},
	{"n50", leak, "qt-7f-10-50", "QL-1 Leak Node 50", "Galley", "", false, 198},
	{"n51", leak, "qt-7f-10-51", "QL-1 Leak Node 51", "Wash house", "", false, 198},
	{"n52", climate, "qt-7f-10-52", "QT-2 Climate Node 52", "West room", "", false, 196},
}

// motors are the shutters wired to relay modules, by node. The one in the Mill room was wired the wrong way round,
// and its module set up by somebody who thought of two lamps.
var motors = map[string]Wiring{
	"n48": {Crossed: true, Up: 24.5, Down: 21},
	"n49": {Up: 18, Down: 16.5},
	"n53": {Up: 19, Down: 17},
}

// Surroundings are what the devices sense.
type Surroundings interface {
	Light(room string, at time.Time) float64
	Warmth(room string) float64
	Damp(room string) float64
	River(at time.Time) float64
	Somebody(room string) bool
	Open(name string) bool
	Wet(room string) bool
}

const (
	clearAfter   = 20 * time.Second // a motion sensor reports clear so long after the last movement
	measureEvery = 5 * time.Minute  // what changes slowly is measured so often, and said when it changed much
	sayEvery     = 30 * time.Minute // and said so often in any case
	tooWarm      = 0.7              // °C by which one thermometer reads wrong: it wants calibration
)

// device is a node at work. Its fields belong to the radio.
type device struct {
	Node
	charge    float64 // in half percents, at chargedAt
	chargedAt time.Time
	address   string // its number on the roster; another after it was reset and joined again
	joined    bool
	offered   time.Time // until when it looks for a gateway to join
	silent    bool
	moving    bool
	clearAt   time.Time
	module    *Module     // of a relay module
	lit       bool        // the small lamp of a wall switch
	level     int         // of a lamp, 0 to 254
	taken     []time.Time // when a lamp took what it was told lately
	said      map[string]any
	saidAt    time.Time
	blinked   time.Time
}

// sense returns what a device knows at this moment, in the maker's units.
func (d *device) sense(house Surroundings, now time.Time) map[string]any {
	body := map[string]any{}
	switch d.Model {
	case motionSensor:
		body["mv"], body["lx"] = flag(d.moving), whole(house.Light(d.Spot, now)*10)
	case reedContact:
		body["op"] = flag(house.Open(d.Watches))
	case thermometer:
		body["tc"] = whole((house.Warmth(d.Spot) + tooWarm) * 100)
	case climate:
		body["tc"], body["rh"] = whole(house.Warmth(d.Spot)*100), whole((house.Damp(d.Spot)+d.wrong())*10)
	case leak:
		body["wt"] = flag(house.Wet(d.Spot))
	case waterLevel:
		body["lv"] = whole(house.River(now) * 10)
	case lamp:
		body["br"] = d.level
	case wallSwitch:
		body["on"] = flag(d.lit)
	case relays:
		m := d.module
		m.Advance(now)
		body["o1"], body["o2"], body["pw"] = flag(m.On[0]), flag(m.On[1]), whole(m.Watts()*10)
		body["kd"], body["bs"], body["rv"], body["ha"] = m.Kind, m.Style, flag(m.Reversed), m.handledBy()
	}
	if d.battery > 0 {
		body["lq"] = d.heard(now)
		body["bt"] = whole(d.left(now))
	}
	return body
}

// firmware is what runs on the devices, by model.
var firmware = map[string]string{motionSensor: "2.3", reedContact: "2.1", thermometer: "1.9", climate: "3.0.1", leak: "1.2", waterLevel: "1.4", relays: "5.7", wallSwitch: "2.0", lamp: "1.1"}

// heard is how well the gateway hears a device, from 0 to 255: by how far its room is from the Hall, and a little by
// the hour.
func (d *device) heard(now time.Time) int {
	far := map[string]int{
		"Hall":         0,
		"Galley":       1,
		"Mill room":    1,
		"Landing":      1,
		"Wash house":   2,
		"Wheel room":   2,
		"East room":    2,
		"West room":    2,
		"Glasshouse":   3,
		"Reading loft": 3,
		"Yard":         3,
		"Boat shed":    5,
		"Weir":         5,
	}
	return 240 - 38*far[d.Spot] - int(now.Unix()/3600+int64(len(d.Hardware)))%3*4
}

// What batteries lose in a day, in half percents: the radio of a climate sensor in the damp works hardest.
const (
	drains     = 0.4
	drainsMost = 3.4
)

// left returns what is left in the battery, in half percents.
func (d *device) left(now time.Time) float64 {
	rate := drains
	if d.Node.Node == "n45" {
		rate = drainsMost
	}
	return max(0, d.charge-rate*now.Sub(d.chargedAt).Hours()/24)
}

// mute reports whether a device says nothing: jammed, or with an empty battery.
func (d *device) mute(now time.Time) bool {
	return d.silent || (d.module != nil && (d.module.Burnt || d.module.Dark)) || (d.battery > 0 && d.left(now) <= 0)
}

// move updates whether a motion sensor sees somebody.
func (d *device) move(house Surroundings, now time.Time) {
	here := house.Somebody(d.Spot)
	switch {
	case here:
		d.moving, d.clearAt = true, time.Time{}
	case d.moving && d.clearAt.IsZero():
		d.clearAt = now.Add(clearAfter)
	case d.moving && !now.Before(d.clearAt):
		d.moving, d.clearAt = false, time.Time{}
	}
}

// much says which differences are worth a message at once, in the maker's units.
var much = map[string]float64{"lx": 15, "tc": 20, "rh": 20, "lv": 8, "bt": 1, "pw": 10, "lq": 20}

// news reports whether what a device knows differs enough from what it said.
func (d *device) news(body map[string]any, now time.Time) bool {
	if d.module != nil && len(d.module.clicks) > 0 {
		return true
	}
	if d.said == nil || now.Sub(d.saidAt) >= sayEvery {
		return true
	}
	for key, value := range body {
		number, isNumber := value.(int)
		before, wasNumber := d.said[key].(int)
		if !isNumber || !wasNumber {
			if value != d.said[key] {
				return true
			}
			continue
		}
		limit := much[key]
		if key == "lx" {
			limit = max(limit, 0.15*float64(before)) // the eye, too, tells light by its ratio
		}
		if math.Abs(float64(number-before)) > limit {
			return true
		}
	}
	return false
}

// lampTakes is how many messages a second a lamp takes; what comes faster it does not hear.
const lampTakes = 5

// takes reports whether a lamp hears a message.
func (d *device) takes(now time.Time) bool {
	d.taken = slices.DeleteFunc(d.taken, func(at time.Time) bool { return now.Sub(at) >= time.Second || now.Before(at) })
	if len(d.taken) >= lampTakes {
		return false
	}
	d.taken = append(d.taken, now)
	return true
}

func flag(b bool) int {
	if b {
		return 1
	}
	return 0
}

func whole(v float64) int { return int(math.Round(v)) }

// tooDamp is by how many percent points the Glasshouse's sensor reads wrong: it wants calibration.
const tooDamp = 3

func (d *device) wrong() float64 {
	if d.Node.Node == "n44" {
		return tooDamp
	}
	return 0
}

// percent returns what is left in the battery for whoever looks at it, negative on mains power.
func (d *device) percent(now time.Time) float64 {
	if d.battery == 0 {
		return -1
	}
	return d.left(now) / 2
}
