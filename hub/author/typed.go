package author

import (
	"strings"
	"unicode/utf8"

	"amvek/core/expr"
	"amvek/core/rule"
	"amvek/core/script"
	"amvek/core/thing"
)

// ExpressionView is what the hub says of an expression that somebody types.
type ExpressionView struct {
	Problems []expr.Mistake `json:"problems"`
	// Type is what it comes to, and Value what that is now.
	Type  thing.Type  `json:"type,omitempty" enum:"boolean,number,text"`
	Value thing.Value `json:"value,omitzero"`
	// Unknown says why there is no value now.
	Unknown string `json:"unknown,omitempty"`
}

// ToldView is what the hub says of a text with expressions in braces that somebody types.
type ToldView struct {
	// Problems are at their places in the whole text.
	Problems []expr.Mistake `json:"problems"`
	Text     string         `json:"text" doc:"What would be said now."`
}

// ScriptView is what the hub says of a script that somebody types: what is wrong with it, or what it would do now.
type ScriptView struct {
	Problems []expr.Mistake `json:"problems"`
	// Failed says where it would fail now, though it can be read.
	Failed *expr.Mistake `json:"failed,omitempty"`
	// Does is what it would do now, in words and in its order, and Said what it would print.
	Does []string `json:"does"`
	Said []string `json:"said"`
}

// Engine is what of the engine expressions and scripts are tried with; [engine.Engine] implements it.
type Engine interface {
	expr.Source
	Property(device, name string) *thing.Property
	Expression(text string) (*expr.Expression, []expr.Mistake)
	TryScript(program *script.Program) (script.Result, *expr.Mistake)
	Told(text string) string
}

// Expression checks an expression and works it out.
func Expression(e Engine, text string) ExpressionView {
	x, problems := e.Expression(text)
	if x == nil {
		return ExpressionView{Problems: problems}
	}
	view := ExpressionView{Problems: []expr.Mistake{}, Type: x.Type}
	v, err := x.Evaluate(e)
	if err != nil {
		view.Unknown = err.Error()
		return view
	}
	view.Value = v
	return view
}

// Told checks the expressions in a text and says what it would say now.
func Told(e Engine, text string) ToldView {
	view := ToldView{Problems: []expr.Mistake{}, Text: e.Told(text)}
	for _, part := range rule.Parts(text) {
		if part.Expression == "" && !part.Unshut {
			continue
		}
		before := text[:part.At]
		line, column := strings.Count(before, "\n"), utf8.RuneCountInString(before[strings.LastIndex(before, "\n")+1:])
		if part.Unshut {
			view.Problems = append(view.Problems, expr.Mistake{Line: line + 1, Column: column + 1, Message: rule.Unshut})
			continue
		}
		_, problems := e.Expression(part.Expression)
		for _, p := range problems {
			if p.Line == 1 {
				p.Column += column
			}
			p.Line += line
			view.Problems = append(view.Problems, p)
		}
	}
	return view
}

// Script checks a script and says what it would do now, with the titles of what it speaks of. Nothing is done.
func Script(e Engine, title func(id string) string, text string) ScriptView {
	view := ScriptView{Problems: []expr.Mistake{}, Does: []string{}, Said: []string{}}
	program, problems := script.Compile(text)
	if program == nil {
		view.Problems = problems
		return view
	}
	result, failed := e.TryScript(program)
	view.Failed, view.Said = failed, append(view.Said, result.Said...)
	for i := range result.Asked {
		view.Does = append(view.Does, askedFor(e, title, &result.Asked[i]))
	}
	return view
}

// askedFor says one thing that a script wants done.
func askedFor(e Engine, title func(id string) string, a *script.Asked) string {
	switch a.Kind {
	case script.Set:
		property, said := a.Name, a.Value.String()
		if p := e.Property(a.Device, a.Name); p != nil {
			property, said = strings.ToLower(p.Title), p.Say(a.Value)
		}
		return "set " + title(a.Device) + " " + property + " to " + said
	case script.Ask:
		return "ask " + title(a.Device) + " to " + a.Name
	case script.Apply:
		return "apply scene " + title(a.Name)
	case script.Start:
		return "run rule " + title(a.Name)
	case script.Stop:
		return "stop rule " + title(a.Name)
	default:
		return "tell the household “" + a.Text + "”"
	}
}
