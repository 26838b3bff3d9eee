package mqtt

import (
	"crypto/subtle"
	"fmt"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	mochi "github.com/mochi-mqtt/server/v2"
	"github.com/mochi-mqtt/server/v2/packets"
)

// guard admits known clients to their own topics, and nobody else anywhere. What it refuses it remembers, for the owner
// to see at the client.
type guard struct {
	mochi.HookBase
	server *mochi.Server
	// overhears is told what others publish, nil while nobody wants to know.
	overhears atomic.Pointer[func(topic string, payload []byte)]

	mu       sync.RWMutex
	clients  map[string]Client
	standing map[string]*Standing
	retained map[string]kept // by topic
	bytes    int             // of all that is retained
}

// kept is a message that is retained.
type kept struct {
	by    string
	bytes int
}

func newGuard(server *mochi.Server) *guard {
	return &guard{server: server, clients: map[string]Client{}, standing: map[string]*Standing{}, retained: map[string]kept{}}
}

func (g *guard) ID() string { return "guard" }

func (g *guard) Provides(b byte) bool {
	switch b {
	case mochi.OnConnectAuthenticate, mochi.OnACLCheck, mochi.OnSubscribed, mochi.OnPublish, mochi.OnWill, mochi.OnPublishDropped:
		return true
	}
	return false
}

func (g *guard) allow(c Client) {
	g.mu.Lock()
	g.clients[c.Name] = c
	g.mu.Unlock()
	for _, session := range g.sessions(c.Name) {
		for filter := range session.State.Subscriptions.GetAll() {
			if !permits(c.Subscribe, filter) && g.server.Topics.Unsubscribe(filter, session.ID) {
				session.State.Subscriptions.Delete(filter)
				atomic.AddInt64(&g.server.Info.Subscriptions, -1)
			}
		}
	}
}

func (g *guard) forbid(name string) {
	g.mu.Lock()
	delete(g.clients, name)
	delete(g.standing, name)
	g.mu.Unlock()
	for _, session := range g.sessions(name) {
		g.end(session)
	}
}

// end ends a session for good, without its will.
func (g *guard) end(session *mochi.Client) {
	atomic.StoreUint32(&session.Properties.Will.Flag, 0)
	if !session.Closed() {
		_ = g.server.DisconnectClient(session, packets.ErrNotAuthorized)
	}
	session.ClearInflights()
	g.server.UnsubscribeClient(session)
	g.server.Clients.Delete(session.ID)
}

// sessions are those of a client, also those that wait for it to come back.
func (g *guard) sessions(name string) (list []*mochi.Client) {
	for _, c := range g.server.Clients.GetAll() {
		if !c.Net.Inline && string(c.Properties.Username) == name {
			list = append(list, c)
		}
	}
	return list
}

// refuse remembers that something was refused to a client; "" is whoever has no right to join.
func (g *guard) refuse(name, format string, args ...any) {
	g.mu.Lock()
	defer g.mu.Unlock()
	s := g.of(name)
	s.Refused++
	s.Why, s.At = fmt.Sprintf(format, args...), time.Now()
}

// of returns how a client stands; g.mu is held.
func (g *guard) of(name string) *Standing {
	if _, known := g.clients[name]; !known {
		name = ""
	}
	s := g.standing[name]
	if s == nil {
		s = &Standing{}
		g.standing[name] = s
	}
	return s
}

func (g *guard) standings() map[string]Standing {
	g.mu.RLock()
	defer g.mu.RUnlock()
	all := map[string]Standing{}
	for name, s := range g.standing {
		all[name] = *s
	}
	for _, c := range g.server.Clients.GetAll() {
		if name := string(c.Properties.Username); !c.Net.Inline && !c.Closed() {
			s := all[name]
			s.Connected++
			all[name] = s
		}
	}
	return all
}

func (g *guard) client(name string) (Client, bool) {
	g.mu.RLock()
	defer g.mu.RUnlock()
	c, known := g.clients[name]
	return c, known
}

// OnConnectAuthenticate admits a client with its key. Its session is its own whatever id it gives, so that nobody
// throws another out of a session, or reads what waits in one; and a will is a message that it must have a right to.
func (g *guard) OnConnectAuthenticate(client *mochi.Client, p packets.Packet) bool {
	name := string(p.Connect.Username)
	c, known := g.client(name)
	if !known || c.Key == "" || subtle.ConstantTimeCompare([]byte(c.Key), p.Connect.Password) != 1 {
		who := shorten(name)
		if known {
			g.refuse(name, "its key was wrong")
		} else {
			g.refuse("", "“%s” has no key here", who)
		}
		return false
	}
	if will := client.Properties.Will; p.Connect.WillFlag {
		if strings.ContainsAny(will.TopicName, "+#") || !permits(c.Publish, will.TopicName) {
			g.refuse(name, "its will goes to %s, where it may not publish", shorten(will.TopicName))
			return false
		}
		client.Properties.Will.WillDelayInterval = 0 // what is sent later would be sent whatever its rights are then
	}
	for _, other := range g.server.Clients.GetAll() {
		if owner, id, _ := strings.Cut(other.ID, ownerEnd); owner != name && id == client.ID && !other.Net.Inline {
			g.refuse(name, "it asked for the session “%s” of another client, and got one of its own", shorten(client.ID))
			break
		}
	}
	client.ID = name + ownerEnd + client.ID
	return g.room(name, client.ID)
}

// ownerEnd stands between the name of a client and the id of its session. No name has it.
const ownerEnd = "\x1f"

// room makes room for one more session of a client; it is false where there is none.
func (g *guard) room(name, id string) bool {
	sessions := g.sessions(name)
	if slices.ContainsFunc(sessions, func(c *mochi.Client) bool { return c.ID == id }) {
		return true // taken over
	}
	if len(sessions) < MaximumSessions {
		return true
	}
	for _, waiting := range sessions {
		if waiting.Closed() {
			g.end(waiting)
			return true
		}
	}
	g.refuse(name, "it has %d connections already", MaximumSessions)
	return false
}

// OnACLCheck says whether a client may publish to a topic or subscribe to a filter. It is asked for each message that is
// delivered, too.
func (g *guard) OnACLCheck(client *mochi.Client, topic string, write bool) bool {
	name := string(client.Properties.Username)
	c, _ := g.client(name)
	if !write {
		return permits(c.Subscribe, topic) && client.State.Subscriptions.Len() <= MaximumSubscriptions
	}
	if !permits(c.Publish, topic) {
		g.refuse(name, "it may not publish to %s", shorten(topic))
		return false
	}
	return true
}

// OnSubscribed remembers what was refused.
func (g *guard) OnSubscribed(client *mochi.Client, p packets.Packet, codes []byte) {
	for i, code := range codes {
		if code < packets.ErrUnspecifiedError.Code || i >= len(p.Filters) {
			continue
		}
		name := string(client.Properties.Username)
		if client.State.Subscriptions.Len() > MaximumSubscriptions {
			g.refuse(name, "it has more than %d subscriptions", MaximumSubscriptions)
		} else {
			g.refuse(name, "it may not subscribe to %s", shorten(p.Filters[i].Filter))
		}
	}
}

// OnPublish bounds what is retained, and tells what others publish to whoever wants to know.
func (g *guard) OnPublish(client *mochi.Client, p packets.Packet) (packets.Packet, error) {
	if err := g.retain(client, p); err != nil {
		return p, err
	}
	if hears := g.overhears.Load(); hears != nil && !client.Net.Inline {
		(*hears)(p.TopicName, p.Payload)
	}
	return p, nil
}

// retain counts what is to be retained; it is an error where that is too much.
func (g *guard) retain(client *mochi.Client, p packets.Packet) error {
	if !p.FixedHeader.Retain {
		return nil
	}
	name := string(client.Properties.Username)
	if client.Net.Inline {
		name = ""
	}
	size := len(p.TopicName) + len(p.Payload)
	g.mu.Lock()
	before := g.retained[p.TopicName]
	switch {
	case len(p.Payload) == 0:
		delete(g.retained, p.TopicName)
		g.bytes -= before.bytes
		g.mu.Unlock()
		return nil
	case g.bytes-before.bytes+size > MaximumRetainedBytes, name != "" && before.by != name && g.topicsOf(name) >= MaximumRetained:
		g.mu.Unlock()
		g.refuse(name, "too much is retained: %s was not", shorten(p.TopicName))
		if client.Properties.ProtocolVersion == 5 && p.FixedHeader.Qos > 0 {
			return packets.ErrQuotaExceeded
		}
		return packets.ErrRejectPacket
	}
	g.retained[p.TopicName] = kept{name, size}
	g.bytes += size - before.bytes
	g.mu.Unlock()
	return nil
}

// topicsOf counts the retained topics of a client; g.mu is held. It is asked only of topics that are new to it.
func (g *guard) topicsOf(name string) (count int) {
	for _, k := range g.retained {
		if k.by == name {
			count++
		}
	}
	return count
}

// OnWill holds a will back to which a client has no right any more.
func (g *guard) OnWill(client *mochi.Client, will mochi.Will) (mochi.Will, error) {
	name := string(client.Properties.Username)
	if c, known := g.client(name); known && permits(c.Publish, will.TopicName) {
		return will, nil
	}
	g.refuse(name, "its will goes to %s, where it may not publish", shorten(will.TopicName))
	return mochi.Will{TopicName: "$refused"}, nil // which nobody can subscribe to
}

// OnPublishDropped counts what a client does not read.
func (g *guard) OnPublishDropped(client *mochi.Client, _ packets.Packet) {
	g.mu.Lock()
	defer g.mu.Unlock()
	g.of(string(client.Properties.Username)).Dropped++
}

// shorten bounds what a stranger sends and an owner reads.
func shorten(s string) string {
	s = strings.ToValidUTF8(s, "?")
	if runes := []rune(s); len(runes) > 80 {
		s = string(runes[:80]) + "…"
	}
	return s
}

// permits reports whether any of the filters covers a topic or filter. What begins with $ is the broker's own (MQTT 5,
// 4.7.2), shared subscriptions among it, and only a filter that begins so, too, covers it.
func permits(filters []string, asked string) bool {
	return slices.ContainsFunc(filters, func(f string) bool {
		return strings.HasPrefix(asked, "$") == strings.HasPrefix(f, "$") && covers(f, asked)
	})
}

// covers reports whether every topic that the second filter matches is matched by the first.
func covers(filter, asked string) bool {
	have, filter, haveMore := strings.Cut(filter, "/")
	want, asked, wantMore := strings.Cut(asked, "/")
	switch {
	case have == "#":
		return true
	case want == "#", have != "+" && have != want:
		return false
	case haveMore && wantMore:
		return covers(filter, asked)
	case haveMore:
		return filter == "#" // which stands for the topic above it, too
	default:
		return !wantMore
	}
}
