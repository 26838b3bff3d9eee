package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"amvek/core/engine"
	"amvek/core/rule"
	"amvek/core/thing"
)

var colorLamp = thing.Description{Properties: []thing.Property{
	{Name: "brightness", Title: "Brightness", Role: thing.RoleBrightness, Type: thing.TypeNumber, Maximum: 100, Resolution: 1, Writable: true, Fades: true},
	{Name: "color", Title: "Color", Role: thing.RoleColor, Type: thing.TypeColor, Writable: true, Resolution: 0.001},
}}

var palette = []thing.Value{
	thing.Color(0.6, 0.3), thing.Color(0.5, 0.4), thing.Color(0.3, 0.6), thing.Color(0.2, 0.2), thing.Color(0.15, 0.1),
}

// stepping is a bench on which the key of a plate, held, steps a lamp through a palette until it is released.
func stepping(t *testing.T, step rule.Step) (b *bench, key func(sent string)) {
	b, send, _ := keyBench(t)
	b.device("tint", colorLamp)
	b.report("tint", "brightness", thing.Number(60))
	b.report("tint", "color", thing.Color(0.4, 0.4))
	step.Kind, step.Device, step.GapSeconds = rule.StepThrough, "tint", 1
	held := onKey("raw", "hold")
	held.Do = []rule.Step{step}
	b.rule("held", held)
	released := onKey("raw", "release")
	released.Do = []rule.Step{{Kind: rule.StepStop, Rule: "held"}}
	b.rule("released", released)
	b.commands = nil
	return b, func(sent string) { send("raw", sent) }
}

func (b *bench) obeyAll() {
	for _, name := range []string{"brightness", "color"} {
		p, _ := b.engine.PropertyState(thing.Ref{Device: "tint", Name: name})
		b.report("tint", name, p.Target)
	}
}

func (b *bench) tint(name string) thing.Value {
	p, _ := b.engine.PropertyState(thing.Ref{Device: "tint", Name: name})
	return p.Target
}

func (b *bench) dim(to float64) {
	b.do(engine.Input{Kind: engine.InputWrite, Device: "tint", Name: "brightness", Value: thing.Number(to), Doer: somebody})
	b.obeyAll()
	b.pass(5 * time.Second)
}

// Held through a palette of five colors, released at the third, off and on again: the third where it is kept, else as before.
func TestAKeyStepsThroughAPaletteWhileItIsHeld(t *testing.T) {
	for _, forNow := range []bool{false, true} {
		b, key := stepping(t, rule.Step{Property: "color", Values: palette, ForNow: forNow})
		key("down")
		b.pass(500*time.Millisecond + 2*time.Second) // at once, after one second and after two
		assert.Equal(t, palette[2], b.tint("color"))
		key("up")
		b.pass(10 * time.Second)
		assert.Equal(t, palette[2], b.tint("color"), "it stays there")
		b.obeyAll()
		b.dim(0)
		b.dim(60)
		if forNow {
			assert.Equal(t, thing.Color(0.4, 0.4), b.tint("color"))
		} else {
			assert.Equal(t, palette[2], b.tint("color"))
		}
	}
}

func TestSteppingGoesRoundOrToAndFroAndEndsByItself(t *testing.T) {
	levels := []thing.Value{thing.Number(20), thing.Number(40), thing.Number(60), thing.Number(80)}
	run := func(step rule.Step, seconds int) (all []string) {
		step.Property, step.Values = "brightness", levels
		b, key := stepping(t, step)
		key("down")
		b.pass(time.Duration(500+seconds*1000) * time.Millisecond)
		for _, v := range b.values() {
			all = append(all, v[len("tint "):])
		}
		return all
	}
	assert.Equal(t, []string{"80", "20", "40", "60"}, run(rule.Step{}, 3), "from where it is, round")
	assert.Equal(t, []string{"80", "60", "40", "20", "40", "60"}, run(rule.Step{ToAndFro: true}, 5))
	assert.Len(t, run(rule.Step{AtMostSeconds: 4}, 100), 4, "the release never came")
	assert.Len(t, run(rule.Step{}, 1000), 60, "a minute at most where nothing is said")
}

func TestALampThatSomebodySetsMeanwhileIsLeftToThem(t *testing.T) {
	b, key := stepping(t, rule.Step{Property: "color", Values: palette, ForNow: true})
	key("down")
	b.pass(600 * time.Millisecond)
	b.do(engine.Input{Kind: engine.InputWrite, Device: "tint", Name: "color", Value: thing.Color(0.25, 0.25), Doer: somebody})
	b.pass(5 * time.Second)
	assert.Equal(t, thing.Color(0.25, 0.25), b.tint("color"))
	b.dim(0)
	b.dim(50)
	assert.Equal(t, thing.Color(0.25, 0.25), b.tint("color"), "and is not brought back either")
}

func TestBrightnessForNowComesOnAsItWas(t *testing.T) {
	b, key := stepping(t, rule.Step{Property: "brightness", Values: []thing.Value{thing.Number(20), thing.Number(90)}, ForNow: true})
	key("down")
	b.pass(600 * time.Millisecond)
	key("up")
	b.obeyAll()
	assert.Equal(t, thing.Number(20), b.tint("brightness"))
	b.dim(0)
	p, _ := b.engine.PropertyState(thing.Ref{Device: "tint", Name: "brightness"})
	assert.InDelta(t, 60, p.LastOn, 0)
}

func TestADialSetsThePaceOfWhatIsGoneThrough(t *testing.T) {
	levels := make([]thing.Value, 50)
	for i := range levels {
		levels[i] = thing.Number(float64(i + 1))
	}
	b, key := stepping(t, rule.Step{Property: "brightness", Values: levels, AtMostSeconds: 3000, Dial: &thing.Ref{Device: "dial", Name: "turn"}})
	counted := func(d time.Duration) int {
		b.commands = nil
		b.pass(d)
		return len(b.values())
	}
	b.turn(30) // before it goes on it sets nothing
	key("down")
	b.pass(500 * time.Millisecond)
	assert.Equal(t, 10, counted(10*time.Second), "one a second, as it says")
	b.turn(6)
	assert.Equal(t, 10, counted(5*time.Second), "six notches to the right are twice as fast")
	b.turn(-12)
	assert.Equal(t, 5, counted(10*time.Second), "and to the left half as fast, also what it was waiting for")
	b.turn(-1000)
	assert.Equal(t, 1, counted(16*time.Second), "never slower than a sixteenth")
	b.turn(24)
	assert.Equal(t, 5, counted(5*time.Second), "from where it cannot go further it comes back at once")
	b.turn(1000)
	assert.Equal(t, 80, counted(5*time.Second))
	key("up")
	b.turn(3)
	assert.Zero(t, counted(time.Minute), "released, nothing goes on")
}

func TestOneFurtherEachTimeAndRound(t *testing.T) {
	b, send, _ := keyBench(t)
	b.device("tint", colorLamp)
	b.report("tint", "brightness", thing.Number(60))
	b.report("tint", "color", thing.Color(0.4, 0.4))
	pressed := onKey("raw", "press")
	pressed.Do = []rule.Step{{Kind: rule.StepThrough, Device: "tint", Property: "color", Values: palette, Once: true}}
	b.rule("pressed", pressed)
	for i := range 2 * len(palette) {
		send("raw", "down")
		send("raw", "up")
		assert.Equal(t, palette[i%len(palette)], b.tint("color"))
		b.obeyAll()
		b.pass(10 * time.Second)
		assert.Equal(t, palette[i%len(palette)], b.tint("color"), "and no further by itself")
	}
}
