package check_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/check"
	"amvek/core/expr"
	"amvek/core/rule"
	"amvek/core/thing"
)

// mill is a home with a lamp, a kiln, a sensor, a door and two variables.
type mill struct{}

func (mill) Property(device, name string) *thing.Property {
	switch device + "/" + name {
	case "lamp/brightness":
		return &thing.Property{Title: "Brightness", Type: thing.TypeNumber, Maximum: 100, Resolution: 1, Writable: true}
	case "kiln/power":
		return &thing.Property{Title: "Power", Type: thing.TypeBoolean, Writable: true}
	case "sensor/light":
		return &thing.Property{Title: "Light", Type: thing.TypeNumber, Resolution: 1}
	case "door/contact":
		return &thing.Property{Title: "Contact", Type: thing.TypeBoolean}
	case "own/mode":
		return &thing.Property{Title: "Mode", Type: thing.TypeOption, Options: []string{"in", "out", "away"}, Writable: true, Own: true}
	case "own/set", "own/unset":
		return &thing.Property{Title: "Variable", Type: thing.TypeBoolean, Writable: true, Own: true}
	}
	return nil
}
func (mill) Event(string, string) *thing.Event   { return &thing.Event{Title: "Press"} }
func (mill) HasDevice(string) bool               { return true }
func (mill) HasDashboard(string) bool            { return true }
func (mill) HasScene(string) bool                { return true }
func (mill) HasRule(string) bool                 { return true }
func (mill) HasGroup(string) bool                { return true }
func (mill) Devices(string) []string             { return nil }
func (mill) Action(string, string) *thing.Action { return &thing.Action{} }
func (mill) HasCalendar(string) bool             { return true }
func (mill) HasSequence(id string) bool          { return id == "dusk" }
func (mill) HasRoomLight(id string) bool         { return id == "mill" }
func (mill) Plays(string, string) bool           { return false }

func (m mill) RoomMembers(room, role string) []thing.Ref { return m.Members(room, role) }
func (m mill) Expression(text string) (*expr.Expression, []expr.Mistake) {
	var language expr.Language
	return language.Compile(text, m)
}
func (mill) Members(string, string) []thing.Ref { return nil }
func (mill) AttendedOnly(device string) bool    { return device == "kiln" }
func (mill) Sets(variable string) bool          { return variable == "set" }

func number(device, name string, c rule.Comparison, v float64) rule.Condition {
	return rule.Condition{Device: device, Property: name, Comparison: c, Value: thing.Number(v)}
}
func text(c rule.Comparison, v string) rule.Condition {
	return rule.Condition{Device: "own", Property: "mode", Comparison: c, Value: thing.Text(v)}
}
func open(yes bool) rule.Condition {
	return rule.Condition{Device: "door", Property: "contact", Comparison: rule.Is, Value: thing.Boolean(yes)}
}
func set(device, name string, v thing.Value) rule.Step {
	return rule.Step{Kind: rule.StepSet, Device: device, Property: name, Value: v}
}

func TestWhatIsHardlyMeantIsFoundWhereItIs(t *testing.T) {
	plain := func() *rule.Rule {
		return &rule.Rule{Title: "R", Do: []rule.Step{set("lamp", "brightness", thing.Number(10))}}
	}
	all := func(c ...rule.Condition) *rule.Condition { return &rule.Condition{All: c} }
	for name, c := range map[string]struct {
		change func(r *rule.Rule)
		kind   check.Kind
		path   string
	}{
		"nothing": {func(*rule.Rule) {}, "", ""},
		"below and above": {func(r *rule.Rule) {
			r.Provided = all(number("sensor", "light", rule.Below, 5), number("sensor", "light", rule.Above, 9))
		}, check.Never, "provided"},
		"below the least":   {func(r *rule.Rule) { c := number("lamp", "brightness", rule.Below, 0); r.Provided = &c }, check.Never, "provided"},
		"open and shut":     {func(r *rule.Rule) { r.Whenever = all(open(true), open(false)) }, check.Never, "whenever"},
		"open or shut":      {func(r *rule.Rule) { r.Whenever = &rule.Condition{Any: []rule.Condition{open(true), open(false)}} }, check.Always, "whenever"},
		"two modes at once": {func(r *rule.Rule) { r.Gate = all(text(rule.Is, "in"), text(rule.Is, "out")) }, check.Never, "gate"},
		"not one mode or the other": {func(r *rule.Rule) {
			r.Gate = &rule.Condition{Any: []rule.Condition{text(rule.IsNot, "in"), text(rule.IsNot, "out")}}
		}, check.Always, "gate"},
		"deep within": {func(r *rule.Rule) {
			r.Do = []rule.Step{{Kind: rule.StepRepeat, Times: 2, Do: []rule.Step{
				{Kind: rule.StepIf, Condition: all(open(true), open(false)), Then: []rule.Step{{Kind: rule.StepWait, ForSeconds: 1}}},
			}}}
		}, check.Never, "do/0/do/0/condition"},
		"attended only": {func(r *rule.Rule) { r.Do = []rule.Step{set("kiln", "power", thing.Boolean(true))} }, check.Refused, "do/0"},
		"wait for ever": {func(r *rule.Rule) {
			c := open(true)
			r.Do = append(r.Do, rule.Step{Kind: rule.StepUntil, Condition: &c})
		}, check.Endless, "do/1"},
		"after the end": {func(r *rule.Rule) { r.Do = append([]rule.Step{{Kind: rule.StepStop}}, r.Do...) }, check.Unreachable, "do/1"},
		"after for ever": {func(r *rule.Rule) {
			r.Do = append([]rule.Step{{Kind: rule.StepRepeat, Do: []rule.Step{{Kind: rule.StepWait, ForSeconds: 1}}}}, r.Do...)
		}, check.Unreachable, "do/1"},
		"sets what starts it": {func(r *rule.Rule) { r.When = []rule.Trigger{{Device: "lamp", Property: "brightness"}} }, check.StartsSelf, "do/0"},
		"a gate nothing sets": {func(r *rule.Rule) {
			r.Gate = &rule.Condition{Device: "own", Property: "unset", Comparison: rule.Is, Value: thing.Boolean(true)}
		}, check.UnsetGate, "gate"},
	} {
		t.Run(name, func(t *testing.T) {
			r := plain()
			c.change(r)
			found := check.Rule(r, mill{})
			if c.kind == "" {
				assert.Empty(t, found)
				return
			}
			require.Len(t, found, 1)
			assert.Equal(t, c.kind, found[0].Kind)
			assert.Equal(t, c.path, found[0].Path)
			assert.NotEmpty(t, found[0].Message)
			assert.NotEmpty(t, found[0].Advice)
			r.Intended = []rule.Intended{{Kind: string(c.kind), Path: c.path}}
			assert.Empty(t, check.Rule(r, mill{}), "what is intended is not said again")
		})
	}
}

func TestWhatIsWellMeantIsLeftAlone(t *testing.T) {
	c := rule.Condition{Device: "own", Property: "set", Comparison: rule.Is, Value: thing.Boolean(true)}
	r := &rule.Rule{
		Title: "R", Gate: &c,
		When:     []rule.Trigger{{Device: "lamp", Property: "brightness", Comparison: rule.Above, Value: thing.Number(50)}},
		Provided: &rule.Condition{Any: []rule.Condition{text(rule.Is, "in"), text(rule.Is, "out")}},
		Do:       []rule.Step{set("kiln", "power", thing.Boolean(false)), set("lamp", "brightness", thing.Number(20))},
	}
	assert.Empty(t, check.Rule(r, mill{}))
}

// TestWhatIsSaidOfAConditionIsSo: a condition that is said to be never true is true of no values, and one that is
// said to be always true is true of all.
func TestWhatIsSaidOfAConditionIsSo(t *testing.T) {
	comparisons := []rule.Comparison{rule.Is, rule.IsNot, rule.Below, rule.Above, rule.AtLeast, rule.AtMost}
	var draw func(t *rapid.T, depth int) rule.Condition
	draw = func(t *rapid.T, depth int) rule.Condition {
		kind := rapid.IntRange(0, 6).Draw(t, "kind")
		if depth == 0 {
			kind = 3 + kind%4
		}
		group := func() []rule.Condition {
			var list []rule.Condition
			for range rapid.IntRange(1, 4).Draw(t, "members") {
				list = append(list, draw(t, depth-1))
			}
			return list
		}
		switch kind {
		case 0:
			return rule.Condition{All: group()}
		case 1:
			return rule.Condition{Any: group()}
		case 2:
			return rule.Condition{None: group()}
		case 3:
			return open(rapid.Bool().Draw(t, "open"))
		case 4:
			return text(rapid.SampledFrom(comparisons[:2]).Draw(t, "is"), rapid.SampledFrom([]string{"in", "out", "away"}).Draw(t, "mode"))
		default:
			return number("lamp", "brightness", rapid.SampledFrom(comparisons).Draw(t, "comparison"), float64(rapid.IntRange(-1, 5).Draw(t, "number")*25))
		}
	}
	rapid.Check(t, func(t *rapid.T) {
		c := draw(t, 3)
		found := check.Rule(&rule.Rule{Title: "R", Whenever: &c}, mill{})
		for _, mode := range []string{"in", "out", "away"} {
			for _, isOpen := range []bool{false, true} {
				for half := range 201 {
					truth := holds(
						&c,
						map[string]thing.Value{"mode": thing.Text(mode), "contact": thing.Boolean(isOpen), "brightness": thing.Number(float64(half) / 2)},
					)
					for _, f := range found {
						require.False(t, f.Kind == check.Never && truth, "it is true of %s, %v, %d %%", mode, isOpen, half/2)
						require.False(t, f.Kind == check.Always && !truth, "it is false of %s, %v, %d %%", mode, isOpen, half/2)
					}
				}
			}
		}
	})
}

func holds(c *rule.Condition, now map[string]thing.Value) bool {
	for i := range c.All {
		if !holds(&c.All[i], now) {
			return false
		}
	}
	if len(c.All) > 0 {
		return true
	}
	for i := range c.Any {
		if holds(&c.Any[i], now) {
			return true
		}
	}
	for i := range c.None {
		if holds(&c.None[i], now) {
			return false
		}
	}
	if len(c.Any) > 0 {
		return false
	}
	if len(c.None) > 0 {
		return true
	}
	resolution := mill{}.Property(c.Device, c.Property).Resolution
	comparer := rule.NewComparer(c.Comparison, c.Value, resolution)
	return comparer.Holds(now[c.Property])
}

// What starts a rule is found whatever way it is spoken of, and nothing else is taken for it.
func TestARuleThatStartsItselfIsFoundWhateverWay(t *testing.T) {
	lampIs := func(c rule.Comparison, v float64) rule.Condition { return number("lamp", "brightness", c, v) }
	other := number("sensor", "light", rule.Below, 20)
	hold := rule.Step{Kind: rule.StepHold, Device: "lamp", Property: "brightness", Value: thing.Number(10)}
	within := func(c rule.Condition) *rule.Condition {
		return &rule.Condition{All: []rule.Condition{other, {Any: []rule.Condition{{None: []rule.Condition{c}}, text(rule.Is, "in")}}}}
	}
	by := func(change func(s *rule.Step)) *rule.Rule {
		s := set("lamp", "brightness", thing.Number(10))
		change(&s)
		return &rule.Rule{When: []rule.Trigger{{Device: "lamp", Property: "brightness", Comparison: rule.Above, Value: thing.Number(50)}}, Do: []rule.Step{s}}
	}
	whenever := func(c *rule.Condition, do ...rule.Step) *rule.Rule { return &rule.Rule{Whenever: c, Do: do} }
	below := lampIs(rule.Below, 30)
	for name, c := range map[string]struct {
		rule *rule.Rule
		path string
	}{
		"a hold":           {whenever(&below, hold), "do/0"},
		"deep within":      {whenever(within(below), hold), "do/0"},
		"by an expression": {whenever(&rule.Condition{Expression: `value("lamp", "brightness") < 30`}, hold), "do/0"},
		"by a formula": {whenever(&rule.Condition{
			Device: "sensor", Property: "light", Comparison: rule.Below, Formulas: rule.Formulas{"value": `value("lamp", "brightness")`},
		}, hold), "do/0"},
		"by something else": {whenever(&other, hold), ""},
		"another property":  {whenever(&rule.Condition{Device: "lamp", Property: "power", Comparison: rule.Is, Value: thing.Boolean(true)}, hold), ""},
		"another device":    {whenever(&rule.Condition{Device: "kiln", Property: "brightness", Comparison: rule.Below, Value: thing.Number(3)}, hold), ""},
		"a notice":          {whenever(&below, rule.Step{Kind: rule.StepNotify, Text: "Dark."}), ""},
		"afterwards": {&rule.Rule{
			Whenever: &below, Do: []rule.Step{{Kind: rule.StepNotify, Text: "Dark."}},
			Afterwards: []rule.Step{set("lamp", "brightness", thing.Number(1))},
		}, "afterwards/0"},
		"not that far":        {by(func(*rule.Step) {}), ""},
		"far enough":          {by(func(s *rule.Step) { s.Value = thing.Number(60) }), "do/0"},
		"by an amount":        {by(func(s *rule.Step) { s.By = true }), "do/0"},
		"by chance":           {by(func(s *rule.Step) { s.To = thing.Number(70) }), "do/0"},
		"as another":          {by(func(s *rule.Step) { s.From = &thing.Ref{Device: "sensor", Name: "light"} }), "do/0"},
		"as it is worked out": {by(func(s *rule.Step) { s.Expression = "1 + 1" }), "do/0"},
	} {
		path := ""
		for _, f := range check.Rule(c.rule, mill{}) {
			if f.Kind == check.StartsSelf {
				path = f.Path
			}
		}
		assert.Equal(t, c.path, path, name)
	}
}

func TestWhatCountsOnlyAfterATimeIsNotAlwaysTrue(t *testing.T) {
	long := open(false)
	long.ForAtLeastSeconds = 60
	kinds := func(c *rule.Condition) (kinds []check.Kind) {
		for _, f := range check.Rule(&rule.Rule{Whenever: c, Do: []rule.Step{set("lamp", "brightness", thing.Number(1))}}, mill{}) {
			kinds = append(kinds, f.Kind)
		}
		return kinds
	}
	assert.Empty(t, kinds(&rule.Condition{Any: []rule.Condition{open(true), long}}))
	assert.Equal(t, []check.Kind{check.Always}, kinds(&rule.Condition{Any: []rule.Condition{open(true), open(false)}}))
	assert.Equal(t, []check.Kind{check.Never}, kinds(&rule.Condition{All: []rule.Condition{open(true), long}}), "both at once is never so, however long")
	assert.Equal(t, []check.Kind{check.Never}, kinds(&rule.Condition{None: []rule.Condition{open(true), open(false)}}))
	assert.Equal(t, []check.Kind{check.Always}, kinds(&rule.Condition{None: []rule.Condition{{All: []rule.Condition{open(true), open(false)}}}}))
}
