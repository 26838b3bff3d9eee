// Package gate says who may see and do what in the home. It knows no requests, no sessions and no passwords: whoever asks was
// recognised before.
package gate

import (
	"slices"

	"amvek/core/cause"
	"amvek/core/home"
	"amvek/core/thing"
)

// Permission is what something needs of whoever asks for it.
type Permission string

// The permissions.
const (
	Anyone   Permission = "anyone"   // nothing: also who has not signed in
	SignedIn Permission = "signedIn" // to be let in, and no more
	See      Permission = "see"      // to see one thing, which guests and panels may where it stands on their dashboards
	Use      Permission = "use"      // to operate one thing, likewise
	Read     Permission = "read"     // to read all of the home: its record, its rules, why something is so
	Operate  Permission = "operate"  // to operate all of it
	SetUp    Permission = "setUp"    // to change what the home is made of
	Own      Permission = "own"      // to say who may what, and to see to the hub itself
)

// Permissions returns all there are.
func Permissions() []Permission {
	return []Permission{Anyone, SignedIn, See, Use, Read, Operate, SetUp, Own}
}

// Rank is how much somebody may, of what they reach.
type Rank int

// The ranks, each with what those before it have.
const (
	Outside   Rank = iota // has not signed in
	Seeing                // sees
	Operating             // and operates
	Building              // and sets up
	Owning                // and says who may what
)

// Thing is something of the home that is seen or operated: a definition, or a property, an action or a picture of a device.
type Thing struct {
	Kind string // a kind of definition, or property
	ID   string
	Name string // of a property, its name
}

// Reach is what of the home somebody sees and operates who may not see all of it.
type Reach struct {
	Sees     map[Thing]bool
	Operates map[Thing]bool
}

// Principal is whoever asks for something.
type Principal struct {
	By   cause.By
	Rank Rank
	// Within is what of the home they reach; nil is all of it.
	Within *Reach
	// Class names all that decides what they may see: those of one class see the same.
	Class string
}

// Of returns the rank of a role.
func Of(role home.Role) Rank {
	switch role {
	case home.Owner:
		return Owning
	case home.Member, home.Guest:
		return Operating
	default:
		return Outside
	}
}

// May reports whether a principal has a permission, and where that is one of a thing, has it of this thing.
func (p *Principal) May(permission Permission, of Thing) bool {
	switch permission {
	case Anyone:
		return true
	case SignedIn:
		return p.Rank > Outside
	case See:
		return p.Rank >= Seeing && (p.Within == nil || p.Within.Sees[of])
	case Use:
		return p.Rank >= Operating && (p.Within == nil || p.Within.Operates[of])
	case Read:
		return p.Rank >= Seeing && p.Within == nil
	case Operate:
		return p.Rank >= Operating && p.Within == nil
	case SetUp:
		return p.Rank >= Building && p.Within == nil
	case Own:
		return p.Rank >= Owning
	default:
		return false
	}
}

// families are the roles of what one instrument shows and operates together.
var families = [][]thing.Role{
	{thing.RolePower, thing.RoleBrightness, thing.RoleColor, thing.RoleColorTemperature},
	{thing.RolePosition, thing.RoleTilt, thing.RoleStop},
	playing,
}

// playing is the family of a player, which is operated wherever it is shown.
var playing = []thing.Role{thing.RoleTrack, thing.RolePlay, thing.RoleNext, thing.RoleVolume, thing.RoleMute}

// family returns the roles that go with one.
func family(of thing.Role) []thing.Role {
	for _, roles := range families {
		if slices.Contains(roles, of) {
			return roles
		}
	}
	return nil
}

// NewReach returns the reach of somebody who sees nothing.
func NewReach() *Reach { return &Reach{Sees: map[Thing]bool{}, Operates: map[Thing]bool{}} }

// AddDevice adds all of a device: what it measures and does, and what is set of it.
func (r *Reach) AddDevice(id string, d *home.Device) {
	r.Sees[Thing{Kind: "device", ID: id}] = true
	for i := range d.Description.Properties {
		r.both(Thing{Kind: "property", ID: id, Name: d.Description.Properties[i].Name})
	}
	for i := range d.Description.Actions {
		r.both(Thing{Kind: "action", ID: id, Name: d.Description.Actions[i].Name})
	}
	for i := range d.Description.Events {
		r.Sees[Thing{Kind: "event", ID: id, Name: d.Description.Events[i].Name}] = true
	}
	for i := range d.Description.Pictures {
		r.Sees[Thing{Kind: "picture", ID: id, Name: d.Description.Pictures[i].Name}] = true
	}
}

// Boards returns what those reach who were given some dashboards: what stands on them.
func Boards(ids []string, dashboard func(id string) *home.Dashboard, device func(id string) *home.Device) *Reach {
	r := NewReach()
	for _, id := range ids {
		board := dashboard(id)
		if board == nil {
			continue
		}
		r.Sees[Thing{Kind: "dashboard", ID: id}] = true
		for i := range board.Controls {
			r.add(&board.Controls[i], device)
		}
	}
	return r
}

func (r *Reach) add(c *home.Control, device func(id string) *home.Device) {
	switch c.Kind {
	case home.ControlScene:
		r.both(Thing{Kind: "scene", ID: c.Scene})
	case home.ControlRule:
		r.both(Thing{Kind: "rule", ID: c.Rule})
	case home.ControlValue, home.ControlLamp:
		if d := device(c.Device); d != nil {
			r.instrument(c, d)
		}
	}
}

// instrument adds what a control of a device shows, and where it operates it, what it operates.
func (r *Reach) instrument(c *home.Control, d *home.Device) {
	r.Sees[Thing{Kind: "device", ID: c.Device}] = true
	r.Sees[Thing{Kind: "room", ID: d.Room}] = true
	own := d.Description.Property(c.Property)
	if own == nil {
		return
	}
	roles := family(own.Role)
	operated := c.Kind == home.ControlLamp || slices.Contains(roles, thing.RoleTrack)
	for i := range d.Description.Properties {
		p := &d.Description.Properties[i]
		if p.Name != c.Property && !slices.Contains(roles, p.Role) {
			continue
		}
		r.Sees[Thing{Kind: "property", ID: c.Device, Name: p.Name}] = true
		if operated {
			r.Operates[Thing{Kind: "property", ID: c.Device, Name: p.Name}] = true
		}
	}
	for i := range d.Description.Actions {
		if a := &d.Description.Actions[i]; operated && slices.Contains(roles, a.Role) {
			r.Operates[Thing{Kind: "action", ID: c.Device, Name: a.Name}] = true
		}
	}
}

func (r *Reach) both(t Thing) { r.Sees[t], r.Operates[t] = true, true }
