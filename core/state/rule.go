package state

import (
	"maps"
	"reflect"
	"slices"
	"time"

	"amvek/core/cause"
	"amvek/core/light"
)

// Phase says where a whenever rule stands.
type Phase string

// The phases.
const (
	Idle    Phase = "idle"    // its condition is false
	Armed   Phase = "armed"   // true, but not yet for long enough, or not provided
	Holding Phase = "holding" // it has begun and not let go
	Ending  Phase = "ending"  // false, but not yet for long enough to let go
)

// RuleState is all that a rule remembers.
type RuleState struct {
	Phase Phase `json:"phase" enum:"idle,armed,holding,ending"`
	// Since is when the phase began.
	Since time.Time `json:"since,omitzero"`
	// Deadline is when a running "for at least" is over.
	Deadline time.Time `json:"deadline,omitzero"`
	// Cause is what brought the present phase about.
	Cause  cause.ID `json:"cause,omitempty"`
	Frames []Frame  `json:"frames,omitempty"`
	// Lasting is since when conditions that must last are true, by their paths.
	Lasting map[string]LastingState `json:"lasting,omitempty"`
	// NextTimes are when time triggers come next, by their index.
	NextTimes map[int]time.Time `json:"nextTimes,omitempty"`
	Queued    int               `json:"queued,omitempty"`
	// QueuedSent is what was sent with the calls of those that wait, the next first.
	QueuedSent []string `json:"queuedSent,omitempty"`
	// Triggered is when each trigger last came, by its index, whether or not the rule then started.
	Triggered map[int]time.Time `json:"triggered,omitempty"`
	// LastTrue is when conditions last ceased to be true, by their paths. It is kept when there is time for it, and by
	// the program of a rule that has one.
	LastTrue map[string]time.Time `json:"lastTrue,omitempty"`
	// Open are the traces of runs that have not ended.
	Open []Trace `json:"open,omitempty"`

	// Remembered is how devices were, for the steps for afterwards of a rule that lasts.
	Remembered []light.Target `json:"remembered,omitempty"`

	// Draws counts what was left to chance.
	Draws uint64 `json:"draws,omitempty"`

	LastBegan time.Time `json:"lastBegan,omitzero"`
	LastEnded time.Time `json:"lastEnded,omitzero"`
	Runs      int       `json:"runs"`
	// NotStarted says when and why the rule last would have acted but did not.
	NotStartedAt time.Time `json:"notStartedAt,omitzero"`
	NotStarted   string    `json:"notStarted,omitempty"`
	// CutShort says when and why a run last ended before its steps did.
	CutShortAt time.Time `json:"cutShortAt,omitzero"`
	CutShort   string    `json:"cutShort,omitempty"`
	// CutShortDevice is the device that did not follow.
	CutShortDevice string `json:"cutShortDevice,omitempty"`
	// CallFailed says when and why a call outside last failed.
	CallFailedAt time.Time `json:"callFailedAt,omitzero"`
	CallFailed   string    `json:"callFailed,omitempty"`
	// PausedBy is the rule that keeps this one from acting, since PausedAt.
	PausedBy string    `json:"pausedBy,omitempty" doc:"Id of the rule that keeps this one from acting."`
	PausedAt time.Time `json:"pausedAt,omitzero"`
	// Stopped says why the rule was stopped by a guard; it acts again when edited or enabled anew.
	Stopped string `json:"stopped,omitempty"`
}

// Record returns what of the state is a record of what was, without what the rule is about to do: a rule that was removed and
// comes back goes on from it.
func (s RuleState) Record() RuleState {
	return RuleState{
		Phase: Idle, Draws: s.Draws, LastBegan: s.LastBegan, LastEnded: s.LastEnded, Runs: s.Runs,
		NotStartedAt: s.NotStartedAt, NotStarted: s.NotStarted, CutShortAt: s.CutShortAt, CutShort: s.CutShort,
		CutShortDevice: s.CutShortDevice, CallFailedAt: s.CallFailedAt, CallFailed: s.CallFailed,
	}
}

// LastingState is since when a condition that must last is true, and what made it so.
type LastingState struct {
	Since time.Time `json:"since"`
	Cause cause.ID  `json:"cause,omitempty"`
}

// ScheduleState is all that a schedule remembers.
type ScheduleState struct {
	Next    time.Time `json:"next,omitzero" doc:"When it comes next; absent when it does not."`
	LastRan time.Time `json:"lastRan,omitzero"`
	// Draws counts what was left to chance.
	Draws uint64 `json:"draws,omitempty"`
}

// SequenceState is how a sequence stands. It ends with the hub: lights must not go on moving that nobody started.
type SequenceState struct {
	Running bool `json:"running,omitempty"`
	// At is the index of the passage that it is at, since Since and until Until; without Until the last one stays.
	At    int       `json:"at,omitempty"`
	Since time.Time `json:"since,omitzero"`
	Until time.Time `json:"until,omitzero"`
}

// Clone returns a copy that shares nothing with r.
func (r *RuleState) Clone() RuleState {
	clone := *r
	clone.Frames = slices.Clone(r.Frames)
	for i := range clone.Frames {
		clone.Frames[i] = r.Frames[i].Clone()
	}
	clone.Open = slices.Clone(r.Open)
	for i := range clone.Open {
		clone.Open[i] = r.Open[i].Clone()
	}
	clone.QueuedSent = slices.Clone(r.QueuedSent)
	clone.Remembered = light.CloneTargets(r.Remembered)
	clone.Lasting, clone.NextTimes = maps.Clone(r.Lasting), maps.Clone(r.NextTimes)
	clone.Triggered, clone.LastTrue = maps.Clone(r.Triggered), maps.Clone(r.LastTrue)
	return clone
}

// Shift moves all that is remembered of when something was, and of when a while ends. When time triggers come next is by
// the time of day, and so stays.
func (r *RuleState) Shift(by time.Duration) {
	next := r.NextTimes
	r.NextTimes = nil
	shift(reflect.ValueOf(r), by)
	r.NextTimes = next
}

// Shift moves when the schedule last ran. When it comes next is by the time of day, and so stays.
func (s *ScheduleState) Shift(by time.Duration) { shift(reflect.ValueOf(&s.LastRan), by) }

// Shift moves when the present passage began and ends.
func (q *SequenceState) Shift(by time.Duration) { shift(reflect.ValueOf(q), by) }
