package link_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"

	"amvek/core/link"
	"amvek/core/thing"
)

type lookup struct{}

func (lookup) Property(device, name string) *thing.Property {
	switch device + "/" + name {
	case "l/brightness":
		return &thing.Property{Name: name, Title: "Brightness", Type: thing.TypeNumber, Writable: true, Maximum: 100}
	case "l/effect":
		return &thing.Property{Name: name, Title: "Effect", Type: thing.TypeOption, Writable: true}
	case "d/light":
		return &thing.Property{Name: name, Title: "Light", Type: thing.TypeNumber}
	}
	return nil
}

func (lookup) Event(device, name string) *thing.Event {
	switch device + "/" + name {
	case "d/turn":
		return &thing.Event{Name: name, Title: "Turn", Number: true}
	case "d/press":
		return &thing.Event{Name: name, Title: "Press", Role: thing.RolePress, Options: []string{"down", "up"}}
	}
	return nil
}
func (lookup) HasMode(id string) bool { return id == "in" }
func (lookup) Formula(text string, coming bool) (thing.Type, string) {
	switch {
	case text == "coming" && coming:
		return thing.TypeNumber, ""
	case text == "true":
		return thing.TypeBoolean, ""
	}
	return "", "It is not understood."
}

func TestWhatIsWrongWithALinkIsSaidWhereItIs(t *testing.T) {
	percent := &link.Range{From: 0, To: 100}
	good := func() link.Link {
		return link.Link{
			Title: "Dial",
			Sources: []link.Source{
				{Device: "d", Event: "turn"}, {Device: "d", Property: "light"}, {Device: "d", Event: "press", Is: "double", Gives: -5},
			},
			Stages: []link.Stage{
				{Kind: link.Relative, Step: 2, High: 100}, {Kind: link.Limit, PerSecond: 5},
				{Kind: link.Map, In: percent, Out: percent, Curve: link.Eye}, {Kind: link.ZeroOff},
			},
			Targets: []link.Driven{{Device: "l", Property: "brightness"}},
			Modes:   []string{"in"},
			Only:    "true",
		}
	}
	fine := good()
	assert.Empty(t, fine.Check(lookup{}))
	cases := map[string]struct {
		change func(l *link.Link)
		path   string
		says   string
	}{
		"nothing feeds it":     {func(l *link.Link) { l.Sources = nil }, "sources", "Choose what feeds it."},
		"nothing is set":       {func(l *link.Link) { l.Targets = nil }, "targets", "Choose what is set."},
		"a source half chosen": {func(l *link.Link) { l.Sources[0].Event = "" }, "sources/0", "Choose what feeds it."},
		"a source twice":       {func(l *link.Link) { l.Sources[0].Property = "light" }, "sources/0", "not both"},
		"a source gone":        {func(l *link.Link) { l.Sources[1].Property = "x" }, "sources/1", "any more"},
		"a press":              {func(l *link.Link) { l.Sources[0].Event = "press" }, "sources/0", "Say which gesture of Press counts."},
		"no such gesture":      {func(l *link.Link) { l.Sources[0].Event, l.Sources[0].Is = "press", "shout" }, "sources/0", "Press cannot be shout."},
		"a turn by a gesture":  {func(l *link.Link) { l.Sources[0].Is = "press" }, "sources/0", "counts as it is"},
		"an option":            {func(l *link.Link) { l.Sources[1] = link.Source{Device: "l", Property: "effect"} }, "sources/1", "Effect is no number"},
		"a target of options":  {func(l *link.Link) { l.Targets[0].Property = "effect" }, "targets/0", "Effect takes no number"},
		"a target to be read":  {func(l *link.Link) { l.Targets[0] = link.Driven{Device: "d", Property: "light"} }, "targets/0", "Light can only be read."},
		"a target gone":        {func(l *link.Link) { l.Targets[0].Device = "x" }, "targets/0", "any more"},
		"a target twice":       {func(l *link.Link) { l.Targets = append(l.Targets, l.Targets[0]) }, "targets/1", "twice"},
		"onto itself":          {func(l *link.Link) { l.Sources[1] = link.Source{Device: "l", Property: "brightness"} }, "targets/0", "feeds the link itself"},
		"no such mode":         {func(l *link.Link) { l.Modes = []string{"in", "x"} }, "modes/1", "no such mode"},
		"a wrong condition":    {func(l *link.Link) { l.Only = "maybe" }, "only", "not understood"},
		"a limit of none":      {func(l *link.Link) { l.Stages[1].PerSecond = 0 }, "stages/1/perSecond", "a second"},
		"no step":              {func(l *link.Link) { l.Stages[0].Step = 0 }, "stages/0/step", "adds"},
		"bounds turned round":  {func(l *link.Link) { l.Stages[0].Low = 100 }, "stages/0/high", "above 100"},
		"a range of nothing":   {func(l *link.Link) { l.Stages[2].In = &link.Range{From: 1, To: 1} }, "stages/2/in", "its ends differ"},
		"no range":             {func(l *link.Link) { l.Stages[2].Out = nil }, "stages/2/out", "which range goes out"},
		"one value behind a turn": {
			func(l *link.Link) { l.Stages[2].Out = &link.Range{From: 5, To: 5} }, "stages/0", "a single value",
		},
		"points that go back": {
			func(l *link.Link) {
				l.Stages[2].Curve, l.Stages[2].Points = link.Points, []link.CurvePoint{{X: 0.5}, {X: 0.2, Y: 1}}
			}, "stages/2/points/1", "to the right",
		},
		"up and down behind a turn": {
			func(l *link.Link) {
				l.Stages[2].Curve, l.Stages[2].Points = link.Points, []link.CurvePoint{{X: 0}, {X: 0.5, Y: 1}, {X: 1}}
			}, "stages/0", "up and down",
		},
		"an expression behind a turn": {func(l *link.Link) { l.Stages[3] = link.Stage{Kind: link.Expression, Text: "coming"} }, "stages/0", "put that before"},
		"a wrong expression":          {func(l *link.Link) { l.Stages = []link.Stage{{Kind: link.Expression, Text: "going"}} }, "stages/0/text", "not understood"},
		"two that add up":             {func(l *link.Link) { l.Stages[3] = l.Stages[0] }, "stages/0", "another such stage"},
		"no stage":                    {func(l *link.Link) { l.Stages[3].Kind = "magic" }, "stages/3/kind", `"magic" is no stage.`},
	}
	for name, c := range cases {
		t.Run(name, func(t *testing.T) {
			l := good()
			c.change(&l)
			problems := l.Check(lookup{})
			if assert.NotEmpty(t, problems) {
				assert.Equal(t, c.path, problems[0].Path)
				assert.Contains(t, problems[0].Message, c.says)
			}
		})
	}
	bare := link.Link{Title: " "}
	assert.ErrorContains(t, bare.WellFormed(), "give the link a name")
}

// FuzzLink: any document is read and checked without end or panic.
func FuzzLink(f *testing.F) {
	f.Add([]byte(`{"title":"x","sources":[{"device":"d","event":"turn"}],"stages":[{"kind":"map","in":{"from":0,"to":1}}],"targets":[]}`))
	f.Fuzz(func(_ *testing.T, data []byte) {
		var l link.Link
		if json.Unmarshal(data, &l) == nil {
			l.Check(lookup{})
		}
	})
}
