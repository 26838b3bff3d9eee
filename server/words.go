package server

import (
	"fmt"
	"net/http"
	"regexp"
	"strings"

	"github.com/danielgtaylor/huma/v2"
)

// longestEcho is how much of a wrong value is told back, in characters.
const longestEcho = 200

// speakPlainly lets the errors that are made for wrong requests say what is wrong in words that are no programming
// language's. Huma has one place for that, for all of its interfaces.
func speakPlainly() {
	huma.NewError = func(status int, message string, errs ...error) huma.StatusError {
		problem := &huma.ErrorModel{Status: status, Title: http.StatusText(status), Detail: message}
		for _, err := range errs {
			detail := &huma.ErrorDetail{Message: err.Error()}
			if given, is := err.(huma.ErrorDetailer); is {
				detail = given.ErrorDetail()
			}
			problem.Errors = append(problem.Errors, &huma.ErrorDetail{Location: detail.Location, Message: plainly(detail.Message), Value: echo(detail.Value)})
		}
		if message == "validation failed" && len(problem.Errors) > 0 {
			first := problem.Errors[0]
			problem.Detail = first.Message
			if place := strings.TrimPrefix(first.Location, "body."); place != "" && place != "body" {
				problem.Detail = place + ": " + first.Message
			}
		}
		return problem
	}
}

// tooLarge is what is said of a number that fits nowhere; of one that stands in a wrong place its digits are not said.
var tooLarge = regexp.MustCompile(`^json: cannot unmarshal number -?[0-9]`)

// plainly says in plain words what the reading of a request says in those of Go and JSON Schema.
func plainly(message string) string {
	switch {
	case strings.HasPrefix(message, "invalid character"), strings.HasPrefix(message, "unexpected end of JSON"), strings.Contains(message, "unexpected EOF"):
		return "This is not valid JSON."
	case tooLarge.MatchString(message):
		return "A number in it is too large."
	case strings.HasPrefix(message, "json:"):
		return "It does not fit what is expected here."
	case strings.HasPrefix(message, "invalid date/time"):
		return "This is not a time such as 2026-11-28T22:30:00Z."
	case strings.HasPrefix(message, "unknown content type"):
		return "Requests are JSON: say so with Content-Type: application/json."
	case strings.HasPrefix(message, "expected required property "):
		name, _, _ := strings.Cut(strings.TrimPrefix(message, "expected required property "), " ")
		return fmt.Sprintf("“%s” is missing.", name)
	case message == "unexpected property":
		return "There is nothing of this name here."
	case strings.HasPrefix(message, "expected array"):
		return "A list is expected here."
	case strings.HasPrefix(message, "expected object"):
		return "An object is expected here."
	case strings.HasPrefix(message, "expected string"):
		return "A text is expected here."
	case strings.HasPrefix(message, "expected boolean"):
		return "True or false is expected here."
	case strings.HasPrefix(message, "expected number <= "):
		return "At most " + strings.TrimPrefix(message, "expected number <= ") + "."
	case strings.HasPrefix(message, "expected number >= "):
		return "At least " + strings.TrimPrefix(message, "expected number >= ") + "."
	case strings.HasPrefix(message, "expected number"),
		strings.HasPrefix(message, "expected integer"),
		strings.HasPrefix(message, "invalid integer"),
		strings.HasPrefix(message, "invalid float"):
		return "A number is expected here."
	default:
		return message
	}
}

// echo bounds what is told back of a wrong value.
func echo(value any) any {
	text := fmt.Sprint(value)
	switch value.(type) {
	case nil, bool, float64, int:
		return value
	case string:
		if runes := []rune(text); len(runes) > longestEcho {
			return string(runes[:longestEcho]) + "…"
		}
		return value
	default:
		return nil // a list or an object, which whoever sent it has
	}
}
