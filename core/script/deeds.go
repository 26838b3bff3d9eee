package script

import (
	"errors"
	"fmt"
	"strings"

	"go.starlark.net/starlark"

	"amvek/core/thing"
)

// want notes one thing that is to be done.
func (r *run) want(a Asked) error {
	if len(r.result.Asked) >= maximumAsked {
		return fmt.Errorf("a script does at most %d things", maximumAsked)
	}
	r.result.Asked = append(r.result.Asked, a)
	return nil
}

func (r *run) set(args starlark.Tuple) (starlark.Value, error) {
	t, err := texts(args, 2, 3)
	if err != nil {
		return nil, err
	}
	return nil, r.setting(t[0], t[1], args[2])
}

func (r *run) keep(args starlark.Tuple) (starlark.Value, error) {
	t, err := texts(args, 1, 2)
	if err != nil {
		return nil, err
	}
	return nil, r.setting(own, t[0], args[1])
}

func (r *run) setting(device, property string, to starlark.Value) error {
	v, err := foreign(to)
	if err != nil {
		return err
	}
	name, v, err := r.world.Settable(device, property, v)
	if err != nil {
		return err
	}
	if device == own {
		r.kept[name] = v
	}
	return r.want(Asked{Kind: Set, Device: device, Name: name, Value: v})
}

func (r *run) ask(args starlark.Tuple) (starlark.Value, error) {
	takes := 2
	if len(args) > 2 {
		takes = 3
	}
	t, err := texts(args, 2, takes)
	if err != nil {
		return nil, err
	}
	var given thing.Inputs
	if takes == 3 {
		if given, err = inputs(args[2]); err != nil {
			return nil, err
		}
	}
	if err := r.world.Action(t[0], t[1], given); err != nil {
		return nil, err
	}
	return nil, r.want(Asked{Kind: Ask, Device: t[0], Name: t[1], Given: given})
}

// maximumInputs bounds what one action is given.
const maximumInputs = 20

// inputs are what an action is given, by their names.
func inputs(v starlark.Value) (thing.Inputs, error) {
	dict, is := v.(*starlark.Dict)
	if !is {
		return nil, fmt.Errorf("what the action is given stands in braces, by its name, not in a %s", v.Type())
	}
	if dict.Len() > maximumInputs {
		return nil, fmt.Errorf("an action is given at most %d things", maximumInputs)
	}
	given := thing.Inputs{}
	for _, pair := range dict.Items() {
		name, is := pair[0].(starlark.String)
		if !is {
			return nil, fmt.Errorf("the name of what an action is given must be a text in quotes, not a %s", pair[0].Type())
		}
		value, err := foreign(pair[1])
		if err != nil {
			return nil, err
		}
		given[string(name)] = value
	}
	return given, nil
}

func (r *run) named(args starlark.Tuple, kind AskedKind, has func(string) bool, otherwise string) (starlark.Value, error) {
	t, err := texts(args, 1, 1)
	if err != nil {
		return nil, err
	}
	if !has(t[0]) {
		return nil, errors.New(otherwise)
	}
	return nil, r.want(Asked{Kind: kind, Name: t[0]})
}

func (r *run) notify(args starlark.Tuple) (starlark.Value, error) {
	t, err := texts(args, 1, 1)
	if err != nil {
		return nil, err
	}
	if len(t[0]) > 2000 || strings.TrimSpace(t[0]) == "" {
		return nil, errors.New("say in 1 to 2000 characters what is told")
	}
	return nil, r.want(Asked{Kind: Notify, Text: t[0]})
}

func (r *run) print(args starlark.Tuple) (starlark.Value, error) {
	if err := r.chargeDeep(args...); err != nil {
		return nil, err
	}
	var parts []string
	for _, v := range args {
		if text, is := starlark.AsString(v); is {
			parts = append(parts, text)
		} else {
			parts = append(parts, v.String())
		}
	}
	line := strings.Join(parts, " ")
	if len(line) > 500 {
		line = strings.ToValidUTF8(line[:500], "") + " …"
	}
	if len(r.result.Said) < maximumSaid {
		r.result.Said = append(r.result.Said, line)
	}
	return nil, nil
}
