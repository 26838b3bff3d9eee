package hub

import (
	"encoding/json"
	"fmt"
	"sort"
	"strings"

	"amvek/core/thing"

	"amvek/core/pointer"
)

// Field is a single value in a payload, with what it probably means.
type Field struct {
	// Pointer leads to it (JSON Pointer, RFC 6901); empty is the payload itself.
	Pointer string     `json:"pointer"`
	Value   string     `json:"value"`
	Type    thing.Type `json:"type" enum:"boolean,number,text"`
	Role    thing.Role `json:"role,omitempty" doc:"Suggested from its name and value."`
	Unit    thing.Unit `json:"unit,omitempty" doc:"The unit that goes with the suggested role."`
}

const mostFields = 100

// fieldsOf finds the single values in a payload, in the order of their names.
func fieldsOf(payload string) []Field {
	var body any
	if json.Unmarshal([]byte(payload), &body) != nil {
		body = strings.TrimSpace(payload)
	}
	fields := []Field{}
	collect(&fields, "", "", body)
	return fields
}

func collect(fields *[]Field, at, name string, value any) {
	if len(*fields) >= mostFields {
		return
	}
	switch v := value.(type) {
	case map[string]any:
		names := make([]string, 0, len(v))
		for n := range v {
			names = append(names, n)
		}
		sort.Strings(names)
		for _, n := range names {
			collect(fields, at+"/"+pointer.Escape(n), n, v[n])
		}
	case []any:
		for i := range v {
			collect(fields, fmt.Sprintf("%s/%d", at, i), name, v[i])
		}
	case nil:
	default:
		f := Field{Pointer: at, Value: fmt.Sprint(v), Type: thing.TypeText}
		switch x := v.(type) {
		case bool:
			f.Type = thing.TypeBoolean
		case float64:
			f.Type = thing.TypeNumber
		case string:
			if word := strings.ToLower(x); word == "on" || word == "off" {
				f.Type = thing.TypeBoolean
			}
		}
		f.Role = thing.SuggestRole(name, thing.UnitNone, f.Type)
		f.Unit = thing.MeaningOf(f.Role).Unit
		*fields = append(*fields, f)
	}
}
