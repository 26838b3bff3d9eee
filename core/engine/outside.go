package engine

import (
	"strconv"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// answerSlack is for how long beyond a call's own limit a run waits: only a hub that was off takes longer.
const answerSlack = 5 * time.Second

// answered takes what became of a call.
func (e *Engine) answered(in *Input) {
	if r, f := e.caller(in.Command); f != nil {
		e.begin(cause.Entry{Kind: cause.Answered, Parent: f.Cause, Rule: r.id, Note: in.Reason})
		e.goOnWith(r, f, in, why{depth: f.Depth})
	}
}

// goOnWith lets a run go on after a call: the answer goes into a variable, and what is done otherwise is done where
// it failed.
func (e *Engine) goOnWith(r *ruleState, f *state.Frame, in *Input, w why) {
	if r.program == nil {
		return
	}
	if step := stepAt(r, f.At); step != nil && step.Kind == rule.StepQuestion {
		e.reply(r, f, step, in, w)
		return
	}
	f.Call, f.ResumeAt = 0, time.Time{}
	id, at := f.ID, f.At
	origin := e.origin()
	origin.Kind, origin.Note = cause.Answered, in.Reason
	if in.OK {
		e.origin().Note = ""
	}
	e.inputEntry()
	w.id = e.inputID
	if step := stepAt(r, at); step != nil {
		reason := in.Reason
		if in.OK && step.Into != "" {
			reason = e.setAnswer(step.Into, in.Words, r.owner(), w)
		}
		f = r.frame(id)
		if f == nil {
			return // what followed from the variable ended the run
		}
		if !in.OK || reason != "" {
			r.state.CallFailedAt, r.state.CallFailed = e.now, reason
			e.touchRule(r)
			f.Enter(state.Block{Path: at + "/else"})
		} else {
			r.state.CallFailed = ""
		}
	}
	e.proceed(r, id, w)
}

// stepAt returns the step at a path, nil where there is none.
func stepAt(r *ruleState, path string) *rule.Step {
	i := strings.LastIndexByte(path, '/')
	if i < 0 {
		return nil
	}
	n, err := strconv.Atoi(path[i+1:])
	steps := r.program.Lists[path[:i]]
	if err != nil || n < 0 || n >= len(steps) {
		return nil
	}
	return &steps[n]
}

// setAnswer puts an answer into a variable, and says why it does not fit, if it does not.
func (e *Engine) setAnswer(variable, words, by string, w why) (reason string) {
	s := e.find(rule.OwnDevice, variable)
	if s == nil || !s.property.Writable {
		return "the variable for its answer is gone."
	}
	words = strings.TrimSpace(words)
	var v thing.Value
	switch s.property.Type {
	case thing.TypeNumber:
		n, err := strconv.ParseFloat(words, 64)
		if err != nil {
			return "its answer is no number."
		}
		v = thing.Number(n)
	case thing.TypeBoolean:
		switch strings.ToLower(words) {
		case "true", "yes", "on", "1":
			v = thing.Boolean(true)
		case "false", "no", "off", "0":
			v = thing.Boolean(false)
		default:
			return "its answer is neither yes nor no."
		}
	default:
		v = thing.Text(words)
	}
	if err := s.property.Check(v); err != nil {
		return "its answer does not fit: " + err.Error() + "."
	}
	e.write(s, v, false, by, 0, w)
	return ""
}

// announce lets speakers say something, also what they said before.
func (e *Engine) announce(step *rule.Step, by string, w why) {
	text := strings.Join(strings.Fields(e.Told(step.Text)), " ") // a line, as it is spoken
	for _, s := range e.aims(step, "") {
		if s.property.Type != thing.TypeText || !s.property.Writable {
			continue
		}
		again := e.commandAgain
		e.write(s, thing.Text(text), false, by, 0, w)
		if s.state.Target == thing.Text(text) && s.state.AskedAt.Before(e.now) {
			e.commandAgain = true
			e.apply(s, 0, w)
		}
		e.commandAgain = again
	}
}
