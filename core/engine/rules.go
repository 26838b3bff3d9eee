package engine

import (
	"fmt"
	"slices"
	"strconv"
	"time"

	"amvek/core/cause"
	"amvek/core/hold"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

type ruleState struct {
	// What a comparison touches that turns stands first, side by side.
	id      string
	flips   []state.Flip // what became true or false lately, in a ring
	oldest  int32        // of those, once there are as many as are kept
	untold  int32        // how many of those no trace has taken up
	dirty   bool
	changed bool // whether its state is to be kept anew
	gone    bool
	queued  bool

	doc        *rule.Rule
	uses       rule.Uses // what the document refers to
	program    *rule.Program
	problems   []rule.Problem
	state      state.RuleState
	wokenBy    why
	minute     int64
	firings    int                    // in that minute
	turnedAway bool                   // whether it was started while its gate is shut
	open       bool                   // whether the gate is, so that the rule acts at all
	weighers   []*weigher             // its conditions that are expressions
	held       []thing.Ref            // what it holds, in the order in which it took hold
	stayed     map[*rule.Lasting]bool // what has started it since it stays so
	signals    []string               // what its triggers listen to besides devices
	instant    uint64                 // in which it last took a step
	steps      int                    // how many it took in that
	// stepsInMinute is how many it took in the minute that is counted.
	stepsInMinute int
	untils        int // how many runs may wait until a condition is true, at most
}

func (r *ruleState) owner() string { return "rule:" + r.id }

func (r *ruleState) frame(id uint64) *state.Frame {
	for i := range r.state.Frames {
		if r.state.Frames[i].ID == id {
			return &r.state.Frames[i]
		}
	}
	return nil
}

func (r *ruleState) live() bool {
	return r.doc.Enabled && r.open && len(r.problems) == 0 && r.state.Stopped == "" && r.state.PausedBy == "" && !r.gone
}

// touchRule takes that the state of a rule changed, which is to be kept.
func (e *Engine) touchRule(r *ruleState) {
	r.changed = true
	e.showRule(r)
}

// showRule takes that what is shown of a rule changed: whether its conditions are so.
func (e *Engine) showRule(r *ruleState) {
	if !r.dirty && !r.gone {
		r.dirty = true
		e.dirtyRules = append(e.dirtyRules, r)
	}
}

func (e *Engine) wake(r *ruleState, w why) {
	e.showRule(r)
	if !r.queued {
		r.queued, r.wokenBy = true, w
		e.waiting = append(e.waiting, r)
	}
}

// evaluate moves a whenever rule to the phase that its conditions call for.
func (e *Engine) evaluate(r *ruleState, w why) {
	e.busyWith(KindRule, r.id)
	if e.loading || r.gone || r.program == nil || !e.look(r, w) || !r.doc.Lasts() || !r.live() {
		return
	}
	st := &r.state
	truth := r.program.Whenever.Truth
	provided := r.program.Provided == nil || r.program.Provided.Truth
	switch st.Phase {
	case state.Idle:
		if !truth {
			return
		}
		e.phase(r, state.Armed, r.doc.Formulas.Seconds(rule.FieldForAtLeast, r.doc.ForAtLeastSeconds, e.workedOut), w)
		if st.Deadline.IsZero() {
			e.tryBegin(r, provided, w)
		}
	case state.Armed:
		switch {
		case !truth:
			e.phase(r, state.Idle, 0, w)
		case st.Deadline.IsZero():
			e.tryBegin(r, provided, w)
		}
	case state.Holding:
		if truth {
			return
		}
		e.phase(r, state.Ending, r.doc.Formulas.Seconds(rule.FieldEndedFor, r.doc.EndedForAtLeastSeconds, e.workedOut), w)
		if st.Deadline.IsZero() {
			e.end(r, w)
		}
	case state.Ending:
		switch {
		case truth:
			e.phase(r, state.Holding, 0, w)
		case st.Deadline.IsZero():
			e.end(r, w)
		}
	}
}

// phase enters a phase. A duration above zero starts its clock, which is a reason to
// write down what started it.
func (e *Engine) phase(r *ruleState, to state.Phase, seconds float64, w why) {
	st := &r.state
	st.Phase, st.Since, st.Deadline = to, e.now, time.Time{}
	st.Cause = w.id
	if seconds > 0 {
		st.Cause = e.resolve(w)
		st.Deadline = e.now.Add(rule.Seconds(seconds))
		e.schedule(timer{at: st.Deadline, kind: timerPhase, rule: r, depth: w.depth})
	}
	e.touchRule(r)
}

func (e *Engine) tryBegin(r *ruleState, provided bool, w why) {
	if !provided {
		// Written once per arming, not at every change while it waits.
		if r.state.NotStartedAt.Before(r.state.Since) || r.state.NotStarted == "" {
			e.notStarted(r, "whenever", "provided", w)
		}
		return
	}
	if !e.allow(r, w) {
		return
	}
	inner := e.follow(w, cause.Entry{Kind: cause.Began, Rule: r.id})
	inner.depth++
	r.state.Remembered = nil
	e.phase(r, state.Holding, 0, inner)
	r.state.LastBegan, r.state.Runs = e.now, r.state.Runs+1
	e.newFrame(r, "do", e.openTrace(r, inner.id, "whenever"), "", inner)
}

func (e *Engine) notStarted(r *ruleState, trigger, reason string, w why) {
	r.state.NotStartedAt, r.state.NotStarted = e.now, reason
	entry := cause.Entry{Kind: cause.NotStarted, Rule: r.id, Note: reason}
	if reason == "provided" {
		if test := r.program.Failing("provided"); test != nil {
			entry.Device, entry.Name, entry.Value = test.Ref.Device, test.Ref.Name, e.at(test.Ref).Reported
		} else if span := r.program.OutsideTime("provided"); span != nil {
			entry.Note = "time"
			if span.Event != nil {
				entry.Note = "calendar"
			}
		}
	}
	inner := e.follow(w, entry)
	e.touchRule(r)
	if !e.untraced {
		t := e.newTrace(r, inner.id, trigger)
		t.Outcome, t.Reason, t.Ended = state.NotStarted, entry.Note, e.now
		e.passOn(&t)
	}
}

// end lets go of all that the rule holds and takes the steps meant for afterwards.
func (e *Engine) end(r *ruleState, w why) {
	inner := e.follow(w, cause.Entry{Kind: cause.Ended, Rule: r.id})
	inner.depth++
	for i := range r.state.Frames {
		r.passOnRemembered(&r.state.Frames[i])
	}
	r.state.Frames = nil
	e.phase(r, state.Idle, 0, inner)
	r.state.LastEnded = e.now
	e.release(r, inner)
	trace := cause.ID(0)
	for len(r.state.Open) > 1 {
		e.closeTrace(r, r.state.Open[0].ID, state.Finished, "") // of one that was run by hand meanwhile
	}
	if len(r.state.Open) > 0 {
		trace = r.state.Open[0].ID
	}
	if len(r.doc.Afterwards) > 0 {
		e.newFrame(r, "afterwards", trace, "", inner)
		return
	}
	e.closeTrace(r, trace, state.Finished, "")
}

// release lets go of all that a rule holds, in the order in which it took hold.
func (e *Engine) release(r *ruleState, w why) {
	held := r.held
	r.held = nil
	for _, ref := range held {
		if s := e.at(ref); s != nil && s.state.Stack.Release(r.owner()) {
			e.apply(s, rule.Seconds(r.doc.BackFadeSeconds), w)
		}
	}
}

// trigger starts a when rule, by one of its triggers, if it may start.
func (e *Engine) trigger(r *ruleState, index int, w why) {
	if e.loading || r.doc.Lasts() {
		return
	}
	trigger, sent := "when/"+strconv.Itoa(index), ""
	if r.doc.When[index].Kind == rule.OnCall {
		sent = e.sent
	}
	if r.state.Triggered == nil {
		r.state.Triggered = map[int]time.Time{}
	}
	r.state.Triggered[index] = e.now
	if !r.live() {
		// Once for each time that the gate is shut, not at every trigger.
		if r.doc.Enabled && !r.gone && len(r.problems) == 0 && r.state.Stopped == "" && !r.open && !r.turnedAway {
			r.turnedAway = true
			e.notStarted(r, trigger, "gate", w)
		}
		return
	}
	e.weighSent(r, "provided", sent)
	if r.program.Provided != nil && !r.program.Provided.Truth {
		e.notStarted(r, trigger, "provided", w)
		return
	}
	e.startRun(r, trigger, sent, w)
}

// startRun starts the steps by the rule's policy; trigger is the place of what started it, if any did, and sent what was
// sent with that.
func (e *Engine) startRun(r *ruleState, trigger, sent string, w why) {
	if !e.allow(r, w) {
		return
	}
	if running := r.running(); running > 0 {
		switch r.doc.Policy {
		case rule.Ignore:
			e.notStarted(r, trigger, "running", w)
			return
		case rule.Queue:
			if r.state.Queued+running >= MaximumRuns {
				e.notStarted(r, trigger, "tooMany", w)
				return
			}
			r.state.Queued++
			r.state.QueuedSent = append(r.state.QueuedSent, sent)
			e.touchRule(r)
			return
		case rule.SideBySide:
			if running >= MaximumRuns {
				e.notStarted(r, trigger, "tooMany", w)
				return
			}
		default:
			r.state.Frames = nil
			e.closeTraces(r, state.Replaced, "")
		}
	}
	inner := e.follow(w, cause.Entry{Kind: cause.Ran, Rule: r.id})
	inner.depth++
	r.state.LastBegan, r.state.Runs = e.now, r.state.Runs+1
	e.newFrame(r, "do", e.openTrace(r, inner.id, trigger), sent, inner)
}

// allow is the guard against rules that start each other for ever.
func (e *Engine) allow(r *ruleState, w why) bool {
	if w.depth >= MaximumChain {
		e.stop(r, "It is part of a chain of rules that does not end.", w)
		return false
	}
	e.minute(r)
	r.firings++
	if r.firings > MaximumFiringsPerMinute {
		e.stop(r, "It started too often within a minute.", w)
		return false
	}
	return true
}

// minute begins to count anew what a rule did, where another minute has begun.
func (e *Engine) minute(r *ruleState) {
	if minute := e.now.Unix() / 60; minute != r.minute {
		r.minute, r.firings, r.stepsInMinute = minute, 0, 0
	}
}

// stop ends a rule's runs and holds and keeps it from acting until the owner has looked.
func (e *Engine) stop(r *ruleState, reason string, w why) {
	r.state.Stopped = reason
	inner := e.follow(w, cause.Entry{Kind: cause.Stopped, Rule: r.id, Note: reason})
	e.notify(Telling{Text: fmt.Sprintf("The rule “%s” was stopped: %s It does nothing until you have looked at it.", r.doc.Title, reason)}, inner)
	e.silence(r, inner)
}

// silence ends what the rule has under way, without its steps for afterwards.
func (e *Engine) silence(r *ruleState, w why) {
	r.state.Frames, r.state.Queued, r.state.QueuedSent = nil, 0, nil
	e.closeTraces(r, state.Halted, r.state.Stopped)
	if r.state.Phase != state.Idle {
		e.phase(r, state.Idle, 0, w)
	}
	e.release(r, w)
	e.touchRule(r)
}

// aims returns the properties that a step is about: one, or those of a group; member is the device whose turn it is.
func (e *Engine) aims(step *rule.Step, member string) []*slot {
	switch {
	case step.Group != "":
		var all []*slot
		for _, ref := range e.Members(step.Group, step.Property) {
			all = append(all, e.at(ref))
		}
		return all
	case step.Device == rule.Member:
		if s := e.byRole(member, thing.Role(step.Property)); s != nil {
			return []*slot{s}
		}
		return nil
	}
	if s := e.find(step.Device, step.Property); s != nil {
		return []*slot{s}
	}
	return nil
}

// fitted returns what a property of a group's member is set to.
func (e *Engine) fitted(step *rule.Step, s *slot, v thing.Value) thing.Value {
	if step.Group != "" || step.Device == rule.Member {
		if s.property.Switches(v) && v.True() && !e.sourced(s, hold.OwnCurve).IsNone() {
			return v // it comes on as its day curve says, not full
		}
		return rule.Fit(s.property, v)
	}
	return v
}

func (e *Engine) set(s *slot, step *rule.Step, v thing.Value, by string, w why) {
	if v.IsNone() || !s.property.Writable || s.property.CheckSet(v) != nil {
		return
	}
	e.as(s, cause.By{}, step.Unattended, func() { e.write(s, v, false, by, rule.Seconds(step.FadeSeconds), w) })
}

// mode is the one that the house is in.
func (e *Engine) mode() thing.Value {
	if s := e.find(rule.OwnDevice, home.ModeProperty); s != nil {
		return s.Reported
	}
	return thing.Value{}
}

// keptBack reports whether automation does not start a scene in the mode that the house is in, and writes that down.
func (e *Engine) keptBack(scene *light.Scene, id string, w why) bool {
	mode := e.mode()
	if len(scene.Modes) == 0 || slices.Contains(scene.Modes, mode.Text) {
		return false
	}
	e.follow(w, cause.Entry{Kind: cause.KeptBack, Scene: id, Value: mode})
	return true
}
