package hub

import (
	"cmp"
	"context"
	"crypto/rand"
	"encoding/json"
	"fmt"
	"net"
	"regexp"
	"slices"
	"strings"
	"time"

	"amvek/connect"
	"amvek/connect/mqtt"
	"amvek/hub/compose"
	"amvek/hub/links"
)

const brokerSecret = "clients of the broker"

// BrokerClient is who may join the hub's own broker, and what it may say and hear there.
type BrokerClient struct {
	Name string `json:"name" minLength:"1" maxLength:"60" doc:"The user name with which it joins."`
	// Publish and Subscribe are topic filters; what none allows is denied.
	Publish   []string `json:"publish" maxItems:"20"`
	Subscribe []string `json:"subscribe" maxItems:"20"`
}

type keptClient struct {
	BrokerClient
	Key string `json:"key"`
}

var clientName = regexp.MustCompile(`^[A-Za-z0-9._-]+$`)

// Check returns an error when the client could not join or its filters are none.
func (c *BrokerClient) Check() error {
	if !clientName.MatchString(c.Name) {
		return Invalid("name", "Use letters, digits, dots, hyphens and underlines.")
	}
	for place, filters := range map[string][]string{"publish": c.Publish, "subscribe": c.Subscribe} {
		for _, f := range filters {
			parts := strings.Split(f, "/")
			for i, part := range parts {
				whole := part == "+" || (part == "#" && i == len(parts)-1)
				if f == "" || (strings.ContainsAny(part, "+#") && !whole) {
					return Invalid(place, fmt.Sprintf("%q is no topic filter: + stands for one level, # for all at the end.", f))
				}
			}
		}
	}
	return nil
}

func (h *Hub) brokerClients(ctx context.Context) (map[string]keptClient, error) {
	clients := map[string]keptClient{}
	secret, err := h.store.Secret(ctx, brokerSecret)
	if err != nil || secret == "" {
		return clients, err
	}
	return clients, json.Unmarshal([]byte(secret), &clients)
}

// allowClients lets all join the broker that have a key.
func (h *Hub) allowClients(ctx context.Context) {
	if h.broker == nil {
		return
	}
	clients, err := h.brokerClients(ctx)
	if err != nil {
		h.log.Error("the keys of the broker's clients cannot be read", "error", err)
	}
	for _, c := range clients {
		h.broker.Allow(mqtt.Client{Name: c.Name, Key: c.Key, Publish: c.Publish, Subscribe: c.Subscribe})
	}
}

// BrokerAt is where the hub's own broker is joined.
type BrokerAt struct {
	Host string `json:"host" doc:"0.0.0.0 and :: are every address of the hub's machine."`
	Port string `json:"port"`
}

// Broker returns where the hub's own broker is joined.
func (h *Hub) Broker() (BrokerAt, error) {
	if h.broker == nil {
		return BrokerAt{}, Absent("This hub has no broker of its own.")
	}
	host, port, err := net.SplitHostPort(h.broker.Address())
	return BrokerAt{host, port}, err
}

// BrokerClientView is who may join the broker, and how it stands there.
type BrokerClientView struct {
	BrokerClient
	Connected int       `json:"connected" doc:"How many connections it has."`
	Refused   int       `json:"refused" doc:"How often something was refused to it since the hub started."`
	Why       string    `json:"why,omitempty" doc:"What was refused last."`
	RefusedAt time.Time `json:"refusedAt,omitzero" doc:"By the machine's clock."`
	Dropped   int       `json:"dropped" doc:"How many messages to it were dropped since it did not read them."`
}

func standing(c BrokerClient, s mqtt.Standing) BrokerClientView {
	return BrokerClientView{BrokerClient: c, Connected: s.Connected, Refused: s.Refused, Why: s.Why, RefusedAt: s.At, Dropped: s.Dropped}
}

// BrokerClients returns who may join the broker, and last, without a name, whoever tried to without a right to.
func (h *Hub) BrokerClients(ctx context.Context) ([]BrokerClientView, error) {
	list := []BrokerClientView{}
	clients, err := h.brokerClients(ctx)
	if err != nil || h.broker == nil {
		return list, err
	}
	stands := h.broker.Standing()
	for _, c := range values(clients) {
		list = append(list, standing(c.BrokerClient, stands[c.Name]))
	}
	if strangers := stands[""]; strangers.Refused > 0 {
		list = append(list, standing(BrokerClient{Publish: []string{}, Subscribe: []string{}}, strangers))
	}
	return list, nil
}

// AddBrokerClient lets a client join the broker and returns its key, this once.
func (h *Hub) AddBrokerClient(ctx context.Context, c BrokerClient) (string, error) {
	if h.broker == nil {
		return "", Absent("This hub has no broker of its own.")
	}
	if err := c.Check(); err != nil {
		return "", err
	}
	h.keying.Lock()
	defer h.keying.Unlock()
	clients, err := h.brokerClients(ctx)
	if err != nil {
		return "", err
	}
	if _, there := clients[c.Name]; there {
		return "", &ConflictError{"A client of that name has a key already."}
	}
	kept := keptClient{c, strings.ToLower(rand.Text())}
	clients[c.Name] = kept
	if err := h.putBrokerClients(ctx, clients); err != nil {
		return "", err
	}
	h.broker.Allow(mqtt.Client{Name: c.Name, Key: kept.Key, Publish: c.Publish, Subscribe: c.Subscribe})
	return kept.Key, nil
}

// RemoveBrokerClient takes a client's key away and ends its connection.
func (h *Hub) RemoveBrokerClient(ctx context.Context, name string) error {
	h.keying.Lock()
	defer h.keying.Unlock()
	clients, err := h.brokerClients(ctx)
	if err != nil {
		return err
	}
	if _, there := clients[name]; !there {
		return Absent("No client of that name has a key.")
	}
	delete(clients, name)
	if err := h.putBrokerClients(ctx, clients); err != nil {
		return err
	}
	h.broker.Forbid(name)
	return nil
}

func (h *Hub) putBrokerClients(ctx context.Context, clients map[string]keptClient) error {
	data, err := json.Marshal(clients)
	if err != nil {
		return err
	}
	return h.store.PutSecret(ctx, brokerSecret, string(data))
}

// Topic is a topic that was heard while the owner watches.
type Topic struct {
	Topic   string    `json:"topic"`
	Payload string    `json:"payload"`
	At      time.Time `json:"at" doc:"By the machine's clock where it was watched for, else by the hub's."`
	Count   int       `json:"count"`
	// Fields are the single values in the payload, with what each probably means.
	Fields []compose.Field `json:"fields"`
	// Fits are profiles made before that fit it.
	Fits []compose.Fitting `json:"fits"`
}

// over returns the connection over a broker.
func (h *Hub) over(ctx context.Context, id string) (*mqtt.Gateways, error) {
	var l *links.Link
	if err := h.do(ctx, func() { l = h.links[id] }); err != nil {
		return nil, err
	}
	if l == nil {
		return nil, Absent("There is no such connection.")
	}
	g, is := l.Connection.(*mqtt.Gateways)
	if !is {
		return nil, Invalid("id", "This connection has no topics.")
	}
	return g, nil
}

// mostTopics is how many topics are told at most.
const mostTopics = 1000

// Watch listens to all topics of a broker for some minutes and returns what was heard so far, and what came lately before.
func (h *Hub) Watch(ctx context.Context, id string) ([]Topic, error) {
	g, err := h.over(ctx, id)
	if err != nil {
		return nil, err
	}
	watched, err := g.Watch()
	if err != nil {
		return nil, &ConflictError{connect.Sentence(err)}
	}
	topics := make([]Topic, len(watched))
	there := map[string]bool{}
	for i, w := range watched {
		topics[i] = Topic{Topic: w.Topic, Payload: w.Payload, At: w.At, Count: w.Count, Fields: compose.FieldsOf(w.Payload)}
		there[w.Topic] = true
	}
	for _, a := range h.messages.Lately(id) {
		if !there[a.Place] && len(topics) < mostTopics {
			topics = append(topics, Topic{Topic: a.Place, Payload: a.Text, At: a.At, Count: a.Count, Fields: compose.FieldsOf(a.Text)})
		}
	}
	slices.SortFunc(topics, func(a, b Topic) int { return cmp.Compare(a.Topic, b.Topic) })
	return topics, h.do(ctx, func() {
		for i := range topics {
			topics[i].Fits = h.fitting(compose.Composed{Topic: topics[i].Topic}, topics[i].Fields)
		}
	})
}

// Say publishes a payload that the owner wants to try.
func (h *Hub) Say(ctx context.Context, id, topic, payload string) error {
	if topic == "" || strings.ContainsAny(topic, "+#") {
		return Invalid("topic", "A message goes to one topic, without + and #.")
	}
	g, err := h.over(ctx, id)
	if err != nil {
		return err
	}
	if err := g.Say(topic, payload); err != nil {
		return &ConflictError{connect.Sentence(err)}
	}
	return nil
}
