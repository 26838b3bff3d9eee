package engine

import (
	"slices"

	"amvek/core/cause"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/state"
)

// The steps about devices as a whole, and scenes and sequences of them.
func init() {
	stepTakers[rule.StepRemember] = stepTaker{run: func(e *Engine, _ *ruleState, f *state.Frame, step *rule.Step, _ why) bool {
		e.remember(f, step)
		return false
	}}
	stepTakers[rule.StepPutBack] = stepTaker{run: func(e *Engine, r *ruleState, f *state.Frame, step *rule.Step, w why) bool {
		e.putBack(r, f, step, w)
		return false
	}}
	stepTakers[rule.StepAction] = stepTaker{
		run: func(e *Engine, r *ruleState, f *state.Frame, step *rule.Step, w why) bool {
			if step.Into != "" {
				return e.askAndWait(r, f, step, w)
			}
			e.askAll(step, f.Member(), w)
			return false
		},
		plain: func(e *Engine, step *rule.Step, _ actor, w why) { e.askAll(step, "", w) },
	}
	stepTakers[rule.StepPlay] = stepTaker{
		run: func(e *Engine, _ *ruleState, f *state.Frame, step *rule.Step, w why) bool {
			e.play(step, f.Member(), w)
			return false
		},
		plain: func(e *Engine, step *rule.Step, _ actor, w why) { e.play(step, "", w) },
	}
	stepTakers[rule.StepScene] = stepTaker{plain: func(e *Engine, step *rule.Step, _ actor, w why) {
		scene := e.scenes[step.Scene]
		if scene == nil || e.keptBack(scene, step.Scene, w) {
			return
		}
		inner := e.follow(w, cause.Entry{Kind: cause.Applied, Scene: step.Scene})
		now := e.sceneNow(scene)
		e.applyTargets(now.Targets, now.Fade(), false, "scene:"+step.Scene, inner)
	}}
	stepTakers[rule.StepSequence] = stepTaker{plain: func(e *Engine, step *rule.Step, _ actor, w why) {
		if q := e.sequences[step.Sequence]; q != nil {
			e.startSequence(q, false, w)
		}
	}}
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
