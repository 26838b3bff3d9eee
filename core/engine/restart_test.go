package engine_test

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// restart saves the engine's state, through JSON as the store does, and starts a new engine from it; with more
// inputs, if there are any, before the rules.
func (b *bench) restart(more ...engine.Input) {
	saved := state.Saved{Properties: map[thing.Ref]state.PropertyState{}, Rules: map[string]state.RuleState{}}
	for _, ref := range []thing.Ref{{Device: "lamp", Name: "brightness"}, {Device: "other", Name: "brightness"}, {Device: "sensor", Name: "motion"}, {Device: "sensor", Name: "light"}} {
		state, _ := b.engine.PropertyState(ref)
		saved.Properties[ref] = throughJSON(b.t, state)
	}
	docs := b.engine.Rules()
	for id := range docs {
		v, _ := b.engine.RuleView(id)
		saved.Rules[id] = throughJSON(b.t, v.State)
	}
	var last cause.ID
	for id := range b.entries {
		last = max(last, id)
	}
	next := engine.New(last+1, uint64(len(b.commands))+1)
	next.BeginLoading(b.now)
	b.engine = next
	b.do(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindHome,
			Home:       &home.Home{Title: "Mill", Latitude: 51.5, Longitude: -2.6, Zone: "Europe/London"},
		},
	)
	b.device("lamp", lampDescription)
	b.device("other", lampDescription)
	b.device("sensor", sensorDescription)
	b.device("dial", dialDescription)
	for _, in := range more {
		b.do(in)
	}
	for id, doc := range docs {
		b.rule(id, *doc)
	}
	b.engine.Load(saved)
	b.do(engine.Input{Kind: engine.InputStart})
}

func throughJSON[T any](t require.TestingT, v T) T {
	data, err := json.Marshal(v)
	require.NoError(t, err)
	var back T
	require.NoError(t, json.Unmarshal(data, &back))
	return back
}

func TestRunningForAndHoldGoOnAfterARestart(t *testing.T) {
	b := newBench(t)
	b.rule("stair", stairLight())
	b.report("sensor", "motion", thing.Boolean(true))
	b.obey()
	b.report("sensor", "motion", thing.Boolean(false))
	b.pass(20 * time.Second)
	b.restart()
	assert.Equal(t, state.Ending, b.phase("stair"))
	assert.Equal(t, thing.Number(60), b.state("lamp").Target)
	commands := len(b.commands)
	b.pass(9 * time.Second)
	assert.Len(t, b.commands, commands, "a restart commands nothing by itself")
	b.pass(2 * time.Second)
	assert.Equal(t, thing.Number(0), b.state("lamp").Target)
}

func TestOverdueWaitGoesOnFirst(t *testing.T) {
	b := newBench(t)
	b.rule("press", rule.Rule{When: []rule.Trigger{{Device: "dial", Event: "press"}}, Do: []rule.Step{
		{Kind: rule.StepWait, ForSeconds: 2400}, {Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(50)},
	}})
	b.do(engine.Input{Kind: engine.InputEvent, Device: "dial", Name: "press"})
	b.now = b.now.Add(time.Hour)
	b.restart()
	assert.Equal(t, thing.Number(50), b.state("lamp").Target)
	assert.Equal(t, []cause.Kind{cause.Commanded, cause.Waited, cause.Ran, cause.Happened}, b.chain(b.commands[0].Cause))
}

// What is kept of a rule is written only when it is told to have changed: so each change must be told.
func TestEachChangeOfWhatIsKeptOfARuleIsTold(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := newBench(t)
		b.dusk(light.EndRepeat)
		at := byClock("22:01")
		b.rule("nested", nested())
		b.rule(
			"holds",
			rule.Rule{
				Whenever:               dark(),
				ForAtLeastSeconds:      20,
				EndedForAtLeastSeconds: 15,
				Do: []rule.Step{
					holdAt("lamp", 90),
					wait(9),
					{Kind: rule.StepSet, Device: "other", Property: "brightness", Value: thing.Number(3), UntilDone: true},
				},
			},
		)
		b.rule(
			"starts",
			rule.Rule{
				When:     press,
				Policy:   rule.Ignore,
				Provided: dark(),
				Do: []rule.Step{
					{Kind: rule.StepRun, Rule: "queued"},
					wait(5),
					{Kind: rule.StepPause, Rule: "holds"},
					wait(5),
					{Kind: rule.StepResume, Rule: "holds"},
					{Kind: rule.StepSequence, Sequence: "dusk"},
				},
			},
		)
		b.rule(
			"queued",
			rule.Rule{
				When:   []rule.Trigger{{Kind: rule.OnTime, At: &at}, {Device: "sensor", Property: "motion"}},
				Policy: rule.Queue,
				Gate:   stirring(),
				Do: []rule.Step{
					{Kind: rule.StepQuestion, Text: "Well?", AtMostSeconds: 30, Branches: []rule.Branch{{Answer: "Yes"}}},
					{Kind: rule.StepWeb, Address: "http://127.0.0.1:9", LimitSeconds: 5},
					{Kind: rule.StepScript, Script: "fail()"},
				},
			},
		)
		kept := map[string]string{}
		look := func() {
			for _, id := range []string{"nested", "holds", "starts", "queued"} {
				view, _ := b.engine.RuleView(id)
				view.State.LastTrue = nil // kept when there is time for it
				data, err := json.Marshal(view.State)
				require.NoError(t, err)
				if was, there := kept[id]; there && was != string(data) && !b.changed[id] {
					t.Fatalf("the state of %s changed, and nobody was told", id)
				}
				kept[id] = string(data)
			}
			clear(b.changed)
		}
		for range rapid.IntRange(1, 40).Draw(t, "acts") {
			switch rapid.IntRange(0, 5).Draw(t, "act") {
			case 0:
				b.press()
			case 1:
				b.report("sensor", "motion", thing.Boolean(rapid.Bool().Draw(t, "moving")))
			case 2:
				b.report("sensor", "light", thing.Number(rapid.SampledFrom([]float64{1, 100}).Draw(t, "lux")))
			case 3:
				b.obey()
			default:
				b.pass(time.Duration(rapid.IntRange(1, 40).Draw(t, "seconds")) * time.Second)
			}
			look()
		}
	})
}

// What a lamp says after a start may be its last words from before it: on its way to what was asked, or still where it was.
// That is no hand's doing, and the lamp goes out with the rule that lit it.
func TestTheLastWordsFromBeforeAStopAreNoHand(t *testing.T) {
	for name, words := range map[string][]float64{"on its way": {25, 41}, "as before": {0}, "on its way, then there": {25, 60}, "silent": nil} {
		rules := map[string]rule.Rule{"stair": {Whenever: stirring(), Do: []rule.Step{holdAt("lamp", 60)}}}
		b := newBench(t)
		b.rule("stair", rules["stair"])
		b.report("sensor", "motion", thing.Boolean(true))
		require.Equal(t, []string{"lamp 60"}, b.sent())
		b.report("lamp", "brightness", thing.Number(20)) // on its way
		b = b.restarted(rules, 90*time.Second)
		for _, percent := range words {
			b.report("lamp", "brightness", thing.Number(percent))
		}
		b.pass(10 * time.Second)
		for _, e := range b.entries {
			assert.NotEqual(t, cause.ByDevice, e.Kind, "%s: %v", name, e)
		}
		assert.False(t, b.state("lamp").Stack.Base.ByHand, name)
		b.sent()
		b.report("sensor", "motion", thing.Boolean(false))
		assert.Equal(t, []string{"lamp 0"}, b.sent(), name)
	}
}

// A hand that comes later than that is one.
func TestAHandAfterAStartIsOne(t *testing.T) {
	b := newBench(t)
	b.hand("lamp", 60)
	b = b.restarted(nil, 90*time.Second)
	b.report("lamp", "brightness", thing.Number(60))
	b.pass(10 * time.Second)
	b.report("lamp", "brightness", thing.Number(33))
	assert.True(t, b.state("lamp").Stack.Base.ByHand)
	assert.Equal(t, thing.Number(33), b.state("lamp").Stack.Base.Value)
}

// restarted goes on from what was saved, as a hub does after it was killed.
func (b *bench) restarted(rules map[string]rule.Rule, after time.Duration) *bench {
	return b.restartedAfter(rules, after, func(b *bench) *bench { return b })
}

// restartedWith is restarted at once, with definitions besides the rules.
func (b *bench) restartedWith(rules map[string]rule.Rule, define func(b *bench) *bench) *bench {
	return b.restartedAfter(rules, 0, define)
}

func (b *bench) restartedAfter(rules map[string]rule.Rule, after time.Duration, define func(b *bench) *bench) *bench {
	saved := state.Saved{Properties: map[thing.Ref]state.PropertyState{}, Rules: map[string]state.RuleState{}}
	again := &bench{t: b.t, engine: engine.New(b.engine.NextEntry(), 10_000), now: b.now.Add(after), entries: b.entries}
	again.engine.BeginLoading(again.now)
	again.do(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindHome,
			Home:       &home.Home{Title: "Mill", Latitude: 51.5, Longitude: -2.6, Zone: "Europe/London"},
		},
	)
	for id, d := range map[string]thing.Description{"lamp": lampDescription, "other": lampDescription, "sensor": sensorDescription, "dial": dialDescription} {
		again.device(id, d)
		for _, p := range d.Properties {
			state, _ := b.engine.PropertyState(thing.Ref{Device: id, Name: p.Name})
			saved.Properties[thing.Ref{Device: id, Name: p.Name}] = throughJSON(b.t, state)
		}
	}
	for id, r := range rules {
		again.rule(id, r)
		view, _ := b.engine.RuleView(id)
		saved.Rules[id] = throughJSON(b.t, view.State)
	}
	define(again)
	again.engine.Load(saved)
	again.do(engine.Input{Kind: engine.InputStart})
	return again
}

// nested is a rule that waits at every depth.
func nested() rule.Rule {
	lasting := stirring()
	lasting.ForAtLeastSeconds = 90
	return rule.Rule{When: press, Policy: rule.SideBySide, Do: []rule.Step{
		{Kind: rule.StepRepeat, Times: 3, Do: []rule.Step{
			set("lamp", 10), wait(7),
			{Kind: rule.StepIf, Condition: stirring(), Then: []rule.Step{wait(3), set("lamp", 20)}, Else: []rule.Step{set("lamp", 30)}},
			{Kind: rule.StepTogether, Branches: []rule.Branch{
				{Do: []rule.Step{wait(4), set("other", 40)}},
				{Do: []rule.Step{{Kind: rule.StepUntil, Condition: dark(), AtMostSeconds: 20, Else: []rule.Step{set("other", 50)}}}},
			}},
			{Kind: rule.StepSet, Device: "other", Property: "brightness", Value: thing.Number(60), To: thing.Number(90)},
			{Kind: rule.StepUntil, Condition: lasting, AtMostSeconds: 100},
			{Kind: rule.StepRamp, Device: "lamp", Property: "brightness", Value: thing.Number(70), ForSeconds: 12},
			{
				Kind: rule.StepThrough, Device: "other", Property: "brightness", Values: []thing.Value{thing.Number(15), thing.Number(35), thing.Number(55)},
				ToAndFro: true, GapSeconds: 2, AtMostSeconds: 9,
			},
			{Kind: rule.StepScript, Script: `set("other", "brightness", round(chance() * 40))`},
		}},
		set("lamp", 0),
	}}
}

// TestARestartAtAnyMomentChangesNothing: two homes live through the same, one of them is killed and started again
// at random moments; both send the same commands at the same times.
func TestARestartAtAnyMomentChangesNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		rules := map[string]rule.Rule{
			"r": nested(),
			"w": {Whenever: stirring(), ForAtLeastSeconds: 3, EndedForAtLeastSeconds: 2, Do: []rule.Step{holdAt("lamp", 77), wait(5), set("other", 11)}},
		}
		one, two := newBench(t), newBench(t)
		for id, r := range rules {
			one.rule(id, r)
			two.rule(id, r)
		}
		said := func(b *bench) (list []string) {
			for _, c := range b.commands {
				list = append(list, fmt.Sprintf("%s %s %g", c.Device, c.Name, c.Value.Number))
			}
			b.commands, b.followed = nil, 0
			return list
		}
		for range rapid.IntRange(1, 25).Draw(t, "acts") {
			both := func(f func(b *bench)) { f(one); f(two) }
			switch rapid.IntRange(0, 6).Draw(t, "act") {
			case 0:
				both((*bench).press)
			case 1:
				v := thing.Boolean(rapid.Bool().Draw(t, "moving"))
				both(func(b *bench) { b.report("sensor", "motion", v) })
			case 2:
				v := thing.Number(rapid.SampledFrom([]float64{1, 100}).Draw(t, "lux"))
				both(func(b *bench) { b.report("sensor", "light", v) })
			case 3:
				both((*bench).obey) // a command that is on its way at a stop is given time anew, so it fails later
				two = two.restarted(rules, 0)
			case 4:
				both((*bench).obey)
			default:
				d := time.Duration(rapid.IntRange(1, 40).Draw(t, "seconds")) * time.Second
				both(func(b *bench) { b.pass(d) })
			}
			require.Equal(t, said(one), said(two))
		}
	})
}

func TestAWaitThatIsOverdueGoesOnOrIsGivenUp(t *testing.T) {
	for _, c := range []struct {
		giveUp float64
		off    time.Duration
		want   []string
	}{
		{0, 5 * time.Minute, []string{}},
		{0, 50 * time.Minute, []string{"lamp 9"}},
		{1200, 50 * time.Minute, []string{"lamp 9"}},
		{300, 50 * time.Minute, []string{}},
	} {
		r := rule.Rule{When: press, GiveUpAfterSeconds: c.giveUp, Do: []rule.Step{wait(2400), set("lamp", 9)}}
		b := newBench(t)
		b.rule("r", r)
		b.press()
		b.pass(10 * time.Minute)
		again := b.restarted(map[string]rule.Rule{"r": r}, c.off)
		assert.Equal(t, c.want, again.sent(), "give up after %g s, off for %s", c.giveUp, c.off)
		again.pass(time.Hour)
		view, _ := again.engine.RuleView("r")
		assert.Empty(t, view.State.Frames)
		if c.off < 30*time.Minute {
			assert.Equal(t, []string{"lamp 9"}, again.sent(), "at minute 40, as if nothing had been")
		}
		if c.giveUp == 300 {
			assert.Contains(t, view.State.CutShort, "too late")
		}
	}
}
