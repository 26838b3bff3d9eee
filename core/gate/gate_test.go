package gate_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

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

func TestWhatStandsOnADashboardIsReached(t *testing.T) {
	property := func(name string, role thing.Role) thing.Property { return thing.Property{Name: name, Role: role} }
	devices := map[string]*home.Device{
		"lamp": {Room: "hall", Description: thing.Description{Properties: []thing.Property{
			property("on", thing.RolePower), property("level", thing.RoleBrightness), property("power cut", thing.RoleOption),
		}}},
		"door": {Room: "hall", Description: thing.Description{Properties: []thing.Property{
			property("locked", thing.RoleLock), property("battery", thing.RoleBattery),
		}}},
		"music": {Room: "galley", Description: thing.Description{
			Properties: []thing.Property{property("track", thing.RoleTrack), property("volume", thing.RoleVolume), property("on", thing.RolePower)},
			Actions:    []thing.Action{{Name: "next", Role: thing.RoleNext}, {Name: "erase"}},
		}},
	}
	boards := map[string]*home.Dashboard{
		"hall": {Controls: []home.Control{
			{Kind: home.ControlLamp, Device: "lamp", Property: "on"}, {Kind: home.ControlValue, Device: "door", Property: "battery"},
			{Kind: home.ControlScene, Scene: "supper"}, {Kind: home.ControlValue, Device: "gone", Property: "x"},
			{Kind: home.ControlValue, Device: "lamp", Property: "gone"},
		}},
		"music": {Controls: []home.Control{{Kind: home.ControlValue, Device: "music", Property: "track"}, {Kind: home.ControlRule, Rule: "bell"}}},
	}
	dashboard := func(id string) *home.Dashboard { return boards[id] }
	reach := gate.Boards([]string{"hall", "removed", "music"}, dashboard, func(id string) *home.Device { return devices[id] })
	of := func(kind, id, name string) gate.Thing { return gate.Thing{Kind: kind, ID: id, Name: name} }
	assert.Equal(t, map[gate.Thing]bool{
		of("property", "lamp", "on"): true, of("property", "lamp", "level"): true, of("scene", "supper", ""): true, of("rule", "bell", ""): true,
		of("property", "music", "track"): true, of("property", "music", "volume"): true, of("action", "music", "next"): true,
	}, reach.Operates)
	assert.True(t, reach.Sees[of("property", "door", "battery")])
	assert.False(t, reach.Sees[of("property", "door", "locked")], "a lock is not seen because its battery is")
	assert.False(t, reach.Operates[of("property", "door", "battery")], "a reading is not operated")
	assert.True(t, reach.Sees[of("dashboard", "hall", "")])
	assert.False(t, reach.Sees[of("dashboard", "removed", "")])
	assert.False(t, reach.Sees[of("property", "music", "on")], "a player is no lamp")
}
