package hub

import (
	"context"
	"errors"

	"amvek/core/rule"
	"amvek/core/tell"
	"amvek/core/thing"
)

// names gives the names of what rules refer to, as they are now. It is used in the loop.
type names struct{ h *Hub }

func (n names) Title(id string) string { return n.h.titles[id] }
func (n names) Property(device, name string) *thing.Property {
	return n.h.engine.Property(device, name)
}
func (n names) Members(group, role string) []thing.Ref { return n.h.engine.Members(group, role) }

// told returns a rule as lines. It runs in the loop.
func (h *Hub) told(doc *rule.Rule) []tell.Line { return tell.Rule(doc, names{h}) }

// CompareRule returns how a document differs from what is live.
func (h *Hub) CompareRule(ctx context.Context, id string, doc *rule.Rule) (lines []tell.Change, err error) {
	err = Absent("There is no such rule.")
	failed := h.do(ctx, func() {
		if live := h.definitions.Rules[id].Doc; live != nil {
			lines, err = tell.Compare(h.told(live), h.told(doc)), nil
		}
	})
	return lines, errors.Join(failed, err)
}
