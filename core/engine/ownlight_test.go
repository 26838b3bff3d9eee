package engine_test

import (
	"math"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/thing"
)

// seeing is a sensor that sees a lamp which gives it 60 lx at full light, and a strip of 20 lx that is switched.
func seeing(t require.TestingT) *bench {
	b := newBench(t)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "strip", Thing: &home.Device{
		Title: "Strip", Connection: "wire", Hardware: "strip", Lamp: true,
		Description: thing.Description{Properties: []thing.Property{{Name: "power", Title: "Power", Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true}}},
	}})
	b.report("strip", "power", thing.Boolean(false))
	b.sees(map[string]float64{"lamp": 60, "strip": 20})
	return b
}

// sees lets the sensor see lamps.
func (b *bench) sees(lamps map[string]float64) {
	d := thing.Description{Properties: slices.Clone(sensorDescription.Properties)}
	require.NoError(b.t, d.TakeOff(&thing.Without{Of: "light", Lamps: lamps}))
	b.device("sensor", d)
}

// without is what the sensor reads without its lamps.
func (b *bench) without() float64 {
	s, ok := b.engine.PropertyState(thing.Ref{Device: "sensor", Name: "lightWithoutLamps"})
	require.True(b.t, ok)
	return s.Reported.Number
}

func TestASensorIsReadWithoutItsLamps(t *testing.T) {
	b := seeing(t)
	assert.InDelta(t, 3, b.without(), 1e-9)
	b.report("lamp", "brightness", thing.Number(50))
	assert.InDelta(t, 3, b.without(), 1e-9, "a lamp alone says nothing of what is read")
	b.report("sensor", "light", thing.Number(33))
	assert.InDelta(t, 3, b.without(), 1e-9)
	b.report("strip", "power", thing.Boolean(true))
	b.report("sensor", "light", thing.Number(55.25))
	assert.InDelta(t, 5.3, b.without(), 1e-9, "rounded to a tenth of a lux")
	b.report("sensor", "light", thing.Number(48))
	assert.Zero(t, b.without(), "no light is less than none")

	// The lamps become known after the reading was there.
	b.report("sensor", "light", thing.Number(55))
	b.report("sensor", "light", thing.Number(85))
	assert.InDelta(t, 35, b.without(), 1e-9)
	b.report("lamp", "brightness", thing.Number(100))
	b.pass(30 * time.Second)
	assert.InDelta(t, 5, b.without(), 1e-9, "what it rose by was the lamp, as is known by now")

	// The sensor speaks once more before it knows of the lamp that is out.
	b.report("lamp", "brightness", thing.Number(0))
	b.report("sensor", "light", thing.Number(84))
	assert.InDelta(t, 4, b.without(), 1e-9)
	b.report("sensor", "light", thing.Number(24))
	assert.InDelta(t, 4, b.without(), 1e-9)

	// The daylight changes by as much as a lamp while that is switched: two minutes later the reading knows of it.
	b.report("strip", "power", thing.Boolean(false))
	b.report("sensor", "light", thing.Number(24.5))
	assert.InDelta(t, 4.5, b.without(), 1e-9)
	b.pass(2 * time.Minute)
	b.report("sensor", "light", thing.Number(24.5))
	assert.InDelta(t, 24.5, b.without(), 1e-9)
}

func TestWhatALampIsToldCountsAtOnce(t *testing.T) {
	b := seeing(t)
	b.rule("dark", rule.Rule{
		Whenever: &rule.Condition{Device: "sensor", Property: "lightWithoutLamps", Comparison: rule.Below, Value: thing.Number(20)},
		Do:       []rule.Step{{Kind: rule.StepHold, Device: "lamp", Property: "brightness", Value: thing.Number(80)}},
	})
	require.Equal(t, thing.Number(80), b.state("lamp").Target, "it is dark, and the lamp comes")
	b.report("sensor", "light", thing.Number(51))
	assert.InDelta(t, 3, b.without(), 1e-9, "the lamp has not answered yet, but it was told")
	b.report("lamp", "brightness", thing.Number(80))
	b.pass(time.Hour)
	assert.Equal(t, thing.Number(80), b.state("lamp").Target, "it does not put itself out")
	b.report("sensor", "light", thing.Number(90))
	assert.Equal(t, thing.Number(0), b.state("lamp").Target, "the daylight does")
}

func TestWhatIsTakenOffIsSaidAnewOrNoMore(t *testing.T) {
	b := seeing(t)
	b.report("lamp", "brightness", thing.Number(100))
	b.report("sensor", "light", thing.Number(63))
	b.sees(map[string]float64{"lamp": 50})
	assert.InDelta(t, 13, b.without(), 1e-9, "at once")
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindDevice, ID: "lamp"})
	b.report("sensor", "light", thing.Number(4))
	assert.InDelta(t, 4, b.without(), 1e-9, "a lamp that is gone gives nothing")
	b.sees(nil)
	b.report("sensor", "light", thing.Number(9))
	_, there := b.engine.PropertyState(thing.Ref{Device: "sensor", Name: "lightWithoutLamps"})
	assert.False(t, there)
}

// However lamps and daylight change one after the other, and however late the sensor or the lamp says so: once all is still, the
// reading without the lamps is the daylight.
func TestWhateverTheOrderTheDaylightIsLeft(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := seeing(t)
		daylight, level, strip := 3.0, 0.0, false
		for range rapid.IntRange(1, 12).Draw(t, "changes") {
			switch rapid.IntRange(0, 2).Draw(t, "what") {
			case 0:
				daylight = rapid.Float64Range(0, 400).Draw(t, "daylight")
				b.report("sensor", "light", thing.Number(reads(daylight, level, strip)))
				b.pass(3 * time.Minute)
				continue
			case 1:
				level = float64(rapid.IntRange(0, 10).Draw(t, "level") * 10)
			default:
				strip = !strip
			}
			tell := func() {
				b.report("lamp", "brightness", thing.Number(level))
				b.report("strip", "power", thing.Boolean(strip))
			}
			read := func() { b.report("sensor", "light", thing.Number(reads(daylight, level, strip))) }
			late := time.Duration(rapid.IntRange(0, 25).Draw(t, "late")) * time.Second
			if rapid.Bool().Draw(t, "sensor first") {
				read()
				b.pass(late)
				tell()
			} else {
				tell()
				b.pass(late)
				read()
			}
			b.pass(3 * time.Minute)
			if math.Abs(b.without()-daylight) > 0.06 {
				t.Fatalf("the daylight is %.1f lx, and %.1f are left of %.1f", daylight, b.without(), reads(daylight, level, strip))
			}
		}
	})
}

// reads is what the sensor reads.
func reads(daylight, level float64, strip bool) float64 {
	lux := daylight + 0.6*level
	if strip {
		lux += 20
	}
	return lux
}
