package engine

import (
	"amvek/core/rule"
	"amvek/core/state"
)

// actor is who takes a step: as owner of what it writes and holds, and whose numbers are drawn by chance.
type actor struct {
	owner  string
	chance chance
}

func (r *ruleState) actor() actor { return actor{r.owner(), r.chance()} }

// stepTaker says what a kind of step does. Each kind is in the file of its family (step_….go), as its description is in
// [amvek/core/rule] and its words in [amvek/core/tell].
type stepTaker struct {
	// run takes a step of a run; it is true where the run then waits, or is over. It is nil for steps that need no run.
	run func(e *Engine, r *ruleState, f *state.Frame, step *rule.Step, w why) (waits bool)
	// plain takes a step that is alike in rules and schedules; it is nil for those that need a run.
	plain func(e *Engine, step *rule.Step, by actor, w why)
}

// stepTakers are the kinds of step. Each file of a family adds its own.
var stepTakers = map[rule.StepKind]stepTaker{}

// step takes one step of a run; it is true where the run then waits, or is over.
func (e *Engine) step(r *ruleState, f *state.Frame, step *rule.Step, w why) (waits bool) {
	taker := stepTakers[step.Kind]
	if taker.run != nil {
		return taker.run(e, r, f, step, w)
	}
	e.plainStep(step, r.actor(), w)
	return false
}

// plainStep takes a step that is alike in rules and schedules.
func (e *Engine) plainStep(step *rule.Step, by actor, w why) {
	if plain := stepTakers[step.Kind].plain; plain != nil {
		plain(e, step, by, w)
	}
}

// triggerListener lets a kind of trigger be noticed by the engine.
type triggerListener struct {
	// bind lets a rule's trigger, by its number, be noticed.
	bind func(e *Engine, r *ruleState, index int)
}

// triggerListeners are the kinds of trigger.
var triggerListeners = map[rule.TriggerKind]triggerListener{}

func init() {
	signals := func(names func(e *Engine, t *rule.Trigger) []string) triggerListener {
		return triggerListener{bind: func(e *Engine, r *ruleState, index int) {
			for _, name := range names(e, &r.doc.When[index]) {
				e.signals[name] = append(e.signals[name], trigger{rule: r, index: index})
				r.signals = append(r.signals, name)
			}
		}}
	}
	triggerListeners[rule.OnTime] = triggerListener{bind: (*Engine).planTrigger}
	triggerListeners[rule.OnEntry] = triggerListener{bind: (*Engine).planTrigger}
	triggerListeners[rule.OnDevice] = triggerListener{bind: (*Engine).listenTo}
	triggerListeners[rule.OnStart] = signals(func(*Engine, *rule.Trigger) []string { return []string{signalStart} })
	triggerListeners[rule.OnPhrase] = signals(func(_ *Engine, t *rule.Trigger) []string { return []string{signalPhrase(t.Words)} })
	triggerListeners[rule.OnCall] = signals(func(_ *Engine, t *rule.Trigger) []string { return []string{signalCall + t.Words} })
	triggerListeners[rule.OnSilent] = signals(func(e *Engine, t *rule.Trigger) (names []string) {
		if t.Group == "" {
			return []string{signalSilent + t.Device}
		}
		for _, device := range e.Devices(t.Group) {
			names = append(names, signalSilent+device)
		}
		return names
	})
}

// listenTo lets a trigger be noticed that is about a property or an event of devices.
func (e *Engine) listenTo(r *ruleState, index int) {
	listens, event := r.program.Starters[index].Listens, r.doc.When[index].Event
	for k := range listens {
		l := &listens[k]
		if event != "" {
			e.events[l.Ref] = append(e.events[l.Ref], trigger{r, index, l})
		} else if s := e.at(l.Ref); s != nil {
			s.triggers = append(s.triggers, trigger{r, index, l})
			s.attach()
		}
	}
}
