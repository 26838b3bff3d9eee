package hub

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"

	"amvek/connect"
	"amvek/connect/bridge"
	"amvek/connect/mqtt"
	"amvek/connect/radio"
	"amvek/hub/docs"
)

// Look looks for devices by every way there is, for boxes at the known addresses and, if one is
// given, at another. It returns an error about the given address only.
func (h *Hub) Look(ctx context.Context, address string) error {
	addresses := slices.Clone(h.look)
	var searchers []connect.Searcher
	if err := h.do(ctx, func() {
		for _, b := range h.bridges {
			addresses = append(addresses, b.Address)
		}
		for _, id := range sortedKeys(h.links) {
			l := h.links[id]
			if searcher, able := l.connection.(connect.Searcher); able && l.running() {
				searchers = append(searchers, searcher)
			}
		}
	}); err != nil {
		return err
	}
	if address != "" {
		addresses = append(addresses, address)
	}
	slices.Sort(addresses)
	addresses = slices.Compact(addresses)

	var group sync.WaitGroup
	for _, s := range searchers {
		group.Go(func() { s.Search(ctx) })
	}
	found, wrong := make([]FoundBridge, len(addresses)), make([]error, len(addresses))
	for i, at := range addresses {
		group.Go(func() { found[i], wrong[i] = probe(ctx, at) })
	}
	group.Wait()

	var bridges []FoundBridge
	var about error
	for i, at := range addresses {
		switch {
		case wrong[i] == nil:
			bridges = append(bridges, found[i])
		case at == address:
			about = wrong[i]
		}
	}
	if err := h.do(ctx, func() {
		h.bridges = bridges
		h.touchFound()
	}); err != nil {
		return err
	}
	if err := h.follow(ctx, bridges); err != nil {
		return err
	}
	if about != nil {
		return Invalid("address", connect.Sentence(about))
	}
	return nil
}

// probe asks what kind of box answers at an address.
func probe(ctx context.Context, address string) (FoundBridge, error) {
	box, err := bridge.Probe(ctx, address)
	if err == nil {
		return FoundBridge{Kind: docs.LumbrookBridge, Address: address, Serial: box.Serial, Title: box.Label, Firmware: box.Firmware}, nil
	}
	transceiver, other := radio.Probe(ctx, address)
	if other == nil {
		return FoundBridge{Kind: docs.Transceiver, Address: address, Serial: transceiver.Serial, Title: "Haskett transceiver"}, nil
	}
	if errors.Is(other, radio.ErrNotATransceiver) && !errors.Is(err, bridge.ErrUnreachable) {
		return FoundBridge{}, errors.New("something answers at this address, but it is nothing that the hub knows how to speak with")
	}
	if errors.Is(err, bridge.ErrSlow) {
		return FoundBridge{}, err
	}
	return FoundBridge{}, fmt.Errorf("nothing answers at %s", address)
}

// follow gives connections the new address at which their box was found. One with a key is told of at the connection only.
func (h *Hub) follow(ctx context.Context, bridges []FoundBridge) error {
	moved := map[string]string{}
	if err := h.do(ctx, func() {
		for _, b := range bridges {
			id := h.pairedWith(b.Serial)
			if l := h.links[id]; l != nil && l.known && !l.up && l.definition.Address != b.Address {
				moved[id] = b.Address
			}
		}
	}); err != nil {
		return err
	}
	for _, id := range sortedKeys(moved) {
		address := moved[id]
		switch secret, err := h.store.Secret(ctx, secretName(id)); {
		case err != nil:
			return err
		case secret != "":
			if err := h.do(ctx, func() {
				if l := h.links[id]; l != nil {
					l.Fault(fmt.Sprintf("It was found at %s. Its key is not sent there by itself, since somebody else may listen: pair with it again.", address))
				}
			}); err != nil {
				return err
			}
			continue
		}
		if err := h.EditConnection(ctx, id, ConnectionEdit{Address: &address}); err != nil {
			return err
		}
	}
	return nil
}

// NewConnection is a way to devices to make.
type NewConnection struct {
	Kind    docs.ConnectionKind `json:"kind" enum:"transceiver,broker" doc:"Bridges are made by pairing."`
	Title   string              `json:"title,omitempty" maxLength:"80"`
	Address string              `json:"address" minLength:"1" maxLength:"255" doc:"Host and port."`
	// The rest is for brokers.
	User      string `json:"user,omitempty" maxLength:"200"`
	Password  string `json:"password,omitempty" maxLength:"500"`
	TLS       bool   `json:"tls,omitempty"`
	Authority string `json:"authority,omitempty" maxLength:"20000" doc:"A certificate (PEM) to trust besides the system's."`
}

// Connect makes a connection, once something of its kind has answered at the address.
func (h *Hub) Connect(ctx context.Context, n NewConnection) (string, error) {
	doc := &docs.Connection{Title: strings.TrimSpace(n.Title), Kind: n.Kind, Address: strings.TrimSpace(n.Address)}
	if n.Kind == docs.OtherBroker {
		return h.connectBroker(ctx, doc, n)
	}
	box, err := probe(ctx, doc.Address)
	switch {
	case err != nil:
		return "", Invalid("address", connect.Sentence(err))
	case box.Kind != n.Kind:
		return "", Invalid("address", "Something of another kind answers there: "+box.Title+".")
	}
	doc.Serial = box.Serial
	if doc.Title == "" {
		doc.Title = box.Title
	}
	var there string
	if err := h.do(ctx, func() { there = h.pairedWith(doc.Serial) }); err != nil {
		return "", err
	}
	if there != "" {
		return "", &ConflictError{"There is a connection to it already."}
	}
	id := docs.NewID(docs.KindConnection)
	if _, err := h.Save(ctx, New{Kind: docs.KindConnection, ID: id, Document: doc}); err != nil {
		return "", err
	}
	return id, h.do(ctx, func() {
		h.openConnection(id)
		h.touchFound()
	})
}

// connectBroker makes a connection to a broker elsewhere, once it has let the hub join.
func (h *Hub) connectBroker(ctx context.Context, doc *docs.Connection, n NewConnection) (string, error) {
	doc.User, doc.TLS, doc.Authority = strings.TrimSpace(n.User), n.TLS, n.Authority
	if doc.Title == "" {
		doc.Title = "Broker at " + doc.Address
	}
	if err := doc.Check(); err != nil {
		return "", Invalid("address", connect.Sentence(err))
	}
	if err := mqtt.TryJoin(ctx, external(*doc, n.Password)); err != nil {
		return "", Invalid("address", connect.Sentence(err))
	}
	id := docs.NewID(docs.KindConnection)
	if _, err := h.Commit(ctx, Together{Save: []New{{Kind: docs.KindConnection, ID: id, Document: doc}}, Secrets: map[string]string{secretName(id): n.Password}}); err != nil {
		return "", err
	}
	return id, h.do(ctx, func() {
		h.openConnection(id)
		h.giveThings()
		h.touchFound()
	})
}
