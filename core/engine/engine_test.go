package engine_test

import (
	"encoding/json"
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
	"amvek/core/state"
	"amvek/core/thing"
)

var (
	lampDescription = thing.Description{Properties: []thing.Property{{
		Name: "brightness", Title: "Brightness", Role: thing.RoleBrightness, Type: thing.TypeNumber,
		Unit: thing.UnitPercent, Minimum: 0, Maximum: 100, Resolution: 1, Writable: true, Fades: true,
	}}, Actions: []thing.Action{{Name: "identify", Title: "Identify"}}}
	sensorDescription = thing.Description{Properties: []thing.Property{
		{Name: "motion", Title: "Motion", Role: thing.RoleMotion, Type: thing.TypeBoolean, Words: []string{"clear", "moving"}},
		{Name: "light", Title: "Light", Role: thing.RoleIlluminance, Type: thing.TypeNumber, Unit: thing.UnitLux, Resolution: 0.1},
	}}
	dialDescription = thing.Description{Events: []thing.Event{{Name: "turn", Title: "Turn", Number: true}, {Name: "press", Title: "Press"}}}
	night           = time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)
)

// somebody is a person at a page.
var somebody = cause.By{Who: cause.Person, Via: cause.ViaPage}

// bench drives an engine the way a hub does, and keeps what came out.
type bench struct {
	t        require.TestingT
	engine   *engine.Engine
	now      time.Time
	commands []engine.Output
	followed int // how many of them a relay has done
	entries  map[cause.ID]cause.Entry
	log      []byte
	changed  map[string]bool // the rules whose states were told to be kept anew
}

func newBench(t require.TestingT) *bench {
	b := &bench{t: t, engine: engine.New(1, 1), now: night, entries: map[cause.ID]cause.Entry{}}
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
	b.report("lamp", "brightness", thing.Number(0))
	b.report("other", "brightness", thing.Number(0))
	b.report("sensor", "motion", thing.Boolean(false))
	b.report("sensor", "light", thing.Number(3))
	return b
}

func (b *bench) device(id string, d thing.Description) {
	b.do(
		engine.Input{
			Kind:       engine.InputDefine,
			Definition: engine.KindDevice,
			ID:         id,
			Thing:      &home.Device{Title: id, Connection: "wire", Hardware: id, Description: d},
		},
	)
}

func (b *bench) rule(id string, r rule.Rule) {
	r.Enabled = true
	if r.Title == "" {
		r.Title = id
	}
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRule, ID: id, RuleDoc: &r})
}

func (b *bench) do(in engine.Input) { b.yields(in, "") }

// yields gives an input and returns the outputs of a kind that follow.
func (b *bench) yields(in engine.Input, kind engine.OutputKind) (list []engine.Output) {
	for _, out := range b.engine.Handle(b.now, in) {
		data, err := json.Marshal(out)
		require.NoError(b.t, err)
		b.log = append(append(b.log, data...), '\n')
		switch out.Kind {
		case kind:
			list = append(list, out)
		case engine.OutputRule:
			if b.changed == nil {
				b.changed = map[string]bool{}
			}
			b.changed[out.Rule] = b.changed[out.Rule] || out.Changed
		case engine.OutputCommand:
			b.commands = append(b.commands, out)
		case engine.OutputJournal:
			b.entries[out.Entry.ID] = *out.Entry
		}
	}
	return list
}

func (b *bench) report(device, name string, v thing.Value) {
	b.do(engine.Input{Kind: engine.InputReport, Device: device, Name: name, Value: v})
}

func (b *bench) hand(device string, percent float64) {
	b.do(
		engine.Input{
			Kind:   engine.InputWrite,
			Device: device,
			Name:   "brightness",
			Value:  thing.Number(percent),
			Doer:   cause.By{Who: cause.Person, Via: cause.ViaPage},
		},
	)
}

// obey lets every lamp report what it was last told.
func (b *bench) obey() {
	for _, device := range []string{"lamp", "other"} {
		b.report(device, "brightness", b.state(device).Target)
	}
}

// pass lets time go by, stopping at each deadline on the way.
func (b *bench) pass(d time.Duration) {
	end := b.now.Add(d)
	for {
		at, ok := b.engine.NextDeadline()
		if !ok || at.After(end) {
			break
		}
		if at.After(b.now) {
			b.now = at
		}
		b.do(engine.Input{Kind: engine.InputTick})
	}
	b.now = end
}

func (b *bench) state(device string) state.PropertyState {
	s, ok := b.engine.PropertyState(thing.Ref{Device: device, Name: "brightness"})
	require.True(b.t, ok)
	return s
}

func (b *bench) phase(id string) state.Phase {
	v, ok := b.engine.RuleView(id)
	require.True(b.t, ok)
	require.Empty(b.t, v.Problems)
	return v.State.Phase
}

// chain returns the kinds from an entry back to where it began.
func (b *bench) chain(id cause.ID) (kinds []cause.Kind) {
	for id != 0 {
		e, ok := b.entries[id]
		require.True(b.t, ok, "entry %d is missing", id)
		kinds = append(kinds, e.Kind)
		id = e.Parent
	}
	return kinds
}

func moving() *rule.Condition {
	return &rule.Condition{Device: "sensor", Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)}
}

func stairLight() rule.Rule {
	return rule.Rule{
		Whenever:               moving(),
		Provided:               &rule.Condition{Device: "sensor", Property: "light", Comparison: rule.Below, Value: thing.Number(20)},
		EndedForAtLeastSeconds: 30,
		Do:                     []rule.Step{holdAt("lamp", 60)},
	}
}

func TestStairLightFollowsTheWholeStory(t *testing.T) {
	b := newBench(t)
	b.rule("stair", stairLight())
	b.report("sensor", "motion", thing.Boolean(true))
	require.Len(t, b.commands, 1)
	assert.Equal(t, thing.Number(60), b.commands[0].Value)
	assert.Equal(t, []cause.Kind{cause.Commanded, cause.Began, cause.Reported}, b.chain(b.commands[0].Cause))
	b.now = b.now.Add(48 * time.Millisecond)
	b.obey()
	assert.Equal(t, state.Confirmed, b.state("lamp").Certainty)
	assert.Equal(t, 48.0, b.state("lamp").Milliseconds)

	// The lamp lights its own sensor: that must not end the rule.
	b.report("sensor", "light", thing.Number(36))
	assert.Equal(t, state.Holding, b.phase("stair"))

	b.hand("lamp", 20)
	b.obey()
	assert.Equal(t, thing.Number(20), b.state("lamp").Reported)
	assert.Equal(t, state.Holding, b.phase("stair"), "the rule still lasts but leaves the lamp alone")

	b.report("sensor", "motion", thing.Boolean(false))
	b.report("sensor", "light", thing.Number(12))
	b.pass(29 * time.Second)
	assert.Equal(t, state.Ending, b.phase("stair"))
	b.pass(2 * time.Second)
	assert.Equal(t, state.Idle, b.phase("stair"))
	assert.Equal(t, thing.Number(20), b.state("lamp").Target, "the hand's value stays")

	b.report("sensor", "motion", thing.Boolean(true))
	assert.Equal(t, thing.Number(60), b.state("lamp").Target)
	b.obey()
	b.report("sensor", "motion", thing.Boolean(false))
	b.pass(31 * time.Second)
	assert.Equal(t, thing.Number(20), b.state("lamp").Target, "what was there before comes back")
}

func TestNotStartedInDaylightSaysWhyAndStartsWhenItGetsDark(t *testing.T) {
	b := newBench(t)
	b.rule("stair", stairLight())
	b.report("sensor", "light", thing.Number(300))
	b.report("sensor", "motion", thing.Boolean(true))
	v, _ := b.engine.RuleView("stair")
	assert.Equal(t, "provided", v.State.NotStarted)
	assert.Empty(t, b.commands)
	b.report("sensor", "light", thing.Number(10))
	assert.Equal(t, state.Holding, b.phase("stair"))
}

func TestQuickFlipNeitherBeginsNorEnds(t *testing.T) {
	b := newBench(t)
	r := stairLight()
	r.Provided = nil
	r.ForAtLeastSeconds = 180
	b.rule("door", r)
	b.report("sensor", "motion", thing.Boolean(true))
	b.pass(179 * time.Second)
	b.report("sensor", "motion", thing.Boolean(false))
	b.pass(time.Hour)
	assert.Empty(t, b.commands)
	b.report("sensor", "motion", thing.Boolean(true))
	b.pass(180 * time.Second)
	require.Len(t, b.commands, 1)
	assert.Equal(t, []cause.Kind{cause.Commanded, cause.Began, cause.Waited, cause.Reported}, b.chain(b.commands[0].Cause))
	b.obey()
	b.report("sensor", "motion", thing.Boolean(false))
	b.pass(29 * time.Second)
	b.report("sensor", "motion", thing.Boolean(true))
	b.pass(time.Hour)
	assert.Len(t, b.commands, 1, "shut only briefly: nothing happened")
}

func TestChangeAtTheDeviceIsAHand(t *testing.T) {
	b := newBench(t)
	b.rule("stair", stairLight())
	b.report("sensor", "motion", thing.Boolean(true))
	b.obey()
	b.pass(10 * time.Second)
	b.report("lamp", "brightness", thing.Number(35))
	s := b.state("lamp")
	assert.Equal(t, thing.Number(35), s.Target)
	assert.True(t, s.Stack.Base.ByHand)
	assert.True(t, s.Stack.Holds[0].Suspended)
	assert.Len(t, b.commands, 1, "the hub does not answer back")
}

func TestLateOldReportIsNoHand(t *testing.T) {
	b := newBench(t)
	b.hand("lamp", 60)
	b.obey()
	b.now = b.now.Add(time.Second)
	b.report("lamp", "brightness", thing.Number(0)) // an old state
	assert.Equal(t, thing.Number(60), b.state("lamp").Reported)
	b.report("lamp", "brightness", thing.Number(60))
	b.pass(time.Minute)
	assert.Equal(t, thing.Number(60), b.state("lamp").Target)
	assert.Len(t, b.commands, 1)

	b.hand("lamp", 80)
	b.obey()
	b.report("lamp", "brightness", thing.Number(5)) // and one that stays
	b.pass(time.Minute)
	assert.Equal(t, thing.Number(5), b.state("lamp").Target, "after settling the device is believed")
}

func TestDeviceThatDoesNotFollowIsFoundAndTriedAgain(t *testing.T) {
	b := newBench(t)
	b.hand("lamp", 60)
	b.pass(engine.SettlingTime)
	assert.Equal(t, state.Failed, b.state("lamp").Certainty)
	b.report("lamp", "brightness", thing.Number(0))
	assert.Equal(t, state.Failed, b.state("lamp").Certainty, "still where it was")
	b.hand("lamp", 60)
	require.Len(t, b.commands, 2, "asking again sends again")
	b.do(engine.Input{Kind: engine.InputOutcome, Device: "lamp", Name: "brightness", Command: b.commands[1].Command, Reason: "no answer", Unreached: true})
	b.do(engine.Input{Kind: engine.InputConnection, Connection: "wire", Up: true})
	assert.Len(t, b.commands, 3, "what could not be delivered is sent when the way is open")
}

func TestPoliciesWhenStartedWhileRunning(t *testing.T) {
	for policy, want := range map[rule.Policy]struct{ runs, frames, queued int }{
		rule.Restart: {2, 1, 0}, rule.Ignore: {1, 1, 0}, rule.Queue: {1, 1, 1}, rule.SideBySide: {2, 2, 0},
	} {
		t.Run(string(policy), func(t *testing.T) {
			b := newBench(t)
			b.rule("press", rule.Rule{
				When: []rule.Trigger{{Device: "dial", Event: "press"}}, Policy: policy,
				Do: []rule.Step{{Kind: rule.StepWait, ForSeconds: 10}, {Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(50)}},
			})
			b.do(engine.Input{Kind: engine.InputEvent, Device: "dial", Name: "press"})
			b.now = b.now.Add(time.Second)
			b.do(engine.Input{Kind: engine.InputEvent, Device: "dial", Name: "press"})
			v, _ := b.engine.RuleView("press")
			assert.Equal(t, want.runs, v.State.Runs)
			assert.Len(t, v.State.Frames, want.frames)
			assert.Equal(t, want.queued, v.State.Queued)
			b.pass(30 * time.Second)
			assert.Equal(t, thing.Number(50), b.state("lamp").Target)
			v, _ = b.engine.RuleView("press")
			assert.Empty(t, v.State.Frames)
		})
	}
}

func TestRulesThatStartEachOtherAreStopped(t *testing.T) {
	b := newBench(t)
	for _, pair := range [][2]string{{"a", "b"}, {"b", "a"}} {
		b.rule(pair[0], rule.Rule{Policy: rule.SideBySide, Do: []rule.Step{{Kind: rule.StepRun, Rule: pair[1]}}})
	}
	b.do(engine.Input{Kind: engine.InputRun, Rule: "a", Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}})
	a, _ := b.engine.RuleView("a")
	bb, _ := b.engine.RuleView("b")
	assert.NotEmpty(t, a.State.Stopped+bb.State.Stopped)
	b.hand("lamp", 30)
	assert.Equal(t, thing.Number(30), b.state("lamp").Target, "the rest of the home goes on")
}

func TestRuleWithAnAbsentDeviceIsFlaggedAndRunsOnceItIsThere(t *testing.T) {
	b := newBench(t)
	r := stairLight()
	r.Do[0].Device = "attic"
	b.rule("stair", r)
	v, _ := b.engine.RuleView("stair")
	require.Len(t, v.Problems, 1)
	assert.Equal(t, "do/0/device", v.Problems[0].Path)
	b.report("sensor", "motion", thing.Boolean(true))
	b.device("attic", lampDescription)
	assert.Equal(t, state.Holding, b.phase("stair"))
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindDevice, ID: "attic"})
	v, _ = b.engine.RuleView("stair")
	assert.NotEmpty(t, v.Problems)
	assert.Equal(t, state.Idle, v.State.Phase)
}

func TestScheduleComesOnItsDays(t *testing.T) {
	b := newBench(t)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindSchedule, ID: "dusk", Schedule: &rule.Schedule{
		Title: "Dusk", Enabled: true, At: almanac.Daily{Anchor: almanac.BySunset, OffsetMinutes: -10, Weekdays: []time.Weekday{time.Sunday}},
		Do: []rule.Step{{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(40)}},
	}})
	state, problems, _ := b.engine.ScheduleView("dusk")
	require.Empty(t, problems)
	assert.Equal(t, time.Sunday, state.Next.Weekday())
	b.pass(47 * time.Hour)
	require.Len(t, b.commands, 1)
	assert.Equal(t, []cause.Kind{cause.Commanded, cause.Due}, b.chain(b.commands[0].Cause))
}

func TestKeptByHandEndsByItself(t *testing.T) {
	b := newBench(t)
	b.do(engine.Input{Kind: engine.InputKeep, Device: "lamp", Name: "brightness", Value: thing.Number(70), Until: b.now.Add(time.Hour)})
	b.obey()
	b.rule("stair", stairLight())
	b.report("sensor", "motion", thing.Boolean(true))
	assert.Equal(t, thing.Number(70), b.state("lamp").Target, "the hand is above the rule")
	b.pass(2 * time.Hour)
	assert.Equal(t, thing.Number(60), b.state("lamp").Target)
	b.do(engine.Input{Kind: engine.InputLetGo, Device: "lamp", Name: "brightness", Owner: "rule:stair"})
	assert.Equal(t, thing.Number(0), b.state("lamp").Target)
}

// random drives an engine with random inputs; restart, if not nil, replaces the engine.
func random(t *rapid.T, b *bench, restart func(b *bench)) {
	b.rule("stair", stairLight())
	overlap := stairLight()
	overlap.Provided = nil
	overlap.Whenever = &rule.Condition{Device: "sensor", Property: "light", Comparison: rule.Above, Value: thing.Number(10)}
	overlap.Do[0].Value = thing.Number(90)
	overlap.ForAtLeastSeconds = 5
	b.rule("overlap", overlap)
	b.rule("press", rule.Rule{When: []rule.Trigger{{Device: "dial", Event: "press"}}, Do: []rule.Step{
		{Kind: rule.StepSet, Device: "other", Property: "brightness", Value: thing.Number(15)}, {Kind: rule.StepWait, ForSeconds: 4},
		{Kind: rule.StepHold, Device: "lamp", Property: "brightness", Value: thing.Number(33), ForSeconds: 20},
	}})
	for range rapid.IntRange(1, 60).Draw(t, "length") {
		switch rapid.IntRange(0, 8).Draw(t, "what") {
		case 0:
			b.report("sensor", "motion", thing.Boolean(rapid.Bool().Draw(t, "motion")))
		case 1:
			b.report("sensor", "light", thing.Number(float64(rapid.IntRange(0, 40).Draw(t, "light"))))
		case 2:
			b.hand("lamp", float64(rapid.IntRange(0, 100).Draw(t, "hand")))
		case 3:
			b.report("lamp", "brightness", thing.Number(float64(rapid.IntRange(0, 100).Draw(t, "at the device"))))
		case 4:
			b.do(engine.Input{Kind: engine.InputEvent, Device: "dial", Name: "press"})
		case 5:
			b.obey()
		case 6:
			b.do(engine.Input{Kind: engine.InputTry, Targets: []light.Target{{Device: "lamp", Property: "brightness", Value: thing.Number(44)}}})
		case 7:
			if restart != nil {
				restart(b)
			}
		default:
			b.pass(time.Duration(rapid.IntRange(0, 40).Draw(t, "seconds")) * time.Second)
		}
	}
}

func TestSameInputsGiveTheSameBytes(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		seed := rapid.Uint64().Draw(t, "seed")
		run := func() []byte {
			var log []byte
			rapid.Custom(func(inner *rapid.T) bool {
				b := newBench(inner)
				random(inner, b, nil)
				log = b.log
				return true
			}).Example(int(seed % 1_000_000))
			return log
		}
		assert.Equal(t, string(run()), string(run()))
	})
}

func TestEveryCommandEndsAtAnInputFromOutside(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := newBench(t)
		random(t, b, nil)
		for _, c := range b.commands {
			kinds := b.chain(c.Cause)
			require.True(t, kinds[len(kinds)-1].External(), "chain %v", kinds)
		}
	})
}

func TestWhenAllRulesHaveEndedTheBaseShowsThrough(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := newBench(t)
		random(t, b, nil)
		b.report("sensor", "motion", thing.Boolean(false))
		b.report("sensor", "light", thing.Number(0))
		b.pass(2 * time.Minute)
		b.obey()
		b.pass(2 * time.Minute)
		s := b.state("lamp")
		require.Empty(t, s.Stack.Holds)
		require.Equal(t, s.Stack.Base.Value, s.Target)
	})
}

func TestRestartChangesNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := newBench(t)
		random(t, b, func(b *bench) { b.restart() })
		b.report("sensor", "motion", thing.Boolean(false))
		b.report("sensor", "light", thing.Number(0))
		b.pass(2 * time.Minute)
		b.obey()
		b.pass(2 * time.Minute)
		s := b.state("lamp")
		require.Empty(t, s.Stack.Holds)
		require.Equal(t, s.Stack.Base.Value, s.Target)
	})
}

func TestWhatWasBeforeComesBackInAFade(t *testing.T) {
	b := newBench(t)
	doc := stairLight()
	doc.BackFadeSeconds = 20
	b.rule("stair", doc)
	b.report("sensor", "motion", thing.Boolean(true))
	b.obey()
	b.report("sensor", "motion", thing.Boolean(false))
	b.pass(31 * time.Second)
	last := b.commands[len(b.commands)-1]
	assert.Equal(t, thing.Number(0), last.Value)
	assert.Equal(t, 20*time.Second, last.Fade)
}
