package expr

import (
	"errors"
	"math"
	"strings"
	"time"

	"cel.dev/cel-go/common/types"
	"cel.dev/cel-go/common/types/ref"

	"amvek/core/thing"
)

func native(v thing.Value) ref.Val {
	switch v.Kind {
	case thing.KindNumber:
		return types.Double(v.Number)
	case thing.KindBoolean:
		return types.Bool(v.True())
	default:
		return types.String(v.Text)
	}
}

func celBool(b bool) ref.Val { return types.Bool(b) }

func celTime(t time.Time) ref.Val { return types.Timestamp{Time: t} }

func list(values []thing.Value) ref.Val {
	all := make([]ref.Val, len(values))
	for i, v := range values {
		all[i] = native(v)
	}
	return types.DefaultTypeAdapter.NativeToValue(all)
}

// enumerate says names as people do: one, two and three.
func enumerate(names []string) string {
	switch n := len(names); n {
	case 0:
		return "none"
	case 1:
		return names[0]
	default:
		return strings.Join(names[:n-1], ", ") + " and " + names[n-1]
	}
}

// result returns what an expression came to as a value of ours.
func result(out ref.Val) (thing.Value, error) {
	switch v := out.(type) {
	case types.Double:
		if n := float64(v); !math.IsNaN(n) && !math.IsInf(n, 0) {
			return thing.Number(n), nil
		}
		return thing.Value{}, errors.New("it comes to no number, as when something is divided by 0")
	case types.Int:
		return thing.Number(float64(v)), nil
	case types.Bool:
		return thing.Boolean(bool(v)), nil
	case types.String:
		return thing.Text(string(v)), nil
	default:
		return thing.Value{}, ErrUnknown
	}
}

func evaluationError(err error) error {
	if strings.Contains(err.Error(), "no such attribute") || strings.Contains(err.Error(), "not one is known") {
		return ErrUnknown
	}
	return errors.New(plain(err.Error()))
}
