package rule

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"time"
	"unicode"

	"amvek/core/expr"
	"amvek/core/thing"
)

// Formula is an expression that is a condition of a compiled rule. The engine sets Truth whenever what it depends on
// changes.
type Formula struct {
	Fact
	Path       string
	Expression *expr.Expression
	// Since is when the truth last changed.
	Since time.Time
}

// Part is a part of a text that is told: words as they are, or an expression.
type Part struct {
	Words, Expression string
	// At is where an expression, or an unshut brace, begins in the text, in bytes.
	At int
	// Unshut says that the words begin with a brace that is opened and never shut.
	Unshut bool
}

// Unshut is what is said of a brace that is opened and never shut.
const Unshut = "This brace is never shut. Type it twice where the brace itself is meant."

// Parts takes a text apart: what stands in braces is an expression, and a brace twice is that brace.
func Parts(text string) []Part {
	var parts []Part
	var words strings.Builder
	for i := 0; i < len(text); i++ {
		c := text[i]
		switch {
		case (c == '{' || c == '}') && i+1 < len(text) && text[i+1] == c:
			words.WriteByte(c)
			i++
		case c == '{':
			if words.Len() > 0 {
				parts = append(parts, Part{Words: words.String()})
				words.Reset()
			}
			end := closing(text[i+1:])
			if end < 0 {
				return append(parts, Part{Words: text[i:], At: i, Unshut: true})
			}
			inner := text[i+1 : i+1+end]
			at := i + 1 + len(inner) - len(strings.TrimLeftFunc(inner, unicode.IsSpace))
			parts = append(parts, Part{Expression: strings.TrimSpace(inner), At: at})
			i += end + 1
		default:
			words.WriteByte(c)
		}
	}
	if words.Len() > 0 {
		parts = append(parts, Part{Words: words.String()})
	}
	return parts
}

// closing returns where the brace is that closes an expression, below 0 where there is none; braces within quotes
// do not count.
func closing(text string) int {
	quote := byte(0)
	for i := 0; i < len(text); i++ {
		switch c := text[i]; {
		case quote != 0:
			if c == quote {
				quote = 0
			}
		case c == '"' || c == '\'':
			quote = c
		case c == '}':
			return i
		}
	}
	return -1
}

// Say says a value within a sentence: a number without more decimals than anybody hears.
func Say(v thing.Value) string {
	switch v.Kind {
	case thing.KindNumber:
		return strconv.FormatFloat(math.Round(v.Number*10)/10, 'f', -1, 64)
	case thing.KindBoolean:
		if v.True() {
			return "yes"
		}
		return "no"
	default:
		return v.String()
	}
}

// accepts reports whether a property can be set to what an expression comes to.
func accepts(p *thing.Property, of thing.Type) bool {
	return p.Type == of || (p.Type == thing.TypeOption && of == thing.TypeText)
}

func kindOf(t thing.Type) string {
	switch t {
	case thing.TypeNumber:
		return "a number"
	case thing.TypeBoolean:
		return "yes or no"
	default:
		return "a text"
	}
}

// expression checks an expression; more says what else may be wrong with it, nothing where nothing is.
func (c *checker) expression(path, text string, more func(x *expr.Expression) string) {
	x, problems := c.lookup.Expression(text)
	for _, p := range problems {
		place := fmt.Sprintf("character %d", p.Column)
		if p.Line > 1 {
			place = fmt.Sprintf("line %d, character %d", p.Line, p.Column)
		}
		c.say(path, "At %s: %s", place, p.Message)
	}
	if x != nil && x.TakesSent() && (!c.called || strings.HasPrefix(path, "when") || strings.HasPrefix(path, "gate")) {
		c.say(path, "Nothing is sent here: only a rule that another program calls takes it, in its steps and in what it needs to begin.")
	}
	if x != nil && x.TakesComing() {
		c.say(path, "Nothing comes in here: coming is known in the stages of a link alone.")
	}
	if x != nil {
		if wrong := more(x); wrong != "" {
			c.say(path, "%s", wrong)
		}
	}
}

// formula compiles an expression that has no problems.
func (c *compiler) formula(text string) *expr.Expression {
	x, _ := c.lookup.Expression(text)
	return x
}
