package check

import (
	"math"
	"slices"

	"amvek/core/rule"
	"amvek/core/thing"
)

// values is a set of values of one property: of numbers as stretches, of anything else as a list out of those that
// there are.
type values struct {
	number bool
	// stretches are in order and do not touch.
	stretches []stretch
	// all are the values that there are; some those in the set.
	all, some []thing.Value
}

// stretch is from low to high; an open end does not belong to it.
type stretch struct {
	low, high         float64
	lowOpen, highOpen bool
}

func (s stretch) empty() bool {
	return s.low > s.high || (s.low == s.high && (s.lowOpen || s.highOpen))
}

// domain returns all values that a property can have; it is false where they cannot be listed.
func domain(p *thing.Property) (values, bool) {
	switch p.Type {
	case thing.TypeNumber:
		whole := stretch{math.Inf(-1), math.Inf(1), true, true}
		if p.Limited() {
			whole = stretch{p.Minimum, p.Maximum, false, false}
		}
		return values{number: true, stretches: []stretch{whole}}, true
	case thing.TypeBoolean:
		both := []thing.Value{thing.Boolean(false), thing.Boolean(true)}
		return values{all: both, some: both}, true
	case thing.TypeOption:
		var all []thing.Value
		for _, o := range p.Options {
			all = append(all, thing.Text(o))
		}
		return values{all: all, some: all}, true
	default:
		return values{}, false
	}
}

// that returns the values of a property for which a comparison is true; it is false where that cannot be said.
func that(p *thing.Property, comparison rule.Comparison, v thing.Value) (values, bool) {
	whole, ok := domain(p)
	if !ok || v.IsNone() {
		return values{}, false
	}
	if !whole.number {
		is := slices.DeleteFunc(slices.Clone(whole.all), func(x thing.Value) bool { return (x == v) != (comparison == rule.Is) })
		return values{all: whole.all, some: is}, comparison == rule.Is || comparison == rule.IsNot
	}
	half := p.Resolution / 2
	inf := math.Inf(1)
	var list []stretch
	switch comparison {
	case rule.Below:
		list = []stretch{{-inf, v.Number, true, true}}
	case rule.AtMost:
		list = []stretch{{-inf, v.Number, true, false}}
	case rule.Above:
		list = []stretch{{v.Number, inf, true, true}}
	case rule.AtLeast:
		list = []stretch{{v.Number, inf, false, true}}
	case rule.Is:
		list = []stretch{{v.Number - half, v.Number + half, false, false}}
	case rule.IsNot:
		list = []stretch{{-inf, v.Number - half, true, true}, {v.Number + half, inf, true, true}}
	default:
		return values{}, false
	}
	return whole.and(values{number: true, stretches: list}), true
}

// and returns the values in both sets.
func (a values) and(b values) values {
	if !a.number {
		return values{all: a.all, some: slices.DeleteFunc(slices.Clone(a.some), func(v thing.Value) bool { return !slices.Contains(b.some, v) })}
	}
	both := values{number: true}
	for _, x := range a.stretches {
		for _, y := range b.stretches {
			s := stretch{low: max(x.low, y.low), high: min(x.high, y.high)}
			s.lowOpen = (x.low == s.low && x.lowOpen) || (y.low == s.low && y.lowOpen)
			s.highOpen = (x.high == s.high && x.highOpen) || (y.high == s.high && y.highOpen)
			if !s.empty() {
				both.stretches = append(both.stretches, s)
			}
		}
	}
	return both
}

// or returns the values in either set.
func (a values) or(b values) values {
	if !a.number {
		return values{all: a.all, some: slices.DeleteFunc(slices.Clone(a.all), func(v thing.Value) bool {
			return !slices.Contains(a.some, v) && !slices.Contains(b.some, v)
		})}
	}
	list := append(slices.Clone(a.stretches), b.stretches...)
	slices.SortFunc(list, func(x, y stretch) int {
		switch {
		case x.low < y.low || (x.low == y.low && !x.lowOpen && y.lowOpen):
			return -1
		case x.low == y.low && x.lowOpen == y.lowOpen:
			return 0
		default:
			return 1
		}
	})
	joined := values{number: true}
	for _, s := range list {
		last := len(joined.stretches) - 1
		if last < 0 {
			joined.stretches = append(joined.stretches, s)
			continue
		}
		t := &joined.stretches[last]
		if s.low > t.high || (s.low == t.high && s.lowOpen && t.highOpen) {
			joined.stretches = append(joined.stretches, s)
			continue
		}
		if s.high > t.high || (s.high == t.high && !s.highOpen) {
			t.high, t.highOpen = s.high, s.highOpen
		}
	}
	return joined
}

// none reports whether there is no value in the set.
func (a values) none() bool { return len(a.stretches) == 0 && len(a.some) == 0 }

// is reports whether two sets have the same values.
func (a values) is(b values) bool {
	if a.number {
		return slices.Equal(a.stretches, b.stretches)
	}
	return len(a.some) == len(b.some)
}
