package show

import (
	"bytes"
	"encoding/json"
)

// Patch returns what turns one JSON object into another: a JSON Merge Patch (RFC 7396), nil where they are the same. It is
// false where no patch can say it: a member that becomes null, or that is an object and no longer one.
func Patch(before, after []byte) (patch []byte, could bool) {
	if bytes.Equal(before, after) {
		return nil, true
	}
	var was, is map[string]json.RawMessage
	if json.Unmarshal(before, &was) != nil || json.Unmarshal(after, &is) != nil || was == nil || is == nil {
		return nil, false
	}
	changed := map[string]json.RawMessage{}
	for name, now := range is {
		then, there := was[name]
		switch {
		case there && bytes.Equal(then, now):
		case bytes.Equal(now, null):
			return nil, false
		case there && isObject(then) && isObject(now):
			inner, could := Patch(then, now)
			if !could {
				return nil, false
			}
			if inner != nil {
				changed[name] = inner
			}
		case isObject(now) && hasNull(now):
			return nil, false
		default:
			changed[name] = now
		}
	}
	for name := range was {
		if _, there := is[name]; !there {
			changed[name] = null
		}
	}
	if len(changed) == 0 {
		return nil, true
	}
	patch, err := json.Marshal(changed)
	return patch, err == nil
}

var null = []byte("null")

func isObject(text []byte) bool { return len(text) > 0 && text[0] == '{' }

// hasNull reports whether an object, or one within it, has a member that is null, which a patch would take for absent.
func hasNull(text []byte) bool {
	var members map[string]json.RawMessage
	if json.Unmarshal(text, &members) != nil {
		return true
	}
	for _, m := range members {
		if bytes.Equal(m, null) || isObject(m) && hasNull(m) {
			return true
		}
	}
	return false
}
