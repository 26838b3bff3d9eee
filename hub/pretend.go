package hub

import (
	"cmp"
	"context"
	"time"

	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/document"
	"amvek/core/engine"
	"amvek/core/rehearse"
	"amvek/core/rule"
	"amvek/hub/views"
	"amvek/store"
)

// Pretence is what is pretended about a rule, be it live or a draft.
type Pretence struct {
	Document rule.Rule `json:"document"`
	// At is the pretended time; the present where it is absent. Clock is a time of today instead, in the home's zone.
	At     time.Time          `json:"at,omitzero"`
	Clock  string             `json:"clock,omitempty" pattern:"^([01][0-9]|2[0-3]):[0-5][0-9]$" doc:"A time of today instead, such as 22:30."`
	Before []rehearse.Reading `json:"before,omitempty" maxItems:"200" doc:"What is so already."`
	Then   []rehearse.Reading `json:"then,omitempty" maxItems:"200" doc:"What comes at that moment."`
	// Trigger is the number of the trigger that comes, from 1.
	Trigger     int     `json:"trigger,omitempty" minimum:"0" doc:"The number of the trigger that comes, from 1; 0 is none."`
	ByHand      bool    `json:"byHand,omitempty"`
	SpanSeconds float64 `json:"spanSeconds,omitempty" minimum:"0" maximum:"86400" doc:"For how long to look on."`
}

// snapshot returns the home as it is, to pretend with. It runs in the loop; documents are never changed in place.
func (h *Hub) snapshot() rehearse.Home {
	d := &h.definitions
	s := rehearse.Home{
		Home: h.definitions.House(), Devices: d.Devices.Documents(), Scenes: d.Scenes.Documents(),
		Sequences: d.Sequences.Documents(), Links: d.Links.Documents(), Mirrors: d.Mirrors.Documents(), Lights: d.Lights.Documents(),
		Curves: d.Curves.Documents(),
		Groups: d.Groups.Documents(), Rooms: d.Rooms.Documents(),
		Dashboards: d.Dashboards.IDs(), Calendars: map[string][]almanac.Entry{}, Rules: d.Rules.Documents(), Schedules: d.Schedules.Documents(),
		Saved: h.engine.Saved(), Now: h.clock.Now(), Seed: h.chance,
	}
	for id := range d.Calendars {
		s.Calendars[id] = nil
		if state := h.calendars[id]; state != nil {
			s.Calendars[id] = state.Entries
		}
	}
	return s
}

// Pretend returns what a rule would do. Nothing is sent.
func (h *Hub) Pretend(ctx context.Context, id string, p Pretence) (view views.PretenceView, err error) {
	var snapshot rehearse.Home
	there := false
	if failed := h.do(ctx, func() {
		there = h.definitions.Rules[id].Doc != nil
		snapshot = h.snapshot()
		if clock, wrong := time.Parse("15:04", p.Clock); wrong == nil {
			today := snapshot.Now.In(h.engine.Moment().Location())
			p.At = almanac.WallClock(today.Year(), today.Month(), today.Day(), clock.Hour(), clock.Minute(), today.Location())
		}
	}); failed != nil {
		return view, failed
	}
	if !there {
		return view, Absent("There is no such rule.")
	}
	if p.At.IsZero() {
		p.At = snapshot.Now
	}
	if p.Trigger > len(p.Document.When) {
		return view, Invalid("trigger", "The rule has no such trigger.")
	}
	if _, err := h.hide(&p.Document); err != nil {
		return view, err
	}
	result := rehearse.Run(snapshot, rehearse.Pretence{
		Rule: id, Document: &p.Document, At: p.At, Before: p.Before, Then: p.Then, Trigger: p.Trigger - 1, ByHand: p.ByHand, Span: rule.Seconds(p.SpanSeconds),
	})
	err = h.do(ctx, func() { view = h.reader.Pretence(id, &p.Document, p.At, result) })
	return view, err
}

// triedRule is the id of the rule that a step is tried by; it is no definition.
const triedRule = "rule-tried"

// TryStep takes one step now, on the real devices, as a rule would. A person who tries it is there, and so may set going
// what is attended only; nobody else may, whatever the step says.
func (h *Hub) TryStep(ctx context.Context, step rule.Step, by cause.By) error {
	if step.Kind == rule.StepHold && step.ForSeconds == 0 {
		step.ForSeconds = 10 // nobody lets it go
	}
	doc := &rule.Rule{Title: "A step that was tried", Enabled: true, Do: []rule.Step{step}}
	if err := document.Check(doc); err != nil {
		return placed(err)
	}
	parts, err := h.hide(doc)
	if err == nil {
		err = h.checkHidden(ctx, doc, parts)
	}
	if err == nil && len(parts) > 0 {
		_, err = h.store.WriteBatch(ctx, h.clock.Now(), store.Batch{Secrets: parts})
	}
	if err != nil {
		return err
	}
	rule.Walk("do", doc.Do, func(_ string, s *rule.Step) { s.Unattended = by.Attends() && s.MayBeUnattended() })
	var wrong error
	err = h.do(ctx, func() {
		if problems := doc.Check(h.engine); len(problems) > 0 {
			wrong = Invalid(problems[0].Path, problems[0].Message)
			return
		}
		h.titles[triedRule] = doc.Title
		h.handle(engine.Input{Kind: engine.InputRemove, Definition: engine.KindRule, ID: triedRule})
		h.handle(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRule, ID: triedRule, RuleDoc: doc})
		h.refusals = 0
		h.handle(engine.Input{Kind: engine.InputRun, Rule: triedRule, Doer: by})
		if h.refusals > 0 {
			wrong = &ForbiddenError{"It is attended only: nobody but a person who is there may set it going."}
		}
	})
	return cmp.Or(err, wrong)
}
