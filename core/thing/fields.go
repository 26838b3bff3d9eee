package thing

import (
	"fmt"
	"strconv"
	"strings"

	"amvek/core/pointer"
)

// whole is the key under which a message that is no object, but a single value, is kept.
const whole = ""

// Message turns decoded JSON into the fields that natives read: an object's own, or one field
// with the empty name that holds a single value.
func Message(decoded any) map[string]any {
	if object, ok := decoded.(map[string]any); ok {
		return object
	}
	return map[string]any{whole: decoded}
}

// field returns a field of a message: by its key, or by a JSON Pointer (RFC 6901) into it.
func field(message map[string]any, name string) (any, bool) {
	if raw, present := message[name]; present {
		return raw, true
	}
	if !strings.HasPrefix(name, "/") {
		return nil, false
	}
	part, err := pointer.At(message, name)
	return part, err == nil
}

// set puts a value into a message at a key, or at a JSON Pointer, making the objects on the way.
func set(message map[string]any, name string, value any) {
	if !strings.HasPrefix(name, "/") {
		message[name] = value
		return
	}
	tokens := strings.Split(name[1:], "/")
	for i, token := range tokens {
		token = pointer.Unescape(token)
		if i == len(tokens)-1 {
			message[token] = value
			return
		}
		next, is := message[token].(map[string]any)
		if !is {
			next = map[string]any{}
			message[token] = next
		}
		message = next
	}
}

// word reads the maker's word for yes or no.
func (n Native) word(text string) (yes, ok bool) {
	if len(n.Words) == 2 {
		for i, words := range n.Words {
			for _, word := range strings.Split(words, "|") {
				if strings.EqualFold(text, word) {
					return i == 1, true
				}
			}
		}
		return false, false
	}
	switch strings.ToLower(strings.TrimSpace(text)) {
	case "on", "true", "1", "yes", "open":
		return true, true
	case "off", "false", "0", "no", "closed":
		return false, true
	}
	return false, false
}

func (n Native) code(option string) string {
	if code, mapped := n.Codes[option]; mapped {
		return code
	}
	return option
}

// Say returns how the maker writes a value of a property in a line of text.
func (n Native) Say(p *Property, v Value) (string, error) {
	fields, err := n.Write(p, v)
	if err != nil {
		return "", err
	}
	raw, _ := field(fields, n.Field)
	switch x := raw.(type) {
	case string:
		return x, nil
	case bool:
		return strconv.FormatBool(x), nil
	case float64:
		return strconv.FormatFloat(x, 'f', -1, 64), nil
	default:
		return "", &InvalidValueError{Property: p.Title, Reason: fmt.Sprintf("%v cannot be written in a line", raw)}
	}
}
