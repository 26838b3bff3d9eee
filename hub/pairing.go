package hub

import (
	"context"
	"errors"
	"time"

	"amvek/connect"
	"amvek/hub/docs"
	"amvek/hub/show"
)

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
	kind   docs.ConnectionKind
	serial string
	cancel context.CancelFunc
}

// Pair begins pairing with the bridge at an address. A pairing under way is canceled.
func (h *Hub) Pair(ctx context.Context, address string) (Pairing, error) {
	box, err := h.probePairing(ctx, address)
	if err != nil {
		return Pairing{}, Invalid("address", connect.Sentence(err))
	}
	limited, cancel := context.WithTimeout(h.context, PairingTime)
	p := &pairing{
		kind:   box.Kind,
		serial: box.Serial,
		cancel: cancel,
		view:   Pairing{Address: address, Title: box.Title, State: PairingWaiting, SecondsLeft: int(PairingTime.Seconds())},
	}
	view := p.view
	if err := h.do(ctx, func() {
		if h.pairing != nil {
			h.pairing.cancel()
		}
		h.pairing = p
		h.tellPairing()
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

func (h *Hub) tellPairing() {
	h.shown.board.Touch(show.Key{Of: shownPairing})
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
			h.tellPairing()
		}
	})
}

func (h *Hub) pair(ctx context.Context, p *pairing) {
	step := func(change func(v *Pairing)) {
		// The pairing's own context may be over; what it came to is told all the same.
		_ = h.do(h.context, func() {
			if p.view.State != PairingCanceled {
				change(&p.view)
				h.tellPairing()
			}
		})
	}
	fail := func(reason string) { step(func(v *Pairing) { v.State, v.Reason = PairingFailed, reason }) }
	ticker := time.NewTicker(pairingInterval)
	defer ticker.Stop()
	deadline, _ := ctx.Deadline()
	box := h.driver(p.kind).Pair
	lastSecond := -1
	key := ""
	for key == "" {
		var err error
		key, err = box.RequestKey(ctx, p.view.Address)
		switch {
		case ctx.Err() != nil:
			if errors.Is(ctx.Err(), context.DeadlineExceeded) {
				fail("The button was not pressed in time.")
			}
			return
		case err != nil && !errors.Is(err, connect.ErrNotPressed):
			fail(connect.Sentence(err))
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
	number, err := box.Count(ctx, p.view.Address, key)
	if err != nil {
		fail(connect.Sentence(err))
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
		id = docs.NewID(docs.KindConnection)
	}
	doc := &docs.Connection{Title: p.view.Title, Kind: p.kind, Address: p.view.Address, Serial: p.serial}
	var before *docs.Connection
	if err := h.do(ctx, func() { before = h.definitions.Connections[id].Doc }); err != nil {
		return "", err
	}
	if before != nil {
		doc.Title = before.Title
	}
	if _, err := h.Commit(ctx, Together{
		Save:    []New{{Kind: docs.KindConnection, ID: id, Document: doc}},
		Secrets: map[string]string{secretName(id): key},
	}); err != nil {
		return "", err
	}
	return id, h.do(ctx, func() { h.openConnection(id) })
}
