package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"runtime"
	"time"

	"amvek/core/check"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

const (
	waitingRules = 2_000
	waitingEach  = engine.MaximumRuns
	savedRuns    = 10_000
	checkedRules = 2_000
)

// waiting is a home whose rules wait: so many of them, each with so many runs side by side.
type waiting struct {
	engine *engine.Engine
	now    time.Time
	rules  map[string]*rule.Rule
}

func newWaiting(rules int) *waiting {
	w := &waiting{engine: engine.New(1, 1), now: time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC), rules: map[string]*rule.Rule{}}
	w.engine.BeginLoading(w.now)
	lamp := thing.Description{
		Properties: []thing.Property{{Name: "brightness", Title: "Brightness", Type: thing.TypeNumber, Maximum: 100, Resolution: 1, Writable: true}},
	}
	w.engine.Handle(
		w.now,
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindDevice,
			ID:         "lamp",
			Thing:      &home.Device{Title: "lamp", Connection: "c", Hardware: "lamp", Description: lamp},
		},
	)
	dark := rule.Condition{Device: "lamp", Property: "brightness", Comparison: rule.Below, Value: thing.Number(5)}
	bright := rule.Condition{Device: "lamp", Property: "brightness", Comparison: rule.Above, Value: thing.Number(60)}
	for i := range rules {
		id := fmt.Sprintf("rule-%05d", i)
		doc := &rule.Rule{
			Title: id, Enabled: true, Policy: rule.SideBySide, Provided: &rule.Condition{Any: []rule.Condition{dark, bright, {None: []rule.Condition{bright}}}},
			Do: []rule.Step{{Kind: rule.StepRepeat, Times: 3, Do: []rule.Step{
				{Kind: rule.StepWait, ForSeconds: float64(600 + i)},
				{Kind: rule.StepIf, Condition: &dark, Then: []rule.Step{{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(50)}}},
			}}},
		}
		w.rules[id] = doc
		w.engine.Handle(w.now, engine.Input{Kind: engine.InputDefine, Definition: engine.KindRule, ID: id, RuleDoc: doc})
	}
	return w
}

func (w *waiting) start(saved state.Saved) {
	w.engine.Load(saved)
	w.engine.Handle(w.now, engine.Input{Kind: engine.InputStart})
}

// begin lets every rule begin so many runs.
func (w *waiting) begin(each int) {
	for range each {
		for id := range w.rules {
			w.engine.Handle(w.now, engine.Input{Kind: engine.InputRun, Rule: id})
		}
	}
}

func heap() uint64 {
	runtime.GC()
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	return m.HeapAlloc
}

// measureRuns measures what 100,000 waiting runs cost and how soon the next of them is found, a restart with 10,000
// saved runs, and looking for what is hardly meant in 2,000 rules.
func measureRuns() ([]figure, error) {
	w := newWaiting(waitingRules)
	w.start(state.Saved{})
	before := heap()
	w.begin(waitingEach)
	megabytes := float64(heap()-before) / 1e6
	const looks = 100_000
	began := time.Now()
	for range looks {
		if _, due := w.engine.NextDeadline(); !due {
			return nil, errors.New("nothing is due though rules wait")
		}
	}
	deadline := float64(time.Since(began).Nanoseconds()) / looks
	runtime.KeepAlive(w)

	w = newWaiting(savedRuns)
	w.start(state.Saved{})
	w.begin(1)
	saved := state.Saved{Rules: map[string]state.RuleState{}}
	kept := map[string][]byte{}
	for id := range w.rules {
		view, _ := w.engine.RuleView(id)
		data, err := json.Marshal(view.State)
		if err != nil {
			return nil, err
		}
		kept[id] = data
	}
	restart, err := median(3, func() error {
		again := newWaiting(savedRuns)
		for id, data := range kept {
			var state state.RuleState
			if err := json.Unmarshal(data, &state); err != nil {
				return err
			}
			saved.Rules[id] = state
		}
		again.start(saved)
		return nil
	})
	if err != nil {
		return nil, err
	}

	w = newWaiting(checkedRules)
	w.start(state.Saved{})
	checked, err := median(5, func() error {
		for id, doc := range w.rules {
			if len(doc.Check(w.engine)) > 0 {
				return fmt.Errorf("%s has problems", id)
			}
			check.Rule(doc, w.engine)
		}
		return nil
	})
	return []figure{
		{Name: "waiting_100k_mb", Value: megabytes, Unit: "MB"},
		{Name: "next_deadline_ns", Value: deadline, Unit: "ns"},
		{Name: "restart_10k_frames_ms", Value: restart, Unit: "ms"},
		{Name: "check_2000_rules_ms", Value: checked, Unit: "ms"},
	}, err
}
