package rule

import (
	"fmt"
	"time"

	"amvek/core/thing"
)

// Test is one comparison of a compiled rule. The engine sets Truth whenever the
// property it depends on changes; conditions read only that.
type Test struct {
	Comparer Comparer
	Truth    bool
	Ref      thing.Ref
	Path     string
	// Since is when the truth last changed; LastTrue when it was last true.
	Since    time.Time
	LastTrue time.Time
}

// Node is a comparison or a group of a compiled condition, at its place in the document.
type Node struct {
	Path  string
	Truth func() bool
	// Test is the comparison's test; nil for a group.
	Test *Test
}

// Program is a rule's compiled conditions.
type Program struct {
	// Tests are all comparisons in the order of the document.
	Tests []*Test
	// Nodes are all comparisons and groups, outer before inner.
	Nodes []Node
	// Whenever and Provided are nil where the rule has none.
	Whenever func() bool
	Provided func() bool
	// Triggers compare by index of the rule's When; nil where any change counts.
	Triggers []*Comparer
}

// Compile makes functions of the conditions of a rule that has no problems.
// The resolution of each property comes from the lookup.
func (r *Rule) Compile(lookup Lookup) *Program {
	p := &Program{}
	if r.Whenever != nil {
		p.Whenever = p.condition("whenever", r.Whenever, lookup)
	}
	if r.Provided != nil {
		p.Provided = p.condition("provided", r.Provided, lookup)
	}
	for _, t := range r.When {
		var compare *Comparer
		if t.Comparison != "" {
			resolution := 0.0
			if property := lookup.Property(t.Device, t.Property); property != nil {
				resolution = property.Resolution
			}
			made := NewComparer(t.Comparison, t.Value, resolution)
			compare = &made
		}
		p.Triggers = append(p.Triggers, compare)
	}
	return p
}

func (p *Program) condition(path string, c *Condition, lookup Lookup) func() bool {
	at := len(p.Nodes)
	p.Nodes = append(p.Nodes, Node{Path: path})
	members := func(name string, list []Condition) []func() bool {
		truths := make([]func() bool, len(list))
		for i := range list {
			truths[i] = p.condition(fmt.Sprintf("%s/%s/%d", path, name, i), &list[i], lookup)
		}
		return truths
	}
	var truth func() bool
	switch {
	case len(c.All) > 0:
		all := members("all", c.All)
		truth = func() bool {
			for _, t := range all {
				if !t() {
					return false
				}
			}
			return true
		}
	case len(c.Any) > 0:
		some := members("any", c.Any)
		truth = func() bool { return anyTrue(some) }
	case len(c.None) > 0:
		none := members("none", c.None)
		truth = func() bool { return !anyTrue(none) }
	default:
		resolution := 0.0
		if property := lookup.Property(c.Device, c.Property); property != nil {
			resolution = property.Resolution
		}
		test := &Test{Ref: thing.Ref{Device: c.Device, Name: c.Property}, Path: path, Comparer: NewComparer(c.Comparison, c.Value, resolution)}
		p.Tests = append(p.Tests, test)
		p.Nodes[at].Test = test
		truth = func() bool { return test.Truth }
	}
	p.Nodes[at].Truth = truth
	return truth
}

func anyTrue(truths []func() bool) bool {
	for _, t := range truths {
		if t() {
			return true
		}
	}
	return false
}

// Comparer is a comparison with a wanted value. It is a value without pointers to code, so
// that the many that depend on properties can lie side by side in memory.
type Comparer struct {
	comparison Comparison
	within     float64
	wanted     thing.Value
}

// NewComparer returns a comparer. What is not known compares as false; equality of numbers is
// within half the resolution.
func NewComparer(c Comparison, wanted thing.Value, resolution float64) Comparer {
	return Comparer{comparison: c, within: resolution / 2, wanted: wanted}
}

// Holds reports whether the comparison is true of a value.
func (c *Comparer) Holds(v thing.Value) bool {
	number := v.Kind == thing.KindNumber
	switch c.comparison {
	case Is:
		return v.Near(c.wanted, c.within)
	case IsNot:
		return !v.IsNone() && !v.Near(c.wanted, c.within)
	case Below:
		return number && v.Number < c.wanted.Number
	case Above:
		return number && v.Number > c.wanted.Number
	case AtLeast:
		return number && v.Number >= c.wanted.Number
	case AtMost:
		return number && v.Number <= c.wanted.Number
	default:
		return false
	}
}
