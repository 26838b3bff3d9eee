package engine

import (
	"amvek/core/rule"
	"amvek/core/state"
)

// The steps about other rules.
func init() {
	stepTakers[rule.StepRun] = stepTaker{plain: func(e *Engine, step *rule.Step, _ actor, w why) {
		if other := e.rules[step.Rule]; other != nil && other.live() {
			e.startRun(other, "", "", w)
		}
	}}
	stepTakers[rule.StepPause] = stepTaker{plain: func(e *Engine, step *rule.Step, by actor, w why) { e.pauseRule(step.Rule, by.owner, w) }}
	stepTakers[rule.StepResume] = stepTaker{plain: func(e *Engine, step *rule.Step, _ actor, w why) { e.resumeRule(step.Rule, w) }}
	stepTakers[rule.StepStop] = stepTaker{
		run: func(e *Engine, r *ruleState, f *state.Frame, step *rule.Step, w why) bool {
			if step.Rule == "" && step.Sequence == "" {
				e.endRun(r, f.ID, w)
				return true
			}
			e.plainStep(step, r.actor(), w)
			return false
		},
		plain: func(e *Engine, step *rule.Step, _ actor, w why) {
			if q := e.sequences[step.Sequence]; q != nil {
				e.stopSequence(q, w)
			}
			if other := e.rules[step.Rule]; other != nil {
				e.silence(other, w)
			}
		},
	}
}
