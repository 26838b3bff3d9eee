package state

import (
	"slices"
	"time"

	"amvek/core/cause"
	"amvek/core/light"
	"amvek/core/thing"
)

// Frame is where one run of a rule stands. It is data, so it can be saved and resumed.
type Frame struct {
	ID    uint64    `json:"id"`
	Part  string    `json:"part" doc:"do or afterwards"`
	Step  int       `json:"step" doc:"Index of the next of the outermost steps."`
	At    string    `json:"at,omitempty" doc:"Path of the step that it is at."`
	Began time.Time `json:"began"`
	// Blocks are the lists of steps that it is within, the outermost first.
	Blocks   []Block   `json:"blocks,omitempty"`
	ResumeAt time.Time `json:"resumeAt,omitzero"`
	// Awaits is the property that the run waits for; ResumeAt is when it waits no longer.
	Awaits *thing.Ref `json:"awaits,omitempty"`
	// Call is the call outside whose answer the run waits for.
	Call uint64 `json:"call,omitempty"`
	// Ramp is what the run brings from one number to another.
	Ramp *Ramp `json:"ramp,omitempty"`
	// Through is where the run is among the values that it goes through.
	Through *Through `json:"through,omitempty"`
	// Until says that it waits until the condition of the step that it is at is true.
	Until bool `json:"until,omitempty"`
	// Parent is the run that this one is a branch of, and Branches how many of its own are under way.
	Parent   uint64 `json:"parent,omitempty"`
	Branches int    `json:"branches,omitempty"`
	// Remembered is how devices were.
	Remembered []light.Target `json:"remembered,omitempty"`
	// Sent is what another program sent with the call that started it, in JSON.
	Sent  string   `json:"sent,omitempty"`
	Cause cause.ID `json:"cause"`
	// Trace is the run's trace.
	Trace cause.ID `json:"trace,omitempty"`
	Depth int      `json:"depth,omitempty"`
}

// Block is a list of steps that a run is within.
type Block struct {
	// Path is that of the list, such as do or do/2/then; Next is the index of the step that comes next.
	Path string `json:"path"`
	Next int    `json:"next"`
	// Round counts the rounds of a repeat or an each from 1; Members are the devices of an each.
	Round   int      `json:"round,omitempty"`
	Members []string `json:"members,omitempty"`
}

// Through is where a run is among values that it goes through.
type Through struct {
	Index int `json:"index"`
	// Back says that it goes to and fro, and is on its way back.
	Back bool `json:"back,omitempty"`
	// Last is what it wrote last: where something else stands, somebody has set it meanwhile.
	Last thing.Value `json:"last,omitzero"`
	Ends time.Time   `json:"ends"`
	// Notches is by how much the dial that sets its pace was turned since it began, right where positive.
	Notches float64 `json:"notches,omitempty"`
}

// Ramp is numbers on their way to others.
type Ramp struct {
	Began time.Time `json:"began"`
	Ends  time.Time `json:"ends"`
	Aims  []RampAim `json:"aims"`
	// Gap is the time between two values.
	Gap time.Duration `json:"gap"`
}

// RampAim is one number on its way. Last is what the ramp wrote last: where something else stands, somebody has set it
// meanwhile, and it is left to them.
type RampAim struct {
	Ref  thing.Ref   `json:"ref"`
	From float64     `json:"from"`
	To   float64     `json:"to"`
	Last thing.Value `json:"last,omitzero"`
}

// Enter lets the run go into a list of steps.
func (f *Frame) Enter(b Block) { f.Blocks = append(f.Blocks, b) }

// Member is the device whose turn it is in the innermost each around; "" in none.
func (f *Frame) Member() string {
	for i := len(f.Blocks) - 1; i >= 0; i-- {
		if b := &f.Blocks[i]; len(b.Members) > 0 {
			return b.Members[b.Round-1]
		}
	}
	return ""
}

// Clone returns a copy that shares nothing with f.
func (f *Frame) Clone() Frame {
	clone := *f
	clone.Blocks = slices.Clone(f.Blocks)
	for i := range clone.Blocks {
		clone.Blocks[i].Members = slices.Clone(clone.Blocks[i].Members)
	}
	if f.Awaits != nil {
		awaits := *f.Awaits
		clone.Awaits = &awaits
	}
	if f.Ramp != nil {
		ramp := *f.Ramp
		ramp.Aims = slices.Clone(ramp.Aims)
		clone.Ramp = &ramp
	}
	if f.Through != nil {
		through := *f.Through
		clone.Through = &through
	}
	clone.Remembered = light.CloneTargets(f.Remembered)
	return clone
}
