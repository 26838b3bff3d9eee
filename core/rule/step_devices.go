package rule

import (
	"fmt"
	"maps"
	"slices"

	"amvek/core/expr"
	"amvek/core/thing"
)

// The steps about devices as a whole, and scenes and sequences of them.
func init() {
	stepKinds[StepRemember] = stepTraits{fields: []string{"device", "group", "scene"}, check: (*checker).whole}
	stepKinds[StepPutBack] = stepTraits{
		fields: []string{"device", "group", "scene", "fadeSeconds", "formulas"}, formulas: []string{fieldFade},
		check: (*checker).whole,
	}
	stepKinds[StepAction] = stepTraits{
		fields: []string{"device", "group", "action", "input", "unattended", "into", "pick", "else"}, atOnce: true,
		check: func(c *checker, path string, s *Step, lasts bool) {
			c.action(path, s)
			c.steps(path+"/else", s.Else, lasts)
		},
	}
	stepKinds[StepPlay] = stepTraits{
		fields: []string{"device", "group", "text"}, atOnce: true, texts: []string{"text"},
		check: func(c *checker, path string, s *Step, _ bool) {
			c.play(path, s)
			c.texts(path, s)
		},
	}
	stepKinds[StepScene] = stepTraits{
		fields: []string{"scene", "scenes", "orOff"}, atOnce: true,
		check: func(c *checker, path string, s *Step, _ bool) {
			if len(s.Scenes) == 0 {
				c.scene(path, s)
				return
			}
			if s.Scene != "" {
				c.say(path+"/scene", "It applies one scene, or the next of several, not both.")
			}
			for i, id := range s.Scenes {
				if !c.lookup.HasScene(id) {
					c.say(fmt.Sprintf("%s/scenes/%d", path, i), "This scene no longer exists.")
				}
			}
		},
	}
	stepKinds[StepSequence] = stepTraits{
		fields: []string{"sequence", "orOff"}, atOnce: true,
		check: func(c *checker, path string, s *Step, _ bool) {
			if s.Sequence == "" {
				c.open(path+"/sequence", "Choose a sequence.")
			}
			c.sequence(path, s)
		},
	}
}

func init() {
	stepKinds[StepLight] = stepTraits{
		fields: []string{"light", "verb", "value"}, atOnce: true,
		check: func(c *checker, path string, s *Step, _ bool) {
			switch {
			case s.Light == "":
				c.open(path+"/light", "Choose the light of a room.")
			case !c.lookup.HasRoomLight(s.Light):
				c.say(path+"/light", "This light no longer exists.")
			}
			if !s.Verb.Known() {
				c.open(path+"/verb", "Choose what is done with it.")
			} else if err := s.Verb.Check(s.Value); err != nil {
				c.say(path+"/value", "That does not go with it: %v.", err)
			}
		},
	}
}

// whole checks a step about a device, a set of them, or all that a scene sets.
func (c *checker) whole(path string, s *Step, _ bool) {
	switch {
	case s.Scene != "":
		c.scene(path, s)
	case s.Group != "":
		c.set(path, s.Group)
	default:
		c.stepDevice(path, s.Device)
	}
}

// scene checks the scene that a step is about.
func (c *checker) scene(path string, s *Step) {
	if s.Scene == "" {
		c.open(path+"/scene", "Choose a scene.")
	} else if !c.lookup.HasScene(s.Scene) {
		c.say(path+"/scene", "This scene no longer exists.")
	}
}

// sequence checks that there is the sequence that a step is about, where it is about one.
func (c *checker) sequence(path string, s *Step) {
	if s.Sequence != "" && !c.lookup.HasSequence(s.Sequence) {
		c.say(path+"/sequence", "This sequence no longer exists.")
	}
}

// stepDevice checks the device of a step that is not about one property; the member whose turn it is will do.
func (c *checker) stepDevice(path, id string) bool {
	if id == Member && c.member != "" {
		return false // which device it is is known only then
	}
	return c.device(path, id)
}

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
	switch {
	case found:
	case s.Action == "":
		c.open(path+"/action", "Choose what it is asked for.")
	default:
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
				if in.Type != thing.TypeText && !accepts(&in.Property, x.Type) { // a text says anything
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
		c.open(path+"/text", "Say what is played: a station, a title, or words of one.")
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
