package hub

import (
	"context"
	"strings"

	"amvek/core/rule"
	"amvek/core/starting"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// StartWith makes the rule of a starting point, switched off, and returns its id.
func (h *Hub) StartWith(ctx context.Context, point string, chosen map[string]thing.Ref) (string, int, error) {
	var doc *rule.Rule
	var wrong error
	if err := h.do(ctx, func() { doc, wrong = starting.Make(point, chosen, h.engine.Property) }); err != nil {
		return "", 0, err
	}
	if wrong != nil {
		place, message, _ := strings.Cut(wrong.Error(), ": ")
		return "", 0, Invalid("devices/"+place, strings.ToUpper(message[:1])+message[1:]+".")
	}
	id := docs.NewID(docs.KindRule)
	revision, err := h.Save(ctx, New{Kind: docs.KindRule, ID: id, Document: doc})
	return id, revision, err
}

// FoundRule is a rule that a search found, with the lines that hold what was looked for.
type FoundRule struct {
	ID    string   `json:"id"`
	Title string   `json:"title"`
	Lines []string `json:"lines"`
}

// linesFound is how many lines of a rule are shown.
const linesFound = 3

// SearchRules returns the rules in whose names, notes, lines, devices or rooms all words are found.
func (h *Hub) SearchRules(ctx context.Context, words string) (found []FoundRule, err error) {
	found = []FoundRule{}
	wanted := strings.Fields(strings.ToLower(words))
	if len(wanted) == 0 {
		return found, nil
	}
	err = h.do(ctx, func() {
		for _, id := range h.definitions.Rules.IDs() {
			doc := h.definitions.Rules[id].Doc
			texts := append([]string{doc.Title, doc.Note}, doc.Labels...)
			lines := h.reader.Told(doc)
			for _, l := range lines {
				texts = append(texts, l.Text)
			}
			uses := doc.Uses()
			for _, device := range uses.Devices {
				if d := h.definitions.Device(device); d != nil {
					texts = append(texts, h.reader.Title(d.Room))
				}
			}
			for _, group := range uses.Groups {
				for _, device := range h.engine.Devices(group) {
					texts = append(texts, h.reader.Title(device))
				}
			}
			all := strings.ToLower(strings.Join(texts, "\n"))
			missing := false
			for _, w := range wanted {
				missing = missing || !strings.Contains(all, w)
			}
			if missing {
				continue
			}
			f := FoundRule{ID: id, Title: doc.Title, Lines: []string{}}
			for _, l := range lines {
				if len(f.Lines) < linesFound && holdsAny(l.Text, wanted) {
					f.Lines = append(f.Lines, l.Text)
				}
			}
			found = append(found, f)
		}
	})
	return found, err
}

func holdsAny(text string, words []string) bool {
	text = strings.ToLower(text)
	for _, w := range words {
		if strings.Contains(text, w) {
			return true
		}
	}
	return false
}
