package engine

import (
	"slices"
	"strconv"
	"time"

	"amvek/core/rule"
	"amvek/core/state"
)

// The steps that wait, decide, and go round.
func init() {
	stepTakers[rule.StepWait] = stepTaker{run: (*Engine).wait}
	stepTakers[rule.StepUntil] = stepTaker{run: (*Engine).until}
	stepTakers[rule.StepTogether] = stepTaker{run: (*Engine).together}
	stepTakers[rule.StepIf] = stepTaker{run: func(_ *Engine, r *ruleState, f *state.Frame, _ *rule.Step, _ why) bool {
		branch := "/else"
		if r.program.Conditions[f.At].Truth {
			branch = "/then"
		}
		f.Enter(state.Block{Path: f.At + branch})
		return false
	}}
	stepTakers[rule.StepRepeat] = stepTaker{run: func(_ *Engine, r *ruleState, f *state.Frame, step *rule.Step, _ why) bool {
		if condition := r.program.Conditions[f.At]; step.Until || condition == nil || condition.Truth {
			f.Enter(state.Block{Path: f.At + "/do", Round: 1})
		}
		return false
	}}
	stepTakers[rule.StepEach] = stepTaker{run: func(e *Engine, _ *ruleState, f *state.Frame, step *rule.Step, _ why) bool {
		if devices := e.Devices(step.Group); len(devices) > 0 {
			f.Enter(state.Block{Path: f.At + "/do", Round: 1, Members: slices.Clone(devices)})
		}
		return false
	}}
	stepTakers[rule.StepOneOf] = stepTaker{run: func(e *Engine, r *ruleState, f *state.Frame, step *rule.Step, _ why) bool {
		pick := int(e.draw(r.chance()) * float64(len(step.Branches)))
		f.Enter(state.Block{Path: f.At + branchPath(pick)})
		return false
	}}
}

// wait lets a run wait for a time, fixed, by chance or worked out.
func (e *Engine) wait(r *ruleState, f *state.Frame, step *rule.Step, w why) (waits bool) {
	seconds := step.ForSeconds
	if step.Expression != "" {
		seconds = min(e.workedOut(step.Expression).Number, rule.LongestWait)
	}
	if step.ToSeconds > seconds {
		seconds += e.draw(r.chance()) * (step.ToSeconds - seconds)
	}
	if !(seconds > 0) {
		return false // of what is worked out: it goes on within this moment, and so counts among its steps
	}
	e.pause(r, f, rule.Seconds(seconds), w)
	return true
}

// until lets a run wait for a condition; it is false where that is true already.
func (e *Engine) until(r *ruleState, f *state.Frame, step *rule.Step, w why) (waits bool) {
	if r.program.Conditions[f.At].Truth {
		return false
	}
	f.Until, f.Cause = true, e.resolve(w)
	r.untils++
	if step.AtMostSeconds > 0 {
		e.pause(r, f, rule.Seconds(step.AtMostSeconds), w)
	}
	return true
}

// tooLong takes that a run has waited for a condition for as long as it may.
func (e *Engine) tooLong(r *ruleState, f *state.Frame, w why) {
	f.Until, f.ResumeAt = false, time.Time{}
	f.Enter(state.Block{Path: f.At + "/else"})
	e.proceed(r, f.ID, w)
}

// resumeUntils lets those runs go on that waited for a condition which is true now.
func (e *Engine) resumeUntils(r *ruleState, w why) {
	if r.untils == 0 {
		return
	}
	var due []uint64
	r.untils = 0
	for i := range r.state.Frames {
		switch f := &r.state.Frames[i]; {
		case !f.Until:
		case r.program.Conditions[f.At].Truth:
			due = append(due, f.ID)
		default:
			r.untils++
		}
	}
	for _, id := range due {
		if f := r.frame(id); f != nil {
			f.Until, f.ResumeAt = false, time.Time{}
			inner := w
			inner.depth = f.Depth
			e.proceed(r, id, inner)
		}
	}
}

func branchPath(i int) string { return "/branches/" + strconv.Itoa(i) + "/do" }

// together begins the branches of a step; it is true where the run waits for them.
func (e *Engine) together(r *ruleState, f *state.Frame, step *rule.Step, w why) (waits bool) {
	id, at, part, trace, sent := f.ID, f.At, f.Part, f.Trace, f.Sent
	f.Branches = len(step.Branches) + 1 // one more, so that it does not go on before all have begun
	for i := range step.Branches {
		branch := e.frame(r, part, at+branchPath(i), id, w)
		r.frame(branch).Trace, r.frame(branch).Sent = trace, sent
		e.proceed(r, branch, w)
	}
	f = r.frame(id)
	if f == nil {
		return true
	}
	f.Branches--
	f.Cause = e.resolve(w)
	return f.Branches > 0
}
