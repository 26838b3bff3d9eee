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
	Now      time.Time    `json:"now"`
	Person   string       `json:"person" doc:"Where the person is; empty when out."`
	Living   bool         `json:"living" doc:"Whether the person follows their daily pattern."`
	DoorOpen bool         `json:"doorOpen"`
	Rooms    []BenchRoom  `json:"rooms"`
	Lamps    []BenchLamp  `json:"lamps"`
	Nodes    []BenchNode  `json:"nodes"`
	Bridge   BenchBridge  `json:"bridge"`
	Outdoors BenchOutside `json:"outdoors"`
}

// BenchOutside is the weather at the pretend house.
type BenchOutside struct {
	Lux         float64 `json:"lux"`
	Temperature float64 `json:"temperature"`
}

// BenchRoom is a room of the pretend house.
type BenchRoom struct {
	Name        string  `json:"name"`
	Lux         float64 `json:"lux"`
	Temperature float64 `json:"temperature"`
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
}

// BenchNode is a pretend radio device.
type BenchNode struct {
	Node     string `json:"node"`
	Label    string `json:"label"`
	Room     string `json:"room"`
	Blinking bool   `json:"blinking"`
	Sensing  bool   `json:"sensing"`
	Silent   bool   `json:"silent"`
}

// BenchBridge is the pretend bridge.
type BenchBridge struct {
	Address string `json:"address"`
	Pressed bool   `json:"pressed"`
	Cut     bool   `json:"cut" doc:"Whether its network is cut."`
}

// BenchAct is one thing done to the pretend house.
type BenchAct struct {
	What string `json:"what" enum:"walk,live,door,turn,pressDial,pressBridge,cutBridge,lamp,silence,jump,advance"`
	// Room is where to walk; empty is out.
	Room string `json:"room,omitempty"`
	On   bool   `json:"on,omitempty" doc:"For live, door, cutBridge, silence and lamp."`
	// Notches turns the dial, right where positive.
	Notches int      `json:"notches,omitempty" minimum:"-200" maximum:"200"`
	Lamp    string   `json:"lamp,omitempty"`
	Node    string   `json:"node,omitempty" doc:"Radio device that falls silent or speaks again."`
	Level   *float64 `json:"level,omitempty" minimum:"1" maximum:"100"`
	// Clock is the hour to jump to, such as 18:30: the next time it comes.
	Clock   string  `json:"clock,omitempty"`
	Seconds float64 `json:"seconds,omitempty" minimum:"0" maximum:"604800" doc:"How far to advance."`
}
