package engine

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/expr"
	"amvek/core/rule"
	"amvek/core/script"
	"amvek/core/state"
	"amvek/core/thing"
)

// scripted is the home as a script sees it.
type scripted struct {
	engine *Engine
	rule   *ruleState
}

var (
	errNoDevice = errors.New("there is no such device")
	errNoGroup  = errors.New("there is no such group")
)

// property finds a property of a device by its name, or by its role.
func (h scripted) property(device, name string) (s *slot, byRole bool, err error) {
	if s = h.engine.find(device, name); s != nil {
		return s, false, nil
	}
	if s = h.engine.byRole(device, thing.Role(name)); s != nil {
		return s, true, nil
	}
	d := h.engine.devices[device]
	switch {
	case device == rule.OwnDevice:
		return nil, false, fmt.Errorf("there is no variable %q", name)
	case d == nil:
		return nil, false, errNoDevice
	default:
		var names []string
		for i := range h.engine.byDevice[device] {
			names = append(names, h.engine.byDevice[device][i].ref.Name)
		}
		slices.Sort(names)
		return nil, false, fmt.Errorf("%s has no property %q; it has %s", d.Title, name, strings.Join(names, ", "))
	}
}

func (h scripted) Read(device, property string) (thing.Value, error) {
	s, _, err := h.property(device, property)
	if err != nil {
		return thing.Value{}, err
	}
	return s.Reported, nil
}

func (h scripted) Settable(device, property string, v thing.Value) (string, thing.Value, error) {
	s, byRole, err := h.property(device, property)
	if err != nil {
		return "", v, err
	}
	if !s.property.Writable {
		return "", v, fmt.Errorf("%s can be read but not set", strings.ToLower(s.property.Title))
	}
	if byRole {
		v = rule.Fit(s.property, v)
	}
	v = h.engine.within(s, v)
	return s.ref.Name, v, s.property.Check(v)
}

func (h scripted) Action(device, action string, given thing.Inputs) error {
	d := h.engine.devices[device]
	if d == nil {
		return errNoDevice
	}
	a := d.Description.Action(action)
	if a == nil {
		return fmt.Errorf("%s cannot be asked for %q", d.Title, action)
	}
	return a.Check(given)
}

func (h scripted) Members(group string) ([]string, error) {
	if !h.engine.HasGroup(group) {
		return nil, errNoGroup
	}
	return h.engine.Devices(group), nil
}

func (h scripted) Inside(room string) ([]string, error) {
	var all []string
	for _, id := range sortedKeys(h.engine.devices) {
		if h.engine.devices[id].Room == room && room != "" {
			all = append(all, id)
		}
	}
	return all, nil
}

func (h scripted) Title(device string) (string, bool) {
	if d := h.engine.devices[device]; d != nil {
		return d.Title, true
	}
	return "", false
}
func (h scripted) HasScene(id string) bool { return h.engine.HasScene(id) }
func (h scripted) HasRule(id string) bool  { return h.engine.HasRule(id) }
func (h scripted) Chance() float64         { return h.engine.draw(h.rule.chance()) }

func (h scripted) Now(word string) thing.Value { return h.engine.clock(expr.Clock(word)) }

// runScript runs a script and does what it wants done, all of it or nothing; it is true where the run is over by that.
func (e *Engine) runScript(r *ruleState, f *state.Frame, step *rule.Step, w why) (over bool) {
	id, at := f.ID, f.At
	result, failed := e.script(step.Script, r)
	if failed != nil {
		reason := fmt.Sprintf("line %d: %s", failed.Line, failed.Message)
		e.follow(w, cause.Entry{Kind: cause.ScriptFell, Rule: r.id, Note: reason})
		r.state.CallFailedAt, r.state.CallFailed = e.now, "Its script failed at "+reason
		e.touchRule(r)
		f.Enter(state.Block{Path: at + "/else"})
		return false
	}
	r.state.CallFailedAt, r.state.CallFailed = time.Time{}, ""
	inner := e.follow(w, cause.Entry{Kind: cause.Scripted, Rule: r.id, Note: strings.Join(result.Said, "\n")})
	for i := range result.Asked {
		e.doAsked(&result.Asked[i], r.owner(), inner)
	}
	return r.frame(id) == nil
}

// script runs a script in the home as it is. Programs are kept, by their texts.
func (e *Engine) script(text string, r *ruleState) (script.Result, *expr.Mistake) {
	program := e.scripts[text]
	if program == nil {
		compiled, problems := script.Compile(text)
		if compiled == nil {
			return script.Result{}, &problems[0]
		}
		if e.scripts == nil || len(e.scripts) >= compiledAtMost {
			e.scripts = map[string]*script.Program{}
		}
		program, e.scripts[text] = compiled, compiled
	}
	return program.Run(scripted{e, r})
}

// TryScript says what a script would do now. Nothing is done, and chance is left as it is.
func (e *Engine) TryScript(program *script.Program) (script.Result, *expr.Mistake) {
	return program.Run(scripted{e, &ruleState{id: "script-tried"}})
}

func (e *Engine) doAsked(a *script.Asked, by string, w why) {
	switch a.Kind {
	case script.Set:
		if s := e.find(a.Device, a.Name); s != nil {
			e.set(s, &rule.Step{}, a.Value, by, w)
		}
	case script.Ask:
		e.ask(a.Device, a.Name, a.Given, false, "", w)
	case script.Apply:
		e.plainStep(&rule.Step{Kind: rule.StepScene, Scene: a.Name}, actor{owner: by}, w)
	case script.Start:
		e.plainStep(&rule.Step{Kind: rule.StepRun, Rule: a.Name}, actor{owner: by}, w)
	case script.Stop:
		e.plainStep(&rule.Step{Kind: rule.StepStop, Rule: a.Name}, actor{owner: by}, w)
	case script.Notify:
		e.notify(Telling{Text: a.Text}, w)
	}
}
