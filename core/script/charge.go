package script

import (
	"errors"
	"fmt"
	"strings"

	"go.starlark.net/starlark"
	"go.starlark.net/syntax"

	"amvek/core/thing"
)

// run is one run of a script.
type run struct {
	world  World
	left   int // bytes that it may still make or go through
	result Result
	// kept are the variables that it has set itself.
	kept map[string]thing.Value
}

var (
	errTooMuch = errors.New("it makes or goes through too much")
	errTooLong = fmt.Errorf("a text has at most %d characters", maximumText)
)

// charge takes what is about to be made or gone through from what is left.
func (r *run) charge(bytes int) error {
	if bytes > r.left || bytes < 0 {
		r.left = 0
		return errTooMuch
	}
	r.left -= bytes
	return nil
}

// shallow is the size of a value without what is in it.
func shallow(v starlark.Value) int {
	switch v := v.(type) {
	case starlark.String:
		return 16 + len(v)
	case starlark.Bytes:
		return 16 + len(v)
	case starlark.Int:
		return 16
	case starlark.Sequence:
		return 16 + 16*v.Len()
	case starlark.Iterable:
		return maximumText
	default:
		return 16
	}
}

// maximumNesting is how deep lists and the like may be within each other where all that is in them is gone through: one
// that is in itself has no end, and the stack would grow with it.
const maximumNesting = 200

// deep is the size of a value with all that is in it, as often as it is in it; it stops above most.
func deep(v starlark.Value, most, nesting int) int {
	size := shallow(v)
	each := func(inner starlark.Value) bool {
		size += deep(inner, most-size, nesting+1)
		return size <= most
	}
	if size > most {
		return size
	}
	if nesting > maximumNesting {
		return most + 1
	}
	switch v := v.(type) {
	case *starlark.List:
		for i := 0; i < v.Len() && each(v.Index(i)); i++ {
		}
	case starlark.Tuple:
		for i := 0; i < v.Len() && each(v.Index(i)); i++ {
		}
	case *starlark.Dict:
		for _, item := range v.Items() {
			if !each(item[0]) || !each(item[1]) {
				break
			}
		}
	}
	return size
}

func (r *run) chargeDeep(all ...starlark.Value) error {
	for _, v := range all {
		if err := r.charge(deep(v, r.left, 0)); err != nil {
			return err
		}
	}
	return nil
}

// made charges what has come to be and refuses what is larger than anything here may be.
func (r *run) made(v starlark.Value, err error) (starlark.Value, error) {
	if err != nil {
		return nil, err
	}
	switch v := v.(type) {
	case starlark.String:
		if len(v) > maximumText {
			return nil, errTooLong
		}
	case starlark.Bytes:
		if len(v) > maximumText {
			return nil, errTooLong
		}
	case starlark.Int:
		if v.BigInt().BitLen() > maximumBits {
			return nil, fmt.Errorf("a whole number has at most %d bits", maximumBits)
		}
		return v, nil
	}
	return v, r.charge(shallow(v))
}

// times predicts how large a text or list becomes that is repeated.
func (r *run) times(x, y starlark.Value) error {
	count, is := y.(starlark.Int)
	if !is {
		x, y = y, x
		if count, is = y.(starlark.Int); !is {
			return nil
		}
	}
	if _, number := x.(starlark.Int); number {
		return nil
	}
	n, whole := count.Int64()
	if !whole || n > maximumBudget {
		return errTooMuch
	}
	if n > 0 {
		return r.charge(int(n) * shallow(x))
	}
	return nil
}

// filled predicts how large a text becomes with values put in wherever a mark stands.
func (r *run) filled(text string, mark string, values ...starlark.Value) error {
	size := 0
	for _, v := range values {
		size += deep(v, r.left, 0)
	}
	marks := 1 + strings.Count(text, mark)
	if size > r.left/marks {
		r.left = 0
		return errTooMuch
	}
	return r.charge(len(text) + marks*size)
}

// binary works an operator out.
func (r *run) binary(op syntax.Token, x, y starlark.Value) (starlark.Value, error) {
	switch op {
	case syntax.EQL, syntax.NEQ, syntax.LT, syntax.GT, syntax.LE, syntax.GE:
		if err := r.chargeDeep(x, y); err != nil {
			return nil, err
		}
		truth, err := starlark.Compare(op, x, y)
		return starlark.Bool(truth), err
	case syntax.IN, syntax.NOT_IN:
		if err := r.chargeDeep(x, y); err != nil {
			return nil, err
		}
	case syntax.STAR:
		if err := r.times(x, y); err != nil {
			return nil, err
		}
	case syntax.PERCENT:
		if text, is := x.(starlark.String); is {
			if err := r.filled(string(text), "%", y); err != nil {
				return nil, err
			}
		}
	default:
		if err := r.charge(shallow(x) + shallow(y)); err != nil {
			return nil, err
		}
	}
	if op == syntax.NOT_IN { // no operator of its own to the machine
		in, err := starlark.Binary(syntax.IN, x, y)
		if err != nil {
			return nil, err
		}
		return !in.Truth(), nil
	}
	return r.made(starlark.Binary(op, x, y))
}

// add works x op= y out: a list grows in its place, as Starlark has it.
func (r *run) add(op syntax.Token, x, y starlark.Value) (starlark.Value, error) {
	list, is := x.(*starlark.List)
	more, many := y.(starlark.Iterable)
	if op != syntax.PLUS || !is || !many {
		return r.binary(op, x, y)
	}
	if err := r.charge(shallow(y)); err != nil {
		return nil, err
	}
	var all []starlark.Value
	for v := range starlark.Elements(more) {
		if err := r.charge(16); err != nil {
			return nil, err
		}
		all = append(all, v)
	}
	for _, v := range all {
		if err := list.Append(v); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// method returns a method of a value that is charged when it is called.
func (r *run) method(of starlark.Value, name string) (starlark.Value, error) {
	with, is := of.(starlark.HasAttrs)
	if !is {
		return nil, fmt.Errorf("a %s has no .%s", of.Type(), name)
	}
	attribute, err := with.Attr(name)
	if err != nil {
		return nil, err
	}
	if attribute == nil {
		return nil, fmt.Errorf("a %s has no .%s", of.Type(), name)
	}
	inner, is := attribute.(*starlark.Builtin)
	if !is {
		return attribute, nil
	}
	return starlark.NewBuiltin(name, func(thread *starlark.Thread, _ *starlark.Builtin, args starlark.Tuple, named []starlark.Tuple) (starlark.Value, error) {
		if err := r.chargeMethod(of, name, args, named); err != nil {
			return nil, err
		}
		return r.made(inner.CallInternal(thread, args, named))
	}), nil
}

func (r *run) chargeMethod(of starlark.Value, name string, args starlark.Tuple, named []starlark.Tuple) error {
	text, isText := of.(starlark.String)
	var values []starlark.Value
	values = append(values, args...)
	for _, pair := range named {
		values = append(values, pair[1])
	}
	switch name {
	case "append", "insert":
		return r.charge(shallow(of) / 8)
	case "format":
		return r.filled(string(text), "{", values...)
	case "join":
		if len(args) == 1 {
			if all, is := args[0].(starlark.Sequence); is && isText {
				return r.charge(deep(all, r.left, 0) + len(text)*all.Len())
			}
		}
	case "replace":
		if len(args) >= 2 {
			from, isFrom := args[0].(starlark.String)
			to, isTo := args[1].(starlark.String)
			if isText && isFrom && isTo {
				return r.charge(len(text) + len(to)*strings.Count(string(text), string(from)))
			}
		}
	case "index", "remove", "count", "update", "union":
		if err := r.chargeDeep(of); err != nil {
			return err
		}
	}
	if err := r.charge(4 * shallow(of)); err != nil { // a text in parts is larger than the text
		return err
	}
	return r.chargeDeep(values...)
}
