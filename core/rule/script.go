package rule

import (
	"fmt"

	"amvek/core/script"
)

// script checks a script: whether it can be read, and whether there is what it names.
func (c *checker) script(path string, s *Step) {
	at := path + "/script"
	if blank(s.Script) {
		c.say(at, "Write what it does.")
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
