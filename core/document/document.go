// Package document checks a definition against its schema before anything else is done with it: one walk over the typed
// document and the bounds that its fields are tagged with, the same that the interface's OpenAPI document tells. What
// passes can be written as JSON and read again. It knows no kind of definition, and does no I/O.
package document

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"
)

// The bounds of every document, whatever its kind. A field's own tags may be narrower.
const (
	// MaximumDepth is how deep lists and objects may be nested.
	MaximumDepth = 64
	// MaximumParts is how many values a document may have, in all.
	MaximumParts = 50_000
	// MaximumBytes is how long it may be, as JSON.
	MaximumBytes = 512 << 10
	// maximumText is how long a text without a bound of its own may be, in characters.
	maximumText = 4000
	// maximumItems is how long a list without a bound of its own may be.
	maximumItems = 5000
)

// Error says what is wrong with a document, and where.
type Error struct {
	// Path is the place, such as do[0].value; empty for the whole.
	Path    string
	Message string
}

func (e *Error) Error() string {
	if e.Path == "" {
		return e.Message
	}
	return e.Path + ": " + e.Message
}

// Wrong returns an [Error] at a place, such as controls[2].id.
func Wrong(path, format string, args ...any) error {
	return &Error{Path: path, Message: fmt.Sprintf(format, args...)}
}

// In returns what is wrong with a part of a document, with the place of that part before its own.
func In(path string, err error) error {
	var wrong *Error
	if errors.As(err, &wrong) {
		return &Error{Path: join(path, wrong.Path), Message: wrong.Message}
	}
	return &Error{Path: path, Message: err.Error()}
}

// Message returns what is wrong without where, of an [Error]; of another error what it says.
func Message(err error) string {
	var wrong *Error
	if errors.As(err, &wrong) {
		return wrong.Message
	}
	return err.Error()
}

// Check returns what is wrong with a document first, an [*Error], or nil. The document is a struct or a pointer to one.
func Check(document any) error {
	w := walker{}
	if err := w.value("", reflect.ValueOf(document), "", 0); err != nil {
		return err
	}
	data, err := json.Marshal(document)
	if err != nil {
		return &Error{Message: "It cannot be written down: " + err.Error()}
	}
	if len(data) > MaximumBytes {
		return &Error{Message: fmt.Sprintf("It is too large: %d kB, of at most %d kB.", len(data)>>10, MaximumBytes>>10)}
	}
	return nil
}

// CheckJSON returns what is wrong with JSON that stands for itself, such as a description by another maker: that it cannot
// be read, or is nested too deep.
func CheckJSON(data []byte) error {
	if !json.Valid(data) {
		return &Error{Message: "This is not valid JSON."}
	}
	if depth := Depth(data); depth > MaximumDepth {
		return tooDeep("")
	}
	return nil
}

// Depth returns how deep lists and objects are nested in valid JSON.
func Depth(data []byte) int {
	depth, deepest, quoted := 0, 0, false
	for i := 0; i < len(data); i++ {
		switch c := data[i]; {
		case quoted && c == '\\':
			i++
		case c == '"':
			quoted = !quoted
		case quoted:
		case c == '{' || c == '[':
			depth++
			deepest = max(deepest, depth)
		case c == '}' || c == ']':
			depth--
		}
	}
	return deepest
}

func tooDeep(path string) error {
	return &Error{Path: path, Message: fmt.Sprintf("It is nested too deep: %d levels are the most.", MaximumDepth)}
}

type walker struct{ parts int }

var (
	timeType = reflect.TypeFor[time.Time]()
	rawType  = reflect.TypeFor[json.RawMessage]()
)

// value checks one value, with the tags of the field that it is in.
func (w *walker) value(path string, v reflect.Value, tag reflect.StructTag, depth int) error {
	if w.parts++; w.parts > MaximumParts {
		return &Error{Path: path, Message: fmt.Sprintf("It has too many parts: %d are the most.", MaximumParts)}
	}
	if depth > MaximumDepth {
		return tooDeep(path)
	}
	switch {
	case v.Kind() == reflect.Invalid:
		return nil
	case v.Type() == timeType:
		return moment(path, v.Interface().(time.Time))
	case v.Type() == rawType:
		if len(v.Bytes()) == 0 {
			return nil
		}
		if err := CheckJSON(v.Bytes()); err != nil {
			return &Error{Path: path, Message: err.Error()}
		}
		return nil
	}
	switch v.Kind() {
	case reflect.Pointer, reflect.Interface:
		if v.IsNil() {
			return nil
		}
		return w.value(path, v.Elem(), tag, depth)
	case reflect.Struct:
		return w.fields(path, v, depth)
	case reflect.Slice, reflect.Array:
		return w.list(path, v, tag, depth)
	case reflect.Map:
		return w.entries(path, v, tag, depth)
	case reflect.String:
		return text(path, v.String(), tag)
	case reflect.Float32, reflect.Float64:
		return number(path, v.Float(), tag)
	case reflect.Int, reflect.Int8, reflect.Int16, reflect.Int32, reflect.Int64:
		return number(path, float64(v.Int()), tag)
	case reflect.Uint, reflect.Uint8, reflect.Uint16, reflect.Uint32, reflect.Uint64:
		return number(path, float64(v.Uint()), tag)
	default:
		return nil
	}
}

func (w *walker) fields(path string, v reflect.Value, depth int) error {
	for i := range v.NumField() {
		field := v.Type().Field(i)
		if !field.IsExported() && !field.Anonymous {
			continue
		}
		name, options, _ := strings.Cut(field.Tag.Get("json"), ",")
		switch {
		case name == "-", strings.Contains(options, "omit") && v.Field(i).IsZero():
			continue // not there
		case field.Anonymous && name == "":
			if err := w.value(path, v.Field(i), field.Tag, depth); err != nil {
				return err
			}
			continue
		case name == "":
			name = field.Name
		}
		if err := w.value(join(path, name), v.Field(i), field.Tag, depth+1); err != nil {
			return err
		}
	}
	return nil
}

func (w *walker) list(path string, v reflect.Value, tag reflect.StructTag, depth int) error {
	if v.Type().Elem().Kind() == reflect.Uint8 {
		return nil // bytes
	}
	if most := int(bound(tag, "maxItems", maximumItems)); v.Len() > most {
		return &Error{Path: path, Message: fmt.Sprintf("At most %d.", most)}
	}
	inner := itemTag(tag)
	for i := range v.Len() {
		if err := w.value(join(path, strconv.Itoa(i)), v.Index(i), inner, depth+1); err != nil {
			return err
		}
	}
	return nil
}

func (w *walker) entries(path string, v reflect.Value, tag reflect.StructTag, depth int) error {
	if most := int(bound(tag, "maxProperties", maximumItems)); v.Len() > most {
		return &Error{Path: path, Message: fmt.Sprintf("At most %d.", most)}
	}
	keys := v.MapKeys()
	slices.SortFunc(keys, func(a, b reflect.Value) int { return strings.Compare(a.String(), b.String()) })
	for _, key := range keys {
		at := join(path, fmt.Sprint(key.Interface()))
		if key.Kind() == reflect.String {
			if err := text(at, key.String(), ""); err != nil {
				return err
			}
		}
		if err := w.value(at, v.MapIndex(key), itemTag(tag), depth+1); err != nil {
			return err
		}
	}
	return nil
}

// itemTag is the part of a list's tag that is about its items, as huma reads it: an enum and a bound of texts.
func itemTag(tag reflect.StructTag) reflect.StructTag {
	if enum, there := tag.Lookup("enum"); there {
		return reflect.StructTag(`enum:"` + enum + `"`)
	}
	return ""
}

func join(path, name string) string {
	if path == "" {
		return name
	}
	return path + "/" + name
}

func bound(tag reflect.StructTag, name string, otherwise float64) float64 {
	if n, err := strconv.ParseFloat(tag.Get(name), 64); err == nil {
		return n
	}
	return otherwise
}

func text(path, s string, tag reflect.StructTag) error {
	if !utf8.ValidString(s) {
		return &Error{Path: path, Message: "This is not text: it is not valid UTF-8."}
	}
	if strings.ContainsRune(s, 0) {
		return &Error{Path: path, Message: "A text may not contain the character 0."}
	}
	if most := int(bound(tag, "maxLength", maximumText)); len(s) > most && utf8.RuneCountInString(s) > most {
		return &Error{Path: path, Message: fmt.Sprintf("It is too long: %d characters, of at most %d.", utf8.RuneCountInString(s), most)}
	}
	if enum := tag.Get("enum"); enum != "" && s != "" && !slices.Contains(strings.Split(enum, ","), s) {
		return &Error{Path: path, Message: fmt.Sprintf("%q is not one of %s.", s, strings.Trim(strings.ReplaceAll(enum, ",", ", "), ", "))}
	}
	return nil
}

func number(path string, n float64, tag reflect.StructTag) error {
	if math.IsNaN(n) || math.IsInf(n, 0) {
		return &Error{Path: path, Message: "This is not a number."}
	}
	least, most := bound(tag, "minimum", math.Inf(-1)), bound(tag, "maximum", math.Inf(1))
	switch {
	case n >= least && n <= most:
		return nil
	case math.IsInf(most, 1):
		return &Error{Path: path, Message: fmt.Sprintf("%v is too small: the least is %v.", n, least)}
	case math.IsInf(least, -1):
		return &Error{Path: path, Message: fmt.Sprintf("%v is too large: the most is %v.", n, most)}
	default:
		return &Error{Path: path, Message: fmt.Sprintf("%v is not from %v to %v.", n, least, most)}
	}
}

// moment checks a time, of which JSON knows the years 0 to 9999 only (RFC 3339).
func moment(path string, t time.Time) error {
	if year := t.Year(); year < 0 || year > 9999 {
		return &Error{Path: path, Message: fmt.Sprintf("The year %d is not one of a date.", year)}
	}
	return nil
}
