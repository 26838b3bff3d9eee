package engine

import (
	"math"
	"slices"
	"time"

	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// throughAtMost is how long a step goes through values where it does not say: the end of what it goes with may be lost.
const throughAtMost = time.Minute

// beginThrough begins to go through values, at the one after where the first property is; it is true where the run waits for that.
func (e *Engine) beginThrough(r *ruleState, f *state.Frame, step *rule.Step, w why) (waits bool) {
	aims := e.aims(step, f.Member())
	if len(aims) == 0 || len(step.Values) == 0 {
		return false
	}
	most := throughAtMost
	if step.AtMostSeconds > 0 {
		most = rule.Seconds(step.AtMostSeconds)
	}
	f.Through = &state.Through{Index: nearest(step.Values, aims[0]), Ends: e.now.Add(most)}
	e.goOnThrough(r, f.ID, w)
	return true
}

// nearest is the index of the value at which a property is, or is nearest to; -1 where it is at none.
func nearest(values []thing.Value, s *slot) int {
	at := s.state.Stack.Effective()
	if at.IsNone() {
		at = s.Reported
	}
	if at.Kind != thing.KindNumber {
		return slices.Index(values, at)
	}
	best, least := -1, math.Inf(1)
	for i, v := range values {
		if d := math.Abs(v.Number - at.Number); v.Kind == thing.KindNumber && d < least {
			best, least = i, d
		}
	}
	return best
}

// nextThrough returns the index of the value that comes after another, and whether it goes back from there.
func nextThrough(count, index int, back, toAndFro bool) (int, bool) {
	switch {
	case count == 1:
		return 0, false
	case !toAndFro:
		return (index + 1) % count, false
	case index < 0:
		return 0, false
	case back && index == 0:
		return 1, false
	case back:
		return index - 1, true
	case index >= count-1:
		return index - 1, true
	}
	return index + 1, false
}

// goOnThrough writes the next value, and lets the run go on once its time is over or somebody else has set all of it.
func (e *Engine) goOnThrough(r *ruleState, id uint64, w why) {
	f := r.frame(id)
	through, step := f.Through, stepAt(r, f.At)
	f.Through, f.ResumeAt = nil, time.Time{}
	if step == nil || len(step.Values) == 0 || !e.now.Before(through.Ends) {
		e.proceed(r, id, w)
		return
	}
	through.Index, through.Back = nextThrough(len(step.Values), min(through.Index, len(step.Values)-1), through.Back, step.ToAndFro)
	v := step.Values[through.Index]
	left := false
	for _, s := range e.aims(step, f.Member()) {
		if !through.Last.IsNone() && s.state.Stack.Base.Value != e.fitted(step, s, through.Last) {
			continue // somebody has set it meanwhile: it is left to them
		}
		left = true
		before, kept := s.state.Stack.Effective(), s.state.ForNow
		e.set(s, step, e.within(s, e.fitted(step, s, v)), r.owner(), w)
		if step.ForNow {
			if kept.IsNone() {
				kept = before
			}
			s.state.ForNow = kept
			e.touch(s)
		}
	}
	if f = r.frame(id); f == nil {
		return // what followed from it ended the run
	}
	if !left || step.Once {
		e.proceed(r, id, w)
		return
	}
	through.Last = v
	f.Through = through
	gap, _ := step.Gap(through.Notches)
	e.pause(r, f, min(rule.Seconds(gap), through.Ends.Sub(e.now)), w)
}

// paceBy makes what is gone through faster or slower for whose pace a dial was turned, from now on: also what is waited for now.
func (e *Engine) paceBy(dial thing.Ref, notches float64) {
	for _, r := range e.dials[dial] {
		for i := range r.state.Frames {
			f := &r.state.Frames[i]
			step := stepAt(r, f.At)
			if f.Through == nil || step == nil || step.Dial == nil || *step.Dial != dial {
				continue
			}
			before, _ := step.Gap(f.Through.Notches)
			gap, counted := step.Gap(f.Through.Notches + notches)
			f.Through.Notches = counted
			left := time.Duration(float64(f.ResumeAt.Sub(e.now)) * gap / before)
			f.ResumeAt = e.now.Add(max(left, ShortestWait))
			e.schedule(timer{at: f.ResumeAt, kind: timerFrame, rule: r, frame: f.ID})
			e.touchRule(r)
		}
	}
}

// dialsOf returns the dials by which the steps of a rule are paced, each once.
func dialsOf(doc *rule.Rule) (all []thing.Ref) {
	for _, steps := range [][]rule.Step{doc.Do, doc.Afterwards} {
		rule.Walk("", steps, func(_ string, s *rule.Step) {
			if s.Dial != nil && !slices.Contains(all, *s.Dial) {
				all = append(all, *s.Dial)
			}
		})
	}
	return all
}

// backFromNow brings what a device was set to only for now back to what it was before, as its light goes off: so it comes on
// with what it did before.
func (e *Engine) backFromNow(light *slot, w why) {
	slots := e.byDevice[light.ref.Device]
	for i := range slots {
		s := &slots[i]
		before := s.state.ForNow
		if before.IsNone() {
			continue
		}
		s.state.ForNow = thing.Value{}
		if s == light {
			if before.Kind == thing.KindNumber && before.Number > 0 {
				s.state.LastOn = before.Number
			}
			continue
		}
		e.write(s, before, false, "now", 0, w)
	}
}
