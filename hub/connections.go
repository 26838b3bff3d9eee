package hub

import (
	"context"
	"fmt"
	"strings"
	"time"

	"amvek/connect"
	"amvek/connect/webthing"
	"amvek/hub/docs"
	"amvek/hub/links"
)

// The ids of the standing connections.
const (
	GatewaysID = "gateways" // over the hub's own broker
	NetworkID  = "network"  // on the local network
	ThingsID   = "things"   // to devices that describe themselves
	PanelsID   = "panels"   // to tablets that were let in as panels
)

// Standing is a connection that is always there, though it may be paused.
type Standing struct {
	ID         string
	Definition docs.Connection
	Connection connect.Connection
	// Words say what kind of way it is.
	Words string
}

// connectionDefinition returns what the owner made of a connection, or how a standing one begins.
func (h *Hub) connectionDefinition(id string) docs.Connection {
	if c := h.definitions.Connections[id].Doc; c != nil {
		return *c
	}
	for _, s := range h.standing {
		if s.ID == id {
			return s.Definition
		}
	}
	return docs.Connection{}
}

// open makes the connection of a definition.
func (h *Hub) open(id string, c docs.Connection) (connect.Connection, error) {
	for _, s := range h.standing {
		if s.ID == id {
			return s.Connection, nil
		}
	}
	key, err := h.store.Secret(h.context, secretName(id))
	if err != nil {
		return nil, fmt.Errorf("its key cannot be read: %w", err)
	}
	driver := h.driver(c.Kind)
	if driver == nil {
		return nil, fmt.Errorf("connections of the kind %q are not known", c.Kind)
	}
	made := driver.Open(access(&c, key), h.catalogue.Find)
	if things, is := made.(*webthing.Things); is {
		keys, err := h.thingKeys(h.context)
		if err != nil {
			return nil, fmt.Errorf("the keys of its devices cannot be read: %w", err)
		}
		things.Keys(keys)
	}
	return made, nil
}

// driver returns the driver of a kind of connection, nil where there is none.
func (h *Hub) driver(kind docs.ConnectionKind) *connect.Driver {
	for i := range h.drivers {
		if h.drivers[i].Kind == string(kind) {
			return &h.drivers[i]
		}
	}
	return nil
}

// access is how what a connection leads to is reached.
func access(c *docs.Connection, key string) connect.Access {
	return connect.Access{Address: c.Address, User: c.User, Key: key, Serial: c.Serial, TLS: c.TLS, Authority: c.Authority}
}

// kindWords say what kind of way a connection is.
func (h *Hub) kindWords(id string, kind docs.ConnectionKind) string {
	for _, s := range h.standing {
		if s.ID == id {
			return s.Words
		}
	}
	if d := h.driver(kind); d != nil {
		return d.Words
	}
	return string(kind)
}

func secretName(connection string) string { return "connection/" + connection }

func (h *Hub) isStanding(id string) bool {
	for _, s := range h.standing {
		if s.ID == id {
			return true
		}
	}
	return false
}

// connectionView returns a connection as it stands. It runs in the loop.
func (h *Hub) connectionView(l *links.Link) links.ConnectionView {
	v := l.View()
	v.Revision, v.Standing, v.What = h.definitions.Connections[l.ID].Revision, h.isStanding(l.ID), h.kindWords(l.ID, l.Definition.Kind)
	return v
}

// tellConnection tells how a connection stands; its devices may be reached now, or no longer.
func (h *Hub) tellConnection(l *links.Link) {
	for _, device := range l.Devices() {
		h.attend(device)
		h.touch(docs.KindDevice, device)
	}
	h.touch(docs.KindConnection, l.ID)
}

// Connections returns all connections, those that are always there first.
func (h *Hub) Connections(ctx context.Context) (views []links.ConnectionView, err error) {
	err = h.do(ctx, func() {
		var made []links.ConnectionView
		for _, id := range sortedKeys(h.links) {
			if h.isStanding(id) {
				views = append(views, h.connectionView(h.links[id]))
				continue
			}
			made = append(made, h.connectionView(h.links[id]))
		}
		views = append(views, made...)
	})
	return views, err
}

// ConnectionEdit is what the owner may change about a connection; what is nil stays.
type ConnectionEdit struct {
	Title   *string `json:"title,omitempty" minLength:"1" maxLength:"80"`
	Address *string `json:"address,omitempty" maxLength:"255"`
	Paused  *bool   `json:"paused,omitempty"`
	User    *string `json:"user,omitempty" maxLength:"200"`
	Secret  *string `json:"secret,omitempty" maxLength:"500" doc:"A new key or password; it is never shown again."`
}

// EditConnection changes a connection and sets it going anew.
func (h *Hub) EditConnection(ctx context.Context, id string, edit ConnectionEdit) error {
	var doc docs.Connection
	var there bool
	if err := h.do(ctx, func() { doc, there = h.connectionDefinition(id), h.links[id] != nil }); err != nil {
		return err
	}
	if !there {
		return Absent("There is no such connection.")
	}
	before := doc.Address
	if edit.Title != nil {
		doc.Title = *edit.Title
	}
	if edit.Address != nil {
		if h.isStanding(id) {
			return Invalid("address", "This connection has no address of its own.")
		}
		doc.Address = strings.TrimSpace(*edit.Address)
		if driver := h.driver(doc.Kind); driver != nil && doc.Address != "" {
			if err := checkAddress(driver, doc.Address); err != nil {
				return err
			}
		}
	}
	if edit.User != nil {
		doc.User = strings.TrimSpace(*edit.User)
	}
	if edit.Paused != nil {
		doc.Paused = *edit.Paused
	}
	if err := placed(wellFormed(docs.KindConnection, &doc)); err != nil {
		return err
	}
	change := Together{Save: []New{{Kind: docs.KindConnection, ID: id, Document: &doc}}}
	switch secret, err := h.store.Secret(ctx, secretName(id)); {
	case edit.Secret != nil && *edit.Secret != "":
		change.Secrets = map[string]string{secretName(id): *edit.Secret}
	case err == nil && secret != "" && doc.Address != before:
		return Invalid("secret", "At another address somebody else may listen: enter the key or password again.")
	}
	if _, err := h.Commit(ctx, change); err != nil {
		return err
	}
	return h.do(ctx, func() {
		h.openConnection(id)
		h.giveThings()
		h.touchFound()
	})
}

// TestResult is what came of testing a connection.
type TestResult struct {
	OK           bool    `json:"ok"`
	Reason       string  `json:"reason,omitempty"`
	Milliseconds float64 `json:"milliseconds"`
}

// TestConnection proves in one go whether the way is open.
func (h *Hub) TestConnection(ctx context.Context, id string) (TestResult, error) {
	var l *links.Link
	if err := h.do(ctx, func() { l = h.links[id] }); err != nil {
		return TestResult{}, err
	}
	switch {
	case l == nil:
		return TestResult{}, Absent("There is no such connection.")
	case l.Connection == nil:
		_, reason := l.Down()
		return TestResult{Reason: reason}, nil
	}
	tester, able := l.Connection.(connect.Tester)
	if !able || !l.Running() {
		return TestResult{Reason: "A paused connection cannot be tested."}, nil
	}
	began := time.Now()
	err := tester.Test(ctx)
	result := TestResult{OK: err == nil, Milliseconds: float64(time.Since(began).Microseconds()) / 1000}
	if err != nil {
		result.Reason = connect.Sentence(err)
	}
	return result, nil
}

// LongestJoin is the longest time for which a gateway may be opened to new devices.
const LongestJoin = 3 * time.Minute

// Join opens a radio gateway to new devices for a time, after which it shuts by itself; 0 shuts it now.
func (h *Hub) Join(ctx context.Context, connection, gateway string, last time.Duration) error {
	var err error
	var joiner connect.Joiner
	if failed := h.do(ctx, func() {
		l := h.links[connection]
		if l == nil {
			err = Absent("There is no such connection.")
			return
		}
		known := l.HasGateway(gateway)
		able := false
		joiner, able = l.Connection.(connect.Joiner)
		switch {
		case !known || !able:
			err = Absent("There is no such gateway.")
		case last < 0 || last > LongestJoin:
			err = Invalid("seconds", fmt.Sprintf("A gateway may be open for up to %d seconds.", int(LongestJoin.Seconds())))
		}
	}); failed != nil {
		return failed
	}
	if err != nil {
		return err
	}
	return joiner.Join(ctx, gateway, last)
}

// RemoveConnection takes a connection and its key away. Devices that use it go with it only if the
// owner says so.
func (h *Hub) RemoveConnection(ctx context.Context, id string, withDevices bool) error {
	if h.isStanding(id) {
		return &ConflictError{"This connection belongs to the hub and cannot be removed; it can be paused."}
	}
	var users []string
	if err := h.do(ctx, func() {
		for _, device := range h.definitions.Devices.IDs() {
			if h.definitions.Devices[device].Doc.Connection == id {
				users = append(users, device)
			}
		}
	}); err != nil {
		return err
	}
	if len(users) > 0 && !withDevices {
		return &ConflictError{fmt.Sprintf("%d devices in the home use this connection; remove them first.", len(users))}
	}
	change := Together{Secrets: map[string]string{secretName(id): ""}}
	for _, device := range users {
		change.Remove = append(change.Remove, Gone{docs.KindDevice, device})
	}
	change.Remove = append(change.Remove, Gone{docs.KindConnection, id})
	_, err := h.Commit(ctx, change)
	return err
}

func values[T any](m map[string]T) []T {
	list := make([]T, 0, len(m))
	for _, key := range sortedKeys(m) {
		list = append(list, m[key])
	}
	return list
}
