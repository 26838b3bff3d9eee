package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
	"time"

	"amvek/core/cause"
	"amvek/core/cover"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/state"
	"amvek/core/thing"
	"amvek/profiles"
	"amvek/standin/quillet"
)

// interlock is the whole engine beside a pretend relay module, with what is said between them on its way for a while.
type interlock struct {
	random  *rand.Rand
	now     time.Time
	engine  *engine.Engine
	module  *quillet.Module
	device  home.Device
	slowest time.Duration
	told    []onTheWay
	said    []onTheWay
	last    map[string]thing.Value
	kept    map[thing.Ref]state.PropertyState
	command int
}

type onTheWay struct {
	at    time.Time
	name  string
	value thing.Value
	id    uint64
}

func newInterlock(seed uint64, described *thing.Description) (*interlock, error) {
	x := &interlock{random: rand.New(rand.NewPCG(seed, 3)), now: time.Date(2026, 5, 4, 9, 0, 0, 0, time.UTC), last: map[string]thing.Value{}}
	x.slowest = []time.Duration{0, 5 * time.Millisecond, 100 * time.Millisecond, 800 * time.Millisecond}[x.random.IntN(4)]
	x.device = home.Device{Title: "Shutter", Connection: "wire", Hardware: "m", Model: "QR-2", Description: *described}
	x.module = quillet.NewModule(quillet.Wiring{Crossed: x.random.IntN(2) == 0, Up: 24, Down: 20}, x.now)
	if err := x.restart(); err != nil {
		return nil, err
	}
	return x, x.pass(time.Minute)
}

// restart begins anew from what was kept, as after a power cut of the hub.
func (x *interlock) restart() error {
	x.engine = engine.New(1, 1)
	x.engine.BeginLoading(x.now)
	x.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "m", Thing: &x.device})
	kept := map[thing.Ref]state.PropertyState{}
	for ref, was := range x.kept {
		data, err := json.Marshal(was)
		if err != nil {
			return err
		}
		var read state.PropertyState
		if err := json.Unmarshal(data, &read); err != nil {
			return err
		}
		kept[ref] = read
	}
	x.engine.Load(state.Saved{Properties: kept})
	x.do(engine.Input{Kind: engine.InputStart})
	clear(x.last)
	x.say()
	return nil
}

func (x *interlock) arrival(before []onTheWay) time.Time {
	at := x.now.Add(time.Duration(x.random.Int64N(int64(x.slowest) + 1)))
	if n := len(before); n > 0 && before[n-1].at.After(at) {
		at = before[n-1].at
	}
	return at
}

func (x *interlock) do(in engine.Input) {
	for _, o := range x.engine.Handle(x.now, in) {
		if o.Kind == engine.OutputCommand {
			x.command++
			x.told = append(x.told, onTheWay{x.arrival(x.told), o.Name, o.Value, o.Command})
		}
	}
}

// say tells what is new at the module.
func (x *interlock) say() {
	m := x.module
	m.Advance(x.now)
	if m.Dark {
		return
	}
	for _, p := range []struct {
		name  string
		value thing.Value
	}{
		{"output1", thing.Boolean(m.On[0])}, {"output2", thing.Boolean(m.On[1])}, {"watts", thing.Number(m.Watts())},
		{"kind", thing.Text(m.Kind)}, {"buttons", thing.Text(m.Style)}, {"reversed", thing.Boolean(m.Reversed)},
	} {
		if x.last[p.name] != p.value {
			x.last[p.name] = p.value
			x.said = append(x.said, onTheWay{at: x.arrival(x.said), name: p.name, value: p.value})
		}
	}
}

// pass lets time go by, with everything that happens in it.
func (x *interlock) pass(d time.Duration) error {
	for end, turns := x.now.Add(d), 0; ; turns++ {
		if turns > 10_000 {
			return errors.New("it never comes to rest")
		}
		next := end
		for _, list := range [][]onTheWay{x.told, x.said} {
			if len(list) > 0 && list[0].at.Before(next) {
				next = list[0].at
			}
		}
		if at, ok := x.engine.NextDeadline(); ok && at.Before(next) {
			next = at
		}
		if at, ok := x.module.Next(); ok && at.Before(next) {
			next = at
		}
		if next.After(x.now) {
			x.now = next
		}
		x.say()
		busy := false
		for len(x.told) > 0 && !x.told[0].at.After(x.now) {
			busy = true
			x.obey(x.told[0])
			x.told = x.told[1:]
		}
		x.say()
		for len(x.said) > 0 && !x.said[0].at.After(x.now) {
			busy = true
			s := x.said[0]
			x.said = x.said[1:]
			x.do(engine.Input{Kind: engine.InputReport, Device: "m", Name: s.name, Value: s.value})
		}
		if at, ok := x.engine.NextDeadline(); ok && !at.After(x.now) {
			busy = true
			x.do(engine.Input{Kind: engine.InputTick})
		}
		if !busy && !x.now.Before(end) {
			return nil
		}
	}
}

func (x *interlock) obey(told onTheWay) {
	switch m := x.module; told.name {
	case "output1":
		m.Tell(0, told.value.True(), x.now)
	case "output2":
		m.Tell(1, told.value.True(), x.now)
	case "kind":
		m.Set("kd", told.value.Text, x.now)
	case "buttons":
		m.Set("bs", told.value.Text, x.now)
	case "reversed":
		m.Set("rv", map[bool]string{false: "0", true: "1"}[told.value.True()], x.now)
	}
}

func (x *interlock) keep() {
	x.kept = map[thing.Ref]state.PropertyState{}
	for _, p := range x.device.Description.Properties {
		ref := thing.Ref{Device: "m", Name: p.Name}
		x.kept[ref], _ = x.engine.PropertyState(ref)
	}
}

func (x *interlock) write(name string, v thing.Value) {
	x.do(engine.Input{Kind: engine.InputWrite, Device: "m", Name: name, Value: v, Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}})
}

// act does one thing of all that may be done at the hub and at the wall.
func (x *interlock) act() (string, error) {
	m, r := x.module, x.random
	value := float64(r.IntN(101))
	switch kind := r.IntN(16); kind {
	case 0, 1, 2, 3:
		x.write("position", thing.Number(value))
		return fmt.Sprintf("go to %g", value), nil
	case 4:
		x.write("position", thing.Number(float64(r.IntN(2)*100)))
		return "go to an end", nil
	case 5:
		x.do(engine.Input{Kind: engine.InputInvoke, Device: "m", Name: "stop", Doer: cause.By{Who: cause.Person, Via: cause.ViaPage}})
		return "stop", nil
	case 6:
		name := []string{"output1", "output2"}[r.IntN(2)]
		on := r.IntN(3) > 0
		x.write(name, thing.Boolean(on))
		return fmt.Sprint(name, on), nil
	case 7:
		x.do(engine.Input{Kind: engine.InputTry, Targets: []light.Target{
			{Device: "m", Property: "output1", Value: thing.Boolean(true)}, {Device: "m", Property: "output2", Value: thing.Boolean(true)},
			{Device: "m", Property: "position", Value: thing.Number(value)},
		}})
		return "everything at once", nil
	case 8:
		m.Tap(r.IntN(2), x.now)
		return "tap", nil
	case 9:
		m.Press(r.IntN(2), r.IntN(2) == 0, x.now)
		return "press or release", nil
	case 10:
		x.do(engine.Input{Kind: engine.InputKeep, Device: "m", Name: "position", Value: thing.Number(value)})
		return "keep", nil
	case 11:
		verb := []string{engine.CoverLearn, engine.CoverHere, engine.CoverForget}[r.IntN(3)]
		x.do(engine.Input{Kind: engine.InputCover, Device: "m", Name: "position", Verb: verb})
		return verb, nil
	case 12:
		x.write("buttons", thing.Text([]string{"push", "latch"}[r.IntN(2)]))
		return "button style", nil
	case 13:
		x.write("reversed", thing.Boolean(r.IntN(2) == 0))
		return "reversed", nil
	case 14:
		// It is a shutter: nobody who knows says that it is two lamps, but it may have been delivered so.
		if r.IntN(4) == 0 {
			m.Set("kd", []string{"twin", "shutter"}[r.IntN(2)], x.now)
			return "kind set at the module", nil
		}
		x.write("kind", thing.Text("shutter"))
		return "kind", nil
	default:
		if r.IntN(3) == 0 {
			x.keep()
			return "restart", x.restart()
		}
		x.device.Travel = nil
		if r.IntN(3) > 0 {
			x.device.Travel = map[string]cover.Travel{"position": {UpSeconds: 24, DownSeconds: 20}}
		}
		changed := x.device
		x.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "m", Thing: &changed})
		return "travel", nil
	}
}

// hammer does things at random to many shutters, here and at the wall, and returns how many commands their relays
// were told. It fails when one burns out: when it was told to power its motor both ways, or to turn it without a rest.
func hammer(acts int) (commands int, err error) {
	const actsEach = 250
	shipped, err := profiles.Load()
	if err != nil {
		return 0, err
	}
	at := slices.IndexFunc(shipped, func(s profiles.Shipped) bool { return s.Model.Model == "QR-2" })
	for seed := uint64(1); acts > 0; seed++ {
		x, err := newInterlock(seed, &shipped[at].Model.Description)
		if err != nil {
			return commands, err
		}
		var story []string
		for range actsEach {
			done, err := x.act()
			story = append(story[max(0, len(story)-15):], done)
			x.say()
			if err == nil {
				err = x.pass(time.Duration(x.random.IntN(500)) * time.Millisecond)
			}
			if err == nil && x.random.IntN(12) == 0 {
				err = x.pass(time.Duration(x.random.IntN(40)) * time.Second)
			}
			if err != nil {
				return commands, fmt.Errorf("seed %d, after %v: %w", seed, story, err)
			}
			acts--
			if x.module.Burnt {
				return commands, fmt.Errorf("seed %d, messages up to %s late: %v, after %v", seed, x.slowest, x.module.Log, story)
			}
		}
		commands += x.command
	}
	return commands, nil
}

// measureInterlock tries the law of the interlock.
func measureInterlock() ([]figure, error) {
	const acts = 300_000
	commands, err := hammer(acts)
	return []figure{{Name: "interlock_commands", Value: float64(commands), Unit: "commands"}, {Name: "interlock_acts", Value: acts, Unit: "acts"}}, err
}
