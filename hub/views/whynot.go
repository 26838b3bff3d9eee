package views

import (
	"fmt"
	"slices"
	"strings"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/tell"
)

// Reason is something that lets a rule act, or keeps it from acting, now.
type Reason struct {
	// Keeps says that this keeps the rule from acting.
	Keeps bool   `json:"keeps"`
	Text  string `json:"text"`
	// Run is the run that tells more, 0 for none.
	Run cause.ID `json:"run,omitempty"`
}

// notCome is said of what starts a rule.
const notCome = "has not come since the rule was put live"

// reasons gathers why a rule does not act.
type reasons struct {
	r      *Reader
	doc    *rule.Rule
	view   engine.RuleView
	lines  []tell.Line
	truths map[string]engine.ConditionState // by the paths of conditions
	all    []Reason
}

// WhyNot returns why a rule does not act now, what keeps it first; its latest runs are given.
func (r *Reader) WhyNot(id string, doc *rule.Rule, runs []RunView) []Reason {
	view, _ := r.Engine.RuleView(id)
	w := &reasons{r: r, doc: doc, view: view, lines: r.Told(doc), truths: map[string]engine.ConditionState{}, all: []Reason{}}
	for _, c := range view.Conditions {
		w.truths[c.Path] = c
	}
	w.standing()
	if doc.Gate != nil {
		w.conditions("gate", "Only while")
	}
	if doc.Lasts() {
		w.lasting()
	} else {
		w.triggers()
	}
	if doc.Provided != nil && (view.State.Phase == state.Idle || view.State.Phase == state.Armed) {
		w.conditions("provided", "Provided")
	}
	if n := len(view.State.Frames); n > 0 && doc.Policy == rule.Ignore && !doc.Lasts() {
		w.say(true, "It has been under way since %s, and is not started again meanwhile.", r.clockTime(view.State.LastBegan))
	}
	if i := slices.IndexFunc(runs, func(run RunView) bool { return run.Outcome == state.NotStarted }); i >= 0 {
		w.all = append(w.all, Reason{Keeps: true, Text: r.clockTime(runs[i].At) + ": " + runs[i].Text, Run: runs[i].ID})
	}
	slices.SortStableFunc(w.all, func(a, b Reason) int {
		switch {
		case a.Keeps == b.Keeps:
			return 0
		case a.Keeps:
			return -1
		default:
			return 1
		}
	})
	return w.all
}

func (w *reasons) say(keeps bool, format string, args ...any) {
	w.all = append(w.all, Reason{Keeps: keeps, Text: fmt.Sprintf(format, args...)})
}

// standing says what keeps the whole rule from acting.
func (w *reasons) standing() {
	now := &w.view.State
	switch {
	case !w.doc.Enabled:
		w.say(true, "It is switched off.")
	case len(w.view.Problems) > 0:
		for _, p := range w.view.Problems {
			w.say(true, "Something is wrong with it: %s", p.Message)
		}
	case now.PausedBy != "":
		w.say(true, "Rule %s has kept it from acting since %s.", w.r.Title(now.PausedBy), w.r.clockTime(now.PausedAt))
	case now.Stopped != "":
		w.say(true, "It was stopped. %s", now.Stopped)
	}
}

// conditions says how those of a part of the rule are.
func (w *reasons) conditions(part, lead string) {
	for _, l := range w.lines {
		c, there := w.truths[l.Path]
		if !there || (l.Path != part && !strings.HasPrefix(l.Path, part+"/")) {
			continue
		}
		now := ""
		if !c.Value.IsNone() {
			now = ", now " + w.r.ValueAt(w.doc, l.Path, c.Value)
		}
		if !c.Due.IsZero() {
			now += ", since " + w.r.clockTime(c.Lasts) + ", counts from " + w.r.clockTime(c.Due)
		}
		w.say(!c.Truth, "%s: %s%s", lead, l.Text, now)
	}
}

// lasting says how far a rule is that acts as long as something is so.
func (w *reasons) lasting() {
	w.conditions("whenever", "While")
	now := &w.view.State
	switch now.Phase {
	case state.Holding:
		w.say(false, "It has held since %s.", w.r.clockTime(now.Since))
	case state.Armed:
		if !now.Deadline.IsZero() {
			w.say(true, "That must last until %s.", w.r.clockTime(now.Deadline))
		}
	case state.Ending:
		w.say(false, "It lets go at %s.", w.r.clockTime(now.Deadline))
	}
}

// triggers says when what starts the rule last came.
func (w *reasons) triggers() {
	if len(w.doc.When) == 0 {
		w.say(true, "Nothing starts it but a hand.")
	}
	for i := range w.doc.When {
		text := ""
		for _, l := range w.lines {
			if l.Path == fmt.Sprintf("when/%d", i) {
				text = strings.TrimSuffix(l.Text, ", or")
			}
		}
		if at, came := w.view.State.Triggered[i]; came {
			w.say(false, "%s: last came %s", text, w.r.clockTime(at))
		} else {
			w.say(true, "%s: %s", text, notCome)
		}
	}
}
