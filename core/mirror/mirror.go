// Package mirror is what keeps properties of several devices at the same state, whichever of them is changed: the model, its
// checks, and what a value of one member means for another. It changes nothing itself: the engine does.
package mirror

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"amvek/core/document"
	"amvek/core/thing"
)

// Winner says which member the others follow after a time in which they could not be kept together.
type Winner string

// The winners.
const (
	Latest Winner = ""      // the one that was changed last
	First  Winner = "first" // the first one
)

// Mirror keeps its members at the same state.
type Mirror struct {
	Title   string   `json:"title" minLength:"1" maxLength:"120"`
	Note    string   `json:"note,omitempty" maxLength:"2000"`
	Enabled bool     `json:"enabled"`
	Members []Member `json:"members" maxItems:"32" doc:"The properties that are kept at the same state."`
	// Winner says which member the others follow after a time apart.
	Winner Winner `json:"winner,omitempty" enum:"first" doc:"Whom the others follow after a time apart, such as a power cut: the first member; absent for the one that was changed last."`
}

// Member is a property that is kept at the state of the others.
type Member struct {
	Device   string `json:"device"`
	Property string `json:"property"`
}

// Ref is what the member is.
func (m *Member) Ref() thing.Ref { return thing.Ref{Device: m.Device, Name: m.Property} }

// Lookup is what a mirror is checked against.
type Lookup interface {
	Property(device, name string) *thing.Property
}

// WellFormed returns what is wrong with a document whatever else there is: an unfinished mirror may be saved, and is not at work.
func (m *Mirror) WellFormed() error {
	if strings.TrimSpace(m.Title) == "" {
		return document.Wrong("title", "give the mirror a name")
	}
	return nil
}

// Check returns what keeps the mirror from being at work.
func (m *Mirror) Check(lookup Lookup) (faults []document.Fault) {
	say := func(path, format string, args ...any) {
		faults = append(faults, document.Fault{Path: path, Message: fmt.Sprintf(format, args...)})
	}
	if len(m.Members) < 2 {
		say("members", "Choose two or more things that are to be at the same state.")
	}
	var first *thing.Property
	for i := range m.Members {
		path, member := fmt.Sprintf("members/%d", i), &m.Members[i]
		p := lookup.Property(member.Device, member.Property)
		switch {
		case member.Device == "" || member.Property == "":
			say(path, "Choose what is kept at the same state.")
		case p == nil:
			say(path, "The device does not have this any more.")
		case !p.Writable:
			say(path, "%s can only be read.", p.Title)
		case slices.ContainsFunc(m.Members[:i], func(x Member) bool { return x == *member }):
			say(path, "It is there twice.")
		case first != nil && !kin(first, p):
			say(path, "%s and %s cannot be at the same state.", first.Title, p.Title)
		case first == nil:
			first = p
		}
	}
	switch m.Winner {
	case Latest, First:
	default:
		say("winner", "%q is no winner.", m.Winner)
	}
	return faults
}

// kin reports whether what one property is at can be said of another.
func kin(a, b *thing.Property) bool {
	sized := func(p *thing.Property) bool { return p.Type == thing.TypeNumber || p.Type == thing.TypeBoolean }
	switch {
	case a.Role == thing.RoleColor || b.Role == thing.RoleColor:
		return a.Role == b.Role
	case a.Role == thing.RoleColorTemperature || b.Role == thing.RoleColorTemperature:
		return a.Role == b.Role
	case sized(a) && sized(b):
		return true
	}
	return a.Type == b.Type && a.Type == thing.TypeOption
}

// Agrees reports whether a member at one value is at the same state as another at another value, as far as both can tell.
func Agrees(from *thing.Property, v thing.Value, to *thing.Property, at thing.Value) bool {
	return agrees(from, v, to, at, 1)
}

// Shows reports whether a member that was asked to be at a value need not be told of another's. It is stricter than [Agrees]:
// what a device reports may be off by as much as it resolves from what it was asked to be, and the two would add up.
func Shows(from *thing.Property, v thing.Value, to *thing.Property, at thing.Value) bool {
	return agrees(from, v, to, at, 0.5)
}

// agrees compares within a share of what the members resolve.
func agrees(from *thing.Property, v thing.Value, to *thing.Property, at thing.Value, share float64) bool {
	want := Reflected(from, v, to, at, 0)
	if want.IsNone() {
		return true // it cannot show that, and so does not contradict
	}
	if on(from, v) != on(to, at) {
		return false // however little that is
	}
	// One of them may be the coarser: it is enough that either shows the other.
	if want.Near(at, share*tolerance(to)) {
		return true
	}
	back := Reflected(to, at, from, v, 0)
	return !back.IsNone() && back.Near(v, share*tolerance(from))
}

func tolerance(p *thing.Property) float64 {
	if p.Role == thing.RoleColor {
		return max(p.Resolution, 1e-4)
	}
	return max(p.Resolution, 1e-9)
}

// Reflected returns what a member is to be at, where another is at a value; none where it cannot show that. What only switches
// says of what has a level that it is on: at the level at which it is already, else at the one that it was on with last.
func Reflected(from *thing.Property, v thing.Value, to *thing.Property, at thing.Value, lastOn float64) thing.Value {
	switch {
	case v.IsNone():
		return thing.Value{}
	case v.Kind == thing.KindColor:
		return v
	case from.Type == thing.TypeOption:
		if !slices.Contains(to.Options, v.Text) {
			return thing.Value{}
		}
		return v
	case to.Type == thing.TypeBoolean:
		return thing.Boolean(v.Kind == thing.KindBoolean && v.True() || v.Kind == thing.KindNumber && v.Number > lowest(from))
	case v.Kind == thing.KindBoolean:
		return switched(v.True(), to, at, lastOn)
	}
	return leveled(from, v.Number, to)
}

// on reports whether a property is on at a value; what is neither on nor off counts as on.
func on(p *thing.Property, v thing.Value) bool {
	switch v.Kind {
	case thing.KindBoolean:
		return v.True()
	case thing.KindNumber:
		return p.Role == thing.RoleColorTemperature || v.Number > lowest(p)
	}
	return true
}

// lowest is the value at which something that has a level is off.
func lowest(p *thing.Property) float64 {
	if p.Limited() {
		return p.Minimum
	}
	return 0
}

// switched is the level of what is switched on or off.
func switched(on bool, to *thing.Property, at thing.Value, lastOn float64) thing.Value {
	low := lowest(to)
	switch {
	case !on:
		return thing.Number(low)
	case at.Kind == thing.KindNumber && at.Number > low:
		return at
	case lastOn > low:
		return thing.Number(within(to, lastOn))
	case to.Limited():
		return thing.Number(to.Maximum)
	}
	return thing.Number(1)
}

// leveled is a level in the range of another property: the same number in the same unit, else the same share of the range. What
// is on, however little, is not off there.
func leveled(from *thing.Property, v float64, to *thing.Property) thing.Value {
	shines := on(from, thing.Number(v))
	if from.Unit != to.Unit && from.Limited() && to.Limited() {
		share := (v - from.Minimum) / (from.Maximum - from.Minimum)
		v = to.Minimum + share*(to.Maximum-to.Minimum)
	}
	if to.Resolution > 0 {
		v = math.Round(v/to.Resolution) * to.Resolution
	}
	if shines && to.Role != thing.RoleColorTemperature && v <= lowest(to) {
		v = lowest(to) + to.Resolution
	}
	return thing.Number(within(to, v))
}

func within(p *thing.Property, v float64) float64 {
	if p.Limited() {
		return min(p.Maximum, max(p.Minimum, v))
	}
	return v
}
