package engine

import (
	"hash/fnv"
	"math"
	"slices"
	"strconv"
	"time"

	"amvek/core/cause"
	"amvek/core/hold"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
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

// step takes one step; it is true where the run then waits, or is over.
func (e *Engine) step(r *ruleState, f *state.Frame, step *rule.Step, w why) (waits bool) {
	switch step.Kind {
	case rule.StepSet:
		return e.setting(r, f, step, w)
	case rule.StepHold:
		e.holding(r, f, step, w)
	case rule.StepRamp:
		return e.beginRamp(r, f, step, w)
	case rule.StepScript:
		return e.runScript(r, f, step, w)
	case rule.StepWait:
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
	case rule.StepUntil:
		return e.until(r, f, step, w)
	case rule.StepIf:
		branch := "/else"
		if r.program.Conditions[f.At].Truth {
			branch = "/then"
		}
		f.Enter(state.Block{Path: f.At + branch})
	case rule.StepRepeat:
		condition := r.program.Conditions[f.At]
		if step.Until || condition == nil || condition.Truth {
			f.Enter(state.Block{Path: f.At + "/do", Round: 1})
		}
	case rule.StepEach:
		if devices := e.Devices(step.Group); len(devices) > 0 {
			f.Enter(state.Block{Path: f.At + "/do", Round: 1, Members: slices.Clone(devices)})
		}
	case rule.StepTogether:
		return e.together(r, f, step, w)
	case rule.StepOneOf:
		pick := int(e.draw(r.chance()) * float64(len(step.Branches)))
		f.Enter(state.Block{Path: f.At + branchPath(pick)})
	case rule.StepRemember:
		e.remember(f, step)
	case rule.StepPutBack:
		e.putBack(r, f, step, w)
	case rule.StepAction:
		if step.Into != "" {
			return e.askAndWait(r, f, step, w)
		}
		e.askAll(step, f.Member(), w)
	case rule.StepPlay:
		e.play(step, f.Member(), w)
	case rule.StepWeb, rule.StepPublish, rule.StepProgram:
		e.reachOut(r, f, step, w)
		return true
	case rule.StepQuestion:
		e.question(r, f, step, w)
		return true
	case rule.StepStop:
		if step.Rule == "" && step.Sequence == "" {
			e.endRun(r, f.ID, w)
			return true
		}
		e.plainStep(step, r.owner(), w)
	default:
		e.plainStep(step, r.owner(), w)
	}
	return false
}

// setting writes what a step sets; it is true where the run waits until that is done.
func (e *Engine) setting(r *ruleState, f *state.Frame, step *rule.Step, w why) (waits bool) {
	id := f.ID
	aims := e.aims(step, f.Member())
	for _, s := range aims {
		if v := e.valueOf(r.chance(), step, s); !v.IsNone() {
			e.set(s, step, v, r.owner(), w)
		}
		if f = r.frame(id); f == nil {
			return true // what followed from it ended the run
		}
	}
	if step.UntilDone && len(aims) == 1 {
		return e.await(r, id, aims[0].ref, w)
	}
	return false
}

// valueOf returns the value that a step gives to a property: as it says, by chance, by an amount, or another's.
func (e *Engine) valueOf(by chance, step *rule.Step, s *slot) thing.Value {
	v := e.fitted(step, s, step.Value)
	if step.Expression != "" {
		return e.within(s, e.fitted(step, s, e.workedOut(step.Expression)))
	}
	if step.From != nil {
		from := e.at(*step.From)
		if from == nil {
			return thing.Value{}
		}
		return e.within(s, from.Reported)
	}
	if !step.To.IsNone() && v.Kind == thing.KindNumber {
		v.Number += e.draw(by) * (step.To.Number - v.Number)
		if grain := s.property.Resolution; grain > 0 {
			v.Number = math.Round(v.Number/grain) * grain
		}
	}
	if step.By {
		now := s.state.Stack.Effective()
		if now.Kind != thing.KindNumber {
			now = s.Reported
		}
		if now.Kind != thing.KindNumber {
			return thing.Value{}
		}
		v.Number += now.Number
	}
	return e.within(s, v)
}

// within brings a number into the range of a property.
func (e *Engine) within(s *slot, v thing.Value) thing.Value {
	if v.Kind == thing.KindNumber && s.number {
		v.Number = min(max(v.Number, s.minimum), s.maximum)
	}
	return v
}

func (e *Engine) holding(r *ruleState, f *state.Frame, step *rule.Step, w why) {
	if step.Scene != "" {
		e.holdScene(r, step, w)
		return
	}
	for _, s := range e.aims(step, f.Member()) {
		e.holdAt(r, step, s, e.valueOf(r.chance(), step, s), rule.Seconds(step.FadeSeconds), w)
	}
}

// holdScene holds each value of a scene, which goes when the rule lets go.
func (e *Engine) holdScene(r *ruleState, step *rule.Step, w why) {
	scene := e.scenes[step.Scene]
	if scene == nil || e.keptBack(scene, step.Scene, w) {
		return
	}
	inner := e.follow(w, cause.Entry{Kind: cause.Applied, Scene: step.Scene})
	scene = e.sceneNow(scene)
	fade := scene.Fade()
	if step.FadeSeconds > 0 {
		fade = rule.Seconds(step.FadeSeconds)
	}
	e.yieldLights(scene.Targets, nil, fade, inner)
	for _, t := range scene.Targets {
		if s := e.find(t.Device, t.Property); s != nil {
			e.holdAt(r, step, s, t.Value, fade, inner)
		}
	}
}

// holdAt lays a hold of a rule on a property.
func (e *Engine) holdAt(r *ruleState, step *rule.Step, s *slot, v thing.Value, fade time.Duration, w why) {
	if !r.doc.Lasts() && step.ForSeconds <= 0 {
		return // how long was to be worked out, and is not known
	}
	if v.IsNone() || !s.property.Writable || s.property.Check(v) != nil {
		return
	}
	h := hold.Hold{Owner: r.owner(), Level: hold.Rule, Value: v, Since: e.now, Cause: e.resolve(w), Unattended: step.Unattended, Firm: step.Firm == rule.Firm}
	if step.Firm == rule.Safety {
		h.Level = hold.Safety
	}
	if step.ForSeconds > 0 {
		h.Until = e.now.Add(rule.Seconds(step.ForSeconds))
		e.schedule(timer{at: h.Until, kind: timerHold, slot: s, owner: h.Owner, depth: w.depth})
	}
	s.state.Stack.Place(h)
	if !slices.Contains(r.held, s.ref) {
		r.held = append(r.held, s.ref)
	}
	e.apply(s, fade, w)
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

// remember keeps how devices are, for a later step of the run.
func (e *Engine) remember(f *state.Frame, step *rule.Step) {
	devices := e.about(f, step)
	f.Remembered = slices.DeleteFunc(f.Remembered, func(t light.Target) bool { return slices.Contains(devices, t.Device) })
	f.Remembered = append(f.Remembered, e.Capture(devices)...)
}

// putBack writes what the run remembers of devices.
func (e *Engine) putBack(r *ruleState, f *state.Frame, step *rule.Step, w why) {
	devices := e.about(f, step)
	var targets []light.Target
	for _, t := range f.Remembered {
		if slices.Contains(devices, t.Device) {
			targets = append(targets, t)
		}
	}
	e.applyTargets(targets, rule.Seconds(step.FadeSeconds), false, r.owner(), w)
}

// about returns the devices that a step is about.
func (e *Engine) about(f *state.Frame, step *rule.Step) []string {
	switch {
	case step.Scene != "":
		if scene := e.scenes[step.Scene]; scene != nil {
			return scene.Devices()
		}
		return nil
	case step.Group != "":
		return e.Devices(step.Group)
	case step.Device == rule.Member:
		return []string{f.Member()}
	default:
		return []string{step.Device}
	}
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

// keepRemembered keeps what a run of a rule that lasts remembers, for its steps for afterwards.
func (r *ruleState) keepRemembered(f *state.Frame) {
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
	r.keepRemembered(f)
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
