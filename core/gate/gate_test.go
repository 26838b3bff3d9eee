package gate_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"amvek/core/board"
	"amvek/core/gate"
	"amvek/core/home"
	"amvek/core/thing"
)

func TestWhoMayWhat(t *testing.T) {
	board := &gate.Reach{
		Sees:     map[gate.Thing]bool{{Kind: "scene", ID: "supper"}: true, {Kind: "property", ID: "lock", Name: "locked"}: true},
		Operates: map[gate.Thing]bool{{Kind: "scene", ID: "supper"}: true},
	}
	supper, other := gate.Thing{Kind: "scene", ID: "supper"}, gate.Thing{Kind: "scene", ID: "other"}
	lock := gate.Thing{Kind: "property", ID: "lock", Name: "locked"}
	outside, owner, member := gate.Principal{}, gate.Principal{Rank: gate.Of(home.Owner)}, gate.Principal{Rank: gate.Of(home.Member)}
	guest, reader, builder := gate.Principal{Rank: gate.Of(home.Guest), Within: board}, gate.Principal{Rank: gate.Seeing}, gate.Principal{Rank: gate.Building}
	for _, c := range []struct {
		permission gate.Permission
		of         gate.Thing
		may        map[*gate.Principal]bool
	}{
		{gate.Anyone, gate.Thing{}, map[*gate.Principal]bool{&outside: true, &owner: true, &member: true, &guest: true, &reader: true, &builder: true}},
		{gate.SignedIn, gate.Thing{}, map[*gate.Principal]bool{&owner: true, &member: true, &guest: true, &reader: true, &builder: true}},
		{gate.See, supper, map[*gate.Principal]bool{&owner: true, &member: true, &guest: true, &reader: true, &builder: true}},
		{gate.See, lock, map[*gate.Principal]bool{&owner: true, &member: true, &guest: true, &reader: true, &builder: true}},
		{gate.See, other, map[*gate.Principal]bool{&owner: true, &member: true, &reader: true, &builder: true}},
		{gate.Use, supper, map[*gate.Principal]bool{&owner: true, &member: true, &guest: true, &builder: true}},
		{gate.Use, lock, map[*gate.Principal]bool{&owner: true, &member: true, &builder: true}},
		{gate.Read, gate.Thing{}, map[*gate.Principal]bool{&owner: true, &member: true, &reader: true, &builder: true}},
		{gate.Operate, gate.Thing{}, map[*gate.Principal]bool{&owner: true, &member: true, &builder: true}},
		{gate.SetUp, gate.Thing{}, map[*gate.Principal]bool{&owner: true, &builder: true}},
		{gate.Own, gate.Thing{}, map[*gate.Principal]bool{&owner: true}},
		{"sing", gate.Thing{}, nil},
	} {
		for name, who := range map[string]*gate.Principal{
			"outside": &outside, "owner": &owner, "member": &member, "guest": &guest, "reader": &reader, "builder": &builder,
		} {
			assert.Equal(t, c.may[who], who.May(c.permission, c.of), "%s: %s of %v", name, c.permission, c.of)
		}
	}
	assert.Equal(t, gate.Outside, gate.Of("king"))
}

// Whoever ranks higher may all that others may who reach the same.
func TestARankHasWhatThoseBeforeItHave(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		lower := gate.Rank(rapid.IntRange(0, 4).Draw(t, "lower"))
		higher := gate.Rank(rapid.IntRange(int(lower), 4).Draw(t, "higher"))
		permission := rapid.SampledFrom(gate.Permissions()).Draw(t, "permission")
		of := gate.Thing{Kind: "scene", ID: rapid.SampledFrom([]string{"a", "b"}).Draw(t, "of")}
		var within *gate.Reach
		if rapid.Bool().Draw(t, "within") {
			within = &gate.Reach{Sees: map[gate.Thing]bool{{Kind: "scene", ID: "a"}: true}, Operates: map[gate.Thing]bool{{Kind: "scene", ID: "a"}: true}}
		}
		less, more := gate.Principal{Rank: lower, Within: within}, gate.Principal{Rank: higher, Within: within}
		if less.May(permission, of) {
			assert.True(t, more.May(permission, of))
		}
	})
}

// household is what the dashboards of these tests are about.
func household(id string) *home.Device {
	property := func(name string, role thing.Role) thing.Property { return thing.Property{Name: name, Role: role} }
	return map[string]*home.Device{
		"lamp": {Room: "hall", Description: thing.Description{Properties: []thing.Property{
			property("on", thing.RolePower), property("level", thing.RoleBrightness), property("power cut", thing.RoleOption),
		}}},
		"door": {Room: "hall", Description: thing.Description{Properties: []thing.Property{
			property("locked", thing.RoleLock), property("battery", thing.RoleBattery),
		}}},
		"music": {Room: "galley", Description: thing.Description{
			Properties: []thing.Property{
				property("track", thing.RoleTrack), property("volume", thing.RoleVolume), property("on", thing.RolePower), property("input", thing.RoleInput),
			},
			Actions: []thing.Action{{Name: "next", Role: thing.RoleNext}, {Name: "erase"}},
		}},
		"robot": {Room: "hall", Description: thing.Description{Actions: []thing.Action{{Name: "clean"}, {Name: "erase"}}}},
		"porch": {Room: "yard", Description: thing.Description{Pictures: []thing.Picture{{Name: "view"}}}},
		home.OwnID: {Description: thing.Description{Properties: []thing.Property{
			property(home.ModeProperty, thing.RoleMode), property("attention", thing.RoleAttention),
		}}},
	}[id]
}

func of(kind, id, name string) gate.Thing { return gate.Thing{Kind: kind, ID: id, Name: name} }

// reached returns what a guest reaches on a dashboard with some controls.
func reached(controls ...board.Control) *gate.Reach {
	by := gate.Viewer{Role: "guest", ID: "ada"}
	return gate.Boards([]string{"hall", "removed"}, by, func(id string) *board.Dashboard {
		return map[string]*board.Dashboard{"hall": {Controls: controls}}[id]
	}, household)
}

func TestWhatStandsOnADashboardIsReached(t *testing.T) {
	property := func(kind board.Kind, device, name string) board.Control {
		return board.Control{Kind: kind, Aim: board.Aim{Device: device, Property: name}}
	}
	reach := reached(
		property(board.Lamp, "lamp", "on"), property(board.Reading, "door", "battery"), property(board.Reading, "gone", "x"),
		property(board.Reading, "lamp", "gone"), property(board.Player, "music", "track"),
		board.Control{Kind: board.Scene, Aim: board.Aim{Scene: "supper"}},
		board.Control{Kind: board.Rule, Aim: board.Aim{Rule: "bell"}},
		board.Control{Kind: board.Sequence, Aim: board.Aim{Sequence: "dusk"}},
		board.Control{Kind: "unheard of", Aim: board.Aim{Rule: "night"}},
	)
	assert.Equal(t, map[gate.Thing]bool{
		of("property", "lamp", "on"): true, of("property", "lamp", "level"): true,
		of("scene", "supper", ""): true, of("rule", "bell", ""): true, of("sequence", "dusk", ""): true,
		of("property", "music", "track"): true, of("property", "music", "volume"): true, of("property", "music", "on"): true,
		of("action", "music", "next"): true,
	}, reach.Operates)
	assert.True(t, reach.Sees[of("property", "door", "battery")])
	assert.False(t, reach.Sees[of("property", "door", "locked")], "a lock is not seen because its battery is")
	assert.False(t, reach.Operates[of("property", "door", "battery")], "a reading is not operated")
	assert.True(t, reach.Sees[of("dashboard", "hall", "")])
	assert.False(t, reach.Sees[of("dashboard", "removed", "")])
	assert.False(t, reach.Sees[of("property", "music", "input")], "its input is not what it plays")
}

func TestWhatIsOnlyShownIsNotOperated(t *testing.T) {
	reach := reached(
		board.Control{Kind: board.Cover, Aim: board.Aim{Device: "music", Property: "track"}},
		board.Control{Kind: board.Chart, Values: []thing.Ref{{Device: "door", Name: "battery"}, {Device: "lamp", Name: "level"}}},
		board.Control{Kind: board.Camera, Aim: board.Aim{Device: "porch", Camera: "view"}},
		board.Control{Kind: board.Next}, board.Control{Kind: board.Care},
	)
	assert.Empty(t, reach.Operates)
	for _, seen := range []gate.Thing{
		of("property", "music", "track"), of("property", "door", "battery"), of("property", "lamp", "level"), of("picture", "porch", "view"),
		of("device", "porch", ""), of("room", "yard", ""), of("mark", "", ""), of("needs", "", ""),
	} {
		assert.True(t, reach.Sees[seen], seen)
	}
}

func TestWhatATouchDoesIsReachedAndNoMore(t *testing.T) {
	reach := reached(
		board.Control{Kind: board.Action, Aim: board.Aim{Device: "robot", Action: "clean"}},
		board.Control{
			Kind: board.Clock,
			Tap:  &board.Touch{Do: board.DoToggle, Aim: board.Aim{Device: "lamp", Property: "on"}},
			Hold: &board.Touch{Do: board.DoScene, Aim: board.Aim{Scene: "night"}},
			// A dashboard that a touch leads to is seen only where it was given.
			Double: &board.Touch{Do: board.DoOpen, Aim: board.Aim{Dashboard: "private"}},
		},
		board.Control{Kind: board.Modes}, board.Control{Kind: board.Messages},
	)
	assert.Equal(t, map[gate.Thing]bool{
		of("action", "robot", "clean"): true, of("property", "lamp", "on"): true, of("property", "lamp", "level"): true,
		of("scene", "night", ""): true, of("property", home.OwnID, home.ModeProperty): true, of("modes", "", ""): true, of("notice", "", ""): true,
	}, reach.Operates)
	assert.False(t, reach.Sees[of("dashboard", "private", "")])
	guest := gate.Principal{Rank: gate.Operating, Within: reach}
	assert.True(t, guest.May(gate.Use, of("notice", "any", "")), "messages are answered where they are shown")
	assert.False(t, guest.May(gate.Use, of("rule", "any", "")))
	assert.False(t, guest.May(gate.Use, of("action", "robot", "erase")))
	assert.False(t, guest.May(gate.Use, of("property", home.OwnID, "attention")))
}

func TestAControlIsReachedByThoseWhoSeeIt(t *testing.T) {
	for who, seen := range map[string]bool{"owner": false, "guest": true, "ada": true, "tove": false, "": true} {
		scene := board.Control{Kind: board.Scene, Aim: board.Aim{Scene: "supper"}}
		if who != "" {
			scene.SeenBy = []string{who}
		}
		assert.Equal(t, seen, reached(scene).Operates[of("scene", "supper", "")], who)
	}
}

func TestAPanelReachesWhatIsShownOnItAndAtTheSideOfItsDashboards(t *testing.T) {
	reach := reached()
	panel := gate.Principal{Rank: gate.Operating, Within: reach}
	notice := func(where string) gate.Thing { return of("notice", "n", where) }
	assert.False(t, panel.May(gate.See, notice("all")))
	reach.AddShown([]string{"hall"})
	assert.True(t, panel.May(gate.See, notice("all")))
	assert.True(t, panel.May(gate.See, notice("hall")))
	assert.False(t, panel.May(gate.See, notice("study")), "what is shown on other panels")
	assert.False(t, panel.May(gate.See, notice("")), "what is shown on none")
	assert.True(t, panel.May(gate.Use, of("notice", "n", "")), "it is answered there")

	assert.False(t, panel.May(gate.See, of("modes", "", "")))
	reach.AddMargin(household)
	assert.True(t, panel.May(gate.See, of("modes", "modes", "")))
	assert.True(t, panel.May(gate.See, of("mark", "7", "")))
	assert.True(t, panel.May(gate.Use, of("property", home.OwnID, home.ModeProperty)))
	assert.False(t, panel.May(gate.Use, of("property", home.OwnID, "attention")))
}
