package compose

import (
	"encoding/json"
	"fmt"
	"regexp"
	"sort"
	"strings"

	"amvek/core/pointer"
	"amvek/core/thing"
)

// Field is a single value in what a device says, with what it probably means.
type Field struct {
	// Pointer leads to it (JSON Pointer, RFC 6901); empty is the payload itself.
	Pointer string `json:"pointer"`
	// Pattern finds it in a text, in place of a pointer, and Message is the text that it was found in.
	Pattern string `json:"pattern,omitempty" doc:"Pattern (RE2) whose first group is the value, where it stands in a text."`
	Message string `json:"message,omitempty"`
	// Asked is the message on a line that it was heard after, empty where the device told it by itself.
	Asked string     `json:"asked,omitempty"`
	Value string     `json:"value"`
	Type  thing.Type `json:"type" enum:"boolean,number,text"`
	Role  thing.Role `json:"role,omitempty" doc:"Suggested from its name and value."`
	Unit  thing.Unit `json:"unit,omitempty" doc:"The unit that goes with the suggested role."`
}

const mostFields = 100

// FieldsOf finds the single values in a payload, in the order of their names.
func FieldsOf(payload string) []Field {
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

// InBody finds the single values in what an address answers: in JSON, or else in each line of text.
func InBody(body string) []Field {
	if json.Valid([]byte(body)) {
		return FieldsOf(body)
	}
	fields := []Field{}
	for _, text := range strings.Split(body, "\n") {
		if text = strings.TrimSpace(text); len(text) > longestText {
			continue // a program, or a picture
		}
		if fields = append(fields, InText(text)...); len(fields) >= mostFields {
			return fields[:mostFields]
		}
	}
	return fields
}

const longestText = 500

// token is a number, a word or what stands between them, in a text.
var token = regexp.MustCompile(`-?\d+(?:\.\d+)?|[A-Za-z_][A-Za-z0-9_.-]*|[^A-Za-z0-9_-]+|-`)

var number = regexp.MustCompile(`^-?\d+(?:\.\d+)?$`)

const (
	numberGroup = `(-?\d+(?:\.\d+)?)`
	wordGroup   = `(\S+)`
)

// InText finds what may be a value in a text that is no JSON, such as a message on a line: numbers, and words at the end or for
// yes and no. What stands before a value tells it from others; numbers after it may be other ones.
func InText(message string) []Field {
	fields := []Field{}
	tokens := token.FindAllString(message, -1)
	for i, text := range tokens {
		last := i == len(tokens)-1
		isNumber := number.MatchString(text)
		word := !isNumber && strings.TrimLeft(text, "-_ ") != "" && token.FindString(text) == text && isLetter(text[0])
		_, yesOrNo := yesNo(text)
		if !isNumber && !(word && (yesOrNo || (last && len(tokens) > 1))) {
			continue
		}
		f := Field{Value: text, Message: message, Type: thing.TypeText}
		group := wordGroup
		switch {
		case isNumber:
			f.Type, group = thing.TypeNumber, numberGroup
		case yesOrNo:
			f.Type, group = thing.TypeBoolean, "("+text+"|"+opposite(text)+")"
		}
		f.Pattern = patternOf(tokens, i, group)
		before := strings.Trim(strings.Join(tokens[:i], ""), " :=,;")
		f.Role = thing.SuggestRole(before, thing.UnitNone, f.Type)
		f.Unit = thing.MeaningOf(f.Role).Unit
		fields = append(fields, f)
		if len(fields) == mostFields {
			break
		}
	}
	return fields
}

func isLetter(c byte) bool { return c >= 'A' && c <= 'Z' || c >= 'a' && c <= 'z' }

// pairs are words that devices write for no and yes.
var pairs = [][2]string{{"off", "on"}, {"false", "true"}, {"no", "yes"}, {"closed", "open"}}

// yesNo reports whether a word is one that devices write for yes and no.
func yesNo(text string) (yes, is bool) {
	for _, pair := range pairs {
		switch strings.ToLower(text) {
		case pair[0]:
			return false, true
		case pair[1]:
			return true, true
		}
	}
	return false, false
}

// opposite is the other word of a pair for yes and no, written as the first is.
func opposite(text string) string {
	for _, pair := range pairs {
		for i, word := range pair {
			if !strings.EqualFold(text, word) {
				continue
			}
			switch other := pair[1-i]; text {
			case strings.ToUpper(text):
				return strings.ToUpper(other)
			case strings.ToLower(text):
				return other
			default:
				return strings.ToUpper(other[:1]) + other[1:]
			}
		}
	}
	return ""
}

// patternOf writes the pattern by which a token is found in a text again.
func patternOf(tokens []string, at int, group string) string {
	var pattern strings.Builder
	for i, text := range tokens {
		switch {
		case i == at:
			pattern.WriteString(group)
		case i > at && number.MatchString(text):
			pattern.WriteString(`-?\d+(?:\.\d+)?`)
		default:
			pattern.WriteString(regexp.QuoteMeta(text))
		}
	}
	return pattern.String()
}

// found reports whether a pattern finds something in one of several texts.
func found(pattern string, messages []string) bool {
	p, err := regexp.Compile("^(?:" + pattern + ")$")
	if err != nil {
		return false
	}
	for _, m := range messages {
		if p.MatchString(m) {
			return true
		}
	}
	return false
}
