package hub

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"time"
)

// Need is something about the hub itself that its owner has to see to.
type Need struct {
	// Kind is aside for a definition that is not at work, records where readings and the journal are not kept, data where
	// something is wrong with what the hub keeps, and tried where somebody tried to come in and gave wrong passwords or codes.
	Kind  string    `json:"kind" enum:"aside,records,data,tried"`
	Title string    `json:"title" doc:"What is so."`
	Text  string    `json:"text,omitempty" doc:"What that means, and what can be done."`
	Since time.Time `json:"since,omitzero"`
}

// dataNeed is what is wrong with what the hub keeps, by what found it.
type dataNeed struct {
	Need
	found string
}

// Needs returns what the owner has to see to, the newest first.
func (h *Hub) Needs(ctx context.Context) (list []Need, err error) {
	err = h.do(ctx, func() { list = h.needs() })
	return list, err
}

// needs runs in the loop.
func (h *Hub) needs() []Need {
	list := []Need{}
	if t := h.trouble; t != nil {
		list = append(
			list,
			Need{
				Kind:  "records",
				Title: "Readings and the journal are not being kept: " + t.Reason + ".",
				Text:  "It goes on by itself once there is room.",
				Since: t.Since,
			},
		)
	}
	for _, n := range h.dataNeeds {
		list = append(list, n.Need)
	}
	for _, n := range h.tried {
		list = append(list, n)
	}
	for _, a := range h.aside {
		list = append(list, Need{Kind: "aside", Title: fmt.Sprintf("The %s “%s” is set aside.", a.Kind, h.titles[a.ID]), Text: a.Reason, Since: a.At})
	}
	slices.SortStableFunc(list, func(a, b Need) int { return cmp.Or(b.Since.Compare(a.Since), cmp.Compare(a.Title, b.Title)) })
	return list
}

// needsOwner takes that something is wrong with what the hub keeps, told once for each that found it. It runs in the loop.
func (h *Hub) needsOwner(found, title, text string) {
	h.dataNeeds = slices.DeleteFunc(h.dataNeeds, func(n dataNeed) bool { return n.found == found })
	h.dataNeeds = append(h.dataNeeds, dataNeed{Need{Kind: "data", Title: title, Text: text, Since: h.clock.Now()}, found})
	h.log.Error("the owner is needed", "what", title)
	h.tellNeeds()
}

// seenTo takes that it is well again. It runs in the loop.
func (h *Hub) seenTo(found string) {
	before := len(h.dataNeeds)
	h.dataNeeds = slices.DeleteFunc(h.dataNeeds, func(n dataNeed) bool { return n.found == found })
	if len(h.dataNeeds) != before {
		h.tellNeeds()
	}
}

// toldFrom is how many wrong passwords or codes in a row the owner is told of.
const toldFrom = 5

// Tried takes that somebody gave wrong passwords or codes, a number of them in a row: as whom, and where from. The owner is told.
func (h *Hub) Tried(ctx context.Context, as, address string, count int) {
	if count < toldFrom {
		return
	}
	_ = h.do(ctx, func() {
		now := h.clock.Now()
		since := now
		if before, told := h.tried[as]; told {
			since = before.Since
		}
		if h.tried == nil {
			h.tried = map[string]Need{}
		}
		h.tried[as] = Need{
			Kind: "tried", Since: since, Title: fmt.Sprintf("%s, %d times in a row.", capital(as), count),
			Text: "The last came from " + address + ". Whoever it is has to wait longer each time. If it was nobody of the household, " +
				"look at the journal, and end sessions you do not know under Household › People.",
		}
		h.tellNeeds()
	})
}

// SeenTried takes that the owner knows of those who tried to come in.
func (h *Hub) SeenTried(ctx context.Context) error {
	return h.do(ctx, func() {
		if len(h.tried) > 0 {
			h.tried = nil
			h.tellNeeds()
		}
	})
}
