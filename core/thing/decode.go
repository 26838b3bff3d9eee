package thing

import (
	"encoding/json"
	"strconv"

	"github.com/valyala/fastjson"
)

// Decoder reads what devices say, which is JSON (RFC 8259) mostly: as [json.Unmarshal] reads into an empty interface, with the
// same results and the same errors, but in a third of the time where a message comes after a pause and what encoding/json needs is
// in no cache of the processor any more. The zero value is ready, and may be used by several goroutines.
type Decoder struct{ parsers fastjson.ParserPool }

// Decode returns what a message says.
func (d *Decoder) Decode(message []byte) (decoded any, err error) {
	if decoded, ok := d.quick(message); ok {
		return decoded, nil
	}
	err = json.Unmarshal(message, &decoded)
	return decoded, err
}

// Object returns the fields of a message that is an object.
func (d *Decoder) Object(message []byte) (fields map[string]any, err error) {
	if decoded, ok := d.quick(message); ok {
		if fields, is := decoded.(map[string]any); is {
			return fields, nil
		}
	}
	err = json.Unmarshal(message, &fields)
	return fields, err
}

// quick decodes a message that has nothing unusual in it; it is false for any other, and for one that is wrong.
func (d *Decoder) quick(message []byte) (decoded any, ok bool) {
	if !simple(message) {
		return nil, false
	}
	parser := d.parsers.Get()
	defer d.parsers.Put(parser)
	value, err := parser.ParseBytes(message)
	if err != nil {
		return nil, false
	}
	return plain(value)
}

// simple reports whether a message has nothing in it that the quick parser takes more generously than the standard says: escapes
// and control characters in texts, and what is not UTF-8.
func simple(message []byte) bool {
	for _, c := range message {
		if c < ' ' || c > '~' || c == '\\' {
			return false
		}
	}
	return true
}

// plain turns a parsed value into maps, lists and single values. It is false where that is for encoding/json to judge.
func plain(v *fastjson.Value) (any, bool) {
	switch v.Type() {
	case fastjson.TypeObject:
		object := v.GetObject()
		fields, all := make(map[string]any, object.Len()), true
		object.Visit(func(key []byte, v *fastjson.Value) {
			field, ok := plain(v)
			fields[string(key)] = field
			all = all && ok
		})
		return fields, all
	case fastjson.TypeArray:
		items := v.GetArray()
		list := make([]any, len(items))
		for i := range items {
			var ok bool
			if list[i], ok = plain(items[i]); !ok {
				return nil, false
			}
		}
		return list, true
	case fastjson.TypeString:
		return string(v.GetStringBytes()), true
	case fastjson.TypeNumber:
		var digits [32]byte
		text := v.MarshalTo(digits[:0])
		if !standardNumber(text) {
			return nil, false
		}
		number, err := strconv.ParseFloat(string(text), 64)
		return number, err == nil
	case fastjson.TypeTrue:
		return true, true
	case fastjson.TypeFalse:
		return false, true
	default:
		return nil, v.Type() == fastjson.TypeNull
	}
}

// standardNumber reports whether a number is written as RFC 8259 §6 says: without a plus before it, zeros that lead it, or a point
// without digits on both sides.
func standardNumber(text []byte) bool {
	if len(text) > 0 && text[0] == '-' {
		text = text[1:]
	}
	rest := digitsCut(text)
	if len(rest) == len(text) || text[0] == '0' && len(text)-len(rest) > 1 {
		return false
	}
	if len(rest) > 0 && rest[0] == '.' {
		fraction := rest[1:]
		if rest = digitsCut(fraction); len(rest) == len(fraction) {
			return false
		}
	}
	if len(rest) > 0 && (rest[0] == 'e' || rest[0] == 'E') {
		exponent := rest[1:]
		if len(exponent) > 0 && (exponent[0] == '+' || exponent[0] == '-') {
			exponent = exponent[1:]
		}
		if rest = digitsCut(exponent); len(rest) == len(exponent) {
			return false
		}
	}
	return len(rest) == 0
}

// digitsCut returns what comes after the digits at the beginning.
func digitsCut(text []byte) []byte {
	for len(text) > 0 && text[0] >= '0' && text[0] <= '9' {
		text = text[1:]
	}
	return text
}
