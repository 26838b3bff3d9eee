package rule

import (
	"fmt"
	"slices"
	"strings"

	"amvek/core/almanac"
	"amvek/core/document"
	"amvek/core/expr"
	"amvek/core/home"
	"amvek/core/thing"
)

const (
	LongestWait  = 7 * 24 * 3600
	maximumDepth = 8
	maximumSteps = 200
	// maximumConditions is how many conditions a rule has at most, those of its steps included.
	maximumConditions = 300
	maximumTriggers   = 50
	// maximumOffset is how far from an entry of a calendar a rule may start, in minutes.
	maximumOffset = 24 * 60
	maximumFade   = 3600
)

type checker struct {
	lookup   Lookup
	problems []Problem
	schedule bool   // whether the steps are a schedule's, which takes them all at once
	member   string // the group of the each around, whose member takes its turn
	count    int    // of the steps
	nesting  int    // of lists of steps
	compared int    // how many conditions there are
	called   bool   // whether another program may call the rule, and send something
}

func (c *checker) say(path, format string, args ...any) {
	c.problems = append(c.problems, Problem{Path: path, Message: fmt.Sprintf(format, args...)})
}

// open says that something is still to be filled in.
func (c *checker) open(path, message string) {
	c.problems = append(c.problems, Problem{Path: path, Message: message, Open: true})
}

// Check returns what is wrong with the rule, in the order of its document; a rule
// with problems can be saved but does not run.
func (r *Rule) Check(lookup Lookup) []Problem {
	c := &checker{lookup: lookup}
	if blank(r.Title) {
		c.say("title", "Give the rule a name.")
	}
	for i, label := range r.Labels {
		if n := len([]rune(strings.TrimSpace(label))); n < 1 || n > 40 || slices.Contains(r.Labels[:i], label) {
			c.say(fmt.Sprintf("labels/%d", i), "A label has 1 to 40 letters, and is there once.")
		}
	}
	switch {
	case r.Whenever != nil && len(r.When) > 0:
		c.say("when", "A rule has either “each time” or “while”, not both.")
	case r.Whenever == nil:
		c.called = slices.ContainsFunc(r.When, func(t Trigger) bool { return t.Kind == OnCall })
		if len(r.When) > maximumTriggers {
			c.say("when", "At most %d triggers.", maximumTriggers)
		}
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
	if r.Gate != nil {
		c.condition("gate", r.Gate, 0)
	}
	c.seconds("giveUpAfterSeconds", r.GiveUpAfterSeconds)
	c.seconds("forAtLeastSeconds", r.ForAtLeastSeconds)
	c.seconds("endedForAtLeastSeconds", r.EndedForAtLeastSeconds)
	c.seconds("backFadeSeconds", r.BackFadeSeconds)
	c.formulas("", r.Formulas, FieldForAtLeast, FieldEndedFor)
	if len(r.Do) == 0 {
		c.open("do", "Add at least one step.")
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
		c.say("at", "%s.", document.Message(err))
	}
	if len(s.Do) == 0 {
		c.open("do", "Add at least one step.")
	}
	c.schedule = true
	c.steps("do", s.Do, false)
	return c.problems
}

func (c *checker) seconds(path string, s float64) {
	if !(s >= 0 && s <= LongestWait) {
		c.say(path, "A duration is from 0 to 7 days.")
	}
}

func (c *checker) condition(path string, cond *Condition, depth int) {
	if depth > maximumDepth {
		c.say(path, "Conditions may be nested %d deep at most.", maximumDepth)
		return
	}
	if c.compared++; c.compared >= maximumConditions {
		if c.compared == maximumConditions {
			c.say(path, "At most %d conditions.", maximumConditions)
		}
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
	c.seconds(path+"/forAtLeastSeconds", cond.ForAtLeastSeconds)
	leaves := 0
	for _, leaf := range []bool{cond.Device != "", cond.Group != "", cond.Between != nil, cond.Expression != "", cond.Event != nil} {
		if leaf {
			leaves++
		}
	}
	allowed := []string{FieldForAtLeast}
	switch {
	case used+leaves > 1:
		c.say(path, "A condition is one comparison, one window of time, one event of a calendar, one expression, or one group of conditions.")
	case used == 1:
		c.idle(path, "A group of conditions", cond, []string{"all", "any", "none", "forAtLeastSeconds", "formulas"})
	case cond.Between != nil:
		c.idle(path, "A window of time", cond, []string{"between", "forAtLeastSeconds", "formulas"})
		c.window(path+"/between", cond.Between)
	case cond.Event != nil:
		c.idle(path, "An event of a calendar", cond, []string{"event", "forAtLeastSeconds", "formulas"})
		c.calendar(path+"/event/calendar", cond.Event.Calendar)
	case cond.Group != "":
		c.group(path, cond)
		allowed = append(allowed, fieldValue)
	case cond.Expression != "":
		c.idle(path, "An expression", cond, []string{"expression", "forAtLeastSeconds", "formulas"})
		c.expression(path+"/expression", cond.Expression, func(x *expr.Expression) string {
			if x.Type != thing.TypeBoolean {
				return "It must come to yes or no, as a comparison does."
			}
			return ""
		})
	default:
		c.idle(path, "A comparison", cond, []string{"device", "property", "comparison", "value", "forAtLeastSeconds", "formulas"})
		allowed = append(allowed, fieldValue)
		if formula := cond.Formulas[fieldValue]; formula == "" {
			c.comparison(path, cond.Device, cond.Property, cond.Comparison, cond.Value)
		} else if c.property(path, cond.Device, cond.Property) != nil {
			c.comparedWith(path, []thing.Ref{{Device: cond.Device, Name: cond.Property}}, cond.Comparison, formula)
		}
	}
	c.formulas(path, cond.Formulas, allowed...)
}

func (c *checker) window(path string, w *Window) {
	for _, end := range []struct {
		name string
		at   almanac.Daily
	}{{"from", w.From}, {"to", w.To}} {
		if err := end.at.Check(); err != nil {
			c.say(path+"/"+end.name, "%s.", document.Message(err))
		}
	}
	if w.From.Anchor == w.To.Anchor && w.From.Clock == w.To.Clock && w.From.OffsetMinutes == w.To.OffsetMinutes {
		c.say(path, "It ends when it begins.")
	}
}

// group checks a comparison of a group's members.
func (c *checker) group(path string, cond *Condition) {
	if !slices.Contains([]Which{AnyOf, AllOf, NoneOf}, cond.Which) {
		c.open(path+"/which", "Say how many of the group: any, all or none.")
	}
	refs := c.members(path, cond.Group, cond.Property)
	if formula := cond.Formulas[fieldValue]; formula != "" {
		c.comparedWith(path, refs, cond.Comparison, formula)
		return
	}
	for _, ref := range refs {
		before, p := len(c.problems), c.lookup.Property(ref.Device, ref.Name)
		comparison, value := fitComparison(p, cond.Comparison, cond.Value)
		if c.compare(path, p, comparison, value); len(c.problems) > before {
			return // what is wrong is wrong for the others too
		}
	}
}

// members returns the properties of a group's members with a role, and says so where there are none.
func (c *checker) members(path, group, role string) []thing.Ref {
	if !c.set(path, group) {
		return nil
	}
	refs := c.lookup.Members(group, role)
	if len(refs) == 0 {
		c.say(path+"/property", "No device there has that.")
	}
	return refs
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
		c.open(path+"/device", "Choose a device.")
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

// set reports whether there is a set of devices, and says so where there is none.
func (c *checker) set(path, id string) bool {
	if c.lookup.HasGroup(id) {
		return true
	}
	c.say(path+"/group", "%s", map[home.SetKind]string{
		home.SetOfFloor: "No room is on this floor any more.", home.SetOfLabel: "No device has this label any more.",
		home.SetOfGroup: "This group or room no longer exists.",
	}[home.KindOfSet(id)])
	return false
}

// comparable reports whether a property can be compared so, and says so where it cannot.
func (c *checker) comparable(path string, p *thing.Property, comparison Comparison) bool {
	switch comparison {
	case Is, IsNot:
	case Below, Above, AtLeast, AtMost:
		if p.Type != thing.TypeNumber {
			c.say(path+"/comparison", "%s is not a number, so it can only be compared with “is”.", p.Title)
			return false
		}
	default:
		c.say(path+"/comparison", "Choose a comparison.")
		return false
	}
	return true
}

func (c *checker) compare(path string, p *thing.Property, comparison Comparison, value thing.Value) {
	if !c.comparable(path, p, comparison) {
		return
	}
	if value.IsNone() {
		c.open(path+"/value", "Choose a value.")
		return
	}
	if err := p.Check(value); err != nil {
		c.say(path+"/value", "%s.", err)
	}
}

func (c *checker) calendar(path, id string) {
	switch {
	case id == "":
		c.open(path, "Choose a calendar.")
	case !c.lookup.HasCalendar(id):
		c.say(path, "This calendar no longer exists.")
	}
}

func (c *checker) device(path, id string) bool {
	switch {
	case id == "":
		c.open(path+"/device", "Choose a device.")
	case !c.lookup.HasDevice(id):
		c.say(path+"/device", "This device is no longer in the home.")
	default:
		return true
	}
	return false
}
