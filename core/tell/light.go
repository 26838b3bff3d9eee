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

// lightVerbs say what is done with the light of a room.
var lightVerbs = map[light.Verb]string{
	light.Off: "all off", light.Full: "full", light.Next: "its next scene", light.NextOff: "its next scene, off after the last",
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
