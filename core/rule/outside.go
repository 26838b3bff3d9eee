package rule

import (
	"fmt"
	"strings"
	"time"

	"amvek/core/expr"
	"amvek/core/thing"
)

const (
	usualLimit   = 10 * time.Second
	maximumLimit = 300
)

// MayFail reports whether a kind of step may fail by itself, so that it says what is done then.
func MayFail(kind StepKind) bool {
	return kind == StepWeb || kind == StepPublish || kind == StepProgram || kind == StepScript
}

// Limit is how long a step that reaches outside may take.
func (s *Step) Limit() time.Duration {
	if s.LimitSeconds > 0 {
		return Seconds(s.LimitSeconds)
	}
	return usualLimit
}

// Texts are those of a step in which expressions may stand in braces.
func (s *Step) Texts() []string {
	switch s.Kind {
	case StepNotify, StepSay, StepQuestion, StepShow:
		return []string{s.Text}
	case StepWeb:
		return []string{s.Address, s.Text}
	case StepPublish:
		return []string{s.Topic, s.Text}
	case StepProgram:
		return s.Arguments
	default:
		return nil
	}
}

// outside checks a step that reaches outside.
func (c *checker) outside(path string, s *Step) {
	if !(s.LimitSeconds >= 0 && s.LimitSeconds <= maximumLimit) {
		c.say(path+"/limitSeconds", "From 0 to 300 s.")
	}
	switch s.Kind {
	case StepWeb:
		_, host, hypertext := strings.Cut(s.Address, "://")
		if blank(s.Address) {
			c.say(path+"/address", "Say which address.")
		} else if !hypertext || (!strings.HasPrefix(s.Address, "http:") && !strings.HasPrefix(s.Address, "https:")) || host == "" || strings.HasPrefix(host, "/") || strings.ContainsAny(strings.Split(host, "{")[0], " \t\n") {
			c.say(path+"/address", "An address begins with http:// or https://.")
		}
	case StepPublish:
		switch {
		case blank(s.Topic):
			c.say(path+"/topic", "Say under which topic.")
		case strings.ContainsAny(s.Topic, "#+") && !strings.Contains(s.Topic, "{"):
			c.say(path+"/topic", "A message has one topic: # and + stand for many.")
		}
	case StepProgram:
		if blank(s.Program) {
			c.say(path+"/program", "Choose a program.")
		} else if strings.ContainsAny(s.Program, "/\\") || strings.HasPrefix(s.Program, ".") {
			c.say(path+"/program", "Only the name of a file in the programs folder.")
		}
	}
	c.into(path, s)
}

// into checks where an answer goes, and which part of it.
func (c *checker) into(path string, s *Step) {
	if s.Into != "" {
		if p := c.lookup.Property(OwnDevice, s.Into); p == nil || !p.Writable {
			c.say(path+"/into", "This variable no longer exists, or is computed.")
		}
	}
	if s.Pick != "" && !strings.HasPrefix(s.Pick, "/") {
		c.say(path+"/pick", "A part is written like /main/temp.")
	}
}

// question checks a step that asks the household.
func (c *checker) question(path string, s *Step, lasts bool) {
	if blank(s.Text) {
		c.say(path+"/text", "Say what is asked.")
	}
	c.texts(path, s)
	c.seconds(path+"/atMostSeconds", s.AtMostSeconds)
	if len(s.Else) > 0 && !s.Formulas.has(fieldAtMost, s.AtMostSeconds) {
		c.say(path+"/atMostSeconds", "Say how long to wait: what is done otherwise would never be done.")
	}
	if len(s.Branches) == 0 {
		c.say(path+"/branches", "Give at least one answer.")
	}
	seen := map[string]bool{}
	for i := range s.Branches {
		at := fmt.Sprintf("%s/branches/%d", path, i)
		answer := strings.TrimSpace(s.Branches[i].Answer)
		switch {
		case answer == "":
			c.say(at+"/answer", "Say what the answer is.")
		case seen[answer]:
			c.say(at+"/answer", "This answer is there already.")
		}
		seen[answer] = true
		c.steps(at+"/do", s.Branches[i].Do, lasts)
	}
	c.steps(path+"/else", s.Else, lasts)
}

// saying checks a step that lets speakers say something.
func (c *checker) saying(path string, s *Step) {
	if blank(s.Text) {
		c.say(path+"/text", "Say what is said.")
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

// texts checks the expressions within the texts of a step.
func (c *checker) texts(path string, s *Step) {
	field := map[StepKind][]string{StepWeb: {"address", "text"}, StepPublish: {"topic", "text"}, StepProgram: {"arguments"}}[s.Kind]
	for i, text := range s.Texts() {
		at := path + "/text"
		if len(field) > 0 {
			at = path + "/" + field[min(i, len(field)-1)]
		}
		for _, part := range Parts(text) {
			if part.Unshut {
				c.say(at, "%s", Unshut)
			}
			if part.Expression != "" {
				c.expression(at, part.Expression, func(*expr.Expression) string { return "" })
			}
		}
	}
}
