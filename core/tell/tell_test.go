package tell_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"amvek/core/almanac"
	"amvek/core/rule"
	"amvek/core/tell"
	"amvek/core/thing"
)

type mill struct{}

func (mill) Title(id string) string {
	return map[string]string{"lamp": "Stair lamp", "sensor": "Landing sensor", "g": "Night route", "s": "Supper", "r": "Other rule", "own": "The house"}[id]
}
func (mill) Property(device, name string) *thing.Property {
	switch {
	case device == "own":
		return &thing.Property{Name: name, Title: "Mode", Type: thing.TypeOption, Options: []string{"in"}, Titles: map[string]string{"in": "In"}}
	case name == "brightness":
		return &thing.Property{
			Name:       name,
			Title:      "Brightness",
			Type:       thing.TypeNumber,
			Unit:       thing.UnitPercent,
			Maximum:    100,
			Resolution: 1,
			Role:       thing.RoleBrightness,
		}
	case name == "motion":
		return &thing.Property{Name: name, Title: "Motion", Type: thing.TypeBoolean, Words: []string{"clear", "motion"}}
	}
	return nil
}
func (mill) Members(group, role string) []thing.Ref { return []thing.Ref{{Device: "lamp", Name: role}} }

func TestARuleIsToldAsItStands(t *testing.T) {
	motion := rule.Condition{Device: "sensor", Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)}
	bright := func(percent float64) rule.Step {
		return rule.Step{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(percent), FadeSeconds: 2}
	}
	night := &rule.Window{
		From: almanac.Daily{Anchor: almanac.BySunset, OffsetMinutes: -30},
		To:   almanac.Daily{Anchor: almanac.ByClock, Clock: "06:00", Weekdays: nil},
	}
	for _, c := range []struct {
		rule rule.Rule
		want string
	}{
		{rule.Rule{Whenever: &rule.Condition{All: []rule.Condition{
			motion, {Between: night}, {Expression: `value("sensor", "light") < 5`, ForAtLeastSeconds: 90},
		}}, ForAtLeastSeconds: 180,
			Do:                     []rule.Step{{Kind: rule.StepHold, Device: "lamp", Property: "brightness", Value: thing.Number(25)}},
			EndedForAtLeastSeconds: 7800, BackFadeSeconds: 30}, `
While, for at least 3 min
  all of these
    Landing sensor motion is motion
    and it is between 30 min before sunset and 06:00
    and value(Landing sensor, "light") < 5, for at least 1 min 30 s
do
  hold Stair lamp brightness at 25 %
Once that has ended for at least 2 h 10, let go over 30 s`},
		{rule.Rule{When: []rule.Trigger{
			{Device: "sensor", Property: "motion", Comparison: rule.Is, Value: thing.Boolean(false), ForSeconds: 60},
			{Kind: rule.OnPhrase, Words: "Good night"},
		},
			Gate: &rule.Condition{Device: "own", Property: "mode", Comparison: rule.Is, Value: thing.Text("in")},
			Do: []rule.Step{bright(40), {Kind: rule.StepWait, ForSeconds: 5, ToSeconds: 9},
				{Kind: rule.StepIf, Condition: &motion, Then: []rule.Step{{Kind: rule.StepScene, Scene: "s"}}, Else: []rule.Step{{Kind: rule.StepStop}}},
				{Kind: rule.StepEach, Group: "g", GapSeconds: 2, Do: []rule.Step{
					{Kind: rule.StepSet, Device: rule.Member, Property: "brightness", Value: thing.Number(0)},
				}},
				{Kind: rule.StepOneOf, Branches: []rule.Branch{
					{Do: []rule.Step{{Kind: rule.StepRun, Rule: "r"}}}, {Do: []rule.Step{{Kind: rule.StepNotify, Text: "Done."}}},
				}},
				{Kind: rule.StepScene, Scene: "gone"}}, Policy: rule.Queue, GiveUpAfterSeconds: 600}, `
Each time
  Landing sensor motion becomes clear and stays so for 1 min, or
  “Good night” is said
only while
  Mode is In
do
  set Stair lamp brightness to 40 %, fading 2 s
  wait 5 s to 9 s by chance
  if
    Landing sensor motion is motion
    apply scene Supper
  otherwise
    stop this run
  for each of Night route, with a gap of 2 s
    set its brightness to 0
  one of these, by chance
    this
      run rule Other rule
    or this
      tell the household “Done.”
  apply scene something that is gone
If it is started while it runs: queue it
A wait that ends later than 10 min is given up`},
	} {
		var b strings.Builder
		paths := map[string]bool{}
		for _, line := range tell.Rule(&c.rule, mill{}) {
			b.WriteString("\n" + strings.Repeat("  ", line.Depth) + line.Text)
			assert.False(t, line.Path != "" && paths[line.Path], "two lines at %s", line.Path)
			paths[line.Path] = true
		}
		assert.Equal(t, c.want, b.String())
	}
}

func TestADifferenceGivesBothTextsBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		lines := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) tell.Line {
			return tell.Line{Depth: rapid.IntRange(0, 1).Draw(t, "depth"), Text: rapid.SampledFrom([]string{"a", "b", "c"}).Draw(t, "text")}
		}), 0, 12)
		before, after := lines.Draw(t, "before"), lines.Draw(t, "after")
		var was, is []tell.Line
		changed := 0
		for _, d := range tell.Compare(before, after) {
			if d.Mark != tell.Added {
				was = append(was, tell.Line{Depth: d.Depth, Text: d.Text})
			}
			if d.Mark != tell.Gone {
				is = append(is, tell.Line{Depth: d.Depth, Text: d.Text})
			}
			if d.Mark != tell.Same {
				changed++
			}
		}
		assert.Equal(t, len(before), len(was))
		assert.Equal(t, len(after), len(is))
		for i := range before {
			assert.Equal(t, before[i].Text, was[i].Text)
		}
		for i := range after {
			assert.Equal(t, after[i].Text, is[i].Text)
		}
		if changed == 0 {
			assert.Len(t, after, len(before))
		}
	})
	assert.Equal(t, []tell.Change{{Mark: tell.Same, Text: "a"}, {Mark: tell.Gone, Text: "b"}, {Mark: tell.Added, Text: "x"}, {Mark: tell.Same, Text: "c"}},
		tell.Compare([]tell.Line{{Text: "a"}, {Text: "b"}, {Text: "c"}}, []tell.Line{{Text: "a"}, {Text: "x"}, {Text: "c"}}))
}
