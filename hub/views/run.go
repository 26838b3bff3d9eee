package views

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/tell"
	"amvek/core/thing"
)

// RunView is one run of a rule, or why it did not run, in short.
type RunView struct {
	ID      cause.ID      `json:"id" doc:"Of the journal entry it began with."`
	At      time.Time     `json:"at"`
	Ended   time.Time     `json:"ended,omitzero"`
	Outcome state.Outcome `json:"outcome" enum:"running,finished,notStarted,cutOff,replaced,halted"`
	Text    string        `json:"text" doc:"How it went, in words."`
	Steps   int           `json:"steps"`
}

// RunTrace is one run of a rule as the rule stood then, with what was so and what was done.
type RunTrace struct {
	RunView
	// Origin is the input from outside that it began with.
	Origin string    `json:"origin,omitempty"`
	Lines  []RunLine `json:"lines"`
	Flips  []RunFlip `json:"flips" doc:"What became true or false shortly before, also for a moment only."`
	Left   int       `json:"left,omitempty" doc:"How many steps more were taken than are kept."`
}

// RunLine is a line of the rule, with how its condition was or what its step did.
type RunLine struct {
	tell.Line
	// Truth is absent for what is no condition.
	Truth *bool     `json:"truth,omitempty"`
	Value string    `json:"value,omitempty"`
	Since time.Time `json:"since,omitzero"`
	// Trigger says that this is what started it.
	Trigger bool    `json:"trigger,omitempty"`
	Taken   []Taken `json:"taken,omitempty"`
}

// Taken is once that a step was taken.
type Taken struct {
	At     time.Time `json:"at"`
	Round  int       `json:"round,omitempty"`
	Waited bool      `json:"waited,omitempty"`
	Did    []Did     `json:"did"`
}

// Did is something that a step did, and what became of it.
type Did struct {
	Entry cause.ID `json:"entry"`
	Text  string   `json:"text"`
	// Rule is the rule of which the entry is a run, or why it did not run: its trace tells the rest.
	Rule string `json:"rule,omitempty" doc:"Id of the rule that this started; the entry is then its run."`
	// Outcome is what became of a command: confirmed or failed, and absent as long as nothing has.
	Outcome string `json:"outcome,omitempty" enum:"confirmed,failed"`
	// AfterMilliseconds is from the arrival of the cause until the command was on its way, and Milliseconds from then
	// until the device confirmed.
	AfterMilliseconds float64 `json:"afterMilliseconds,omitempty"`
	Milliseconds      float64 `json:"milliseconds,omitempty"`
}

// RunFlip is a comparison that became true or false.
type RunFlip struct {
	At    time.Time `json:"at"`
	Truth bool      `json:"truth"`
	Text  string    `json:"text"`
	Value string    `json:"value,omitempty"`
}

// Run returns a run of a rule in short, by the rule as it stood then.
func (r *Reader) Run(doc *rule.Rule, t *state.Trace) RunView {
	v := RunView{ID: t.ID, At: t.At, Ended: t.Ended, Outcome: t.Outcome, Steps: len(t.Steps) + t.Left}
	switch t.Outcome {
	case state.Running:
		v.Text = "is under way"
		if doc.Lasts() {
			v.Text = "holds"
		}
	case state.Finished:
		v.Text = "ran to its end"
	case state.NotStarted:
		v.Text = "not started: " + r.keptBy(doc, t)
	case state.CutOff:
		v.Text = "went no further"
	case state.Replaced:
		v.Text = "started over"
	case state.Halted:
		v.Text = "was stopped"
		if t.Reason != "" {
			v.Text += ": " + t.Reason
		}
	}
	return v
}

// keptBy says what kept a rule from starting: the first condition that was not so, with its value then.
func (r *Reader) keptBy(doc *rule.Rule, t *state.Trace) string {
	if t.Reason == "provided" || t.Reason == "gate" {
		for _, c := range t.Conditions {
			denied := strings.Count(c.Path, "/none/")%2 == 1
			of := conditionAt(doc, c.Path)
			if strings.HasPrefix(c.Path, t.Reason) && c.Truth == denied && of != nil && of.Device != "" {
				return r.propertyOf(cause.Entry{Device: of.Device, Name: of.Property}) + " was " + r.ValueAt(doc, c.Path, c.Value)
			}
		}
	}
	return notStartedReason(t.Reason)
}

// Trace returns a run in full, by the rule as it stood then and the chain of entries that the run belongs to.
func (r *Reader) Trace(doc *rule.Rule, t *state.Trace, chain []cause.Entry) RunTrace {
	v := RunTrace{RunView: r.Run(doc, t), Lines: []RunLine{}, Flips: []RunFlip{}, Left: t.Left}
	if len(chain) > 0 && chain[0].ID != t.ID {
		v.Origin = r.Sentence(chain[0])
	}
	conditions := map[string]state.TracedCondition{}
	for _, c := range t.Conditions {
		conditions[c.Path] = c
	}
	taken := map[string][]Taken{}
	for _, s := range t.Steps {
		for _, c := range s.Conditions {
			conditions[c.Path] = c // of several rounds the last
		}
		taken[s.Path] = append(taken[s.Path], Taken{At: s.At, Round: s.Round, Waited: s.Waited, Did: r.did(&s, chain)})
	}
	texts := map[string]string{}
	for _, line := range r.Told(doc) {
		texts[line.Path] = line.Text
		l := RunLine{Line: line, Trigger: t.Trigger != "" && line.Path == t.Trigger, Taken: taken[line.Path]}
		if c, there := conditions[line.Path]; there && line.Path != "" {
			truth := c.Truth
			l.Truth, l.Since = &truth, c.Since
			l.Value = r.ValueAt(doc, line.Path, c.Value)
		}
		v.Lines = append(v.Lines, l)
	}
	for _, f := range t.Flips {
		v.Flips = append(v.Flips, RunFlip{At: f.At, Truth: f.Truth, Text: texts[f.Path], Value: r.ValueAt(doc, f.Path, f.Value)})
	}
	return v
}

// did returns what a step did, from the chain of its run.
func (r *Reader) did(s *state.TracedStep, chain []cause.Entry) []Did {
	all := []Did{}
	from := []cause.ID{s.Cause}
	for _, e := range chain {
		if e.ID < s.First || e.ID >= s.Next || !slices.Contains(from, e.Parent) {
			continue
		}
		if e.Kind == cause.Applied || e.Kind == cause.Played {
			from = append(from, e.ID) // what a scene does is what the step does
		}
		d := Did{Entry: e.ID, Text: r.Sentence(e), AfterMilliseconds: e.Milliseconds}
		if e.Kind == cause.Ran || e.Kind == cause.NotStarted {
			d.Rule = e.Rule
		}
		for _, after := range chain {
			if after.Parent == e.ID && (after.Kind == cause.Confirmed || after.Kind == cause.Failed) {
				d.Outcome, d.Milliseconds = string(after.Kind), after.Milliseconds
			}
			if after.Parent == e.ID && after.Kind == cause.Answered {
				d.Outcome, d.Milliseconds = string(cause.Confirmed), float64(after.At.Sub(e.At).Microseconds())/1000
				if after.Note != "" {
					d.Outcome = string(cause.Failed)
					d.Text += ". " + after.Note
				}
			}
		}
		all = append(all, d)
	}
	return all
}

// ValueAt says a value as the property of the condition at a place does.
func (r *Reader) ValueAt(doc *rule.Rule, path string, v thing.Value) string {
	if v.IsNone() {
		return ""
	}
	c := conditionAt(doc, path)
	if c == nil {
		rule.Walk("do", doc.Do, func(at string, s *rule.Step) { c = within(c, s, at, path) })
		rule.Walk("afterwards", doc.Afterwards, func(at string, s *rule.Step) { c = within(c, s, at, path) })
	}
	if c == nil {
		return rule.Say(v)
	}
	if p := r.Engine.Property(c.Device, c.Property); p != nil {
		return p.Say(v)
	}
	return rule.Say(v)
}

// within returns the condition at a place, where it is that of a step or within it; else what was found before.
func within(found *rule.Condition, s *rule.Step, at, path string) *rule.Condition {
	inner, is := strings.CutPrefix(path, at+"/condition")
	if !is || s.Condition == nil {
		return found
	}
	return descend(s.Condition, strings.Split(inner, "/"))
}

// conditionAt returns the condition at a place outside the steps, nil where there is none.
func conditionAt(doc *rule.Rule, path string) *rule.Condition {
	parts := strings.Split(path, "/")
	return descend(map[string]*rule.Condition{"whenever": doc.Whenever, "provided": doc.Provided, "gate": doc.Gate}[parts[0]], parts)
}

// descend goes from a condition to one within it, by the parts of a path after the first.
func descend(c *rule.Condition, parts []string) *rule.Condition {
	for i := 1; c != nil && i+1 < len(parts); i += 2 {
		list := map[string][]rule.Condition{"all": c.All, "any": c.Any, "none": c.None}[parts[i]]
		var at int
		if _, err := fmt.Sscan(parts[i+1], &at); err != nil || at < 0 || at >= len(list) {
			return nil
		}
		c = &list[at]
	}
	return c
}

// clockTime says a time in the home's zone, with the day where it is not today.
func (r *Reader) clockTime(at time.Time) string {
	if at.IsZero() {
		return "ever"
	}
	zone := r.Engine.Moment().Location()
	at, now := at.In(zone), r.Now().In(zone)
	if at.YearDay() == now.YearDay() && at.Year() == now.Year() {
		return at.Format("15:04:05")
	}
	return at.Format("Mon 2 Jan 15:04")
}
