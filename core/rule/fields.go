package rule

import (
	"reflect"
	"slices"
	"strings"
)

// value are the fields by which a step says to what it sets something.
var value = []string{"value", "to", "by", "from", "expression"}

// stepFields are the fields that count in each kind of step, by their names in the document. What else is there would
// do nothing, and is said to be wrong.
var stepFields = map[StepKind][]string{
	StepSet:      slices.Concat([]string{"device", "formulas", "group", "property", "fadeSeconds", "unattended", "untilDone", "else"}, value),
	StepHold:     slices.Concat([]string{"device", "formulas", "group", "property", "scene", "fadeSeconds", "forSeconds", "unattended", "firm"}, value),
	StepRamp:     slices.Concat([]string{"device", "formulas", "group", "property", "forSeconds", "unattended"}, value),
	StepWait:     {"forSeconds", "toSeconds", "expression"},
	StepUntil:    {"condition", "atMostSeconds", "formulas", "else"},
	StepIf:       {"condition", "then", "else"},
	StepRepeat:   {"condition", "until", "times", "do"},
	StepEach:     {"group", "gapSeconds", "formulas", "do"},
	StepTogether: {"branches"},
	StepOneOf:    {"branches"},
	StepRemember: {"device", "group", "scene"},
	StepPutBack:  {"device", "group", "scene", "fadeSeconds", "formulas"},
	StepAction:   {"device", "group", "action", "input", "unattended", "into", "pick", "else"},
	StepPlay:     {"device", "group", "text"},
	StepScene:    {"scene"},
	StepSequence: {"sequence"},
	StepRun:      {"rule"},
	StepStop:     {"rule", "sequence"},
	StepPause:    {"rule"},
	StepResume:   {"rule"},
	StepNotify:   {"text"},
	StepShow:     {"text", "dashboard", "forSeconds", "formulas"},
	StepSay:      {"device", "group", "property", "text"},
	StepWeb:      {"address", "method", "ownMachine", "text", "into", "pick", "limitSeconds", "else"},
	StepPublish:  {"topic", "text", "retain", "limitSeconds", "else"},
	StepProgram:  {"program", "arguments", "into", "pick", "limitSeconds", "else"},
	StepScript:   {"script", "else"},
	StepQuestion: {"text", "branches", "atMostSeconds", "formulas", "else"},
}

// triggerFields are those that count in each kind of trigger.
var triggerFields = map[TriggerKind][]string{
	OnDevice: {"device", "group", "property", "event", "comparison", "value", "forSeconds", "formulas"},
	OnTime:   {"at"},
	OnStart:  {},
	OnSilent: {"device", "group"},
	OnPhrase: {"words"},
	OnCall:   {"words"},
	OnEntry:  {"calendar", "words", "ends", "offsetMinutes"},
}

// decides reports whether the condition of a step is looked at.
func (s *Step) decides() bool {
	return s.Condition != nil && slices.Contains(stepFields[s.Kind], "condition")
}

// MayBeUnattended reports whether a step may be allowed to set going what is attended only.
func (s *Step) MayBeUnattended() bool { return slices.Contains(stepFields[s.Kind], "unattended") }

// idle says which fields of a part of a rule are given and would do nothing there. The kind is always there.
func (c *checker) idle(path, what string, part any, used []string) {
	v := reflect.Indirect(reflect.ValueOf(part))
	for i := range v.NumField() {
		name, _, _ := strings.Cut(v.Type().Field(i).Tag.Get("json"), ",")
		if name == "kind" || v.Field(i).IsZero() || slices.Contains(used, name) {
			continue
		}
		if f := v.Field(i); (f.Kind() == reflect.Slice || f.Kind() == reflect.Map) && f.Len() == 0 {
			continue
		}
		c.say(path+"/"+name, "%s has no “%s”: it would do nothing. Remove it.", what, name)
	}
}
