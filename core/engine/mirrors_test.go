package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/light"
	"amvek/core/mirror"
	"amvek/core/rule"
	"amvek/core/thing"
)

var switchDescription = thing.Description{Properties: []thing.Property{
	{Name: "power", Title: "Power", Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true},
}}

var fanDescription = thing.Description{Properties: []thing.Property{
	{Name: "stage", Title: "Stage", Role: thing.RoleSpeed, Type: thing.TypeNumber, Maximum: 4, Resolution: 0.25, Writable: true},
}}

func (b *bench) mirror(id string, m mirror.Mirror) {
	m.Title, m.Enabled = id, true
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindMirror, ID: id, Mirror: &m})
}

var (
	theLamp  = mirror.Member{Device: "lamp", Property: "brightness"}
	theOther = mirror.Member{Device: "other", Property: "brightness"}
	theWall  = mirror.Member{Device: "wall", Property: "power"}
)

// mirrored is a bench with a wall switch that is mirrored with a lamp.
func mirrored(t require.TestingT, winner mirror.Winner) *bench {
	b := newBench(t)
	b.device("wall", switchDescription)
	b.report("wall", "power", thing.Boolean(false))
	b.mirror("stairs", mirror.Mirror{Members: []mirror.Member{theLamp, theWall}, Winner: winner})
	v, there := b.engine.MirrorView("stairs")
	require.True(t, there)
	require.Empty(t, v.Faults)
	b.commands = nil
	return b
}

func TestAChangeAnywhereShowsOnAllMembersByOneCommand(t *testing.T) {
	b := mirrored(t, mirror.Latest)
	confirm := func() {
		b.obey()
		if p, _ := b.engine.PropertyState(theWall.Ref()); !p.Target.IsNone() {
			b.report("wall", "power", p.Target)
		}
		b.pass(5 * time.Second)
	}
	b.hand("lamp", 35)
	confirm()
	assert.Equal(t, []string{"lamp 35", "wall yes"}, b.values())
	b.report("wall", "power", thing.Boolean(false)) // pressed
	confirm()
	assert.Equal(t, []string{"lamp 0"}, b.values())
	b.report("wall", "power", thing.Boolean(true))
	confirm()
	assert.Equal(t, []string{"lamp 35"}, b.values(), "on as it was on last")
	b.report("lamp", "brightness", thing.Number(80)) // by its maker's app
	confirm()
	assert.Empty(t, b.values(), "it is on already")
	b.do(engine.Input{Kind: engine.InputTry, Targets: []light.Target{{Device: "lamp", Property: "brightness", Value: thing.Number(0)}}})
	confirm()
	assert.Equal(t, []string{"lamp 0", "wall no"}, b.values())
	b.rule("stair", rule.Rule{Whenever: moving(), Do: []rule.Step{holdAt("lamp", 60)}})
	b.report("sensor", "motion", thing.Boolean(true))
	confirm()
	b.report("sensor", "motion", thing.Boolean(false))
	confirm()
	assert.Equal(t, []string{"lamp 60", "wall yes", "lamp 0", "wall no"}, b.values(), "a rule too, and what shows when it lets go")
	for _, e := range b.entries {
		if e.Kind == cause.Mirrored {
			kinds := b.chain(e.ID)
			require.True(t, kinds[len(kinds)-1].External(), "chain %v", kinds)
		}
	}
}

func TestWhoWinsAfterATimeApart(t *testing.T) {
	for winner, want := range map[mirror.Winner][]string{mirror.Latest: {"lamp 0"}, mirror.First: {"wall yes"}} {
		b := mirrored(t, winner)
		b.hand("lamp", 50)
		b.obey()
		b.report("wall", "power", thing.Boolean(true))
		b.pass(10 * time.Second)
		b.commands = nil
		b.do(engine.Input{Kind: engine.InputConnection, Device: "wall", Name: "wall", Up: false})
		b.pass(time.Hour)
		b.do(engine.Input{Kind: engine.InputConnection, Device: "wall", Name: "wall", Up: true})
		b.report("wall", "power", thing.Boolean(false)) // pressed while nobody heard it
		b.pass(10 * time.Second)
		assert.Equal(t, want, b.values(), "%q wins", winner)
	}
}

func TestMirrorsThatAreChainedOrInARingComeToAnEnd(t *testing.T) {
	b := newBench(t)
	b.device("fan", fanDescription)
	b.device("wall", switchDescription)
	fan := mirror.Member{Device: "fan", Property: "stage"}
	b.mirror("one", mirror.Mirror{Members: []mirror.Member{theLamp, fan}})
	b.mirror("two", mirror.Mirror{Members: []mirror.Member{fan, theOther}})
	b.mirror("three", mirror.Mirror{Members: []mirror.Member{theOther, theWall}})
	b.mirror("ring", mirror.Mirror{Members: []mirror.Member{theWall, theLamp}})
	b.commands = nil
	b.hand("lamp", 37)
	assert.ElementsMatch(t, []string{"lamp 37", "fan 1.5", "other 38", "wall yes"}, b.values(), "each once, and the lamp is not told what became of it")
}

func TestAMirrorThatIsNewOrStartedBringsItsMembersTogether(t *testing.T) {
	b := newBench(t)
	b.hand("other", 20)
	b.obey()
	b.pass(time.Minute)
	b.hand("lamp", 70)
	b.obey()
	b.commands = nil
	b.mirror("pair", mirror.Mirror{Members: []mirror.Member{theOther, theLamp}})
	assert.Equal(t, []string{"other 70"}, b.values(), "the one that was changed last")
	b.obey()
	b.mirror("pair", mirror.Mirror{Members: []mirror.Member{theOther}})
	v, _ := b.engine.MirrorView("pair")
	assert.Len(t, v.Faults, 1)
	b.hand("lamp", 10)
	assert.Equal(t, []string{"lamp 10"}, b.values())
}

// What a device reports within what it resolves confirms what it was asked for: the next change must not add to that.
func TestAMemberThatIsALittleOffIsToldOfTheNextChange(t *testing.T) {
	b := newBench(t)
	b.device("fan", fanDescription)
	b.mirror("pair", mirror.Mirror{Members: []mirror.Member{theLamp, {Device: "fan", Property: "stage"}}})
	b.hand("lamp", 80)
	b.obey()
	b.report("fan", "stage", thing.Number(3)) // asked for 3.25
	b.commands = nil
	b.hand("lamp", 85)
	assert.Equal(t, []string{"lamp 85", "fan 3.5"}, b.values())
}

// member is a pretend device of the law: it takes commands late, says what it is at late and more than once, tells what it was
// at before, or is dead for a while.
type member struct {
	ref    thing.Ref
	at     thing.Value
	delay  time.Duration
	dead   bool
	repeat int
}

// happening is something that comes due in the law.
type happening struct {
	at time.Time
	do func()
}

// TestMirrorsAgreeAfterQuiet is a law: whatever is changed where and when, whatever the devices say late, twice, or of how it
// was, or are dead for a while: once it is quiet all members agree, and none was told the same twice without need.
func TestMirrorsAgreeAfterQuiet(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := newBench(t)
		b.device("wall", switchDescription)
		b.device("fan", fanDescription)
		members := []*member{
			{ref: theLamp.Ref(), at: thing.Number(0)}, {ref: theOther.Ref(), at: thing.Number(0)},
			{ref: theWall.Ref(), at: thing.Boolean(false)}, {ref: thing.Ref{Device: "fan", Name: "stage"}, at: thing.Number(0)},
		}[:rapid.IntRange(2, 4).Draw(t, "members")]
		var of []mirror.Member
		byDevice := map[string]*member{}
		for _, m := range members {
			m.delay = time.Duration(rapid.IntRange(5, 900).Draw(t, "delay")) * time.Millisecond
			m.repeat = rapid.IntRange(1, 3).Draw(t, "repeats")
			byDevice[m.ref.Device] = m
			of = append(of, mirror.Member{Device: m.ref.Device, Property: m.ref.Name})
			b.report(m.ref.Device, m.ref.Name, m.at)
		}
		b.mirror("all", mirror.Mirror{Members: of, Winner: rapid.SampledFrom([]mirror.Winner{mirror.Latest, mirror.First}).Draw(t, "winner")})
		b.commands = nil
		var coming []happening
		after := func(d time.Duration, do func()) { coming = append(coming, happening{b.now.Add(d), do}) }
		asked := map[string]thing.Value{}
		follow := func() {
			for _, c := range b.commands {
				m := byDevice[c.Device]
				if last, told := asked[c.Device]; told && last == c.Value {
					t.Fatalf("%s was told %v twice", c.Device, c.Value)
				}
				asked[c.Device] = c.Value
				command := c
				if m.dead {
					delete(asked, c.Device) // it did not hear it
					after(m.delay, func() {
						b.do(engine.Input{Kind: engine.InputOutcome, Device: command.Device, Name: command.Name, Command: command.Command, Reason: "dead", Unreached: true})
					})
					continue
				}
				before := m.at
				if rapid.Bool().Draw(t, "tells what was") {
					after(m.delay/2, func() { b.report(m.ref.Device, m.ref.Name, before) })
				}
				after(m.delay, func() {
					m.at = command.Value
					for i := range m.repeat {
						after(time.Duration(i)*300*time.Millisecond, func() { b.report(m.ref.Device, m.ref.Name, m.at) })
					}
				})
			}
			b.commands = nil
		}
		live := func(until time.Time) {
			for {
				follow()
				next := -1
				for i := range coming {
					if next < 0 || coming[i].at.Before(coming[next].at) {
						next = i
					}
				}
				if at, due := b.engine.NextDeadline(); due && !at.After(until) && (next < 0 || at.Before(coming[next].at)) {
					b.now = at
					b.do(engine.Input{Kind: engine.InputTick})
					continue
				}
				if next < 0 || coming[next].at.After(until) {
					b.now = until
					return
				}
				h := coming[next]
				coming = append(coming[:next], coming[next+1:]...)
				if h.at.After(b.now) {
					b.now = h.at
				}
				h.do()
			}
		}
		draw := func(m *member) thing.Value {
			switch m.ref.Device {
			case "wall":
				return thing.Boolean(rapid.Bool().Draw(t, "on"))
			case "fan":
				return thing.Number(float64(rapid.IntRange(0, 4).Draw(t, "stage")))
			}
			return thing.Number(float64(rapid.IntRange(0, 20).Draw(t, "level") * 5))
		}
		for range rapid.IntRange(1, 12).Draw(t, "changes") {
			live(b.now.Add(time.Duration(rapid.IntRange(0, 8000).Draw(t, "pause")) * time.Millisecond))
			m := rapid.SampledFrom(members).Draw(t, "member")
			v := draw(m)
			switch rapid.SampledFrom([]string{"page", "rule", "hand", "dies", "wakes"}).Draw(t, "what") {
			case "page":
				delete(asked, m.ref.Device) // whoever asks anew has it tried anew
				b.do(engine.Input{Kind: engine.InputWrite, Device: m.ref.Device, Name: m.ref.Name, Value: v, Doer: somebody})
			case "rule":
				delete(asked, m.ref.Device)
				b.do(engine.Input{Kind: engine.InputTry, Targets: []light.Target{{Device: m.ref.Device, Property: m.ref.Name, Value: v}}})
			case "hand":
				m.at = v
				delete(asked, m.ref.Device)
				if !m.dead {
					b.report(m.ref.Device, m.ref.Name, v)
				}
			case "dies":
				m.dead = true
				b.do(engine.Input{Kind: engine.InputConnection, Device: m.ref.Device, Name: m.ref.Device})
			case "wakes":
				m.dead = false
				b.do(engine.Input{Kind: engine.InputConnection, Device: m.ref.Device, Name: m.ref.Device, Up: true})
				b.report(m.ref.Device, m.ref.Name, m.at)
			}
		}
		live(b.now.Add(30 * time.Second))
		for _, m := range members {
			if m.dead {
				m.dead = false
				b.do(engine.Input{Kind: engine.InputConnection, Device: m.ref.Device, Name: m.ref.Device, Up: true})
				b.report(m.ref.Device, m.ref.Name, m.at)
			}
			live(b.now.Add(30 * time.Second))
		}
		for range 3 { // whatever is still to be settled, and then nothing more
			for _, m := range members {
				b.report(m.ref.Device, m.ref.Name, m.at)
			}
			live(b.now.Add(30 * time.Second))
		}
		first := members[0]
		p := b.engine.Property(first.ref.Device, first.ref.Name)
		for _, m := range members[1:] {
			other := b.engine.Property(m.ref.Device, m.ref.Name)
			require.True(t, mirror.Agrees(p, first.at, other, m.at), "%s is at %v, %s at %v", first.ref.Device, first.at, m.ref.Device, m.at)
		}
	})
}
