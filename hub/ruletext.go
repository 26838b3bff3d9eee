package hub

import (
	"context"
	"errors"

	"amvek/core/expr"
	"amvek/core/rule"
	"amvek/hub/author"
)

// RuleText is a rule as YAML 1.2, for those who would rather type.
type RuleText struct {
	Text string `json:"text"`
}

// RuleRead is what a text comes to: a rule, or what is wrong where.
type RuleRead struct {
	// Document is absent where the text cannot be read at all.
	Document *rule.Rule     `json:"document,omitempty"`
	Mistakes []expr.Mistake `json:"mistakes"`
}

// TellRule returns a rule as YAML, with the names of what it refers to by id.
func (h *Hub) TellRule(ctx context.Context, doc *rule.Rule) (text string, err error) {
	failed := h.do(ctx, func() { text, err = author.TellRule(doc, func(id string) string { return h.titles[id] }) })
	return text, errors.Join(failed, err)
}

// ReadRule reads a rule from YAML or JSON, and says what is wrong with it where: also what keeps it from running.
func (h *Hub) ReadRule(ctx context.Context, text string) (RuleRead, error) {
	read := RuleRead{Mistakes: []expr.Mistake{}}
	doc, node, mistake := author.ReadRule(text)
	if mistake != nil {
		read.Mistakes = append(read.Mistakes, *mistake)
		return read, nil
	}
	read.Document = doc
	err := h.do(ctx, func() {
		for _, p := range doc.Check(h.engine) {
			at := author.NodeAt(node, p.Path)
			read.Mistakes = append(read.Mistakes, expr.Mistake{Line: max(1, at.Line), Column: max(1, at.Column), Message: p.Message})
		}
	})
	return read, err
}
