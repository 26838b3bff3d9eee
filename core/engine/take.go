package engine

import (
	"time"

	"amvek/core/cause"
	"amvek/core/light"
	"amvek/core/rule"
)

func (e *Engine) carryOut(in *Input) {
	switch in.Kind {
	case InputEvent:
		if w := e.watches[in.Device]; w != nil && in.Doer == (cause.By{}) { // what somebody tries is not heard from the device
			e.heard(w)
		}
		e.event(in)
	case InputWrite:
		e.writeByHand(in)
	case InputKeep:
		e.holdByHand(in)
	case InputLetGo:
		e.letGo(in)
	case InputScene:
		e.sceneByHand(in)
	case InputTry:
		e.origin().Kind = cause.Tried
		e.inputEntry()
		now := e.sceneNow(&light.Scene{Targets: in.Targets, FadeSeconds: in.FadeSeconds})
		e.applyTargets(now.Targets, now.Fade(), true, "hand:try", why{})
	case InputRun:
		e.runByHand(in)
	case InputResume:
		origin := e.origin()
		origin.Kind, origin.Rule, origin.By = cause.LetGo, in.Rule, in.Doer
		e.resumeRule(in.Rule, why{})
	case InputInvoke:
		e.invoke(in)
	case InputOutcome:
		e.outcome(in)
	case InputDefine:
		e.define(in)
	case InputRemove:
		e.remove(in)
	case InputConnection:
		e.connection(in)
	case InputStart:
		e.start(in.Quiet)
	case InputCover:
		e.measure(in)
	case InputAgree:
		e.agree(in)
	case InputPhrase:
		origin := e.origin()
		origin.Kind, origin.Note = cause.Said, in.Words
		e.inputEntry()
		e.signal(signalPhrase(in.Words), why{})
	case InputCall:
		origin := e.origin()
		origin.Kind, origin.Note = cause.Called, in.Words
		e.inputEntry()
		for _, t := range e.signals[signalCall+in.Words] {
			e.sent = in.Sent
			e.trigger(t.rule, t.index, why{})
		}
		e.sent = ""
	case InputAnswer:
		e.answered(in)
	case InputPast:
		e.recall(in)
	case InputEntries:
		e.readCalendar(in)
	case InputSequence:
		e.playByHand(in)
	case InputLight:
		e.lightByHand(in)
	case InputClock:
		e.setClock(in.By)
	case InputTick:
	}
}

// against returns the comparison of a trigger, with what its formula comes to now; nil where anything counts. What is not
// known compares as false.
func (e *Engine) against(l *rule.Listen) *rule.Comparer {
	if l.Formula == "" {
		return l.Compare
	}
	compare := l.Against(e.workedOut(l.Formula))
	return &compare
}

func (e *Engine) sceneByHand(in *Input) {
	if e.scenes[in.Scene] == nil {
		return
	}
	origin := e.origin()
	origin.Kind, origin.Scene = cause.SceneStarted, in.Scene
	if in.Verb == VerbLift {
		origin.Kind = cause.LiftedByHand
		e.inputEntry()
		e.liftScene(in.Scene, e.sceneNow(e.scenes[in.Scene]).Fade(), why{})
		return
	}
	e.inputEntry()
	e.applyScene(in.Scene, true, why{})
}

// SceneNow returns the values of a scene as its formulas and curves are now; nil where there is none.
func (e *Engine) SceneNow(id string) []light.Target {
	if e.scenes[id] == nil {
		return nil
	}
	return e.sceneNow(e.scenes[id]).Targets
}

// sceneNow returns a scene with what its formulas come to now, within what its properties can be at.
func (e *Engine) sceneNow(scene *light.Scene) *light.Scene {
	now := scene.WorkedOut(e.workedOut)
	for i := range now.Targets {
		t := &now.Targets[i]
		s := e.find(t.Device, t.Property)
		switch {
		case s == nil:
		case scene.Targets[i].Expression != "":
			t.Value = e.within(s, t.Value)
		case t.Curve != "":
			if v := e.sourced(s, t.Source()); !v.IsNone() {
				t.Value = v
			}
		}
	}
	return now
}

// isAt reports whether a property is as a scene sets it, or follows what the scene lets it follow.
func (s *slot) isAt(t *light.Target) bool {
	if source := t.Source(); source != "" && s.state.Stack.Source() == source {
		return true
	}
	return s.state.Target.Near(s.property.Narrow(t.Value), s.property.Resolution)
}

// applyTargets writes the values of a scene. A sequence that has one of its lights ends.
func (e *Engine) applyTargets(targets []light.Target, fade time.Duration, byHand bool, by string, w why) {
	defer e.yieldLights(targets, nil, fade, w)
	for _, t := range e.tonesFirst(targets) {
		s := e.find(t.Device, t.Property)
		if s == nil || !s.property.Writable || s.property.CheckSet(t.Value) != nil {
			continue
		}
		if s.property.Switches(t.Value) {
			e.write(s, t.Value, byHand, by, t.Fade(fade), w)
			continue
		}
		e.writeFrom(s, t.Value, t.Source(), byHand, by, t.Fade(fade), w)
	}
}

func (e *Engine) runByHand(in *Input) {
	r := e.rules[in.Rule]
	if r == nil || len(r.problems) > 0 {
		return
	}
	origin := e.origin()
	origin.Kind, origin.Rule = cause.RunByHand, in.Rule
	e.inputEntry()
	e.startRun(r, "", "", why{})
}

// connection takes that a connection, or one device alone, was reached or lost.
func (e *Engine) connection(in *Input) {
	if in.Device != "" || in.Name != "" {
		e.reach(in)
		return
	}
	origin := e.origin()
	origin.Connection, origin.Note = in.Connection, in.Reason
	e.lost[in.Connection] = !in.Up
	if !in.Up {
		e.setApart(func(s *slot) bool { return e.devices[s.ref.Device].Connection == in.Connection })
		e.origin().Kind = cause.ConnectedDown
		e.inputEntry()
		return
	}
	e.reached[in.Connection] = e.nextCommand
	e.origin().Kind = cause.ConnectedUp
	if in.Reason == "" {
		e.inputEntry() // coming up for the first time after a start is no news
	}
	// What could not be delivered is still wanted: once, now that the way is open again.
	for _, id := range sortedKeys(e.devices) {
		if e.devices[id].Connection == in.Connection {
			e.again(id)
		}
	}
}

// reach takes that one device, or a gateway named so, was lost or found again while its connection stayed.
// A device behind a gateway shares the gateway's entry: Quiet says that there is none of its own.
func (e *Engine) reach(in *Input) {
	origin := e.origin()
	origin.Kind, origin.Note = cause.ConnectedDown, in.Reason
	if w := e.watches[in.Device]; w != nil {
		w.unreached = !in.Up
	}
	if in.Up {
		origin.Kind, origin.Note = cause.ConnectedUp, ""
		e.reached[in.Device] = e.nextCommand
	} else if in.Device != "" {
		e.setApart(func(s *slot) bool { return s.ref.Device == in.Device })
	}
	origin.Device, origin.Connection, origin.Name = in.Device, in.Connection, in.Name
	if !in.Quiet {
		e.inputEntry()
	}
	if in.Up && in.Device != "" {
		e.again(in.Device)
	}
}
