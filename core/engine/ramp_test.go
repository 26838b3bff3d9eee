package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/engine"
	"amvek/core/rule"
	"amvek/core/thing"
)

func rampTo(device string, to, seconds float64) rule.Step {
	return rule.Step{Kind: rule.StepRamp, Device: device, Property: "brightness", Value: thing.Number(to), ForSeconds: seconds}
}

// moments tells after how long each value of the ramp was sent, until nothing was for a minute.
func (b *bench) moments() map[time.Duration][]string {
	all := map[time.Duration][]string{}
	quiet := 0
	for after := time.Duration(0); quiet < 600; after += 100 * time.Millisecond {
		if sent := b.sent(); len(sent) > 0 {
			all[after], quiet = sent, 0
		} else {
			quiet++
		}
		b.pass(100 * time.Millisecond)
	}
	return all
}

func TestARampSendsAsOftenAsADifferenceCounts(t *testing.T) {
	const second = time.Second
	for name, c := range map[string]struct {
		from, to, seconds float64
		want              map[time.Duration][]string
	}{
		"a step of the device each time": {0, 4, 8, map[time.Duration][]string{2 * second: {"lamp 1"}, 4 * second: {"lamp 2"}, 6 * second: {"lamp 3"}, 8 * second: {"lamp 4"}}},
		"downwards as well":              {4, 1, 6, map[time.Duration][]string{2 * second: {"lamp 3"}, 4 * second: {"lamp 2"}, 6 * second: {"lamp 1"}}},
		"twice a second at most":         {0, 40, 1.5, map[time.Duration][]string{500 * time.Millisecond: {"lamp 13"}, second: {"lamp 27"}, 1500 * time.Millisecond: {"lamp 40"}}},
		"to where it is: nothing":        {7, 7, 5, map[time.Duration][]string{}},
	} {
		t.Run(name, func(t *testing.T) {
			b := newBench(t)
			b.report("lamp", "brightness", thing.Number(c.from))
			b.rule("r", rule.Rule{When: press, Do: []rule.Step{rampTo("lamp", c.to, c.seconds)}})
			b.press()
			assert.Equal(t, c.want, b.moments())
			assert.Empty(t, b.open("r"))
		})
	}
}

func TestARampFromWhereNobodyKnowsIsSetAtOnce(t *testing.T) {
	b := newBench(t)
	b.device("new", lampDescription)
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{rampTo("new", 30, 10), set("other", 1)}})
	b.press()
	assert.Equal(t, []string{"new 30", "other 1"}, b.sent())
}

func TestARampBeginsAtWhatWasAskedForLast(t *testing.T) {
	b := newBench(t)
	b.report("lamp", "brightness", thing.Number(0))
	b.hand("lamp", 50) // which the device has not confirmed yet
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{rampTo("lamp", 54, 8)}})
	b.sent()
	b.press()
	b.pass(2 * time.Second)
	assert.Equal(t, []string{"lamp 51"}, b.sent())
}

func TestARampGoesByTheStepsOfTheDevice(t *testing.T) {
	b := newBench(t)
	b.device("blind", thing.Description{Properties: []thing.Property{
		{Name: "brightness", Title: "Place", Type: thing.TypeNumber, Maximum: 100, Resolution: 5, Writable: true},
	}})
	b.report("blind", "brightness", thing.Number(0))
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{rampTo("blind", 18, 3.6)}})
	b.press()
	want := map[time.Duration][]string{}
	for i, place := range []string{"5", "10", "15", "18"} {
		want[min(time.Duration(i+1)*time.Second, 3600*time.Millisecond)] = []string{"blind " + place}
	}
	assert.Equal(t, want, b.moments(), "and ends where it was to go")
}

func TestARampOfWhatHasNoStepsSendsFiveHundredValues(t *testing.T) {
	b := newBench(t)
	b.device("tank", thing.Description{Properties: []thing.Property{{Name: "brightness", Title: "Level", Type: thing.TypeNumber, Maximum: 5000, Writable: true}}})
	b.report("tank", "brightness", thing.Number(1000))
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{rampTo("tank", 2000, 1000)}})
	b.press()
	b.pass(1999 * time.Millisecond)
	assert.Empty(t, b.sent())
	b.pass(time.Millisecond)
	assert.Equal(t, []string{"tank 1002"}, b.sent())
	b.pass(2 * time.Second)
	assert.Equal(t, []string{"tank 1004"}, b.sent())
}

func TestARampEndsWithARuleThatIsSwitchedOffBetweenItsValues(t *testing.T) {
	b := newBench(t)
	b.report("lamp", "brightness", thing.Number(0))
	r := rule.Rule{When: press, Do: []rule.Step{rampTo("lamp", 10, 10)}}
	b.rule("r", r)
	b.press()
	b.pass(3500 * time.Millisecond)
	require.Equal(t, []string{"lamp 1", "lamp 2", "lamp 3"}, b.sent())
	r.Title = "r"
	off := r
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRule, ID: "r", RuleDoc: &off})
	b.pass(time.Minute)
	assert.Empty(t, b.sent())
}

// open are the runs of a rule that have not ended.
func (b *bench) open(id string) any {
	view, there := b.engine.RuleView(id)
	require.True(b.t, there)
	return view.State.Open
}

func TestAnEvenRampGoesByHowLightItLooks(t *testing.T) {
	b := newBench(t)
	b.report("lamp", "brightness", thing.Number(100))
	step := rampTo("lamp", 0, 2400)
	step.Even = true
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{step}})
	b.press()
	at := func(after time.Duration) float64 {
		b.pass(after)
		p, _ := b.engine.PropertyState(thing.Ref{Device: "lamp", Name: "brightness"})
		return p.Target.Number
	}
	assert.InDelta(t, 48, at(10*time.Minute), 1.5, "three quarters as light are 48 % of the light")
	assert.InDelta(t, 18, at(10*time.Minute), 1, "half as light are 18 %")
	assert.InDelta(t, 4, at(10*time.Minute), 1)
	assert.Zero(t, at(10*time.Minute), "and then it is off")
	assert.Empty(t, b.open("r"))
}

func TestAHandEndsALongRampForItsLamp(t *testing.T) {
	b := newBench(t)
	b.report("lamp", "brightness", thing.Number(80))
	b.report("other", "brightness", thing.Number(80))
	one, other := rampTo("lamp", 0, 2400), rampTo("other", 0, 2400)
	one.Even, other.Even = true, true
	b.rule("r", rule.Rule{When: press, Do: []rule.Step{{Kind: rule.StepTogether, Branches: []rule.Branch{{Do: []rule.Step{one}}, {Do: []rule.Step{other}}}}}})
	b.press()
	b.pass(12 * time.Minute)
	b.do(engine.Input{Kind: engine.InputWrite, Device: "lamp", Name: "brightness", Value: thing.Number(55), Doer: somebody})
	b.pass(40 * time.Minute)
	assert.Equal(t, [2]float64{55, 0}, b.at(), "left alone from then on, and the other goes on")
}
