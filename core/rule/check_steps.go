package rule

import (
	"fmt"
	"reflect"
	"slices"
	"strings"
)

const (
	maximumTimes = 10_000
	maximumGap   = 3600
	// maximumNesting is how deep steps may stand within others.
	maximumNesting = 10
)

func (c *checker) steps(path string, steps []Step, lasts bool) {
	if c.nesting++; c.nesting > maximumNesting && len(steps) > 0 {
		c.say(path, "Steps may be nested %d deep at most.", maximumNesting)
		c.nesting--
		return
	}
	defer func() { c.nesting-- }()
	for i := range steps {
		c.count++
		if c.count == maximumSteps+1 {
			c.say(path, "At most %d steps.", maximumSteps)
		}
		if c.count > maximumSteps {
			return
		}
		c.step(fmt.Sprintf("%s/%d", path, i), &steps[i], lasts)
	}
}

// needed says so where a list of steps is empty.
func (c *checker) needed(path string, steps []Step, lasts bool) {
	if len(steps) == 0 {
		c.open(path, "Add at least one step.")
	}
	c.steps(path, steps, lasts)
}

func (c *checker) step(path string, s *Step, lasts bool) {
	c.seconds(path+"/forSeconds", s.ForSeconds)
	if !(s.FadeSeconds >= 0 && s.FadeSeconds <= maximumFade) {
		c.say(path+"/fadeSeconds", "A fade is from 0 to 1 h.")
	}
	traits, known := stepKinds[s.Kind]
	switch {
	case c.schedule && !traits.atOnce:
		c.say(path+"/kind", "A schedule does all at once: let it run a rule that does this.")
		return
	case !known:
		c.say(path+"/kind", "%q is not a step.", s.Kind)
		return
	}
	c.idle(path, "This kind of step", s, traits.fields)
	c.formulas(path, s.Formulas, traits.formulas...)
	if c.schedule && s.UntilDone {
		c.say(path+"/untilDone", "A schedule does not wait: let it run a rule that does.")
	}
	if s.Device != "" && s.Group != "" {
		c.say(path+"/group", "A step is about one device or about a group, not both.")
	}
	traits.check(c, path, s, lasts)
}

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
