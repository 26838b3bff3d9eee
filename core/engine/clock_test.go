package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
)

// setClock has the machine's clock set while the home goes on.
func (b *bench) setClock(by time.Duration) {
	b.now = b.now.Add(by)
	b.do(engine.Input{Kind: engine.InputClock, By: by})
}

// What lasts, waits, holds, ramps and is sent for goes on for as long as it has left, however the clock is set meanwhile.
func TestWhatTakesItsTimeTakesItHoweverTheClockIsSet(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		steady, set := newBench(t), newBench(t)
		both := func(f func(b *bench)) { f(steady); f(set) }
		ending := rapid.SampledFrom([]light.Ending{light.EndRepeat, light.EndHold, light.EndLetGo}).Draw(t, "ending")
		both(func(b *bench) {
			b.dusk(ending)
			b.rule("hold", rule.Rule{Whenever: dark(), ForAtLeastSeconds: 20, EndedForAtLeastSeconds: 15, Do: []rule.Step{holdAt("lamp", 90)}})
			b.rule("wait", rule.Rule{When: press, Policy: rule.SideBySide, Do: []rule.Step{
				{
					Kind:       rule.StepWait,
					ForSeconds: 25,
					ToSeconds:  40,
				}, {Kind: rule.StepHold, Device: "other", Property: "brightness", Value: thing.Number(70), ForSeconds: 12},
				{
					Kind:          rule.StepUntil,
					Condition:     &rule.Condition{Device: "sensor", Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true), ForAtLeastSeconds: 5},
					AtMostSeconds: 18,
					Else:          []rule.Step{set20("other")},
				},
				{Kind: rule.StepRamp, Device: "other", Property: "brightness", Value: thing.Number(5), ForSeconds: 10},
			}})
		})
		for range rapid.IntRange(1, 30).Draw(t, "acts") {
			switch rapid.IntRange(0, 7).Draw(t, "act") {
			case 0, 1:
				by := time.Duration(rapid.IntRange(-100_000, 100_000).Draw(t, "by")) * time.Second
				set.setClock(by)
			case 2, 3:
				d := time.Duration(rapid.IntRange(1, 30).Draw(t, "seconds")) * time.Second
				both(func(b *bench) { b.pass(d) })
			case 4:
				both((*bench).press)
			case 5:
				lux := float64(rapid.SampledFrom([]int{1, 500}).Draw(t, "lux"))
				both(func(b *bench) { b.report("sensor", "light", thing.Number(lux)) })
			case 6:
				moving := rapid.Bool().Draw(t, "moving")
				both(func(b *bench) { b.report("sensor", "motion", thing.Boolean(moving)) })
			case 7:
				verb := rapid.SampledFrom([]string{"start", "stop"}).Draw(t, "verb")
				both(func(b *bench) { b.sequence(verb); b.obey() })
			}
			if a, b := steady.both(), set.both(); a != b {
				t.Fatalf("%v with a steady clock, %v with one that was set", a, b)
			}
			a, okA := steady.engine.NextDeadline()
			b, okB := set.engine.NextDeadline()
			if okA != okB || a.Sub(steady.now) != b.Sub(set.now) {
				t.Fatalf("due in %v with a steady clock, in %v with one that was set", a.Sub(steady.now), b.Sub(set.now))
			}
		}
	})
}

func set20(device string) rule.Step { return set(device, 20) }

func byClock(clock string) almanac.Daily { return almanac.Daily{Anchor: almanac.ByClock, Clock: clock} }

func TestTimesOfTheDayFollowTheClockWhenItIsSet(t *testing.T) {
	b := newBench(t) // it is 22:00
	at := byClock("22:30")
	b.rule(
		"time",
		rule.Rule{
			When: []rule.Trigger{{Kind: rule.OnTime, At: &at}},
			Do:   []rule.Step{{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(1), By: true}},
		},
	)
	b.rule(
		"window",
		rule.Rule{Whenever: &rule.Condition{Between: &rule.Window{From: byClock("23:00"), To: byClock("23:30")}}, Do: []rule.Step{holdAt("other", 50)}},
	)
	tick := func() { b.do(engine.Input{Kind: engine.InputTick}) }

	b.setClock(35 * time.Minute) // 22:35: five minutes late, as after a start
	tick()
	assert.Equal(t, [2]float64{1, 0}, b.both())
	b.setClock(-10 * time.Minute) // 22:25: that was fast by a little, and it does not come twice
	b.pass(20 * time.Minute)
	assert.Equal(t, [2]float64{1, 0}, b.both())
	b.setClock(20 * time.Minute) // 23:05: into the window
	assert.Equal(t, [2]float64{1, 50}, b.both())
	b.setClock(-20 * time.Minute) // 22:45: and out again
	assert.Equal(t, [2]float64{1, 0}, b.both())
	b.setClock(-24 * time.Hour) // a whole day back: the evening comes once more
	b.pass(24 * time.Hour)
	assert.Equal(t, [2]float64{2, 0}, b.both())
	b.setClock(24 * time.Hour) // passed over by a day: missed, and said so
	tick()
	assert.Equal(t, [2]float64{2, 0}, b.both())
	view, _ := b.engine.RuleView("time")
	assert.Equal(t, "missed", view.State.NotStarted)
	assert.Equal(t, 6, b.count(cause.ClockSet))
}

func TestClocksThatChangeTwiceAYear(t *testing.T) {
	zone, err := time.LoadLocation("Europe/London")
	require.NoError(t, err)
	at := byClock("01:30")
	for name, c := range map[string]struct {
		evening time.Time
		comes   time.Time
	}{
		"spring, when 01:30 is left out":     {time.Date(2027, 3, 27, 22, 0, 0, 0, zone), time.Date(2027, 3, 28, 1, 30, 0, 0, time.UTC)},
		"autumn, when 01:30 comes two times": {time.Date(2027, 10, 30, 22, 0, 0, 0, zone), time.Date(2027, 10, 31, 0, 30, 0, 0, time.UTC)},
	} {
		b := newBench(t)
		b.now = c.evening
		b.do(engine.Input{Kind: engine.InputTick})
		b.rule("time", rule.Rule{When: []rule.Trigger{{Kind: rule.OnTime, At: &at}}, Do: []rule.Step{
			{
				Kind:     rule.StepSet,
				Device:   "lamp",
				Property: "brightness",
				Value:    thing.Number(1),
				By:       true,
			}, {Kind: rule.StepWait, ForSeconds: 40 * 60}, {Kind: rule.StepSet, Device: "other", Property: "brightness", Value: thing.Number(1), By: true},
		}})
		b.pass(c.comes.Sub(b.now) - time.Second)
		assert.Equal(t, [2]float64{0, 0}, b.both(), name)
		b.pass(time.Second)
		assert.Equal(t, [2]float64{1, 0}, b.both(), name)
		b.pass(40*time.Minute - time.Second)
		assert.Equal(t, [2]float64{1, 0}, b.both(), "%s: a wait is of 40 minutes that pass", name)
		b.pass(2 * time.Second)
		assert.Equal(t, [2]float64{1, 1}, b.both(), name)
		b.pass(10 * time.Hour)
		assert.Equal(t, [2]float64{1, 1}, b.both(), "%s: once", name)
	}
}

func TestAnotherZoneOfTheHomeMovesTimesOfTheDay(t *testing.T) {
	b := newBench(t) // 22:00 in London
	at := byClock("22:30")
	b.rule("time", rule.Rule{When: []rule.Trigger{{Kind: rule.OnTime, At: &at}}, Do: []rule.Step{set("lamp", 7)}})
	b.do(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindHome,
			Home:       &home.Home{Title: "Mill", Latitude: 51.5, Longitude: -2.6, Zone: "Atlantic/Azores"},
		},
	) // 21:00 there
	b.pass(45 * time.Minute)
	assert.Equal(t, float64(0), b.both()[0])
	b.pass(time.Hour)
	assert.Equal(t, float64(7), b.both()[0])
}

func TestHowLongAgoAConditionWasTrueStaysWhenTheClockIsSet(t *testing.T) {
	b := newBench(t)
	b.rule("hold", holding(60))
	b.report("sensor", "light", thing.Number(100)) // it was dark until now
	b.pass(time.Hour)
	b.setClock(-26 * time.Hour)
	b.do(engine.Input{Kind: engine.InputTick})
	view, _ := b.engine.RuleView("hold")
	assert.Equal(t, time.Hour, b.now.Sub(view.Conditions[0].LastTrue))
	assert.Equal(t, time.Hour, b.now.Sub(view.Conditions[0].Since))
}
