package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/thing"
)

// The quick way of a report leads to the same, byte for byte, as the way of all inputs: whatever is attached to the
// property, and whether or not it fits or is known.
func TestAReportDoesTheSameByEitherWay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		slow, quick := newBench(t), newBench(t)
		both := func(f func(b *bench)) { f(slow); f(quick) }
		light := func(c rule.Comparison, lux float64) rule.Condition {
			return rule.Condition{Device: "sensor", Property: "light", Comparison: c, Value: thing.Number(lux)}
		}
		adjusted, started, typed := rapid.Bool().Draw(t, "adjusted"), rapid.Bool().Draw(t, "started"), rapid.Bool().Draw(t, "typed")
		both(func(b *bench) {
			// A sensor alone, which is missed when it falls silent.
			sensor := home.Device{Title: "sensor", Connection: "wire", Hardware: "sensor", Description: sensorDescription}
			if adjusted {
				sensor.Adjustments = map[string]thing.Adjustment{"light": {Offset: 1, SmoothSeconds: 10}}
			}
			b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "sensor", Thing: &sensor})
			b.rule("hold", rule.Rule{Whenever: &rule.Condition{Any: []rule.Condition{light(rule.Below, 5), light(rule.Is, 50)}}, EndedForAtLeastSeconds: 5,
				Do: []rule.Step{{Kind: rule.StepHold, Device: "lamp", Property: "brightness", Value: thing.Number(60)}}})
			if started {
				b.rule("start", rule.Rule{When: []rule.Trigger{{Device: "sensor", Property: "light", Comparison: rule.Above, Value: thing.Number(80)}, {Device: "sensor", Property: "motion"}}, Do: []rule.Step{wait(3), set("other", 20)}})
			}
			if typed {
				b.rule("typed", rule.Rule{Whenever: &rule.Condition{Expression: `value("sensor", "light") > 30.0 && meanOver("sensor", "light", "1m") > 20.0`}, Do: []rule.Step{{Kind: rule.StepHold, Device: "other", Property: "brightness", Value: thing.Number(9)}}})
			}
			b.phase("hold")
			if typed {
				b.phase("typed")
			}
		})
		for range rapid.IntRange(1, 40).Draw(t, "reports") {
			d := time.Duration(rapid.SampledFrom([]int{0, 1, 700, 4000, 90_000}).Draw(t, "milliseconds")) * time.Millisecond
			both(func(b *bench) { b.pass(d) })
			ref := rapid.SampledFrom([]thing.Ref{{Device: "sensor", Name: "light"}, {Device: "sensor", Name: "light"}, {Device: "sensor", Name: "motion"}, {Device: "lamp", Name: "brightness"}, {Device: "lamp", Name: "none"}, {Device: "none", Name: "light"}}).Draw(t, "property")
			v := rapid.OneOf(rapid.Map(rapid.SampledFrom([]float64{-1, 0, 3, 5, 50, 60, 81, 1000}), thing.Number), rapid.Map(rapid.Bool(), thing.Boolean), rapid.Just(thing.Text("x")), rapid.Just(thing.Value{})).Draw(t, "value")
			polled := rapid.Bool().Draw(t, "polled")
			slow.do(engine.Input{Kind: engine.InputReport, Device: ref.Device, Name: ref.Name, Value: v, Polled: polled})
			quick.take(quick.engine.Report(quick.now, ref.Device, ref.Name, v, polled), "")
			require.Equal(t, string(slow.log), string(quick.log))
			require.Equal(t, slow.state("lamp"), quick.state("lamp"))
		}
	})
}

// What is attached to a property is told of its reports, whatever else is.
func TestReportsReachWhatIsAttachedToAProperty(t *testing.T) {
	lux := func(b *bench) float64 {
		s, _ := b.engine.PropertyState(thing.Ref{Device: "sensor", Name: "light"})
		return s.Reported.Number
	}
	b := newBench(t)
	sensor := home.Device{Title: "sensor", Connection: "wire", Hardware: "sensor", Description: sensorDescription, Adjustments: map[string]thing.Adjustment{"light": {Offset: 1}}}
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "sensor", Thing: &sensor})
	b.report("sensor", "light", thing.Number(10))
	require.Equal(t, 11.0, lux(b), "a calibration alone")

	b = newBench(t)
	over := rule.Rule{Whenever: &rule.Condition{Expression: `meanOver("sensor", "light", "10m") > 50.0`}, Do: []rule.Step{{Kind: rule.StepHold, Device: "lamp", Property: "brightness", Value: thing.Number(9)}}}
	b.rule("over", over)
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindRule, ID: "over"})
	b.report("sensor", "light", thing.Number(100))
	b.pass(9 * time.Minute)
	b.report("sensor", "light", thing.Number(0))
	b.rule("over", over)
	require.Equal(t, engine.Holding, b.phase("over"), "a past that nobody asks for at the moment is kept for who does again")

	b = newBench(t)
	b.rule("start", rule.Rule{When: []rule.Trigger{{Device: "sensor", Property: "light", Comparison: rule.Above, Value: thing.Number(80)}}, Do: []rule.Step{set("lamp", 20)}})
	b.report("sensor", "light", thing.Number(90))
	require.Equal(t, 20.0, b.effective("lamp").Number, "a trigger alone")
}
