package tell

import (
	"fmt"
	"slices"
	"strings"

	"amvek/core/light"
	"amvek/core/thing"
)

// Light says what the light of a room has, and how its lamps take part.
func Light(l *light.RoomLight, names Names) []Line {
	t := &teller{names: names}
	t.head(l.Title, l.Note)
	titles := func(ids []string) string {
		all := make([]string, len(ids))
		for i, id := range ids {
			all[i] = t.title(id)
		}
		return strings.Join(all, ", ")
	}
	if len(l.Rooms) > 0 {
		t.say("rooms", 0, "The lamps of %s", titles(l.Rooms))
	}
	if len(l.Lamps) > 0 {
		t.say("lamps", 0, "With %s", titles(l.Lamps))
	}
	if len(l.Without) > 0 {
		t.say("without", 0, "Without %s", titles(l.Without))
	}
	if l.Curve != "" {
		t.say("curve", 0, "Lamps that are switched on follow %s", t.title(l.Curve))
	}
	devices := make([]string, 0, len(l.Circuits))
	for id := range l.Circuits {
		devices = append(devices, id)
	}
	slices.Sort(devices)
	for _, id := range devices {
		c := l.Circuits[id]
		if c.JoinsAbove > 0 {
			t.say("circuits/"+id, 0, "%s joins from %g %% on", t.title(id), c.JoinsAbove)
		}
		switch c.Curve {
		case "":
		case light.NoCurve:
			t.say("circuits/"+id, 0, "%s follows no day curve", t.title(id))
		default:
			t.say("circuits/"+id, 0, "%s follows %s", t.title(id), t.title(c.Curve))
		}
		if c.OwnTone {
			t.say("circuits/"+id, 0, "%s keeps its own color and white", t.title(id))
		}
	}
	for i, s := range l.Scenes {
		text := "Scene " + t.title(s.Scene)
		if s.Skip {
			text += ", skipped"
		}
		t.say(fmt.Sprintf("scenes/%d", i), 0, "%s", text)
	}
	return t.lines
}

// Curve says what a day curve goes through, in the order in which its points are written.
func Curve(c *light.DayCurve, names Names) []Line {
	t := &teller{names: names}
	t.head(c.Title, c.Note)
	for i := range c.Points {
		p, says := &c.Points[i], []string{}
		if p.Level > 0 {
			says = append(says, fmt.Sprintf("%g %%", p.Level))
		}
		if p.Kelvin > 0 {
			says = append(says, fmt.Sprintf("%g K", p.Kelvin))
		}
		t.say(fmt.Sprintf("points/%d", i), 0, "At %s: %s", moment(&p.At), strings.Join(says, ", "))
	}
	return t.lines
}

// lightVerbs say what is done with the light of a room.
var lightVerbs = map[light.Verb]string{
	light.Off: "all off", light.On: "all on", light.Follow: "back to its day curve", light.Full: "full", light.Next: "its next scene", light.NextOff: "its next scene, off after the last",
	light.Previous: "the scene before",
}

// LightDone says what is done with the light of a room, such as "10 % brighter".
func LightDone(verb light.Verb, v thing.Value) string {
	by := func(less, more string, n float64) string {
		if n < 0 {
			return less
		}
		return more
	}
	switch verb {
	case light.LevelTo:
		return fmt.Sprintf("to %g %%", v.Number)
	case light.LevelBy:
		return fmt.Sprintf("%g %% %s", max(v.Number, -v.Number), by("darker", "brighter", v.Number))
	case light.WhiteTo:
		return fmt.Sprintf("white of %g K", v.Number)
	case light.WhiteBy:
		return by("warmer", "cooler", v.Number)
	case light.ColorTo:
		return "a color"
	}
	return lightVerbs[verb]
}
