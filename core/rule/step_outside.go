package rule

import (
	"fmt"
	"strings"
	"time"

	"amvek/core/expr"
	"amvek/core/script"
)

// The steps that reach outside the home, and scripts.
func init() {
	outside := func(part func(c *checker, path string, s *Step)) func(*checker, string, *Step, bool) {
		return func(c *checker, path string, s *Step, lasts bool) {
			if !(s.LimitSeconds >= 0 && s.LimitSeconds <= maximumLimit) {
				c.say(path+"/limitSeconds", "From 0 to 300 s.")
			}
			part(c, path, s)
			c.into(path, s)
			c.texts(path, s)
			c.steps(path+"/else", s.Else, lasts)
		}
	}
	stepKinds[StepWeb] = stepTraits{
		fields: []string{"address", "method", "ownMachine", "text", "into", "pick", "limitSeconds", "else"}, fails: true, texts: []string{"address", "text"},
		check: outside((*checker).web),
	}
	stepKinds[StepPublish] = stepTraits{
		fields: []string{"topic", "text", "retain", "limitSeconds", "else"}, fails: true, texts: []string{"topic", "text"},
		check: outside((*checker).published),
	}
	stepKinds[StepProgram] = stepTraits{
		fields: []string{"program", "arguments", "into", "pick", "limitSeconds", "else"}, fails: true, texts: []string{"arguments"},
		check: outside((*checker).program),
	}
	stepKinds[StepScript] = stepTraits{
		fields: []string{"script", "else"}, fails: true,
		check: func(c *checker, path string, s *Step, lasts bool) {
			c.script(path, s)
			c.steps(path+"/else", s.Else, lasts)
		},
	}
}

// web checks what web address is called.
func (c *checker) web(path string, s *Step) {
	_, host, hypertext := strings.Cut(s.Address, "://")
	if blank(s.Address) {
		c.open(path+"/address", "Say which address.")
	} else if !hypertext || (!strings.HasPrefix(s.Address, "http:") && !strings.HasPrefix(s.Address, "https:")) || host == "" ||
		strings.HasPrefix(host, "/") || strings.ContainsAny(strings.Split(host, "{")[0], " \t\n") {
		c.say(path+"/address", "An address begins with http:// or https://.")
	}
}

// published checks under which topic a message is published.
func (c *checker) published(path string, s *Step) {
	switch {
	case blank(s.Topic):
		c.open(path+"/topic", "Say under which topic.")
	case strings.ContainsAny(s.Topic, "#+") && !strings.Contains(s.Topic, "{"):
		c.say(path+"/topic", "A message has one topic: # and + stand for many.")
	}
}

// program checks which program is run.
func (c *checker) program(path string, s *Step) {
	if blank(s.Program) {
		c.open(path+"/program", "Choose a program.")
	} else if strings.ContainsAny(s.Program, "/\\") || strings.HasPrefix(s.Program, ".") {
		c.say(path+"/program", "Only the name of a file in the programs folder.")
	}
}

// texts checks the expressions within the texts of a step.
func (c *checker) texts(path string, s *Step) {
	s.fieldTexts(func(field, text string) {
		at := path + "/" + field
		for _, part := range Parts(text) {
			if part.Unshut {
				c.say(at, "%s", Unshut)
			}
			if part.Expression != "" {
				c.expression(at, part.Expression, func(*expr.Expression) string { return "" })
			}
		}
	})
}

const (
	usualLimit   = 10 * time.Second
	maximumLimit = 300
)

// Limit is how long a step that reaches outside may take.
func (s *Step) Limit() time.Duration {
	if s.LimitSeconds > 0 {
		return Seconds(s.LimitSeconds)
	}
	return usualLimit
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

// script checks a script: whether it can be read, and whether there is what it names.
func (c *checker) script(path string, s *Step) {
	at := path + "/script"
	if blank(s.Script) {
		c.open(at, "Write what it does.")
		return
	}
	program, problems := script.Compile(s.Script)
	for _, p := range problems {
		c.say(at, "At line %d, character %d: %s", p.Line, p.Column, p.Message)
	}
	if program == nil {
		return
	}
	m := &program.Mentions
	for _, ref := range m.Properties {
		if !c.lookup.HasDevice(ref.Device) {
			c.say(at, "There is no device %q.", ref.Device)
		} else if ref.Device == OwnDevice && c.lookup.Property(ref.Device, ref.Name) == nil {
			c.say(at, "There is no variable %q.", ref.Name)
		}
	}
	for _, kind := range []struct {
		name string
		ids  []string
		has  func(string) bool
	}{{"device", m.Devices, c.lookup.HasDevice}, {"group", m.Groups, c.lookup.HasGroup}, {"scene", m.Scenes, c.lookup.HasScene}, {"rule", m.Rules, c.lookup.HasRule}} {
		for _, id := range kind.ids {
			if !kind.has(id) {
				c.say(at, "%s", fmt.Sprintf("There is no %s %q.", kind.name, id))
			}
		}
	}
}

// script adds what a script refers to.
func (u *Uses) script(text string) {
	if text == "" {
		return
	}
	m := script.Mention(text)
	for _, ref := range m.Properties {
		u.property(ref.Device, ref.Name)
	}
	for _, list := range []struct{ to, ids *[]string }{{&u.Devices, &m.Devices}, {&u.Groups, &m.Groups}, {&u.Rooms, &m.Rooms}, {&u.Scenes, &m.Scenes}, {&u.Rules, &m.Rules}} {
		for _, id := range *list.ids {
			u.add(list.to, id)
		}
	}
}
