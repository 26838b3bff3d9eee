package engine

import (
	"maps"
	"slices"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// invoke takes that a person asks a device for an action.
func (e *Engine) invoke(in *Input) {
	action := e.Action(in.Device, in.Name)
	if action == nil || action.Check(in.Given) != nil {
		return
	}
	origin := e.origin()
	origin.Kind, origin.Note = cause.Asked, givenText(action, in.Given)
	if action.Role == thing.RoleStop {
		slots := e.byDevice[in.Device]
		for i := range slots {
			if d := slots[i].driver; d != nil && d.position == &slots[i] {
				e.halt(d, in.Doer)
				return
			}
		}
	}
	if !e.mayAsk(in.Device, action, in.Doer, false) {
		e.follow(why{}, cause.Entry{Kind: cause.Refused, Device: in.Device, Name: in.Name})
		return
	}
	id := e.inputEntry()
	e.out = append(e.out, Output{Kind: OutputInvoke, Command: e.nextCommand, Device: in.Device, Name: in.Name, Given: in.Given, Cause: id})
	e.nextCommand++
}

// ask asks a device for an action. What it cannot be given is written down as failed, and what it may not be asked for by
// automation, unless its step is allowed to, as refused: then it returns no number of a command.
func (e *Engine) ask(device, name string, given thing.Inputs, allowed bool, pick string, w why) (command uint64) {
	action := e.Action(device, name)
	if action == nil {
		return 0
	}
	if !e.mayAsk(device, action, cause.By{}, allowed) {
		e.follow(w, cause.Entry{Kind: cause.Refused, Device: device, Name: name})
		return 0
	}
	inner := e.follow(w, cause.Entry{Kind: cause.Asked, Device: device, Name: name, Note: givenText(action, given)})
	if err := action.Check(given); err != nil {
		e.follow(inner, cause.Entry{Kind: cause.Failed, Device: device, Name: name, Note: err.Error() + "."})
		return 0
	}
	e.out = append(e.out, Output{Kind: OutputInvoke, Command: e.nextCommand, Device: device, Name: name, Given: given, Pick: pick, Cause: inner.id})
	e.nextCommand++
	return e.nextCommand - 1
}

// given works out what a step gives an action. What comes to nothing is left out.
func (e *Engine) given(step *rule.Step, device string) thing.Inputs {
	action := e.Action(device, step.Action)
	if action == nil || len(step.Input) == 0 {
		return nil
	}
	given := thing.Inputs{}
	for _, name := range slices.Sorted(maps.Keys(step.Input)) {
		part, in := step.Input[name], action.Input(name)
		v := part.Value
		if part.Expression != "" {
			v = e.workedOut(part.Expression)
			if in != nil && in.Type == thing.TypeText && !v.IsNone() {
				v = thing.Text(rule.Say(v))
			}
		}
		if !v.IsNone() {
			given[name] = v
		}
	}
	return given
}

// askAll asks a device for an action, or those of a set that have it; member is the device whose turn it is.
func (e *Engine) askAll(step *rule.Step, member string, w why) {
	devices := []string{step.Device}
	switch {
	case step.Group != "":
		devices = e.Devices(step.Group)
	case step.Device == rule.Member:
		devices = []string{member}
	}
	for _, device := range devices {
		if step.Group == "" || e.Action(device, step.Action) != nil {
			e.ask(device, step.Action, e.given(step, device), step.Unattended, "", w)
		}
	}
}

// askAndWait asks a device for an action and lets the run wait for its answer, which goes into a variable. It is false where
// nothing was asked.
func (e *Engine) askAndWait(r *ruleState, f *state.Frame, step *rule.Step, w why) (waits bool) {
	device := step.Device
	if device == rule.Member {
		device = f.Member()
	}
	command := e.ask(device, step.Action, e.given(step, device), step.Unattended, step.Pick, w)
	if command == 0 {
		f.Enter(state.Block{Path: f.At + "/else"})
		return false
	}
	f.Call = command
	e.pause(r, f, answerWait+answerSlack, w)
	return true
}

// answerWait is how long a run waits for what a device answers.
const answerWait = 30 * time.Second

// play asks players for what is searched by words.
func (e *Engine) play(step *rule.Step, member string, w why) {
	devices := []string{step.Device}
	if step.Device == rule.Member {
		devices = []string{member}
	}
	if step.Group != "" {
		devices = e.Devices(step.Group)
	}
	text := strings.Join(strings.Fields(e.Told(step.Text)), " ")
	for _, device := range devices {
		if e.Plays(device, "") {
			action := e.devices[device].Description.Plays()
			e.ask(device, action.Name, thing.Inputs{action.Inputs[0].Name: thing.Text(text)}, false, "", w)
		}
	}
}

// givenText says what goes with an action, for the journal.
func givenText(action *thing.Action, given thing.Inputs) string {
	var parts []string
	for i := range action.Inputs {
		in := &action.Inputs[i]
		v, there := given[in.Name]
		if !there {
			continue
		}
		text := v.String()
		if in.Unit != thing.UnitNone {
			text += " " + string(in.Unit)
		}
		parts = append(parts, strings.ToLower(in.Title)+": "+text)
	}
	return strings.Join(parts, ", ")
}
