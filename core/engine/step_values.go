package engine

import (
	"math"
	"slices"
	"time"

	"amvek/core/cause"
	"amvek/core/hold"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// The steps that give a property a value.
func init() {
	stepTakers[rule.StepSet] = stepTaker{
		run: (*Engine).setting,
		plain: func(e *Engine, step *rule.Step, by actor, w why) {
			for _, aim := range e.aims(step, "") {
				e.set(aim, step, e.valueOf(by.chance, step, aim), by.owner, w)
			}
		},
	}
	stepTakers[rule.StepHold] = stepTaker{run: func(e *Engine, r *ruleState, f *state.Frame, step *rule.Step, w why) bool {
		e.holding(r, f, step, w)
		return false
	}}
	stepTakers[rule.StepThrough] = stepTaker{run: (*Engine).beginThrough}
	stepTakers[rule.StepRamp] = stepTaker{run: (*Engine).beginRamp}
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
		v, source := e.comesTo(s, e.valueOf(r.chance(), step, s))
		e.holdAt(r, step, s, v, source, rule.Seconds(step.FadeSeconds), w)
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
	for _, t := range e.tonesFirst(scene.Targets) {
		if s := e.find(t.Device, t.Property); s != nil {
			e.holdAt(r, step, s, t.Value, t.Source(), fadeOf(&t, step, fade), inner)
		}
	}
}

// fadeOf is how long a value of a scene takes that a step holds: a fade of the step's own goes before.
func fadeOf(t *light.Target, step *rule.Step, fade time.Duration) time.Duration {
	if step.FadeSeconds > 0 {
		return fade
	}
	return t.Fade(fade)
}

// holdAt lays a hold of a rule on a property.
func (e *Engine) holdAt(r *ruleState, step *rule.Step, s *slot, v thing.Value, source hold.Source, fade time.Duration, w why) {
	if !r.doc.Lasts() && step.ForSeconds <= 0 {
		return // how long was to be worked out, and is not known
	}
	if v.IsNone() || !s.property.Writable || s.property.Check(v) != nil {
		return
	}
	h := hold.Hold{Owner: r.owner(), Level: hold.Rule, Value: v, Source: source, Since: e.now, Cause: e.resolve(w), Unattended: step.Unattended, Firm: step.Firm == rule.Firm}
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
