// Package check looks at a rule before it acts, and finds what is allowed and yet hardly meant: conditions that can
// never be true or always are, rules that start themselves, steps that are never reached. It decides nothing: a rule
// with findings runs.
package check

import (
	"fmt"
	"slices"

	"amvek/core/expr"
	"amvek/core/rule"
	"amvek/core/thing"
)

// Kind says what sort of thing was found.
type Kind string

// The kinds of finding.
const (
	Never       Kind = "never"       // a condition that can never be true
	Always      Kind = "always"      // a condition that is always true
	StartsSelf  Kind = "startsSelf"  // the rule sets what starts it
	Refused     Kind = "refused"     // a step will be refused: attended only
	Unreachable Kind = "unreachable" // a step that is never reached
	Endless     Kind = "endless"     // a wait without a limit
	UnsetGate   Kind = "unsetGate"   // a gate on a variable that nothing sets
)

// Finding is something that is hardly meant, at a place in the rule's document.
type Finding struct {
	Kind    Kind   `json:"kind" enum:"never,always,startsSelf,refused,unreachable,endless,unsetGate"`
	Path    string `json:"path" doc:"Place in the document, such as do/0."`
	Message string `json:"message"`
	Advice  string `json:"advice"`
}

// Lookup answers what exists in the home.
type Lookup interface {
	rule.Lookup
	// AttendedOnly reports whether only a hand may switch a device on.
	AttendedOnly(device string) bool
	// Sets reports whether any rule or schedule sets a variable of the home.
	Sets(variable string) bool
}

// Rule returns what is found in a rule that has no problems, in the order of its document. What the owner marked as
// intended is left out.
func Rule(r *rule.Rule, lookup Lookup) []Finding {
	f := &finder{lookup: lookup}
	for _, part := range []struct {
		path      string
		condition *rule.Condition
	}{{"whenever", r.Whenever}, {"gate", r.Gate}, {"provided", r.Provided}} {
		if part.condition != nil {
			f.condition(part.path, part.condition)
		}
	}
	f.gate(r.Gate)
	f.steps("do", r.Do)
	f.steps("afterwards", r.Afterwards)
	f.self(r)
	return slices.DeleteFunc(f.found, func(x Finding) bool {
		return slices.ContainsFunc(r.Intended, func(i rule.Intended) bool { return i.Kind == string(x.Kind) && i.Path == x.Path })
	})
}

type finder struct {
	lookup Lookup
	found  []Finding
}

func (f *finder) say(kind Kind, path, advice, format string, args ...any) {
	f.found = append(f.found, Finding{kind, path, fmt.Sprintf(format, args...), advice})
}

// truth is whether a condition can be true, and can be false.
type truth int

const (
	maybe truth = iota
	never
	always
)

func (f *finder) condition(path string, c *rule.Condition) {
	switch f.truthOf(c) {
	case never:
		f.say(Never, path, "Change one of the values, or remove one of the conditions.", "This can never be true.")
	case always:
		f.say(Always, path, "Remove it, or change its value.", "This is always true.")
	}
}

func opposite(t truth) truth {
	switch t {
	case never:
		return always
	case always:
		return never
	default:
		return maybe
	}
}

func (f *finder) truthOf(c *rule.Condition) truth {
	switch {
	case len(c.All) > 0:
		return f.together(c.All, never, always, values.and, values.none)
	case len(c.Any) > 0:
		return f.anyOf(c.Any)
	case len(c.None) > 0:
		return opposite(f.anyOf(c.None))
	case c.Device == "" || c.Formulas["value"] != "":
		return maybe
	}
	p := f.lookup.Property(c.Device, c.Property)
	if p == nil {
		return maybe
	}
	set, known := that(p, c.Comparison, c.Value)
	whole, _ := domain(p)
	switch {
	case !known:
		return maybe
	case set.none():
		return never
	case set.is(whole):
		return always
	default:
		return maybe
	}
}

func (f *finder) anyOf(list []rule.Condition) truth {
	return f.together(list, always, never, values.or, nil)
}

// together returns the truth of several conditions: one that is decisive decides, those on one property are put
// together. Decided reports whether a set put together decides; for "any" that is the whole of what there is.
func (f *finder) together(list []rule.Condition, decisive, otherwise truth, join func(a, b values) values, decided func(values) bool) truth {
	sets := map[thing.Ref]values{}
	all := true
	for i := range list {
		t := f.truthOf(&list[i])
		if t == decisive {
			return decisive
		}
		all = all && t == otherwise
		c := &list[i]
		p := f.lookup.Property(c.Device, c.Property)
		if c.Device == "" || p == nil || c.Formulas["value"] != "" || (decisive == always && c.ForAtLeastSeconds > 0) {
			continue // what counts only after a time is not always true
		}
		set, known := that(p, c.Comparison, c.Value)
		if !known {
			continue
		}
		ref := thing.Ref{Device: c.Device, Name: c.Property}
		if before, there := sets[ref]; there {
			set = join(before, set)
		}
		sets[ref] = set
		whole, _ := domain(p)
		if (decided != nil && decided(set)) || (decided == nil && set.is(whole)) {
			return decisive
		}
	}
	if all {
		return otherwise
	}
	return maybe
}

// gate finds a gate on a variable that no rule and no schedule ever sets.
func (f *finder) gate(c *rule.Condition) {
	if c == nil {
		return
	}
	for _, group := range [][]rule.Condition{c.All, c.Any, c.None} {
		for i := range group {
			f.gate(&group[i])
		}
	}
	if c.Device == rule.OwnDevice && c.Property != "mode" && !f.lookup.Sets(c.Property) {
		if p := f.lookup.Property(c.Device, c.Property); p != nil && p.Writable {
			f.say(
				UnsetGate,
				"gate",
				"Let a rule or a schedule set it, or set it by hand under Household.",
				"No rule and no schedule sets %s, so only a hand opens this gate.",
				p.Title,
			)
		}
	}
}

func (f *finder) steps(path string, steps []rule.Step) {
	ended := false
	for i := range steps {
		s, at := &steps[i], fmt.Sprintf("%s/%d", path, i)
		if ended {
			f.say(Unreachable, at, "Remove it, or put it before.", "This is never reached: what stands before does not end, or ends the run.")
			return
		}
		f.step(at, s)
		ended = (s.Kind == rule.StepStop && s.Rule == "" && s.Sequence == "") || (s.Kind == rule.StepRepeat && s.Times == 0 && s.Condition == nil)
	}
}

func (f *finder) step(at string, s *rule.Step) {
	if s.Condition != nil {
		f.condition(at+"/condition", s.Condition)
	}
	switch s.Kind {
	case rule.StepUntil:
		if s.AtMostSeconds <= 0 && s.Formulas["atMostSeconds"] == "" {
			f.say(Endless, at, "Say for how long at most, and what is done then.", "This may wait for ever.")
		}
	case rule.StepSet, rule.StepHold:
		p := f.lookup.Property(s.Device, s.Property)
		if p != nil && f.lookup.AttendedOnly(s.Device) && !s.Unattended && p.Starts(p.Rest(), s.Value) {
			f.say(Refused, at, "Let this one step switch it on, if that may happen with nobody there.", "This will be refused: only a hand switches it on.")
		}
	}
	f.steps(at+"/then", s.Then)
	f.steps(at+"/else", s.Else)
	f.steps(at+"/do", s.Do)
	for i := range s.Branches {
		f.steps(fmt.Sprintf("%s/branches/%d/do", at, i), s.Branches[i].Do)
	}
}

// self finds a rule that sets what starts it.
func (f *finder) self(r *rule.Rule) {
	starts := func(ref thing.Ref, v thing.Value, changes bool) bool {
		for _, t := range r.When {
			about := t.Device == ref.Device && t.Property == ref.Name || slices.Contains(f.lookup.Members(t.Group, t.Property), ref)
			if t.Property != "" && about {
				c := rule.NewComparer(t.Comparison, t.Value, 0)
				if t.Comparison == "" || changes || t.Formulas["value"] != "" || c.Holds(v) {
					return true
				}
			}
		}
		return r.Whenever != nil && dependsOn(r.Whenever, ref)
	}
	for _, part := range []struct {
		path  string
		steps []rule.Step
	}{{"do", r.Do}, {"afterwards", r.Afterwards}} {
		rule.Walk(part.path, part.steps, func(path string, s *rule.Step) {
			if s.Kind != rule.StepSet && s.Kind != rule.StepHold {
				return
			}
			changes := s.By || s.From != nil || !s.To.IsNone() || s.Expression != ""
			if starts(thing.Ref{Device: s.Device, Name: s.Property}, s.Value, changes) {
				f.say(
					StartsSelf,
					path,
					"Let it follow from something else, or set something else.",
					"This sets what starts the rule, so it may start itself again and again.",
				)
			}
		})
	}
}

func dependsOn(c *rule.Condition, ref thing.Ref) bool {
	for _, group := range [][]rule.Condition{c.All, c.Any, c.None} {
		for i := range group {
			if dependsOn(&group[i], ref) {
				return true
			}
		}
	}
	for _, text := range []string{c.Expression, c.Formulas["value"]} {
		if text != "" && slices.Contains(expr.Mention(text).Properties, ref) {
			return true
		}
	}
	return c.Device == ref.Device && c.Property == ref.Name && c.Device != ""
}
