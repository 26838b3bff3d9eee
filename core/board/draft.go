package board

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"amvek/core/home"
	"amvek/core/thing"
)

// Room is a room that a dashboard is drafted for.
type Room struct {
	ID    string
	Title string
}

// Made is a scene or a rule of the home, with the devices that it sets.
type Made struct {
	ID      string
	Title   string
	Devices []string
}

// Lit is the light of one room or of several.
type Lit struct {
	ID    string
	Rooms []string
}

// of reports whether it is the light of a room alone.
func (l Lit) of(room string) bool { return len(l.Rooms) == 1 && l.Rooms[0] == room }

// Known is what of a home a dashboard is drafted from.
type Known struct {
	Devices map[string]*home.Device
	Scenes  []Made
	Lights  []Lit
}

// measured are the readings that a draft takes, of a room one of each.
var measured = []thing.Role{thing.RoleTemperature, thing.RoleHumidity, thing.RoleLevel, thing.RoleMotion, thing.RoleEnergyPower}

// ranks say in which order a draft shows its controls.
var ranks = []Kind{RoomLight, Scene, Lamp, Shutter, Warmth, Reading, Opening, Lock, Switch, Player, Camera, Action}

// Draft lays out a dashboard of some rooms from what is there: their light, their scenes, and of each device what it is for. Of several rooms each
// stands under its name.
func Draft(title string, rooms []Room, of Known) *Dashboard {
	d := &Dashboard{Title: title, Grid: Columns, Margin: true, Controls: []Control{}}
	l := lay{columns: Columns}
	add := func(c Control) {
		if len(d.Controls) == maximumControls {
			return
		}
		spec, _ := Of(c.Kind)
		c.ID = fmt.Sprintf("c%d", len(d.Controls)+1)
		width, height := spec.Width, spec.Height
		if c.Kind == Label {
			width = Columns
		}
		c.Place = l.put(width, height)
		d.Controls = append(d.Controls, c)
	}
	for _, room := range rooms {
		controls := of.room(room)
		if len(controls) == 0 {
			continue
		}
		if len(rooms) > 1 {
			l.below()
			add(Control{Kind: Label, Options: map[string]any{"text": room.Title, "size": "heading"}})
		}
		for _, c := range controls {
			add(c)
		}
	}
	return d
}

// room returns the controls of one room, in the order in which they are shown.
func (k *Known) room(room Room) []Control {
	var all []Control
	for _, s := range k.Scenes {
		if k.mostlyIn(s.Devices, room.ID) {
			all = append(all, Control{Kind: Scene, Aim: Aim{Scene: s.ID}})
		}
	}
	var devices []string
	for id, d := range k.Devices {
		if d.Room == room.ID {
			devices = append(devices, id)
		}
	}
	slices.SortFunc(devices, func(a, b string) int {
		return cmp.Or(cmp.Compare(k.Devices[a].Title, k.Devices[b].Title), cmp.Compare(a, b))
	})
	shown := map[thing.Role]bool{}
	for _, id := range devices {
		all = append(all, labelled(ofDevice(id, k.Devices[id], shown), k.Devices[id], room)...)
	}
	lamps := 0
	for i := range all {
		if all[i].Kind == Lamp {
			lamps++
		}
	}
	if lamps > 1 { // the light of one lamp is that lamp
		all = append(k.lightsOf(room.ID), all...)
	}
	slices.SortStableFunc(all, func(a, b Control) int { return slices.Index(ranks, a.Kind) - slices.Index(ranks, b.Kind) })
	return all
}

// lightsOf returns a control for each light of a room.
func (k *Known) lightsOf(room string) (all []Control) {
	for _, l := range k.Lights {
		if l.of(room) {
			all = append(all, Control{Kind: RoomLight, Aim: Aim{Light: l.ID}})
		}
	}
	return all
}

// labelled has the controls of a device say in a room what is not said by the room itself: "Ceiling", not "Mill room ceiling". Of
// several each says what it shows, too.
func labelled(controls []Control, d *home.Device, room Room) []Control {
	title := d.Title
	if short, is := strings.CutPrefix(strings.ToLower(title), strings.ToLower(room.Title)+" "); is && short != "" {
		title = title[len(title)-len(short):]
	}
	first, size := utf8.DecodeRuneInString(title)
	title = string(unicode.ToUpper(first)) + title[size:]
	for i := range controls {
		c := &controls[i]
		c.Label = title
		if p := d.Description.Property(c.Property); p != nil && len(controls) > 1 {
			c.Label = title + ", " + strings.ToLower(p.Title)
		}
	}
	return controls
}

// mostlyIn reports whether more than half of some devices are in a room.
func (k *Known) mostlyIn(devices []string, room string) bool {
	in := 0
	for _, id := range devices {
		if d := k.Devices[id]; d != nil && d.Room == room {
			in++
		}
	}
	return 2*in > len(devices)
}

// ofDevice returns the controls by which a device is used; of readings those whose role is not shown yet.
func ofDevice(id string, d *home.Device, shown map[thing.Role]bool) []Control {
	var all []Control
	shutter := slices.ContainsFunc(d.Description.Properties, func(p thing.Property) bool { return p.Role == thing.RolePosition })
	for i := range d.Description.Properties {
		p := &d.Description.Properties[i]
		if p.Setting != nil || shutter && p.Role == thing.RolePower { // its outputs are what moves it
			continue
		}
		kind, better := Best(d, p)
		switch {
		case better:
		case p.Role == thing.RolePower && p.Writable && d.Light() == "" && !hasTrack(d):
			kind = Switch
		case slices.Contains(measured, p.Role) && !shown[p.Role] && !p.Writable:
			shown[p.Role] = true
		default:
			continue
		}
		c := Control{Kind: kind, Aim: Aim{Device: id, Property: p.Name}}
		if d.AttendedOnly {
			c.Ask = true
		}
		all = append(all, c)
	}
	for _, picture := range d.Description.Pictures {
		all = append(all, Control{Kind: Camera, Aim: Aim{Device: id, Camera: picture.Name}})
	}
	for i := range d.Description.Actions {
		if a := &d.Description.Actions[i]; a.Role == "" && !slices.ContainsFunc(a.Inputs, func(in thing.Input) bool { return in.Required }) {
			all = append(all, Control{Kind: Action, Aim: Aim{Device: id, Action: a.Name}})
		}
	}
	return all
}

func hasTrack(d *home.Device) bool {
	return slices.ContainsFunc(d.Description.Properties, func(p thing.Property) bool { return p.Role == thing.RoleTrack })
}
