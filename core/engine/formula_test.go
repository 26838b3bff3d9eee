package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/thing"
)

// computed gives the home itself a property that is computed.
func (b *bench) computed(name, expression string, of thing.Type) {
	b.device("own", thing.Description{Properties: []thing.Property{
		{Name: "wish", Title: "Wish", Type: thing.TypeNumber, Writable: true, Own: true, Resolution: 0.01},
		{Name: name, Title: name, Type: of, Own: true, Computed: expression, Resolution: 0.01},
	}})
}

func (b *bench) own(name string) thing.Value {
	s, ok := b.engine.PropertyState(thing.Ref{Device: "own", Name: name})
	require.True(b.t, ok)
	return s.Reported
}

func TestAnExpressionIsAConditionThatFollowsWhatItDependsOn(t *testing.T) {
	b := newBench(t)
	b.hand("lamp", 0)
	b.sent()
	b.report("sensor", "light", thing.Number(300))
	b.rule("r", rule.Rule{Whenever: &rule.Condition{Expression: `value("sensor", "light") / 2 < 10 && value("sensor", "motion")`, ForAtLeastSeconds: 60},
		Do: []rule.Step{{Kind: rule.StepHold, Device: "lamp", Property: "brightness", Expression: `value("sensor", "light") * 2 + 1`}}})
	b.report("sensor", "motion", thing.Boolean(true))
	b.report("sensor", "light", thing.Number(19))
	assert.Empty(t, b.sent())
	view, _ := b.engine.RuleView("r")
	assert.Equal(t, b.now.Add(time.Minute), view.Conditions[0].Due)
	b.pass(time.Minute)
	assert.Equal(t, []string{"lamp 39"}, b.sent())
	b.report("sensor", "light", thing.Number(20))
	assert.Equal(t, []string{"lamp 0"}, b.sent())
}

func TestWhatIsNotKnownIsNoConditionAndNoValue(t *testing.T) {
	b := newBench(t)
	b.device("mute", sensorDescription)
	b.rule("r", rule.Rule{When: press, Provided: &rule.Condition{Expression: `!(value("mute", "light") > 3)`}, Do: []rule.Step{set("lamp", 9)}})
	b.rule("s", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Expression: `value("mute", "light")`}}})
	b.press()
	assert.Empty(t, b.sent())
	b.report("mute", "light", thing.Number(2))
	b.press()
	assert.Equal(t, []string{"lamp 9", "lamp 2"}, b.sent())
}

func TestAnExpressionIsWorkedOutAgainWithTheMinute(t *testing.T) {
	b := newBench(t) // 22:00
	b.rule("r", rule.Rule{Whenever: &rule.Condition{Expression: `hour >= 22.5 && sun < 0`}, Do: []rule.Step{holdAt("lamp", 5)}})
	b.pass(29 * time.Minute)
	assert.Empty(t, b.sent())
	b.pass(time.Minute)
	assert.Equal(t, []string{"lamp 5"}, b.sent())
}

func TestTheLastMinutesHaveAMeanThatMovesWithTheTime(t *testing.T) {
	b := newBench(t)
	b.report("sensor", "light", thing.Number(0))
	b.pass(time.Hour)
	b.computed("calm", `meanOver("sensor", "light", "10m")`, thing.TypeNumber)
	b.report("sensor", "light", thing.Number(60))
	assert.InDelta(t, 0, b.own("calm").Number, 0.01)
	b.pass(5 * time.Minute)
	assert.InDelta(t, 30, b.own("calm").Number, 2, "half of the time at 60")
	b.pass(10 * time.Minute)
	assert.Equal(t, thing.Number(60), b.own("calm"))
	_, more := b.engine.NextDeadline()
	assert.False(t, more && b.own("calm").IsNone(), "nothing is worked out again where nothing moves")
}

func TestWhatWasBeforeIsAskedForAndTaken(t *testing.T) {
	b := newBench(t)
	b.pass(time.Hour)
	b.report("sensor", "light", thing.Number(50))
	b.pass(time.Minute)
	var asked []engine.Output
	for _, out := range b.engine.Handle(b.now, engine.Input{Kind: engine.InputDefine, Definition: engine.KindRule, ID: "r", RuleDoc: &rule.Rule{Title: "r", Enabled: true,
		Whenever: &rule.Condition{Expression: `leastOver("sensor", "light", "10m") < 10`}, Do: []rule.Step{holdAt("lamp", 5)}}}) {
		if out.Kind == engine.OutputPast {
			asked = append(asked, out)
		}
	}
	require.Len(t, asked, 1)
	assert.Equal(t, 10*time.Minute, asked[0].Fade)
	assert.Empty(t, b.sent())
	b.do(engine.Input{Kind: engine.InputPast, Device: "sensor", Name: "light", Past: []engine.Moment{{At: b.now.Add(-8 * time.Minute), Value: 4}}})
	assert.Equal(t, []string{"lamp 5"}, b.sent())
	b.pass(9 * time.Minute)
	assert.Equal(t, []string{"lamp 0"}, b.sent(), "the low one has passed out of sight")
}

func TestAComputedPropertyStartsRulesAndMayFollowFromAnother(t *testing.T) {
	b := newBench(t)
	b.computed("bright", `value("sensor", "light") > 100`, thing.TypeBoolean)
	b.rule(
		"r",
		rule.Rule{When: []rule.Trigger{{Device: "own", Property: "bright", Comparison: rule.Is, Value: thing.Boolean(true)}}, Do: []rule.Step{set("lamp", 7)}},
	)
	b.report("sensor", "light", thing.Number(50))
	assert.Equal(t, thing.Boolean(false), b.own("bright"))
	b.report("sensor", "light", thing.Number(150))
	assert.Equal(t, []string{"lamp 7"}, b.sent())
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindDevice, ID: "sensor"})
	assert.True(t, b.own("bright").IsNone(), "what it depends on is gone")
	b.device("sensor", sensorDescription)
	b.report("sensor", "light", thing.Number(5))
	assert.Equal(t, thing.Boolean(false), b.own("bright"))
	// One that depends on itself ends.
	b.computed("loop", `value("own", "loop") + value("own", "wish")`, thing.TypeNumber)
	b.do(engine.Input{Kind: engine.InputWrite, Device: "own", Name: "wish", Value: thing.Number(3), Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}})
	assert.True(t, b.own("loop").IsNone())
}

func TestAGroupAndARoomInAnExpressionFollowTheirMembers(t *testing.T) {
	b := newBench(t)
	b.group("g", "lamp")
	in := func(id, room string) {
		b.do(
			engine.Input{
				Kind:       engine.InputDefine,
				Definition: engine.KindDevice,
				ID:         id,
				Thing:      &home.Device{Title: id, Connection: "wire", Hardware: id, Room: room, Description: lampDescription},
			},
		)
	}
	in("lamp", "hall")
	b.computed("sum", `sum(group("g", "brightness")) + 100 * sum(room("hall", "brightness"))`, thing.TypeNumber)
	b.hand("lamp", 10)
	b.hand("other", 1)
	b.obey()
	assert.Equal(t, thing.Number(1010), b.own("sum"))
	b.group("g", "lamp", "other")
	assert.Equal(t, thing.Number(1011), b.own("sum"))
	in("other", "hall")
	assert.Equal(t, thing.Number(1111), b.own("sum"))
}

func TestWhatIsToldSaysWhatItsExpressionsComeTo(t *testing.T) {
	b := newBench(t)
	b.report("sensor", "light", thing.Number(12.345))
	b.group("lamps", "lamp", "other")
	b.report("lamp", "brightness", thing.Number(40))
	b.report("other", "brightness", thing.Number(40))
	b.rule(
		"r",
		rule.Rule{
			When: press,
			Do: []rule.Step{
				{
					Kind: rule.StepNotify,
					Text: `{{It}} is {value("sensor", "light")} lux, {value("sensor", "light") > 3}, {value("sensor", "motion")}, at 40: {which("lamps", "brightness", 40)}`,
				},
			},
		},
	)
	for _, out := range b.engine.Handle(b.now, engine.Input{Kind: engine.InputEvent, Device: "dial", Name: "press"}) {
		if out.Kind == engine.OutputNotify {
			assert.Equal(t, "{It} is 12.3 lux, yes, clear, at 40: lamp and other", out.Telling.Text)
			return
		}
	}
	t.Fatal("nobody was told")
}
