package main

import (
	"fmt"
	"math/rand/v2"
	"runtime"
	"time"

	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

const (
	engineProperties = 10_000
	engineRules      = 2_000
	engineReports    = 1_000_000
	engineRepeats    = 20
)

// measureEngine feeds reports to an engine with 10,000 properties and 2,000 rules of three conditions each, made with
// pickers, and then typed as expressions. The floor runs the same comparisons as closures in a bare loop, which finds
// the property by the names that a report comes with, and does nothing else.
func measureEngine() []figure {
	picked := reportsPerSecond(func(device string) rule.Condition {
		return rule.Condition{Device: device, Property: "light", Comparison: rule.Below, Value: thing.Number(5)}
	})
	typed := reportsPerSecond(func(device string) rule.Condition {
		return rule.Condition{Expression: fmt.Sprintf("value(%q, \"light\") < 5", device)}
	})
	return []figure{
		{Name: "engine_picked_per_s", Value: picked.perSecond, Unit: "1/s", Floor: &picked.floor},
		{Name: "engine_cel_per_s", Value: typed.perSecond, Unit: "1/s", Floor: &typed.floor},
		{Name: "engine_allocs_per_report", Value: picked.allocations, Unit: "allocations"},
		{Name: "trace_overhead_ratio", Value: traceOverhead(), Unit: "×"},
	}
}

// tracedEvents is how many runs the cost of tracing is measured with.
const tracedEvents = 20_000

// traceOverhead is how much longer it takes to run a rule with its trace than without: a press that looks at two
// conditions and takes three steps, the best of several.
func traceOverhead() float64 {
	took := func(traced bool) time.Duration {
		now := time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)
		e := engine.New(1, 1)
		if !traced {
			e.Untraced()
		}
		lamp := thing.Description{
			Properties: []thing.Property{{Name: "level", Title: "Level", Type: thing.TypeNumber, Maximum: 100, Resolution: 1, Writable: true}},
			Events:     []thing.Event{{Name: "press", Title: "Press"}},
		}
		e.Handle(
			now,
			engine.Input{
				Kind:       engine.InputDefine,
				Definition: engine.KindDevice,
				ID:         "lamp",
				Thing:      &home.Device{Title: "lamp", Connection: "c", Hardware: "lamp", Description: lamp},
			},
		)
		e.Handle(now, engine.Input{Kind: engine.InputReport, Device: "lamp", Name: "level", Value: thing.Number(0)})
		at := func(c rule.Comparison, percent float64) rule.Condition {
			return rule.Condition{Device: "lamp", Property: "level", Comparison: c, Value: thing.Number(percent)}
		}
		set := func(percent float64) rule.Step {
			return rule.Step{Kind: rule.StepSet, Device: "lamp", Property: "level", Value: thing.Number(percent)}
		}
		e.Handle(now, engine.Input{Kind: engine.InputDefine, Definition: engine.KindRule, ID: "r", RuleDoc: &rule.Rule{
			Title: "r", Enabled: true, When: []rule.Trigger{{Device: "lamp", Event: "press"}},
			Provided: &rule.Condition{Any: []rule.Condition{at(rule.Below, 50), at(rule.AtLeast, 0)}}, Do: []rule.Step{set(10), set(20), set(30)},
		}})
		e.Handle(now, engine.Input{Kind: engine.InputStart})
		began := time.Now()
		for range tracedEvents {
			now = now.Add(time.Second)
			e.Handle(now, engine.Input{Kind: engine.InputEvent, Device: "lamp", Name: "press"})
		}
		return time.Since(began)
	}
	with, without := took(true), took(false)
	for range engineRepeats / 2 {
		with, without = min(with, took(true)), min(without, took(false))
	}
	return with.Seconds() / without.Seconds()
}

type engineSpeed struct{ perSecond, floor, allocations float64 }

// reportsPerSecond measures with conditions of a kind, about a device each.
func reportsPerSecond(condition func(device string) rule.Condition) engineSpeed {
	now := time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)
	e := engine.New(1, 1)
	e.BeginLoading(now)
	description := thing.Description{Properties: []thing.Property{{Name: "light", Title: "Light", Type: thing.TypeNumber, Unit: "lx", Resolution: 0.1}}}
	lamp := thing.Description{Properties: []thing.Property{{Name: "power", Title: "Power", Type: thing.TypeBoolean, Writable: true}}}
	ids := make([]string, engineProperties)
	for i := range ids {
		ids[i] = fmt.Sprintf("device-%05d", i)
		e.Handle(
			now,
			engine.Input{
				Kind:       engine.InputDefine,
				Definition: engine.KindDevice,
				ID:         ids[i],
				Thing:      &home.Device{Title: ids[i], Connection: "c", Hardware: ids[i], Description: description},
			},
		)
	}
	e.Handle(
		now,
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindDevice,
			ID:         "lamp",
			Thing:      &home.Device{Title: "lamp", Connection: "c", Hardware: "lamp", Description: lamp},
		},
	)
	random := rand.New(rand.NewPCG(1, 2))
	type bareProperty struct {
		last     thing.Value
		closures []func(thing.Value) bool
	}
	bareProperties := make(map[thing.Ref]*bareProperty, engineProperties)
	for _, id := range ids {
		bareProperties[thing.Ref{Device: id, Name: "light"}] = &bareProperty{}
	}
	below := func(limit float64) func(thing.Value) bool {
		return func(v thing.Value) bool { return v.Kind == thing.KindNumber && v.Number < limit }
	}
	for i := range engineRules {
		all := make([]rule.Condition, 3)
		for j := range all {
			n := random.IntN(engineProperties)
			all[j] = condition(ids[n])
			p := bareProperties[thing.Ref{Device: ids[n], Name: "light"}]
			p.closures = append(p.closures, below(5))
		}
		id := fmt.Sprintf("rule-%04d", i)
		e.Handle(now, engine.Input{Kind: engine.InputDefine, Definition: engine.KindRule, ID: id, RuleDoc: &rule.Rule{
			Title: id, Enabled: true, Whenever: &rule.Condition{All: all},
			Do: []rule.Step{{Kind: rule.StepHold, Device: "lamp", Property: "power", Value: thing.Boolean(true)}},
		}})
	}
	e.Load(state.Saved{})
	e.Handle(now, engine.Input{Kind: engine.InputStart})

	order := make([]int, 1<<16)
	for i := range order {
		order[i] = random.IntN(engineProperties)
	}
	value := func(i int) thing.Value { return thing.Number(float64(10 + i%90)) } // never below 5: nothing follows
	bare := func(reports int) time.Duration {
		trues := 0
		began := time.Now()
		for i := range reports {
			p, v := bareProperties[thing.Ref{Device: ids[order[i&(len(order)-1)]], Name: "light"}], value(i)
			if p.last == v {
				continue
			}
			p.last = v
			for _, c := range p.closures {
				if c(v) {
					trues++
				}
			}
		}
		runtime.KeepAlive(trues)
		return time.Since(began)
	}
	hub := func(reports int) time.Duration {
		began := time.Now()
		for i := range reports {
			e.Report(now, ids[order[i&(len(order)-1)]], "light", value(i), false)
		}
		return time.Since(began)
	}
	hub(engineReports / 10)
	bare(engineReports / 10)
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	took := hub(engineReports)
	runtime.ReadMemStats(&after)
	floorTook := bare(engineReports)
	for range engineRepeats { // the machine is shared: the best of many short runs, for both
		took, floorTook = min(took, hub(engineReports)), min(floorTook, bare(engineReports))
	}
	floor := float64(engineReports) / floorTook.Seconds()
	return engineSpeed{perSecond: float64(engineReports) / took.Seconds(), floor: floor, allocations: float64(after.Mallocs-before.Mallocs) / engineReports}
}
