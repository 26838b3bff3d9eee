package script

import (
	"errors"
	"fmt"
	"math"
	"slices"

	"go.starlark.net/starlark"

	"amvek/core/expr"
	"amvek/core/thing"
)

// own is the device of what belongs to the home itself: its mode and its variables.
const (
	own     = "own"
	ownMode = "mode"
)

// Words returns what a script can call or name besides Starlark's own, for those who write one.
func Words() []expr.Word {
	return []expr.Word{
		{Name: "value", Pattern: `value("device", "property")`, Help: "What a property is at; None where that is not known."},
		{Name: "known", Pattern: `known("device", "property")`, Help: "Whether that is known."},
		{Name: "variable", Pattern: `variable("variable")`, Help: "What a variable is at."},
		{Name: "mode", Pattern: `mode`, Help: "The mode that the household is in."},
		{Name: "group", Pattern: `group("group", "role")`, Help: "What the members of a group are at, as a list."},
		{Name: "room", Pattern: `room("room", "role")`, Help: "What the devices of a room are at, as a list."},
		{Name: "title", Pattern: `title("device")`, Help: "The name of a device."},
		{Name: "members", Pattern: `members("group")`, Help: "The devices of a group, to go through with for."},
		{Name: "inside", Pattern: `inside("room")`, Help: "The devices of a room, to go through with for."},
		{Name: "set", Pattern: `set("device", "property", value)`, Help: "Sets a property, once the script has come to its end."},
		{Name: "keep", Pattern: `keep("variable", value)`, Help: "Sets a variable."},
		{Name: "ask", Pattern: `ask("device", "action", {"input": value})`, Help: "Asks a device for an action, with what it is given; that may be left out."},
		{Name: "apply", Pattern: `apply("scene")`, Help: "Applies a scene."},
		{Name: "start", Pattern: `start("rule")`, Help: "Runs the steps of another rule."},
		{Name: "stop", Pattern: `stop("rule")`, Help: "Stops what another rule has under way."},
		{Name: "notify", Pattern: `notify("words")`, Help: "Tells the household."},
		{Name: "print", Pattern: `print("words")`, Help: "Writes into the run's trace."},
		{Name: "chance", Pattern: `chance()`, Help: "A number by chance, from 0 to 1."},
		{Name: "pick", Pattern: `pick(list)`, Help: "One of a list, by chance."},
		{Name: "mean", Pattern: `mean(list)`, Help: "The mean of numbers."},
		{Name: "sum", Pattern: `sum(list)`, Help: "The sum of numbers."},
		{Name: "round", Pattern: `round(number, 1)`, Help: "The nearest number with so many decimals."},
		{Name: "hour", Pattern: `hour`, Help: "Hours since midnight, such as 13.5."},
		{Name: "weekday", Pattern: `weekday`, Help: "1 is Monday, 7 is Sunday."},
		{Name: "day", Pattern: `day`, Help: "The day of the month."},
		{Name: "month", Pattern: `month`, Help: "1 is January."},
		{Name: "sun", Pattern: `sun`, Help: "The sun's height in degrees, below 0 at night."},
	}
}

// usual are Starlark's own words that a script has; all are charged for what they are given.
var usual = []string{
	"abs",
	"any",
	"all",
	"bool",
	"chr",
	"dict",
	"enumerate",
	"fail",
	"float",
	"int",
	"len",
	"list",
	"max",
	"min",
	"ord",
	"range",
	"repr",
	"reversed",
	"sorted",
	"str",
	"tuple",
	"type",
	"zip",
}

// absent are Starlark's own words that go round what is charged.
var absent = []string{"bytes", "dir", "getattr", "hasattr", "hash", "set"}

var clock = []string{"hour", "weekday", "day", "month", "sun"}

// words are the names that a script can use.
var words = func() map[string]bool {
	all := map[string]bool{}
	for _, w := range Words() {
		all[w.Name] = true
	}
	for _, list := range [][]string{usual, absent} {
		for _, name := range list {
			all[name] = true
		}
	}
	return all
}()

type builtin = func(args starlark.Tuple) (starlark.Value, error)

// words returns what a script's names stand for in a run.
func (r *run) words() starlark.StringDict {
	all := starlark.StringDict{}
	for _, name := range absent {
		all[name] = starlark.NewBuiltin(name, func(*starlark.Thread, *starlark.Builtin, starlark.Tuple, []starlark.Tuple) (starlark.Value, error) {
			return nil, fmt.Errorf("there is no %s here", name)
		})
	}
	for _, name := range usual {
		all[name] = r.charged(starlark.Universe[name].(*starlark.Builtin))
	}
	for _, name := range clock {
		all[name] = native(r.world.Now(name))
	}
	mode, _ := r.world.Read(own, ownMode)
	all[ownMode] = native(mode)
	for name, f := range r.own() {
		all[name] = starlark.NewBuiltin(
			name,
			func(_ *starlark.Thread, _ *starlark.Builtin, args starlark.Tuple, named []starlark.Tuple) (starlark.Value, error) {
				if len(named) > 0 {
					return nil, errors.New("its arguments have no names")
				}
				if err := r.charge(100); err != nil {
					return nil, err
				}
				v, err := f(args)
				if v == nil && err == nil {
					v = starlark.None
				}
				return v, err
			},
		)
	}
	return all
}

// charged is a word of Starlark's own that is charged for what it is given and what it makes.
func (r *run) charged(inner *starlark.Builtin) starlark.Value {
	name := inner.Name()
	return starlark.NewBuiltin(name, func(thread *starlark.Thread, _ *starlark.Builtin, args starlark.Tuple, named []starlark.Tuple) (starlark.Value, error) {
		if name != "len" && name != "type" && name != "bool" {
			if err := r.chargeDeep(args...); err != nil {
				return nil, err
			}
			for _, pair := range named {
				if err := r.chargeDeep(pair[1]); err != nil {
					return nil, err
				}
			}
		}
		return r.made(inner.CallInternal(thread, args, named))
	})
}

// own are the words of this home.
func (r *run) own() map[string]builtin {
	return map[string]builtin{
		hiddenBinary: func(args starlark.Tuple) (starlark.Value, error) { return r.binary(token(args[0]), args[1], args[2]) },
		hiddenAdd:    func(args starlark.Tuple) (starlark.Value, error) { return r.add(token(args[0]), args[1], args[2]) },
		hiddenMethod: func(args starlark.Tuple) (starlark.Value, error) {
			return r.method(args[0], string(args[1].(starlark.String)))
		},
		hiddenKey: func(args starlark.Tuple) (starlark.Value, error) {
			return args[0], r.chargeDeep(args[0])
		},
		hiddenWhole: func(args starlark.Tuple) (starlark.Value, error) {
			return args[0], r.charge(shallow(args[0]))
		},
		"value":    r.value,
		"known":    r.known,
		"variable": r.variable,
		"group":    func(args starlark.Tuple) (starlark.Value, error) { return r.readings(args, r.world.Members) },
		"room":     func(args starlark.Tuple) (starlark.Value, error) { return r.readings(args, r.world.Inside) },
		"members":  func(args starlark.Tuple) (starlark.Value, error) { return r.devices(args, r.world.Members) },
		"inside":   func(args starlark.Tuple) (starlark.Value, error) { return r.devices(args, r.world.Inside) },
		"title":    r.title,
		"set":      r.set,
		"keep":     r.keep,
		"ask":      r.ask,
		"apply": func(args starlark.Tuple) (starlark.Value, error) {
			return r.named(args, Apply, r.world.HasScene, "there is no such scene")
		},
		"start": func(args starlark.Tuple) (starlark.Value, error) {
			return r.named(args, Start, r.world.HasRule, "there is no such rule")
		},
		"stop": func(args starlark.Tuple) (starlark.Value, error) {
			return r.named(args, Stop, r.world.HasRule, "there is no such rule")
		},
		"notify": r.notify,
		"print":  r.print,
		"chance": func(args starlark.Tuple) (starlark.Value, error) {
			return starlark.Float(r.world.Chance()), count(args, 0)
		},
		"pick":  r.pick,
		"mean":  r.mean,
		"sum":   r.sum,
		"round": round,
	}
}

func (r *run) read(device, property string) (thing.Value, error) {
	if kept, is := r.kept[property]; is && device == own {
		return kept, nil
	}
	return r.world.Read(device, property)
}

func (r *run) value(args starlark.Tuple) (starlark.Value, error) {
	t, err := texts(args, 2, 2)
	if err != nil {
		return nil, err
	}
	v, err := r.read(t[0], t[1])
	return native(v), err
}

func (r *run) known(args starlark.Tuple) (starlark.Value, error) {
	t, err := texts(args, 2, 2)
	if err != nil {
		return nil, err
	}
	v, err := r.read(t[0], t[1])
	return starlark.Bool(err == nil && !v.IsNone()), nil
}

func (r *run) title(args starlark.Tuple) (starlark.Value, error) {
	t, err := texts(args, 1, 1)
	if err != nil {
		return nil, err
	}
	title, there := r.world.Title(t[0])
	if !there {
		return nil, errors.New("there is no such device")
	}
	return starlark.String(title), r.charge(len(title))
}

func (r *run) variable(args starlark.Tuple) (starlark.Value, error) {
	t, err := texts(args, 1, 1)
	if err != nil {
		return nil, err
	}
	v, err := r.read(own, t[0])
	return native(v), err
}

// readings returns what devices are at that have a property with a role, where that is known.
func (r *run) readings(args starlark.Tuple, of func(string) ([]string, error)) (starlark.Value, error) {
	t, err := texts(args, 2, 2)
	if err != nil {
		return nil, err
	}
	devices, err := of(t[0])
	if err != nil {
		return nil, err
	}
	if err := r.charge(100 * len(devices)); err != nil {
		return nil, err
	}
	var all []starlark.Value
	for _, id := range devices {
		if v, err := r.world.Read(id, t[1]); err == nil && !v.IsNone() {
			all = append(all, native(v))
		}
	}
	return starlark.NewList(all), nil
}

func (r *run) devices(args starlark.Tuple, of func(string) ([]string, error)) (starlark.Value, error) {
	t, err := texts(args, 1, 1)
	if err != nil {
		return nil, err
	}
	devices, err := of(t[0])
	if err != nil {
		return nil, err
	}
	if err := r.charge(50 * len(devices)); err != nil {
		return nil, err
	}
	var all []starlark.Value
	for _, id := range devices {
		all = append(all, starlark.String(id))
	}
	return starlark.NewList(all), nil
}

func (r *run) pick(args starlark.Tuple) (starlark.Value, error) {
	if err := count(args, 1); err != nil {
		return nil, err
	}
	list, is := args[0].(starlark.Indexable)
	if !is || list.Len() == 0 {
		return nil, errors.New("there is nothing to pick from")
	}
	return list.Index(int(r.world.Chance() * float64(list.Len()))), nil
}

// numbers returns the numbers of a list.
func (r *run) numbers(args starlark.Tuple) ([]float64, error) {
	if err := count(args, 1); err != nil {
		return nil, err
	}
	list, is := args[0].(starlark.Iterable)
	if !is {
		return nil, fmt.Errorf("it takes a list, not a %s", args[0].Type())
	}
	if err := r.charge(shallow(list)); err != nil {
		return nil, err
	}
	var all []float64
	for v := range starlark.Elements(list) {
		n, is := starlark.AsFloat(v)
		if !is {
			return nil, fmt.Errorf("a %s is no number", v.Type())
		}
		all = append(all, n)
	}
	return all, nil
}

func (r *run) mean(args starlark.Tuple) (starlark.Value, error) {
	all, err := r.numbers(args)
	if err == nil && len(all) == 0 {
		err = errors.New("the mean of nothing: not one is known")
	}
	if err != nil {
		return nil, err
	}
	return starlark.Float(total(all) / float64(len(all))), nil
}

func (r *run) sum(args starlark.Tuple) (starlark.Value, error) {
	all, err := r.numbers(args)
	return native(thing.Number(total(all))), err
}

func total(all []float64) (sum float64) {
	for n := range slices.Values(all) {
		sum += n
	}
	return sum
}

func round(args starlark.Tuple) (starlark.Value, error) {
	if len(args) == 1 {
		args = append(args, starlark.MakeInt(0))
	}
	if err := count(args, 2); err != nil {
		return nil, err
	}
	n, isNumber := starlark.AsFloat(args[0])
	digits, isDigits := starlark.AsFloat(args[1])
	if !isNumber || !isDigits {
		return nil, errors.New("it takes numbers")
	}
	grain := math.Pow(10, max(-9, min(9, math.Trunc(digits))))
	rounded := math.Round(n*grain) / grain
	if math.IsNaN(rounded) || math.IsInf(rounded, 0) {
		return nil, errors.New("this number is not finite")
	}
	return native(thing.Number(rounded)), nil
}
