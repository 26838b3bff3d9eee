package thing

import (
	"encoding/json"
	"math"
	"strconv"
)

// Encode writes the fields of a message as [json.Marshal] does, but what is most frequent, a single number or yes-or-no, in a fraction
// of the time.
func Encode(fields map[string]any) ([]byte, error) {
	if len(fields) == 1 {
		for key, value := range fields {
			if text, ok := encodeOne(key, value); ok {
				return text, nil
			}
		}
	}
	return json.Marshal(fields)
}

// encodeOne writes an object with one field; it is false for what is for encoding/json to write.
func encodeOne(key string, value any) (text []byte, ok bool) {
	for i := range len(key) {
		if c := key[i]; (c < 'a' || c > 'z') && (c < 'A' || c > 'Z') && (c < '0' || c > '9') && c != '_' {
			return nil, false
		}
	}
	text = append(append(append(make([]byte, 0, 32), `{"`...), key...), `":`...)
	switch v := value.(type) {
	case bool:
		text = strconv.AppendBool(text, v)
	case int:
		text = strconv.AppendInt(text, int64(v), 10)
	case float64:
		if size := math.Abs(v); v != 0 && (size < 1e-6 || size >= 1e21) || math.IsNaN(v) {
			return nil, false // with an exponent, or an error
		}
		text = strconv.AppendFloat(text, v, 'f', -1, 64)
	default:
		return nil, false
	}
	return append(text, '}'), true
}
