package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/rule"
	"amvek/core/thing"
)

func (b *bench) calendar(entries ...almanac.Entry) {
	b.do(engine.Input{Kind: engine.InputEntries, ID: "diary", Entries: entries})
}

func (b *bench) entry(title string, in, lasts time.Duration) almanac.Entry {
	return almanac.Entry{Title: title, Begin: b.now.Add(in), End: b.now.Add(in + lasts)}
}

func diaryRule(t rule.Trigger) rule.Rule {
	t.Kind, t.Calendar = rule.OnEntry, "diary"
	return rule.Rule{When: []rule.Trigger{t}, Do: []rule.Step{{Kind: rule.StepSet, Device: "lamp", Property: "brightness", By: true, Value: thing.Number(1)}}}
}

func TestEntriesOfACalendarStartRules(t *testing.T) {
	b := newBench(t)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindCalendar, ID: "diary"})
	b.rule("begin", diaryRule(rule.Trigger{Words: "class potters"}))
	b.rule("end", diaryRule(rule.Trigger{Ends: true, OffsetMinutes: 10}))
	began := func() [2]int {
		a, _ := b.engine.RuleView("begin")
		z, _ := b.engine.RuleView("end")
		return [2]int{a.State.Runs, z.State.Runs}
	}
	b.calendar(b.entry("Potters, evening class", time.Hour, 2*time.Hour), b.entry("Dentist", 30*time.Minute, time.Hour))
	b.pass(59 * time.Minute)
	assert.Equal(t, [2]int{0, 0}, began())
	b.pass(2 * time.Minute)
	assert.Equal(t, [2]int{1, 0}, began(), "the potters, not the dentist")
	assert.Contains(t, b.notes(cause.TimeCame), "Potters, evening class")
	b.pass(40 * time.Minute) // the dentist's end and ten minutes, at 1 h 40
	assert.Equal(t, [2]int{1, 1}, began())
	// The class is moved by an hour while it goes on: its end counts where it now stands.
	b.calendar(b.entry("Potters, evening class", -time.Hour, 3*time.Hour))
	b.pass(2 * time.Hour)
	assert.Equal(t, [2]int{1, 1}, began())
	b.pass(11 * time.Minute)
	assert.Equal(t, [2]int{1, 2}, began())
	b.calendar()
	b.pass(24 * time.Hour)
	assert.Equal(t, [2]int{1, 2}, began(), "nothing stands in it any more")
}

func TestAnEntryThatCameWhileTheHubWasOffCountsIfItIsNotLongAgo(t *testing.T) {
	for late, want := range map[time.Duration]int{5 * time.Minute: 1, 30 * time.Minute: 0} {
		b := newBench(t)
		there := engine.Input{Kind: engine.InputDefine, Definition: engine.KindCalendar, ID: "diary"}
		b.do(there)
		b.rule("begin", diaryRule(rule.Trigger{}))
		dentist := b.entry("Dentist", time.Hour, time.Hour)
		b.calendar(dentist)
		b.now = b.now.Add(time.Hour + late)
		b.restart(there, engine.Input{Kind: engine.InputEntries, ID: "diary", Entries: []almanac.Entry{dentist}})
		view, _ := b.engine.RuleView("begin")
		assert.Equal(t, want, view.State.Runs, late)
	}
}
