package expr

import (
	"regexp"
	"strings"

	"cel.dev/cel-go/cel"
)

// mistakes returns what CEL says is wrong, in plainer words.
func mistakes(issues *cel.Issues) []Mistake {
	var all []Mistake
	for _, e := range issues.Errors() {
		all = append(all, Mistake{Line: max(1, e.Location.Line()), Column: max(0, e.Location.Column()) + 1, Message: plain(e.Message)})
		if len(all) == 5 {
			break
		}
	}
	return all
}

// phrases are what CEL says, and what we say for it; the words in brackets are those of types.
type phrase struct {
	from *regexp.Regexp
	to   func(parts []string) string
}

func phrases() []phrase {
	return []phrase{
		{regexp.MustCompile(`found no matching overload for '([^']+)' applied to '\(?([^)']*)\)?`), func(p []string) string {
			return "“" + operator(p[1]) + "” does not go with " + said(p[2]) + "."
		}},
		{regexp.MustCompile(`undeclared reference to '([^']+)'`), func(p []string) string { return "“" + p[1] + "” is not known here." }},
		{
			regexp.MustCompile(`(?s)Syntax error: (?:mismatched input|no viable alternative at input) '[^']*<EOF>'.*`),
			func([]string) string { return "Something is missing at the end." },
		},
		{regexp.MustCompile(`(?s)Syntax error: token recognition error at: '(.*)'`), func(p []string) string { return "“" + p[1] + "” means nothing here." }},
		{
			regexp.MustCompile(`(?s)Syntax error: (?:mismatched input|extraneous input|no viable alternative at input) '([^']*)'.*`),
			func(p []string) string { return "“" + p[1] + "” was not expected here." },
		},
		{regexp.MustCompile(`expression code point size exceeds limit.*`), func([]string) string { return "It is too long: at most 2000 characters." }},
		{regexp.MustCompile(`(?i)(?:expression|max) recursion (?:depth|limit).*`), func([]string) string { return "It is nested too deep." }},
		{regexp.MustCompile(`divi(?:de|sion) by zero`), func([]string) string { return "Something is divided by 0." }},
	}
}

// plain returns what CEL says in plainer words, where we have them.
func plain(message string) string {
	for _, p := range phrases() {
		if parts := p.from.FindStringSubmatch(message); parts != nil {
			return p.to(parts)
		}
	}
	message = strings.TrimPrefix(message, "Syntax error: ")
	if message == "" {
		return "It cannot be read."
	}
	return strings.ToUpper(message[:1]) + message[1:]
}

// operator returns an operator as it is written.
func operator(name string) string {
	return strings.Trim(name, "_@!") + strings.Repeat("!", strings.Count(name, "!"))
}

// said names types in words.
func said(types string) string {
	words := strings.NewReplacer(
		"list(double)",
		"a list of numbers",
		"list(bool)",
		"a list of yes or no",
		"list(string)",
		"a list of texts",
		"google.protobuf.Timestamp",
		"a moment",
		"timestamp",
		"a moment",
		"google.protobuf.Duration",
		"a duration",
		"duration",
		"a duration",
		"double",
		"a number",
		"int",
		"a number",
		"string",
		"a text",
		"bool",
		"yes or no",
		", ",
		" and ",
	)
	return words.Replace(types)
}
