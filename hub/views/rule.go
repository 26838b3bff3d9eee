package views

import (
	"time"

	"amvek/core/check"
	"amvek/core/engine"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/hub/docs"
)

// RuleState is how a rule stands now.
type RuleState struct {
	state.RuleState
	Problems   []rule.Problem          `json:"problems"`
	Conditions []engine.ConditionState `json:"conditions"`
	Findings   []check.Finding         `json:"findings" doc:"What is allowed and yet hardly meant."`
}

func (r *Reader) ruleState(id string, v engine.RuleView) RuleState {
	s := RuleState{RuleState: v.State, Problems: v.Problems, Conditions: v.Conditions, Findings: []check.Finding{}}
	if len(v.Problems) == 0 {
		s.Findings = append(s.Findings, r.Kept.FindingsOf(id)...)
	}
	if s.Problems == nil {
		s.Problems = []rule.Problem{}
	}
	if s.Conditions == nil {
		s.Conditions = []engine.ConditionState{}
	}
	return s
}

// RuleView is a rule as it stands now.
type RuleView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	rule.Rule
	State  RuleState  `json:"state"`
	UsedBy []docs.Use `json:"usedBy"`
	// Draft says that somebody works on it.
	Draft *DraftNote `json:"draft,omitempty"`
}

// Rule returns a rule that there is.
func (r *Reader) Rule(id string) RuleView {
	kept := r.Definitions.Rules[id]
	view, _ := r.Engine.RuleView(id)
	return RuleView{ID: id, Revision: kept.Revision, Rule: *kept.Doc, State: r.ruleState(id, view), UsedBy: r.Definitions.UsedBy(id), Draft: r.Kept.DraftOf(id)}
}

// DraftNote says that somebody works on a rule, in whichever browser.
type DraftNote struct {
	Version int       `json:"version" doc:"Grows with each change."`
	Based   int       `json:"based" doc:"The revision that was edited."`
	At      time.Time `json:"at"`
}
