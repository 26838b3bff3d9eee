package hub

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"amvek/connect"
	"amvek/connect/bridge"
	"amvek/core/home"
	"amvek/core/thing"
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
	Profile    string `json:"profile,omitempty" doc:"Title of its profile; absent when none fits the model."`
	What       string `json:"what,omitempty"`
	// Offers are the titles of what it can do.
	Offers []string `json:"offers"`
	// Device is its id when it is in the home already.
	Device string `json:"device,omitempty"`
}

// FoundBridge is a bridge that answers at an address.
type FoundBridge struct {
	Address    string `json:"address"`
	Serial     string `json:"serial"`
	Title      string `json:"title"`
	Firmware   string `json:"firmware"`
	Connection string `json:"connection,omitempty" doc:"Set when it is paired."`
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
			b.Connection = h.pairedWith(b.Serial)
			f.Bridges = append(f.Bridges, b)
		}
		for _, id := range sortedKeys(h.links) {
			l := h.links[id]
			for _, a := range l.found {
				f.Devices = append(f.Devices, l.foundDevice(a))
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

func (h *Hub) pairedWith(serial string) string {
	for id, c := range h.definitions.connections {
		if c.doc.Serial == serial {
			return id
		}
	}
	return ""
}

func (l *link) foundDevice(a connect.Announcement) FoundDevice {
	f := FoundDevice{Connection: l.id, Hardware: a.Hardware, Address: a.Address, Maker: a.Maker, Model: a.Model, Label: a.Label, RoomHint: a.Room, Offers: []string{}, Device: l.device(a.Hardware)}
	if a.Profile != nil {
		f.Profile, f.What = a.Profile.Title, a.Profile.What
		for _, p := range a.Profile.Description.Properties {
			f.Offers = append(f.Offers, p.Title)
		}
		for _, e := range a.Profile.Description.Events {
			f.Offers = append(f.Offers, e.Title)
		}
	}
	return f
}

// Look looks for bridges at the known addresses and, if one is given, at another. It returns
// an error about the given address only.
func (h *Hub) Look(ctx context.Context, address string) error {
	addresses := slices.Clone(h.look)
	if err := h.do(ctx, func() {
		for _, b := range h.bridges {
			if !slices.Contains(addresses, b.Address) {
				addresses = append(addresses, b.Address)
			}
		}
	}); err != nil {
		return err
	}
	var about error
	if address != "" {
		if !slices.Contains(addresses, address) {
			addresses = append(addresses, address)
		}
	}
	var bridges []FoundBridge
	for _, at := range addresses {
		found, err := bridge.Probe(ctx, at)
		if at == address {
			about = err
		}
		if err != nil {
			continue
		}
		bridges = append(bridges, FoundBridge{Address: at, Serial: found.Serial, Title: found.Label, Firmware: found.Firmware})
	}
	if err := h.do(ctx, func() {
		h.bridges = bridges
		h.Feed.Publish(Message{Kind: "found"})
	}); err != nil {
		return err
	}
	if about != nil {
		return Invalid("address", sentence(about))
	}
	return nil
}

func sentence(err error) string {
	words := err.Error()
	return strings.ToUpper(words[:1]) + words[1:] + "."
}

// PairingState says where pairing with a bridge stands.
type PairingState string

// The steps of pairing.
const (
	PairingWaiting  PairingState = "waiting"  // for the button
	PairingTesting  PairingState = "testing"  // the key came; it is tried
	PairingDone     PairingState = "done"     // the key works
	PairingFailed   PairingState = "failed"   // see Reason
	PairingCanceled PairingState = "canceled" // by the owner
)

// PairingTime is how long the hub waits for the button.
const PairingTime = 2 * time.Minute

const pairingInterval = 300 * time.Millisecond

// Pairing is one pairing with a bridge, from asking for its key to its first answer.
type Pairing struct {
	Address    string       `json:"address"`
	Title      string       `json:"title"`
	State      PairingState `json:"state" enum:"waiting,testing,done,failed,canceled"`
	Reason     string       `json:"reason,omitempty"`
	Devices    int          `json:"devices" doc:"How many it has, once tested."`
	Connection string       `json:"connection,omitempty"`
	// SecondsLeft is how long the hub still waits for the button, at the time of this message.
	SecondsLeft int `json:"secondsLeft"`
}

type pairing struct {
	view   Pairing
	serial string
	cancel context.CancelFunc
}

// Pair begins pairing with the bridge at an address. A pairing under way is canceled.
func (h *Hub) Pair(ctx context.Context, address string) (Pairing, error) {
	about, err := bridge.Probe(ctx, address)
	if err != nil {
		return Pairing{}, Invalid("address", sentence(err))
	}
	limited, cancel := context.WithTimeout(h.context, PairingTime)
	p := &pairing{serial: about.Serial, cancel: cancel, view: Pairing{Address: address, Title: about.Label, State: PairingWaiting, SecondsLeft: int(PairingTime.Seconds())}}
	view := p.view
	if err := h.do(ctx, func() {
		if h.pairing != nil {
			h.pairing.cancel()
		}
		h.pairing = p
		h.tellPairing(p)
	}); err != nil {
		cancel()
		return Pairing{}, err
	}
	h.workers.Go(func() {
		defer cancel()
		h.pair(limited, p)
	})
	return view, nil
}

func (h *Hub) tellPairing(p *pairing) {
	view := p.view
	h.Feed.Publish(Message{Kind: "pairing", Pairing: &view})
}

// Pairing returns the last pairing, nil when there was none since the start.
func (h *Hub) Pairing(ctx context.Context) (view *Pairing, err error) {
	err = h.do(ctx, func() {
		if h.pairing != nil {
			v := h.pairing.view
			view = &v
		}
	})
	return view, err
}

// CancelPairing ends waiting for a bridge's button.
func (h *Hub) CancelPairing(ctx context.Context) error {
	return h.do(ctx, func() {
		if h.pairing != nil && h.pairing.view.State == PairingWaiting {
			h.pairing.cancel()
			h.pairing.view.State = PairingCanceled
			h.tellPairing(h.pairing)
		}
	})
}

func (h *Hub) pair(ctx context.Context, p *pairing) {
	step := func(change func(v *Pairing)) {
		// The pairing's own context may be over; what it came to is told all the same.
		_ = h.do(h.context, func() {
			if p.view.State != PairingCanceled {
				change(&p.view)
				h.tellPairing(p)
			}
		})
	}
	fail := func(reason string) { step(func(v *Pairing) { v.State, v.Reason = PairingFailed, reason }) }
	ticker := time.NewTicker(pairingInterval)
	defer ticker.Stop()
	deadline, _ := ctx.Deadline()
	lastSecond := -1
	key := ""
	for key == "" {
		var err error
		key, err = bridge.RequestKey(ctx, p.view.Address)
		switch {
		case ctx.Err() != nil:
			if errors.Is(ctx.Err(), context.DeadlineExceeded) {
				fail("The button was not pressed in time.")
			}
			return
		case err != nil && !errors.Is(err, bridge.ErrNotPressed):
			fail(sentence(err))
			return
		case err == nil:
			continue
		}
		if left := int(time.Until(deadline).Seconds()); left != lastSecond {
			lastSecond = left
			step(func(v *Pairing) { v.SecondsLeft = left })
		}
		select {
		case <-ctx.Done():
		case <-ticker.C:
		}
	}
	step(func(v *Pairing) { v.State = PairingTesting })
	number, err := bridge.CountLamps(ctx, p.view.Address, key)
	if err != nil {
		fail(sentence(err))
		return
	}
	id, err := h.connected(ctx, p, key)
	if err != nil {
		fail("The connection could not be saved: " + err.Error())
		return
	}
	step(func(v *Pairing) { v.State, v.Devices, v.Connection = PairingDone, number, id })
}

// connected saves the connection to a bridge with its key, over an earlier one to the same bridge.
func (h *Hub) connected(ctx context.Context, p *pairing, key string) (string, error) {
	var id string
	if err := h.do(ctx, func() { id = h.pairedWith(p.serial) }); err != nil {
		return "", err
	}
	if id == "" {
		id = NewID(DefinitionConnection)
	}
	if err := h.store.PutSecret(ctx, secretName(id), key); err != nil {
		return "", err
	}
	doc := &Connection{Title: p.view.Title, Kind: KindLumbrookBridge, Address: p.view.Address, Serial: p.serial}
	if _, err := h.Save(ctx, New{Kind: DefinitionConnection, ID: id, Document: doc}); err != nil {
		return "", err
	}
	return id, h.do(ctx, func() { h.openConnection(id, doc) })
}

// Adding is a found device to take into the home.
type Adding struct {
	Connection string `json:"connection"`
	Hardware   string `json:"hardware"`
	Title      string `json:"title" doc:"Its name; empty takes the proposed one."`
	Room       string `json:"room,omitempty" doc:"Id of its room."`
}

// Proposal is a name proposed for a found device, and what it may be confused with.
type Proposal struct {
	Hardware string `json:"hardware"`
	Title    string `json:"title"`
	// Near is the name of another device that looks almost the same.
	Near string `json:"near,omitempty"`
}

// Propose returns names by the owner's pattern for the untitled, and warns of near-duplicates.
func (h *Hub) Propose(ctx context.Context, adding []Adding) (proposals []Proposal, err error) {
	failed := h.do(ctx, func() { proposals, err = h.propose(adding) })
	return proposals, errors.Join(failed, err)
}

func (h *Hub) propose(adding []Adding) ([]Proposal, error) {
	var names []string
	for _, id := range sortedKeys(h.definitions.devices) {
		names = append(names, h.definitions.devices[id].doc.Title)
	}
	proposals := make([]Proposal, 0, len(adding))
	for i, a := range adding {
		found, err := h.announcement(fmt.Sprintf("devices[%d]", i), a)
		if err != nil {
			return nil, err
		}
		title := strings.TrimSpace(a.Title)
		if title == "" {
			of := home.Naming{Maker: found.Maker, What: found.Profile.What}
			if room := h.definitions.rooms[a.Room].doc; room != nil {
				of.Room = room.Title
			}
			title = home.ProposeName(h.definitions.home.doc.NamePattern, of, func(name string) bool { return slices.Contains(names, name) })
		}
		proposal := Proposal{Hardware: a.Hardware, Title: title}
		if near, ok := home.NearDuplicate(title, names); ok {
			proposal.Near = near
		}
		names = append(names, title)
		proposals = append(proposals, proposal)
	}
	return proposals, nil
}

func (h *Hub) announcement(place string, a Adding) (connect.Announcement, error) {
	l := h.links[a.Connection]
	if l == nil {
		return connect.Announcement{}, Invalid(place, "The connection is gone.")
	}
	at := slices.IndexFunc(l.found, func(x connect.Announcement) bool { return x.Hardware == a.Hardware })
	switch {
	case at < 0:
		return connect.Announcement{}, Invalid(place, "The device is no longer announced.")
	case l.found[at].Profile == nil:
		return connect.Announcement{}, Invalid(place, fmt.Sprintf("No profile for the model %s is installed.", l.found[at].Model))
	}
	return l.found[at], nil
}

// Add takes found devices into the home, all or none, and returns their ids.
func (h *Hub) Add(ctx context.Context, adding []Adding) ([]string, error) {
	var all []New
	var err error
	failed := h.do(ctx, func() {
		var proposals []Proposal
		if proposals, err = h.propose(adding); err != nil {
			return
		}
		for i, a := range adding {
			found, _ := h.announcement("", a)
			if id := h.links[a.Connection].device(a.Hardware); id != "" {
				err = Invalid(fmt.Sprintf("devices[%d]", i), fmt.Sprintf("It is in the home already, as %s.", h.titles[id]))
				return
			}
			all = append(all, New{Kind: DefinitionDevice, ID: NewID(DefinitionDevice), Document: &home.Device{
				Title: proposals[i].Title, Room: a.Room, Connection: a.Connection, Address: found.Address, Hardware: a.Hardware,
				Maker: found.Maker, Model: found.Model, Description: cloneDescription(&found.Profile.Description),
			}})
		}
	})
	if err := errors.Join(failed, err); err != nil {
		return nil, err
	}
	if len(all) == 0 {
		return nil, Invalid("devices", "Choose at least one device.")
	}
	if _, err := h.SaveAll(ctx, all); err != nil {
		return nil, err
	}
	ids := make([]string, len(all))
	for i := range all {
		ids[i] = all[i].ID
	}
	return ids, h.do(ctx, func() {
		h.Feed.Publish(Message{Kind: "found"})
		added := map[string][]string{} // hardware by connection
		for _, a := range adding {
			added[a.Connection] = append(added[a.Connection], a.Hardware)
		}
		for connection, hardware := range added {
			h.recall(connection, hardware...)
		}
	})
}

func cloneDescription(d *thing.Description) thing.Description {
	return thing.Description{Properties: slices.Clone(d.Properties), Events: slices.Clone(d.Events), Actions: slices.Clone(d.Actions)}
}
