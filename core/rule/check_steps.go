package rule

import (
	"fmt"

	"amvek/core/expr"
	"amvek/core/thing"
)

const (
	maximumTimes = 10_000
	maximumGap   = 3600
	// maximumNesting is how deep steps may stand within others.
	maximumNesting = 10
)

func (c *checker) steps(path string, steps []Step, lasts bool) {
	if c.nesting++; c.nesting > maximumNesting && len(steps) > 0 {
		c.say(path, "Steps may be nested %d deep at most.", maximumNesting)
		c.nesting--
		return
	}
	defer func() { c.nesting-- }()
	for i := range steps {
		c.count++
		if c.count == maximumSteps+1 {
			c.say(path, "At most %d steps.", maximumSteps)
		}
		if c.count > maximumSteps {
			return
		}
		c.step(fmt.Sprintf("%s/%d", path, i), &steps[i], lasts)
	}
}

// needed says so where a list of steps is empty.
func (c *checker) needed(path string, steps []Step, lasts bool) {
	if len(steps) == 0 {
		c.say(path, "Add at least one step.")
	}
	c.steps(path, steps, lasts)
}

// inTime are the steps that take time or decide, which a schedule leaves to rules.
func inTime(kind StepKind) bool {
	switch kind {
	case StepSet, StepScene, StepSequence, StepRun, StepAction, StepPlay, StepNotify, StepSay, StepShow, StepStop, StepPause, StepResume:
		return false
	default:
		return true
	}
}

func (c *checker) step(path string, s *Step, lasts bool) {
	c.seconds(path+"/forSeconds", s.ForSeconds)
	if !(s.FadeSeconds >= 0 && s.FadeSeconds <= maximumFade) {
		c.say(path+"/fadeSeconds", "A fade is from 0 to 1 h.")
	}
	if c.schedule && inTime(s.Kind) {
		c.say(path+"/kind", "A schedule does all at once: let it run a rule that does this.")
		return
	}
	if used, known := stepFields[s.Kind]; known {
		c.idle(path, "This kind of step", s, used)
		c.formulas(path, s.Formulas, stepFormulas[s.Kind]...)
	}
	if c.schedule && s.UntilDone {
		c.say(path+"/untilDone", "A schedule does not wait: let it run a rule that does.")
	}
	if s.Device != "" && s.Group != "" {
		c.say(path+"/group", "A step is about one device or about a group, not both.")
	}
	switch s.Kind {
	case StepSet, StepHold:
		c.setting(path, s, lasts)
	case StepRamp:
		c.setting(path, s, lasts)
		if !s.Formulas.has(fieldFor, s.ForSeconds) {
			c.say(path+"/forSeconds", "Say over how long.")
		}
	case StepQuestion:
		c.question(path, s, lasts)
	case StepScript:
		c.script(path, s)
		c.steps(path+"/else", s.Else, lasts)
	case StepWait:
		c.wait(path, s)
	case StepUntil:
		c.needsCondition(path, s)
		c.seconds(path+"/atMostSeconds", s.AtMostSeconds)
		if len(s.Else) > 0 && !s.Formulas.has(fieldAtMost, s.AtMostSeconds) {
			c.say(path+"/atMostSeconds", "Say how long to wait: what is done otherwise would never be done.")
		}
		c.steps(path+"/else", s.Else, lasts)
	case StepIf:
		c.needsCondition(path, s)
		c.needed(path+"/then", s.Then, lasts)
		c.steps(path+"/else", s.Else, lasts)
	case StepRepeat:
		c.repeat(path, s, lasts)
	case StepEach:
		c.each(path, s, lasts)
	case StepTogether, StepOneOf:
		if len(s.Branches) < 2 {
			c.say(path+"/branches", "There must be two at least.")
		}
		for i := range s.Branches {
			c.needed(fmt.Sprintf("%s/branches/%d/do", path, i), s.Branches[i].Do, lasts)
		}
	case StepWeb, StepPublish, StepProgram:
		c.outside(path, s)
		c.texts(path, s)
		c.steps(path+"/else", s.Else, lasts)
	default:
		c.single(path, s, lasts)
	}
}

// single checks a step that holds no others.
func (c *checker) single(path string, s *Step, lasts bool) {
	switch s.Kind {
	case StepRemember, StepPutBack:
		if s.Scene != "" {
			c.scene(path, s)
		} else if s.Group != "" {
			c.set(path, s.Group)
		} else {
			c.stepDevice(path, s.Device)
		}
	case StepAction:
		c.action(path, s)
		c.steps(path+"/else", s.Else, lasts)
	case StepPlay:
		c.play(path, s)
		c.texts(path, s)
	case StepScene:
		c.scene(path, s)
	case StepSequence:
		if s.Sequence == "" {
			c.say(path+"/sequence", "Choose a sequence.")
		} else if !c.lookup.HasSequence(s.Sequence) {
			c.say(path+"/sequence", "This sequence no longer exists.")
		}
	case StepRun, StepStop, StepPause, StepResume:
		if s.Sequence != "" && !c.lookup.HasSequence(s.Sequence) {
			c.say(path+"/sequence", "This sequence no longer exists.")
		}
		if s.Rule == "" && s.Kind != StepStop {
			c.say(path+"/rule", "Choose a rule.")
		} else if s.Rule != "" && !c.lookup.HasRule(s.Rule) {
			c.say(path+"/rule", "This rule no longer exists.")
		}
	case StepNotify, StepShow:
		if s.Dashboard != "" && !c.lookup.HasDashboard(s.Dashboard) {
			c.say(path+"/dashboard", "This dashboard no longer exists.")
		}
		if blank(s.Text) {
			c.say(path+"/text", "Say what is told.")
		}
		c.texts(path, s)
	case StepSay:
		c.saying(path, s)
		c.texts(path, s)
	default:
		c.say(path+"/kind", "%q is not a step.", s.Kind)
	}
}

// scene checks the scene that a step is about.
func (c *checker) scene(path string, s *Step) {
	if s.Scene == "" {
		c.say(path+"/scene", "Choose a scene.")
	} else if !c.lookup.HasScene(s.Scene) {
		c.say(path+"/scene", "This scene no longer exists.")
	}
}

// stepDevice checks the device of a step that is not about one property; the member whose turn it is will do.
func (c *checker) stepDevice(path, id string) bool {
	if id == Member && c.member != "" {
		return false // which device it is is known only then
	}
	return c.device(path, id)
}

func (c *checker) wait(path string, s *Step) {
	c.seconds(path+"/toSeconds", s.ToSeconds)
	switch {
	case s.Expression != "":
		c.expression(path+"/expression", s.Expression, func(x *expr.Expression) string {
			if x.Type != thing.TypeNumber {
				return fmt.Sprintf("It comes to %s, not to a number of seconds.", kindOf(x.Type))
			}
			return ""
		})
	case s.ForSeconds <= 0 && s.ToSeconds <= 0:
		c.say(path+"/forSeconds", "Say how long to wait.")
	case s.ToSeconds > 0 && s.ToSeconds < s.ForSeconds:
		c.say(path+"/toSeconds", "The longest is shorter than the shortest.")
	}
}

func (c *checker) needsCondition(path string, s *Step) {
	if s.Condition == nil {
		c.say(path+"/condition", "Say on which condition.")
		return
	}
	c.condition(path+"/condition", s.Condition, 0)
}

func (c *checker) repeat(path string, s *Step, lasts bool) {
	if s.Times < 0 || s.Times > maximumTimes {
		c.say(path+"/times", "From 0 to %d times.", maximumTimes)
	}
	if s.Condition != nil {
		c.condition(path+"/condition", s.Condition, 0)
	}
	c.needed(path+"/do", s.Do, lasts)
	if s.Times == 0 && !takesTime(s.Do) {
		c.say(path, "It would never come to an end within one moment: add a wait, or say how many times.")
	}
}

// takesTime reports whether a list of steps always waits somewhere.
func takesTime(steps []Step) bool {
	for i := range steps {
		s := &steps[i]
		switch s.Kind {
		case StepWait, StepRamp:
			return true
		case StepRepeat:
			if (s.Until || s.Condition == nil) && takesTime(s.Do) {
				return true
			}
		case StepIf:
			if len(s.Else) > 0 && takesTime(s.Then) && takesTime(s.Else) {
				return true
			}
		case StepTogether:
			for _, b := range s.Branches {
				if takesTime(b.Do) {
					return true
				}
			}
		case StepOneOf:
			all := len(s.Branches) > 0
			for _, b := range s.Branches {
				all = all && takesTime(b.Do)
			}
			if all {
				return true
			}
		}
	}
	return false
}

func (c *checker) each(path string, s *Step, lasts bool) {
	if !(s.GapSeconds >= 0 && s.GapSeconds <= maximumGap) {
		c.say(path+"/gapSeconds", "A gap is from 0 to 1 h.")
	}
	if s.Group == "" {
		c.say(path+"/group", "Choose a group, a room, a floor or a label.")
	} else {
		c.set(path, s.Group)
	}
	before := c.member
	c.member = s.Group
	c.needed(path+"/do", s.Do, lasts)
	c.member = before
}

// setting checks a step that sets or holds a property.
func (c *checker) setting(path string, s *Step, lasts bool) {
	if s.Kind == StepHold && !lasts && !s.Formulas.has(fieldFor, s.ForSeconds) {
		c.say(path+"/forSeconds", "Outside a “whenever” a hold needs a duration.")
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
			if !takes(p, x.Type) {
				return fmt.Sprintf("It comes to %s, which %s cannot be set to.", kindOf(x.Type), p.Title)
			}
			return ""
		})
	case s.From != nil:
		c.from(path, s, p)
	case s.Value.IsNone():
		c.say(path+"/value", "Choose a value.")
	case s.By:
		if p.Type != thing.TypeNumber || s.Value.Kind != thing.KindNumber {
			c.say(path+"/value", "%s is not a number that could be changed by an amount.", p.Title)
		}
	default:
		value := s.Value
		if s.Group != "" || s.Device == Member {
			value = Fit(p, value)
		}
		if err := p.Check(value); err != nil {
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
