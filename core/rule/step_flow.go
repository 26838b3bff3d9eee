package rule

import (
	"fmt"

	"amvek/core/expr"
	"amvek/core/thing"
)

// The steps that wait, decide, and go round.
func init() {
	stepKinds[StepWait] = stepTraits{
		fields: []string{"forSeconds", "toSeconds", "expression"}, takesTime: always,
		check: func(c *checker, path string, s *Step, _ bool) { c.wait(path, s) },
	}
	stepKinds[StepUntil] = stepTraits{
		fields: []string{"condition", "atMostSeconds", "formulas", "else"}, formulas: []string{fieldAtMost},
		check: func(c *checker, path string, s *Step, lasts bool) {
			c.needsCondition(path, s)
			c.atMost(path, s, lasts)
		},
	}
	stepKinds[StepIf] = stepTraits{
		fields:    []string{"condition", "then", "else"},
		takesTime: func(s *Step) bool { return len(s.Else) > 0 && takesTime(s.Then) && takesTime(s.Else) },
		check: func(c *checker, path string, s *Step, lasts bool) {
			c.needsCondition(path, s)
			c.needed(path+"/then", s.Then, lasts)
			c.steps(path+"/else", s.Else, lasts)
		},
	}
	stepKinds[StepRepeat] = stepTraits{
		fields:    []string{"condition", "until", "times", "do"},
		takesTime: func(s *Step) bool { return (s.Until || s.Condition == nil) && takesTime(s.Do) },
		check:     (*checker).repeat,
	}
	stepKinds[StepEach] = stepTraits{
		fields: []string{"group", "gapSeconds", "formulas", "do"}, formulas: []string{fieldGap},
		check: (*checker).each,
	}
	stepKinds[StepTogether] = stepTraits{
		fields: []string{"branches"},
		takesTime: func(s *Step) bool {
			for i := range s.Branches {
				if takesTime(s.Branches[i].Do) {
					return true
				}
			}
			return false
		},
		check: (*checker).branches,
	}
	stepKinds[StepOneOf] = stepTraits{
		fields: []string{"branches"},
		takesTime: func(s *Step) bool {
			for i := range s.Branches {
				if !takesTime(s.Branches[i].Do) {
					return false
				}
			}
			return len(s.Branches) > 0
		},
		check: (*checker).branches,
	}
}

// branches checks a step of several lists of steps.
func (c *checker) branches(path string, s *Step, lasts bool) {
	if len(s.Branches) < 2 {
		c.say(path+"/branches", "There must be two at least.")
	}
	for i := range s.Branches {
		c.needed(fmt.Sprintf("%s/branches/%d/do", path, i), s.Branches[i].Do, lasts)
	}
}

// atMost checks how long a step waits, and what is done when that is over.
func (c *checker) atMost(path string, s *Step, lasts bool) {
	c.seconds(path+"/atMostSeconds", s.AtMostSeconds)
	if len(s.Else) > 0 && !s.Formulas.has(fieldAtMost, s.AtMostSeconds) {
		c.say(path+"/atMostSeconds", "Say how long to wait: what is done otherwise would never be done.")
	}
	c.steps(path+"/else", s.Else, lasts)
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
		c.open(path+"/forSeconds", "Say how long to wait.")
	case s.ToSeconds > 0 && s.ToSeconds < s.ForSeconds:
		c.say(path+"/toSeconds", "The longest is shorter than the shortest.")
	}
}

func (c *checker) needsCondition(path string, s *Step) {
	if s.Condition == nil {
		c.open(path+"/condition", "Say on which condition.")
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

func (c *checker) each(path string, s *Step, lasts bool) {
	if !(s.GapSeconds >= 0 && s.GapSeconds <= maximumGap) {
		c.say(path+"/gapSeconds", "A gap is from 0 to 1 h.")
	}
	if s.Group == "" {
		c.open(path+"/group", "Choose a group, a room, a floor or a label.")
	} else {
		c.set(path, s.Group)
	}
	before := c.member
	c.member = s.Group
	c.needed(path+"/do", s.Do, lasts)
	c.member = before
}
