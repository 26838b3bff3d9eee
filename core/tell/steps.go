package tell

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"amvek/core/rule"
)

func (t *teller) steps(path string, steps []rule.Step, depth int) {
	for i := range steps {
		t.step(fmt.Sprintf("%s/%d", path, i), &steps[i], depth)
	}
}

func (t *teller) step(path string, s *rule.Step, depth int) {
	t.say(path, depth, "%s", t.words(s))
	for i, line := range strings.Split(strings.TrimSpace(s.Script), "\n") {
		if line != "" {
			t.say(fmt.Sprintf("%s/script/%d", path, i), depth+1, "%s", t.expression(line))
		}
	}
	if s.Condition != nil {
		t.condition(path+"/condition", s.Condition, depth+1, "")
	}
	t.steps(path+"/then", s.Then, depth+1)
	if len(s.Else) > 0 {
		t.say(path+"/else", depth, "%s", cmp.Or(words[s.Kind].otherwise, "otherwise"))
		t.steps(path+"/else", s.Else, depth+1)
	}
	t.steps(path+"/do", s.Do, depth+1)
	for i := range s.Branches {
		at := fmt.Sprintf("%s/branches/%d", path, i)
		joint := "this"
		if of := words[s.Kind].joint; of != nil {
			joint = of(s, i)
		}
		t.say(at, depth+1, "%s", joint)
		t.steps(at+"/do", s.Branches[i].Do, depth+2)
	}
}

// words says a step itself, without those within it.
func (t *teller) words(s *rule.Step) string {
	if of, known := words[s.Kind]; known {
		return of.say(t, s)
	}
	return string(s.Kind)
}

// given says what goes with an action.
func (t *teller) given(s *rule.Step) string {
	text := ""
	for _, name := range slices.Sorted(maps.Keys(s.Input)) {
		if part := s.Input[name]; part.Expression != "" {
			text += ", " + name + " worked out as " + t.expression(part.Expression)
		} else {
			text += ", " + name + " " + value(nil, part.Value)
		}
	}
	return text
}

// into says where the answer of a call goes.
func (t *teller) into(s *rule.Step) string {
	if s.Into == "" {
		return ""
	}
	return ", its answer into " + t.title(s.Into)
}

func (t *teller) about(s *rule.Step) string {
	switch {
	case s.Scene != "":
		return "all that scene " + t.title(s.Scene) + " sets"
	case s.Group != "":
		return "all " + t.title(s.Group)
	case s.Device == rule.Member:
		return "the one whose turn it is"
	default:
		return t.title(s.Device)
	}
}

func (t *teller) setting(s *rule.Step) string {
	if s.Scene != "" {
		return "hold scene " + t.title(s.Scene) + t.manner(s)
	}
	if s.Device == "" && s.Group == "" {
		return string(s.Kind) + " something to choose"
	}
	subject, p := t.subject(s.Device, s.Group, s.Property)
	text := string(s.Kind) + " " + subject
	switch to := map[rule.StepKind]string{rule.StepSet: " to ", rule.StepHold: " at ", rule.StepRamp: " to "}[s.Kind]; {
	case s.Expression != "":
		text += to + t.expression(s.Expression)
	case s.From != nil:
		from, _ := t.subject(s.From.Device, "", s.From.Name)
		text += to + "what " + from + " is at"
	case s.By:
		text += " by " + value(nil, s.Value)
	case !s.To.IsNone():
		text += to + value(p, s.Value) + " … " + value(p, s.To) + " by chance"
	default:
		text += to + value(p, s.Value)
	}
	return text + t.manner(s)
}

// manner says how something is set or held: for how long, how quickly, how firmly.
func (t *teller) manner(s *rule.Step) (text string) {
	if long := t.long(s.Formulas, "forSeconds", s.ForSeconds); s.Kind == rule.StepHold && long != "" {
		text += " for " + long
	}
	if long := t.long(s.Formulas, "fadeSeconds", s.FadeSeconds); long != "" {
		text += ", fading " + long
	}
	if s.UntilDone {
		text += ", and go on once it is done"
	}
	if s.Unattended {
		text += ", also with nobody there"
	}
	switch s.Firm {
	case rule.Firm:
		text += ", firmly"
	case rule.Safety:
		text += ", for safety"
	}
	return text
}
