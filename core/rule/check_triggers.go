package rule

import (
	"fmt"
	"slices"
	"strings"

	"amvek/core/document"
	"amvek/core/expr"
	"amvek/core/thing"
)

// carried checks what a trigger compares with what its event carries.
func (c *checker) carried(path string, t *Trigger, event *thing.Event) {
	switch {
	case t.Comparison == "":
	case len(event.Gestures()) > 0:
		if (t.Comparison != Is && t.Comparison != IsNot) || !slices.Contains(event.Gestures(), t.Value.Text) {
			c.say(path+"/value", "%s is one of %s.", event.Title, strings.Join(event.Gestures(), ", "))
		}
	case !event.Number || t.Value.Kind != thing.KindNumber:
		c.say(path+"/value", "%s carries no number to compare.", event.Title)
	}
}

func init() {
	triggerKinds[OnDevice] = triggerTraits{
		fields: []string{"device", "group", "property", "event", "comparison", "value", "forSeconds", "formulas"},
		check:  (*checker).deviceTrigger,
	}
	triggerKinds[OnTime] = triggerTraits{fields: []string{"at"}, check: func(c *checker, path string, t *Trigger) {
		if t.At == nil {
			c.open(path+"/at", "Say at what time.")
		} else if err := t.At.Check(); err != nil {
			c.say(path+"/at", "%s.", document.Message(err))
		}
	}}
	triggerKinds[OnStart] = triggerTraits{fields: []string{}, check: func(*checker, string, *Trigger) {}}
	triggerKinds[OnSilent] = triggerTraits{fields: []string{"device", "group"}, check: func(c *checker, path string, t *Trigger) {
		if t.Group == "" {
			c.device(path, t.Device)
		} else {
			c.set(path, t.Group)
		}
	}}
	words := func(c *checker, path string, t *Trigger) {
		if blank(t.Words) {
			c.open(path+"/words", "Say which words.")
		}
	}
	triggerKinds[OnPhrase] = triggerTraits{fields: []string{"words"}, check: words}
	triggerKinds[OnCall] = triggerTraits{fields: []string{"words"}, check: words}
	triggerKinds[OnEntry] = triggerTraits{fields: []string{"calendar", "words", "ends", "offsetMinutes"}, check: func(c *checker, path string, t *Trigger) {
		c.calendar(path+"/calendar", t.Calendar)
		if t.OffsetMinutes < -maximumOffset || t.OffsetMinutes > maximumOffset {
			c.say(path+"/offsetMinutes", "A day before or after at most.")
		}
	}}
}

func (c *checker) trigger(path string, t *Trigger) {
	c.seconds(path+"/forSeconds", t.ForSeconds)
	traits, known := triggerKinds[t.Kind]
	if !known {
		c.say(path+"/kind", "%q starts nothing.", t.Kind)
		return
	}
	c.idle(path, "This kind of trigger", t, traits.fields)
	traits.check(c, path, t)
}

func (c *checker) deviceTrigger(path string, t *Trigger) {
	allowed := []string{fieldFor}
	if t.Comparison != "" {
		allowed = append(allowed, fieldValue)
	}
	c.formulas(path, t.Formulas, allowed...)
	switch {
	case t.Device != "" && t.Group != "":
		c.say(path+"/group", "A trigger is about one device or about a group, not both.")
	case t.Event != "" && t.Property != "":
		c.say(path, "A trigger is a property or an event, not both.")
	case t.Event != "":
		c.eventTrigger(path, t)
	default:
		c.propertyTrigger(path, t)
	}
}

func (c *checker) propertyTrigger(path string, t *Trigger) {
	var refs []thing.Ref
	if t.Group != "" {
		refs = c.members(path, t.Group, t.Property)
	} else if c.property(path, t.Device, t.Property) != nil {
		refs = []thing.Ref{{Device: t.Device, Name: t.Property}}
	}
	formula := t.Formulas[fieldValue]
	switch {
	case t.Comparison == "":
	case formula != "":
		c.comparedWith(path, refs, t.Comparison, formula)
	default:
		for _, ref := range refs {
			before, p := len(c.problems), c.lookup.Property(ref.Device, ref.Name)
			comparison, value := t.Comparison, t.Value
			if t.Group != "" {
				comparison, value = fitComparison(p, comparison, value)
			}
			if c.compare(path, p, comparison, value); len(c.problems) > before {
				break // what is wrong is wrong for the others too
			}
		}
	}
	if t.Formulas.has(fieldFor, t.ForSeconds) && t.Comparison == "" {
		c.open(path+"/forSeconds", "Say what it must stay.")
	}
}

func (c *checker) eventTrigger(path string, t *Trigger) {
	devices := []string{t.Device}
	if t.Group != "" {
		if !c.set(path, t.Group) {
			return
		}
		devices = c.lookup.Devices(t.Group)
	} else if !c.device(path, t.Device) {
		return
	}
	found := false
	for _, device := range devices {
		event := c.lookup.Event(device, t.Event)
		if event == nil {
			continue
		}
		found = true
		before := len(c.problems)
		if formula := t.Formulas[fieldValue]; formula == "" {
			c.carried(path, t, event)
		} else if !event.Number {
			c.say(path+"/value", "%s carries no number to compare.", event.Title)
		} else {
			c.expression(path+"/formulas/"+fieldValue, formula, func(x *expr.Expression) string {
				if x.Type != thing.TypeNumber {
					return fmt.Sprintf("It comes to %s, not to a number.", kindOf(x.Type))
				}
				return ""
			})
		}
		if len(c.problems) > before {
			break
		}
	}
	if !found {
		c.say(
			path+"/event",
			"%s",
			map[bool]string{true: "No device there has this event.", false: fmt.Sprintf("The device has no event %q.", t.Event)}[t.Group != ""],
		)
	}
	if t.Formulas.has(fieldFor, t.ForSeconds) {
		c.say(path+"/forSeconds", "An event happens at one moment: it cannot stay so.")
	}
}
