package demo

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"
	"time"

	"amvek/core/almanac"
	"amvek/core/light"
	"amvek/hub"
	"amvek/server"
	"amvek/standin/diary"
	"amvek/standin/house"
	"amvek/standin/lumbrook"
	"amvek/standin/penrook"
	"amvek/standin/quillet"
)

// State implements [server.Bench].
func (d *Demo) State() server.BenchState {
	now := d.clock.Now()
	h := d.world.House.State()
	lamps, pressed, cut := d.world.Lumbrook.Seen()
	state := server.BenchState{
		Now: now, Pace: d.Pace(), Living: h.Living,
		Bridge: server.BenchBridge{Address: d.world.Lumbrook.Address(), Pressed: pressed, Cut: cut, Taken: d.world.Lumbrook.Taken()},
		Outdoors: server.BenchOutside{
			Lux:         round(d.world.House.Outdoors(now)),
			Temperature: round(d.world.House.Air(now)),
			River:       round(d.world.House.River(now)),
			Dammed:      h.Jammed,
		},
	}
	for _, name := range house.People {
		state.People = append(state.People, server.BenchPerson{Name: name, Room: h.People[name]})
	}
	for _, name := range house.Rooms {
		state.Rooms = append(
			state.Rooms,
			server.BenchRoom{Name: name, Lux: round(d.world.House.Light(name, now)), Temperature: round(h.Warmth[name]), Wet: h.Wet[name]},
		)
	}
	for _, l := range lamps {
		state.Lamps = append(
			state.Lamps,
			server.BenchLamp{
				ID:         l.ID,
				Label:      l.Label,
				Room:       l.Place,
				Lit:        l.Lit,
				Dims:       l.Kind != "switch",
				Level:      math.Round(l.Level * 100),
				Swatch:     lampSwatch(l),
				Blinking:   l.Blinking,
				Lying:      l.Lying,
				Flickering: l.Flickering,
			},
		)
	}
	for i := range state.Lamps {
		l := &state.Lamps[i]
		level := l.Level
		if !l.Dims {
			level = fullLevel
		}
		state.Shades = append(state.Shades, server.BenchShade{
			Label: l.Label, Room: l.Room, Lit: l.Lit, Level: level, Swatch: l.Swatch, Blinking: l.Blinking, Flickering: l.Flickering,
		})
	}
	for _, p := range d.world.Lumbrook.SeenPlates() {
		state.Plates = append(
			state.Plates,
			server.BenchPlate{ID: p.ID, Label: p.Label, Room: p.Place, Buttons: map[string]int{"plate": 4, "remote": 2}[p.Kind], Acts: p.Acts == "bridge"},
		)
	}
	for _, p := range d.world.Marrowby.Seen() {
		state.Plugs = append(
			state.Plugs,
			server.BenchPlug{Hardware: p.Hardware, Label: p.Label, Room: p.Spot, On: p.On, Pulled: p.Pulled, Blinking: p.Blinking, Watts: p.Watts},
		)
		if p.Lamp {
			state.Shades = append(state.Shades, server.BenchShade{
				Label: p.Label, Room: p.Spot, Lit: p.On && !p.Pulled, Level: fullLevel, Swatch: plainSwatch, Blinking: p.Blinking,
			})
		}
	}
	state.Radio = d.radio()
	state.BoxCode = penrook.Code
	for _, p := range d.world.Penrook.Seen() {
		if p.Kind == "lock" {
			state.Locks = append(state.Locks, server.BenchLock{ID: p.ID, Label: p.Title, Room: p.Spot, Locked: p.Locked, Jammed: p.Jammed})
			continue
		}
		state.Gear = append(state.Gear, server.BenchGear{Label: p.Title, Room: p.Spot, Says: p.Says})
	}
	for _, v := range d.world.Voxmere.Seen() {
		state.Gear = append(state.Gear, server.BenchGear{Label: v.Label, Room: v.Spot, Says: v.Says})
	}
	state.Diary = server.BenchDiary{Address: d.world.Diary.Address()}
	for _, e := range d.world.Diary.Entries() {
		state.Diary.Entries = append(state.Diary.Entries, server.BenchEntry{Title: e.Title, Begin: e.Begin})
	}
	groups := d.world.Lumbrook.Groups()
	for _, id := range slices.Sorted(maps.Keys(groups)) {
		state.Groups = append(state.Groups, server.BenchGroup{ID: id, Label: groups[id]})
	}
	nodes, openUntil := d.world.Quillet.Seen()
	state.JoiningUntil = openUntil
	for _, n := range nodes {
		state.Nodes = append(
			state.Nodes,
			server.BenchNode{
				Node:     n.Node,
				Label:    n.Label,
				Room:     n.Spot,
				Joined:   n.Joined,
				Offering: n.Offering,
				Blinking: n.Blinking,
				Silent:   n.Silent,
				Sensing:  n.Sensing,
				Battery:  n.Battery,
				Rockers:  n.Rockers,
				Lit:      n.Lit,
				Shutter:  shutterOf(n.Module),
			},
		)
		if n.Lamp {
			state.Shades = append(state.Shades, server.BenchShade{
				Label: n.Label, Room: n.Spot, Lit: n.Level > 0, Level: math.Round(n.Level * fullLevel), Swatch: plainSwatch, Blinking: n.Blinking,
			})
		}
	}
	for _, name := range house.Openings {
		state.Openings = append(state.Openings, server.BenchOpening{Name: name, Open: h.Open[name]})
	}
	return state
}

func (d *Demo) radio() server.BenchRadio {
	seen := d.world.Haskett.Seen()
	r := server.BenchRadio{Address: d.world.Haskett.Address()}
	for _, s := range seen.Sockets {
		r.Sockets = append(r.Sockets, server.BenchSocket{Label: s.Label, Room: s.Spot, On: s.On})
	}
	for _, t := range seen.Thermometers {
		r.Thermometers = append(r.Thermometers, server.BenchThermometer{ID: t.ID, Label: t.Label, Room: t.Spot})
	}
	for _, id := range slices.Sorted(maps.Keys(seen.Remotes)) {
		r.Remotes = append(r.Remotes, server.BenchRemote{ID: id, Label: seen.Remotes[id]})
	}
	return r
}

func round(v float64) float64 { return math.Round(v*10) / 10 }

// fullLevel is that of a lamp at full light, in percent.
const fullLevel = 100

// plainSwatch is the color of a lamp that has no colors.
var plainSwatch = light.Swatch(light.OfWhite(plainBulb))

// plainBulb is the white of a lamp that has no whites, in kelvin.
const plainBulb = 2700.0

func lampSwatch(l lumbrook.Seen) string {
	const mired = 1_000_000.0
	switch {
	case l.Chroma != nil:
		return light.Swatch(light.XY{X: l.Chroma[0], Y: l.Chroma[1]})
	case l.Mired > 0:
		return light.Swatch(light.OfWhite(mired / float64(l.Mired)))
	default:
		return plainSwatch
	}
}

// Act implements [server.Bench].
func (d *Demo) Act(ctx context.Context, act server.BenchAct) error {
	switch act.What {
	case "walk":
		return wrongAt("room", d.world.House.Walk(cmp.Or(act.Person, house.People[0]), act.Room))
	case "live":
		d.world.House.Live(act.On)
		d.looksDifferent()
	case "open":
		return wrongAt("opening", d.world.House.SetOpening(act.Opening, act.On))
	case "pour":
		return wrongAt("room", d.world.House.Pour(act.Room, act.On))
	case "dam":
		d.world.House.Dam(act.On)
	case "turn":
		// The hand turns on while the browser goes on.
		d.workers.Go(func() { d.world.Quillet.Turn(context.WithoutCancel(ctx), act.Notches) })
	case "pressDial":
		d.world.Quillet.PressDial(ctx)
	case "rocker":
		return wrongAt("node", d.world.Quillet.Rocker(ctx, act.Node, act.Button, act.Gesture == "down"))
	case "pressBridge":
		d.world.Lumbrook.Press()
	case "cutBridge":
		d.world.Lumbrook.Cut(act.On)
	case "lamp":
		change := lumbrook.Change{Lit: &act.On}
		if act.Level != nil {
			level := int(math.Round(*act.Level * 2.5))
			change.Level = &level
		}
		if err := d.world.Lumbrook.FromApp(act.Lamp, change); err != nil {
			return hub.Invalid("lamp", fmt.Sprintf("The maker's app answers: %s.", err))
		}
	case "blackout":
		d.world.Lumbrook.PowerCut()
		d.world.Marrowby.PowerCut()
	case "lie":
		return wrongAt("lamp", d.world.Lumbrook.Lie(act.Lamp, act.On))
	case "group":
		if err := d.world.Lumbrook.GroupFromApp(act.Group, lumbrook.Change{Lit: &act.On}); err != nil {
			return hub.Invalid("group", fmt.Sprintf("The maker's app answers: %s.", err))
		}
	case "press":
		if err := d.world.Lumbrook.PressButton(act.Plate, act.Button, act.Gesture); err != nil {
			return hub.Invalid("button", "There is no such button.")
		}
	case "offer":
		return wrongAt("node", d.world.Quillet.Offer(act.Node))
	case "reset":
		return wrongAt("node", d.world.Quillet.Reset(ctx, act.Node))
	case "silence":
		return wrongAt("node", d.world.Quillet.Silence(ctx, act.Node, act.On))
	case "carry":
		if !slices.Contains(house.Rooms, act.Room) {
			return wrongAt("room", fmt.Errorf("the house has no room %q", act.Room))
		}
		return wrongAt("node", d.world.Quillet.Carry(ctx, act.Node, act.Room))
	case "charge":
		if act.Level == nil {
			return wrongAt("level", errors.New("say how full the battery is"))
		}
		return wrongAt("node", d.world.Quillet.Charge(ctx, act.Node, *act.Level))
	case "plug":
		return wrongAt("hardware", d.world.Marrowby.Switch(act.Hardware, act.On))
	case "pull":
		return wrongAt("hardware", d.world.Marrowby.Pull(act.Hardware, act.On))
	case "restartRouter":
		return d.world.Marrowby.Restart()
	case "key":
		return wrongAt("radio", d.world.Haskett.Press(act.Radio, act.Button, act.On))
	case "battery":
		return wrongAt("radio", d.world.Haskett.ChangeBattery(act.Radio))
	case "wall":
		return wrongAt("node", d.atWall(ctx, act))
	case "fuse":
		return wrongAt("node", d.world.Quillet.AtModule(ctx, act.Node, func(m *quillet.Module, now time.Time) { m.Power(act.On, now) }))
	case "renew":
		return wrongAt("node", d.world.Quillet.AtModule(ctx, act.Node, func(m *quillet.Module, now time.Time) { m.Renew(now) }))
	case "jam":
		return wrongAt("lock", d.world.Penrook.Jam(act.Lock, act.On))
	case "turnKey":
		return wrongAt("lock", d.world.Penrook.Turn(act.Lock, act.On))
	case "diary":
		begin := d.clock.Now().Add(time.Duration(act.Seconds * float64(time.Second))).Truncate(time.Minute)
		return wrongAt("title", d.world.Diary.Write(diary.Entry{Title: act.Title, Begin: begin, End: begin.Add(time.Hour)}))
	case "pace":
		return d.setPace(act.Pace)
	case "jump":
		return d.jumpTo(ctx, act.Clock)
	case "advance":
		return d.Jump(ctx, d.clock.Now().Add(time.Duration(act.Seconds*float64(time.Second))))
	default:
		return hub.Invalid("what", "The bench does not know this act.")
	}
	return nil
}

// atWall presses a wall button of a shutter: button 0 is the upper. A short press is down for a moment.
func (d *Demo) atWall(ctx context.Context, act server.BenchAct) error {
	if act.Button > 1 {
		return errors.New("the wall plate has two buttons, 0 and 1")
	}
	return d.world.Quillet.AtModule(ctx, act.Node, func(m *quillet.Module, now time.Time) {
		switch act.Gesture {
		case "down":
			m.Press(act.Button, true, now)
		case "up":
			m.Press(act.Button, false, now)
		default:
			m.Tap(act.Button, now)
		}
	})
}

func shutterOf(m *quillet.Module) *server.BenchShutter {
	if m == nil {
		return nil
	}
	return &server.BenchShutter{Place: round(m.Place), Running: m.Running(), Burnt: m.Burnt, Dark: m.Dark, Log: append([]string{}, m.Log...)}
}

// wrongAt says where an act is wrong, if it is.
func wrongAt(place string, err error) error {
	if err == nil {
		return nil
	}
	return hub.Invalid(place, err.Error())
}

func (d *Demo) jumpTo(ctx context.Context, clock string) error {
	zone, err := time.LoadLocation(Mill.Zone)
	if err != nil {
		return err
	}
	at := almanac.Daily{Anchor: almanac.ByClock, Clock: clock}
	if err := at.Check(); err != nil {
		return hub.Invalid("clock", fmt.Sprintf("%q is not an hour such as 18:30.", clock))
	}
	next, _ := at.Next(d.clock.Now().In(zone), almanac.Place{})
	return d.Jump(ctx, next)
}
