package engine

import (
	"slices"

	"amvek/core/cause"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
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
		id, off := e.nextScene(step)
		scene := e.scenes[id]
		if scene == nil || e.keptBack(scene, id, w) {
			return
		}
		switch {
		case off && scene.Laid:
			e.lift(id, w)
			return
		case off:
			now := e.sceneNow(scene)
			e.applyTargets(putOut(e, now.Targets), now.Fade(), false, "scene:"+id, e.follow(w, cause.Entry{Kind: cause.Applied, Scene: id, Note: cause.ScenesLightsOff}))
			return
		}
		e.applyScene(id, false, w)
	}}
	stepTakers[rule.StepSequence] = stepTaker{plain: func(e *Engine, step *rule.Step, _ actor, w why) {
		q := e.sequences[step.Sequence]
		switch {
		case q == nil:
		case step.OrOff && q.state.Running:
			e.stopSequence(q, w)
		default:
			e.startSequence(q, false, w)
		}
	}}
}

// nextScene returns the scene that a step applies: of several the one after that in effect. Off says that its lights are to go
// off instead, since it is in effect already.
func (e *Engine) nextScene(step *rule.Step) (id string, off bool) {
	all := step.Scenes
	if len(all) == 0 {
		all = []string{step.Scene}
	}
	for i := len(all) - 1; i >= 0; i-- {
		scene := e.scenes[all[i]]
		switch {
		case scene == nil || !e.sceneThere(all[i], scene):
		case i < len(all)-1:
			return all[i+1], false
		case step.OrOff:
			return all[i], true
		}
	}
	return all[0], false
}

// sceneThere reports whether a scene is in effect; one that is laid on top, whether it lies there.
func (e *Engine) sceneThere(id string, scene *light.Scene) bool {
	if scene.Laid {
		return e.laid[id] != nil
	}
	return e.InEffect(scene)
}

// putOut returns targets at which the lights of others are off.
func putOut(e *Engine, targets []light.Target) (off []light.Target) {
	for _, t := range targets {
		if s := e.find(t.Device, t.Property); s != nil && (s.property.Role == thing.RoleBrightness || s.property.Role == thing.RolePower) {
			off = append(off, light.Target{Device: t.Device, Property: t.Property, Value: s.property.Rest()})
		}
	}
	return off
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
