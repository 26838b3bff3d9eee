package views

import (
	"time"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/rehearse"
	"amvek/core/rule"
	"amvek/core/tell"
)

// PretenceView is what would happen. Nothing was sent.
type PretenceView struct {
	Problems []rule.Problem `json:"problems"`
	// Lines are the rule's, with how its conditions would be.
	Lines   []RunLine   `json:"lines"`
	Happens []Happening `json:"happens"`
	Ended   time.Time   `json:"ended"`
	Cut     bool        `json:"cut" doc:"There was more than is shown."`
}

// Happening is something that would happen.
type Happening struct {
	At           time.Time `json:"at"`
	AfterSeconds float64   `json:"afterSeconds"`
	Text         string    `json:"text"`
	Tone         string    `json:"tone" enum:"plain,hand,automation,fault"`
	// Mine says that it would follow from this rule, not from another.
	Mine bool `json:"mine"`
}

// wouldHappen are the entries that matter to who pretends.
func wouldHappen(k cause.Kind) bool {
	switch k {
	case cause.Commanded,
		cause.Became,
		cause.Notified,
		cause.Asked,
		cause.Applied,
		cause.Began,
		cause.Ended,
		cause.Ran,
		cause.NotStarted,
		cause.Stopped,
		cause.Refused,
		cause.HandLeads,
		cause.CutShort,
		cause.HoldExpired,
		cause.KeptBack,
		cause.Paused,
		cause.WentOn,
		cause.Scripted,
		cause.ScriptFell,
		cause.ReachedOut,
		cause.Played,
		cause.PlayedOut:
		return true
	default:
		return false
	}
}

// Pretence returns what a rule, live or a draft, would do from a time on, by a rehearsal of it.
func (r *Reader) Pretence(id string, document *rule.Rule, from time.Time, result rehearse.Result) PretenceView {
	v := PretenceView{Problems: result.Problems, Lines: []RunLine{}, Happens: []Happening{}, Ended: result.Ended, Cut: result.Cut}
	if v.Problems == nil {
		v.Problems = []rule.Problem{}
	}
	conditions := map[string]engine.ConditionState{}
	for _, c := range result.Conditions {
		conditions[c.Path] = c
	}
	for _, line := range r.Told(document) {
		l := RunLine{Line: tell.Line{Path: line.Path, Depth: line.Depth, Text: line.Text}}
		if c, there := conditions[line.Path]; there && line.Path != "" {
			truth := c.Truth
			l.Truth, l.Value = &truth, r.ValueAt(document, line.Path, c.Value)
		}
		v.Lines = append(v.Lines, l)
	}
	mine := map[cause.ID]bool{}
	for _, e := range result.Entries {
		mine[e.ID] = e.Rule == id || mine[e.Parent]
		if !wouldHappen(e.Kind) {
			continue
		}
		v.Happens = append(v.Happens, Happening{At: e.At, AfterSeconds: e.At.Sub(from).Seconds(), Text: r.Sentence(e), Tone: Tone(e.Kind), Mine: mine[e.ID]})
	}
	return v
}
