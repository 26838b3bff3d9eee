package engine

import (
	"slices"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// AllPanels stands for every panel where one is named by its dashboard.
const AllPanels = "all"

// Telling is something that the household is told.
type Telling struct {
	Text string `json:"text"`
	// Answers are those that a question can be given.
	Answers []string `json:"answers,omitempty"`
	// Panels are those that show it: of one dashboard, AllPanels, or none; until a time, or until somebody has seen it.
	Panels string    `json:"panels,omitempty"`
	Until  time.Time `json:"until,omitzero"`
}

// notify tells the household something, and returns the why of what follows.
func (e *Engine) notify(t Telling, w why) why {
	inner := e.follow(w, cause.Entry{Kind: cause.Notified, Note: t.Text})
	e.out = append(e.out, Output{Kind: OutputNotify, Telling: &t, Cause: inner.id})
	return inner
}

// question asks the household, and lets the run wait for an answer.
func (e *Engine) question(r *ruleState, f *state.Frame, step *rule.Step, w why) {
	t := Telling{Text: e.Told(step.Text), Panels: AllPanels}
	for i := range step.Branches {
		t.Answers = append(t.Answers, strings.TrimSpace(step.Branches[i].Answer))
	}
	if step.AtMostSeconds > 0 {
		t.Until = e.now.Add(rule.Seconds(step.AtMostSeconds))
	}
	f.Call = e.nextCommand
	e.nextCommand++
	call := f.Call
	inner := e.notify(t, w)
	e.out[len(e.out)-1].Command = call
	f.Cause = inner.id
	e.touchRule(r)
	if step.AtMostSeconds > 0 {
		e.pause(r, f, rule.Seconds(step.AtMostSeconds), inner)
	}
}

// Awaited reports whether a run waits for the answer to a call or a question.
func (e *Engine) Awaited(call uint64) bool {
	_, f := e.caller(call)
	return f != nil
}

// caller finds the run that waits for an answer.
func (e *Engine) caller(call uint64) (*ruleState, *state.Frame) {
	for _, r := range e.ruleOrder {
		for i := range r.state.Frames {
			if f := &r.state.Frames[i]; f.Call == call && call != 0 {
				return r, f
			}
		}
	}
	return nil, nil
}

// reply lets a run go on with what goes with an answer, or with what is done where nobody answers.
func (e *Engine) reply(r *ruleState, f *state.Frame, step *rule.Step, in *Input, w why) {
	f.Call, f.ResumeAt = 0, time.Time{}
	chosen := slices.IndexFunc(step.Branches, func(b rule.Branch) bool { return in.OK && strings.TrimSpace(b.Answer) == in.Words })
	if chosen >= 0 {
		origin := e.origin()
		origin.Kind, origin.Value, origin.By, origin.Note = cause.Answered, thing.Text(in.Words), in.Doer, ""
		e.inputEntry()
		f.Enter(state.Block{Path: f.At + branchPath(chosen)})
	} else {
		f.Enter(state.Block{Path: f.At + "/else"})
	}
	e.proceed(r, f.ID, w)
}
