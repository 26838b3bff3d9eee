package tell

import (
	"fmt"
	"strings"

	"amvek/core/rule"
)

// stepWords are the words of a kind of step.
type stepWords struct {
	// say says a step itself, without those within it.
	say func(t *teller, s *rule.Step) string
	// otherwise says when the steps are done that stand under else; "otherwise" where it is absent.
	otherwise string
	// joint says what stands before a branch, by its number from 0.
	joint func(s *rule.Step, branch int) string
}

// words are the words of each kind of step. The kinds are described in [amvek/core/rule].
var words = map[rule.StepKind]stepWords{}

// plainly makes the words of a step that are always the same.
func plainly(text string) func(*teller, *rule.Step) string {
	return func(*teller, *rule.Step) string { return text }
}

const (
	ifItFails  = "if that fails"
	whenOver   = "when that time is over"
	notFollows = "if it does not follow"
	nobody     = "if nobody answers"
)

// The steps that give a property a value.
func init() {
	words[rule.StepSet] = stepWords{say: (*teller).setting, otherwise: notFollows}
	words[rule.StepHold] = stepWords{say: (*teller).setting}
	words[rule.StepThrough] = stepWords{say: (*teller).through}
	words[rule.StepRamp] = stepWords{say: func(t *teller, s *rule.Step) string {
		text := t.setting(s) + " over " + t.long(s.Formulas, "forSeconds", s.ForSeconds)
		if s.Even {
			text += ", even to the eye"
		}
		return text
	}}
}

// The steps that wait, decide, and go round.
func init() {
	words[rule.StepWait] = stepWords{say: (*teller).wait}
	words[rule.StepUntil] = stepWords{say: func(t *teller, s *rule.Step) string {
		if long := t.long(s.Formulas, "atMostSeconds", s.AtMostSeconds); long != "" {
			return "wait until, for at most " + long
		}
		return "wait until"
	}, otherwise: whenOver}
	words[rule.StepIf] = stepWords{say: plainly("if")}
	words[rule.StepRepeat] = stepWords{say: func(_ *teller, s *rule.Step) string {
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
	}}
	words[rule.StepEach] = stepWords{say: func(t *teller, s *rule.Step) string {
		if long := t.long(s.Formulas, "gapSeconds", s.GapSeconds); long != "" {
			return fmt.Sprintf("for each of %s, with a gap of %s", t.title(s.Group), long)
		}
		return "for each of " + t.title(s.Group)
	}}
	words[rule.StepTogether] = stepWords{say: plainly("at the same time"), joint: joints("and this")}
	words[rule.StepOneOf] = stepWords{say: plainly("one of these, by chance"), joint: joints("or this")}
}

// joints are the words before branches of which the first is this.
func joints(next string) func(*rule.Step, int) string {
	return func(_ *rule.Step, branch int) string {
		if branch == 0 {
			return "this"
		}
		return next
	}
}

// applying says which scene a step applies, or which next.
func (t *teller) applying(s *rule.Step) string {
	text := "apply scene " + t.title(s.Scene)
	if len(s.Scenes) > 0 {
		titles := make([]string, len(s.Scenes))
		for i, id := range s.Scenes {
			titles[i] = t.title(id)
		}
		text = "apply the next of the scenes " + strings.Join(titles, ", ")
	}
	if s.OrOff {
		text += "; where it is in effect, its lights go off"
	}
	return text
}

// through says a step that goes through values.
func (t *teller) through(s *rule.Step) string {
	subject, property := t.subject(s.Device, s.Group, s.Property)
	values := make([]string, len(s.Values))
	for i, v := range s.Values {
		values[i] = value(property, v)
	}
	if s.Once {
		text := "set " + subject + " to the next of " + strings.Join(values, ", ")
		if s.ForNow {
			text += ", for now only"
		}
		return text
	}
	text := "step " + subject + " through " + strings.Join(values, ", ") + ", every " + duration(s.GapSeconds)
	if s.ToAndFro {
		text += ", to and fro"
	}
	if s.Dial != nil {
		text += ", faster or slower by " + t.at(s.Dial.Device, s.Dial.Name)
	}
	if s.AtMostSeconds > 0 {
		text += ", for at most " + duration(s.AtMostSeconds)
	}
	if s.ForNow {
		text += ", for now only"
	}
	return text
}

func (t *teller) wait(s *rule.Step) string {
	switch {
	case s.ToSeconds > 0:
		return fmt.Sprintf("wait %s to %s by chance", duration(s.ForSeconds), duration(s.ToSeconds))
	case s.Expression != "":
		return "wait for as many seconds as " + t.expression(s.Expression)
	default:
		return "wait " + duration(s.ForSeconds)
	}
}

// The steps about devices as a whole, and scenes and sequences of them.
func init() {
	words[rule.StepRemember] = stepWords{say: func(t *teller, s *rule.Step) string { return "remember how " + t.about(s) + " is" }}
	words[rule.StepPutBack] = stepWords{say: func(t *teller, s *rule.Step) string { return "put " + t.about(s) + " back as remembered" }}
	words[rule.StepAction] = stepWords{say: func(t *teller, s *rule.Step) string {
		return "ask " + t.about(s) + " to " + s.Action + t.given(s) + t.into(s)
	}, otherwise: ifItFails}
	words[rule.StepPlay] = stepWords{say: func(t *teller, s *rule.Step) string {
		return "play “" + t.expression(s.Text) + "” on " + t.about(s)
	}}
	words[rule.StepScene] = stepWords{say: (*teller).applying}
	words[rule.StepLight] = stepWords{say: func(t *teller, s *rule.Step) string {
		return t.title(s.Light) + ": " + LightDone(s.Verb, s.Value)
	}}
	words[rule.StepSequence] = stepWords{say: func(t *teller, s *rule.Step) string {
		if s.OrOff {
			return "start " + t.title(s.Sequence) + ", or stop it while it runs"
		}
		return "start " + t.title(s.Sequence)
	}}
}

// The steps about other rules.
func init() {
	words[rule.StepRun] = stepWords{say: func(t *teller, s *rule.Step) string { return "run rule " + t.title(s.Rule) }}
	words[rule.StepPause] = stepWords{say: func(t *teller, s *rule.Step) string { return "pause rule " + t.title(s.Rule) }}
	words[rule.StepResume] = stepWords{say: func(t *teller, s *rule.Step) string { return "resume rule " + t.title(s.Rule) }}
	words[rule.StepStop] = stepWords{say: func(t *teller, s *rule.Step) string {
		switch {
		case s.Sequence != "":
			return "stop sequence " + t.title(s.Sequence)
		case s.Rule == "":
			return "stop this run"
		default:
			return "stop rule " + t.title(s.Rule)
		}
	}}
}

// The steps that tell the household something, and ask it.
func init() {
	words[rule.StepNotify] = stepWords{say: func(t *teller, s *rule.Step) string { return "tell the household “" + t.expression(s.Text) + "”" }}
	words[rule.StepSay] = stepWords{say: func(t *teller, s *rule.Step) string {
		return "let " + t.about(s) + " say “" + t.expression(s.Text) + "”"
	}}
	words[rule.StepShow] = stepWords{say: func(t *teller, s *rule.Step) string {
		where := "all panels"
		if s.Dashboard != "" {
			where = "panels of " + t.title(s.Dashboard)
		}
		text := "show “" + t.expression(s.Text) + "” on " + where
		if long := t.long(s.Formulas, "forSeconds", s.ForSeconds); long != "" {
			return text + " for " + long
		}
		return text + " until somebody has seen it"
	}}
	words[rule.StepQuestion] = stepWords{say: func(t *teller, s *rule.Step) string {
		text := "ask the household “" + t.expression(s.Text) + "”"
		if long := t.long(s.Formulas, "atMostSeconds", s.AtMostSeconds); long != "" {
			text += ", waiting for at most " + long
		}
		return text
	}, otherwise: nobody, joint: func(s *rule.Step, branch int) string { return "“" + s.Branches[branch].Answer + "”" }}
}

// The steps that reach outside the home, and scripts.
func init() {
	words[rule.StepWeb] = stepWords{say: func(t *teller, s *rule.Step) string {
		return "call " + t.expression(s.Address) + t.into(s)
	}, otherwise: ifItFails}
	words[rule.StepPublish] = stepWords{say: func(t *teller, s *rule.Step) string {
		return "publish “" + t.expression(s.Text) + "” under " + t.expression(s.Topic)
	}, otherwise: ifItFails}
	words[rule.StepProgram] = stepWords{say: func(t *teller, s *rule.Step) string {
		return "run the program " + s.Program + t.into(s)
	}, otherwise: ifItFails}
	words[rule.StepScript] = stepWords{say: plainly("run the script:"), otherwise: ifItFails}
}
