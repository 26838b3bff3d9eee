package main

import (
	"fmt"
	"math/rand/v2"
	"runtime"
	"time"

	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/thing"
)

const (
	engineProperties = 10_000
	engineRules      = 2_000
	engineReports    = 1_000_000
	engineRepeats    = 20
)

// measureEngine feeds reports to an engine with 10,000 properties and 2,000 rules of three
// conditions each. The floor runs the same comparisons as closures in a bare loop.
func measureEngine() []figure {
	now := time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)
	e := engine.New(1, 1)
	e.BeginLoading(now)
	description := thing.Description{Properties: []thing.Property{{Name: "light", Title: "Light", Type: thing.TypeNumber, Unit: "lx", Resolution: 0.1}}}
	lamp := thing.Description{Properties: []thing.Property{{Name: "power", Title: "Power", Type: thing.TypeBoolean, Writable: true}}}
	ids := make([]string, engineProperties)
	for i := range ids {
		ids[i] = fmt.Sprintf("device-%05d", i)
		e.Handle(now, engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: ids[i], Thing: &home.Device{Title: ids[i], Connection: "c", Hardware: ids[i], Description: description}})
	}
	e.Handle(now, engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "lamp", Thing: &home.Device{Title: "lamp", Connection: "c", Hardware: "lamp", Description: lamp}})
	random := rand.New(rand.NewPCG(1, 2))
	closures := make([][]func(thing.Value) bool, engineProperties)
	below := func(limit float64) func(thing.Value) bool {
		return func(v thing.Value) bool { return v.Kind == thing.KindNumber && v.Number < limit }
	}
	for i := range engineRules {
		all := make([]rule.Condition, 3)
		for j := range all {
			n := random.IntN(engineProperties)
			all[j] = rule.Condition{Device: ids[n], Property: "light", Comparison: rule.Below, Value: thing.Number(5)}
			closures[n] = append(closures[n], below(5))
		}
		id := fmt.Sprintf("rule-%04d", i)
		e.Handle(now, engine.Input{Kind: engine.InputDefine, Definition: engine.KindRule, ID: id, RuleDoc: &rule.Rule{
			Title: id, Enabled: true, Whenever: &rule.Condition{All: all},
			Do: []rule.Step{{Kind: rule.StepHold, Device: "lamp", Property: "power", Value: thing.Boolean(true)}},
		}})
	}
	e.Load(engine.Saved{})
	e.Handle(now, engine.Input{Kind: engine.InputStart})

	order := make([]int, 1<<16)
	for i := range order {
		order[i] = random.IntN(engineProperties)
	}
	value := func(i int) thing.Value { return thing.Number(float64(10 + i%90)) } // never below 5: nothing follows
	bare := func(reports int) time.Duration {
		last := make([]thing.Value, engineProperties)
		trues := 0
		began := time.Now()
		for i := range reports {
			n, v := order[i&(len(order)-1)], value(i)
			if last[n] == v {
				continue
			}
			last[n] = v
			for _, c := range closures[n] {
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
			e.Handle(now, engine.Input{Kind: engine.InputReport, Device: ids[order[i&(len(order)-1)]], Name: "light", Value: value(i)})
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
	return []figure{
		{Name: "engine_reports_per_s", Value: float64(engineReports) / took.Seconds(), Unit: "1/s", Floor: &floor},
		{Name: "engine_allocs_per_report", Value: float64(after.Mallocs-before.Mallocs) / engineReports, Unit: "allocations"},
	}
}
