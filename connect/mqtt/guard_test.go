package mqtt_test

import (
	"context"
	"fmt"
	"log/slog"
	"net"
	"net/url"
	"testing"
	"time"

	"github.com/eclipse/paho.golang/autopaho"
	"github.com/eclipse/paho.golang/paho"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect/mqtt"
)

// stranger is a client of the broker that tries things.
type stranger struct {
	*autopaho.ConnectionManager
	heard chan string
	left  chan struct{}
}

type joining struct {
	id      string
	will    string // the topic of its will
	expiry  uint32
	rebegin bool // clean start
}

func join(t *testing.T, b *mqtt.Broker, user, key string, j joining) (*stranger, error) {
	t.Helper()
	address, err := url.Parse("mqtt://" + b.Address())
	require.NoError(t, err)
	ctx, cancel := context.WithCancel(context.Background())
	s := &stranger{heard: make(chan string, 100), left: make(chan struct{}, 10)}
	refused := make(chan error, 16)
	config := autopaho.ClientConfig{
		ServerUrls: []*url.URL{
			address,
		}, KeepAlive: 20, ConnectUsername: user, ConnectPassword: []byte(key), SessionExpiryInterval: j.expiry, CleanStartOnInitialConnection: j.rebegin,
		ReconnectBackoff: func(attempt int) time.Duration { return time.Duration(min(attempt, 1)) * time.Hour },
		OnConnectError:   func(err error) { refused <- err },
		ClientConfig: paho.ClientConfig{ClientID: j.id,
			OnServerDisconnect: func(*paho.Disconnect) { s.left <- struct{}{} }, OnClientError: func(error) { s.left <- struct{}{} },
			OnPublishReceived: []func(paho.PublishReceived) (bool, error){func(p paho.PublishReceived) (bool, error) {
				s.heard <- p.Packet.Topic + " " + string(p.Packet.Payload)
				return true, nil
			}}},
	}
	if j.will != "" {
		config.WillMessage = &paho.WillMessage{Topic: j.will, Payload: []byte("from a will"), Retain: true}
	}
	s.ConnectionManager, err = autopaho.NewConnection(ctx, config)
	require.NoError(t, err)
	t.Cleanup(func() { cancel(); <-s.Done() })
	joined := make(chan error, 1)
	go func() { joined <- s.AwaitConnection(ctx) }()
	select {
	case err := <-joined:
		return s, err
	case err := <-refused:
		return s, err
	}
}

func (s *stranger) subscribe(t *testing.T, filter string) error {
	t.Helper()
	_, err := s.Subscribe(context.Background(), &paho.Subscribe{Subscriptions: []paho.SubscribeOptions{{Topic: filter, QoS: 1}}})
	return err
}

func (s *stranger) say(topic, payload string, retain bool) error {
	_, err := s.Publish(context.Background(), &paho.Publish{Topic: topic, Payload: []byte(payload), QoS: 1, Retain: retain})
	return err
}

func newBroker(t *testing.T) *mqtt.Broker {
	t.Helper()
	b, err := mqtt.Listen("127.0.0.1:0", slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	t.Cleanup(func() { _ = b.Close() })
	b.Allow(mqtt.Client{Name: "a", Key: "ka", Publish: []string{"a/#"}, Subscribe: []string{"a/#"}})
	b.Allow(mqtt.Client{Name: "b", Key: "kb", Publish: []string{"b/#"}, Subscribe: []string{"b/#"}})
	return b
}

func joined(t *testing.T, b *mqtt.Broker, user string, j joining) *stranger {
	t.Helper()
	s, err := join(t, b, user, "k"+user, j)
	require.NoError(t, err)
	return s
}

func TestAWillIsAMessageThatAClientMustHaveARightTo(t *testing.T) {
	b := newBroker(t)
	_, err := join(t, b, "a", "ka", joining{id: "x", will: "b/door"})
	require.Error(t, err)
	assert.Equal(t, "its will goes to b/door, where it may not publish", b.Standing()["a"].Why)
	_, err = join(t, b, "a", "ka", joining{id: "x", will: "a/#"})
	require.Error(t, err)

	listener := joined(t, b, "a", joining{id: "listener"})
	require.NoError(t, listener.subscribe(t, "a/#"))
	proper := joined(t, b, "a", joining{id: "x", will: "a/door"})
	assert.Equal(t, 2, b.Standing()["a"].Connected)
	proper.TerminateConnectionForTest()
	assert.Equal(t, "a/door from a will", <-listener.heard, "its own will it may have")
}

func TestAWillIsHeldBackOnceItsRightIsGone(t *testing.T) {
	b := newBroker(t)
	leaving := joined(t, b, "a", joining{id: "x", will: "a/door"})
	b.Allow(mqtt.Client{Name: "a", Key: "ka", Publish: []string{"a/lamp"}, Subscribe: []string{"a/#"}})
	listener := joined(t, b, "a", joining{id: "listener"})
	require.NoError(t, listener.subscribe(t, "a/#"))
	leaving.TerminateConnectionForTest()
	require.Eventually(t, func() bool { return b.Standing()["a"].Refused >= 1 }, 5*time.Second, time.Millisecond)
	require.NoError(t, b.Publish("a/end", []byte("x"), false))
	assert.Equal(t, "a/end x", <-listener.heard, "nothing came before it")

	b.Forbid("a")
	<-listener.left
	_, err := join(t, b, "a", "ka", joining{id: "x"})
	assert.Error(t, err)
}

func TestNobodyTakesASessionOfAnother(t *testing.T) {
	b := newBroker(t)
	owner := joined(t, b, "a", joining{id: "weather", expiry: 600})
	require.NoError(t, owner.subscribe(t, "a/#"))
	thief := joined(t, b, "b", joining{id: "weather", expiry: 600})
	assert.Equal(t, "it asked for the session “weather” of another client, and got one of its own", b.Standing()["b"].Why)
	require.NoError(t, b.Publish("a/lamp", []byte("on"), false))
	assert.Equal(t, "a/lamp on", <-owner.heard, "the owner stays")

	// What waits in a session is for its owner alone.
	require.NoError(t, owner.Disconnect(context.Background()))
	require.NoError(t, thief.Disconnect(context.Background()))
	waiting := joined(t, b, "a", joining{id: "other"})
	require.NoError(t, waiting.say("a/secret", "told", false))
	again := joined(t, b, "b", joining{id: "weather", expiry: 600})
	require.NoError(t, again.subscribe(t, "b/#"))
	require.NoError(t, again.say("b/end", "x", false))
	assert.Equal(t, "b/end x", <-again.heard, "nothing of another came before it")
	back := joined(t, b, "a", joining{id: "weather", expiry: 600})
	assert.Equal(t, "a/secret told", <-back.heard)
}

func TestTheBrokersOwnTopicsAndSharedSubscriptionsAreNobodys(t *testing.T) {
	b := newBroker(t)
	b.Allow(mqtt.Client{Name: "all", Key: "kall", Publish: []string{"#"}, Subscribe: []string{"#"}})
	s := joined(t, b, "all", joining{id: "x"})
	for _, filter := range []string{"$SYS/#", "$share/group/a/#", "$SYS/broker/uptime"} {
		assert.Error(t, s.subscribe(t, filter), filter)
		assert.Equal(t, "it may not subscribe to "+filter, b.Standing()["all"].Why)
	}
	require.NoError(t, s.subscribe(t, "#"))
	_, err := s.Publish(context.Background(), &paho.Publish{Topic: "$SYS/broker/uptime", Payload: []byte("1")})
	require.NoError(t, err, "nothing comes of it")
	other := joined(t, b, "a", joining{id: "y"})
	assert.Error(t, other.say("b/lamp", "on", false))
	assert.Equal(t, "it may not publish to b/lamp", b.Standing()["a"].Why)
	require.NoError(t, other.say("a/end", "x", false))
	assert.Equal(t, "a/end x", <-s.heard, "nothing came before it")
}

func TestNarrowedRightsEndWhatWasSubscribed(t *testing.T) {
	b := newBroker(t)
	s := joined(t, b, "a", joining{id: "x", expiry: 600})
	require.NoError(t, s.subscribe(t, "a/#"))
	require.NoError(t, s.subscribe(t, "a/lamp"))
	b.Allow(mqtt.Client{Name: "a", Key: "ka", Publish: []string{"a/#"}, Subscribe: []string{"a/lamp"}})
	require.NoError(t, b.Publish("a/door", []byte("open"), false))
	require.NoError(t, b.Publish("a/lamp", []byte("on"), false))
	assert.Equal(t, "a/lamp on", <-s.heard)
}

func TestWhatOneClientMayTakeIsBounded(t *testing.T) {
	b := newBroker(t)
	s := joined(t, b, "a", joining{id: "x"})
	for i := range mqtt.MaximumRetained {
		require.NoError(t, s.say(fmt.Sprintf("a/%d", i), "kept", true))
	}
	assert.Error(t, s.say("a/more", "kept", true))
	assert.Contains(t, b.Standing()["a"].Why, "too much is retained")
	require.NoError(t, s.say("a/0", "changed", true), "what is retained may change")
	require.NoError(t, s.say("a/1", "", true))
	require.NoError(t, s.say("a/more", "kept", true), "there is room again")

	var refused error
	for i := range mqtt.MaximumSubscriptions + 2 {
		refused = s.subscribe(t, fmt.Sprintf("a/%d/x", i))
	}
	assert.Error(t, refused)
	assert.Contains(t, b.Standing()["a"].Why, "subscriptions")

	for i := range mqtt.MaximumSessions {
		joined(t, b, "b", joining{id: fmt.Sprint("waiting", i), expiry: 600})
	}
	_, err := join(t, b, "b", "kb", joining{id: "one more"})
	assert.Error(t, err)
	assert.Contains(t, b.Standing()["b"].Why, "connections already")

	_, err = join(t, b, "nobody", "k", joining{})
	assert.Error(t, err)
	assert.Equal(t, "“nobody” has no key here", b.Standing()[""].Why)
	_, err = join(t, b, "a", "wrong", joining{})
	assert.Error(t, err)
	assert.Equal(t, "its key was wrong", b.Standing()["a"].Why)
}

func TestTheBrokerEndsWhateverIsConnected(t *testing.T) {
	b, err := mqtt.Listen("127.0.0.1:0", slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	b.Allow(mqtt.Client{Name: "a", Key: "ka", Publish: []string{"a/#"}, Subscribe: []string{"a/#"}})
	silent, err := net.Dial("tcp", b.Address())
	require.NoError(t, err)
	defer func() { _ = silent.Close() }()

	deaf, err := net.Dial("tcp", b.Address())
	require.NoError(t, err)
	defer func() { _ = deaf.Close() }()
	// MQTT 3.1.1: CONNECT as a, and SUBSCRIBE to a/#; nothing is read afterwards.
	_, err = deaf.Write([]byte("\x10\x15\x00\x04MQTT\x04\xc2\x00\x00\x00\x02id\x00\x01a\x00\x02ka"))
	require.NoError(t, err)
	_, err = deaf.Write([]byte("\x82\x08\x00\x01\x00\x03a/#\x00"))
	require.NoError(t, err)
	require.Eventually(t, func() bool { return b.Standing()["a"].Connected == 1 }, 5*time.Second, time.Millisecond)
	filling := make([]byte, 60<<10)
	for range 2000 {
		require.NoError(t, b.Publish("a/much", filling, false))
	}
	require.NoError(t, b.Close())
}

func TestTheBrokerEndsWhileItsClientsGo(t *testing.T) {
	for range 40 {
		b, err := mqtt.Listen("127.0.0.1:0", slog.New(slog.DiscardHandler))
		require.NoError(t, err)
		b.Allow(mqtt.Client{Name: "a", Key: "ka", Publish: []string{"a/#"}})
		var clients []net.Conn
		for i := range 8 {
			client, err := net.Dial("tcp", b.Address())
			require.NoError(t, err)
			clients = append(clients, client)
			// MQTT 3.1.1: CONNECT as a, with an id of its own.
			_, err = client.Write([]byte("\x10\x15\x00\x04MQTT\x04\xc2\x00\x00\x00\x02i" + string(rune('a'+i)) + "\x00\x01a\x00\x02ka"))
			require.NoError(t, err)
		}
		require.Eventually(t, func() bool { return b.Standing()["a"].Connected == 8 }, 20*time.Second, time.Millisecond)
		for _, client := range clients {
			go func() { _ = client.Close() }()
		}
		closed := make(chan error)
		go func() { closed <- b.Close() }()
		select {
		case err := <-closed:
			require.NoError(t, err)
		case <-time.After(time.Minute):
			require.FailNow(t, "the broker does not end")
		}
	}
}
