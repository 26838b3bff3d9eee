// Package thing says what a device is, in the terms of the W3C Web of Things:
// properties, actions and events, their roles, canonical units and values, and
// the Thing Models ("profiles") that describe a model of device and how its
// maker's units map to ours. It does no I/O and knows nothing of who sets what.
package thing

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"strconv"
)

// Kind tells which of the forms of a [Value] is in use.
type Kind uint8

// The kinds of value. The zero kind means "nothing known".
const (
	None Kind = iota
	KindBoolean
	KindNumber
	KindText
	KindColor
)

// Value is one value of a property, in the property's canonical unit.
// The zero value means that nothing is known. Values are comparable with ==.
type Value struct {
	Kind   Kind
	Number float64 // the number; for a boolean 0 or 1; for a color CIE 1931 x
	Second float64 // for a color CIE 1931 y
	Text   string
}

// Boolean returns a yes-or-no value.
func Boolean(b bool) Value {
	v := Value{Kind: KindBoolean}
	if b {
		v.Number = 1
	}
	return v
}

// Number returns a numeric value.
func Number(n float64) Value { return Value{Kind: KindNumber, Number: n} }

// Text returns a text or option value.
func Text(s string) Value { return Value{Kind: KindText, Text: s} }

// Color returns a chromaticity as CIE 1931 x and y (ISO/CIE 11664-3), both from 0 to 1.
func Color(x, y float64) Value { return Value{Kind: KindColor, Number: x, Second: y} }

// IsNone reports whether nothing is known.
func (v Value) IsNone() bool { return v.Kind == None }

// True reports whether v is the boolean true.
func (v Value) True() bool { return v.Kind == KindBoolean && v.Number != 0 }

// Assign makes v what w is. It moves field by field: a whole Value is moved in overlapping pieces, and a processor that
// reads those again at once waits until they are written, which costs more than all else that a report needs.
func (v *Value) Assign(w *Value) {
	v.Kind, v.Number, v.Second, v.Text = w.Kind, w.Number, w.Second, w.Text
}

// Near reports whether v and w are of one kind and differ by at most the given
// resolution (in the canonical unit; for colors per coordinate).
func (v Value) Near(w Value, resolution float64) bool {
	if v.Kind != w.Kind {
		return false
	}
	switch v.Kind {
	case KindNumber:
		return math.Abs(v.Number-w.Number) <= resolution
	case KindColor:
		return math.Abs(v.Number-w.Number) <= resolution && math.Abs(v.Second-w.Second) <= resolution
	default:
		return v == w
	}
}

// String renders the value for logs and messages.
func (v Value) String() string {
	switch v.Kind {
	case KindBoolean:
		return strconv.FormatBool(v.Number != 0)
	case KindNumber:
		return strconv.FormatFloat(v.Number, 'g', -1, 64)
	case KindText:
		return v.Text
	case KindColor:
		return fmt.Sprintf("x %.2f y %.2f", v.Number, v.Second)
	default:
		return "unknown"
	}
}

type colorDocument struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
}

// MarshalJSON writes a boolean, a number, a string, {"x":…,"y":…} or null.
func (v Value) MarshalJSON() ([]byte, error) {
	switch v.Kind {
	case KindBoolean:
		return strconv.AppendBool(nil, v.Number != 0), nil
	case KindNumber:
		if math.IsNaN(v.Number) || math.IsInf(v.Number, 0) {
			return nil, errors.New("a number that is not finite has no JSON form")
		}
		return json.Marshal(v.Number)
	case KindText:
		return json.Marshal(v.Text)
	case KindColor:
		return json.Marshal(colorDocument{v.Number, v.Second})
	default:
		return []byte("null"), nil
	}
}

// UnmarshalJSON reads what MarshalJSON writes.
func (v *Value) UnmarshalJSON(data []byte) error {
	data = bytes.TrimSpace(data)
	if len(data) == 0 {
		return errors.New("a value is missing")
	}
	switch data[0] {
	case 'n':
		*v = Value{}
		return nil
	case 't', 'f':
		var b bool
		if err := json.Unmarshal(data, &b); err != nil {
			return err
		}
		*v = Boolean(b)
		return nil
	case '"':
		var s string
		if err := json.Unmarshal(data, &s); err != nil {
			return err
		}
		*v = Text(s)
		return nil
	case '{':
		var c struct {
			X *float64 `json:"x"`
			Y *float64 `json:"y"`
		}
		if err := json.Unmarshal(data, &c); err != nil {
			return err
		}
		if c.X == nil || c.Y == nil {
			return errors.New(`a color needs both "x" and "y"`)
		}
		*v = Color(*c.X, *c.Y)
		return nil
	default:
		var n float64
		if err := json.Unmarshal(data, &n); err != nil {
			return errors.New("a value is a boolean, a number, a text or a color")
		}
		*v = Number(n)
		return nil
	}
}
