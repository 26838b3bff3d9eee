package rule

import (
	"fmt"
	"math"
	"slices"

	"amvek/core/expr"
	"amvek/core/thing"
)

// The steps that give a property a value.
func init() {
	// value are the fields by which a step says to what it sets something.
	value := []string{"value", "to", "by", "from", "expression"}
	stepKinds[StepSet] = stepTraits{
		fields:   slices.Concat([]string{"device", "formulas", "group", "property", "fadeSeconds", "unattended", "untilDone", "else"}, value),
		formulas: []string{fieldFade}, atOnce: true,
		check: (*checker).setting,
	}
	stepKinds[StepHold] = stepTraits{
		fields:   slices.Concat([]string{"device", "formulas", "group", "property", "scene", "fadeSeconds", "forSeconds", "unattended", "firm"}, value),
		formulas: []string{fieldFade, fieldFor},
		check:    (*checker).setting,
	}
	stepKinds[StepRamp] = stepTraits{
		fields:   slices.Concat([]string{"device", "formulas", "group", "property", "forSeconds", "even", "unattended"}, value),
		formulas: []string{fieldFor}, takesTime: always,
		check: func(c *checker, path string, s *Step, lasts bool) {
			c.setting(path, s, lasts)
			if !s.Formulas.has(fieldFor, s.ForSeconds) {
				c.open(path+"/forSeconds", "Say over how long.")
			}
		},
	}
}

// ShortestGap is the least time between two values that are gone through, in seconds.
const ShortestGap = 0.05

func init() {
	stepKinds[StepThrough] = stepTraits{
		fields:    []string{"device", "group", "property", "values", "toAndFro", "once", "forNow", "gapSeconds", "dial", "atMostSeconds", "unattended"},
		takesTime: always,
		check: func(c *checker, path string, s *Step, lasts bool) {
			if len(s.Values) < 2 {
				c.open(path+"/values", "Choose two values or more to go through.")
			}
			if !s.Once && (s.GapSeconds < ShortestGap || s.GapSeconds > 3600) {
				c.say(path+"/gapSeconds", "From %g s to an hour between two values.", ShortestGap)
			}
			if s.Once && (s.ToAndFro || s.Dial != nil || s.AtMostSeconds > 0) {
				c.say(path+"/once", "One value further each time it goes round, and takes no time.")
			}
			if s.Dial != nil {
				c.dial(path+"/dial", s.Dial)
			}
			for i, v := range s.Values {
				before := len(c.problems)
				one := *s
				one.Kind, one.Value = StepSet, v
				if c.setting(fmt.Sprintf("%s/values/%d", path, i), &one, lasts); len(c.problems) > before {
					break // what is wrong is wrong for the others too
				}
			}
		},
	}
}

func always(*Step) bool { return true }

// dial checks that something is turned.
func (c *checker) dial(path string, dial *thing.Ref) {
	if !c.device(path, dial.Device) {
		return
	}
	if event := c.lookup.Event(dial.Device, dial.Name); event == nil {
		c.say(path+"/name", "The device does not have this any more.")
	} else if !event.Number {
		c.say(path+"/name", "%s is not turned.", event.Title)
	}
}

// Fastest is how many times faster or slower the turn of a dial makes a step through, at most.
const Fastest = 16

// notchesToDouble is by how many notches of a dial to the right a step through becomes twice as fast.
const notchesToDouble = 6

// Gap returns the time between two values of a step through, in seconds, after the dial that sets its pace was turned by so many
// notches, right where positive; and how many of them count: beyond a sixteenth and sixteen times it does not go.
func (s *Step) Gap(notches float64) (seconds, counted float64) {
	most := notchesToDouble * math.Log2(Fastest)
	counted = min(max(notches, -most), most)
	return max(s.GapSeconds*math.Pow(2, -counted/notchesToDouble), ShortestGap), counted
}

// setting checks a step that sets or holds a property.
func (c *checker) setting(path string, s *Step, lasts bool) {
	if s.Kind == StepHold && !lasts && !s.Formulas.has(fieldFor, s.ForSeconds) {
		c.say(path+"/forSeconds", "Outside a rule that begins with “while”, a hold needs a duration.")
	}
	if len(s.Else) > 0 && !s.UntilDone {
		c.say(path+"/else", "What is done otherwise goes with a step that waits until it is done.")
	}
	c.steps(path+"/else", s.Else, lasts)
	if s.Kind == StepHold && s.Scene != "" {
		c.scene(path, s)
		c.idle(path, "A hold of a scene", s, []string{"scene", "fadeSeconds", "forSeconds", "formulas", "unattended", "firm"})
		return
	}
	switch {
	case s.Group != "":
		for _, ref := range c.members(path, s.Group, s.Property) {
			if !c.settable(path, s, c.lookup.Property(ref.Device, ref.Name)) {
				return
			}
		}
	case s.Device == Member && c.member != "":
		for _, ref := range c.members(path, c.member, s.Property) {
			if !c.settable(path, s, c.lookup.Property(ref.Device, ref.Name)) {
				return
			}
		}
	default:
		if p := c.property(path, s.Device, s.Property); p != nil {
			c.settable(path, s, p)
		}
	}
}

// settable reports whether nothing is wrong with setting a property so.
func (c *checker) settable(path string, s *Step, p *thing.Property) bool {
	before := len(c.problems)
	if s.From != nil && s.Expression != "" {
		c.say(path+"/from", "The value is worked out, or taken from another property, not both.")
	}
	if (s.From != nil || s.Expression != "") && (s.By || !s.To.IsNone()) {
		c.say(path+"/value", "“By” and “to” go with a fixed value only.")
	}
	switch {
	case !p.Writable:
		c.say(path+"/property", "%s can be read but not set.", p.Title)
	case s.Kind == StepRamp && p.Type != thing.TypeNumber:
		c.say(path+"/property", "%s is not a number: there is nothing in between.", p.Title)
	case s.Expression != "":
		c.expression(path+"/expression", s.Expression, func(x *expr.Expression) string {
			if !accepts(p, x.Type) {
				return fmt.Sprintf("It comes to %s, which %s cannot be set to.", kindOf(x.Type), p.Title)
			}
			return ""
		})
	case s.From != nil:
		c.from(path, s, p)
	case s.Value.IsNone():
		c.open(path+"/value", "Choose a value.")
	case s.By:
		if p.Type != thing.TypeNumber || s.Value.Kind != thing.KindNumber {
			c.say(path+"/value", "%s is not a number that could be changed by an amount.", p.Title)
		}
	default:
		value := s.Value
		if s.Group != "" || s.Device == Member {
			value = Fit(p, value)
		}
		if err := p.CheckSet(value); err != nil {
			c.say(path+"/value", "%s.", err)
		}
	}
	if !s.To.IsNone() {
		switch {
		case p.Type != thing.TypeNumber || s.To.Kind != thing.KindNumber || s.Value.Kind != thing.KindNumber:
			c.say(path+"/to", "Only a number can be chosen by chance.")
		case s.To.Number < s.Value.Number:
			c.say(path+"/to", "The greatest is less than the least.")
		case !s.By && p.Check(s.To) != nil:
			c.say(path+"/to", "%s.", p.Check(s.To))
		}
	}
	return len(c.problems) == before
}

func (c *checker) from(path string, s *Step, p *thing.Property) {
	from := c.property(path+"/from", s.From.Device, s.From.Name)
	if from != nil && from.Type != p.Type {
		c.say(path+"/from", "%s is of another kind than %s.", from.Title, p.Title)
	}
}
