package docs

import (
	"maps"
	"slices"

	"amvek/core/board"
	"amvek/core/expr"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/link"
	"amvek/core/mirror"
	"amvek/core/rule"
)

// Named is a definition by its kind and id.
type Named struct {
	Kind Kind
	ID   string
}

// references says which definitions refer to something: kept as definitions come and go, so that nobody has to look through
// all of them.
type references struct {
	from map[Named][]string            // what a definition refers to
	to   map[string]map[Named]struct{} // which definitions refer to something, by its id
}

func newReferences() references {
	return references{from: map[Named][]string{}, to: map[string]map[Named]struct{}{}}
}

// put takes what a definition refers to; nothing where it is gone.
func (r *references) put(by Named, ids []string) {
	for _, id := range r.from[by] {
		if delete(r.to[id], by); len(r.to[id]) == 0 {
			delete(r.to, id)
		}
	}
	if len(ids) == 0 {
		delete(r.from, by)
		return
	}
	r.from[by] = ids
	for _, id := range ids {
		if r.to[id] == nil {
			r.to[id] = map[Named]struct{}{}
		}
		r.to[id][by] = struct{}{}
	}
}

// ids gathers what a document refers to, each once.
type ids map[string]struct{}

func (all ids) add(some ...string) {
	for _, id := range some {
		if id != "" {
			all[id] = struct{}{}
		}
	}
}

func (all ids) sorted() []string { return slices.Sorted(maps.Keys(all)) }

func sceneRefers(doc *light.Scene) []string {
	all := ids{}
	for _, t := range doc.Targets {
		all.add(t.Device, t.Curve)
	}
	doc.Formulas(func(_, text string, _ *light.Target) { all.add(mentioned(text)...) })
	if len(doc.Modes) > 0 {
		all.add(home.ModeProperty)
	}
	return all.sorted()
}

func sequenceRefers(doc *light.Sequence) []string {
	all := ids{}
	for _, p := range doc.Passages {
		all.add(p.Scene)
	}
	if doc.Effect != nil {
		all.add(doc.Effect.Lights...)
		all.add(doc.Effect.Lamps...)
	}
	return all.sorted()
}

func linkRefers(doc *link.Link) []string {
	all := ids{}
	for i := range doc.Sources {
		all.add(doc.Sources[i].Device)
		if doc.Sources[i].Device == OwnID {
			all.add(doc.Sources[i].Property)
		}
	}
	for _, t := range doc.Targets {
		all.add(t.Device)
		if t.Device == OwnID {
			all.add(t.Property)
		}
	}
	for i := range doc.Stages {
		if doc.Stages[i].Kind == link.Expression {
			all.add(mentioned(doc.Stages[i].Text)...)
		}
	}
	all.add(mentioned(doc.Only)...)
	if len(doc.Modes) > 0 {
		all.add(home.ModeProperty)
	}
	return all.sorted()
}

func lightRefers(doc *light.RoomLight) []string {
	all := ids{}
	all.add(doc.Rooms...)
	all.add(doc.Lamps...)
	for _, s := range doc.Scenes {
		all.add(s.Scene)
	}
	all.add(doc.Curve)
	for _, c := range doc.Circuits {
		if c.Curve != light.NoCurve {
			all.add(c.Curve)
		}
	}
	return all.sorted()
}

func mirrorRefers(doc *mirror.Mirror) []string {
	all := ids{}
	for _, m := range doc.Members {
		all.add(m.Device)
		if m.Device == OwnID {
			all.add(m.Property)
		}
	}
	return all.sorted()
}

func ruleRefers(doc *rule.Rule) []string         { return used(doc.Uses()) }
func scheduleRefers(doc *rule.Schedule) []string { return used(doc.Uses()) }
func used(u rule.Uses) []string                  { return distinct(u.All()) }
func groupRefers(doc *home.Group) []string       { return distinct(doc.Devices) }
func variableRefers(doc *home.Variable) []string { return distinct(mentioned(doc.Expression)) }

func dashboardRefers(doc *board.Dashboard) []string {
	all := ids{}
	for i := range doc.Controls {
		c := &doc.Controls[i]
		all.add(c.IDs()...)
		c.Mentions(func(of *board.Aim) {
			if of.Device == OwnID {
				all.add(of.Property)
			}
		})
		for _, v := range c.Values {
			if v.Device == OwnID {
				all.add(v.Name)
			}
		}
	}
	return all.sorted()
}

func distinct(some []string) []string {
	all := ids{}
	all.add(some...)
	return all.sorted()
}

// mentioned returns what an expression names: devices, groups, rooms, variables or the mode.
func mentioned(text string) []string {
	if text == "" {
		return nil
	}
	m := expr.Mention(text)
	named := slices.Concat(m.Groups, m.Rooms)
	for _, ref := range m.Properties {
		named = append(named, ref.Device)
		if ref.Device == OwnID {
			named = append(named, ref.Name)
		}
	}
	return named
}
