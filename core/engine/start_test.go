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

func TestAConditionCountsOnceItHasLasted(t *testing.T) {
	b := newBench(t)
	lasting := stirring()
	lasting.ForAtLeastSeconds = 30
	b.rule("r", rule.Rule{Whenever: &rule.Condition{All: []rule.Condition{*lasting, *dark()}}, Do: []rule.Step{holdAt("lamp", 80)}})
	b.report("sensor", "motion", thing.Boolean(true))
	b.pass(29 * time.Second)
	b.report("sensor", "motion", thing.Boolean(false))
	b.report("sensor", "motion", thing.Boolean(true))
	b.pass(20 * time.Second)
	assert.Empty(t, b.sent(), "the time begins anew")
	b.pass(11 * time.Second)
	assert.Equal(t, []string{"lamp 80"}, b.sent())
	b.report("sensor", "motion", thing.Boolean(false))
	assert.Equal(t, []string{"lamp 0"}, b.sent())
	for _, entry := range b.entries {
		if entry.Kind == cause.Began {
			assert.Equal(t, cause.Reported, b.origin(entry).Kind, "its chain ends at the sensor")
		}
	}
}

// origin follows the chain of an entry to its beginning.
func (b *bench) origin(e cause.Entry) cause.Entry {
	for e.Parent != 0 {
		e = b.entries[e.Parent]
	}
	return e
}

func TestATriggerWaitsUntilItStayedSo(t *testing.T) {
	b := newBench(t)
	b.rule(
		"r",
		rule.Rule{
			When: []rule.Trigger{{Device: "sensor", Property: "light", Comparison: rule.Above, Value: thing.Number(100), ForSeconds: 600}},
			Do:   []rule.Step{set("lamp", 7)},
		},
	)
	b.report("sensor", "light", thing.Number(200))
	b.pass(9 * time.Minute)
	b.report("sensor", "light", thing.Number(50))
	b.report("sensor", "light", thing.Number(200))
	b.pass(9 * time.Minute)
	assert.Empty(t, b.sent())
	b.pass(2 * time.Minute)
	assert.Equal(t, []string{"lamp 7"}, b.sent())
	b.hand("lamp", 0)
	b.sent()
	b.report("sensor", "light", thing.Number(300))
	b.pass(time.Hour)
	assert.Empty(t, b.sent(), "once for each time that it comes to be so")
}

func TestAWindowOfTheDayBeginsAndEnds(t *testing.T) {
	b := newBench(t) // 22:00
	b.rule(
		"r",
		rule.Rule{
			Whenever: &rule.Condition{
				Between: &rule.Window{
					From: almanac.Daily{Anchor: almanac.ByClock, Clock: "23:00"},
					To:   almanac.Daily{Anchor: almanac.BySunrise, OffsetMinutes: -30},
				},
			},
			Do: []rule.Step{holdAt("lamp", 5)},
		},
	)
	b.pass(59 * time.Minute)
	assert.Empty(t, b.sent())
	b.pass(time.Minute)
	assert.Equal(t, []string{"lamp 5"}, b.sent())
	b.pass(7 * time.Hour)
	assert.Empty(t, b.sent(), "06:00: the sun is not up yet")
	b.pass(90 * time.Minute)
	assert.Equal(t, []string{"lamp 0"}, b.sent())
	b.pass(24 * time.Hour)
	assert.Equal(t, []string{"lamp 5", "lamp 0"}, b.sent(), "every night")
}

func TestTimesPhrasesCallsAndStartsBeginRules(t *testing.T) {
	b := newBench(t)
	b.rule(
		"time",
		rule.Rule{When: []rule.Trigger{{Kind: rule.OnTime, At: &almanac.Daily{Anchor: almanac.ByClock, Clock: "22:30"}}}, Do: []rule.Step{set("lamp", 1)}},
	)
	b.rule("phrase", rule.Rule{When: []rule.Trigger{{Kind: rule.OnPhrase, Words: "Good night"}}, Do: []rule.Step{set("lamp", 2)}})
	b.rule("call", rule.Rule{When: []rule.Trigger{{Kind: rule.OnCall, Words: "bell"}}, Do: []rule.Step{set("lamp", 3)}})
	b.rule("start", rule.Rule{When: []rule.Trigger{{Kind: rule.OnStart}}, Do: []rule.Step{set("lamp", 4)}})
	b.pass(31 * time.Minute)
	b.do(engine.Input{Kind: engine.InputPhrase, Words: "  good  NIGHT!"})
	b.do(engine.Input{Kind: engine.InputPhrase, Words: "good morning"})
	b.do(engine.Input{Kind: engine.InputCall, Words: "bell"})
	b.do(engine.Input{Kind: engine.InputStart})
	assert.Equal(t, []string{"lamp 1", "lamp 2", "lamp 3", "lamp 4"}, b.sent())
	b.pass(24 * time.Hour)
	assert.Equal(t, []string{"lamp 1"}, b.sent())
}

func TestAShutGateStopsTheRuleAndLetsGo(t *testing.T) {
	b := newBench(t)
	b.rule("r", rule.Rule{Gate: dark(), Whenever: stirring(), Do: []rule.Step{holdAt("lamp", 80)}})
	b.report("sensor", "motion", thing.Boolean(true))
	assert.Equal(t, []string{"lamp 80"}, b.sent())
	b.report("sensor", "light", thing.Number(500))
	assert.Equal(t, []string{"lamp 0"}, b.sent())
	b.report("sensor", "light", thing.Number(1))
	assert.Equal(t, []string{"lamp 80"}, b.sent(), "the condition is still true")
}

func TestWhatKeptARuleFromStartingIsSaidWithItsValue(t *testing.T) {
	b := newBench(t)
	b.rule(
		"r",
		rule.Rule{
			When:     press,
			Provided: &rule.Condition{All: []rule.Condition{*dark(), {None: []rule.Condition{*stirring()}}}},
			Do:       []rule.Step{set("lamp", 5)},
		},
	)
	last := func() (entry cause.Entry) {
		for _, e := range b.entries {
			if e.Kind == cause.NotStarted && e.ID > entry.ID {
				entry = e
			}
		}
		return entry
	}
	b.report("sensor", "light", thing.Number(30))
	b.press()
	assert.Equal(t, "light", last().Name)
	assert.Equal(t, thing.Number(30), last().Value)
	b.report("sensor", "light", thing.Number(1))
	b.report("sensor", "motion", thing.Boolean(true))
	b.press()
	assert.Equal(t, "motion", last().Name, "true where none may be")
	b.rule(
		"r",
		rule.Rule{
			When: press,
			Provided: &rule.Condition{
				Between: &rule.Window{From: almanac.Daily{Anchor: almanac.ByClock, Clock: "08:00"}, To: almanac.Daily{Anchor: almanac.ByClock, Clock: "09:00"}},
			},
			Do: []rule.Step{set("lamp", 5)},
		},
	)
	b.press()
	assert.Equal(t, "time", last().Note)
}
