// Package views computes what is shown of a home: how each definition stands, what a device needs, what happened and what a
// rule did, in words. It reads a home through a [Reader] and changes nothing; it has no clock of its own, no goroutine and no
// I/O, and knows neither connections nor browsers.
package views

import (
	"time"

	"amvek/core/almanac"
	"amvek/core/battery"
	"amvek/core/check"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rhythm"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// Reader is a home as it stands, to be read only. It is as safe for several goroutines as what it reads, which in the hub is
// read in the loop.
type Reader struct {
	Engine      Engine
	Definitions *docs.Set
	Links       Links
	Kept        Kept
	Now         func() time.Time
}

// Engine is what of the engine is read; [engine.Engine] implements it.
type Engine interface {
	Property(device, name string) *thing.Property
	PropertyState(ref thing.Ref) (state.PropertyState, bool)
	Action(device, name string) *thing.Action
	Members(group, role string) []thing.Ref
	Devices(set string) []string
	DeviceState(device string) (state.DeviceState, rhythm.Learned, bool)
	FellSilent(device string) bool
	Counts(ref thing.Ref) bool
	Aside(ref thing.Ref) bool
	InEffect(scene *light.Scene) bool
	// InCurve returns the day curve that a property follows now; it is false where it follows none.
	InCurve(ref thing.Ref) (id string, is bool)
	// CurveOf returns the day curve that a lamp follows once it is switched on; "" for none.
	CurveOf(device string) string
	// SceneLaid returns since when a scene lies on top of what is on; it is false where it does not.
	SceneLaid(id string) (since time.Time, laid bool)
	RuleView(id string) (engine.RuleView, bool)
	ScheduleView(id string) (state.ScheduleState, []rule.Problem, bool)
	SequenceView(id string) (state.SequenceState, bool)
	LinkView(id string) (engine.LinkView, bool)
	MirrorView(id string) (engine.MirrorView, bool)
	RoomLightView(id string) (engine.RoomLightView, bool)
	Next(at almanac.Daily, dates int) []time.Time
	Moment() time.Time
}

// Links tells how devices are reached.
type Links interface {
	// Unreached reports whether a device cannot be reached, and why.
	Unreached(d *home.Device) (unreached bool, reason string)
	// LeftBy says who no longer lists a device, "" where it is listed or nobody lists devices.
	LeftBy(d *home.Device) string
	// Firmware is what a device announced of its own, "" where it did not.
	Firmware(d *home.Device) string
	// ConnectionTitle is what a connection is called, "" for one that is not at work.
	ConnectionTitle(id string) string
}

// Kept is what the hub keeps beside the definitions.
type Kept interface {
	// TitleOf is what a definition is or was called, "" for one that never was.
	TitleOf(id string) string
	// Undone are the actions of a device that it did not carry out when it was asked last, with why.
	Undone(device string) []Undone
	// AddedAt is when a device came into the home.
	AddedAt(device string) time.Time
	// Projected is when a device's battery will be empty.
	Projected(device string) (battery.Projection, bool)
	// FindingsOf are what was found in a rule.
	FindingsOf(rule string) []check.Finding
	// DraftOf is the draft of a rule, nil where nobody works on it.
	DraftOf(rule string) *DraftNote
	// ReadOf is what was last read of a calendar.
	ReadOf(calendar string) CalendarRead
}

// Undone is an action that a device did not carry out when it was asked last.
type Undone struct {
	Action string    `json:"action"`
	Reason string    `json:"reason"`
	At     time.Time `json:"at"`
}

// CalendarRead is what was last read of a calendar, and how that went.
type CalendarRead struct {
	At      time.Time
	Failed  string
	Skipped []string
	Entries []almanac.Entry
}

// Title returns what a definition is or was called, its id where it never was.
func (r *Reader) Title(id string) string {
	if t := r.Kept.TitleOf(id); t != "" {
		return t
	}
	return id
}
