package rule

import (
	"fmt"
	"strings"

	"amvek/core/thing"
)

// The steps that tell the household something, and ask it.
func init() {
	told := func(c *checker, path string, s *Step, _ bool) {
		if s.Dashboard != "" && !c.lookup.HasDashboard(s.Dashboard) {
			c.say(path+"/dashboard", "This dashboard no longer exists.")
		}
		if blank(s.Text) {
			c.open(path+"/text", "Say what is told.")
		}
		c.texts(path, s)
	}
	stepKinds[StepNotify] = stepTraits{fields: []string{"text"}, atOnce: true, texts: []string{"text"}, check: told}
	stepKinds[StepShow] = stepTraits{
		fields: []string{"text", "dashboard", "forSeconds", "formulas"}, formulas: []string{fieldFor}, atOnce: true, texts: []string{"text"},
		check: told,
	}
	stepKinds[StepSay] = stepTraits{
		fields: []string{"device", "group", "property", "text"}, atOnce: true, texts: []string{"text"},
		check: func(c *checker, path string, s *Step, _ bool) {
			c.saying(path, s)
			c.texts(path, s)
		},
	}
	stepKinds[StepQuestion] = stepTraits{
		fields: []string{"text", "branches", "atMostSeconds", "formulas", "else"}, formulas: []string{fieldAtMost}, texts: []string{"text"},
		check: (*checker).question,
	}
}

// question checks a step that asks the household.
func (c *checker) question(path string, s *Step, lasts bool) {
	if blank(s.Text) {
		c.open(path+"/text", "Say what is asked.")
	}
	c.texts(path, s)
	if len(s.Branches) == 0 {
		c.say(path+"/branches", "Give at least one answer.")
	}
	seen := map[string]bool{}
	for i := range s.Branches {
		at := fmt.Sprintf("%s/branches/%d", path, i)
		answer := strings.TrimSpace(s.Branches[i].Answer)
		switch {
		case answer == "":
			c.open(at+"/answer", "Say what the answer is.")
		case seen[answer]:
			c.say(at+"/answer", "This answer is there already.")
		}
		seen[answer] = true
		c.steps(at+"/do", s.Branches[i].Do, lasts)
	}
	c.atMost(path, s, lasts)
}

// saying checks a step that lets speakers say something.
func (c *checker) saying(path string, s *Step) {
	if blank(s.Text) {
		c.open(path+"/text", "Say what is said.")
	}
	var p *thing.Property
	if s.Group != "" {
		if refs := c.members(path, s.Group, s.Property); len(refs) > 0 {
			p = c.lookup.Property(refs[0].Device, refs[0].Name)
		}
	} else {
		p = c.property(path, s.Device, s.Property)
	}
	if p != nil && (!p.Writable || p.Type != thing.TypeText) {
		c.say(path+"/property", "%s cannot be spoken.", p.Title)
	}
}
