package hub

import (
	"context"
	"strings"

	"amvek/core/expr"
	"amvek/core/script"
)

// ScriptView is what the hub says of a script that somebody types: what is wrong with it, or what it would do now.
type ScriptView struct {
	Problems []expr.Mistake `json:"problems"`
	// Failed says where it would fail now, though it can be read.
	Failed *expr.Mistake `json:"failed,omitempty"`
	// Does is what it would do now, in words and in its order, and Said what it would print.
	Does []string `json:"does"`
	Said []string `json:"said"`
}

// Script checks a script and says what it would do now. Nothing is done.
func (h *Hub) Script(ctx context.Context, text string) (view ScriptView, err error) {
	view = ScriptView{Problems: []expr.Mistake{}, Does: []string{}, Said: []string{}}
	err = h.do(ctx, func() {
		program, problems := script.Compile(text)
		if program == nil {
			view.Problems = problems
			return
		}
		result, failed := h.engine.TryScript(program)
		view.Failed, view.Said = failed, append(view.Said, result.Said...)
		for i := range result.Asked {
			view.Does = append(view.Does, h.askedFor(&result.Asked[i]))
		}
	})
	return view, err
}

// askedFor says one thing that a script wants done. It runs in the loop.
func (h *Hub) askedFor(a *script.Asked) string {
	switch a.Kind {
	case script.Set:
		property, said := a.Name, a.Value.String()
		if p := h.engine.Property(a.Device, a.Name); p != nil {
			property, said = strings.ToLower(p.Title), p.Say(a.Value)
		}
		return "set " + h.reader.Title(a.Device) + " " + property + " to " + said
	case script.Ask:
		return "ask " + h.reader.Title(a.Device) + " to " + a.Name
	case script.Apply:
		return "apply scene " + h.reader.Title(a.Name)
	case script.Start:
		return "run rule " + h.reader.Title(a.Name)
	case script.Stop:
		return "stop rule " + h.reader.Title(a.Name)
	default:
		return "tell the household “" + a.Text + "”"
	}
}
