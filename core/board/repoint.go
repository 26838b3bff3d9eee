package board

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"amvek/core/home"
	"amvek/core/thing"
)

// Target is the room that controls are pointed to, with what they can be pointed at: whatever is in it.
type Target struct {
	Room    Room
	Rooms   map[string]string // the names of the rooms of the home, by id
	Devices map[string]*home.Device
	Scenes  []Made
	Lights  []Lit
}

// Replacement says what one device, scene or light of some controls is replaced by.
type Replacement struct {
	Kind string `json:"kind" enum:"device,scene,light"`
	From string `json:"from"`
	// To is the id of what replaces it; none where nothing fits.
	To string `json:"to,omitempty"`
	// Why says what they have in common.
	Why string `json:"why,omitempty"`
	// Fits are the ids of all that could replace it, the best first.
	Fits []string `json:"fits"`
	// Controls are the ids of the controls that it stands on.
	Controls []string `json:"controls"`
}

// The choices of a row besides the id of what replaces it.
const (
	LeaveOut = "leave out" // the controls that are about it are not copied
	AsItIs   = "as it is"  // they stay pointed at it
)

// needs is what the controls use of a device.
type needs struct {
	properties, actions, cameras []string
}

func (n *needs) add(of Aim) {
	use := func(list *[]string, name string) {
		if name != "" && !slices.Contains(*list, name) {
			*list = append(*list, name)
		}
	}
	use(&n.properties, of.Property)
	use(&n.actions, of.Action)
	use(&n.cameras, of.Camera)
}

// Match finds for each device, scene and light of some controls what is like it in another room: the light of that room, the same model, the same name but for
// the room's, or at least what has the same roles. Each is taken once.
func Match(controls []Control, to Target) []Replacement {
	rows, used := mentioned(controls)
	type pair struct {
		row, score int
		to, why    string
	}
	var pairs []pair
	for i := range rows {
		row := &rows[i]
		var fits []pair
		switch from := to.Devices[row.From]; {
		case row.Kind == "light":
			for _, l := range to.Lights {
				if l.of(to.Room.ID) && l.ID != row.From {
					fits = append(fits, pair{i, 8, l.ID, "light of that room"})
				}
			}
		case row.Kind == "scene":
			for _, s := range to.Scenes {
				if score, why := to.sceneLike(row.From, s); score > 0 {
					fits = append(fits, pair{i, score, s.ID, why})
				}
			}
		case from != nil:
			for id, d := range to.Devices {
				if d.Room != to.Room.ID || id == row.From {
					continue
				}
				if score, why := to.like(from, d, used[row.From]); score > 0 {
					fits = append(fits, pair{i, score, id, why})
				}
			}
		}
		slices.SortFunc(fits, func(a, b pair) int { return cmp.Or(b.score-a.score, strings.Compare(a.to, b.to)) })
		for _, f := range fits {
			row.Fits = append(row.Fits, f.to)
		}
		pairs = append(pairs, fits...)
	}
	slices.SortStableFunc(pairs, func(a, b pair) int { return b.score - a.score })
	taken := map[string]bool{}
	for _, p := range pairs {
		if row := &rows[p.row]; row.To == "" && !taken[p.to] {
			row.To, row.Why, taken[p.to] = p.to, p.why, true
		}
	}
	return rows
}

// mentioned returns a row for each device, scene and light of some controls, and what is used of each device.
func mentioned(controls []Control) ([]Replacement, map[string]*needs) {
	var rows []Replacement
	used := map[string]*needs{}
	row := func(kind, id, control string) {
		if id == "" {
			return
		}
		at := slices.IndexFunc(rows, func(r Replacement) bool { return r.Kind == kind && r.From == id })
		if at < 0 {
			at, rows = len(rows), append(rows, Replacement{Kind: kind, From: id, Fits: []string{}})
		}
		if !slices.Contains(rows[at].Controls, control) {
			rows[at].Controls = append(rows[at].Controls, control)
		}
	}
	device := func(of Aim, control string) {
		if of.Device == "" {
			return
		}
		row("device", of.Device, control)
		if used[of.Device] == nil {
			used[of.Device] = &needs{}
		}
		used[of.Device].add(of)
	}
	for i := range controls {
		c := &controls[i]
		c.Mentions(func(of *Aim) {
			device(*of, c.ID)
			row("scene", of.Scene, c.ID)
			row("light", of.Light, c.ID)
		})
		for _, v := range c.Values {
			device(Aim{Device: v.Device, Property: v.Name}, c.ID)
		}
	}
	return rows, used
}

// like says how well a device can stand for another, 0 where it cannot, and what they have in common.
func (t *Target) like(from, to *home.Device, used *needs) (score int, why string) {
	if _, fit := counterpart(from, to, used); !fit {
		return 0, ""
	}
	score, reasons := 1, []string{"same kind of device"}
	if from.Model == to.Model && from.Maker == to.Maker {
		score, reasons = score+4, []string{"same model"}
	}
	if a, b := t.without(from.Title, from.Room), t.without(to.Title, to.Room); a == b {
		score, reasons = score+8, append(reasons, "same name")
	} else if shared(a, b) {
		score, reasons = score+2, append(reasons, "similar name")
	}
	return score, strings.Join(reasons, ", ")
}

// sceneLike says how well a scene can stand for another: only where its name is the same but for the room's.
func (t *Target) sceneLike(from string, to Made) (score int, why string) {
	at := slices.IndexFunc(t.Scenes, func(s Made) bool { return s.ID == from })
	if at < 0 || from == to.ID {
		return 0, ""
	}
	for id := range t.Rooms {
		was := t.without(t.Scenes[at].Title, id)
		if was != strings.ToLower(t.Scenes[at].Title) && was == t.without(to.Title, t.Room.ID) && was != strings.ToLower(to.Title) {
			return 8, "same name"
		}
	}
	return 0, ""
}

// without returns a name in lower case without that of its room.
func (t *Target) without(title, room string) string {
	title = strings.ToLower(title)
	if name := strings.ToLower(t.Rooms[room]); name != "" {
		title = strings.ReplaceAll(title, name, " ")
	}
	return strings.Join(strings.Fields(title), " ")
}

// shared reports whether two names have a word in common that is not a figure.
func shared(a, b string) bool {
	words := strings.Fields(b)
	return slices.ContainsFunc(strings.Fields(a), func(w string) bool {
		return strings.Trim(w, "0123456789") != "" && slices.Contains(words, w)
	})
}

// names are those of what a device offers, by those of what another offers.
type names struct {
	properties, actions, cameras map[string]string
}

// counterpart returns what of a device stands for what is used of another; it is false where it has no such thing.
func counterpart(from, to *home.Device, used *needs) (names, bool) {
	n := names{map[string]string{}, map[string]string{}, map[string]string{}}
	if used == nil {
		return n, true
	}
	for _, name := range used.properties {
		p := from.Description.Property(name)
		if p == nil {
			return n, false
		}
		other := sameProperty(from, to, p)
		if other == nil {
			return n, false
		}
		n.properties[name] = other.Name
	}
	for _, name := range used.actions {
		if to.Description.Action(name) == nil {
			return n, false
		}
		n.actions[name] = name
	}
	for _, name := range used.cameras {
		if len(to.Description.Pictures) == 0 {
			return n, false
		}
		n.cameras[name] = to.Description.Pictures[0].Name
		for _, p := range to.Description.Pictures {
			if p.Name == name {
				n.cameras[name] = name
			}
		}
	}
	return n, true
}

// sameProperty returns what of a device means the same as a property of another: of the same name and role, else of the same
// role; of what lights, the light.
func sameProperty(from, to *home.Device, p *thing.Property) *thing.Property {
	fits := func(q *thing.Property) bool {
		return q != nil && q.Role == p.Role && q.Type == p.Type && (q.Writable || !p.Writable)
	}
	if q := to.Description.Property(p.Name); fits(q) {
		return q
	}
	if p.Role != "" {
		for i := range to.Description.Properties {
			if q := &to.Description.Properties[i]; fits(q) {
				return q
			}
		}
	}
	if p.Name == from.Light() {
		return to.Description.Property(to.Light())
	}
	return nil
}

// Repoint returns copies of some controls that are about what was chosen for what they were about, by its id: another id,
// [LeaveOut] or [AsItIs]; what was not chosen for is left out. The copies have ids of their own, by a function, and lie below
// a row.
func Repoint(controls []Control, choices map[string]string, devices map[string]*home.Device, id func() string, below int) ([]Control, error) {
	copies := []Control{}
	_, used := mentioned(controls)
	top := maximumRow
	for i := range controls {
		top = min(top, controls[i].Row)
	}
	for i := range controls {
		c := clone(&controls[i])
		left := false
		point := func(device *string, each func(n names)) error {
			to := choices[*device]
			switch {
			case *device == "" || to == AsItIs:
				return nil
			case to == "" || to == LeaveOut:
				left = true
				return nil
			}
			from, other := devices[*device], devices[to]
			if from == nil || other == nil {
				return fmt.Errorf("there is no device %q", to)
			}
			n, fit := counterpart(from, other, used[*device])
			if !fit {
				return fmt.Errorf("%s cannot stand for %s", other.Title, from.Title)
			}
			*device = to
			each(n)
			return nil
		}
		var wrong error
		c.Mentions(func(of *Aim) {
			if err := point(&of.Device, func(n names) {
				of.Property, of.Action, of.Camera = n.properties[of.Property], n.actions[of.Action], n.cameras[of.Camera]
			}); err != nil {
				wrong = err
			}
			for _, made := range []*string{&of.Scene, &of.Light} {
				switch to := choices[*made]; {
				case *made == "" || to == AsItIs:
				case to == "" || to == LeaveOut:
					left = true
				default:
					*made = to
				}
			}
		})
		kept := c.Values[:0]
		for _, v := range c.Values {
			was := left
			left = false
			if err := point(&v.Device, func(n names) { v.Name = n.properties[v.Name] }); err != nil {
				wrong = err
			}
			if !left {
				kept = append(kept, v)
			}
			left = was
		}
		if c.Values != nil {
			c.Values, left = kept, left || len(kept) == 0
		}
		if wrong != nil {
			return nil, wrong
		}
		if left {
			continue
		}
		c.ID, c.Tall = id(), nil
		c.Row += below - top
		copies = append(copies, *c)
	}
	return copies, nil
}

// clone returns a copy of a control that has nothing in common with it.
func clone(c *Control) *Control {
	out := *c
	out.Values = slices.Clone(c.Values)
	out.SeenBy = slices.Clone(c.SeenBy)
	for _, act := range []**Touch{&out.Tap, &out.Double, &out.Hold} {
		if *act != nil {
			own := **act
			*act = &own
		}
	}
	return &out
}
