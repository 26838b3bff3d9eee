package engine

import (
	"slices"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/thing"
)

// How much is kept of what a rule did.
const (
	tracedSteps = 300 // of one run
	keptFlips   = 24  // of one rule
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

// Untraced makes the engine keep no traces, to measure what they cost.
func (e *Engine) Untraced() { e.untraced = true }

// flip remembers that a comparison of a rule became true or false.
func (e *Engine) flip(r *ruleState, path string, truth bool, v thing.Value) {
	if e.untraced {
		return
	}
	r.untold = min(r.untold+1, keptFlips)
	f := Flip{Path: path, At: e.now, Truth: truth, Value: v}
	if len(r.flips) < keptFlips {
		r.flips = append(r.flips, f)
		return
	}
	r.flips[r.oldest] = f
	r.oldest = (r.oldest + 1) % keptFlips
}

// latest returns the last so many flips of a rule, the latest last.
func (r *ruleState) latest(count int) []Flip {
	all := make([]Flip, count)
	for i := range all {
		all[i] = r.flips[(int(r.oldest)+len(r.flips)-count+i)%len(r.flips)]
	}
	return all
}

// openTrace opens the trace of a run, and says its id.
func (e *Engine) openTrace(r *ruleState, id cause.ID, trigger string) cause.ID {
	if e.untraced {
		return 0
	}
	t := e.newTrace(r, id, trigger)
	t.Outcome = Running
	r.state.Open = append(r.state.Open, t)
	return id
}

func (e *Engine) newTrace(r *ruleState, id cause.ID, trigger string) Trace {
	t := Trace{ID: id, Rule: r.id, At: e.now, Trigger: trigger}
	if r.program != nil {
		t.Conditions = e.traced(r, func(path string) bool { return !ofStep(path) })
	}
	t.Flips = r.latest(int(r.untold))
	r.untold = 0
	return t
}

// ofStep reports whether a condition is of a step, so that it counts only when that step is taken.
func ofStep(path string) bool {
	return strings.HasPrefix(path, "do/") || strings.HasPrefix(path, "afterwards/")
}

// traced returns how those conditions of a rule are now that a choice takes.
func (e *Engine) traced(r *ruleState, takes func(path string) bool) (all []TracedCondition) {
	count := 0
	for i := range r.program.Nodes {
		if takes(r.program.Nodes[i].Path) {
			count++
		}
	}
	if count == 0 {
		return nil
	}
	all = make([]TracedCondition, 0, count)
	for i := range r.program.Nodes {
		n := &r.program.Nodes[i]
		if !takes(n.Path) {
			continue
		}
		c := TracedCondition{Path: n.Path, Truth: n.Truth}
		switch {
		case n.Test != nil:
			c.Value, c.Since = e.at(n.Test.Ref).Reported, n.Test.Since
		case n.Formula != nil:
			c.Since = n.Formula.Since
		case n.Span != nil:
			c.Since = n.Span.Since
		}
		all = append(all, c)
	}
	return all
}

// openTraceOf returns an open trace, nil where there is none.
func (r *ruleState) openTraceOf(id cause.ID) *Trace {
	for i := range r.state.Open {
		if id != 0 && r.state.Open[i].ID == id {
			return &r.state.Open[i]
		}
	}
	return nil
}

// traceStep notes that a run takes a step, and returns its place in the trace, below 0 where it is not kept.
func (e *Engine) traceStep(r *ruleState, f *Frame, w why) (at int) {
	t := r.openTraceOf(f.Trace)
	if t == nil {
		return -1
	}
	if len(t.Steps) >= tracedSteps {
		t.Left++
		return -1
	}
	if t.Steps == nil {
		t.Steps = make([]TracedStep, 0, len(r.doc.Do))
	}
	step := TracedStep{Path: f.At, At: e.now, Cause: w.id, First: e.nextEntry}
	if b := &f.Blocks[len(f.Blocks)-1]; b.Round > 0 {
		step.Round = b.Round
	}
	if r.program.Conditions[f.At] != nil {
		inner := f.At + "/condition"
		step.Conditions = e.traced(r, func(path string) bool { return path == inner || strings.HasPrefix(path, inner+"/") })
	}
	t.Steps = append(t.Steps, step)
	return len(t.Steps) - 1
}

// stepTaken notes that a step is taken, of a trace that may have ended by it.
func (e *Engine) stepTaken(r *ruleState, id cause.ID, at int, waits bool) {
	if at < 0 {
		return
	}
	if t := r.openTraceOf(id); t != nil {
		t.Steps[at].Next, t.Steps[at].Waited = e.nextEntry, waits
	}
}

// closeTrace ends a trace and hands it out.
func (e *Engine) closeTrace(r *ruleState, id cause.ID, outcome Outcome, reason string) {
	t := r.openTraceOf(id)
	if t == nil {
		return
	}
	done := *t
	done.Outcome, done.Reason, done.Ended = outcome, reason, e.now
	r.state.Open = slices.DeleteFunc(r.state.Open, func(t Trace) bool { return t.ID == id })
	e.hand(&done)
}

// closeTraces ends all traces of a rule.
func (e *Engine) closeTraces(r *ruleState, outcome Outcome, reason string) {
	for len(r.state.Open) > 0 {
		e.closeTrace(r, r.state.Open[0].ID, outcome, reason)
	}
}

func (e *Engine) hand(t *Trace) {
	for i := range t.Steps {
		if t.Steps[i].Next == 0 {
			t.Steps[i].Next = e.nextEntry // ended within that step
		}
	}
	e.out = append(e.out, Output{Kind: OutputTrace, Rule: t.Rule, Trace: t})
}
