package engine_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/hold"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
)

// What follows states, as a model of a few lines, what a lamp must be at when two whenever rules overlap on it while
// hands, scenes and other rules set it; and lets the engine live through a hundred thousand random schedules of that.

type overlapAct struct {
	what  byte // a, b: the conditions turn; h: a hand, s: a scene by hand, m: by automation, c: a hand changes it at the device
	value float64
}

func (a overlapAct) String() string { return fmt.Sprintf("%c%g", a.what, a.value) }

// overlapModel is what must be so.
type overlapModel struct {
	base      float64
	holders   []byte // the newest last
	suspended map[byte]bool
}

var overlapValues = map[byte]float64{'a': 25, 'b': 90}

func (m *overlapModel) effective() float64 {
	for _, h := range slices.Backward(m.holders) {
		if !m.suspended[h] {
			return overlapValues[h]
		}
	}
	return m.base
}

func (m *overlapModel) do(a overlapAct) {
	switch a.what {
	case 'a', 'b':
		if i := slices.Index(m.holders, a.what); i >= 0 {
			m.holders = slices.Delete(m.holders, i, i+1)
			delete(m.suspended, a.what)
		} else {
			m.holders = append(m.holders, a.what)
		}
	case 'm':
		m.base = a.value
	case 'c':
		if a.value == m.effective() {
			return // it says what it is at
		}
		fallthrough
	default:
		m.base = a.value
		for _, h := range m.holders {
			m.suspended[h] = true
		}
	}
}

// overlapBench is an engine with the two rules, at work.
type overlapBench struct {
	engine *engine.Engine
	now    time.Time
	on     map[byte]bool
}

func newOverlapBench(t testing.TB) *overlapBench {
	b := &overlapBench{engine: engine.New(1, 1), now: newBench(t).now, on: map[byte]bool{}}
	plain := newBench(t)
	for id, d := range map[string]thing.Description{"lamp": lampDescription, "sensor": sensorDescription, "dial": dialDescription} {
		plain.device(id, d)
	}
	holds := func(percent float64, c rule.Condition) rule.Rule {
		return rule.Rule{Whenever: &c, Do: []rule.Step{{Kind: rule.StepHold, Device: "lamp", Property: "brightness", Value: thing.Number(percent)}}}
	}
	plain.rule("a", holds(25, *stirring()))
	plain.rule("b", holds(90, *dark()))
	b.engine, b.now = plain.engine, plain.now
	b.give(engine.Input{Kind: engine.InputReport, Device: "sensor", Name: "light", Value: thing.Number(100)})
	b.give(engine.Input{Kind: engine.InputReport, Device: "sensor", Name: "motion", Value: thing.Boolean(false)})
	return b
}

// give gives an input, lets the lamp do what it is asked for, and returns how often it was asked.
func (b *overlapBench) give(in engine.Input) (commands int) {
	b.now = b.now.Add(10 * time.Second) // beyond any settling
	b.engine.Handle(b.now, engine.Input{Kind: engine.InputTick})
	var asked []thing.Value
	for _, out := range b.engine.Handle(b.now, in) {
		if out.Kind == engine.OutputCommand && out.Device == "lamp" {
			asked = append(asked, out.Value)
		}
	}
	for _, v := range asked {
		b.engine.Handle(b.now, engine.Input{Kind: engine.InputReport, Device: "lamp", Name: "brightness", Value: v})
	}
	return len(asked)
}

func (b *overlapBench) do(a overlapAct) (commands int) {
	v := thing.Number(a.value)
	switch a.what {
	case 'a':
		b.on['a'] = !b.on['a']
		return b.give(engine.Input{Kind: engine.InputReport, Device: "sensor", Name: "motion", Value: thing.Boolean(b.on['a'])})
	case 'b':
		b.on['b'] = !b.on['b']
		lux := 100.0
		if b.on['b'] {
			lux = 1
		}
		return b.give(engine.Input{Kind: engine.InputReport, Device: "sensor", Name: "light", Value: thing.Number(lux)})
	case 'h':
		return b.give(
			engine.Input{Kind: engine.InputWrite, Device: "lamp", Name: "brightness", Value: v, Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}},
		)
	case 's':
		return b.give(engine.Input{Kind: engine.InputTry, Targets: []light.Target{{Device: "lamp", Property: "brightness", Value: v}}})
	case 'c':
		return b.give(engine.Input{Kind: engine.InputReport, Device: "lamp", Name: "brightness", Value: v})
	default:
		return b.give(
			engine.Input{
				Kind:       engine.InputDefine,
				Definition: engine.KindRule,
				ID:         "m",
				RuleDoc: &rule.Rule{
					Title:   "m",
					Enabled: true,
					When:    []rule.Trigger{{Kind: rule.OnCall, Words: "m"}},
					Do:      []rule.Step{{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: v}},
				},
			},
		) +
			b.give(
				engine.Input{Kind: engine.InputCall, Words: "m"},
			)
	}
}

// lives lets an engine and the model live through a schedule, and says where they part.
func (b *overlapBench) lives(acts []overlapAct) string {
	// Begin with the lamp off and nothing held.
	for _, c := range []byte{'a', 'b'} {
		if b.on[c] {
			b.do(overlapAct{what: c})
		}
	}
	b.do(overlapAct{what: 'h', value: 0})
	m := &overlapModel{suspended: map[byte]bool{}}
	for i, a := range acts {
		before := m.effective()
		m.do(a)
		commands := b.do(a)
		state, _ := b.engine.PropertyState(thing.Ref{Device: "lamp", Name: "brightness"})
		want := m.effective()
		if state.Target != thing.Number(want) || state.Reported != thing.Number(want) {
			return fmt.Sprintf("after %v the lamp is at %v, asked for %v; it must be at %g", acts[:i+1], state.Reported, state.Target, want)
		}
		if asked := map[bool]int{true: 1}[want != before && a.what != 'c']; commands != asked {
			return fmt.Sprintf("after %v the lamp was asked %d times, not %d", acts[:i+1], commands, asked)
		}
		if n := len(slices.DeleteFunc(slices.Clone(state.Stack.Holds), func(h hold.Hold) bool { return h.Level != hold.Rule })); n != len(m.holders) {
			return fmt.Sprintf("after %v there are %d holds, not %d", acts[:i+1], n, len(m.holders))
		}
	}
	return ""
}

func TestAHundredThousandSchedulesOfTwoRulesAHandAndAScene(t *testing.T) {
	schedules := 100_000
	if testing.Short() {
		schedules = 3_000
	}
	random := rand.New(rand.NewPCG(1, 2))
	b := newOverlapBench(t)
	for n := range schedules {
		acts := make([]overlapAct, 1+random.IntN(12))
		for i := range acts {
			acts[i] = overlapAct{what: "aabbhscm"[random.IntN(8)], value: []float64{0, 10, 25, 50, 90}[random.IntN(5)]}
		}
		if b.lives(acts) == "" {
			continue
		}
		// The shortest schedule that still goes wrong says most.
		fails := func(acts []overlapAct) string { return newOverlapBench(t).lives(acts) }
		for shorter := true; shorter; {
			shorter = false
			for i := range acts {
				if less := slices.Delete(slices.Clone(acts), i, i+1); fails(less) != "" {
					acts, shorter = less, true
					break
				}
			}
		}
		t.Fatalf("schedule %d: %s", n, fails(acts))
	}
}
