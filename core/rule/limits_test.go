package rule_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/rule"
	"amvek/core/thing"
)

// paths returns where something is wrong with a rule.
func paths(r *rule.Rule) (list []string) {
	for _, p := range r.Check(mill{}) {
		list = append(list, p.Path)
	}
	return list
}

func tell(text string) rule.Step { return rule.Step{Kind: rule.StepNotify, Text: text} }

// whenSaid is a rule that a phrase starts.
func whenSaid(steps ...rule.Step) *rule.Rule {
	return &rule.Rule{Title: "R", When: []rule.Trigger{{Kind: rule.OnPhrase, Words: "go"}}, Do: steps}
}

// many returns a thing so many times.
func many[T any](n int, one T) []T {
	list := make([]T, n)
	for i := range list {
		list[i] = one
	}
	return list
}

func TestDurationsAreCheckedExactly(t *testing.T) {
	for _, c := range []struct {
		seconds float64
		well    bool
	}{{0, true}, {rule.LongestWait, true}, {rule.LongestWait + 1, false}, {-1, false}} {
		r := whenSaid(tell("x"))
		r.GiveUpAfterSeconds = c.seconds
		assert.Equal(t, c.well, len(paths(r)) == 0, c.seconds)
	}
	for _, c := range []struct {
		seconds float64
		well    bool
	}{{0, true}, {3600, true}, {3601, false}, {-1, false}} {
		step := rule.Step{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(5), FadeSeconds: c.seconds}
		assert.Equal(t, c.well, len(paths(whenSaid(step))) == 0, c.seconds)
	}
}

func TestRulesAreAsLargeAsTheyMayBe(t *testing.T) {
	r := whenSaid(tell("x"))
	r.When = many(50, r.When[0])
	assert.Empty(t, paths(r))
	r.When = many(51, r.When[0])
	assert.Equal(t, []string{"when"}, paths(r))

	assert.Empty(t, paths(whenSaid(many(200, tell("x"))...)))
	assert.Equal(t, []string{"do"}, paths(whenSaid(many(230, tell(""))...))[200:], "the first past the limit, once")
	r = whenSaid(many(150, tell("x"))...)
	r.Afterwards = many(51, tell("x"))
	assert.Equal(t, []string{"afterwards"}, paths(r), "both count together")

	nested := func(depth int) *rule.Rule {
		steps := []rule.Step{tell("x")}
		for range depth - 1 {
			steps = []rule.Step{{Kind: rule.StepTogether, Branches: []rule.Branch{{Do: steps}, {Do: []rule.Step{tell("y")}}}}}
		}
		return whenSaid(steps...)
	}
	assert.Empty(t, paths(nested(10)))
	deep := paths(nested(11))
	require.NotEmpty(t, deep)
	assert.Equal(t, 10, strings.Count(deep[0], "branches"))
	beside := nested(10)
	beside.Do = append(beside.Do, beside.Do...)
	beside.Afterwards = beside.Do
	assert.Empty(t, paths(beside), "what stands beside each other is not nested")
}

func TestConditionsAreAsManyAndAsDeepAsTheyMayBe(t *testing.T) {
	with := func(c rule.Condition) []string {
		r := whenSaid(tell("x"))
		r.Provided = &c
		return paths(r)
	}
	assert.Empty(t, with(rule.Condition{All: many(298, open())}))
	assert.Equal(t, []string{"provided/all/298"}, with(rule.Condition{All: many(320, open())}), "once, at the first that is too much")
	deep := open()
	for range 8 {
		deep = rule.Condition{Any: []rule.Condition{deep}}
	}
	assert.Empty(t, with(deep))
	assert.Equal(t, []string{"provided" + strings.Repeat("/none/0", 1) + strings.Repeat("/any/0", 8)}, with(rule.Condition{None: []rule.Condition{deep}}))
}

func TestOnlyARuleThatIsCalledTakesWhatIsSent(t *testing.T) {
	sent := `sentNumber("/a")`
	set := rule.Step{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Expression: sent}
	assert.Equal(t, []string{"do/0/expression"}, paths(whenSaid(set)))
	r := whenSaid(set)
	r.When = append(r.When, rule.Trigger{Kind: rule.OnCall, Words: "mill"})
	assert.NotContains(t, paths(r), "do/0/expression")
	r.Gate = &rule.Condition{Expression: sent + " > 1.0"}
	assert.Contains(t, paths(r), "gate/expression")
	r.Gate, r.Provided = nil, &rule.Condition{Expression: sent + " > 1.0"}
	assert.NotContains(t, paths(r), "provided/expression")
}

func TestWhatAValueComesFromIsOneThing(t *testing.T) {
	set := func(change func(s *rule.Step)) []string {
		s := rule.Step{Kind: rule.StepSet, Device: "lamp", Property: "brightness"}
		change(&s)
		return paths(whenSaid(s))
	}
	assert.Empty(t, set(func(s *rule.Step) { s.Expression = "1.0 + 2.0" }))
	assert.Equal(t, []string{"do/0/expression"}, set(func(s *rule.Step) { s.Expression = `"high"` }))
	assert.Contains(t, set(func(s *rule.Step) { s.Expression, s.By = "1.0", true }), "do/0/value")
	assert.Contains(t, set(func(s *rule.Step) { s.Expression, s.To = "1.0", thing.Number(9) }), "do/0/value")
	lamp := &thing.Ref{Device: "lamp", Name: "brightness"}
	assert.Empty(t, set(func(s *rule.Step) { s.From = lamp }))
	assert.Contains(t, set(func(s *rule.Step) { s.From, s.Expression = lamp, "1.0" }), "do/0/from")
	assert.Contains(t, set(func(s *rule.Step) { s.From, s.By = lamp, true }), "do/0/value")
	assert.Empty(t, set(func(s *rule.Step) { s.Value, s.By = thing.Number(5), true }))
	assert.Empty(t, set(func(s *rule.Step) { s.Value, s.To = thing.Number(5), thing.Number(9) }))
	assert.Equal(t, []string{"do/0/to"}, set(func(s *rule.Step) { s.Value, s.To = thing.Number(5), thing.Number(4) }))
	assert.Empty(t, set(func(s *rule.Step) { s.Value, s.To = thing.Number(5), thing.Number(5) }))
	assert.Equal(t, []string{"do/0/value"}, set(func(s *rule.Step) { s.Value = thing.Number(101) }))
	assert.Empty(t, set(func(s *rule.Step) { s.Device, s.Group, s.Value = "", "lamps", thing.Number(100) }))
	hold := rule.Step{Kind: rule.StepHold, Scene: "supper", ForSeconds: 60}
	assert.Empty(t, paths(whenSaid(hold)))
	hold.Scene = "gone"
	assert.Equal(t, []string{"do/0/scene"}, paths(whenSaid(hold)))
}

func TestComparersAtTheirLimits(t *testing.T) {
	for _, c := range []struct {
		comparison        rule.Comparison
		less, same, above bool
	}{
		{rule.Is, false, true, false}, {rule.IsNot, true, false, true}, {rule.Below, true, false, false}, {rule.Above, false, false, true},
		{rule.AtLeast, false, true, true}, {rule.AtMost, true, true, false}, {"near", false, false, false},
	} {
		comparer := rule.NewComparer(c.comparison, thing.Number(5), 0)
		got := []bool{comparer.Holds(thing.Number(4)), comparer.Holds(thing.Number(5)), comparer.Holds(thing.Number(6))}
		assert.Equal(t, []bool{c.less, c.same, c.above}, got, string(c.comparison))
		if c.comparison != rule.IsNot {
			assert.False(t, comparer.Holds(thing.Text("5")), string(c.comparison))
		}
		assert.False(t, comparer.Holds(thing.Value{}), string(c.comparison))
	}
	for _, c := range []rule.Comparison{rule.Below, rule.Above, rule.AtLeast, rule.AtMost} {
		for _, wanted := range []float64{-1, 1} {
			comparer := rule.NewComparer(c, thing.Number(wanted), 0)
			assert.False(t, comparer.Holds(thing.Text("x")), "%s %v: a text is at no number", c, wanted)
		}
	}
}

func TestTextsAreTakenApart(t *testing.T) {
	for text, want := range map[string][]rule.Part{
		"":                {},
		"plain":           {{Words: "plain"}},
		"{a}":             {{Expression: "a", At: 1}},
		"x{ a }y":         {{Words: "x"}, {Expression: "a", At: 3}, {Words: "y"}},
		"{a}{b}":          {{Expression: "a", At: 1}, {Expression: "b", At: 4}},
		"a {{b}} c":       {{Words: "a {b} c"}},
		`{"}" + 'x}'}!`:   {{Expression: `"}" + 'x}'`, At: 1}, {Words: "!"}},
		"{}":              {{At: 1}},
		"so {never shut":  {{Words: "so "}, {Words: "{never shut", At: 3, Unshut: true}},
		`{"quoted}`:       {{Words: `{"quoted}`, Unshut: true}},
		"a } alone":       {{Words: "a } alone"}},
		"{a} and {b} end": {{Expression: "a", At: 1}, {Words: " and "}, {Expression: "b", At: 9}, {Words: " end"}},
	} {
		got := rule.Parts(text)
		assert.Equal(t, fmt.Sprint(want), fmt.Sprint(got), text)
	}
}

func TestWalkGoesThroughTheListsThatHaveSteps(t *testing.T) {
	steps := []rule.Step{{
		Kind: rule.StepIf, Then: []rule.Step{tell("a")}, Else: []rule.Step{{Kind: rule.StepRepeat, Do: []rule.Step{tell("b")}}},
		Branches: []rule.Branch{{}, {Do: []rule.Step{tell("c")}}},
	}}
	var seen []string
	rule.Walk("do", steps, func(path string, s *rule.Step) { seen = append(seen, path+" "+string(s.Kind)+" "+s.Text) })
	assert.Equal(t, []string{
		"do/0 if ", "do/0/then/0 notify a", "do/0/else/0 repeat ", "do/0/else/0/do/0 notify b", "do/0/branches/1/do/0 notify c",
	}, seen)
}

func TestWhatARuleRefersTo(t *testing.T) {
	r := whenSaid(
		rule.Step{Kind: rule.StepEach, Group: "lamps", Do: []rule.Step{{Kind: rule.StepSet, Device: rule.Member, Property: "brightness", Value: thing.Number(1)}}},
		rule.Step{Kind: rule.StepAction, Device: "player", Action: "find", Into: "answer"},
		rule.Step{Kind: rule.StepSet, Device: rule.OwnDevice, Property: "mode", Value: thing.Text("in")},
		rule.Step{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Expression: `value("lamp", "brightness") + 1.0`},
		tell(`It is {count(room("hall", "motion"))}.`),
		rule.Step{Kind: rule.StepRun, Rule: "other"},
		rule.Step{Kind: rule.StepSequence, Sequence: "dusk"},
	)
	r.When = append(r.When, rule.Trigger{Device: "dial", Event: "press"}, rule.Trigger{Device: "dial", Event: "press"})
	u := r.Uses()
	assert.Equal(t, []string{"dial", "player", "own", "lamp"}, u.Devices)
	assert.Equal(t, []string{"answer", "mode"}, u.Variables)
	assert.Equal(t, []string{"lamps"}, u.Groups)
	assert.Equal(t, []string{"hall"}, u.Rooms)
	assert.Equal(t, []string{"dusk"}, u.Scenes)
	assert.Equal(t, []string{"other"}, u.Rules)
	assert.True(t, u.Has("hall"))
	assert.False(t, u.Has("supper"))
}

func TestEachProblemOfAGroupIsToldOnce(t *testing.T) {
	house := twoLamps{}
	r := whenSaid(rule.Step{Kind: rule.StepAction, Group: "lamps", Action: "identify", Input: map[string]rule.Given{"loud": {Value: thing.Boolean(true)}}})
	assert.Len(t, r.Check(house), 1)
	r = whenSaid(tell("x"))
	r.When = []rule.Trigger{{Group: "lamps", Property: "brightness", Comparison: rule.Is, Value: thing.Number(500)}}
	assert.Len(t, r.Check(house), 1)
	r.When = []rule.Trigger{{Group: "lamps", Event: "gone"}}
	require.Len(t, r.Check(house), 1)
	assert.Equal(t, "No device there has this event.", r.Check(house)[0].Message)
	r.When = []rule.Trigger{{Device: "lamp", Event: "gone"}}
	assert.Equal(t, `The device has no event "gone".`, r.Check(house)[0].Message)
	r.When = []rule.Trigger{{Device: "dial", Event: "press", Comparison: rule.Is, Value: thing.Number(1)}}
	assert.NotEmpty(t, r.Check(house))
}

// twoLamps is the mill with a group of two.
type twoLamps struct{ mill }

func (twoLamps) Devices(string) []string { return []string{"lamp", "lamp"} }
func (twoLamps) Members(_, role string) []thing.Ref {
	return []thing.Ref{{Device: "lamp", Name: role}, {Device: "lamp", Name: role}}
}
func (twoLamps) HasDashboard(id string) bool { return id == "hall" }

func TestWhatOtherStepsNeed(t *testing.T) {
	for _, c := range []struct {
		step rule.Step
		want []string
	}{
		{rule.Step{Kind: rule.StepShow, Text: "x", Dashboard: "hall"}, nil},
		{rule.Step{Kind: rule.StepShow, Text: "x", Dashboard: "gone"}, []string{"do/0/dashboard"}},
		{rule.Step{Kind: rule.StepShow, Text: "x"}, nil},
		{rule.Step{Kind: rule.StepRun, Rule: "other"}, nil},
		{rule.Step{Kind: rule.StepRun}, []string{"do/0/rule"}},
		{rule.Step{Kind: rule.StepRun, Rule: "gone"}, []string{"do/0/rule"}},
		{rule.Step{Kind: rule.StepAction, Device: rule.Member, Action: "identify"}, []string{"do/0/device"}},
		{rule.Step{Kind: rule.StepEach, Group: "lamps", Do: []rule.Step{{Kind: rule.StepSet, Device: rule.Member, Property: "brightness", Value: thing.Number(7)}}}, nil},
	} {
		var got []string
		for _, p := range whenSaid(c.step).Check(twoLamps{}) {
			got = append(got, p.Path)
		}
		assert.Equal(t, c.want, got, "%+v", c.step)
	}
}
