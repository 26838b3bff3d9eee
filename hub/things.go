package hub

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net"
	"strings"

	"amvek/connect"
	"amvek/connect/mqtt"
	"amvek/connect/webthing"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// description returns the Thing Description of a definition. It runs in the loop.
func (h *Hub) description(doc *docs.Thing) ([]byte, error) {
	if doc.Profile == "" {
		return doc.Document, nil
	}
	profile := h.definitions.Profiles[docs.ProfileID(doc.Profile)].Doc
	if profile == nil {
		return nil, fmt.Errorf("its profile %s is gone", doc.Profile)
	}
	return thing.Derive(profile.Document, doc.Hardware, doc.Title, map[string]string{thing.PlaceholderPlace: doc.Place})
}

// ThingCheck is what is to be said of a Thing Description before it is taken.
type ThingCheck struct {
	Problems []thing.DocumentProblem `json:"problems"`
	ID       string                  `json:"id,omitempty"`
	Title    string                  `json:"title,omitempty"`
	Offers   []string                `json:"offers"`
	// Unreachable is what it offers that cannot be used, and why.
	Unreachable []thing.Unreachable `json:"unreachable"`
	NeedsKey    bool                `json:"needsKey"`
	Messages    bool                `json:"messages,omitempty" doc:"It is reached over MQTT."`
	Broker      string              `json:"broker,omitempty" doc:"Host and port of the broker that it is reached over, where it names one."`
	Line        string              `json:"line,omitempty" doc:"Host and port of the line of TCP that it is reached by, where it has one."`
}

// things returns the connection to devices that describe themselves, nil where there is none.
func (h *Hub) things() *webthing.Things {
	for _, s := range h.standing {
		if t, is := s.Connection.(*webthing.Things); is {
			return t
		}
	}
	return nil
}

// CheckThing says what a Thing Description offers and what of it can be used.
func (h *Hub) CheckThing(document, source string) ThingCheck {
	check := ThingCheck{Problems: []thing.DocumentProblem{}, Offers: []string{}, Unreachable: []thing.Unreachable{}}
	d, err := thing.ParseDescription([]byte(document), source)
	var wrong *thing.ProblemsError
	if errors.As(err, &wrong) {
		check.Problems = wrong.Problems
		return check
	}
	check.ID, check.Title, check.NeedsKey, check.Messages = d.ID, d.Title, d.Security.Scheme != "nosec", d.Messages
	check.Broker, check.Line = d.Broker, d.At
	for _, p := range d.Model.Description.Properties {
		check.Offers = append(check.Offers, p.Title)
	}
	for _, e := range d.Model.Description.Events {
		check.Offers = append(check.Offers, e.Title)
	}
	for _, a := range d.Model.Description.Actions {
		check.Offers = append(check.Offers, a.Title)
	}
	check.Unreachable = append(check.Unreachable, d.Unreachable...)
	return check
}

// AddThing takes a Thing Description; its device appears among the found ones. One with forms for
// MQTT is taken to be reached over the hub's own broker.
func (h *Hub) AddThing(ctx context.Context, document, source string) (ThingCheck, error) {
	check := h.CheckThing(document, source)
	switch {
	case len(check.Problems) > 0:
		p := check.Problems[0]
		return check, Invalid(fmt.Sprintf("line %d, column %d", p.Line, p.Column), fmt.Sprintf("Line %d: %s", p.Line, p.Message))
	case len(check.Offers) == 0:
		reason := "it offers nothing"
		if len(check.Unreachable) > 0 {
			reason = fmt.Sprintf("%s: %s", check.Unreachable[0].Affordance, check.Unreachable[0].Reason)
		}
		return check, Invalid("document", "Nothing of this device can be reached: "+reason+".")
	}
	connection, err := h.connectionOf(ctx, check)
	if err != nil {
		return check, err
	}
	_, err = h.Save(
		ctx,
		New{
			Kind:     docs.KindThing,
			ID:       docs.ThingID(check.ID),
			Document: &docs.Thing{Title: check.Title, Source: source, Connection: connection, Hardware: check.ID, Document: json.RawMessage(document)},
		},
	)
	return check, err
}

// connectionOf returns by which connection a described device is reached: empty for HTTP. One that names a broker is reached over
// that and no other.
func (h *Hub) connectionOf(ctx context.Context, check ThingCheck) (id string, err error) {
	switch {
	case check.Line != "":
		return NetworkID, nil
	case !check.Messages:
		return "", nil
	}
	if check.Broker == "" || h.isOwnBroker(check.Broker) {
		return GatewaysID, nil
	}
	err = Invalid("document", fmt.Sprintf("It is reached over the broker at %s, which the hub does not know: add that under Connections first.", check.Broker))
	failed := h.do(ctx, func() {
		for _, key := range h.definitions.Connections.IDs() {
			if c := h.definitions.Connections[key].Doc; h.isBroker(key) && strings.EqualFold(c.Address, check.Broker) {
				id, err = key, nil
				return
			}
		}
	})
	return id, errors.Join(failed, err)
}

// isBroker reports whether a connection has topics. It runs in the loop.
func (h *Hub) isBroker(id string) bool {
	c := h.definitions.Connections[id].Doc
	return c != nil && c.Kind == mqtt.Kind
}

// isOwnBroker reports whether an address is that of the hub's own broker.
func (h *Hub) isOwnBroker(at string) bool {
	if h.broker == nil {
		return false
	}
	_, port, err := net.SplitHostPort(h.broker.Address())
	host, asked, failed := net.SplitHostPort(at)
	return err == nil && failed == nil && port == asked && (at == h.broker.Address() || connect.OwnHost(host))
}

// giveThings gives the connection all that the owner gave. It runs in the loop.
func (h *Hub) giveThings() {
	t := h.things()
	var all []webthing.Thing
	over := map[string]map[string]*thing.Described{}
	for _, id := range h.definitions.Things.IDs() {
		doc := h.definitions.Things[id].Doc
		text, source, err := h.revealThing(doc)
		var one webthing.Thing
		if err == nil {
			one, err = webthing.Describe(text, source)
		}
		if err != nil {
			h.log.Error("a Thing Description cannot be read and is left out", "title", doc.Title, "error", err)
			continue
		}
		if doc.Connection == "" {
			all = append(all, one)
			continue
		}
		if over[doc.Connection] == nil {
			over[doc.Connection] = map[string]*thing.Described{}
		}
		over[doc.Connection][one.Hardware] = one.Described
	}
	givers := map[string]connect.Giver{}
	for id, l := range h.links {
		if g, is := l.Connection.(connect.Giver); is {
			givers[id] = g
		}
	}
	// Not in the loop: the connections tell at once what they found. The newest counts, whichever comes first.
	turn := h.givingTurn.Add(1)
	h.workers.Go(func() {
		h.giving.Lock()
		defer h.giving.Unlock()
		if turn != h.givingTurn.Load() {
			return
		}
		for id, g := range givers {
			g.Give(over[id])
		}
		if t != nil {
			t.Give(all)
		}
	})
}

// thingKeys reads the keys of hosts whose things want one.
func (h *Hub) thingKeys(ctx context.Context) (map[string]webthing.Key, error) {
	keys := map[string]webthing.Key{}
	secret, err := h.store.Secret(ctx, secretName(ThingsID))
	if err != nil || secret == "" {
		return keys, err
	}
	return keys, json.Unmarshal([]byte(secret), &keys)
}

// UnlockThing tries a key with a described device and keeps it, encrypted, if it fits.
func (h *Hub) UnlockThing(ctx context.Context, hardware, user, password string) error {
	key := webthing.Key{User: user, Key: password}
	var t *webthing.Things
	if err := h.do(ctx, func() {
		for _, l := range h.links {
			if things, is := l.Connection.(*webthing.Things); is {
				if _, announced := l.Announced(hardware); t != nil && !announced {
					continue
				}
				t = things
			}
		}
	}); err != nil {
		return err
	}
	if t == nil {
		return Absent("There is no such device.")
	}
	host, err := t.Unlock(ctx, hardware, key)
	if err != nil {
		return Invalid("key", connect.Sentence(err))
	}
	return h.putThingKey(ctx, host, key)
}

// keepThingKey keeps the key of a host, encrypted, without trying it, and uses it.
func (h *Hub) keepThingKey(ctx context.Context, host string, key webthing.Key) error {
	if err := h.putThingKey(ctx, host, key); err != nil {
		return err
	}
	if t := h.things(); t != nil {
		t.UseKey(host, key)
	}
	return nil
}

func (h *Hub) putThingKey(ctx context.Context, host string, key webthing.Key) error {
	h.keying.Lock()
	defer h.keying.Unlock()
	keys, err := h.thingKeys(ctx)
	if err != nil {
		return err // those of the others would be written over
	}
	keys[host] = key
	data, err := json.Marshal(keys)
	if err != nil {
		return err
	}
	return h.store.PutSecret(ctx, secretName(ThingsID), string(data))
}
