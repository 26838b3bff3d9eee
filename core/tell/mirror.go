package tell

import (
	"fmt"

	"amvek/core/mirror"
)

// Mirror says what is kept at the same state.
func Mirror(m *mirror.Mirror, names Names) []Line {
	t := &teller{names: names, lines: Head(m.Title, m.Note, m.Enabled)}
	for i := range m.Members {
		member := &m.Members[i]
		t.say(fmt.Sprintf("members/%d", i), 0, "Keeps %s at the same state", t.at(member.Device, member.Property))
	}
	if m.Winner == mirror.First {
		t.say("winner", 0, "After a time apart all follow the first")
	} else {
		t.say("winner", 0, "After a time apart all follow the one that was changed last")
	}
	return t.lines
}
