package thing

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
)

// Signal tells an event out of the fields of a maker's message.
type Signal struct {
	// Field is the key whose presence means that the event happened; its value is what the event carries.
	Field string `json:"field"`
	// When are other fields that must have these values.
	When map[string]any `json:"when,omitempty"`
}

// Native maps one property to the fields of its maker's messages, once, at the edge.
// Exactly one of Range, Factor and Inverse may be set; with none the value is taken as it is.
type Native struct {
	// Field is the key in the maker's message, or a JSON Pointer (RFC 6901) into it; empty is
	// the message itself, where it is a single value.
	Field string `json:"field"`
	// Gate is the key of a boolean that must be true for the field to count; while it
	// is false the property is 0, and writing 0 sets it false.
	Gate string `json:"gate,omitempty"`
	// Range is the maker's range; it maps linearly onto the property's range
	// (from 1 instead of 0 where there is a gate, since 0 means off).
	Range []float64 `json:"range,omitempty"`
	// Factor multiplies the maker's number to give the canonical one.
	Factor float64 `json:"factor,omitempty"`
	// Inverse divided by the maker's number gives the canonical one (mired: 1,000,000).
	Inverse float64 `json:"inverse,omitempty"`
	// Numeric says that the maker writes yes and no as 1 and 0, and options as the numbers that they are.
	Numeric bool `json:"numeric,omitempty"`
	// Words are the maker's words for no and yes, where it writes them; where it has several for
	// one, parted by |, the first is sent.
	Words []string `json:"words,omitempty"`
	// Codes are the maker's words for the options, by option, where they differ.
	Codes map[string]string `json:"codes,omitempty"`
}

// ErrAbsent says that a maker's message does not carry the field of a property.
var ErrAbsent = errors.New("the message does not carry this field")

// Read takes the value of a property out of a maker's decoded JSON message.
// It returns [ErrAbsent] when the message does not carry it, and an
// [InvalidValueError] when it is of a wrong type or out of range.
func (n Native) Read(p *Property, message map[string]any) (Value, error) {
	if n.Gate != "" {
		if open, ok := message[n.Gate].(bool); ok && !open {
			return Number(0), nil
		}
	}
	raw, present := field(message, n.Field)
	if !present {
		return Value{}, ErrAbsent
	}
	v, err := n.convert(p, raw)
	if err != nil {
		return Value{}, err
	}
	return v, p.Check(v)
}

func (n Native) convert(p *Property, raw any) (Value, error) {
	wrong := func(wanted string) error {
		return &InvalidValueError{Property: p.Title, Reason: fmt.Sprintf("the device sent %v where %s was expected", raw, wanted)}
	}
	switch p.Type {
	case TypeBoolean:
		switch b := raw.(type) {
		case bool:
			return Boolean(b), nil
		case float64:
			if b == 0 || b == 1 {
				return Boolean(b == 1), nil
			}
		case string:
			if yes, ok := n.word(b); ok {
				return Boolean(yes), nil
			}
		}
		return Value{}, wrong("yes or no")
	case TypeNumber:
		f, ok := raw.(float64)
		if text, isText := raw.(string); isText {
			parsed, err := strconv.ParseFloat(strings.TrimSpace(text), 64)
			f, ok = parsed, err == nil
		}
		if !ok {
			return Value{}, wrong("a number")
		}
		canonical, ok := n.toCanonical(p, f)
		if !ok {
			return Value{}, wrong("a number in the maker's range")
		}
		return Number(canonical), nil
	case TypeColor:
		pair, ok := raw.([]any)
		if ok && len(pair) == 2 {
			x, okX := pair[0].(float64)
			y, okY := pair[1].(float64)
			if okX && okY {
				return Color(x, y), nil
			}
		}
		return Value{}, wrong("a pair of x and y")
	default:
		s, ok := raw.(string)
		if number, is := raw.(float64); is && n.Numeric {
			s, ok = strconv.FormatFloat(number, 'f', -1, 64), true
		}
		if !ok {
			return Value{}, wrong("a text")
		}
		for option, code := range n.Codes {
			if code == s {
				return Text(option), nil
			}
		}
		return Text(s), nil
	}
}

func (n Native) lowest(p *Property) float64 {
	if n.Gate != "" && p.Minimum < 1 {
		return 1
	}
	return p.Minimum
}

func (n Native) toCanonical(p *Property, native float64) (float64, bool) {
	switch {
	case len(n.Range) == 2:
		low, high := n.Range[0], n.Range[1]
		if native < math.Min(low, high) || native > math.Max(low, high) {
			return 0, false
		}
		from := n.lowest(p)
		return from + (native-low)*(p.Maximum-from)/(high-low), true
	case n.Inverse != 0:
		if native <= 0 {
			return 0, false
		}
		return n.Inverse / native, true
	case n.Factor != 0:
		return native * n.Factor, true
	default:
		return native, true
	}
}

// Write returns the fields of the maker's message that set the property to v.
// Numbers are rounded to the whole numbers makers use wherever a mapping applies.
func (n Native) Write(p *Property, v Value) (map[string]any, error) {
	if err := p.Check(v); err != nil {
		return nil, err
	}
	fields := map[string]any{}
	if n.Gate != "" {
		fields[n.Gate] = v.Number != 0
		if v.Number == 0 {
			return fields, nil
		}
	}
	switch p.Type {
	case TypeBoolean:
		set(fields, n.Field, v.Number != 0)
		if n.Numeric {
			set(fields, n.Field, v.Number)
		}
		if len(n.Words) == 2 {
			first, _, _ := strings.Cut(n.Words[int(v.Number)], "|")
			set(fields, n.Field, first)
		}
	case TypeNumber:
		set(fields, n.Field, n.toNative(p, v.Number))
	case TypeColor:
		set(fields, n.Field, []float64{v.Number, v.Second})
	default:
		set(fields, n.Field, n.code(v.Text))
		if number, err := strconv.ParseFloat(n.code(v.Text), 64); n.Numeric && err == nil {
			set(fields, n.Field, number)
		}
	}
	return fields, nil
}

func (n Native) toNative(p *Property, canonical float64) float64 {
	switch {
	case len(n.Range) == 2:
		from := n.lowest(p)
		share := math.Max(0, (canonical-from)/(p.Maximum-from))
		return math.Round(n.Range[0] + share*(n.Range[1]-n.Range[0]))
	case n.Inverse != 0:
		return math.Round(n.Inverse / canonical)
	case n.Factor != 0:
		return math.Round(canonical / n.Factor)
	default:
		return canonical
	}
}

// Read takes what an event carries out of a maker's decoded JSON message. It returns [ErrAbsent]
// when the message does not tell of the event.
func (s Signal) Read(e *Event, message map[string]any) (Value, error) {
	raw, present := message[s.Field]
	if !present {
		return Value{}, ErrAbsent
	}
	for key, wanted := range s.When {
		if message[key] != wanted {
			return Value{}, ErrAbsent
		}
	}
	switch {
	case e.Number:
		n, ok := raw.(float64)
		if !ok {
			return Value{}, &InvalidValueError{Property: e.Title, Reason: fmt.Sprintf("the device sent %v where a number was expected", raw)}
		}
		return Number(n), nil
	case len(e.Options) > 0:
		text, ok := raw.(string)
		if !ok || !slices.Contains(e.Options, text) {
			return Value{}, &InvalidValueError{Property: e.Title, Reason: fmt.Sprintf("the device sent %v, which is none of its gestures", raw)}
		}
		return Text(text), nil
	}
	return Value{}, nil
}
