package expr

import (
	"encoding/json"
	"math"

	"amvek/core/pointer"
	"amvek/core/thing"
)

// Sent returns a part of a JSON document that another program sent, by a pointer (RFC 6901): none where it is not there, or
// is of another type than the input asks for.
func (i *Input) Sent(document string) thing.Value {
	var at any
	if document == "" || json.Unmarshal([]byte(document), &at) != nil {
		return thing.Value{}
	}
	at, err := pointer.At(at, i.Pointer)
	if err != nil {
		return thing.Value{}
	}
	switch v := at.(type) {
	case float64:
		if i.As == thing.TypeNumber && !math.IsInf(v, 0) {
			return thing.Number(v)
		}
	case string:
		if i.As == thing.TypeText {
			return thing.Text(v)
		}
	case bool:
		if i.As == thing.TypeBoolean {
			return thing.Boolean(v)
		}
	}
	return thing.Value{}
}
