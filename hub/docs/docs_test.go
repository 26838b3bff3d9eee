package docs_test

import (
	"encoding/json"
	"go/ast"
	"go/parser"
	"go/token"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/almanac"
	"amvek/core/board"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/link"
	"amvek/core/mirror"
	"amvek/core/rule"
	"amvek/core/tell"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// samples has a document of each kind.
func samples() map[docs.Kind]any {
	lamp := &home.Device{
		Title:      "Lamp",
		Room:       "room-1",
		Labels:     []string{"night"},
		Connection: "gateways",
		Address:    "a",
		Hardware:   "a",
		Maker:      "Quillet",
		Model:      "Q1",
	}
	return map[docs.Kind]any{
		docs.KindHome:       &home.Home{Title: "Mill", Zone: "Europe/London", NamePattern: "{room} {what}"},
		docs.KindRoom:       &home.Room{Title: "Hall", Floor: "Below"},
		docs.KindConnection: &docs.Connection{Title: "Bridge", Kind: "bridge", Address: "127.0.0.1:80"},
		docs.KindProfile:    &docs.Profile{Title: "Lamp", Model: "Q1", Document: json.RawMessage(`{"title":"Lamp"}`)},
		docs.KindThing:      &docs.Thing{Title: "Plug", Hardware: "urn:plug"},
		docs.KindCalendar:   &home.Calendar{Title: "Waste", Address: "https://calendar.example/waste.ics", EveryMinutes: 60},
		docs.KindDevice:     lamp,
		docs.KindGroup:      &home.Group{Title: "Lanterns", Devices: []string{"device-1"}},
		docs.KindScene: &light.Scene{
			Title:       "Evening",
			FadeSeconds: 2,
			Targets:     []light.Target{{Device: "device-1", Property: "brightness", Value: thing.Number(40)}},
		},
		docs.KindSequence: &light.Sequence{
			Title:    "Slow",
			Passages: []light.Passage{{Scene: "scene-1", FadeSeconds: 3, StaySeconds: 60}},
			Ending:   light.EndRepeat,
		},
		docs.KindRule:     &rule.Rule{Title: "Stairs", Enabled: true, Do: []rule.Step{{Kind: rule.StepScene, Scene: "scene-1"}}},
		docs.KindSchedule: &rule.Schedule{Title: "Morning", Do: []rule.Step{{Kind: rule.StepScene, Scene: "scene-1"}}},
		docs.KindVariable: &home.Variable{Title: "Guests", Type: thing.TypeBoolean},
		docs.KindModes:    &home.Modes{Modes: []home.Mode{{ID: "mode-in", Title: "In"}, {ID: "mode-out", Title: "Out"}}},
		docs.KindPerson:   &home.Person{Title: "Ada", Role: home.Guest, Until: time.Date(2026, 12, 1, 12, 0, 0, 0, time.UTC), Dashboards: []string{"dashboard-1"}},
		docs.KindLink: &link.Link{
			Title: "Dial", Enabled: true, Sources: []link.Source{{Device: "device-1", Event: "turn"}},
			Stages: []link.Stage{
				{Kind: link.Relative, Step: 2, High: 100}, {Kind: link.Limit, PerSecond: 5}, {Kind: link.Changes}, {Kind: link.DeadBand, Width: 1},
				{Kind: link.Smooth, Seconds: 1}, {Kind: link.Delay, Seconds: 1}, {Kind: link.Bounds, Low: 1, High: 9}, {Kind: link.ZeroOff},
				{Kind: link.Map, In: &link.Range{To: 255}, Out: &link.Range{To: 100}, Curve: link.Points, Points: []link.CurvePoint{{}, {X: 1, Y: 1}}},
				{Kind: link.Expression, Text: "coming"},
			},
			Targets: []link.Driven{{Device: "device-1", Property: "brightness"}}, Modes: []string{"in"}, Only: "true",
		},
		docs.KindMirror: &mirror.Mirror{
			Title: "Stairs", Enabled: true, Winner: mirror.First,
			Members: []mirror.Member{{Device: "device-1", Property: "brightness"}, {Device: "device-2", Property: "power"}},
		},
		docs.KindCurve: &light.DayCurve{
			Title: "Evening", Points: []light.DayPoint{{At: almanac.Daily{Anchor: almanac.BySunset, OffsetMinutes: -30}, Level: 60, Kelvin: 2700}},
		},
		docs.KindLight: &light.RoomLight{
			Title: "Hall", Rooms: []string{"room-1"}, Lamps: []string{"device-1"}, Circuits: map[string]light.Circuit{"device-1": {JoinsAbove: 30, OwnTone: true}},
			Scenes: []light.RoomScene{{Scene: "scene-1", Skip: true}}, Curve: "curve-1",
		},
		docs.KindDashboard: &board.Dashboard{Grid: board.Columns,
			Title:    "Hall",
			Controls: []board.Control{{ID: "a", Kind: board.Lamp, Aim: board.Aim{Device: "device-1", Property: "brightness"}, Place: board.Place{Width: 1, Height: 1}}},
		},
	}
}

type names struct{}

func (names) Title(id string) string                  { return "«" + id + "»" }
func (names) Property(string, string) *thing.Property { return nil }
func (names) Members(string, string) []thing.Ref      { return nil }

// Every kind that there is a constant for is in the table, with a sample here.
func TestEveryKindIsDescribed(t *testing.T) {
	file, err := parser.ParseFile(token.NewFileSet(), "docs.go", nil, 0)
	require.NoError(t, err)
	count := 0
	ast.Inspect(file, func(n ast.Node) bool {
		if spec, is := n.(*ast.ValueSpec); is && strings.HasPrefix(spec.Names[0].Name, "Kind") {
			count++
			kind := docs.Kind(strings.Trim(spec.Values[0].(*ast.BasicLit).Value, `"`))
			_, known := docs.Of(kind)
			assert.True(t, known, kind)
			assert.Contains(t, samples(), kind)
		}
		return true
	})
	assert.Len(t, docs.All(), count)
}

// What is put is there as it was put, survives being written down, is told in words, and is gone when it is dropped.
func TestDefinitionsOfEveryKindComeAndGo(t *testing.T) {
	for kind, doc := range samples() {
		traits, known := docs.Of(kind)
		require.True(t, known)
		data, err := json.Marshal(doc)
		require.NoError(t, err)
		again, err := docs.Decode(kind, data)
		require.NoError(t, err)
		assert.Equal(t, doc, again, kind)

		set := docs.NewSet()
		set.Put(kind, "one", 3, doc)
		got, revision, there := set.Get(kind, "one")
		assert.True(t, there, kind)
		assert.Equal(t, 3, revision)
		assert.Same(t, doc, got)
		assert.Equal(t, []string{"one"}, traits.IDs(&set))
		lines := traits.Tell(doc, names{})
		require.NotEmpty(t, lines, kind)
		if title := traits.Title(doc); title != "" {
			assert.Equal(t, title, set.Title(kind, "one"))
			assert.Contains(t, text(lines), title)
		}
		set.Drop(kind, "one")
		_, _, there = set.Get(kind, "one")
		assert.False(t, there, kind)
		assert.Empty(t, set.UsedBy("device-1"))
		assert.Empty(t, set.UsedBy("scene-1"))
	}
}

func text(lines []tell.Line) string {
	var all strings.Builder
	for _, l := range lines {
		all.WriteString(l.Text + "\n")
	}
	return all.String()
}

func TestOfAnUnknownKindNothingIsKnown(t *testing.T) {
	_, known := docs.Of("button")
	assert.False(t, known)
	_, err := docs.Decode("button", []byte(`{}`))
	assert.Error(t, err)
	set := docs.NewSet()
	set.Put("button", "one", 1, &home.Room{})
	_, _, there := set.Get("button", "one")
	assert.False(t, there)
	_, err = docs.Decode(docs.KindRoom, []byte(`{"title":3}`))
	assert.ErrorContains(t, err, "room")
}

// Whose views may change with a scene: what uses it, and what it uses.
func TestNearAreThoseThatReferAndThoseReferredTo(t *testing.T) {
	set := docs.NewSet()
	for kind, doc := range samples() {
		set.Put(kind, string(kind)+"-1", 1, doc)
	}
	assert.ElementsMatch(t, []docs.Named{
		{
			Kind: docs.KindRule,
			ID:   "rule-1",
		}, {Kind: docs.KindSchedule, ID: "schedule-1"}, {Kind: docs.KindSequence, ID: "sequence-1"}, {Kind: docs.KindLight, ID: "light-1"}, {Kind: docs.KindDevice, ID: "device-1"},
	}, set.Near(docs.KindScene, "scene-1"))
}

// A description without events or actions, as it may have been written, is shown with lists of none.
func TestTheListsOfADeviceAreLists(t *testing.T) {
	doc, err := docs.Decode(docs.KindDevice, []byte(`{"title":"Old","description":{"properties":null,"events":null}}`))
	require.NoError(t, err)
	set := docs.NewSet()
	set.Put(docs.KindDevice, "old", 1, doc)
	data, err := json.Marshal(set.Device("old").Description)
	require.NoError(t, err)
	assert.NotContains(t, string(data), "null")
}
