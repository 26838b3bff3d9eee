package engine

import (
	"slices"
	"strings"
	"time"

	"amvek/core/document"
	"amvek/core/expr"
	"amvek/core/home"
	"amvek/core/link"
	"amvek/core/rule"
	"amvek/core/thing"
)

const (
	linkOwner = "link:"
	// burst is for how long after a value the next one belongs to the same entry of the journal: a dial sends 50 a second.
	burst = 10 * time.Second
	// longestBurst is when another entry begins in any case.
	longestBurst = time.Minute
	// samplesKept is how many samples all links keep together, and samplesOfOne what one keeps at most.
	samplesKept  = 400_000
	samplesOfOne = 16_384
	samplesLeast = 512
)

// linkState is a link at work.
type linkState struct {
	id       string
	doc      *link.Link
	checked  []document.Fault   // of the document alone
	problems []document.Fault   // all
	flow     *link.Flow         // nil where it is not at work
	formulas []*expr.Expression // of its stages, nil for others
	gate     *weigher           // nil where it is always open
	open     bool
	sources  []thing.Ref // to which it is bound
	targets  []thing.Ref
	record   link.Record
	fresh    bool // whether it has samples that nobody was told of
	gone     bool
	due      time.Time

	entry   why // what its commands follow from
	began   time.Time
	entered time.Time // when it was last used
	wrote   float64   // what the first target was last set to, of what adds up
	written bool
}

// sets reports whether a link is at work and has a property among its targets; a link that is gone has none.
func (l *linkState) sets(s *slot) bool {
	return l != nil && l.live() && slices.ContainsFunc(l.doc.Targets, func(t link.Driven) bool { return t.Ref() == s.ref })
}

func (l *linkState) owner() string { return linkOwner + l.id }
func (l *linkState) live() bool    { return l.flow != nil && l.open && !l.gone }

// Flowing calls f for each link through which anything went since this was called last.
func (e *Engine) Flowing(f func(id string)) {
	for i, l := range e.flowing {
		l.fresh = false
		if !l.gone {
			f(l.id)
		}
		e.flowing[i] = nil
	}
	e.flowing = e.flowing[:0]
}

// Flows reports whether anything went through links since [Engine.Flowing].
func (e *Engine) Flows() bool { return len(e.flowing) > 0 }

// TryStages returns what would leave each stage, were samples of a source to go through them with the targets at a value.
func (e *Engine) TryStages(stages []link.Stage, in []link.Sample, at float64) []link.Sample {
	l := &linkState{doc: &link.Link{Stages: stages}, formulas: e.formulasOf(stages)}
	return link.Tried(stages, in, at, around{e: e, l: l}.Expression)
}

// formulasOf compiles the expressions of stages; nil for those that have none.
func (e *Engine) formulasOf(stages []link.Stage) []*expr.Expression {
	formulas := make([]*expr.Expression, len(stages))
	for i := range stages {
		if s := &stages[i]; s.Kind == link.Expression {
			formulas[i], _ = e.Expression(s.Text)
		}
	}
	return formulas
}

// LinkView is how a link stands.
type LinkView struct {
	Problems []document.Fault
	// Open says that its modes and its condition let it act.
	Open bool
}

// LinkView returns how a link stands; it is false when there is none.
func (e *Engine) LinkView(id string) (LinkView, bool) {
	l := e.links[id]
	if l == nil {
		return LinkView{}, false
	}
	return LinkView{Problems: l.problems, Open: l.open}, true
}

// LinkSamples returns what went through a link after a sample, by its number.
func (e *Engine) LinkSamples(id string, after uint64) []link.Sample {
	if l := e.links[id]; l != nil {
		return l.record.Since(after)
	}
	return nil
}

// HasMode reports whether the house has such a mode.
func (e *Engine) HasMode(id string) bool {
	p := e.Property(rule.OwnDevice, home.ModeProperty)
	return p != nil && slices.Contains(p.Options, id)
}

// Formula makes the engine a [link.Lookup].
func (e *Engine) Formula(text string, coming bool) (thing.Type, string) {
	x, problems := e.Expression(text)
	switch {
	case x == nil:
		return "", problems[0].Message
	case x.TakesSent():
		return "", "Nothing is sent here."
	case x.TakesComing() && !coming:
		return "", "Nothing comes in here: coming is known in the stages of a link alone."
	}
	return x.Type, ""
}

// startLinks lets go of what links held that are there no longer, and lets the others begin.
func (e *Engine) startLinks() {
	for _, device := range sortedKeys(e.byDevice) {
		slots := e.byDevice[device]
		for i := range slots {
			s := &slots[i]
			held := false
			for _, h := range slices.Clone(s.state.Stack.Holds) {
				id, is := strings.CutPrefix(h.Owner, linkOwner)
				if is && !e.links[id].sets(s) {
					held = s.state.Stack.Release(h.Owner) || held
				}
			}
			if held {
				e.apply(s, 0, why{})
			}
		}
	}
	for _, id := range sortedKeys(e.links) {
		e.feedNow(e.links[id], why{})
	}
}

// shiftLinks moves what links remember by so much: the clock was set.
func (e *Engine) shiftLinks(by time.Duration) {
	for _, l := range e.links {
		l.record.Shift(by)
		if l.flow != nil {
			l.flow.Shift(by)
		}
		for _, t := range []*time.Time{&l.due, &l.began, &l.entered} {
			if !t.IsZero() {
				*t = t.Add(by)
			}
		}
	}
}
