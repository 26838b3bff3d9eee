package hub

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"

	"amvek/connect"
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
			if searcher, able := l.Connection.(connect.Searcher); able && l.Running() {
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
		group.Go(func() { found[i], wrong[i] = h.probe(ctx, at) })
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

// boxBy is a box as a driver recognized it at an address.
func boxBy(d *connect.Driver, address string, box connect.Box) FoundBridge {
	return FoundBridge{
		Kind: docs.ConnectionKind(d.Kind), Pairs: d.Pair != nil,
		Address: address, Serial: box.Serial, Title: box.Title, Firmware: box.Firmware,
	}
}

// probePairing asks which box that is paired with answers at an address; where none does, the error is what its driver says of
// that.
func (h *Hub) probePairing(ctx context.Context, address string) (FoundBridge, error) {
	wrong := errors.New("the hub knows no box that is paired with")
	for i := range h.drivers {
		d := &h.drivers[i]
		if d.Pair == nil || d.Probe == nil {
			continue
		}
		box, err := d.Probe(ctx, address)
		if err == nil {
			return boxBy(d, address, box), nil
		}
		wrong = err
	}
	return FoundBridge{}, wrong
}

// probe asks what kind of box answers at an address.
func (h *Hub) probe(ctx context.Context, address string) (FoundBridge, error) {
	strange := false
	for i := range h.drivers {
		d := &h.drivers[i]
		if d.Probe == nil {
			continue
		}
		box, err := d.Probe(ctx, address)
		switch {
		case err == nil:
			return boxBy(d, address, box), nil
		case errors.Is(err, connect.ErrStranger):
			strange = true
		case !errors.Is(err, connect.ErrNobody):
			return FoundBridge{}, err
		}
	}
	if strange {
		return FoundBridge{}, connect.ErrStranger
	}
	return FoundBridge{}, fmt.Errorf("nothing answers at %s", address)
}

// follow gives connections the new address at which their box was found. One with a key is told of at the connection only.
func (h *Hub) follow(ctx context.Context, bridges []FoundBridge) error {
	moved := map[string]string{}
	if err := h.do(ctx, func() {
		for _, b := range bridges {
			id := h.pairedWith(b.Serial)
			if l := h.links[id]; l != nil && l.Definition.Address != b.Address && l.IsDown() {
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
	Kind    docs.ConnectionKind `json:"kind" minLength:"1" maxLength:"40" doc:"Of the hub's drivers: broker, transceiver, directory. A bridge is made by pairing."`
	Title   string              `json:"title,omitempty" maxLength:"80"`
	Address string              `json:"address" minLength:"1" maxLength:"500" doc:"Host and port; of a directory the whole address of its list."`
	// User and Password are what it wants to be shown; a directory wants a key, which is a password alone.
	User      string `json:"user,omitempty" maxLength:"200"`
	Password  string `json:"password,omitempty" maxLength:"500"`
	TLS       bool   `json:"tls,omitempty"`
	Authority string `json:"authority,omitempty" maxLength:"20000" doc:"A certificate (PEM) to trust besides the system's."`
}

// Connect makes a connection, once something of its kind has answered at the address.
func (h *Hub) Connect(ctx context.Context, n NewConnection) (string, error) {
	doc := &docs.Connection{
		Title: strings.TrimSpace(n.Title), Kind: n.Kind, Address: strings.TrimSpace(n.Address),
		User: strings.TrimSpace(n.User), TLS: n.TLS, Authority: n.Authority,
	}
	driver := h.driver(n.Kind)
	if driver == nil || driver.Pair != nil {
		return "", Invalid("kind", "There is no such kind of connection to make.")
	}
	var err error
	if driver.Probe != nil {
		err = h.recognize(ctx, doc)
	} else {
		err = h.tryOut(ctx, driver, doc, n.Password)
	}
	if err != nil {
		return "", err
	}
	id := docs.NewID(docs.KindConnection)
	if _, err := h.Commit(ctx, Together{
		Save:    []New{{Kind: docs.KindConnection, ID: id, Document: doc}},
		Secrets: map[string]string{secretName(id): n.Password},
	}); err != nil {
		return "", err
	}
	return id, h.do(ctx, func() {
		h.openConnection(id)
		h.giveThings()
		h.touchFound()
	})
}

// recognize asks which box answers at the address of a connection, and takes its name and number.
func (h *Hub) recognize(ctx context.Context, doc *docs.Connection) error {
	box, err := h.probe(ctx, doc.Address)
	switch {
	case err != nil:
		return Invalid("address", connect.Sentence(err))
	case box.Kind != doc.Kind:
		return Invalid("address", "Something of another kind answers there: "+box.Title+".")
	}
	doc.Serial, doc.Title = box.Serial, cmp.Or(doc.Title, box.Title)
	var there string
	if err := h.do(ctx, func() { there = h.pairedWith(doc.Serial) }); err != nil {
		return err
	}
	if there != "" {
		return &ConflictError{"There is a connection to it already."}
	}
	return nil
}

// checkAddress returns an error where an address is not of the kind that a driver wants.
func checkAddress(driver *connect.Driver, address string) error {
	switch whole := strings.HasPrefix(address, "http://") || strings.HasPrefix(address, "https://"); {
	case whole == driver.Whole:
		return nil
	case driver.Whole:
		return Invalid("address", "This is not an address that begins with http:// or https://.")
	}
	return Invalid("address", "This is not host and port, such as 192.168.1.20:1883.")
}

// tryOut proves that a connection can be opened.
func (h *Hub) tryOut(ctx context.Context, driver *connect.Driver, doc *docs.Connection, key string) error {
	named := doc.Title
	doc.Title = cmp.Or(named, doc.Address)
	if err := checkAddress(driver, doc.Address); err != nil {
		return err
	}
	if err := doc.Check(); err != nil {
		return placed(err)
	}
	var there string
	if err := h.do(ctx, func() {
		for id, c := range h.definitions.Connections {
			if driver.Whole && c.Doc.Kind == doc.Kind && c.Doc.Address == doc.Address {
				there = id
			}
		}
	}); err != nil {
		return err
	}
	if there != "" {
		return &ConflictError{"There is a connection to it already."}
	}
	title, err := driver.Try(ctx, access(doc, key))
	if err != nil {
		return Invalid("address", connect.Sentence(err))
	}
	doc.Title = cmp.Or(named, title)
	return nil
}
