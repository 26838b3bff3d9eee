package demo

import (
	"context"
	"fmt"
	"math"
	"time"

	"amvek/core/almanac"
	"amvek/core/light"
	"amvek/hub"
	"amvek/server"
	"amvek/standin/house"
	"amvek/standin/lumbrook"
	"amvek/standin/quillet"
)

// State implements [server.Bench].
func (d *Demo) State() server.BenchState {
	now := d.clock.Now()
	h := d.world.House.State()
	lamps, pressed, cut := d.world.Lumbrook.Seen()
	state := server.BenchState{
		Now: now, Person: h.Person, Living: h.Living, DoorOpen: h.DoorOpen,
		Bridge:   server.BenchBridge{Address: d.world.Lumbrook.Address(), Pressed: pressed, Cut: cut},
		Outdoors: server.BenchOutside{Lux: round(d.world.House.Outdoors(now)), Temperature: round(d.world.House.Air(now))},
	}
	for _, name := range house.Rooms {
		state.Rooms = append(state.Rooms, server.BenchRoom{Name: name, Lux: round(d.world.House.Light(name, now)), Temperature: round(h.Warmth[name])})
	}
	for _, l := range lamps {
		state.Lamps = append(state.Lamps, server.BenchLamp{ID: l.ID, Label: l.Label, Room: l.Place, Lit: l.Lit, Dims: l.Kind != "switch", Level: math.Round(l.Level * 100), Swatch: lampSwatch(l), Blinking: l.Blinking})
	}
	blinking, silent := d.world.Quillet.Blinking(), d.world.Quillet.Silent()
	for _, n := range quillet.Nodes {
		state.Nodes = append(state.Nodes, server.BenchNode{Node: n.Node, Label: n.Label, Room: n.Spot, Blinking: blinking[n.Node], Silent: silent[n.Node], Sensing: n.Node == "n31" && d.world.Quillet.Sensing()})
	}
	return state
}

func round(v float64) float64 { return math.Round(v*10) / 10 }

func lampSwatch(l lumbrook.Seen) string {
	const mired, plainBulb = 1_000_000.0, 2700.0
	switch {
	case l.Chroma != nil:
		return light.Swatch(l.Chroma[0], l.Chroma[1])
	case l.Mired > 0:
		return light.Swatch(light.Chromaticity(mired / float64(l.Mired)))
	default:
		return light.Swatch(light.Chromaticity(plainBulb))
	}
}

// Act implements [server.Bench].
func (d *Demo) Act(ctx context.Context, act server.BenchAct) error {
	switch act.What {
	case "walk":
		if err := d.world.House.Walk(act.Room); err != nil {
			return hub.Invalid("room", err.Error())
		}
	case "live":
		d.world.House.Live(act.On)
		d.looksDifferent()
	case "door":
		d.world.House.SetDoor(act.On)
	case "turn":
		// The hand turns on while the browser goes on.
		d.workers.Go(func() { d.world.Quillet.Turn(context.WithoutCancel(ctx), act.Notches) })
	case "pressDial":
		d.world.Quillet.PressDial(ctx)
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
	case "silence":
		if err := d.world.Quillet.Silence(ctx, act.Node, act.On); err != nil {
			return hub.Invalid("node", err.Error())
		}
	case "jump":
		return d.jumpTo(ctx, act.Clock)
	case "advance":
		return d.Jump(ctx, d.clock.Now().Add(time.Duration(act.Seconds*float64(time.Second))))
	default:
		return hub.Invalid("what", "The bench does not know this act.")
	}
	return nil
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
