package hub

import (
	"cmp"
	"context"
	"slices"
	"strings"
	"time"

	"amvek/connect"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/hub/links"
)

// FoundDevice is a device that a connection sees.
type FoundDevice struct {
	Connection string `json:"connection"`
	Hardware   string `json:"hardware"`
	Address    string `json:"address"`
	Maker      string `json:"maker"`
	Model      string `json:"model"`
	Label      string `json:"label" doc:"The maker's own name for it."`
	RoomHint   string `json:"roomHint,omitempty" doc:"Where the maker's bridge says it is."`
	Groups     string `json:"groups,omitempty" doc:"The bridge's own groups that it is in."`
	Gateway    string `json:"gateway,omitempty" doc:"The radio gateway it is behind."`
	// Since is when it was first announced since the hub started.
	Since   time.Time `json:"since,omitzero"`
	Profile string    `json:"profile,omitempty" doc:"Title of its profile; absent when none fits the model."`
	// Installable says that the catalogue has the missing profile, ready to be installed.
	Installable bool   `json:"installable,omitempty"`
	What        string `json:"what,omitempty"`
	// Locked says that it wants a key before it can be spoken with.
	Locked bool `json:"locked,omitempty"`
	// Offers are the titles of what it can do.
	Offers      []string `json:"offers"`
	CanIdentify bool     `json:"canIdentify,omitempty" doc:"It can be asked to blink or click."`
	// Reads is what it was last heard to read, in words, while it is not in the home.
	Reads []FoundReading `json:"reads" doc:"What it was last heard to read; empty once it is in the home."`
	// Signal is how well its gateway hears it, in percent.
	Signal *float64 `json:"signal,omitempty" doc:"How well its gateway hears it, in percent; absent where it does not say."`
	// Heard is when it was last heard, while it is not in the home.
	Heard time.Time `json:"heard,omitzero" doc:"When it was last heard; absent where it was not yet, and once it is in the home."`
	// Reacted is when it last did something that was not asked for: operated by hand, it shows which it is.
	Reacted time.Time `json:"reacted,omitzero"`
	// Candidates are devices that fell silent, whose place it may take.
	Candidates []Candidate `json:"candidates,omitempty"`
	// Former is the device that it was before that was removed.
	Former *Former `json:"former,omitempty" doc:"The device of the home that it was before it was removed."`
	// Device is its id when it is in the home already.
	Device string `json:"device,omitempty"`
}

// FoundReading is what a property of a found device was last heard to be at.
type FoundReading struct {
	Title string `json:"title"`
	Text  string `json:"text"`
	role  thing.Role
}

// upkeep are the roles of what is read last of a device: how it is set up, then how it is doing.
var upkeep = map[thing.Role]int{thing.RoleOption: 1, thing.RoleLeastLevel: 1, thing.RoleHandler: 1, thing.RoleBattery: 2}

// FoundBridge is a bridge, or a transceiver, that answers at an address.
type FoundBridge struct {
	Kind       docs.ConnectionKind `json:"kind"`
	Pairs      bool                `json:"pairs,omitempty" doc:"It is paired with by its button; else it is just connected to."`
	Address    string              `json:"address"`
	Serial     string              `json:"serial"`
	Title      string              `json:"title"`
	Firmware   string              `json:"firmware,omitempty"`
	Connection string              `json:"connection,omitempty" doc:"Set when it is paired."`
}

// Found is all that announced itself.
type Found struct {
	Bridges []FoundBridge `json:"bridges"`
	Devices []FoundDevice `json:"devices"`
}

// Found returns all that announced itself, what is not in the home yet first.
func (h *Hub) Found(ctx context.Context) (f Found, err error) {
	f = Found{Bridges: []FoundBridge{}, Devices: []FoundDevice{}}
	err = h.do(ctx, func() {
		for _, b := range h.bridges {
			f.Bridges = append(f.Bridges, h.bridgeView(b))
		}
		for _, id := range sortedKeys(h.links) {
			l := h.links[id]
			for _, a := range l.Announcements() {
				f.Devices = append(f.Devices, h.foundDevice(l, a))
			}
		}
	})
	slices.SortStableFunc(f.Devices, func(a, b FoundDevice) int {
		if (a.Device == "") != (b.Device == "") {
			if a.Device == "" {
				return -1
			}
			return 1
		}
		return strings.Compare(a.Maker+a.Label, b.Maker+b.Label)
	})
	return f, err
}

// bridgeView runs in the loop.
func (h *Hub) bridgeView(b FoundBridge) FoundBridge {
	b.Connection = h.pairedWith(b.Serial)
	return b
}

func (h *Hub) pairedWith(serial string) string {
	for id, c := range h.definitions.Connections {
		if serial != "" && c.Doc.Serial == serial {
			return id
		}
	}
	return ""
}

func (h *Hub) foundDevice(l *links.Link, a connect.Announcement) FoundDevice {
	f := FoundDevice{
		Connection: l.ID,
		Hardware:   a.Hardware,
		Address:    a.Address,
		Maker:      a.Maker,
		Model:      a.Model,
		Label:      a.Label,
		RoomHint:   a.Room,
		Groups:     a.Groups,
		Gateway:    a.Gateway,
		Locked:     a.Locked,
		Since:      l.SeenSince(a.Hardware),
		Reacted:    l.ReactedAt(a.Hardware),
		Candidates: h.candidates(l, a),
		Offers:     []string{},
		Reads:      []FoundReading{},
		Device:     l.Device(a.Hardware),
	}
	if f.Device == "" {
		f.Heard = l.HeardAt(a.Hardware)
		f.Former = h.formerly(l.ID, a.Hardware)
	}
	if a.Profile == nil {
		_, f.Installable = h.catalogue.Shipped(a.Model)
	}
	if a.Profile != nil {
		f.CanIdentify = a.Profile.Description.Action(string(thing.RoleIdentify)) != nil
		f.Profile, f.What = a.Profile.Title, a.Profile.What
		for _, p := range a.Profile.Description.Properties {
			f.Offers = append(f.Offers, p.Title)
			said := l.Said(a.Hardware, p.Name)
			switch {
			case said.IsNone() || f.Device != "":
			case p.Role == thing.RoleReception:
				f.Signal = &said.Number
			default:
				f.Reads = append(f.Reads, FoundReading{p.Title, p.Say(said), p.Role})
			}
		}
		// What it is for tells it from others; how it is set up and its battery do so last.
		slices.SortStableFunc(f.Reads, func(a, b FoundReading) int { return cmp.Compare(upkeep[a.role], upkeep[b.role]) })
		for _, e := range a.Profile.Description.Events {
			f.Offers = append(f.Offers, e.Title)
		}
	}
	return f
}

// IdentifyFound asks a found device to show itself.
func (h *Hub) IdentifyFound(ctx context.Context, connection, hardware string) error {
	var l *links.Link
	var found connect.Announcement
	var err error
	if failed := h.do(ctx, func() {
		l = h.links[connection]
		found, err = h.announcement("hardware", Adding{Connection: connection, Hardware: hardware})
	}); failed != nil {
		return failed
	}
	if err != nil {
		return err
	}
	if outcome := l.Connection.Invoke(ctx, found.Address, string(thing.RoleIdentify), nil); !outcome.OK {
		return &ConflictError{outcome.Reason}
	}
	return nil
}
