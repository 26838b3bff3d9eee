package tell_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amvek/core/almanac"
	"amvek/core/board"
	"amvek/core/cover"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/tell"
	"amvek/core/thing"
)

// house names a lamp, a hall, and the modes of a household.
type house struct{}

func (house) Title(id string) string {
	return map[string]string{"lamp": "Table lamp", "hall": "Hall", "evening": "Evening", "stairs": "Stair light"}[id]
}

func (house) Property(device, name string) *thing.Property {
	usual := home.UsualModes()
	modes := usual.Property()
	switch {
	case device == rule.OwnDevice && name == home.ModeProperty:
		return &modes
	case device == "lamp" && name == "brightness":
		return &thing.Property{Name: name, Title: "Brightness", Type: thing.TypeNumber, Unit: thing.UnitPercent, Maximum: 100, Resolution: 1}
	default:
		return nil
	}
}

func (house) Members(string, string) []thing.Ref { return nil }

func lines(all []tell.Line) (texts []string) {
	for _, l := range all {
		texts = append(texts, l.Text)
	}
	return texts
}

// Each definition is said in words that its owner would use, with names in the place of ids.
func TestDefinitionsAreSaidInWords(t *testing.T) {
	level, slow := thing.Number(40), 40.0
	lamp := &home.Device{
		Title: "Table lamp", Room: "hall", Note: "By the window\nwarm", Labels: []string{"night", "guests"}, AttendedOnly: true,
		Agreement: &home.Agreement{Policy: home.SetAgain, Tries: 2}, Travel: map[string]cover.Travel{"position": {UpSeconds: 21, DownSeconds: 19}},
		Adjustments: map[string]thing.Adjustment{
			"brightness": {Slope: 1.1, Offset: -2, SmoothSeconds: 60, Precision: 0.5}, "other": {},
		},
		Maker: "Quillet", Model: "Q1", Hardware: "q-1",
		Description: thing.Description{Properties: []thing.Property{{Name: "brightness", Title: "Brightness"}}},
	}
	for name, c := range map[string]struct {
		said []tell.Line
		want []string
	}{
		"home": {
			tell.Home(&home.Home{Title: "Mill", Latitude: 51.5, Longitude: -2.6, Zone: "Europe/London", NamePattern: "{room} {what}"}, house{}),
			[]string{"Name: Mill", "Place: 51.5°, -2.6°", "Time zone: Europe/London", "Names are proposed by: {room} {what}"},
		},
		"room": {
			tell.Room(&home.Room{Title: "Hall", Floor: "Below", Order: 2}, house{}),
			[]string{"Name: Hall", "Floor: Below", "Place in the list: 3"},
		},
		"calendar": {
			tell.Calendar(&home.Calendar{Title: "Waste", Address: "https://calendar.example/waste.ics", EveryMinutes: 60, OwnMachine: true}, house{}),
			[]string{"Name: Waste", "Address: https://calendar.example/waste.ics", "Read every 1 h", "The address may be one of this machine"},
		},
		"device": {
			tell.Device(lamp, house{}),
			[]string{
				"Name: Table lamp", "Note: By the window", "Note: warm", "Room: Hall", "Labels: night, guests", "Only a hand switches it on",
				"Where it differs from the hub: set it again, up to 2 times", "Travels up in 21 s, down in 19 s",
				"Brightness: times 1.1, -2, smoothed over 1 min, rounded to 0.5", "other: as it comes", "Hardware: Quillet Q1 q-1", "Brightness",
			},
		},
		"panel": {
			tell.Device(&home.Device{Title: "Galley panel", Hardware: "p", Dashboards: []string{"evening", "gone"}}, house{}),
			[]string{"Name: Galley panel", "Dashboard: Evening", "Dashboard: something that is gone", "Hardware: p"},
		},
		"group": {
			tell.Group(&home.Group{Title: "Lanterns", Devices: []string{"lamp", "gone"}}, house{}),
			[]string{"Name: Lanterns", "Table lamp", "something that is gone"},
		},
		"number": {
			tell.Variable(&home.Variable{Title: "Wanted warmth", Type: thing.TypeNumber, Minimum: 5, Maximum: 30, Unit: "°C", Initial: thing.Number(20)}, house{}),
			[]string{"Name: Wanted warmth", "A number from 5 to 30 °C", "Until it is set: 20"},
		},
		"choice": {
			tell.Variable(&home.Variable{Title: "Who cooks", Type: thing.TypeOption, Options: []string{"Tove", "Ilse"}}, house{}),
			[]string{"Name: Who cooks", "One of: Tove, Ilse"},
		},
		"computed": {
			tell.Variable(&home.Variable{Title: "Lit", Type: thing.TypeBoolean, Expression: `value("lamp", "brightness") > 0`}, house{}),
			[]string{"Name: Lit", "Yes or no", "Computed by: value(Table lamp, \"brightness\") > 0"},
		},
		"modes": {
			tell.Modes(&home.Modes{Modes: []home.Mode{{ID: "a", Title: "In"}, {ID: "b", Title: "Out"}}}, house{}),
			[]string{"In", "Out"},
		},
		"scene": {
			tell.Scene(&light.Scene{Title: "Evening", FadeSeconds: 90, Modes: []string{home.UsualModes().Modes[0].ID}, Targets: []light.Target{
				{Device: "lamp", Property: "brightness", Value: level},
				{Device: "lamp", Property: "brightness", Expression: `value("lamp", "brightness") / 2`},
			}}, house{}),
			[]string{
				"Name: Evening", "Fade: 1 min 30 s", "Applied by itself only in: " + home.UsualModes().Modes[0].Title,
				"Table lamp brightness: 40 %", `Table lamp brightness: value(Table lamp, "brightness") / 2`,
			},
		},
		"scene with more said of it": {
			tell.Scene(&light.Scene{Title: "Evening", Icon: "moon", Color: "ochre", Hidden: true, Targets: []light.Target{
				{Device: "lamp", Property: "brightness", Value: level, FadeSeconds: &slow},
				{Device: "lamp", Property: "brightness", Curve: "evening"},
				{Device: "lamp", Property: "brightness", Expression: "2 + 2", Follows: true},
			}}, house{}),
			[]string{
				"Name: Evening", "Icon: moon", "Color: ochre", "Hidden from the household", "Table lamp brightness: 40 %, in 40 s",
				"Table lamp brightness: follows Evening", "Table lamp brightness: follows 2 + 2",
			},
		},
		"lamp that is driven otherwise": {
			tell.Device(&home.Device{Title: "Lamp", Hardware: "l", Lighting: &home.Lighting{
				LeastLevel: 9, Fades: home.ByHub, White: &home.WhiteRange{Warmest: 2700, Coolest: 5000},
			}}, house{}),
			[]string{"Name: Lamp", "Driven from 9 % on", "Faded by: the hub", "Whites from 2700 to 5000 K", "Hardware: l"},
		},
		"scene that is worked out": {
			tell.Scene(&light.Scene{Title: "Evening", FadeSeconds: 3, FadeExpression: "2 + 2"}, house{}),
			[]string{"Name: Evening", "Fade, in seconds: 2 + 2"},
		},
		"sequence": {
			tell.Sequence(&light.Sequence{
				Title: "Slow", Passages: []light.Passage{{Scene: "evening", FadeSeconds: 3, StaySeconds: 120, Level: 50}}, Ending: light.EndFadeOut,
			}, house{}),
			[]string{"Name: Slow", "Evening, in 3 s, for 2 min, at 50 % of its brightness", "Then: the lights go out"},
		},
		"schedule": {
			tell.Schedule(&rule.Schedule{
				Title: "Morning", At: almanac.Daily{Anchor: almanac.ByClock, Clock: "06:50"}, Do: []rule.Step{{Kind: rule.StepScene, Scene: "evening"}},
			}, house{}),
			[]string{"Name: Morning", "Switched off", "At 06:50", "apply scene Evening"},
		},
		"dashboard": {
			tell.Dashboard(&board.Dashboard{Grid: board.Columns, Title: "Hall", Controls: []board.Control{
				{Kind: board.Lamp, Aim: board.Aim{Device: "lamp", Property: "brightness"}, Place: board.Place{Column: 2, Row: 0, Width: 3, Height: 2}},
				{Kind: board.Scene, Aim: board.Aim{Scene: "evening"}, Place: board.Place{Width: 1, Height: 1}},
				{Kind: board.Rule, Aim: board.Aim{Rule: "stairs"}, Place: board.Place{Width: 1, Height: 1}},
				{Kind: board.Scene, Aim: board.Aim{Scene: "evening"}, Label: "Cosy", Place: board.Place{Width: 1, Height: 1}},
			}}, house{}),
			[]string{
				"Name: Hall", "Table lamp brightness, column 3, row 1, 3 × 2", "Evening, column 1, row 1, 1 × 1",
				"Stair light, column 1, row 1, 1 × 1", "Cosy, column 1, row 1, 1 × 1",
			},
		},
		"a text of another maker": {
			tell.JSON([]byte(`{"title":"Lamp","properties":{}}`)), []string{"{", `"title": "Lamp",`, `"properties": {}`, "}"},
		},
		"what is no JSON": {tell.JSON([]byte(`{`)), []string{"{"}},
	} {
		assert.Equal(t, c.want, lines(c.said), name)
	}
}
