package rule

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"amvek/core/expr"
	"amvek/core/thing"
)

// Formulas are expressions that give fields of a document their values, by the names of the fields: durations, and what
// something is compared with. Where an expression is not known, the fixed value of the field counts.
type Formulas map[string]string

// The fields that a formula may give a value.
const (
	fieldValue      = "value"
	fieldFor        = "forSeconds"
	fieldFade       = "fadeSeconds"
	fieldAtMost     = "atMostSeconds"
	fieldGap        = "gapSeconds"
	FieldForAtLeast = "forAtLeastSeconds"
	FieldEndedFor   = "endedForAtLeastSeconds"
)

// most are the longest that each duration may be, in seconds.
func most(field string) float64 {
	if field == fieldFade || field == fieldGap {
		return maximumFade
	}
	return LongestWait
}

// formulas checks those of a part of a rule that may have some fields by formulas.
func (c *checker) formulas(path string, given Formulas, allowed ...string) {
	for _, field := range slices.Sorted(maps.Keys(given)) {
		at := strings.TrimPrefix(path+"/formulas/"+field, "/")
		if !slices.Contains(allowed, field) {
			c.say(at, "“%s” cannot be given by a formula here.", field)
			continue
		}
		if field == fieldValue {
			continue // by what it is compared with
		}
		c.expression(at, given[field], func(x *expr.Expression) string {
			if x.Type != thing.TypeNumber {
				return fmt.Sprintf("It comes to %s, not to a number of seconds.", kindOf(x.Type))
			}
			return ""
		})
	}
}

// has reports whether a field has a value, be it fixed or by a formula.
func (f Formulas) has(field string, fixed float64) bool { return fixed > 0 || f[field] != "" }

// Resolved returns a step with the durations that its formulas come to; work works an expression out, and returns no
// value where it is not known.
func (s *Step) Resolved(work func(expression string) thing.Value) *Step {
	if len(s.Formulas) == 0 {
		return s
	}
	step := *s
	for field, to := range map[string]*float64{fieldFor: &step.ForSeconds, fieldFade: &step.FadeSeconds, fieldAtMost: &step.AtMostSeconds, fieldGap: &step.GapSeconds} {
		*to = s.Formulas.Seconds(field, *to, work)
	}
	return &step
}

// Seconds returns how long a field says, by its formula where it has one that is known.
func (f Formulas) Seconds(field string, fixed float64, work func(expression string) thing.Value) float64 {
	text := f[field]
	if text == "" {
		return fixed
	}
	v := work(text)
	if v.Kind != thing.KindNumber {
		return fixed
	}
	return min(max(v.Number, 0), most(field))
}

// compared returns the expression that says of a property what a comparison with a formula says.
func compared(ref thing.Ref, p *thing.Property, comparison Comparison, formula string) string {
	value := fmt.Sprintf("value(%q, %q)", ref.Device, ref.Name)
	wanted := "(" + formula + "\n)" // a remark may end the formula
	if p.Type == thing.TypeNumber && (comparison == Is || comparison == IsNot) && p.Resolution > 0 {
		operator := map[Comparison]string{Is: "<=", IsNot: ">"}[comparison]
		return fmt.Sprintf("abs(%s - %s) %s %g", value, wanted, operator, p.Resolution/2)
	}
	operator := map[Comparison]string{Is: "==", IsNot: "!=", Below: "<", Above: ">", AtLeast: ">=", AtMost: "<="}[comparison]
	return value + " " + operator + " " + wanted
}

// comparedWith checks a comparison of properties with a formula.
func (c *checker) comparedWith(path string, refs []thing.Ref, comparison Comparison, formula string) {
	at := path + "/formulas/" + fieldValue
	for _, ref := range refs {
		p := c.lookup.Property(ref.Device, ref.Name)
		if p == nil {
			continue
		}
		before := len(c.problems)
		c.comparable(path, p, comparison)
		c.expression(at, formula, func(x *expr.Expression) string {
			if !accepts(p, x.Type) {
				return fmt.Sprintf("It comes to %s, which %s cannot be compared with.", kindOf(x.Type), p.Title)
			}
			return ""
		})
		if len(c.problems) == before {
			c.expression(at, compared(ref, p, comparison, formula), func(*expr.Expression) string { return "" })
		}
		if len(c.problems) > before {
			return // what is wrong is wrong for the others too
		}
	}
}

// against makes facts of a comparison of properties with a formula.
func (c *compiler) against(path string, refs []thing.Ref, comparison Comparison, formula string) (facts []*Formula) {
	for _, ref := range refs {
		p := c.lookup.Property(ref.Device, ref.Name)
		if p == nil {
			continue
		}
		fact := &Formula{Path: path, Expression: c.formula(compared(ref, p, comparison, formula))}
		c.Formulas = append(c.Formulas, fact)
		facts = append(facts, fact)
	}
	return facts
}
