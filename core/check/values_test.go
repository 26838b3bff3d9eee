package check

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"amvek/core/rule"
	"amvek/core/thing"
)

func holds(s values, v float64) bool {
	for _, x := range s.stretches {
		if (v > x.low || (v == x.low && !x.lowOpen)) && (v < x.high || (v == x.high && !x.highOpen)) {
			return true
		}
	}
	return false
}

var comparisons = []rule.Comparison{rule.Below, rule.AtMost, rule.Above, rule.AtLeast, rule.Is, rule.IsNot}

// plainly is a comparison of a number, written once more and as plainly as can be.
func plainly(c rule.Comparison, v, with, half float64) bool {
	switch c {
	case rule.Below:
		return v < with
	case rule.AtMost:
		return v <= with
	case rule.Above:
		return v > with
	case rule.AtLeast:
		return v >= with
	case rule.Is:
		return math.Abs(v-with) <= half
	default:
		return math.Abs(v-with) > half
	}
}

// Whatever sets are joined and cut, a number is in the outcome just when it is in either, or in both.
func TestSetsOfNumbersKeepTheirLaws(t *testing.T) {
	p := &thing.Property{Type: thing.TypeNumber, Minimum: -4, Maximum: 6, Resolution: 1}
	rapid.Check(t, func(t *rapid.T) {
		of := func(name string) (rule.Comparison, float64, values) {
			c, v := rapid.SampledFrom(comparisons).Draw(t, name), float64(rapid.IntRange(-6, 8).Draw(t, name+" with"))
			s, known := that(p, c, thing.Number(v))
			if !known {
				t.Fatalf("%s %v is not known", c, v)
			}
			return c, v, s
		}
		c1, v1, a := of("a")
		c2, v2, b := of("b")
		c3, v3, d := of("d")
		and, or, all := a.and(b), a.or(b), a.or(b).or(d)
		for i := -32; i <= 40; i++ { // also between the numbers, and at the ends of what the property can be
			v := float64(i) / 4
			within := v >= p.Minimum && v <= p.Maximum
			in1, in2, in3 := within && plainly(c1, v, v1, 0.5), within && plainly(c2, v, v2, 0.5), within && plainly(c3, v, v3, 0.5)
			switch {
			case holds(a, v) != in1:
				t.Fatalf("%v in %s %v: %+v", v, c1, v1, a.stretches)
			case holds(and, v) != (in1 && in2):
				t.Fatalf("%v in both: %+v", v, and.stretches)
			case holds(or, v) != (in1 || in2):
				t.Fatalf("%v in either: %+v", v, or.stretches)
			case holds(all, v) != (in1 || in2 || in3):
				t.Fatalf("%v in any: %+v", v, all.stretches)
			}
		}
		if none := len(and.stretches) == 0; none != and.none() {
			t.Fatal("what is empty says so")
		}
		for i := 1; i < len(all.stretches); i++ {
			before, s := all.stretches[i-1], all.stretches[i]
			if s.low < before.high || (s.low == before.high && !(s.lowOpen && before.highOpen)) {
				t.Fatalf("stretches are in order and do not touch: %+v", all.stretches)
			}
		}
	})
}

func TestWhatAPropertyCanBe(t *testing.T) {
	unlimited, known := domain(&thing.Property{Type: thing.TypeNumber})
	assert.True(t, known)
	assert.Equal(t, []stretch{{math.Inf(-1), math.Inf(1), true, true}}, unlimited.stretches)
	limited, _ := domain(&thing.Property{Type: thing.TypeNumber, Minimum: 7, Maximum: 28})
	assert.Equal(t, []stretch{{7, 28, false, false}}, limited.stretches)
	mode := &thing.Property{Type: thing.TypeOption, Options: []string{"in", "out", "away"}}
	in, known := that(mode, rule.Is, thing.Text("in"))
	assert.True(t, known)
	assert.Equal(t, []thing.Value{thing.Text("in")}, in.some)
	notIn, _ := that(mode, rule.IsNot, thing.Text("in"))
	assert.Equal(t, []thing.Value{thing.Text("out"), thing.Text("away")}, notIn.some)
	assert.True(t, in.and(notIn).none())
	whole, _ := domain(mode)
	assert.True(t, in.or(notIn).is(whole))
	assert.False(t, in.is(whole))
	assert.False(t, limited.is(unlimited))
	assert.True(t, limited.is(limited.and(unlimited)))
	_, known = that(mode, rule.Below, thing.Text("in"))
	assert.False(t, known, "options have no order")
	_, known = that(mode, rule.Is, thing.Value{})
	assert.False(t, known)
	_, known = domain(&thing.Property{Type: thing.TypeText})
	assert.False(t, known)
	_, known = that(&thing.Property{Type: thing.TypeNumber}, "sings", thing.Number(1))
	assert.False(t, known)
}
