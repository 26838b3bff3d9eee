package starting_test

import (
	"encoding/json"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/expr"
	"amvek/core/rule"
	"amvek/core/starting"
	"amvek/core/thing"
)

// house has one property of each role that starting points ask for, and the mode.
type house struct{}

func (house) Property(device, name string) *thing.Property {
	if device == "own" && name == "mode" {
		return &thing.Property{
			Name:     name,
			Title:    "Mode",
			Type:     thing.TypeOption,
			Writable: true,
			Options:  []string{"mode-in", "mode-out", "mode-away", "mode-asleep"},
		}
	}
	p := &thing.Property{Name: name, Title: name, Role: thing.Role(name), Type: thing.TypeBoolean, Writable: true}
	switch p.Role {
	case thing.RoleBrightness, thing.RoleIlluminance:
		p.Type, p.Maximum = thing.TypeNumber, 100
	case thing.RoleColorTemperature:
		p.Type, p.Minimum, p.Maximum = thing.TypeNumber, 2200, 6500
	case thing.RoleSetpoint:
		p.Type, p.Minimum, p.Maximum = thing.TypeNumber, 7, 28
	case thing.RoleSpeech:
		p.Type = thing.TypeText
	}
	return p
}
func (house) Event(string, string) *thing.Event                    { return nil }
func (house) HasDevice(string) bool                                { return true }
func (house) HasDashboard(string) bool                             { return true }
func (house) HasScene(string) bool                                 { return true }
func (house) HasRule(string) bool                                  { return true }
func (house) HasGroup(string) bool                                 { return true }
func (house) Devices(string) []string                              { return nil }
func (house) Action(string, string) *thing.Action                  { return &thing.Action{} }
func (house) HasCalendar(string) bool                              { return true }
func (house) HasSequence(id string) bool                           { return id == "dusk" }
func (house) HasRoomLight(id string) bool                          { return id == "mill" }
func (house) Plays(string, string) bool                            { return false }
func (house) Members(string, string) []thing.Ref                   { return nil }
func (house) RoomMembers(string, string) []thing.Ref               { return nil }
func (house) Expression(string) (*expr.Expression, []expr.Mistake) { return nil, nil }

func TestEveryStartingPointMakesARuleWithoutProblems(t *testing.T) {
	for _, p := range starting.Starts() {
		for _, all := range []bool{true, false} {
			chosen := map[string]thing.Ref{}
			for _, s := range p.Slots {
				if all || !s.Optional {
					for _, role := range s.Roles {
						chosen[s.ID] = thing.Ref{Device: "d", Name: string(role)}
					}
				}
			}
			r, err := starting.Make(p.ID, chosen, house{}.Property)
			require.NoError(t, err, p.ID)
			assert.Empty(t, r.Check(house{}), "%s, all %v", p.ID, all)
			assert.False(t, r.Enabled, "it is looked at first")
			assert.NotEmpty(t, r.Title)
		}
	}
}

func TestWhatIsMissingOrDoesNotFitIsNamed(t *testing.T) {
	_, err := starting.Make("motion-light", map[string]thing.Ref{"motion": {Device: "d", Name: "motion"}}, house{}.Property)
	assert.ErrorContains(t, err, "lamp: ")
	_, err = starting.Make("motion-light", map[string]thing.Ref{"motion": {Device: "d", Name: "motion"}, "lamp": {Device: "d", Name: "lock"}}, house{}.Property)
	assert.ErrorContains(t, err, "lamp: ")
	_, err = starting.Make("none", nil, house{}.Property)
	assert.Error(t, err)
	r, err := starting.Make(
		"window-heating",
		map[string]thing.Ref{"window": {Device: "d", Name: "contact"}, "heating": {Device: "d", Name: "targetTemperature"}},
		func(d, n string) *thing.Property {
			if n == "targetTemperature" {
				return &thing.Property{Name: n, Role: thing.RoleSetpoint, Type: thing.TypeNumber, Minimum: 7, Maximum: 28, Writable: true}
			}
			return house{}.Property(d, n)
		},
	)
	require.NoError(t, err)
	assert.Equal(t, thing.Number(7), r.Do[0].Value, "the least, where it cannot be off")
	assert.Equal(t, rule.StepHold, r.Do[0].Kind)
}

// What each starting point makes is read in testdata/starts.json, which AMVEK_UPDATE=1 writes anew: a change of it is looked at.
func TestWhatEveryStartingPointMakesIsKnown(t *testing.T) {
	made := map[string]*rule.Rule{}
	for _, p := range starting.Starts() {
		for _, part := range []string{"all", "some"} {
			for role := range 3 { // of several roles that a slot takes, each in its turn
				chosen := map[string]thing.Ref{}
				for _, s := range p.Slots {
					if part == "all" || !s.Optional {
						chosen[s.ID] = thing.Ref{Device: "device-" + s.ID, Name: string(s.Roles[min(role, len(s.Roles)-1)])}
					}
				}
				r, err := starting.Make(p.ID, chosen, house{}.Property)
				require.NoError(t, err)
				made[fmt.Sprintf("%s, %s, role %d", p.ID, part, role+1)] = r
			}
		}
	}
	text, err := json.MarshalIndent(made, "", "  ")
	require.NoError(t, err)
	const file = "testdata/starts.json"
	if os.Getenv("AMVEK_UPDATE") != "" {
		require.NoError(t, os.WriteFile(file, append(text, '\n'), 0o644))
	}
	known, err := os.ReadFile(file)
	require.NoError(t, err)
	assert.Equal(t, strings.TrimSpace(string(known)), string(text))
}

func TestAPercentageIsOfTheRangeThatALampHas(t *testing.T) {
	r, err := starting.Make("motion-light", map[string]thing.Ref{"motion": {Device: "d", Name: "motion"}, "lamp": {Device: "d", Name: "brightness"}},
		func(d, n string) *thing.Property {
			p := house{}.Property(d, n)
			if n == "brightness" {
				p.Minimum, p.Maximum = 10, 60
			}
			return p
		})
	require.NoError(t, err)
	assert.Equal(t, thing.Number(40), r.Do[0].Value)
}
