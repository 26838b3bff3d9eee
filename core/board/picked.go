package board

import (
	"amvek/core/home"
	"amvek/core/thing"
)

// PickKind is of what something is that somebody picked.
type PickKind string

// What can be picked.
const (
	PickDevice    PickKind = "device"
	PickScene     PickKind = "scene"
	PickSequence  PickKind = "sequence"
	PickRule      PickKind = "rule"
	PickDashboard PickKind = "dashboard"
	PickRoom      PickKind = "room"
)

// Pick is something of the home that somebody picked, to have it at hand.
type Pick struct {
	Kind PickKind `json:"kind" enum:"device,scene,sequence,rule,dashboard,room"`
	ID   string   `json:"id" minLength:"1" maxLength:"80"`
}

// Picked lays out a dashboard of what somebody picked, in that order. Rooms stand in the navigation and are left out, as are
// devices that are not known.
func Picked(title string, picks []Pick, of Known) *Dashboard {
	d := &Dashboard{Title: title, Grid: Columns, Controls: []Control{}}
	l := lay{columns: Columns}
	for _, pick := range picks {
		for _, c := range of.picked(pick) {
			if len(d.Controls) == maximumControls {
				return d
			}
			spec, _ := Of(c.Kind)
			c.ID = string(pick.Kind) + " " + pick.ID + " " + c.Property + c.Action + c.Camera
			c.Place = l.put(spec.Width, spec.Height)
			d.Controls = append(d.Controls, c)
		}
	}
	return d
}

// picked returns the controls of something that was picked.
func (k *Known) picked(pick Pick) []Control {
	switch pick.Kind {
	case PickScene:
		return []Control{{Kind: Scene, Aim: Aim{Scene: pick.ID}}}
	case PickSequence:
		return []Control{{Kind: Sequence, Aim: Aim{Sequence: pick.ID}}}
	case PickRule:
		return []Control{{Kind: Rule, Aim: Aim{Rule: pick.ID}}}
	case PickDashboard:
		return []Control{{Kind: Link, Aim: Aim{Dashboard: pick.ID}}}
	case PickDevice:
		d := k.Devices[pick.ID]
		if d == nil {
			return nil
		}
		return labelled(ofPicked(pick.ID, d), d, Room{})
	default:
		return nil
	}
}

// ofPicked returns the controls by which a device is used; of one that is not, what it measures first.
func ofPicked(id string, d *home.Device) []Control {
	if all := ofDevice(id, d, map[thing.Role]bool{}); len(all) > 0 {
		return all
	}
	for i := range d.Description.Properties {
		if p := &d.Description.Properties[i]; p.Setting == nil {
			return []Control{{Kind: Reading, Aim: Aim{Device: id, Property: p.Name}}}
		}
	}
	return nil
}
