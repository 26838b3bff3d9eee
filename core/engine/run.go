package engine

import (
	"hash/fnv"
	"slices"
	"strconv"
	"time"

	"amvek/core/cause"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/state"
)

// running counts the runs under way, without their branches.
func (r *ruleState) running() int {
	n := 0
	for i := range r.state.Frames {
		if r.state.Frames[i].Parent == 0 {
			n++
		}
	}
	return n
}

func (e *Engine) newFrame(r *ruleState, part string, trace cause.ID, sent string, w why) {
	id := e.frame(r, part, part, 0, w)
	f := r.frame(id)
	f.Trace, f.Sent = trace, sent
	if part == "afterwards" {
		f.Remembered, r.state.Remembered = r.state.Remembered, nil
	}
	e.proceed(r, id, w)
}

// frame adds a run, or a branch of one, that begins with the list of steps at a path.
func (e *Engine) frame(r *ruleState, part, path string, parent uint64, w why) uint64 {
	f := state.Frame{ID: e.nextFrame, Part: part, Began: e.now, Blocks: []state.Block{{Path: path}}, Parent: parent, Cause: w.id, Depth: w.depth}
	e.nextFrame++
	r.state.Frames = append(r.state.Frames, f)
	e.touchRule(r)
	return f.ID
}

// proceed takes a run's steps until it waits or ends.
func (e *Engine) proceed(r *ruleState, id uint64, w why) {
	e.touchRule(r)
	outer := e.sent
	defer func() { e.sent = outer }()
	for {
		e.busyWith(KindRule, r.id)
		f := r.frame(id)
		if f == nil || r.program == nil {
			return // ended by one of its own steps
		}
		e.sent = f.Sent
		if len(f.Blocks) == 0 {
			r.wentThrough()
			e.finishRun(r, id, w)
			return
		}
		b := &f.Blocks[len(f.Blocks)-1]
		steps := r.program.Lists[b.Path]
		if r.instant != e.instant {
			r.instant, r.steps = e.instant, 0
		}
		if r.steps++; r.steps > MaximumStepsPerInstant {
			e.stop(r, "It took too many steps at once.", w)
			return
		}
		if !e.paced(r) {
			e.stop(r, "It took too many steps within a minute.", w)
			return
		}
		if b.Next >= len(steps) {
			if e.leave(r, f, w) {
				return
			}
			continue
		}
		step := &steps[b.Next]
		f.At = b.Path + "/" + strconv.Itoa(b.Next)
		b.Next++
		if len(f.Blocks) == 1 {
			f.Step = b.Next
		}
		if step.Condition != nil {
			e.weighSent(r, f.At+"/condition", f.Sent)
		}
		trace, at := f.Trace, e.traceStep(r, f, w)
		waits := e.step(r, f, step.Resolved(e.workedOut), w)
		e.stepTaken(r, trace, at, waits)
		if waits {
			return
		}
	}
}

// paced reports whether a rule takes no more steps within a minute than it may.
func (e *Engine) paced(r *ruleState) bool {
	e.minute(r)
	r.stepsInMinute++
	return r.stepsInMinute <= MaximumStepsPerMinute
}

// pause lets a run wait for a time, and for the shortest wait at least.
func (e *Engine) pause(r *ruleState, f *state.Frame, d time.Duration, w why) {
	e.touchRule(r)
	f.ResumeAt, f.Cause = e.now.Add(max(d, ShortestWait)), e.resolve(w)
	e.schedule(timer{at: f.ResumeAt, kind: timerFrame, rule: r, frame: f.ID})
}

// leave takes that a run came to the end of a list: it goes round once more, or on after it. It is true where the run
// waits.
func (e *Engine) leave(r *ruleState, f *state.Frame, w why) (waits bool) {
	b := &f.Blocks[len(f.Blocks)-1]
	owner := r.program.Owners[b.Path]
	switch {
	case owner == nil || b.Round == 0:
	case owner.Kind == rule.StepEach:
		if b.Round < len(b.Members) {
			b.Round, b.Next = b.Round+1, 0
			if gap := owner.Resolved(e.workedOut).GapSeconds; gap > 0 {
				e.pause(r, f, rule.Seconds(gap), w)
				return true
			}
			return false
		}
	case e.goesRound(r, owner, b, r.program.Parents[b.Path]):
		b.Round, b.Next = b.Round+1, 0
		return false
	}
	f.Blocks = f.Blocks[:len(f.Blocks)-1]
	return false
}

// goesRound reports whether a repeat has another round after those that were begun.
func (e *Engine) goesRound(r *ruleState, step *rule.Step, b *state.Block, at string) bool {
	if step.Times > 0 && b.Round >= step.Times {
		return false
	}
	e.weighSent(r, at+"/condition", e.sent)
	condition := r.program.Conditions[at]
	return condition == nil || condition.Truth != step.Until
}

// chance is whose numbers are drawn by chance: each rule and each schedule has a sequence of its own, which goes on after
// a restart where it stood.
type chance struct {
	id    string
	draws *uint64
}

func (r *ruleState) chance() chance { return chance{r.id, &r.state.Draws} }

// draw returns a number from 0 to 1, without 1, by chance (SplitMix64; Steele, Lea and Flood 2014).
func (e *Engine) draw(by chance) float64 {
	*by.draws++
	hash := fnv.New64a()
	_, _ = hash.Write([]byte(by.id))
	z := e.seed + hash.Sum64() + *by.draws*0x9E3779B97F4A7C15
	z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9
	z = (z ^ (z >> 27)) * 0x94D049BB133111EB
	z ^= z >> 31
	return float64(z>>11) / (1 << 53)
}

// passOnRemembered keeps what a run of a rule that lasts remembers, for its steps for afterwards.
func (r *ruleState) passOnRemembered(f *state.Frame) {
	if !r.doc.Lasts() || f.Part != "do" {
		return
	}
	for _, t := range f.Remembered {
		r.state.Remembered = slices.DeleteFunc(r.state.Remembered, func(old light.Target) bool { return old.Device == t.Device && old.Property == t.Property })
		r.state.Remembered = append(r.state.Remembered, t)
	}
}

// finishRun takes that a run, or a branch of one, is over.
func (e *Engine) finishRun(r *ruleState, id uint64, w why) {
	f := r.frame(id)
	if f == nil {
		return
	}
	parent, trace := f.Parent, f.Trace
	r.passOnRemembered(f)
	r.state.Frames = slices.DeleteFunc(r.state.Frames, func(f state.Frame) bool { return f.ID == id })
	if parent != 0 {
		if p := r.frame(parent); p != nil {
			if p.Branches--; p.Branches == 0 {
				e.proceed(r, parent, w)
			}
		}
		return
	}
	if !r.doc.Lasts() {
		r.state.LastEnded = e.now
		e.closeTrace(r, trace, state.Finished, "")
	} else if r.state.Phase == state.Idle {
		e.closeTrace(r, trace, state.Finished, "") // its steps for afterwards are done
	}
	if r.state.Queued > 0 {
		r.state.Queued--
		sent := ""
		if len(r.state.QueuedSent) > 0 {
			sent, r.state.QueuedSent = r.state.QueuedSent[0], r.state.QueuedSent[1:]
		}
		e.startRun(r, "", sent, w)
	}
}

// endRun ends a whole run, with all of its branches.
func (e *Engine) endRun(r *ruleState, id uint64, w why) {
	for f := r.frame(id); f != nil && f.Parent != 0; f = r.frame(id) {
		id = f.Parent
	}
	gone := map[uint64]bool{id: true}
	// A branch always comes after the run that it belongs to.
	r.state.Frames = slices.DeleteFunc(r.state.Frames, func(f state.Frame) bool {
		if gone[f.Parent] {
			gone[f.ID] = true
		}
		return gone[f.ID] && f.ID != id
	})
	e.touchRule(r)
	e.finishRun(r, id, w)
}
