// Package tell says a rule as lines of words, each with its place in the document: for the trace of a run, for what is
// different between two revisions, and for search. It decides nothing and knows the home only by the names it is given.
package tell

import (
	"fmt"
	"math"
	"regexp"
	"strings"
	"time"

	"amvek/core/almanac"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/thing"
)

// Line is a line of a rule.
type Line struct {
	Path  string `json:"path"`
	Depth int    `json:"depth"`
	Text  string `json:"text"`
}

// Names gives the names of what a rule refers to by id.
type Names interface {
	// Title returns the name of a definition, "" where there is none.
	Title(id string) string
	Property(device, name string) *thing.Property
	Members(group, role string) []thing.Ref
}

type teller struct {
	names Names
	lines []Line
}

func (t *teller) say(path string, depth int, format string, args ...any) {
	t.lines = append(t.lines, Line{path, depth, fmt.Sprintf(format, args...)})
}

// Rule returns a rule as lines, in the order of its document.
func Rule(r *rule.Rule, names Names) []Line {
	t := &teller{names: names}
	switch {
	case r.Whenever != nil:
		text := "While"
		if long := t.long(r.Formulas, rule.FieldForAtLeast, r.ForAtLeastSeconds); long != "" {
			text += ", for at least " + long
		}
		t.say("", 0, "%s", text)
		t.condition("whenever", r.Whenever, 1, "")
	case len(r.When) == 0:
		t.say("", 0, "Each time it is run by hand")
	default:
		t.say("", 0, "Each time")
		for i := range r.When {
			t.say(fmt.Sprintf("when/%d", i), 1, "%s%s", t.trigger(&r.When[i]), map[bool]string{true: ", or", false: ""}[i < len(r.When)-1])
		}
	}
	if r.Provided != nil {
		t.say("", 0, "provided")
		t.condition("provided", r.Provided, 1, "")
	}
	if r.Gate != nil {
		t.say("", 0, "only while")
		t.condition("gate", r.Gate, 1, "")
	}
	t.say("", 0, "do")
	t.steps("do", r.Do, 1)
	if r.Lasts() {
		text := "Once that has ended"
		if long := t.long(r.Formulas, rule.FieldEndedFor, r.EndedForAtLeastSeconds); long != "" {
			text += " for at least " + long
		}
		text += ", let go"
		if r.BackFadeSeconds > 0 {
			text += " over " + duration(r.BackFadeSeconds)
		}
		t.say("afterwards", 0, "%s", text)
		t.steps("afterwards", r.Afterwards, 1)
	} else {
		t.say("policy", 0, "If it is started while it runs: %s", policy(r.Policy))
	}
	if r.GiveUpAfterSeconds > 0 {
		t.say("giveUpAfterSeconds", 0, "A wait that ends later than %s is given up", duration(r.GiveUpAfterSeconds))
	}
	return t.lines
}

func policy(p rule.Policy) string {
	switch p {
	case rule.Ignore:
		return "ignore it"
	case rule.Queue:
		return "queue it"
	case rule.SideBySide:
		return "run side by side"
	default:
		return "start over"
	}
}

// duration says a duration as people do: 3 min, 2 h 10, 40 s.
func duration(seconds float64) string {
	s := int(math.Round(seconds))
	switch {
	case seconds < 1:
		return fmt.Sprintf("%g s", seconds)
	case s < 60:
		return fmt.Sprintf("%d s", s)
	case s < 3600 && s%60 == 0:
		return fmt.Sprintf("%d min", s/60)
	case s < 3600:
		return fmt.Sprintf("%d min %d s", s/60, s%60)
	case (s%3600)/60 == 0:
		return fmt.Sprintf("%d h", s/3600)
	default:
		return fmt.Sprintf("%d h %d", s/3600, (s%3600)/60)
	}
}

// long says how long a field of a part of a rule says, by its formula where it has one; "" where it says nothing.
func (t *teller) long(f rule.Formulas, field string, fixed float64) string {
	switch {
	case f[field] != "":
		return "as many seconds as " + t.expression(f[field])
	case fixed > 0:
		return duration(fixed)
	default:
		return ""
	}
}

// compared says what something is compared with.
func (t *teller) compared(p *thing.Property, f rule.Formulas, v thing.Value) string {
	if f["value"] != "" {
		return t.expression(f["value"])
	}
	return value(p, v)
}

func comparison(c rule.Comparison) string {
	return map[rule.Comparison]string{
		rule.Is: "is", rule.IsNot: "is not",
		rule.Below: "is below", rule.Above: "is above", rule.AtLeast: "is at least", rule.AtMost: "is at most",
	}[c]
}

var quoted = regexp.MustCompile(`"([^"\n]*)"`)

// expression shows an expression with names in the place of ids.
func (t *teller) expression(text string) string {
	return quoted.ReplaceAllStringFunc(text, func(whole string) string {
		if title := t.names.Title(strings.Trim(whole, `"`)); title != "" {
			return title
		}
		return whole
	})
}

func (t *teller) title(id string) string {
	if title := t.names.Title(id); title != "" {
		return title
	}
	if title := home.SetTitle(id); title != "" {
		return title
	}
	return "something that is gone"
}

// subject names a property of a device, or of a group's members.
func (t *teller) subject(device, group, name string) (string, *thing.Property) {
	switch {
	case group != "":
		for _, ref := range t.names.Members(group, name) {
			p := t.names.Property(ref.Device, ref.Name)
			return t.title(group) + " " + strings.ToLower(p.Title), p
		}
		return t.title(group) + " " + name, nil
	case device == rule.Member:
		return "its " + name, nil
	}
	p := t.names.Property(device, name)
	switch {
	case p == nil:
		return t.title(device) + " " + name, nil
	case device == rule.OwnDevice:
		return p.Title, p
	case strings.HasSuffix(strings.ToLower(t.title(device)), strings.ToLower(p.Title)):
		return t.title(device), p
	default:
		return t.title(device) + " " + strings.ToLower(p.Title), p
	}
}

func value(p *thing.Property, v thing.Value) string {
	switch {
	case v.IsNone():
		return "…"
	case p == nil:
		return rule.Say(v)
	default:
		return p.Say(v)
	}
}

func (t *teller) condition(path string, c *rule.Condition, depth int, lead string) {
	lasting := ""
	if long := t.long(c.Formulas, rule.FieldForAtLeast, c.ForAtLeastSeconds); long != "" {
		lasting = ", for at least " + long
	}
	for _, g := range []struct {
		name, words, joint string
		members            []rule.Condition
	}{{"all", "all of these", "and ", c.All}, {"any", "any of these", "or ", c.Any}, {"none", "none of these", "nor ", c.None}} {
		if len(g.members) == 0 {
			continue
		}
		t.say(path, depth, "%s%s%s", lead, g.words, lasting)
		for i := range g.members {
			joint := ""
			if i > 0 {
				joint = g.joint
			}
			t.condition(fmt.Sprintf("%s/%s/%d", path, g.name, i), &g.members[i], depth+1, joint)
		}
		return
	}
	t.say(path, depth, "%s%s%s", lead, t.leaf(c), lasting)
}

func (t *teller) leaf(c *rule.Condition) string {
	switch {
	case c.Between != nil:
		return fmt.Sprintf("it is between %s and %s", moment(&c.Between.From), moment(&c.Between.To))
	case c.Expression != "":
		return t.expression(c.Expression)
	case c.Event != nil:
		return t.eventNow(c.Event)
	case c.Device == "" && c.Group == "":
		return "something to choose"
	}
	subject, p := t.subject(c.Device, c.Group, c.Property)
	which := ""
	if c.Group != "" {
		which = map[rule.Which]string{rule.AnyOf: "any of ", rule.AllOf: "every one of ", rule.NoneOf: "none of "}[c.Which]
	}
	return fmt.Sprintf("%s%s %s %s", which, subject, comparison(c.Comparison), t.compared(p, c.Formulas, c.Value))
}

func moment(d *almanac.Daily) string {
	days := ""
	if len(d.Weekdays) > 0 {
		names := make([]string, len(d.Weekdays))
		for i, day := range d.Weekdays {
			names[i] = day.String()[:3]
		}
		days = " on " + strings.Join(names, ", ")
	}
	if d.Anchor == almanac.ByClock {
		return d.Clock + days
	}
	offset := time.Duration(d.OffsetMinutes) * time.Minute
	switch {
	case offset > 0:
		return duration(offset.Seconds()) + " after " + string(d.Anchor) + days
	case offset < 0:
		return duration(-offset.Seconds()) + " before " + string(d.Anchor) + days
	default:
		return string(d.Anchor) + days
	}
}

// eventNow says which event of a calendar is on.
func (t *teller) eventNow(e *rule.EventNow) string {
	what := "a calendar event"
	if e.WholeDays {
		what = "a whole-day calendar event"
	}
	if e.Words != "" {
		what += " with “" + e.Words + "”"
	}
	return what + " of " + t.title(e.Calendar) + " is on"
}

// entry says when an entry of a calendar counts.
func (t *teller) entry(g *rule.Trigger) string {
	text := "a calendar event of " + t.title(g.Calendar)
	if g.Words != "" {
		text += " with “" + g.Words + "”"
	}
	text += map[bool]string{false: " begins", true: " ends"}[g.Ends]
	switch seconds := float64(g.OffsetMinutes) * 60; {
	case seconds > 0:
		return duration(seconds) + " after " + text
	case seconds < 0:
		return duration(-seconds) + " before " + text
	}
	return text
}

// triggerWords are the words of each kind of trigger.
var triggerWords = map[rule.TriggerKind]func(t *teller, g *rule.Trigger) string{}

func init() {
	triggerWords[rule.OnTime] = func(_ *teller, g *rule.Trigger) string {
		if g.At == nil {
			return "a time to choose"
		}
		return "it is " + moment(g.At)
	}
	triggerWords[rule.OnStart] = func(*teller, *rule.Trigger) string { return "the hub starts" }
	triggerWords[rule.OnSilent] = func(t *teller, g *rule.Trigger) string { return t.whose(g) + " falls silent" }
	triggerWords[rule.OnPhrase] = func(_ *teller, g *rule.Trigger) string { return "“" + g.Words + "” is said" }
	triggerWords[rule.OnCall] = func(_ *teller, g *rule.Trigger) string { return "another program calls " + g.Words }
	triggerWords[rule.OnEntry] = (*teller).entry
	triggerWords[rule.OnDevice] = (*teller).deviceTrigger
}

func (t *teller) trigger(g *rule.Trigger) string {
	if say, known := triggerWords[g.Kind]; known {
		return say(t, g)
	}
	return string(g.Kind)
}

// turned says which way a dial is turned, by how the number of its event compares with 0.
var turned = map[rule.Comparison]string{rule.Above: "to the right", rule.Below: "to the left"}

// deviceTrigger says a trigger about a property or an event of devices.
func (t *teller) deviceTrigger(g *rule.Trigger) string {
	if g.Event != "" {
		if g.Comparison == "" {
			return t.whose(g) + ": " + g.Event
		}
		if said := thing.GestureWords(g.Value.Text); g.Comparison == rule.Is && said != g.Value.Text {
			return fmt.Sprintf("%s: %s %s", t.whose(g), g.Event, said)
		}
		if way := turned[g.Comparison]; way != "" && g.Formulas == nil && g.Value == thing.Number(0) {
			return fmt.Sprintf("%s: %s %s", t.whose(g), g.Event, way)
		}
		return fmt.Sprintf("%s: %s %s %s", t.whose(g), g.Event, comparison(g.Comparison), t.compared(nil, g.Formulas, g.Value))
	}
	subject, p := t.subject(g.Device, g.Group, g.Property)
	if g.Group != "" {
		subject = "any of " + subject
	}
	if g.Comparison == "" {
		return subject + " changes"
	}
	text := subject + " " + fmt.Sprintf(becoming[g.Comparison], t.compared(p, g.Formulas, g.Value))
	if p != nil && g.Comparison == rule.Is && g.Formulas == nil {
		if verb := verbs[p.Role][g.Value.True()]; verb != "" {
			text = t.whose(g) + " " + verb // the door opens, and not its contact
		}
	}
	if long := t.long(g.Formulas, "forSeconds", g.ForSeconds); long != "" {
		return text + " and stays so for " + long
	}
	return text
}

// becoming says how something comes to fulfil a comparison.
var becoming = map[rule.Comparison]string{
	rule.Is: "becomes %s", rule.IsNot: "is no longer %s", rule.Above: "rises above %s", rule.Below: "falls below %s",
	rule.AtLeast: "rises to %s or more", rule.AtMost: "falls to %s or less",
}

// verbs are what a device does, by what a property of yes or no means.
var verbs = map[thing.Role]map[bool]string{
	thing.RoleMotion:  {true: "detects motion", false: "detects no more motion"},
	thing.RoleContact: {true: "opens", false: "shuts"},
	thing.RoleLock:    {true: "is locked", false: "is unlocked"},
	thing.RoleLeak:    {true: "detects water", false: "is dry again"},
}

// whose names the device of a trigger, or the set of which any device will do.
func (t *teller) whose(g *rule.Trigger) string {
	if g.Group != "" {
		return "any of " + t.title(g.Group)
	}
	return t.title(g.Device)
}
