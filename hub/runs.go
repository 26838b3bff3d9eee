package hub

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/tell"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/store"
)

// keepTrace keeps what a run did. It runs in the loop.
func (h *Hub) keepTrace(t *state.Trace) {
	data, err := json.Marshal(t)
	if err != nil {
		h.log.Error("a trace cannot be kept", "rule", t.Rule, "error", err)
		return
	}
	h.store.AddTrace(store.Trace{Rule: t.Rule, ID: t.ID, At: t.At, JSON: data})
}

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

const runsShown = 40

// Runs returns a rule's runs before an entry, or the latest, newest first; those under way first.
func (h *Hub) Runs(ctx context.Context, id string, before cause.ID) ([]RunView, error) {
	h.settleRecords(ctx)
	kept, err := h.store.Traces(ctx, id, before, runsShown)
	if err != nil {
		return nil, fmt.Errorf("reading the traces: %w", err)
	}
	traces := make([]state.Trace, len(kept))
	for i := range kept {
		if err := json.Unmarshal(kept[i].JSON, &traces[i]); err != nil {
			return nil, fmt.Errorf("reading a trace: %w", err)
		}
	}
	views, there := []RunView{}, false
	err = h.do(ctx, func() {
		var doc *rule.Rule
		if doc = h.definitions.Rules[id].Doc; doc == nil {
			return
		}
		there = true
		if state, ok := h.engine.RuleView(id); ok && before == 0 {
			for i := range slices.Backward(state.State.Open) {
				views = append(views, h.runView(doc, &state.State.Open[i]))
			}
		}
		for i := range traces {
			views = append(views, h.runView(doc, &traces[i]))
		}
	})
	if err == nil && !there {
		err = Absent("There is no such rule.")
	}
	return views, err
}

// runView runs in the loop.
func (h *Hub) runView(doc *rule.Rule, t *state.Trace) RunView {
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
		v.Text = "not started: " + h.keptBy(doc, t)
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
func (h *Hub) keptBy(doc *rule.Rule, t *state.Trace) string {
	if t.Reason == "provided" || t.Reason == "gate" {
		for _, c := range t.Conditions {
			denied := strings.Count(c.Path, "/none/")%2 == 1
			of := conditionAt(doc, c.Path)
			if strings.HasPrefix(c.Path, t.Reason) && c.Truth == denied && of != nil && of.Device != "" {
				return h.propertyOf(cause.Entry{Device: of.Device, Name: of.Property}) + " was " + h.valueAt(doc, c.Path, c.Value)
			}
		}
	}
	return notStartedReason(t.Reason)
}

// Run returns one run in full.
func (h *Hub) Run(ctx context.Context, id string, entry cause.ID) (RunTrace, error) {
	var view RunTrace
	t, err := h.trace(ctx, id, entry)
	if err != nil {
		return view, err
	}
	chain, err := h.store.Chain(ctx, entry)
	if err != nil {
		return view, fmt.Errorf("reading the journal: %w", err)
	}
	var doc rule.Rule
	was, err := h.store.RevisionAt(ctx, string(docs.KindRule), id, t.At)
	if err != nil {
		return view, fmt.Errorf("reading the rule as it was: %w", err)
	}
	if err := json.Unmarshal(was.Document, &doc); err != nil {
		return view, fmt.Errorf("reading the rule as it was: %w", err)
	}
	err = h.do(ctx, func() { view = h.runTrace(&doc, t, chain) })
	return view, err
}

// trace returns a trace, be it under way or kept.
func (h *Hub) trace(ctx context.Context, id string, entry cause.ID) (*state.Trace, error) {
	h.settleRecords(ctx)
	var open *state.Trace
	if err := h.do(ctx, func() {
		view, _ := h.engine.RuleView(id)
		for i := range view.State.Open {
			if t := view.State.Open[i]; t.ID == entry {
				t.Steps = slices.Clone(t.Steps)
				open = &t
			}
		}
	}); err != nil || open != nil {
		return open, err
	}
	kept, err := h.store.Traces(ctx, id, min(entry, math.MaxInt64-1)+1, 1)
	if err != nil {
		return nil, fmt.Errorf("reading the traces: %w", err)
	}
	if len(kept) == 0 || kept[0].ID != entry {
		return nil, Absent("There is no such run, or it is no longer kept.")
	}
	t := &state.Trace{}
	return t, json.Unmarshal(kept[0].JSON, t)
}

// runTrace runs in the loop.
func (h *Hub) runTrace(doc *rule.Rule, t *state.Trace, chain []cause.Entry) RunTrace {
	v := RunTrace{RunView: h.runView(doc, t), Lines: []RunLine{}, Flips: []RunFlip{}, Left: t.Left}
	if len(chain) > 0 && chain[0].ID != t.ID {
		v.Origin = h.sentenceOf(chain[0])
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
		taken[s.Path] = append(taken[s.Path], Taken{At: s.At, Round: s.Round, Waited: s.Waited, Did: h.did(&s, chain)})
	}
	texts := map[string]string{}
	for _, line := range h.told(doc) {
		texts[line.Path] = line.Text
		l := RunLine{Line: line, Trigger: t.Trigger != "" && line.Path == t.Trigger, Taken: taken[line.Path]}
		if c, there := conditions[line.Path]; there && line.Path != "" {
			truth := c.Truth
			l.Truth, l.Since = &truth, c.Since
			l.Value = h.valueAt(doc, line.Path, c.Value)
		}
		v.Lines = append(v.Lines, l)
	}
	for _, f := range t.Flips {
		v.Flips = append(v.Flips, RunFlip{At: f.At, Truth: f.Truth, Text: texts[f.Path], Value: h.valueAt(doc, f.Path, f.Value)})
	}
	return v
}

// did returns what a step did, from the chain of its run.
func (h *Hub) did(s *state.TracedStep, chain []cause.Entry) []Did {
	all := []Did{}
	from := []cause.ID{s.Cause}
	for _, e := range chain {
		if e.ID < s.First || e.ID >= s.Next || !slices.Contains(from, e.Parent) {
			continue
		}
		if e.Kind == cause.Applied || e.Kind == cause.Played {
			from = append(from, e.ID) // what a scene does is what the step does
		}
		d := Did{Entry: e.ID, Text: h.sentenceOf(e), AfterMilliseconds: e.Milliseconds}
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

// valueAt says a value as the property of the condition at a place does.
func (h *Hub) valueAt(doc *rule.Rule, path string, v thing.Value) string {
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
	if p := h.engine.Property(c.Device, c.Property); p != nil {
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

// Reason is something that lets a rule act, or keeps it from acting, now.
type Reason struct {
	// Keeps says that this keeps the rule from acting.
	Keeps bool   `json:"keeps"`
	Text  string `json:"text"`
	// Run is the run that tells more, 0 for none.
	Run cause.ID `json:"run,omitempty"`
}

// WhyNot returns why a rule does not act now, what keeps it first.
func (h *Hub) WhyNot(ctx context.Context, id string) (reasons []Reason, err error) {
	runs, err := h.Runs(ctx, id, 0)
	if err != nil {
		return nil, err
	}
	err = Absent("There is no such rule.")
	failed := h.do(ctx, func() {
		if doc := h.definitions.Rules[id].Doc; doc != nil {
			reasons, err = h.whyNot(id, doc, runs), nil
		}
	})
	return reasons, errors.Join(failed, err)
}

func (h *Hub) whyNot(id string, doc *rule.Rule, runs []RunView) []Reason {
	view, _ := h.engine.RuleView(id)
	all := []Reason{}
	say := func(keeps bool, format string, args ...any) {
		all = append(all, Reason{Keeps: keeps, Text: fmt.Sprintf(format, args...)})
	}
	truths, texts := map[string]engine.ConditionState{}, map[string]string{}
	for _, c := range view.Conditions {
		truths[c.Path] = c
	}
	lines := h.told(doc)
	for _, l := range lines {
		texts[l.Path] = l.Text
	}
	conditions := func(part, lead string) {
		for _, l := range lines {
			c, there := truths[l.Path]
			if !there || (l.Path != part && !strings.HasPrefix(l.Path, part+"/")) {
				continue
			}
			now := ""
			if !c.Value.IsNone() {
				now = ", now " + h.valueAt(doc, l.Path, c.Value)
			}
			if !c.Due.IsZero() {
				now += ", since " + h.clockTime(c.Lasts) + ", counts from " + h.clockTime(c.Due)
			}
			say(!c.Truth, "%s: %s%s", lead, l.Text, now)
		}
	}
	switch {
	case !doc.Enabled:
		say(true, "It is switched off.")
	case len(view.Problems) > 0:
		for _, p := range view.Problems {
			say(true, "Something is wrong with it: %s", p.Message)
		}
	case view.State.PausedBy != "":
		say(true, "Rule %s keeps it from acting since %s.", h.title(view.State.PausedBy), h.clockTime(view.State.PausedAt))
	case view.State.Stopped != "":
		say(true, "It was stopped. %s", view.State.Stopped)
	}
	if doc.Gate != nil {
		conditions("gate", "Its gate")
	}
	if doc.Lasts() {
		conditions("whenever", "Whenever")
		switch view.State.Phase {
		case state.Holding:
			say(false, "It holds since %s.", h.clockTime(view.State.Since))
		case state.Armed:
			if !view.State.Deadline.IsZero() {
				say(true, "That must last until %s.", h.clockTime(view.State.Deadline))
			}
		case state.Ending:
			say(false, "It lets go at %s.", h.clockTime(view.State.Deadline))
		}
	} else {
		for i := range doc.When {
			at, came := view.State.Triggered[i]
			text := strings.TrimSuffix(texts[fmt.Sprintf("when/%d", i)], ", or")
			if !came {
				say(true, "%s: has not come since the rule was put live", text)
				continue
			}
			say(false, "%s: last came %s", text, h.clockTime(at))
		}
		if len(doc.When) == 0 {
			say(true, "Nothing starts it but a hand.")
		}
	}
	if doc.Provided != nil && (view.State.Phase == state.Idle || view.State.Phase == state.Armed) {
		conditions("provided", "Provided")
	}
	if n := len(view.State.Frames); n > 0 && doc.Policy == rule.Ignore && !doc.Lasts() {
		say(true, "It is under way since %s, and is not started again meanwhile.", h.clockTime(view.State.LastBegan))
	}
	for _, r := range runs {
		if r.Outcome == state.NotStarted {
			all = append(all, Reason{Keeps: true, Text: h.clockTime(r.At) + ": " + r.Text, Run: r.ID})
			break
		}
	}
	slices.SortStableFunc(all, func(a, b Reason) int {
		switch {
		case a.Keeps == b.Keeps:
			return 0
		case a.Keeps:
			return -1
		default:
			return 1
		}
	})
	return all
}

// clockTime says a time in the home's zone, with the day where it is not today.
func (h *Hub) clockTime(at time.Time) string {
	if at.IsZero() {
		return "ever"
	}
	zone := h.engine.Moment().Location()
	at, now := at.In(zone), h.clock.Now().In(zone)
	if at.YearDay() == now.YearDay() && at.Year() == now.Year() {
		return at.Format("15:04:05")
	}
	return at.Format("Mon 2 Jan 15:04")
}
