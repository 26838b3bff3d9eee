package engine

import (
	"slices"
	"strings"

	"amvek/core/cause"
	"amvek/core/state"
	"amvek/core/thing"
)

// How much is kept of what a rule did.
const (
	tracedSteps = 300 // of one run
	keptFlips   = 24  // of one rule
)

// Untraced makes the engine keep no traces, to measure what they cost.
func (e *Engine) Untraced() { e.untraced = true }

// flip remembers that a comparison of a rule became true or false.
func (e *Engine) flip(r *ruleState, path string, truth bool, v thing.Value) {
	if e.untraced {
		return
	}
	r.untold = min(r.untold+1, keptFlips)
	f := state.Flip{Path: path, At: e.now, Truth: truth, Value: v}
	if len(r.flips) < keptFlips {
		r.flips = append(r.flips, f)
		return
	}
	r.flips[r.oldest] = f
	r.oldest = (r.oldest + 1) % keptFlips
}

// latest returns the last so many flips of a rule, the latest last.
func (r *ruleState) latest(count int) []state.Flip {
	all := make([]state.Flip, count)
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
	t.Outcome = state.Running
	r.state.Open = append(r.state.Open, t)
	return id
}

func (e *Engine) newTrace(r *ruleState, id cause.ID, trigger string) state.Trace {
	t := state.Trace{ID: id, Rule: r.id, At: e.now, Trigger: trigger}
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
func (e *Engine) traced(r *ruleState, takes func(path string) bool) (all []state.TracedCondition) {
	count := 0
	for i := range r.program.Nodes {
		if takes(r.program.Nodes[i].Path) {
			count++
		}
	}
	if count == 0 {
		return nil
	}
	all = make([]state.TracedCondition, 0, count)
	for i := range r.program.Nodes {
		n := &r.program.Nodes[i]
		if !takes(n.Path) {
			continue
		}
		c := state.TracedCondition{Path: n.Path, Truth: n.Truth}
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
func (r *ruleState) openTraceOf(id cause.ID) *state.Trace {
	for i := range r.state.Open {
		if id != 0 && r.state.Open[i].ID == id {
			return &r.state.Open[i]
		}
	}
	return nil
}

// traceStep notes that a run takes a step, and returns its place in the trace, below 0 where it is not kept.
func (e *Engine) traceStep(r *ruleState, f *state.Frame, w why) (at int) {
	t := r.openTraceOf(f.Trace)
	if t == nil {
		return -1
	}
	if len(t.Steps) >= tracedSteps {
		t.Left++
		return -1
	}
	if t.Steps == nil {
		t.Steps = make([]state.TracedStep, 0, len(r.doc.Do))
	}
	step := state.TracedStep{Path: f.At, At: e.now, Cause: w.id, First: e.nextEntry}
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
func (e *Engine) closeTrace(r *ruleState, id cause.ID, outcome state.Outcome, reason string) {
	t := r.openTraceOf(id)
	if t == nil {
		return
	}
	done := *t
	done.Outcome, done.Reason, done.Ended = outcome, reason, e.now
	r.state.Open = slices.DeleteFunc(r.state.Open, func(t state.Trace) bool { return t.ID == id })
	e.passOn(&done)
}

// closeTraces ends all traces of a rule.
func (e *Engine) closeTraces(r *ruleState, outcome state.Outcome, reason string) {
	for len(r.state.Open) > 0 {
		e.closeTrace(r, r.state.Open[0].ID, outcome, reason)
	}
}

func (e *Engine) passOn(t *state.Trace) {
	for i := range t.Steps {
		if t.Steps[i].Next == 0 {
			t.Steps[i].Next = e.nextEntry // ended within that step
		}
	}
	e.out = append(e.out, Output{Kind: OutputTrace, Rule: t.Rule, Trace: t})
}
