// Package gate says who may see and do what in the home. It knows no requests, no sessions and no passwords: whoever asks was
// recognised before.
package gate

import (
	"slices"

	"amvek/core/board"
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
	ID   string // all of the kind where it is ""
	Name string // of a property, its name; of a notice, where it is shown
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
		return p.Rank >= Seeing && (p.Within == nil || p.Within.Sees[of] || p.Within.Sees[Thing{Kind: of.Kind}] || p.Within.Sees[Thing{Kind: of.Kind, Name: of.Name}])
	case Use:
		return p.Rank >= Operating && (p.Within == nil || p.Within.Operates[of] || p.Within.Operates[Thing{Kind: of.Kind}])
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
	{thing.RoleSetpoint, thing.RoleTemperature, thing.RoleHeating},
	playing,
}

// playing is the family of a player.
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

// Viewer is somebody who looks at dashboards.
type Viewer struct {
	Role string // a role of people, or panel
	ID   string
}

// Panels is how a panel is called as a viewer.
const Panels = "panel"

// AddShown adds what rules show on a panel of some dashboards: above everything, to be answered there.
func (r *Reach) AddShown(ids []string) {
	for _, where := range append([]string{everywhere}, ids...) {
		r.Sees[Thing{Kind: "notice", Name: where}] = true
	}
	r.Operates[Thing{Kind: "notice"}] = true
}

// AddMargin adds what stands at the side of dashboards: the modes, to be chosen, and what comes next.
func (r *Reach) AddMargin(device func(id string) *home.Device) {
	r.Sees[Thing{Kind: "mark"}] = true
	r.Sees[Thing{Kind: "modes"}] = true
	r.instrument(home.OwnID, home.ModeProperty, true, device)
}

// everywhere is where what is shown on all panels is shown.
const everywhere = "all"

// Boards returns what those reach who were given some dashboards: what stands on them and is not hidden from them.
func Boards(ids []string, by Viewer, dashboard func(id string) *board.Dashboard, device func(id string) *home.Device) *Reach {
	r := NewReach()
	for _, id := range ids {
		d := dashboard(id)
		if d == nil {
			continue
		}
		r.Sees[Thing{Kind: "dashboard", ID: id}] = true
		if d.Background != nil && d.Background.Upload != "" {
			r.Sees[Thing{Kind: "upload", ID: d.Background.Upload}] = true
		}
		for i := range d.Controls {
			if c := &d.Controls[i]; board.SeenBy(c.SeenBy, by.Role, by.ID) {
				r.add(c, device)
			}
		}
	}
	return r
}

// wide is what is shown of the home as a whole by the controls that show it.
var wide = map[board.Kind][]string{
	board.Next: {"mark"}, board.Messages: {"notice"}, board.Care: {"needs"}, board.Modes: {"modes"},
}

func (r *Reach) add(c *board.Control, device func(id string) *home.Device) {
	spec, known := board.Of(c.Kind)
	if !known {
		return
	}
	for _, kind := range wide[c.Kind] {
		r.Sees[Thing{Kind: kind}] = true
		if spec.Operates {
			r.Operates[Thing{Kind: kind}] = true
		}
	}
	if c.Kind == board.Modes {
		r.instrument(home.OwnID, home.ModeProperty, spec.Operates, device)
	}
	if c.Upload != "" {
		r.Sees[Thing{Kind: "upload", ID: c.Upload}] = true
	}
	r.about(&c.Aim, spec.Operates, device)
	for _, v := range c.Values {
		r.instrument(v.Device, v.Name, false, device)
	}
	for _, act := range c.Acts() {
		if act.Do == board.DoOpen {
			continue // it leads only to those dashboards that they were given
		}
		r.about(&act.Aim, true, device)
	}
}

// about adds what a control, or a touch of it, is about.
func (r *Reach) about(of *board.Aim, operates bool, device func(id string) *home.Device) {
	if of.Scene != "" {
		r.both(Thing{Kind: "scene", ID: of.Scene})
	}
	if of.Sequence != "" {
		r.both(Thing{Kind: "sequence", ID: of.Sequence})
	}
	if of.Light != "" {
		r.both(Thing{Kind: "light", ID: of.Light})
	}
	if of.Rule != "" {
		r.both(Thing{Kind: "rule", ID: of.Rule})
	}
	if of.Device == "" {
		return
	}
	if of.Property != "" {
		r.instrument(of.Device, of.Property, operates, device)
	}
	if d := device(of.Device); d != nil && (of.Action != "" || of.Camera != "") {
		r.seesDevice(of.Device, d)
		if d.Description.Action(of.Action) != nil {
			r.both(Thing{Kind: "action", ID: of.Device, Name: of.Action})
		}
		if of.Camera != "" {
			r.Sees[Thing{Kind: "picture", ID: of.Device, Name: of.Camera}] = true
		}
	}
}

func (r *Reach) seesDevice(id string, d *home.Device) {
	r.Sees[Thing{Kind: "device", ID: id}] = true
	r.Sees[Thing{Kind: "room", ID: d.Room}] = true
}

// instrument adds what a control of a device shows, and where it operates it, what it operates.
func (r *Reach) instrument(id, property string, operates bool, device func(id string) *home.Device) {
	d := device(id)
	if d == nil {
		return
	}
	r.seesDevice(id, d)
	own := d.Description.Property(property)
	if own == nil {
		return
	}
	roles := family(own.Role)
	if operates && own.Role == thing.RoleTrack {
		roles = append(slices.Clone(roles), thing.RolePower) // of some, whether they play is a switch
	}
	for i := range d.Description.Properties {
		p := &d.Description.Properties[i]
		if p.Name != property && !slices.Contains(roles, p.Role) {
			continue
		}
		r.Sees[Thing{Kind: "property", ID: id, Name: p.Name}] = true
		if operates {
			r.Operates[Thing{Kind: "property", ID: id, Name: p.Name}] = true
		}
	}
	for i := range d.Description.Actions {
		if a := &d.Description.Actions[i]; operates && slices.Contains(roles, a.Role) {
			r.Operates[Thing{Kind: "action", ID: id, Name: a.Name}] = true
		}
	}
}

func (r *Reach) both(t Thing) { r.Sees[t], r.Operates[t] = true, true }
