// Package pointer finds parts of decoded JSON by JSON Pointers (RFC 6901). It does no I/O and keeps nothing.
package pointer

import (
	"errors"
	"fmt"
	"strconv"
	"strings"
)

// ErrAbsent says that a document has no such part.
var ErrAbsent = errors.New("there is no such part")

// At returns the part of a decoded document at a pointer; the whole of it where the pointer is empty. It fails with
// [ErrAbsent], and the name of the part that is missing.
func At(document any, pointer string) (any, error) {
	if pointer == "" {
		return document, nil
	}
	for token := range strings.SplitSeq(strings.TrimPrefix(pointer, "/"), "/") {
		name := Unescape(token)
		absent := fmt.Errorf("%w: %q", ErrAbsent, name)
		switch at := document.(type) {
		case map[string]any:
			inner, there := at[name]
			if !there {
				return nil, absent
			}
			document = inner
		case []any:
			i, err := strconv.Atoi(name)
			if err != nil || i < 0 || i >= len(at) || strconv.Itoa(i) != name {
				return nil, absent
			}
			document = at[i]
		default:
			return nil, absent
		}
	}
	return document, nil
}

// Escape writes a name as a token of a pointer, and Unescape reads it back.
func Escape(name string) string { return strings.NewReplacer("~", "~0", "/", "~1").Replace(name) }

// Unescape reads a token of a pointer as the name that it stands for.
func Unescape(token string) string { return strings.NewReplacer("~1", "/", "~0", "~").Replace(token) }
