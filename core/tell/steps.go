package tell

import (
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
		t.say(path+"/else", depth, "%s", otherwise(s.Kind))
		t.steps(path+"/else", s.Else, depth+1)
	}
	t.steps(path+"/do", s.Do, depth+1)
	for i := range s.Branches {
		at := fmt.Sprintf("%s/branches/%d", path, i)
		joint := "and this"
		if s.Kind == rule.StepOneOf {
			joint = "or this"
		}
		if i == 0 {
			joint = "this"
		}
		if s.Kind == rule.StepQuestion {
			joint = "“" + s.Branches[i].Answer + "”"
		}
		t.say(at, depth+1, "%s", joint)
		t.steps(at+"/do", s.Branches[i].Do, depth+2)
	}
}

func otherwise(kind rule.StepKind) string {
	switch {
	case kind == rule.StepUntil:
		return "when that time is over"
	case kind == rule.StepQuestion:
		return "if nobody answers"
	case rule.MayFail(kind) || kind == rule.StepAction:
		return "if that fails"
	case kind == rule.StepSet:
		return "if it does not follow"
	default:
		return "otherwise"
	}
}

// words says a step itself, without those within it.
func (t *teller) words(s *rule.Step) string {
	switch s.Kind {
	case rule.StepSet, rule.StepHold:
		return t.setting(s)
	case rule.StepWait:
		if s.ToSeconds > 0 {
			return fmt.Sprintf("wait %s to %s by chance", duration(s.ForSeconds), duration(s.ToSeconds))
		}
		if s.Expression != "" {
			return "wait for as many seconds as " + t.expression(s.Expression)
		}
		return "wait " + duration(s.ForSeconds)
	case rule.StepUntil:
		if long := t.long(s.Formulas, "atMostSeconds", s.AtMostSeconds); long != "" {
			return "wait until, for at most " + long
		}
		return "wait until"
	case rule.StepIf:
		return "if"
	case rule.StepRepeat:
		switch {
		case s.Condition != nil && s.Until:
			return "repeat until"
		case s.Condition != nil:
			return "repeat while"
		case s.Times > 0:
			return fmt.Sprintf("repeat %d times", s.Times)
		default:
			return "repeat until it is stopped"
		}
	case rule.StepEach:
		if long := t.long(s.Formulas, "gapSeconds", s.GapSeconds); long != "" {
			return fmt.Sprintf("for each of %s, with a gap of %s", t.title(s.Group), long)
		}
		return "for each of " + t.title(s.Group)
	case rule.StepTogether:
		return "at the same time"
	case rule.StepOneOf:
		return "one of these, by chance"
	case rule.StepRemember:
		return "remember how " + t.about(s) + " is"
	case rule.StepPutBack:
		return "put " + t.about(s) + " back as remembered"
	case rule.StepAction:
		return "ask " + t.about(s) + " to " + s.Action + t.given(s) + t.into(s)
	case rule.StepPlay:
		return "play “" + t.expression(s.Text) + "” on " + t.about(s)
	case rule.StepScene:
		return "apply scene " + t.title(s.Scene)
	case rule.StepSequence:
		return "start sequence " + t.title(s.Sequence)
	case rule.StepRun:
		return "run rule " + t.title(s.Rule)
	case rule.StepStop:
		if s.Sequence != "" {
			return "stop sequence " + t.title(s.Sequence)
		}
		if s.Rule == "" {
			return "stop this run"
		}
		return "stop rule " + t.title(s.Rule)
	case rule.StepSay:
		return "let " + t.about(s) + " say “" + t.expression(s.Text) + "”"
	case rule.StepWeb:
		return "call " + t.expression(s.Address) + t.into(s)
	case rule.StepPublish:
		return "publish “" + t.expression(s.Text) + "” under " + t.expression(s.Topic)
	case rule.StepProgram:
		return "run the program " + s.Program + t.into(s)
	case rule.StepRamp:
		return t.setting(s) + " over " + t.long(s.Formulas, "forSeconds", s.ForSeconds)
	case rule.StepQuestion:
		text := "ask the household “" + t.expression(s.Text) + "”"
		if long := t.long(s.Formulas, "atMostSeconds", s.AtMostSeconds); long != "" {
			text += ", waiting for at most " + long
		}
		return text
	case rule.StepShow:
		where := "all panels"
		if s.Dashboard != "" {
			where = "panels of " + t.title(s.Dashboard)
		}
		text := "show “" + t.expression(s.Text) + "” on " + where
		if long := t.long(s.Formulas, "forSeconds", s.ForSeconds); long != "" {
			return text + " for " + long
		}
		return text + " until somebody has seen it"
	case rule.StepPause:
		return "pause rule " + t.title(s.Rule)
	case rule.StepResume:
		return "let rule " + t.title(s.Rule) + " act again"
	case rule.StepScript:
		return "run the script:"
	case rule.StepNotify:
		return "tell the household “" + t.expression(s.Text) + "”"
	default:
		return string(s.Kind)
	}
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
