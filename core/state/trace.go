package state

import (
	"slices"
	"time"

	"amvek/core/cause"
	"amvek/core/thing"
)

// Outcome says how a run came to its end.
type Outcome string

// The outcomes.
const (
	Running    Outcome = "running"
	Finished   Outcome = "finished"
	NotStarted Outcome = "notStarted"
	CutOff     Outcome = "cutOff" // a device did not follow, or it came too late
	Replaced   Outcome = "replaced"
	Halted     Outcome = "halted" // by a step, a guard, an edit, its gate
)

// Trace is what one run of a rule did, or why it did not run.
type Trace struct {
	// ID is that of the entry it began with, or of the one that says why it did not start.
	ID   cause.ID  `json:"id"`
	Rule string    `json:"rule"`
	At   time.Time `json:"at"`
	// Trigger is the place of the trigger that started it, such as when/0; absent where none did.
	Trigger string    `json:"trigger,omitempty"`
	Outcome Outcome   `json:"outcome" enum:"running,finished,notStarted,cutOff,replaced,halted"`
	Reason  string    `json:"reason,omitempty"`
	Ended   time.Time `json:"ended,omitzero"`
	// Conditions are how all conditions were at that instant, outer before inner.
	Conditions []TracedCondition `json:"conditions,omitempty"`
	// Flips are what became true or false shortly before, also for a moment only.
	Flips []Flip       `json:"flips,omitempty"`
	Steps []TracedStep `json:"steps,omitempty"`
	// Left is how many steps more were taken than are kept.
	Left int `json:"left,omitempty"`
}

// TracedCondition is how a condition was at one instant.
type TracedCondition struct {
	Path  string      `json:"path"`
	Truth bool        `json:"truth"`
	Value thing.Value `json:"value,omitzero"`
	Since time.Time   `json:"since,omitzero"`
}

// TracedStep is a step that was taken. What it did is in the journal, from the entry First to before Next, below Cause.
type TracedStep struct {
	Path  string    `json:"path"`
	At    time.Time `json:"at"`
	Round int       `json:"round,omitempty"`
	// Conditions are how those of the step were.
	Conditions []TracedCondition `json:"conditions,omitempty"`
	// Waited says that the run waited there.
	Waited bool     `json:"waited,omitempty"`
	Cause  cause.ID `json:"cause,omitempty"`
	First  cause.ID `json:"first"`
	Next   cause.ID `json:"next"`
}

// Flip is a comparison that became true or false.
type Flip struct {
	Path  string      `json:"path"`
	At    time.Time   `json:"at"`
	Truth bool        `json:"truth"`
	Value thing.Value `json:"value,omitzero"`
}

// Clone returns a copy that shares nothing with t.
func (t *Trace) Clone() Trace {
	clone := *t
	clone.Conditions, clone.Flips = slices.Clone(t.Conditions), slices.Clone(t.Flips)
	clone.Steps = slices.Clone(t.Steps)
	for i := range clone.Steps {
		clone.Steps[i].Conditions = slices.Clone(clone.Steps[i].Conditions)
	}
	return clone
}
