package views

import (
	"strings"

	"amvek/core/rule"
	"amvek/core/tell"
)

// FoundRule is a rule that a search found, with the lines that hold what was looked for.
type FoundRule struct {
	ID    string   `json:"id"`
	Title string   `json:"title"`
	Lines []string `json:"lines"`
}

// linesFound is how many lines of a rule are shown.
const linesFound = 3

func holdsAny(text string, words []string) bool {
	text = strings.ToLower(text)
	for _, w := range words {
		if strings.Contains(text, w) {
			return true
		}
	}
	return false
}

// SearchRules returns the rules in whose names, notes, lines, devices or rooms all words are found.
func (r *Reader) SearchRules(words string) []FoundRule {
	found := []FoundRule{}
	wanted := strings.Fields(strings.ToLower(words))
	if len(wanted) == 0 {
		return found
	}
	for _, id := range r.Definitions.Rules.IDs() {
		doc := r.Definitions.Rules[id].Doc
		lines := r.Told(doc)
		if !holdsAll(strings.Join(r.textsOf(doc, lines), "\n"), wanted) {
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
	return found
}

// textsOf are the texts by which a rule is found.
func (r *Reader) textsOf(doc *rule.Rule, lines []tell.Line) []string {
	texts := append([]string{doc.Title, doc.Note}, doc.Labels...)
	for _, l := range lines {
		texts = append(texts, l.Text)
	}
	uses := doc.Uses()
	for _, device := range uses.Devices {
		if d := r.Definitions.Device(device); d != nil {
			texts = append(texts, r.Title(d.Room))
		}
	}
	for _, group := range uses.Groups {
		for _, device := range r.Engine.Devices(group) {
			texts = append(texts, r.Title(device))
		}
	}
	return texts
}

func holdsAll(text string, words []string) bool {
	text = strings.ToLower(text)
	for _, w := range words {
		if !strings.Contains(text, w) {
			return false
		}
	}
	return true
}
