package state

import (
	"reflect"
	"time"

	"amvek/core/cause"
	"amvek/core/cover"
	"amvek/core/hold"
	"amvek/core/rhythm"
	"amvek/core/thing"
)

// Certainty says how far a property's value is known to be true.
type Certainty string

// The certainties.
const (
	Unknown   Certainty = "unknown"   // nothing was heard yet
	Confirmed Certainty = "confirmed" // the device says so
	Pending   Certainty = "pending"   // asked for, not yet confirmed
	Assumed   Certainty = "assumed"   // sent over a way that gives no answer
	Failed    Certainty = "failed"    // asked for, not done
)

// PropertyState is all that is known about one property.
type PropertyState struct {
	Reading
	Control
}

// Reading is what a device says about a property.
type Reading struct {
	Reported   thing.Value `json:"reported" doc:"What the device last said."`
	ReportedAt time.Time   `json:"reportedAt,omitzero"`
	ChangedAt  time.Time   `json:"changedAt,omitzero"`
	// ChangedBy is the entry from which the reported value came, 0 where none was written.
	ChangedBy cause.ID `json:"changedBy,omitempty"`
}

// Control is how far a reading is to be believed and, for writable properties, what is wanted and was asked for.
type Control struct {
	Certainty Certainty `json:"certainty" enum:"unknown,confirmed,pending,assumed,failed"`
	// Raw is what the device said before that was calibrated, none where it is taken as it comes.
	Raw thing.Value `json:"raw,omitzero"`

	// The rest is for writable properties.
	Stack hold.Stack `json:"stack"`
	// Target is what the device was last asked for, or is known to be at.
	Target thing.Value `json:"target,omitzero"`
	// LastOn is what a number was asked for before it was asked to be 0: what a lamp comes on with. 0 where that is not known.
	LastOn float64 `json:"lastOn,omitempty"`
	// ForNow is what it was at before it was set for now only; none where it was not.
	ForNow      thing.Value `json:"forNow,omitzero" doc:"What it is at again once the light was off."`
	Asked       cause.ID    `json:"asked,omitempty" doc:"Entry of the last command."`
	AskedAt     time.Time   `json:"askedAt,omitzero"`
	Command     uint64      `json:"command,omitempty"`
	SettleUntil time.Time   `json:"settleUntil,omitzero"`
	// FadeEnds is when a fade ends that the hub makes; zero while it makes none.
	FadeEnds time.Time   `json:"fadeEnds,omitzero"`
	Before   thing.Value `json:"before,omitzero"`
	Stray    thing.Value `json:"stray,omitzero"`
	// Interrupted says that the hub stopped before the command was confirmed: what the device says then may be its last
	// words from before, and is no hand's doing.
	Interrupted bool   `json:"interrupted,omitempty"`
	Depth       int    `json:"depth,omitempty"`
	Failure     string `json:"failure,omitempty"`
	Unreached   bool   `json:"unreached,omitempty"`
	// Milliseconds is the delay of the last confirmed command.
	Milliseconds float64 `json:"milliseconds,omitempty"`
	// Difference is open between hub and device; Disputes counts how often the value was set again.
	Difference *Difference `json:"difference,omitempty"`
	Disputes   Disputes    `json:"disputes,omitzero"`
	// Cover is where a shutter stands, for the property that is its position.
	Cover *cover.State `json:"cover,omitempty"`
}

// Aim takes what the property is asked for, or is known to be at, and keeps what it was on with.
func (c *Control) Aim(v thing.Value) {
	if v == thing.Number(0) && c.Target.Kind == thing.KindNumber && c.Target.Number > 0 {
		c.LastOn = c.Target.Number
	}
	c.Target = v
}

// Difference is an open question: a device is at another value than it should be, and nothing has settled it.
type Difference struct {
	Since time.Time `json:"since"`
	// Believed is what the hub believed or asked for; Found what the device says.
	Believed thing.Value `json:"believed"`
	Found    thing.Value `json:"found"`
	Cause    cause.ID    `json:"cause"`
	// Tries is how often the value was set again in vain.
	Tries int `json:"tries,omitempty"`
}

// Disputes counts how often a value was set again of late.
type Disputes struct {
	Since time.Time `json:"since,omitzero"`
	Count int       `json:"count,omitempty"`
}

// DeviceState is what is remembered of a device that speaks by itself: when it does, and whether it fell silent.
type DeviceState struct {
	Rhythm rhythm.Rhythm `json:"rhythm"`
	Silent bool          `json:"silent,omitempty"`
	// SilentSince is when its silence was noticed.
	SilentSince time.Time `json:"silentSince,omitzero"`
}

// Clone returns a copy that shares nothing with p.
func (p *PropertyState) Clone() PropertyState {
	clone := *p
	clone.Stack, clone.Cover = p.Stack.Clone(), p.Cover.Clone()
	if p.Difference != nil {
		difference := *p.Difference
		clone.Difference = &difference
	}
	return clone
}

// Shift moves all that is remembered of when something was, and of when it ends.
func (p *PropertyState) Shift(by time.Duration) { shift(reflect.ValueOf(p), by) }

// Clone returns a copy that shares nothing with d.
func (d *DeviceState) Clone() DeviceState {
	clone := *d
	clone.Rhythm = d.Rhythm.Clone()
	return clone
}

// Shift moves all that is remembered of when something was.
func (d *DeviceState) Shift(by time.Duration) { shift(reflect.ValueOf(d), by) }
