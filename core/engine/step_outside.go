package engine

import (
	"amvek/core/cause"
	"amvek/core/rule"
	"amvek/core/state"
)

// The steps that reach outside the home, and scripts.
func init() {
	stepTakers[rule.StepScript] = stepTaker{run: (*Engine).runScript}
	stepTakers[rule.StepWeb] = reachesOut(func(e *Engine, step *rule.Step, call *Call) (note string) {
		call.Address, call.Body, call.OwnMachine = e.Told(step.Address), e.Told(step.Text), step.OwnMachine
		return call.Address
	})
	stepTakers[rule.StepPublish] = reachesOut(func(e *Engine, step *rule.Step, call *Call) (note string) {
		call.Topic, call.Body = e.Told(step.Topic), e.Told(step.Text)
		return call.Topic
	})
	stepTakers[rule.StepProgram] = reachesOut(func(e *Engine, step *rule.Step, call *Call) (note string) {
		for _, a := range step.Arguments {
			call.Arguments = append(call.Arguments, e.Told(a))
		}
		return step.Program
	})
}

// reachesOut is a step that has something done outside, and lets the run wait for the answer. What is to be done is put into
// the call, which is noted by a word.
func reachesOut(put func(e *Engine, step *rule.Step, call *Call) (note string)) stepTaker {
	return stepTaker{run: func(e *Engine, r *ruleState, f *state.Frame, step *rule.Step, w why) bool {
		call := &Call{Kind: step.Kind, Method: step.Method, Retain: step.Retain, Program: step.Program, Pick: step.Pick, Limit: step.Limit()}
		note := put(e, step, call)
		inner := e.follow(w, cause.Entry{Kind: cause.ReachedOut, Rule: r.id, Name: string(step.Kind), Note: note})
		f.Call = e.nextCommand
		e.nextCommand++
		e.out = append(e.out, Output{Kind: OutputCall, Command: f.Call, Rule: r.id, Call: call, Cause: inner.id})
		e.pause(r, f, call.Limit+answerSlack, inner)
		return true
	}}
}
