package rule

import (
	"fmt"
	"slices"
	"strings"

	"amvek/core/thing"
)

const (
	maximumSeconds = 7 * 24 * 3600
	maximumDepth   = 8
	maximumSteps   = 200
	maximumFade    = 3600
)

type checker struct {
	lookup   Lookup
	problems []Problem
}

func (c *checker) say(path, format string, args ...any) {
	c.problems = append(c.problems, Problem{Path: path, Message: fmt.Sprintf(format, args...)})
}

// Check returns what is wrong with the rule, in the order of its document; a rule
// with problems can be saved but does not run.
func (r *Rule) Check(lookup Lookup) []Problem {
	c := &checker{lookup: lookup}
	if blank(r.Title) {
		c.say("title", "Give the rule a name.")
	}
	switch {
	case r.Whenever != nil && len(r.When) > 0:
		c.say("when", "A rule has either “when” or “whenever”, not both.")
	case r.Whenever == nil:
		for i := range r.When {
			c.trigger(fmt.Sprintf("when/%d", i), &r.When[i])
		}
	}
	if r.Whenever != nil {
		c.condition("whenever", r.Whenever, 0)
	}
	if r.Provided != nil {
		c.condition("provided", r.Provided, 0)
	}
	c.seconds("forAtLeastSeconds", r.ForAtLeastSeconds)
	c.seconds("endedForAtLeastSeconds", r.EndedForAtLeastSeconds)
	if len(r.Do) == 0 {
		c.say("do", "Add at least one step.")
	}
	c.steps("do", r.Do, r.Lasts())
	c.steps("afterwards", r.Afterwards, false)
	if r.Policy != "" && !slices.Contains([]Policy{Restart, Ignore, Queue, SideBySide}, r.Policy) {
		c.say("policy", "%q is not a policy.", r.Policy)
	}
	return c.problems
}

// Check returns what is wrong with the schedule.
func (s *Schedule) Check(lookup Lookup) []Problem {
	c := &checker{lookup: lookup}
	if blank(s.Title) {
		c.say("title", "Give the schedule a name.")
	}
	if err := s.At.Check(); err != nil {
		_, words, _ := strings.Cut(err.Error(), ": ")
		c.say("at", "%s.", words)
	}
	if len(s.Do) == 0 {
		c.say("do", "Add at least one step.")
	}
	c.steps("do", s.Do, false)
	return c.problems
}

func (c *checker) seconds(path string, s float64) {
	if !(s >= 0 && s <= maximumSeconds) {
		c.say(path, "A duration is from 0 to 7 days.")
	}
}

func (c *checker) condition(path string, cond *Condition, depth int) {
	if depth > maximumDepth {
		c.say(path, "Conditions may be nested %d deep at most.", maximumDepth)
		return
	}
	groups := []struct {
		name    string
		members []Condition
	}{{"all", cond.All}, {"any", cond.Any}, {"none", cond.None}}
	used := 0
	for _, g := range groups {
		if len(g.members) == 0 {
			continue
		}
		used++
		for i := range g.members {
			c.condition(fmt.Sprintf("%s/%s/%d", path, g.name, i), &g.members[i], depth+1)
		}
	}
	leaf := cond.Device != "" || cond.Property != "" || cond.Comparison != ""
	switch {
	case used > 1 || (used == 1 && leaf):
		c.say(path, "A condition is one comparison or one group.")
	case used == 0:
		c.comparison(path, cond.Device, cond.Property, cond.Comparison, cond.Value)
	}
}

func (c *checker) comparison(path, device, property string, comparison Comparison, value thing.Value) {
	p := c.property(path, device, property)
	if p != nil {
		c.compare(path, p, comparison, value)
	}
}

func (c *checker) property(path, device, property string) *thing.Property {
	switch {
	case device == "":
		c.say(path+"/device", "Choose a device.")
	case !c.lookup.HasDevice(device):
		c.say(path+"/device", "This device is no longer in the home.")
	default:
		p := c.lookup.Property(device, property)
		if p == nil {
			c.say(path+"/property", "The device has no property %q.", property)
		}
		return p
	}
	return nil
}

func (c *checker) compare(path string, p *thing.Property, comparison Comparison, value thing.Value) {
	switch comparison {
	case Is, IsNot:
	case Below, Above, AtLeast, AtMost:
		if p.Type != thing.TypeNumber {
			c.say(path+"/comparison", "%s is not a number, so it can only be compared with “is”.", p.Title)
			return
		}
	default:
		c.say(path+"/comparison", "Choose a comparison.")
		return
	}
	if value.IsNone() {
		c.say(path+"/value", "Choose a value.")
		return
	}
	if err := p.Check(value); err != nil {
		c.say(path+"/value", "%s.", err)
	}
}

// carried checks what a trigger compares with what its event carries.
func (c *checker) carried(path string, t *Trigger, event *thing.Event) {
	switch {
	case t.Comparison == "":
	case len(event.Options) > 0:
		if (t.Comparison != Is && t.Comparison != IsNot) || !slices.Contains(event.Options, t.Value.Text) {
			c.say(path+"/value", "%s is one of %s.", event.Title, strings.Join(event.Options, ", "))
		}
	case !event.Number || t.Value.Kind != thing.KindNumber:
		c.say(path+"/value", "%s carries no number to compare.", event.Title)
	}
}

func (c *checker) trigger(path string, t *Trigger) {
	switch {
	case t.Event != "" && t.Property != "":
		c.say(path, "A trigger is a property or an event, not both.")
	case t.Event != "":
		if !c.lookup.HasDevice(t.Device) {
			c.say(path+"/device", "This device is no longer in the home.")
			return
		}
		event := c.lookup.Event(t.Device, t.Event)
		if event == nil {
			c.say(path+"/event", "The device has no event %q.", t.Event)
			return
		}
		c.carried(path, t, event)
	default:
		p := c.property(path, t.Device, t.Property)
		if p != nil && t.Comparison != "" {
			c.compare(path, p, t.Comparison, t.Value)
		}
	}
}

func (c *checker) steps(path string, steps []Step, lasts bool) {
	if len(steps) > maximumSteps {
		c.say(path, "At most %d steps.", maximumSteps)
		return
	}
	for i := range steps {
		c.step(fmt.Sprintf("%s/%d", path, i), &steps[i], lasts)
	}
}

func (c *checker) step(path string, s *Step, lasts bool) {
	c.seconds(path+"/forSeconds", s.ForSeconds)
	if !(s.FadeSeconds >= 0 && s.FadeSeconds <= maximumFade) {
		c.say(path+"/fadeSeconds", "A fade is from 0 to 1 h.")
	}
	switch s.Kind {
	case StepSet, StepHold:
		if p := c.property(path, s.Device, s.Property); p != nil {
			switch {
			case !p.Writable:
				c.say(path+"/property", "%s can be read but not set.", p.Title)
			case s.Value.IsNone():
				c.say(path+"/value", "Choose a value.")
			default:
				if err := p.Check(s.Value); err != nil {
					c.say(path+"/value", "%s.", err)
				}
			}
		}
		if s.Kind == StepHold && !lasts && s.ForSeconds <= 0 {
			c.say(path+"/forSeconds", "Outside a “whenever” a hold needs a duration.")
		}
	case StepWait:
		if s.ForSeconds <= 0 {
			c.say(path+"/forSeconds", "Say how long to wait.")
		}
	case StepScene:
		if s.Scene == "" {
			c.say(path+"/scene", "Choose a scene.")
		} else if !c.lookup.HasScene(s.Scene) {
			c.say(path+"/scene", "This scene no longer exists.")
		}
	case StepRun:
		if s.Rule == "" {
			c.say(path+"/rule", "Choose a rule.")
		} else if !c.lookup.HasRule(s.Rule) {
			c.say(path+"/rule", "This rule no longer exists.")
		}
	default:
		c.say(path+"/kind", "%q is not a step.", s.Kind)
	}
}
