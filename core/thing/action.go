package thing

import (
	"encoding/json"
	"maps"
	"slices"
	"strings"
)

// Action is something a device can be asked to do.
type Action struct {
	Name  string `json:"name"`
	Title string `json:"title"`
	Role  Role   `json:"role,omitempty"`
	// Inputs are what it can be given, those first that it must be given.
	Inputs []Input `json:"inputs,omitempty" doc:"What it can be given, those first that it must be given."`
	// Answers says that the device answers with something.
	Answers bool `json:"answers,omitempty" doc:"The device answers it with something, which the journal tells, and which a rule can take into a variable."`
	// Single says that its only input is sent by itself, and not as a member of an object.
	Single bool `json:"single,omitempty" doc:"Its only input is sent by itself, not as a member of an object."`
}

// Input is a value that goes with an action.
type Input struct {
	Property
	Required bool `json:"required,omitempty" doc:"The action cannot do without it."`
}

// Inputs are the values that an action is given, by the names of its inputs.
type Inputs map[string]Value

// SingleInput is the name of an input that its description gives no name.
const SingleInput = "value"

// Input returns the input with this name, or nil.
func (a *Action) Input(name string) *Input {
	for i := range a.Inputs {
		if a.Inputs[i].Name == name {
			return &a.Inputs[i]
		}
	}
	return nil
}

// Plays returns the action by which the device is asked to play something that is searched by words, or nil.
func (d *Description) Plays() *Action {
	for i := range d.Actions {
		if a := &d.Actions[i]; a.Role == RolePlay && len(a.Inputs) > 0 && a.Inputs[0].Type == TypeText {
			return a
		}
	}
	return nil
}

// add adds an input, those first that are needed.
func (a *Action) add(in Input) {
	in.Writable = true
	a.Inputs = append(a.Inputs, in)
	slices.SortStableFunc(a.Inputs, func(x, y Input) int {
		switch {
		case x.Required == y.Required:
			return 0
		case x.Required:
			return -1
		}
		return 1
	})
}

// Check returns an [InvalidValueError] when an action is given what it does not take, or is not given what it needs.
func (a *Action) Check(given Inputs) error {
	for _, name := range slices.Sorted(maps.Keys(given)) {
		if a.Input(name) == nil {
			return &InvalidValueError{Property: a.Title, Reason: "takes no " + name}
		}
	}
	for i := range a.Inputs {
		in := &a.Inputs[i]
		v, there := given[in.Name]
		if !there || v.IsNone() {
			if in.Required {
				return &InvalidValueError{Property: in.Title, Reason: "is needed"}
			}
			continue
		}
		if err := in.Property.Check(v); err != nil {
			return err
		}
	}
	return nil
}

// Payload is what is sent with an action where its form spells out nothing (W3C Thing Description 1.1 §5.3.1.4, input), with
// options as the maker writes them: nil when it is given nothing.
func (m *Model) Payload(action string, given Inputs) (any, error) {
	a := m.Description.Action(action)
	if a == nil || len(given) == 0 {
		return nil, nil
	}
	fields := map[string]any{}
	for name, v := range given {
		in := a.Input(name)
		if in == nil {
			return nil, &InvalidValueError{Property: a.Title, Reason: "takes no " + name}
		}
		fields[name] = v
		if in.Type == TypeOption {
			native := m.Natives["actions/"+action+"/"+name]
			said, err := Native{Codes: native.Codes, Numeric: native.Numeric}.Write(&in.Property, v)
			if err != nil {
				return nil, err
			}
			fields[name] = said[whole]
		}
	}
	if a.Single {
		return fields[a.Inputs[0].Name], nil
	}
	return fields, nil
}

// Read takes what an action is given from JSON: an object with the inputs, or the single one by itself.
func (a *Action) Read(data []byte) (Inputs, error) {
	if text := strings.TrimSpace(string(data)); text == "" || text == "null" {
		return nil, nil
	}
	given := Inputs{}
	var err error
	if a.Single {
		var v Value
		err = json.Unmarshal(data, &v)
		given[a.Inputs[0].Name] = v
	} else {
		err = json.Unmarshal(data, &given)
	}
	if err != nil {
		return nil, &InvalidValueError{Property: a.Title, Reason: "what it is given is no JSON that it takes"}
	}
	return given, nil
}

// InvokeForm returns the form by which an action is asked for with what it is given: the first of its forms that has
// no place for another input; nil where there is none.
func (m *Model) InvokeForm(action string, given Inputs) *Form {
	a := m.Description.Action(action)
	if a == nil {
		return nil
	}
	forms := m.Forms["actions/"+action]
	for i := range forms {
		f := &forms[i]
		if len(f.Op) > 0 && !slices.Contains(f.Op, OpInvoke) {
			continue
		}
		missing := func(name string) bool { return a.Input(name) != nil && given[name].IsNone() }
		if !slices.ContainsFunc(PlacesIn(f.templates()...), missing) {
			return f
		}
	}
	return nil
}
