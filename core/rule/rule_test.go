package rule_test

import (
	"encoding/json"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/almanac"
	"amvek/core/expr"
	"amvek/core/rule"
	"amvek/core/thing"
)

// mill is a home with a lamp, a contact and a dial.
type mill struct{}

func (mill) Property(device, name string) *thing.Property {
	switch device + "/" + name {
	case "lamp/brightness":
		return &thing.Property{Title: "Brightness", Type: thing.TypeNumber, Unit: "%", Maximum: 100, Resolution: 1, Writable: true}
	case "door/contact":
		return &thing.Property{Title: "Contact", Type: thing.TypeBoolean, Words: []string{"shut", "open"}}
	}
	return nil
}
func (mill) Event(device, name string) *thing.Event {
	switch device + "/" + name {
	case "dial/press":
		return &thing.Event{Title: "Press"}
	case "dial/turn":
		return &thing.Event{Title: "Turn", Number: true}
	}
	return nil
}
func (mill) HasDevice(id string) bool {
	return id == "player" || id == "lamp" || id == "door" || id == "dial"
}
func (mill) HasDashboard(string) bool { return true }
func (mill) HasScene(id string) bool  { return id == "supper" }
func (mill) HasRule(id string) bool   { return id == "other" }
func (mill) HasGroup(id string) bool  { return id == "lamps" }
func (mill) Devices(string) []string  { return []string{"lamp"} }
func (mill) Members(group, role string) []thing.Ref {
	if group == "lamps" && role == "brightness" {
		return []thing.Ref{{Device: "lamp", Name: "brightness"}}
	}
	return nil
}
func (mill) Action(device, name string) *thing.Action {
	if device == "player" && name == "find" {
		return player
	}
	if device == "lamp" && name == "identify" {
		return &thing.Action{Name: name, Title: "Show itself"}
	}
	return nil
}
func (mill) HasCalendar(id string) bool  { return id == "household" }
func (mill) HasSequence(id string) bool  { return id == "dusk" }
func (mill) HasRoomLight(id string) bool { return id == "mill" }
func (mill) Plays(device, _ string) bool { return device == "player" }

var player = &thing.Action{Name: "find", Title: "Play", Role: thing.RolePlay, Inputs: []thing.Input{
	{Property: thing.Property{Name: "search", Title: "Station or words", Type: thing.TypeText}, Required: true},
	{Property: thing.Property{Name: "volume", Title: "Volume", Type: thing.TypeNumber, Maximum: 100}},
}}

func (m mill) RoomMembers(room, role string) []thing.Ref { return m.Members(room, role) }
func (m mill) Expression(text string) (*expr.Expression, []expr.Mistake) {
	var language expr.Language
	return language.Compile(text, m)
}

func open() rule.Condition {
	return rule.Condition{Device: "door", Property: "contact", Comparison: rule.Is, Value: thing.Boolean(true)}
}

func TestCheckSaysWhereAndWhat(t *testing.T) {
	hold := rule.Step{Kind: rule.StepHold, Device: "lamp", Property: "brightness", Value: thing.Number(60)}
	condition := open()
	for name, c := range map[string]struct {
		change func(r *rule.Rule)
		path   string
	}{
		"nothing wrong":           {func(*rule.Rule) {}, ""},
		"no name":                 {func(r *rule.Rule) { r.Title = " " }, "title"},
		"both kinds":              {func(r *rule.Rule) { r.When = []rule.Trigger{{Device: "dial", Event: "press"}} }, "when"},
		"absent device":           {func(r *rule.Rule) { r.Whenever.Device = "attic" }, "whenever/device"},
		"absent property":         {func(r *rule.Rule) { r.Whenever.Property = "height" }, "whenever/property"},
		"no comparison":           {func(r *rule.Rule) { r.Whenever.Comparison = "" }, "whenever/comparison"},
		"below on a contact":      {func(r *rule.Rule) { r.Whenever.Comparison = rule.Below }, "whenever/comparison"},
		"no value":                {func(r *rule.Rule) { r.Whenever.Value = thing.Value{} }, "whenever/value"},
		"value of another type":   {func(r *rule.Rule) { r.Whenever.Value = thing.Number(1) }, "whenever/value"},
		"group and comparison":    {func(r *rule.Rule) { r.Whenever.All = []rule.Condition{open()} }, "whenever"},
		"nested absent device":    {func(r *rule.Rule) { r.Whenever = &rule.Condition{Any: []rule.Condition{open(), {Device: "x"}}} }, "whenever/any/1/device"},
		"no steps":                {func(r *rule.Rule) { r.Do = nil }, "do"},
		"out of range":            {func(r *rule.Rule) { r.Do[0].Value = thing.Number(120) }, "do/0/value"},
		"read only":               {func(r *rule.Rule) { r.Do[0].Device, r.Do[0].Property = "door", "contact" }, "do/0/property"},
		"absent scene":            {func(r *rule.Rule) { r.Do[0] = rule.Step{Kind: rule.StepScene, Scene: "x"} }, "do/0/scene"},
		"absent rule":             {func(r *rule.Rule) { r.Do[0] = rule.Step{Kind: rule.StepRun, Rule: "x"} }, "do/0/rule"},
		"wait without time":       {func(r *rule.Rule) { r.Do[0] = rule.Step{Kind: rule.StepWait} }, "do/0/forSeconds"},
		"unknown step":            {func(r *rule.Rule) { r.Do[0].Kind = "sing" }, "do/0/kind"},
		"endless delay":           {func(r *rule.Rule) { r.EndedForAtLeastSeconds = 1e9 }, "endedForAtLeastSeconds"},
		"negative delay":          {func(r *rule.Rule) { r.ForAtLeastSeconds = -1 }, "forAtLeastSeconds"},
		"unknown policy":          {func(r *rule.Rule) { r.Policy = "panic" }, "policy"},
		"hold afterwards, no end": {func(r *rule.Rule) { r.Afterwards = []rule.Step{hold} }, "afterwards/0/forSeconds"},
		"hold in a when rule":     {func(r *rule.Rule) { r.Whenever, r.When = nil, []rule.Trigger{{Device: "dial", Event: "press"}} }, "do/0/forSeconds"},
		"unknown event": {func(r *rule.Rule) {
			r.Whenever, r.When, r.Do[0].ForSeconds = nil, []rule.Trigger{{Device: "dial", Event: "spin"}}, 1
		}, "when/0/event"},
		"number of an event without": {func(r *rule.Rule) {
			r.Whenever, r.When, r.Do[0].ForSeconds = nil, []rule.Trigger{{Device: "dial", Event: "press", Comparison: rule.Above, Value: thing.Number(0)}}, 1
		}, "when/0/value"},
	} {
		t.Run(name, func(t *testing.T) {
			whenever := condition
			r := rule.Rule{Title: "Rule", Whenever: &whenever, Do: []rule.Step{hold}}
			c.change(&r)
			problems := r.Check(mill{})
			if c.path == "" {
				assert.Empty(t, problems)
				return
			}
			require.NotEmpty(t, problems)
			assert.Equal(t, c.path, problems[0].Path)
			assert.NotEmpty(t, problems[0].Message)
		})
	}
}

func TestScheduleCheck(t *testing.T) {
	s := rule.Schedule{
		Title: "Dusk",
		At:    almanac.Daily{Anchor: almanac.ByClock, Clock: "late"},
		Do:    []rule.Step{{Kind: rule.StepHold, Device: "lamp", Property: "brightness", Value: thing.Number(1)}},
	}
	problems := s.Check(mill{})
	require.Len(t, problems, 2)
	assert.Equal(t, "at", problems[0].Path)
	assert.Equal(t, "do/0/kind", problems[1].Path)
}

// meaning says independently whether a condition is true, given the truth of each of its comparisons in order. It adds
// the truth of each part, outer before inner.
func meaning(c *rule.Condition, truths, parts *[]bool) (truth bool) {
	at := len(*parts)
	*parts = append(*parts, false)
	defer func() { (*parts)[at] = truth }()
	count := func(list []rule.Condition) (yes int) {
		for i := range list {
			if meaning(&list[i], truths, parts) {
				yes++
			}
		}
		return yes
	}
	switch {
	case len(c.All) > 0:
		return count(c.All) == len(c.All)
	case len(c.Any) > 0:
		return count(c.Any) > 0
	case len(c.None) > 0:
		return count(c.None) == 0
	}
	truth = (*truths)[0]
	*truths = (*truths)[1:]
	return truth
}

func tree(t *rapid.T, depth int) rule.Condition {
	kind := rapid.IntRange(0, 3).Draw(t, "kind")
	if depth == 0 || kind == 0 {
		return open()
	}
	members := make([]rule.Condition, rapid.IntRange(1, 3).Draw(t, "members"))
	for i := range members {
		members[i] = tree(t, depth-1)
	}
	return []rule.Condition{{All: members}, {Any: members}, {None: members}}[kind-1]
}

// However comparisons turn, the whole condition and each of its parts are what they say, a change that makes a difference
// to the whole is told, and each part knows when it was last true.
func TestCompiledConditionsMeanWhatTheySay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := tree(t, 3)
		r := rule.Rule{Title: "x", Whenever: &c, Do: []rule.Step{{Kind: rule.StepScene, Scene: "supper"}}}
		require.Empty(t, r.Check(mill{}))
		program := r.Compile(mill{})
		now := time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)
		truths := make([]bool, len(program.Tests))
		lastTrue := make([]time.Time, len(program.Nodes))
		check := func() (parts []bool) {
			left := slices.Clone(truths)
			require.Equal(t, meaning(&c, &left, &parts), program.Whenever.Truth)
			require.Empty(t, left)
			require.Len(t, program.Nodes, len(parts))
			for i, part := range parts {
				require.Equal(t, part, program.Nodes[i].Truth, program.Nodes[i].Path)
				require.Equal(t, lastTrue[i], program.Nodes[i].LastTrue, program.Nodes[i].Path)
			}
			return parts
		}
		before := check()
		for range rapid.IntRange(0, 30).Draw(t, "turns") {
			i := rapid.IntRange(0, len(truths)-1).Draw(t, "which")
			truths[i] = rapid.Bool().Draw(t, "truth")
			now = now.Add(time.Second)
			told := program.Tests[i].Set(truths[i], now)
			left, parts := slices.Clone(truths), []bool(nil)
			require.Equal(t, meaning(&c, &left, &parts) != before[0], told, "a difference to the whole is told")
			for j := range parts {
				if before[j] && !parts[j] {
					lastTrue[j] = now
				}
			}
			before = check()
		}
	})
}

func TestWhatIsNotKnownIsNeverTrue(t *testing.T) {
	for _, c := range []rule.Comparison{rule.Is, rule.IsNot, rule.Below, rule.Above, rule.AtLeast, rule.AtMost, "unheard of"} {
		assert.False(t, holds(c, thing.Value{}, 5), c)
	}
	assert.True(t, holds(rule.Is, thing.Number(59.84), 60), "equal within half the resolution")
	assert.False(t, holds(rule.Is, thing.Number(59.4), 60))
}

func FuzzRule(f *testing.F) {
	f.Add(
		[]byte(
			`{"title":"x","whenever":{"all":[{"device":"door","property":"contact","comparison":"is","value":true}]},"do":[{"kind":"scene","scene":"supper"}]}`,
		),
	)
	f.Add([]byte(`{"when":[{"device":"dial","event":"turn","comparison":"above","value":0}],"do":[{"kind":"wait","forSeconds":1e308}]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		var r rule.Rule
		if json.Unmarshal(data, &r) != nil {
			return
		}
		r.Uses()
		if len(r.Check(mill{})) == 0 {
			r.Compile(mill{})
		}
	})
}

func holds(c rule.Comparison, v thing.Value, wanted float64) bool {
	comparer := rule.NewComparer(c, thing.Number(wanted), 1)
	return comparer.Holds(v)
}

// Among the numbers that are said to be steady, a comparison is as true as of the number that it was asked of.
func TestAComparisonIsSteadyWhereItSaysSo(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		number := rapid.OneOf(rapid.Map(rapid.IntRange(-8, 8), func(n int) float64 { return float64(n) / 4 }), rapid.Float64Range(-2, 2))
		comparison := rapid.SampledFrom([]rule.Comparison{rule.Is, rule.IsNot, rule.Below, rule.Above, rule.AtLeast, rule.AtMost}).Draw(t, "comparison")
		wanted := thing.Number(number.Draw(t, "wanted"))
		if rapid.Bool().Draw(t, "no number") {
			wanted = thing.Text("on")
		}
		comparer := rule.NewComparer(comparison, wanted, rapid.SampledFrom([]float64{0, 0.5, 1}).Draw(t, "resolution"))
		asked, other := thing.Number(number.Draw(t, "asked")), thing.Number(number.Draw(t, "other"))
		low, high := comparer.Steady(asked)
		require.True(t, low <= asked.Number && asked.Number <= high, "what was asked of")
		if low <= other.Number && other.Number <= high {
			require.Equal(t, comparer.Holds(asked), comparer.Holds(other), "from %v to %v", low, high)
		}
		low, high = comparer.Steady(thing.Text("on"))
		require.Greater(t, low, high)
	})
}
