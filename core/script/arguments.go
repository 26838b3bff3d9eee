package script

import (
	"errors"
	"fmt"
	"math"

	"go.starlark.net/starlark"
	"go.starlark.net/syntax"

	"amvek/core/thing"
)

func token(v starlark.Value) syntax.Token {
	n, _ := v.(starlark.Int).Int64()
	return syntax.Token(n)
}

// count says so where a word is given more or less than it takes.
func count(args starlark.Tuple, takes int) error {
	if len(args) != takes {
		return fmt.Errorf("it takes %d, and is given %d", takes, len(args))
	}
	return nil
}

// texts returns the first arguments, which must be texts; takes is how many arguments there must be.
func texts(args starlark.Tuple, first, takes int) ([]string, error) {
	if err := count(args, takes); err != nil {
		return nil, err
	}
	all := make([]string, first)
	for i := range all {
		text, is := args[i].(starlark.String)
		if !is {
			return nil, fmt.Errorf("its argument %d must be a text in quotes, not a %s", i+1, args[i].Type())
		}
		all[i] = string(text)
	}
	return all, nil
}

// native makes a value Starlark's: a whole number is one, a color is a pair.
func native(v thing.Value) starlark.Value {
	switch v.Kind {
	case thing.KindBoolean:
		return starlark.Bool(v.True())
	case thing.KindNumber:
		if v.Number == math.Trunc(v.Number) && math.Abs(v.Number) < 1<<53 {
			return starlark.MakeInt64(int64(v.Number))
		}
		return starlark.Float(v.Number)
	case thing.KindText:
		return starlark.String(v.Text)
	case thing.KindColor:
		return starlark.Tuple{starlark.Float(v.Number), starlark.Float(v.Second)}
	default:
		return starlark.None
	}
}

// foreign makes a value of the home of one of Starlark's.
func foreign(v starlark.Value) (thing.Value, error) {
	switch v := v.(type) {
	case starlark.Bool:
		return thing.Boolean(bool(v)), nil
	case starlark.String:
		return thing.Text(string(v)), nil
	case starlark.Tuple:
		if len(v) == 2 {
			x, isX := starlark.AsFloat(v[0])
			y, isY := starlark.AsFloat(v[1])
			if isX && isY {
				return thing.Color(x, y), nil
			}
		}
	default:
		if n, is := starlark.AsFloat(v); is {
			if math.IsNaN(n) || math.IsInf(n, 0) {
				return thing.Value{}, errors.New("this number is not finite")
			}
			return thing.Number(n), nil
		}
	}
	return thing.Value{}, fmt.Errorf("nothing can be set to a %s", v.Type())
}
