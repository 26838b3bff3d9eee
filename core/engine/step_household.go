package engine

import (
	"cmp"
	"time"

	"amvek/core/rule"
	"amvek/core/state"
)

// The steps that tell the household something, and ask it.
func init() {
	stepTakers[rule.StepSay] = stepTaker{plain: func(e *Engine, step *rule.Step, by actor, w why) { e.announce(step, by.owner, w) }}
	stepTakers[rule.StepNotify] = stepTaker{plain: func(e *Engine, step *rule.Step, _ actor, w why) {
		e.notify(Telling{Text: e.Told(step.Text)}, w)
	}}
	stepTakers[rule.StepShow] = stepTaker{plain: func(e *Engine, step *rule.Step, _ actor, w why) {
		until := time.Time{}
		if step.ForSeconds > 0 {
			until = e.now.Add(rule.Seconds(step.ForSeconds))
		}
		e.notify(Telling{Text: e.Told(step.Text), Panels: cmp.Or(step.Dashboard, AllPanels), Until: until}, w)
	}}
	stepTakers[rule.StepQuestion] = stepTaker{run: func(e *Engine, r *ruleState, f *state.Frame, step *rule.Step, w why) bool {
		e.question(r, f, step, w)
		return true
	}}
}
