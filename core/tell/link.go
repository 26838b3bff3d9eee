package tell

import (
	"fmt"
	"strings"

	"amvek/core/link"
)

// Link says what feeds a link, what is done with it on the way, and what it sets.
func Link(l *link.Link, names Names) []Line {
	t := &teller{names: names, lines: Head(l.Title, l.Note, l.Enabled)}
	for i := range l.Sources {
		s := &l.Sources[i]
		t.say(fmt.Sprintf("sources/%d", i), 0, "From %s", t.at(s.Device, s.Ref().Name))
	}
	for i := range l.Stages {
		t.say(fmt.Sprintf("stages/%d", i), 1, "%s", t.stage(&l.Stages[i]))
	}
	for i := range l.Targets {
		s := &l.Targets[i]
		t.say(fmt.Sprintf("targets/%d", i), 0, "To %s", t.at(s.Device, s.Property))
	}
	if l.Holds {
		t.say("holds", 0, "It holds them, like a rule that lasts")
	} else {
		t.say("holds", 0, "It sets them, like a hand")
	}
	t.field("modes", "Only in", t.modes(l.Modes))
	if l.Only != "" {
		t.field("only", "Only while", t.expression(l.Only))
	}
	return t.lines
}

// at names a property or an event of a device.
func (t *teller) at(device, name string) string {
	title := t.title(device)
	if p := t.names.Property(device, name); p != nil {
		return title + " " + strings.ToLower(p.Title)
	}
	return strings.TrimSpace(title + " " + name)
}

// stage says what is done with each value.
func (t *teller) stage(s *link.Stage) string {
	switch s.Kind {
	case link.Changes:
		return "only changes"
	case link.DeadBand:
		return fmt.Sprintf("only changes of %g or more", s.Width)
	case link.Limit:
		return fmt.Sprintf("at most %g a second, the last is never lost", s.PerSecond)
	case link.Smooth:
		return "smoothed over " + duration(s.Seconds)
	case link.Delay:
		return duration(s.Seconds) + " later"
	case link.Map:
		return "from " + span(s.In) + " to " + span(s.Out) + curve(s)
	case link.Bounds:
		return fmt.Sprintf("not below %g, not above %g", s.Low, s.High)
	case link.Relative:
		return fmt.Sprintf("adds %g for each step, from %g to %g", s.Step, s.Low, s.High)
	case link.ZeroOff:
		return fmt.Sprintf("up to %g is off", s.Below)
	case link.Expression:
		return "worked out as " + t.expression(s.Text)
	}
	return string(s.Kind)
}

func span(r *link.Range) string {
	if r == nil {
		return "…"
	}
	return fmt.Sprintf("%g … %g", r.From, r.To)
}

func curve(s *link.Stage) string {
	switch s.Curve {
	case link.Eye:
		return ", even to the eye"
	case link.Points:
		points := make([]string, len(s.Points))
		for i, p := range s.Points {
			points[i] = fmt.Sprintf("%g %% → %g %%", p.X*100, p.Y*100)
		}
		return ", by a curve: " + strings.Join(points, ", ")
	}
	return ""
}
