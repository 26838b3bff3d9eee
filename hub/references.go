package hub

import (
	"cmp"
	"slices"

	"amvek/core/expr"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
)

// references says which definitions refer to something: kept as definitions come and go, so that nobody has to look through
// all of them. It belongs to the loop.
type references struct {
	from map[Use][]string            // what a definition refers to
	to   map[string]map[Use]struct{} // which definitions refer to something, by its id
}

func newReferences() references {
	return references{from: map[Use][]string{}, to: map[string]map[Use]struct{}{}}
}

// put takes what a definition refers to; nothing where it is gone.
func (r *references) put(by Use, ids []string) {
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
			r.to[id] = map[Use]struct{}{}
		}
		r.to[id][by] = struct{}{}
	}
}

// referring are the kinds of definitions that refer to others, in the order in which they are shown.
func referring() []Kind {
	return []Kind{DefinitionScene, DefinitionSequence, DefinitionRule, DefinitionSchedule, DefinitionVariable, DefinitionDashboard}
}

// usedBy returns which definitions refer to something, by kind and id. It runs in the loop.
func (h *Hub) usedBy(id string) []Use {
	uses := []Use{}
	for by := range h.definitions.references.to[id] {
		by.Title = h.definitions.title(by.Kind, by.ID)
		uses = append(uses, by)
	}
	order := referring()
	slices.SortFunc(uses, func(a, b Use) int {
		return cmp.Or(cmp.Compare(slices.Index(order, a.Kind), slices.Index(order, b.Kind)), cmp.Compare(a.ID, b.ID))
	})
	return uses
}

// title returns that of a definition which refers to others.
func (d *definitions) title(kind Kind, id string) string {
	switch kind {
	case DefinitionScene:
		return d.scenes[id].doc.Title
	case DefinitionSequence:
		return d.sequences[id].doc.Title
	case DefinitionRule:
		return d.rules[id].doc.Title
	case DefinitionSchedule:
		return d.schedules[id].doc.Title
	case DefinitionVariable:
		return d.variables[id].doc.Title
	case DefinitionDashboard:
		return d.dashboards[id].doc.Title
	default:
		return ""
	}
}

// refersTo returns what a document refers to, besides itself: ids of devices, scenes, rules, groups, rooms, calendars and
// dashboards, and the names of the home's own properties. It is false for kinds that refer to nothing.
func refersTo(id string, doc any) (kind Kind, ids []string, refers bool) {
	all := map[string]struct{}{}
	add := func(ids ...string) {
		for _, id := range ids {
			all[id] = struct{}{}
		}
	}
	switch doc := doc.(type) {
	case *light.Scene:
		kind = DefinitionScene
		for _, t := range doc.Targets {
			add(t.Device)
		}
		doc.Formulas(func(_, text string, _ *light.Target) { add(mentioned(text)...) })
	case *light.Sequence:
		kind = DefinitionSequence
		for _, p := range doc.Passages {
			add(p.Scene)
		}
	case *rule.Rule:
		kind = DefinitionRule
		add(doc.Uses().All()...)
	case *rule.Schedule:
		kind = DefinitionSchedule
		add(doc.Uses().All()...)
	case *home.Variable:
		kind = DefinitionVariable
		if doc.Expression != "" {
			add(mentioned(doc.Expression)...)
		}
	case *home.Dashboard:
		kind = DefinitionDashboard
		for _, c := range doc.Controls {
			add(c.Device, c.Scene, c.Rule)
			if c.Device == OwnID {
				add(c.Property)
			}
		}
	default:
		return "", nil, false
	}
	delete(all, "")
	delete(all, id)
	return kind, sortedKeys(all), true
}

// mentioned returns what an expression names: devices, groups, rooms, variables or the mode.
func mentioned(text string) []string {
	m := expr.Mention(text)
	ids := slices.Concat(m.Groups, m.Rooms)
	for _, ref := range m.Properties {
		ids = append(ids, ref.Device)
		if ref.Device == OwnID {
			ids = append(ids, ref.Name)
		}
	}
	return ids
}
