package hub

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"

	"amvek/core/cause"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/hub/docs"
	"amvek/hub/views"
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

const runsShown = 40

// Runs returns a rule's runs before an entry, or the latest, newest first; those under way first.
func (h *Hub) Runs(ctx context.Context, id string, before cause.ID) ([]views.RunView, error) {
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
	runs, there := []views.RunView{}, false
	err = h.do(ctx, func() {
		var doc *rule.Rule
		if doc = h.definitions.Rules[id].Doc; doc == nil {
			return
		}
		there = true
		if state, ok := h.engine.RuleView(id); ok && before == 0 {
			for i := range slices.Backward(state.State.Open) {
				runs = append(runs, h.reader.Run(doc, &state.State.Open[i]))
			}
		}
		for i := range traces {
			runs = append(runs, h.reader.Run(doc, &traces[i]))
		}
	})
	if err == nil && !there {
		err = Absent("There is no such rule.")
	}
	return runs, err
}

// Run returns one run in full.
func (h *Hub) Run(ctx context.Context, id string, entry cause.ID) (views.RunTrace, error) {
	var view views.RunTrace
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
	err = h.do(ctx, func() { view = h.reader.Trace(&doc, t, chain) })
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

// WhyNot returns why a rule does not act now, what keeps it first.
func (h *Hub) WhyNot(ctx context.Context, id string) (reasons []views.Reason, err error) {
	runs, err := h.Runs(ctx, id, 0)
	if err != nil {
		return nil, err
	}
	err = Absent("There is no such rule.")
	failed := h.do(ctx, func() {
		if doc := h.definitions.Rules[id].Doc; doc != nil {
			reasons, err = h.reader.WhyNot(id, doc, runs), nil
		}
	})
	return reasons, errors.Join(failed, err)
}
