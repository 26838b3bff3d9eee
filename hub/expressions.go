package hub

import (
	"context"
	"strings"

	"amvek/core/document"
	"amvek/core/engine"
	"amvek/core/expr"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub/author"
)

// Expression checks an expression and works it out.
func (h *Hub) Expression(ctx context.Context, text string) (view author.ExpressionView, err error) {
	err = h.do(ctx, func() { view = author.Expression(h.engine, text) })
	return view, err
}

// Told checks the expressions in a text and says what it would say now.
func (h *Hub) Told(ctx context.Context, text string) (view author.ToldView, err error) {
	err = h.do(ctx, func() { view = author.Told(h.engine, text) })
	return view, err
}

// Script checks a script and says what it would do now. Nothing is done.
func (h *Hub) Script(ctx context.Context, text string) (view author.ScriptView, err error) {
	err = h.do(ctx, func() { view = author.Script(h.engine, h.reader.Title, text) })
	return view, err
}

// checkComputed returns what is wrong with what a variable is computed by. It runs in the loop.
func (h *Hub) checkComputed(id string, v *home.Variable) error {
	if v.Expression == "" {
		return nil
	}
	x, problems := h.engine.Expression(v.Expression)
	if x == nil {
		p := problems[0]
		return document.Wrong("expression", "line %d, character %d: %s", p.Line, p.Column, p.Message)
	}
	wanted := v.Type
	if wanted == thing.TypeOption {
		wanted = thing.TypeText
	}
	if x.Type != wanted {
		return document.Wrong("expression", "it comes to another kind of value than the variable has")
	}
	if x.TakesSent() {
		return document.Wrong("expression", "nothing is sent here: only a rule that another program calls takes it")
	}
	if x.TakesComing() {
		return document.Wrong("expression", "nothing comes in here: coming is known in the stages of a link alone")
	}
	if h.follows(v.Expression, id, map[string]bool{}) {
		return document.Wrong("expression", "it would depend on itself")
	}
	return nil
}

// checkFormulas returns what is wrong with the formulas of a scene.
func (h *Hub) checkFormulas(doc *light.Scene) (err error) {
	doc.Formulas(func(place, text string, target *light.Target) {
		x, problems := h.engine.Expression(text)
		of := thing.TypeNumber
		if target != nil {
			if of = h.engine.Property(target.Device, target.Property).Type; of == thing.TypeOption {
				of = thing.TypeText
			}
		}
		switch {
		case err != nil:
		case x == nil:
			err = document.Wrong(place, "line %d, character %d: %s", problems[0].Line, problems[0].Column, strings.TrimSuffix(problems[0].Message, "."))
		case x.TakesSent():
			err = document.Wrong(place, "nothing is sent here")
		case x.TakesComing():
			err = document.Wrong(place, "nothing comes in here")
		case x.Type != of:
			err = document.Wrong(place, "it comes to another kind of value than is set")
		}
	})
	return err
}

// follows reports whether an expression depends on a variable, be it by others that are computed.
func (h *Hub) follows(text, variable string, seen map[string]bool) bool {
	for _, ref := range expr.Mention(text).Properties {
		if ref.Device != rule.OwnDevice || seen[ref.Name] {
			continue
		}
		if ref.Name == variable {
			return true
		}
		seen[ref.Name] = true
		if other := h.definitions.Variables[ref.Name].Doc; other != nil && other.Expression != "" && h.follows(other.Expression, variable, seen) {
			return true
		}
	}
	return false
}

// tellPast gives the engine what a property was at before it began to remember. It runs in the loop.
func (h *Hub) tellPast(out *engine.Output) {
	now, device, name, span := h.clock.Now(), out.Device, out.Name, out.Fade
	h.workers.Go(func() {
		samples, err := h.store.Samples(h.context, device, name, now.Add(-span), now)
		if err != nil {
			h.log.Error("what a property was at cannot be read", "error", err)
			return
		}
		in := engine.Input{Kind: engine.InputPast, Device: device, Name: name}
		for _, s := range samples {
			in.Past = append(in.Past, engine.Moment{At: s.At, Value: s.Value})
		}
		_ = h.do(h.context, func() { h.handle(in) }) // the hub ends else
	})
}
