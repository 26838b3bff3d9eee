package rule

import (
	"fmt"
	"maps"
	"slices"

	"amvek/core/expr"
	"amvek/core/thing"
)

// action checks what a device is asked for, and what goes with it.
func (c *checker) action(path string, s *Step) {
	switch {
	case s.Into != "" && s.Group != "":
		c.say(path+"/into", "One answer goes into a variable: ask one device.")
	case s.Into != "" && c.schedule:
		c.say(path+"/into", "A schedule does not wait for an answer: let it run a rule that does.")
	case s.Into == "" && len(s.Else) > 0:
		c.say(path+"/else", "What is done otherwise goes with an answer that is waited for.")
	}
	c.into(path, s)
	devices := []string{s.Device}
	if s.Group != "" {
		if !c.set(path, s.Group) {
			return
		}
		devices = c.lookup.Devices(s.Group)
	} else if !c.stepDevice(path, s.Device) {
		return
	}
	found := false
	for _, device := range devices {
		if a := c.lookup.Action(device, s.Action); a != nil {
			found = true
			before := len(c.problems)
			if c.asked(path, s, a); len(c.problems) > before {
				return // what is wrong is wrong for the others too
			}
		}
	}
	if !found {
		c.say(path+"/action", "Choose what it is asked for.")
	}
}

// asked checks what goes with an action of a device.
func (c *checker) asked(path string, s *Step, a *thing.Action) {
	if s.Into != "" && !a.Answers {
		c.say(path+"/into", "“%s” answers nothing.", a.Title)
	}
	for i := range a.Inputs {
		if _, there := s.Input[a.Inputs[i].Name]; a.Inputs[i].Required && !there {
			c.say(path+"/input/"+a.Inputs[i].Name, "%s is needed.", a.Inputs[i].Title)
		}
	}
	for _, name := range slices.Sorted(maps.Keys(s.Input)) {
		at, in, given := path+"/input/"+name, a.Input(name), s.Input[name]
		switch {
		case in == nil:
			c.say(at, "“%s” takes no %s.", a.Title, name)
		case given.Expression != "":
			c.expression(at, given.Expression, func(x *expr.Expression) string {
				if in.Type != thing.TypeText && !takes(&in.Property, x.Type) { // a text says anything
					return fmt.Sprintf("It comes to %s, which does not do for %s.", kindOf(x.Type), in.Title)
				}
				return ""
			})
		default:
			if err := in.Check(given.Value); err != nil {
				c.say(at, "%s.", err)
			}
		}
	}
}

// play checks what plays, and what is played.
func (c *checker) play(path string, s *Step) {
	if blank(s.Text) {
		c.say(path+"/text", "Say what is played: a station, a title, or words of one.")
	}
	switch {
	case s.Group != "":
		if c.set(path, s.Group) && !c.lookup.Plays("", s.Group) {
			c.say(path+"/group", "No device there plays anything.")
		}
	case c.stepDevice(path, s.Device) && !c.lookup.Plays(s.Device, ""):
		c.say(path+"/device", "This device does not play anything.")
	}
}
