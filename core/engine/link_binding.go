package engine

import (
	"slices"
	"strings"
	"time"

	"amvek/core/document"
	"amvek/core/expr"
	"amvek/core/link"
	"amvek/core/thing"
)

func (e *Engine) defineLink(id string, doc *link.Link) {
	l := e.links[id]
	if l == nil {
		l = &linkState{id: id}
		e.links[id] = l
	} else if !slices.EqualFunc(l.doc.Stages, doc.Stages, func(a, b link.Stage) bool { return a.Kind == b.Kind }) {
		l.record.Clear() // what was seen of other stages says nothing of these
	}
	if l.doc != nil && !e.loading {
		e.restLink(l, why{})
	}
	l.doc = doc
	if e.loading {
		return // all are bound when everything is there
	}
	l.checked = doc.Check(e)
	e.settleLinks()
}

func (e *Engine) removeLink(id string) {
	l := e.links[id]
	if l == nil {
		return
	}
	e.restLink(l, why{})
	l.gone = true
	delete(e.links, id)
	e.settleLinks()
}

// bindLinks puts all links to work, once all else is there.
func (e *Engine) bindLinks() {
	for _, id := range sortedKeys(e.links) {
		e.busyWith(KindLink, id)
		e.links[id].checked = e.links[id].doc.Check(e)
	}
	e.settleLinks()
}

// refreshLinks puts those links to work anew that a definition concerns which changed, or sets that a device came into or left.
func (e *Engine) refreshLinks(id string, sets []string) {
	any := false
	for _, key := range sortedKeys(e.links) {
		if l := e.links[key]; l.concerns(id, sets) {
			e.restLink(l, why{})
			l.checked, any = l.doc.Check(e), true
		}
	}
	if any {
		e.settleLinks()
	}
}

// concerns reports whether a link is to be put to work anew where a definition changed.
func (l *linkState) concerns(id string, sets []string) bool {
	names := func(x *expr.Expression) bool {
		return x != nil && slices.ContainsFunc(x.Inputs, func(in expr.Input) bool {
			return in.Ref.Device == id || in.Group == id || in.Room == id || slices.Contains(sets, in.Group) || slices.Contains(sets, in.Room)
		})
	}
	return len(l.checked) > 0 ||
		slices.ContainsFunc(l.doc.Sources, func(s link.Source) bool { return s.Device == id }) ||
		slices.ContainsFunc(l.doc.Targets, func(t link.Driven) bool { return t.Device == id }) ||
		l.gate != nil && names(l.gate.expression) ||
		slices.ContainsFunc(l.formulas, names)
}

// settleLinks puts to work what can be, and lets rest what cannot: whether a link is in a ring depends on all of them.
func (e *Engine) settleLinks() {
	most := samplesOfOne
	if n := len(e.links); n > 0 {
		most = min(samplesOfOne, max(samplesLeast, samplesKept/n))
	}
	feeding := map[thing.Ref][]*linkState{} // by the properties that feed them
	all := sortedKeys(e.links)
	for _, id := range all {
		for i := range e.links[id].doc.Sources {
			if s := &e.links[id].doc.Sources[i]; s.Event == "" && e.links[id].doc.Enabled {
				feeding[s.Ref()] = append(feeding[s.Ref()], e.links[id])
			}
		}
	}
	for _, id := range all {
		l := e.links[id]
		l.record.Most = most
		l.problems = append(slices.Clip(l.checked), ring(l, feeding)...)
		works := len(l.problems) == 0 && l.doc.Enabled
		switch {
		case works && l.flow == nil:
			e.bindLink(l)
		case !works:
			e.restLink(l, why{})
		}
		e.touchLink(l)
	}
}

func (e *Engine) touchLink(l *linkState) {
	e.out = append(e.out, Output{Kind: OutputLink, Name: l.id})
}

// ring says that what a link sets comes back to it by other links.
func ring(l *linkState, feeding map[thing.Ref][]*linkState) []document.Fault {
	if !l.doc.Enabled {
		return nil
	}
	seen := map[*linkState]bool{l: true}
	for next := []*linkState{l}; len(next) > 0; next = next[1:] {
		for i := range next[0].doc.Targets {
			for _, fed := range feeding[next[0].doc.Targets[i].Ref()] {
				if fed == l && next[0] != l {
					return []document.Fault{{
						Path:    "sources",
						Message: "What it sets comes back to it by the link “" + next[0].doc.Title + "”: they would drive each other without end.",
					}}
				}
				if !seen[fed] {
					seen[fed] = true
					next = append(next, fed)
				}
			}
		}
	}
	return nil
}

// gateOf is the expression that says whether a link is on; "" for always.
func gateOf(doc *link.Link) string {
	var parts []string
	if len(doc.Modes) > 0 {
		var modes []string
		for _, m := range doc.Modes {
			modes = append(modes, `mode == "`+m+`"`)
		}
		parts = append(parts, "("+strings.Join(modes, " || ")+")")
	}
	if strings.TrimSpace(doc.Only) != "" {
		parts = append(parts, "("+doc.Only+")")
	}
	return strings.Join(parts, " && ")
}

func (e *Engine) bindLink(l *linkState) {
	e.busyWith(KindLink, l.id)
	l.flow, l.open, l.written = link.NewFlow(l.doc.Stages), true, false
	l.formulas = e.formulasOf(l.doc.Stages)
	for i := range l.doc.Sources {
		source := &l.doc.Sources[i]
		if slices.Contains(l.sources, source.Ref()) { // by another gesture of the same key
			continue
		}
		l.sources = append(l.sources, source.Ref())
		if source.Event != "" {
			e.fed[source.Ref()] = append(e.fed[source.Ref()], l)
		} else if s := e.at(source.Ref()); s != nil {
			s.feeds = append(s.feeds, l)
			s.attach()
		}
	}
	for i := range l.doc.Targets {
		l.targets = append(l.targets, l.doc.Targets[i].Ref())
		if s := e.at(l.doc.Targets[i].Ref()); s != nil {
			s.drivenBy = append(s.drivenBy, l)
		}
	}
	if text := gateOf(l.doc); text != "" {
		x, _ := e.Expression(text)
		l.open = false
		if x != nil {
			l.gate = &weigher{expression: x, link: l}
			e.bindExpression(l.gate)
			e.weigh(l.gate, why{})
		}
		return
	}
	e.feedNow(l, why{})
}

// restLink takes a link from work, and lets go of what it holds.
func (e *Engine) restLink(l *linkState, w why) {
	e.letGoOfLink(l, w)
	if l.flow == nil {
		return
	}
	l.flow, l.due, l.open, l.formulas = nil, time.Time{}, false, nil
	mine := func(x *linkState) bool { return x == l }
	for _, ref := range l.sources {
		if fed := slices.DeleteFunc(e.fed[ref], mine); len(fed) > 0 {
			e.fed[ref] = fed
		} else {
			delete(e.fed, ref)
		}
		if s := e.at(ref); s != nil {
			s.feeds = slices.DeleteFunc(s.feeds, mine)
			s.attach()
		}
	}
	for _, ref := range l.targets {
		if s := e.at(ref); s != nil {
			s.drivenBy = slices.DeleteFunc(s.drivenBy, mine)
		}
	}
	l.sources, l.targets = nil, nil
	if l.gate != nil {
		e.unbindExpression(l.gate)
		l.gate = nil
	}
}
