package trial

import (
	"fmt"
	"time"

	"amvek/core/thing"
)

// A run by a push button goes on when the button is let go; what ends sooner followed the finger.
const (
	followsFinger = time.Second
	runsOn        = 1500 * time.Millisecond
)

// shutterSteps are the classic mistakes with a shutter's module, in the order in which they can be told apart.
func (t *Trial) shutterSteps(now Now, position *thing.Property) []TrialStep {
	var steps []TrialStep
	if position.Only != nil {
		steps = append(steps, t.kind(now, position))
	}
	if style := styleOf(now); style != nil {
		steps = append(steps, t.style(now, position.Cover, style))
	}
	steps = append(steps, t.direction(now, position.Cover))
	travel := TrialStep{ID: "travel", Title: "Its travel times are known", How: "Measure them: it runs down, up and down by itself.", State: Open}
	if now.Travel(position.Name) {
		travel.State, travel.Evidence = Proved, "They are measured."
	}
	return append(steps, travel)
}

// styleOf returns the setting that says what the wall buttons are like, or nil.
func styleOf(now Now) *thing.Property {
	for i := range now.Description.Properties {
		p := &now.Description.Properties[i]
		if p.Setting == nil || p.Type != thing.TypeOption || p.Check(thing.Text("push")) != nil || p.Check(thing.Text("latch")) != nil {
			continue
		}
		return p
	}
	return nil
}

// kind is what is wired to the outputs, which only who wired it knows.
func (t *Trial) kind(now Now, position *thing.Property) TrialStep {
	kind := now.Description.Property(position.Only.Name)
	s := TrialStep{ID: "kind", Title: "Right operating kind", How: "Say what is wired to it.", State: Open, Question: "What is wired to it?"}
	for _, option := range kind.Options {
		title := option
		if kind.Setting != nil && kind.Setting.Meanings[option] != "" {
			title = kind.Setting.Meanings[option]
		}
		s.Choices = append(s.Choices, Choice{option, title})
	}
	v, _ := now.Value(kind.Name)
	switch a, given := t.Answers[s.ID]; {
	case !given:
	case thing.Text(a.Value) == v:
		s.prove(a.At, fmt.Sprintf("It is set to %s.", v.Text))
	default:
		s.broke(a.At, fmt.Sprintf("It is set to %s.", v.Text), kind.Name)
	}
	return s
}

// run is one run of the motor by a hand at the wall.
type run struct {
	output     string
	began, end time.Time // end is zero while it runs
}

// runs returns the runs by hand that began after a moment.
func (t *Trial) runs(c *thing.Cover, after time.Time) []run {
	var all []run
	for _, o := range t.Observed {
		if o.Kind != ByHand || (o.Name != c.Up && o.Name != c.Down) {
			continue
		}
		last := len(all) - 1
		switch {
		case o.Value.True():
			all = append(all, run{output: o.Name, began: o.At})
		case last >= 0 && all[last].output == o.Name && all[last].end.IsZero():
			all[last].end = o.At
		}
	}
	for len(all) > 0 && !all[0].began.After(after) {
		all = all[1:]
	}
	return all
}

// style is whether the module takes the wall buttons for what they are.
func (t *Trial) style(now Now, c *thing.Cover, style *thing.Property) TrialStep {
	s := TrialStep{ID: "style", Title: "Right button style", How: "Press a wall button briefly and let go: the shutter runs on.", State: Open}
	set, changed := now.Value(style.Name)
	runs := t.runs(c, changed)
	if len(runs) == 0 {
		return s
	}
	last := runs[len(runs)-1]
	switch ran := last.end.Sub(last.began); {
	case last.end.IsZero() && set == thing.Text("push"):
		s.prove(last.began, "It runs on after a press.")
	case last.end.IsZero():
	case set == thing.Text("push") && ran >= runsOn:
		s.prove(last.end, fmt.Sprintf("A press ran it for %.0f s.", ran.Seconds()))
	case ran < followsFinger:
		s.broke(last.end, "It moved only while the button was down.", style.Name)
	}
	s.Question, s.Choices = "Was the button let go at once, and did it do what that button does elsewhere?", yesNo
	if set == thing.Text("latch") && !last.end.IsZero() && ran(last) >= runsOn {
		t.answered(&s, last.began, "Somebody saw it follow the switch.", "Somebody saw that it did not.")
		if s.State == Broken {
			s.Look = []string{style.Name}
		}
		return s
	}
	s.Question, s.Choices = "", nil
	return s
}

func ran(r run) time.Duration { return r.end.Sub(r.began) }

// direction is whether up is up.
func (t *Trial) direction(now Now, c *thing.Cover) TrialStep {
	s := TrialStep{ID: "direction", Title: "Right direction", How: "Press the upper button at the wall, and watch which way it goes.", State: Open}
	reversed, changed := thing.Value{}, time.Time{}
	if c.Reversed != "" {
		reversed, changed = now.Value(c.Reversed)
	}
	runs := t.runs(c, changed)
	if len(runs) == 0 {
		return s
	}
	last := runs[len(runs)-1]
	s.Question = "Which way did it go?"
	s.Choices = []Choice{{"up", "Up, it opened"}, {"down", "Down, it closed"}}
	believed := "down"
	if (last.output == c.Up) != reversed.True() {
		believed = "up"
	}
	a, given := t.Answers[s.ID]
	switch {
	case !given || a.At.Before(last.began):
	case a.Value == believed:
		s.prove(a.At, fmt.Sprintf("It went %s, as the hub believed.", a.Value))
	default:
		s.broke(a.At, fmt.Sprintf("It went %s, and the hub believed %s.", a.Value, believed))
		if c.Reversed != "" {
			s.Look = []string{c.Reversed}
		}
	}
	return s
}
