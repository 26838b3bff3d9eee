package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// What is attached to a property is told of its reports, whatever else is.
func TestReportsReachWhatIsAttachedToAProperty(t *testing.T) {
	lux := func(b *bench) float64 {
		s, _ := b.engine.PropertyState(thing.Ref{Device: "sensor", Name: "light"})
		return s.Reported.Number
	}
	b := newBench(t)
	sensor := home.Device{
		Title:       "sensor",
		Connection:  "wire",
		Hardware:    "sensor",
		Description: sensorDescription,
		Adjustments: map[string]thing.Adjustment{"light": {Offset: 1}},
	}
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "sensor", Thing: &sensor})
	b.report("sensor", "light", thing.Number(10))
	require.Equal(t, 11.0, lux(b), "a calibration alone")

	b = newBench(t)
	over := rule.Rule{Whenever: &rule.Condition{Expression: `meanOver("sensor", "light", "10m") > 50.0`}, Do: []rule.Step{holdAt("lamp", 9)}}
	b.rule("over", over)
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindRule, ID: "over"})
	b.report("sensor", "light", thing.Number(100))
	b.pass(9 * time.Minute)
	b.report("sensor", "light", thing.Number(0))
	b.rule("over", over)
	require.Equal(t, state.Holding, b.phase("over"), "a past that nobody asks for at the moment is kept for who does again")

	b = newBench(t)
	b.rule(
		"start",
		rule.Rule{
			When: []rule.Trigger{{Device: "sensor", Property: "light", Comparison: rule.Above, Value: thing.Number(80)}},
			Do:   []rule.Step{set("lamp", 20)},
		},
	)
	b.report("sensor", "light", thing.Number(90))
	require.Equal(t, 20.0, b.effective("lamp").Number, "a trigger alone")
}

func TestWhatALampWasLastOnWithIsKept(t *testing.T) {
	b := newBench(t)
	lastOn := func() float64 { return b.state("lamp").LastOn }
	b.hand("lamp", 35)
	b.obey()
	assert.Zero(t, lastOn(), "it has not been off yet")
	b.hand("lamp", 0)
	assert.Equal(t, 35.0, lastOn(), "as soon as it is asked to be off")
	b.obey()
	b.hand("lamp", 70)
	b.obey()
	assert.Equal(t, 35.0, lastOn())
	b.pass(time.Minute)
	b.report("lamp", "brightness", thing.Number(0))
	assert.Equal(t, 70.0, lastOn(), "switched off at the device")
	b.report("lamp", "brightness", thing.Number(0))
	assert.Equal(t, 70.0, lastOn())
}
