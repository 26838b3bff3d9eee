package engine_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cause"
	"amvek/core/cover"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

var shutterDescription = thing.Description{
	Properties: []thing.Property{
		{
			Name:       "position",
			Title:      "Position",
			Role:       thing.RolePosition,
			Type:       thing.TypeNumber,
			Unit:       "%",
			Maximum:    100,
			Resolution: 1,
			Writable:   true,
			Only:       &thing.Only{Name: "kind", Value: "shutter"},
			Cover:      &thing.Cover{Up: "one", Down: "two"},
		},
		{Name: "one", Title: "One", Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true, Only: &thing.Only{Name: "kind", Value: "twin"}},
		{Name: "two", Title: "Two", Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true, Only: &thing.Only{Name: "kind", Value: "twin"}},
		{
			Name:     "kind",
			Title:    "Kind",
			Role:     thing.RoleOption,
			Type:     thing.TypeOption,
			Options:  []string{"shutter", "twin"},
			Writable: true,
			Setting:  &thing.Setting{Wrong: "x"},
		},
	},
	Actions: []thing.Action{{Name: "stop", Title: "Stop", Role: thing.RoleStop}},
	Events:  []thing.Event{{Name: "restarted", Title: "Restarted", Role: thing.RoleRestart}},
}

// shuttered is a bench with a shutter that is shut and takes 20 s each way.
func shuttered(t *testing.T, kind string) *bench {
	b := newBench(t)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "shutter", Thing: &home.Device{
		Title: "shutter", Connection: "wire", Hardware: "shutter", Description: shutterDescription,
		Travel: map[string]cover.Travel{"position": {UpSeconds: 20, DownSeconds: 20}},
	}})
	b.report("shutter", "one", thing.Boolean(false))
	b.report("shutter", "two", thing.Boolean(false))
	b.report("shutter", "kind", thing.Text(kind))
	b.pass(5 * time.Second)
	if kind == "shutter" {
		b.move(0)
		b.follow(time.Minute)
	}
	b.commands, b.followed = nil, 0
	return b
}

func (b *bench) move(to float64) {
	b.do(
		engine.Input{
			Kind:   engine.InputWrite,
			Device: "shutter",
			Name:   "position",
			Value:  thing.Number(to),
			Doer:   cause.By{Who: cause.Person, Via: cause.ViaPage},
		},
	)
}

// follow lets time pass, with a relay that does at once what it is told.
func (b *bench) follow(d time.Duration) {
	for end := b.now.Add(d); ; {
		for b.followed = min(b.followed, len(b.commands)); b.followed < len(b.commands); {
			c := b.commands[b.followed]
			b.followed++
			if c.Device == "shutter" {
				b.report("shutter", c.Name, c.Value)
			}
		}
		at, ok := b.engine.NextDeadline()
		if !ok || at.After(end) {
			b.now = end
			return
		}
		b.now = at
		b.do(engine.Input{Kind: engine.InputTick})
	}
}

func (b *bench) property(name string) state.PropertyState {
	s, ok := b.engine.PropertyState(thing.Ref{Device: "shutter", Name: name})
	require.True(b.t, ok)
	return s
}

func TestAShutterIsAPropertyLikeAnyOther(t *testing.T) {
	b := shuttered(t, "shutter")
	b.move(40)
	assert.Equal(t, state.Pending, b.property("position").Certainty)
	b.follow(3 * time.Second)
	assert.InDelta(t, 15, b.property("position").Reported.Number, 5, "its place is told on the way")
	b.follow(time.Minute)
	assert.Equal(t, state.Confirmed, b.property("position").Certainty)
	assert.Equal(t, thing.Number(40), b.property("position").Reported)
	for _, id := range []cause.ID{b.property("one").Asked, b.property("position").ChangedBy} {
		kinds := b.chain(id)
		assert.Equal(t, cause.Written, kinds[len(kinds)-1], "every output begins at an input from outside")
	}

	// A rule holds it and lets go: it goes back to where a hand left it.
	b.rule("storm", rule.Rule{Whenever: moving(), Do: []rule.Step{{Kind: rule.StepHold, Device: "shutter", Property: "position", Value: thing.Number(100)}}})
	b.report("sensor", "motion", thing.Boolean(true))
	b.follow(time.Minute)
	assert.Equal(t, thing.Number(100), b.property("position").Reported)
	b.report("sensor", "motion", thing.Boolean(false))
	b.follow(time.Minute)
	assert.InDelta(t, 40, b.property("position").Reported.Number, 1)
}

func TestAHandAtTheWallLeadsTheShutter(t *testing.T) {
	b := shuttered(t, "shutter")
	b.move(100)
	b.follow(5 * time.Second)
	b.report("shutter", "one", thing.Boolean(false))
	s := b.property("position")
	assert.Equal(t, state.Confirmed, s.Certainty)
	assert.InDelta(t, 25, s.Reported.Number, 1)
	assert.True(t, s.Stack.Base.ByHand)
	assert.Equal(t, "device", s.Stack.Base.By)
	before := len(b.commands)
	b.follow(time.Minute)
	assert.Len(t, b.commands, before, "and the hub lets it be")

	b.move(100)
	b.follow(3 * time.Second)
	b.do(engine.Input{Kind: engine.InputInvoke, Device: "shutter", Name: "stop", Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}})
	b.follow(5 * time.Second)
	assert.Equal(t, "hand:page", b.property("position").Stack.Base.By)
	assert.False(t, b.property("one").Reported.True())
}

func TestTheOutputsOfAShutterAreNotSwitchedByThemselves(t *testing.T) {
	b := shuttered(t, "shutter")
	b.do(
		engine.Input{
			Kind:   engine.InputWrite,
			Device: "shutter",
			Name:   "one",
			Value:  thing.Boolean(true),
			Doer:   cause.By{Who: cause.Person, Via: cause.ViaPage},
		},
	)
	b.do(engine.Input{Kind: engine.InputTry, Targets: []light.Target{{Device: "shutter", Property: "two", Value: thing.Boolean(true)}}})
	assert.Empty(t, b.commands)
	assert.Equal(t, 2, b.count(cause.Refused))
	assert.Contains(t, b.property("one").Failure, "set the position")
}

func TestTwoOutputsThatMayDriveOneMotorAreNeverBothOn(t *testing.T) {
	b := shuttered(t, "twin")
	write := func(name string, v thing.Value) {
		b.do(engine.Input{Kind: engine.InputWrite, Device: "shutter", Name: name, Value: v, Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}})
		b.follow(time.Second / 2)
	}
	write("one", thing.Boolean(true))
	require.Len(t, b.commands, 1)
	write("two", thing.Boolean(true))
	assert.Len(t, b.commands, 1)
	assert.Contains(t, b.property("two").Failure, "choose the operating kind")
	write("position", thing.Number(40))
	assert.Contains(t, b.property("position").Failure, "not set up as a shutter")

	// Who knows says that they drive two things.
	write("kind", thing.Text("twin"))
	write("two", thing.Boolean(true))
	assert.True(t, b.property("one").Reported.True() && b.property("two").Reported.True())
}

func TestAShutterGoesOnFromWhatWasKept(t *testing.T) {
	b := shuttered(t, "shutter")
	b.move(100)
	b.follow(4 * time.Second)
	data, err := json.Marshal(b.property("position"))
	require.NoError(t, err)
	var kept state.PropertyState
	require.NoError(t, json.Unmarshal(data, &kept))
	saved := state.Saved{Properties: map[thing.Ref]state.PropertyState{{Device: "shutter", Name: "position"}: kept}}
	for _, name := range []string{"one", "two", "kind"} {
		saved.Properties[thing.Ref{Device: "shutter", Name: name}] = b.property(name)
	}
	device := &home.Device{
		Title:       "shutter",
		Connection:  "wire",
		Hardware:    "shutter",
		Description: shutterDescription,
		Travel:      map[string]cover.Travel{"position": {UpSeconds: 20, DownSeconds: 20}},
	}
	b.engine, b.commands, b.followed = engine.New(1000, 1000), nil, 0
	b.now = b.now.Add(time.Minute)
	b.engine.BeginLoading(b.now)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "shutter", Thing: device})
	b.engine.Load(saved)
	b.do(engine.Input{Kind: engine.InputStart})
	b.follow(time.Minute)
	require.NotEmpty(t, b.commands, "it is overdue to be switched off")
	assert.Equal(t, thing.Boolean(false), b.commands[0].Value)
	assert.Equal(t, thing.Number(100), b.property("position").Reported)

	b.do(engine.Input{Kind: engine.InputEvent, Device: "shutter", Name: "restarted"})
	assert.Equal(t, thing.Number(100), b.property("position").Reported, "it stood still, so it still stands there")
}
