package rule

import (
	"fmt"
	"math"
	"strings"
	"time"

	"amvek/core/thing"
)

// Test is one comparison of a compiled rule. The engine sets the fact whenever the
// property it depends on changes; conditions read only that.
type Test struct {
	Fact
	// Since is when the truth last changed.
	Since    time.Time
	Comparer Comparer
	Ref      thing.Ref
	Path     string
}

// Span is a window of time of a compiled rule, or that an event of a calendar is on. The engine sets the fact when its
// beginning or its end comes.
type Span struct {
	Fact
	// Either Window or Event is there.
	Window *Window
	Event  *EventNow
	Path   string
	Since  time.Time
	// Next is when the truth may change next.
	Next time.Time
}

// Lasting is a condition that counts once it has been true for a time. The engine sets the fact that it has.
type Lasting struct {
	Fact
	Path string
	// For is how long that is; where there is a Formula, it says so as the condition becomes true, in seconds.
	For     time.Duration
	Formula string
	// Inner is the condition itself, which must have been true since Since; zero while it is not.
	Inner *Fact
	Since time.Time
}

// Node is a comparison or a group of a compiled condition, at its place in the document.
type Node struct {
	Path string
	*Fact
	// Test, Span, Formula and Lasting are of the node; each is nil where it is none.
	Test    *Test
	Formula *Formula
	Span    *Span
	Lasting *Lasting
}

// Starter is a compiled trigger.
type Starter struct {
	// Listens are what it listens to: one, or one of each device of a set.
	Listens []Listen
	// Stayings are of a trigger that must stay so for a time: it then listens to nothing else.
	Stayings []*Lasting
}

// Listen is a property or an event that starts a rule.
type Listen struct {
	Ref thing.Ref
	// Compare is nil where any change, or any event, counts.
	Compare *Comparer
	// Formula is what it is compared with instead, worked out at that moment.
	Formula string
}

// Against returns the comparison with what a formula came to.
func (l *Listen) Against(v thing.Value) Comparer {
	c := *l.Compare
	c.wanted = v
	return c
}

// Program is a rule's compiled conditions.
type Program struct {
	// Tests are all comparisons in the order of the document.
	Tests []*Test
	Spans []*Span
	// Formulas are all conditions that are expressions.
	Formulas []*Formula
	// Lastings are in the order in which they are to be looked at: inner before outer.
	Lastings []*Lasting
	// Nodes are all comparisons and groups, outer before inner.
	Nodes []Node
	// Whenever, Gate and Provided are nil where the rule has none.
	Whenever *Fact
	Gate     *Fact
	Provided *Fact
	// Conditions are those of steps, by the paths of the steps.
	Conditions map[string]*Fact
	// Starters are by index of the rule's When.
	Starters []Starter
	// Lists are all lists of steps, by path; Owners are the steps that they are within, and Parents those steps' paths.
	Lists   map[string][]Step
	Owners  map[string]*Step
	Parents map[string]string
}

// Compile makes facts of the conditions of a rule that has no problems, nothing of which is known yet.
// The resolution of each property comes from the lookup.
func (r *Rule) Compile(lookup Lookup) *Program {
	p := &Program{Conditions: map[string]*Fact{}, Lists: map[string][]Step{}, Owners: map[string]*Step{}, Parents: map[string]string{}}
	c := compiler{p, lookup}
	for _, part := range []struct {
		path string
		from *Condition
		to   **Fact
	}{{"whenever", r.Whenever, &p.Whenever}, {"gate", r.Gate, &p.Gate}, {"provided", r.Provided, &p.Provided}} {
		if part.from != nil {
			*part.to = c.condition(part.path, part.from)
		}
	}
	for i := range r.When {
		p.Starters = append(p.Starters, c.starter(fmt.Sprintf("when/%d", i), &r.When[i]))
	}
	c.steps("do", r.Do)
	c.steps("afterwards", r.Afterwards)
	return p
}

type compiler struct {
	*Program
	lookup Lookup
}

// Failing returns the first comparison that keeps a condition from being true, nil where none does by itself: one that
// is false, or that is true where none may be.
func (p *Program) Failing(path string) *Test {
	for _, n := range p.Nodes {
		if n.Test == nil || !within(n.Path, path) {
			continue
		}
		denied := strings.Count(n.Path, "/none/")%2 == 1
		if n.Test.Truth == denied {
			return n.Test
		}
	}
	return nil
}

// OutsideTime returns a window of time, or an event of a calendar, that keeps a condition from being true; nil where none does.
func (p *Program) OutsideTime(path string) *Span {
	for _, s := range p.Spans {
		if denied := strings.Count(s.Path, "/none/")%2 == 1; within(s.Path, path) && s.Truth == denied {
			return s
		}
	}
	return nil
}

func within(path, outer string) bool { return path == outer || strings.HasPrefix(path, outer+"/") }

func (c *compiler) steps(path string, steps []Step) {
	c.Lists[path] = steps
	for i := range steps {
		at := fmt.Sprintf("%s/%d", path, i)
		if steps[i].decides() {
			c.Conditions[at] = c.condition(at+"/condition", steps[i].Condition)
		}
		steps[i].lists(func(end string, inner []Step) {
			c.Owners[at+"/"+end], c.Parents[at+"/"+end] = &steps[i], at
			c.steps(at+"/"+end, inner)
		})
	}
}

func (c *compiler) comparer(ref thing.Ref, comparison Comparison, value thing.Value) Comparer {
	resolution := 0.0
	if property := c.lookup.Property(ref.Device, ref.Name); property != nil {
		resolution = property.Resolution
	}
	return NewComparer(comparison, value, resolution)
}

func (c *compiler) starter(path string, t *Trigger) (s Starter) {
	if t.Kind != OnDevice {
		return s
	}
	formula, lasts := t.Formulas[fieldValue], t.Property != "" && t.Comparison != "" && t.Formulas.has(fieldFor, t.ForSeconds)
	for _, ref := range c.listened(t) {
		l := Listen{Ref: ref, Formula: formula}
		if t.Comparison != "" {
			comparison, value := t.Comparison, t.Value
			if t.Group != "" {
				comparison, value = fitComparison(c.lookup.Property(ref.Device, ref.Name), comparison, value)
			}
			made := c.comparer(ref, comparison, value)
			l.Compare = &made
		}
		if !lasts {
			s.Listens = append(s.Listens, l)
			continue
		}
		at := path
		if t.Group != "" {
			at = path + "/of/" + ref.Device + "/" + ref.Name
		}
		var inner *Fact
		if formula == "" {
			inner = &c.test(at, ref, *l.Compare).Fact
		} else {
			inner = &c.against(at, []thing.Ref{ref}, t.Comparison, formula)[0].Fact
		}
		staying := c.lasting(at, t.ForSeconds, inner)
		staying.Formula = t.Formulas[fieldFor]
		s.Stayings = append(s.Stayings, staying)
	}
	return s
}

// listened returns the properties or events that a trigger is about.
func (c *compiler) listened(t *Trigger) (refs []thing.Ref) {
	switch {
	case t.Group != "" && t.Event != "":
		for _, device := range c.lookup.Devices(t.Group) {
			if c.lookup.Event(device, t.Event) != nil {
				refs = append(refs, thing.Ref{Device: device, Name: t.Event})
			}
		}
		return refs
	case t.Group != "":
		return c.lookup.Members(t.Group, t.Property)
	case t.Event != "":
		return []thing.Ref{{Device: t.Device, Name: t.Event}}
	default:
		return []thing.Ref{{Device: t.Device, Name: t.Property}}
	}
}

func (c *compiler) test(path string, ref thing.Ref, comparer Comparer) *Test {
	test := &Test{Ref: ref, Path: path, Comparer: comparer}
	c.Tests = append(c.Tests, test)
	return test
}

func (c *compiler) lasting(path string, seconds float64, inner *Fact) *Lasting {
	l := &Lasting{Path: path, For: Seconds(seconds), Inner: inner}
	c.Lastings = append(c.Lastings, l)
	return l
}

func (c *compiler) condition(path string, from *Condition) *Fact {
	at := len(c.Nodes)
	c.Nodes = append(c.Nodes, Node{Path: path})
	fact := c.plain(path, from, at)
	if from.Formulas.has(FieldForAtLeast, from.ForAtLeastSeconds) {
		l := c.lasting(path, from.ForAtLeastSeconds, fact)
		l.Formula = from.Formulas[FieldForAtLeast]
		c.Nodes[at].Lasting = l
		fact = &l.Fact
	}
	c.Nodes[at].Fact = fact
	return fact
}

// plain makes a condition without regard to how long it must be true.
func (c *compiler) plain(path string, from *Condition, at int) *Fact {
	of := func(kind groupKind, name string, list []Condition) *Fact {
		members := make([]*Fact, len(list))
		for i := range list {
			members[i] = c.condition(fmt.Sprintf("%s/%s/%d", path, name, i), &list[i])
		}
		return newGroup(kind, members)
	}
	switch {
	case len(from.All) > 0:
		return of(allOf, "all", from.All)
	case len(from.Any) > 0:
		return of(anyOf, "any", from.Any)
	case len(from.None) > 0:
		return of(noneOf, "none", from.None)
	case from.Between != nil, from.Event != nil:
		span := &Span{Window: from.Between, Event: from.Event, Path: path}
		c.Spans = append(c.Spans, span)
		c.Nodes[at].Span = span
		return &span.Fact
	case from.Expression != "":
		formula := &Formula{Path: path, Expression: c.formula(from.Expression)}
		c.Formulas = append(c.Formulas, formula)
		c.Nodes[at].Formula = formula
		return &formula.Fact
	case from.Group != "":
		var members []*Fact
		refs := c.lookup.Members(from.Group, from.Property)
		if formula := from.Formulas[fieldValue]; formula != "" {
			for _, f := range c.against(path, refs, from.Comparison, formula) {
				members = append(members, &f.Fact)
			}
			refs = nil
		}
		for _, ref := range refs {
			comparison, value := fitComparison(c.lookup.Property(ref.Device, ref.Name), from.Comparison, from.Value)
			members = append(members, &c.test(path, ref, c.comparer(ref, comparison, value)).Fact)
		}
		switch from.Which {
		case AllOf:
			return newGroup(allOf, members)
		case NoneOf:
			return newGroup(noneOf, members)
		default:
			return newGroup(anyOf, members)
		}
	default:
		ref := thing.Ref{Device: from.Device, Name: from.Property}
		if formula := from.Formulas[fieldValue]; formula != "" {
			fact := c.against(path, []thing.Ref{ref}, from.Comparison, formula)[0]
			c.Nodes[at].Formula = fact
			return &fact.Fact
		}
		test := c.test(path, ref, c.comparer(ref, from.Comparison, from.Value))
		c.Nodes[at].Test = test
		return &test.Fact
	}
}

// Comparer is a comparison with a wanted value.
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

// Steady returns from which number to which the comparison is as true, or as false, as of v, so that within them it need
// not be asked again. There may be more such numbers; there are none, and low is above high, where v is no number.
func (c *Comparer) Steady(v thing.Value) (low, high float64) {
	least, most := math.Inf(-1), math.Inf(1)
	if v.Kind != thing.KindNumber {
		return most, least
	}
	n, limit := v.Number, c.wanted.Number
	switch c.comparison {
	case Below, AtLeast:
		if n < limit {
			return least, math.Nextafter(limit, least)
		}
		return limit, most
	case Above, AtMost:
		if n > limit {
			return math.Nextafter(limit, most), most
		}
		return least, limit
	}
	switch {
	case v.Near(c.wanted, c.within):
		return n, n
	case n < limit:
		return least, n
	default:
		return n, most
	}
}
