package server

import (
	"context"
	"time"
)

// Bench is a pretend house that can be played with.
type Bench interface {
	State() BenchState
	Act(ctx context.Context, act BenchAct) error
}

// BenchState is what there is to see of the pretend house.
type BenchState struct {
	Now      time.Time      `json:"now"`
	Pace     float64        `json:"pace" doc:"How many times faster than real time it lives."`
	People   []BenchPerson  `json:"people"`
	Living   bool           `json:"living" doc:"Whether everybody follows their daily pattern."`
	Openings []BenchOpening `json:"openings"`
	Rooms    []BenchRoom    `json:"rooms"`
	Lamps    []BenchLamp    `json:"lamps" doc:"Those of the lamp bridge."`
	Shades   []BenchShade   `json:"shades" doc:"Every lamp of the house, whoever made it."`
	Nodes    []BenchNode    `json:"nodes"`
	Plates   []BenchPlate   `json:"plates"`
	Plugs    []BenchPlug    `json:"plugs" doc:"Devices on the local network."`
	Locks    []BenchLock    `json:"locks"`
	Gear     []BenchGear    `json:"gear" doc:"Sound, picture and other devices, as they really stand."`
	// BoxCode is printed on the box of the described devices.
	BoxCode string       `json:"boxCode"`
	Radio   BenchRadio   `json:"radio"`
	Groups  []BenchGroup `json:"groups" doc:"The lamp bridge's own groups."`
	// JoiningUntil is when the radio gateway shuts to new devices; absent while it is shut.
	JoiningUntil time.Time    `json:"joiningUntil,omitzero"`
	Bridge       BenchBridge  `json:"bridge"`
	Outdoors     BenchOutside `json:"outdoors"`
	Diary        BenchDiary   `json:"diary"`
}

// BenchDiary is the household's pretend calendar.
type BenchDiary struct {
	Address string       `json:"address"`
	Entries []BenchEntry `json:"entries" doc:"What somebody wrote into it, besides what comes every week."`
}

// BenchEntry is something that somebody wrote into the diary.
type BenchEntry struct {
	Title string    `json:"title"`
	Begin time.Time `json:"begin"`
}

// BenchPerson is somebody who lives in the pretend house.
type BenchPerson struct {
	Name string `json:"name"`
	Room string `json:"room" doc:"Where they are; empty when out."`
}

// BenchOutside is the weather at the pretend house.
type BenchOutside struct {
	Lux         float64 `json:"lux"`
	Temperature float64 `json:"temperature"`
	River       float64 `json:"river" doc:"The water at the weir, in cm."`
	Dammed      bool    `json:"dammed" doc:"Whether driftwood dams it up."`
}

// BenchRoom is a room of the pretend house.
type BenchRoom struct {
	Name        string  `json:"name"`
	Lux         float64 `json:"lux"`
	Temperature float64 `json:"temperature"`
	Wet         bool    `json:"wet" doc:"Whether water was poured on its floor."`
}

// BenchOpening is a door, a window or a gate.
type BenchOpening struct {
	Name string `json:"name"`
	Open bool   `json:"open"`
}

// BenchPlate is a pretend plate of buttons.
type BenchPlate struct {
	ID      string `json:"id"`
	Label   string `json:"label"`
	Room    string `json:"room"`
	Buttons int    `json:"buttons"`
	Acts    bool   `json:"acts" doc:"Whether its bridge switches a lamp with it by itself."`
}

// BenchPlug is a pretend device on the local network.
type BenchPlug struct {
	Hardware string  `json:"hardware"`
	Label    string  `json:"label"`
	Room     string  `json:"room"`
	On       bool    `json:"on"`
	Pulled   bool    `json:"pulled"`
	Blinking bool    `json:"blinking"`
	Watts    float64 `json:"watts"`
}

// BenchLock is a pretend lock.
type BenchLock struct {
	ID     string `json:"id"`
	Label  string `json:"label"`
	Room   string `json:"room"`
	Locked bool   `json:"locked"`
	Jammed bool   `json:"jammed" doc:"Whether its bolt does not move."`
}

// BenchGear is a pretend device that is only looked at.
type BenchGear struct {
	Label string `json:"label"`
	Room  string `json:"room"`
	Says  string `json:"says"`
}

// BenchRadio is the pretend one-way radio.
type BenchRadio struct {
	Address      string             `json:"address" doc:"Of its transceiver."`
	Sockets      []BenchSocket      `json:"sockets"`
	Thermometers []BenchThermometer `json:"thermometers"`
	Remotes      []BenchRemote      `json:"remotes"`
}

// BenchSocket is a switched socket, as it really stands.
type BenchSocket struct {
	Label string `json:"label"`
	Room  string `json:"room"`
	On    bool   `json:"on"`
}

// BenchThermometer is an outdoor thermometer, with its present id.
type BenchThermometer struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	Room  string `json:"room"`
}

// BenchRemote is a handheld remote.
type BenchRemote struct {
	ID    string `json:"id"`
	Label string `json:"label"`
}

// BenchGroup is a group of lamps that the maker's app switches together.
type BenchGroup struct {
	ID    string `json:"id"`
	Label string `json:"label"`
}

// BenchLamp is a pretend lamp.
type BenchLamp struct {
	ID       string  `json:"id"`
	Label    string  `json:"label"`
	Room     string  `json:"room"`
	Lit      bool    `json:"lit"`
	Dims     bool    `json:"dims"`
	Level    float64 `json:"level" doc:"0 to 100 %."`
	Swatch   string  `json:"swatch"`
	Blinking bool    `json:"blinking"`
	// Flickering says that it is driven lower than this very lamp can be.
	Flickering bool `json:"flickering"`
	Lying      bool `json:"lying" doc:"Whether its bridge reports something else of it."`
}

// BenchShade is a lamp of any maker as it hangs in the house.
type BenchShade struct {
	Label      string  `json:"label"`
	Room       string  `json:"room"`
	Lit        bool    `json:"lit"`
	Level      float64 `json:"level" doc:"0 to 100 %."`
	Swatch     string  `json:"swatch"`
	Blinking   bool    `json:"blinking,omitempty"`
	Flickering bool    `json:"flickering,omitempty"`
}

// BenchNode is a pretend radio device.
type BenchNode struct {
	Node     string `json:"node"`
	Label    string `json:"label"`
	Room     string `json:"room"`
	Blinking bool   `json:"blinking"`
	Sensing  bool   `json:"sensing"`
	Joined   bool   `json:"joined" doc:"Whether it is on its gateway's list."`
	Offering bool   `json:"offering" doc:"Whether it looks for a gateway to join."`
	Silent   bool   `json:"silent"`
	// Battery is what is left in percent; it is negative on mains power.
	Battery float64 `json:"battery"`
	// Rockers is how many a wall switch has, and Lit whether the small lamp in the left one is on.
	Rockers int  `json:"rockers,omitempty" doc:"How many rockers a wall switch has."`
	Lit     bool `json:"lit,omitempty" doc:"Whether the small lamp in the left rocker is on."`
	// Shutter is the relay module and what is wired to it.
	Shutter *BenchShutter `json:"shutter,omitempty"`
}

// BenchShutter is a pretend shutter with its relay module, as it really stands.
type BenchShutter struct {
	Place   float64 `json:"place" doc:"0 shut to 100 open."`
	Running int     `json:"running" doc:"1 up, -1 down, 0 not."`
	Burnt   bool    `json:"burnt"`
	Dark    bool    `json:"dark" doc:"Whether its fuse is out."`
	// Log is what happened to the module that should not have.
	Log []string `json:"log"`
}

// BenchBridge is the pretend bridge.
type BenchBridge struct {
	Address string `json:"address"`
	Pressed bool   `json:"pressed"`
	Cut     bool   `json:"cut" doc:"Whether its network is cut."`
	Taken   int    `json:"taken" doc:"How many requests it has taken that changed lamps, a frame of many being one."`
}

// BenchAct is one thing done to the pretend house.
type BenchAct struct {
	What string `json:"what" enum:"walk,live,open,pour,dam,turn,pressDial,rocker,pressBridge,cutBridge,lamp,group,press,offer,reset,silence,plug,pull,restartRouter,key,battery,charge,carry,jam,turnKey,wall,fuse,renew,lie,blackout,pace,jump,advance,diary"`
	// Room is where to walk; empty is out.
	Room string `json:"room,omitempty"`
	// Title is what is written into the diary, Seconds from now.
	Title string `json:"title,omitempty" maxLength:"120"`
	// Person is who walks; the first of them where nobody is named.
	Person string `json:"person,omitempty"`
	On     bool   `json:"on,omitempty" doc:"For live, open, pour, dam, cutBridge, silence, lamp, group, plug, pull, key, jam, turnKey, fuse and lie."`
	// Notches turns the dial, right where positive.
	Notches int    `json:"notches,omitempty" minimum:"-200" maximum:"200"`
	Lamp    string `json:"lamp,omitempty"`
	Opening string `json:"opening,omitempty"`
	Group   string `json:"group,omitempty"`
	Plate   string `json:"plate,omitempty"`
	Lock    string `json:"lock,omitempty"`
	// Hardware is a device on the local network; Radio is the id of a remote or a thermometer.
	Hardware string   `json:"hardware,omitempty"`
	Radio    string   `json:"radio,omitempty"`
	Button   int      `json:"button,omitempty" minimum:"0" maximum:"8"`
	Gesture  string   `json:"gesture,omitempty" enum:"press,double,hold,release,down,up" doc:"A rocker and a wall button go down and up; at a wall button a press is both, shortly after each other."`
	Node     string   `json:"node,omitempty" doc:"Radio device that is silenced, offered or reset."`
	Level    *float64 `json:"level,omitempty" minimum:"0" maximum:"100"`
	// Clock is the hour to jump to, such as 18:30: the next time it comes.
	Clock string `json:"clock,omitempty"`
	// Pace is how many times faster than real time hub and house are to live.
	Pace    float64 `json:"pace,omitempty" minimum:"1" maximum:"600"`
	Seconds float64 `json:"seconds,omitempty" minimum:"0" maximum:"604800" doc:"How far to advance."`
}
