package board_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/board"
	"amvek/core/home"
	"amvek/core/thing"
)

func lampDevice(title, room, model string, properties ...thing.Property) *home.Device {
	brightness := thing.Property{Name: "bri", Role: thing.RoleBrightness, Type: thing.TypeNumber, Maximum: 100, Writable: true}
	return &home.Device{
		Title: title, Room: room, Maker: "Lumbrook", Model: model,
		Description: thing.Description{Properties: append([]thing.Property{brightness}, properties...)},
	}
}

func device(title, room string, d thing.Description) *home.Device {
	return &home.Device{Title: title, Room: room, Description: d}
}

func readings(roles ...thing.Role) thing.Description {
	var d thing.Description
	for _, role := range roles {
		d.Properties = append(d.Properties, thing.Property{Name: string(role), Role: role, Type: thing.TypeNumber})
	}
	return d
}

// mill is two rooms: the mill room has one device that the east room has nothing like.
func mill() board.Known {
	shutter := thing.Description{Properties: []thing.Property{
		{Name: "position", Role: thing.RolePosition, Type: thing.TypeNumber, Writable: true}, {Name: "up", Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true},
	}}
	robot := thing.Description{Actions: []thing.Action{
		{Name: "clean", Title: "Clean"}, {Name: "find", Title: "Find it", Role: thing.RoleIdentify},
		{Name: "go", Title: "Go to", Inputs: []thing.Input{{Required: true}}},
	}}
	player := thing.Description{Properties: []thing.Property{
		{Name: "track", Role: thing.RoleTrack, Type: thing.TypeText}, {Name: "play", Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true},
	}}
	return board.Known{
		Devices: map[string]*home.Device{
			"m1": lampDevice("Mill room left lamp", "mill", "tint"), "m2": lampDevice("Mill room right lamp", "mill", "tint"),
			"m3": device("Mill room shutter", "mill", shutter), "m4": device("Mill room thermometer", "mill", readings(thing.RoleTemperature, thing.RoleBattery)),
			"m5": device("Second thermometer", "mill", readings(thing.RoleTemperature)), "m6": device("Robot", "mill", robot),
			"m7": device("Player", "mill", player),
			"m8": device("Porch camera", "mill", thing.Description{Pictures: []thing.Picture{{Name: "view"}}}),
			"m9": {Title: "Kiln", Room: "mill", AttendedOnly: true, Description: thing.Description{Properties: []thing.Property{
				{Name: "on", Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true},
				{Name: "limit", Type: thing.TypeBoolean, Writable: true, Setting: &thing.Setting{}},
			}}},
			"e1": lampDevice("East room right lamp", "east", "tint"), "e2": lampDevice("East room left lamp", "east", "plain"),
			"e4": device("East room thermometer", "east", readings(thing.RoleTemperature)),
		},
		Scenes: []board.Made{
			{ID: "evening", Title: "Mill room evening", Devices: []string{"m1", "m2", "e1"}}, {ID: "east", Title: "East room evening", Devices: []string{"e1"}},
			{ID: "all off", Title: "All off", Devices: []string{"m1", "e1"}},
		},
		Lights: []board.Lit{{ID: "lit mill", Rooms: []string{"mill"}}, {ID: "lit attic", Rooms: []string{"attic"}}, {ID: "lit east", Rooms: []string{"east"}}, {ID: "lit both", Rooms: []string{"mill", "east"}}},
	}
}

func kinds(d *board.Dashboard) (all []string) {
	for _, c := range d.Controls {
		all = append(all, fmt.Sprint(c.Kind, " ", c.Device, c.Scene, c.Light))
	}
	return all
}

func TestADashboardIsDraftedFromWhatIsInARoom(t *testing.T) {
	d := board.Draft("Mill room", []board.Room{{ID: "mill", Title: "Mill room"}}, mill())
	require.NoError(t, d.Check())
	assert.Equal(t, []string{
		"room lit mill", "scene evening", "lamp m1", "lamp m2", "shutter m3", "value m4", "switch m9", "player m7", "camera m8", "action m6",
	}, kinds(d), "one thermometer, no settings, no battery, no action that has to be told more")
	var labels []string
	places := make([]board.Place, 0, len(d.Controls))
	for _, c := range d.Controls {
		labels = append(labels, c.Label)
		places = append(places, c.Place)
		assert.Equal(t, c.Device == "m9", c.Ask, "what is attended only is asked about")
	}
	free(t, board.Columns, places...)
	assert.Equal(t, []string{"", "", "Left lamp", "Right lamp", "Shutter", "Thermometer", "Kiln", "Player", "Porch camera", "Robot"}, labels)
}

func TestOfSeveralRoomsEachStandsUnderItsName(t *testing.T) {
	d := board.Draft("House", []board.Room{{ID: "mill", Title: "Mill room"}, {ID: "attic", Title: "Attic"}, {ID: "east", Title: "East room"}}, mill())
	require.NoError(t, d.Check())
	var headings []any
	for _, c := range d.Controls {
		if c.Kind == board.Label {
			headings = append(headings, c.Options["text"])
		}
	}
	assert.Equal(t, []any{"Mill room", "East room"}, headings, "nothing is in the attic")
	assert.Empty(t, board.Draft("Attic", []board.Room{{ID: "attic"}}, mill()).Controls)
}

func TestWhatIsPickedStandsInThatOrder(t *testing.T) {
	known := mill()
	d := board.Picked("At hand", []board.Pick{
		{Kind: board.PickRule, ID: "stairs"}, {Kind: board.PickDevice, ID: "gone"}, {Kind: board.PickRoom, ID: "mill"},
		{Kind: board.PickDevice, ID: "m1"}, {Kind: board.PickScene, ID: "supper"}, {Kind: board.PickDashboard, ID: "wall"},
		{Kind: board.PickSequence, ID: "dawn"},
	}, known)
	var kinds []board.Kind
	ids := map[string]bool{}
	for _, c := range d.Controls {
		kinds = append(kinds, c.Kind)
		ids[c.ID] = true
	}
	assert.Equal(t, []board.Kind{board.Rule, board.Lamp, board.Scene, board.Link, board.Sequence}, kinds)
	assert.Len(t, ids, len(d.Controls), "each has an id of its own")
	assert.NoError(t, d.Check())
	assert.Len(t, board.Picked("At hand", slices.Repeat([]board.Pick{{Kind: board.PickScene, ID: "supper"}}, 1000), known).Controls, 400)
}

func copied(controls ...board.Control) ([]board.Control, board.Target) {
	known := mill()
	for i := range controls {
		controls[i].ID = fmt.Sprint("c", i)
		controls[i].Place = board.Place{Row: 4 + 2*i, Width: 8, Height: 2}
	}
	return controls, board.Target{
		Room: board.Room{ID: "east", Title: "East room"}, Rooms: map[string]string{"east": "East room", "mill": "Mill room"},
		Devices: known.Devices, Scenes: known.Scenes, Lights: known.Lights,
	}
}

func lampControl(device string) board.Control {
	return board.Control{Kind: board.Lamp, Aim: board.Aim{Device: device, Property: "bri"}}
}

func TestControlsAreMatchedByRoleAndName(t *testing.T) {
	controls, east := copied(lampControl("m1"), lampControl("m2"),
		board.Control{Kind: board.Shutter, Aim: board.Aim{Device: "m3", Property: "position"}},
		board.Control{Kind: board.Scene, Aim: board.Aim{Scene: "evening"}}, board.Control{Kind: board.Scene, Aim: board.Aim{Scene: "all off"}},
		board.Control{Kind: board.Chart, Values: []thing.Ref{{Device: "m4", Name: "temperature"}, {Device: "m3", Name: "position"}}},
		board.Control{Kind: board.RoomLight, Aim: board.Aim{Light: "lit mill"}},
	)
	rows := board.Match(controls, east)
	matched := map[string]string{}
	for _, r := range rows {
		matched[r.From] = r.To
	}
	assert.Equal(t, map[string]string{"m1": "e2", "m2": "e1", "m3": "", "m4": "e4", "evening": "east", "all off": "", "lit mill": "lit east"}, matched)
	assert.Equal(t, board.Replacement{Kind: "device", From: "m1", To: "e2", Why: "same kind of device, same name", Fits: []string{"e2", "e1"}, Controls: []string{"c0"}}, rows[0])
	assert.Equal(t, "same model, same name", rows[1].Why)
	assert.Equal(t, []string{"c2", "c5"}, rows[2].Controls)
}

func TestCopiesAreAboutWhatWasChosen(t *testing.T) {
	next := 0
	id := func() string { next++; return fmt.Sprint("new", next) }
	lamp := lampControl("m1")
	lamp.Hold = &board.Touch{Do: board.DoScene, Aim: board.Aim{Scene: "evening"}}
	controls, east := copied(lamp,
		board.Control{Kind: board.Shutter, Aim: board.Aim{Device: "m3", Property: "position"}},
		board.Control{Kind: board.Scene, Aim: board.Aim{Scene: "all off"}},
		board.Control{Kind: board.Chart, Values: []thing.Ref{{Device: "m4", Name: "temperature"}, {Device: "m3", Name: "position"}}},
		board.Control{Kind: board.RoomLight, Aim: board.Aim{Light: "lit mill"}},
	)
	choices := map[string]string{"lit mill": "lit east", "m1": "e2", "evening": "east", "m3": board.LeaveOut, "all off": board.AsItIs, "m4": "e4"}
	copies, err := board.Repoint(controls, choices, east.Devices, id, 20)
	require.NoError(t, err)
	require.Len(t, copies, 4)
	assert.Equal(t, board.Aim{Device: "e2", Property: "bri"}, copies[0].Aim)
	assert.Equal(t, "east", copies[0].Hold.Scene)
	assert.Equal(t, "evening", controls[0].Hold.Scene, "the original stays as it is")
	assert.Equal(t, "m3", controls[3].Values[1].Device, "and so do its values")
	assert.Equal(t, 20, copies[0].Row, "below the others, as they lay")
	assert.Equal(t, 24, copies[1].Row)
	assert.Equal(t, "all off", copies[1].Scene)
	assert.Equal(t, []thing.Ref{{Device: "e4", Name: "temperature"}}, copies[2].Values, "a chart keeps what has a match")
	assert.Equal(t, "lit east", copies[3].Light)
	assert.Equal(t, "new1", copies[0].ID)

	_, err = board.Repoint(controls, map[string]string{"m1": "e4"}, east.Devices, id, 0)
	assert.ErrorContains(t, err, "East room thermometer cannot stand for Mill room left lamp")
	_, err = board.Repoint(controls, map[string]string{"m1": "nobody"}, east.Devices, id, 0)
	assert.ErrorContains(t, err, `no device "nobody"`)
	none, err := board.Repoint(controls, nil, east.Devices, id, 0)
	require.NoError(t, err)
	assert.Empty(t, none, "what has no match is left out")
}

func TestWhatIsCalledOtherwiseElsewhereIsFoundByItsRole(t *testing.T) {
	controls, east := copied(lampControl("m1"),
		board.Control{Kind: board.Camera, Aim: board.Aim{Device: "m8", Camera: "view"}},
		board.Control{Kind: board.Action, Aim: board.Aim{Device: "m6", Action: "clean"}},
	)
	east.Devices = map[string]*home.Device{
		"m1": east.Devices["m1"], "m8": east.Devices["m8"], "m6": east.Devices["m6"],
		"dimmer": device("Dimmer", "east", thing.Description{Properties: []thing.Property{
			{Name: "level", Role: thing.RoleBrightness, Type: thing.TypeNumber, Writable: true}, {Name: "bri", Role: thing.RoleBrightness, Type: thing.TypeNumber},
		}}),
		"camera": device("Camera", "east", thing.Description{Pictures: []thing.Picture{{Name: "wide"}}}),
	}
	rows := board.Match(controls, east)
	assert.Equal(t, []string{"dimmer", "camera", ""}, []string{rows[0].To, rows[1].To, rows[2].To})
	copies, err := board.Repoint(controls, map[string]string{"m1": "dimmer", "m8": "camera"}, east.Devices, func() string { return "x" }, 0)
	require.NoError(t, err)
	assert.Equal(t, board.Aim{Device: "dimmer", Property: "level"}, copies[0].Aim)
	assert.Equal(t, board.Aim{Device: "camera", Camera: "wide"}, copies[1].Aim)
}
