package engine

import (
	"fmt"
	"strconv"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/state"
	"amvek/core/thing"
)

// awaitAtMost bounds how long a run waits until a device has done what it was asked for: a shutter takes its time.
const awaitAtMost = 5 * time.Minute

// await lets a run wait until a property has done what it was asked for. It is false where that is so already;
// a run that has nothing to hope for is cut short.
func (e *Engine) await(r *ruleState, id uint64, ref thing.Ref, w why) bool {
	s, f := e.at(ref), r.frame(id)
	if s == nil || f == nil {
		return false
	}
	switch s.state.Certainty {
	case state.Pending:
	case state.Failed:
		e.cutShort(r, withRef(f, ref), "did not follow.", w)
		return true
	default:
		return false
	}
	f.Awaits, f.ResumeAt, f.Cause = &ref, e.now.Add(awaitAtMost), e.resolve(w)
	e.awaiting++
	e.schedule(timer{at: f.ResumeAt, kind: timerFrame, rule: r, frame: id})
	return true
}

func withRef(f *state.Frame, ref thing.Ref) *state.Frame {
	f.Awaits = &ref
	return f
}

// done tells the runs that wait for a property that it has done what it was asked for, or will not.
func (e *Engine) done(s *slot, w why) {
	if e.awaiting == 0 {
		return
	}
	e.awaiting = 0
	for _, r := range e.ruleOrder {
		var due []uint64
		for i := range r.state.Frames {
			switch f := &r.state.Frames[i]; {
			case f.Awaits == nil:
			case *f.Awaits != s.ref:
				e.awaiting++
			default:
				due = append(due, f.ID)
			}
		}
		for _, id := range due {
			f := r.frame(id)
			switch {
			case f == nil || f.Awaits == nil: // what went before it ended it
			case s.state.Certainty == state.Failed:
				e.cutShort(r, f, "did not follow.", w)
			default:
				f.Awaits, f.ResumeAt = nil, time.Time{}
				e.proceed(r, id, why{id: f.Cause, depth: f.Depth})
			}
		}
	}
}

// cutShort ends a run because a device did not do what the run waits for.
func (e *Engine) cutShort(r *ruleState, f *state.Frame, reason string, w why) {
	var ref thing.Ref
	if f.Awaits != nil {
		ref = *f.Awaits
	}
	if e.otherwise(r, f, w) {
		return
	}
	again := r.state.CutShort != ""
	r.state.CutShortAt, r.state.CutShort, r.state.CutShortDevice = e.now, reason, ref.Device
	e.closeTrace(r, f.Trace, state.CutOff, "cutShort")
	inner := e.follow(w, cause.Entry{Kind: cause.CutShort, Rule: r.id, Device: ref.Device, Name: ref.Name, Note: reason})
	if !again { // told once, until it has gone through again
		e.notify(Telling{Text: e.unfinished(r, f.At, ref, reason)}, inner)
	}
	e.endRun(r, f.ID, inner)
	e.touchRule(r)
}

// wentThrough takes that a run has taken all its steps.
func (r *ruleState) wentThrough() { r.state.CutShort, r.state.CutShortDevice = "", "" }

// otherwise lets a run take the steps that are meant for when a device has not followed; it is false where there are none.
func (e *Engine) otherwise(r *ruleState, f *state.Frame, w why) bool {
	step := stepAt(r, f.At)
	if f.Awaits == nil || step == nil || !step.UntilDone || len(step.Else) == 0 {
		return false
	}
	f.Awaits, f.ResumeAt = nil, time.Time{}
	f.Enter(state.Block{Path: f.At + "/else"})
	e.proceed(r, f.ID, w)
	return true
}

// unfinished says to the household that a rule has not done all that it was to do.
func (e *Engine) unfinished(r *ruleState, at string, ref thing.Ref, reason string) string {
	what := reason
	if d := e.devices[ref.Device]; d != nil {
		what = d.Title + " " + reason
	}
	return fmt.Sprintf("“%s” did not finish, at its step %s: %s Its later steps were not taken.", r.doc.Title, stepNumber(at), what)
}

// stepNumber says the path of a step as it is numbered in the editor: the third step within the second as 2.3.
func stepNumber(path string) string {
	var numbers []string
	for part := range strings.SplitSeq(path, "/") {
		if n, err := strconv.Atoi(part); err == nil {
			numbers = append(numbers, strconv.Itoa(n+1))
		}
	}
	return strings.Join(numbers, ".")
}
