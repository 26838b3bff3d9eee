package mqtt_test

import (
	"context"
	"crypto/rand"
	"log/slog"
	"net/url"
	"sync"
	"testing"
	"time"

	"github.com/eclipse/paho.golang/autopaho"
	"github.com/eclipse/paho.golang/paho"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/connect/connecttest"
	"amvek/connect/mqtt"
	"amvek/core/thing"
)

type bench struct {
	broker   *mqtt.Broker
	gateways *mqtt.Gateways
	heard    *connecttest.Heard
}

func newBench(t *testing.T) *bench {
	broker, err := mqtt.Listen("127.0.0.1:0", slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	b := &bench{broker: broker, heard: connecttest.NewHeard(), gateways: mqtt.NewGateways(broker, connecttest.Profiles(t))}
	ctx, cancel := context.WithCancel(context.Background())
	var running sync.WaitGroup
	running.Go(func() { b.gateways.Run(ctx, b.heard) })
	t.Cleanup(func() { cancel(); running.Wait(); _ = broker.Close() })
	broker.Allow(mqtt.Client{Name: "g1", Key: "k1", Publish: []string{"quillet/g1/#"}, Subscribe: []string{"quillet/g1/+/ask"}})
	// A retained message is heard whenever the hub begins to listen; after it, nothing is missed.
	broker.Allow(mqtt.Client{Name: "g0", Key: "k0", Publish: []string{"quillet/g0/#"}})
	first, err := b.join(t, "g0", "k0")
	require.NoError(t, err)
	_, err = first.Publish(context.Background(), &paho.Publish{Topic: "quillet/g0/alive", Payload: []byte("yes"), Retain: true, QoS: 1})
	require.NoError(t, err)
	b.heard.Await(t, "up true")
	return b
}

func (b *bench) join(t *testing.T, user, key string) (*autopaho.ConnectionManager, error) {
	t.Helper()
	address, err := url.Parse("mqtt://" + b.broker.Address())
	require.NoError(t, err)
	ctx, cancel := context.WithCancel(context.Background())
	t.Cleanup(cancel)
	refused := make(chan error, 16)
	client, err := autopaho.NewConnection(ctx, autopaho.ClientConfig{
		ServerUrls: []*url.URL{address}, KeepAlive: 20, ConnectUsername: user, ConnectPassword: []byte(key),
		OnConnectError: func(err error) { refused <- err }, ClientConfig: paho.ClientConfig{ClientID: rand.Text()},
	})
	require.NoError(t, err)
	joined := make(chan error, 1)
	go func() { joined <- client.AwaitConnection(ctx) }()
	select {
	case err := <-joined:
		return client, err
	case err := <-refused:
		return nil, err
	}
}

func publish(t *testing.T, c *autopaho.ConnectionManager, topic, payload string) {
	t.Helper()
	_, _ = c.Publish(context.Background(), &paho.Publish{Topic: topic, Payload: []byte(payload), QoS: 1})
}

const roster = `{"nodes":[{"node":"n1","model":"QM-2","hardware":"hw1","label":"Eye"},{"node":"n2","model":"QD-1","hardware":"hw2","label":"Dial"},{"node":"n3","model":"QX-9","hardware":"hw3","label":"Unheard of"}]}`

func TestAGatewayIsHeardInCanonicalUnits(t *testing.T) {
	b := newBench(t)
	c, err := b.join(t, "g1", "k1")
	require.NoError(t, err)
	publish(t, c, "quillet/g1/roster", roster)
	publish(t, c, "quillet/g1/alive", "yes")
	publish(t, c, "quillet/g1/n1/say", `{"mv":1,"lx":32,"bt":174}`)
	publish(t, c, "quillet/g1/n2/say", `{"tn":-2}`)
	publish(t, c, "quillet/g1/n2/say", `{"pr":1}`)
	publish(t, c, "quillet/g1/n3/say", `{"any":1}`)
	publish(t, c, "quillet/g1/alive", "no")
	b.heard.Await(t, "left the broker")
	for _, words := range []string{"found 3", "up true", "hw1 motion true", "hw1 light 3.2", "hw1 battery 87", "hw2 turn! -2", "hw2 press! unknown"} {
		b.heard.Await(t, words)
	}
}

func TestBadMessagesAreRefusedWithAReasonAndTheRestGoesOn(t *testing.T) {
	b := newBench(t)
	c, err := b.join(t, "g1", "k1")
	require.NoError(t, err)
	publish(t, c, "quillet/g1/roster", roster)
	for payload, reason := range map[string]string{
		`{"mv":`:             "not a JSON object",
		`[1,2]`:              "not a JSON object",
		"\x00\xff":           "not a JSON object",
		`{"lx":"bright"}`:    "where a number was expected",
		`{"lx":99999999}`:    "must be from 0 to 200000",
		`{"mv":7}`:           "where yes or no was expected",
		`{"bt":-3,"lx":115}`: "must be from 0 to 100",
	} {
		publish(t, c, "quillet/g1/n1/say", payload)
		b.heard.Await(t, reason)
	}
	b.heard.Await(t, "hw1 light 11.5") // beside a wrong field the good one counts
	publish(t, c, "quillet/g1/n9/say", `{}`)
	b.heard.Await(t, "not on its gateway's roster")
	publish(t, c, "quillet/g1/n1/sing", `{}`)
	b.heard.Await(t, "topic quillet/g1/n1/sing is not known")
	publish(t, c, "quillet/g1/roster", `{"nodes":[{"node":"a/b","hardware":"x"}]}`)
	b.heard.Await(t, "without node or hardware identity")
	publish(t, c, "quillet/g1/roster", `none`)
	b.heard.Await(t, "not readable JSON")
	publish(t, c, "quillet/g1/n2/say", `{"tn":"left"}`)
	b.heard.Await(t, "where a number was expected")
	publish(t, c, "quillet/g1/n1/say", `{"lx":420}`)
	b.heard.Await(t, "hw1 light 42")
}

func TestAnOversizedMessageEndsItsSenderOnly(t *testing.T) {
	b := newBench(t)
	c, err := b.join(t, "g1", "k1")
	require.NoError(t, err)
	publish(t, c, "quillet/g1/roster", roster)
	b.heard.Await(t, "found 3") // two connections keep no order between them
	ctx, cancel := context.WithTimeout(context.Background(), 2*time.Second)
	defer cancel()
	_, err = c.Publish(ctx, &paho.Publish{Topic: "quillet/g1/n1/say", Payload: make([]byte, mqtt.MaximumPayload+1), QoS: 0})
	_ = err // the broker closes the connection, sooner or later than this returns
	other, err := b.join(t, "g1", "k1")
	require.NoError(t, err)
	publish(t, other, "quillet/g1/n1/say", `{"lx":420}`)
	b.heard.Await(t, "hw1 light 42")
}

func TestWithoutItsKeyNobodyJoins(t *testing.T) {
	b := newBench(t)
	for _, try := range [][2]string{{"g1", "wrong"}, {"g1", ""}, {"stranger", "k1"}, {"", ""}} {
		_, err := b.join(t, try[0], try[1])
		assert.Error(t, err, try)
	}
}

func TestAClientReachesOnlyItsOwnTopics(t *testing.T) {
	b := newBench(t)
	b.broker.Allow(mqtt.Client{Name: "g2", Key: "k2", Publish: []string{"quillet/g2/#"}})
	c, err := b.join(t, "g2", "k2")
	require.NoError(t, err)
	response, err := c.Publish(context.Background(), &paho.Publish{Topic: "quillet/g1/alive", Payload: []byte("no"), QoS: 1})
	if err == nil {
		assert.GreaterOrEqual(t, response.ReasonCode, byte(0x80))
	}
	_, err = c.Subscribe(context.Background(), &paho.Subscribe{Subscriptions: []paho.SubscribeOptions{{Topic: "quillet/#"}}})
	assert.Error(t, err)
}

func TestWriteAndInvokeSayWhatCannotBeDone(t *testing.T) {
	b := newBench(t)
	c, err := b.join(t, "g1", "k1")
	require.NoError(t, err)
	publish(t, c, "quillet/g1/roster", roster)
	b.heard.Await(t, "found 3")
	ctx := context.Background()
	assert.True(t, b.gateways.Write(ctx, "g1/none", "motion", thing.Boolean(true), 0).Unreached)
	assert.Contains(t, b.gateways.Write(ctx, "g1/n1", "motion", thing.Boolean(true), 0).Reason, "cannot write motion")
	assert.Contains(t, b.gateways.Invoke(ctx, "g1/n1", "dance", nil).Reason, "does not know the action")
	assert.True(t, b.gateways.Invoke(ctx, "g1/n1", "identify", nil).OK)
}

func TestWhatWasSaidIsToldAgainOnlyForTheDeviceAskedFor(t *testing.T) {
	b := newBench(t)
	c, err := b.join(t, "g1", "k1")
	require.NoError(t, err)
	publish(t, c, "quillet/g1/roster", roster)
	publish(t, c, "quillet/g1/n1/say", `{"lx":32}`)
	publish(t, c, "quillet/g1/n2/say", `{"bt":200,"pr":1}`)
	publish(t, c, "quillet/g1/alive", "no")
	for _, hardware := range []string{"hw1", "hw2", "hw3"} {
		b.heard.Await(t, "reach "+hardware+" false The gateway g1 left the broker.")
	}
	b.heard.Forget()
	b.gateways.Sync(context.Background())
	assert.Empty(t, b.heard.Lines(), "a sensor that fell silent is not made to look heard")
	b.gateways.Recall(context.Background(), "hw2")
	assert.Equal(t, []string{"hw2 battery 100"}, b.heard.Lines(), "and a press is not repeated")
}

// An event may carry nothing: it happens by an empty message as well as by an object, and one that carries a number does not.
func TestADescribedEventMayCarryNothing(t *testing.T) {
	b := newBench(t)
	d, err := thing.ParseDescription([]byte(`{"@context":"https://www.w3.org/2022/wot/td/v1.1","id":"urn:bell","title":"Bell","base":"mqtt://broker.test/",
		"properties":{"level":{"type":"number","forms":[{"href":"bell/level","op":["readproperty","observeproperty"]}]}},
		"events":{"rings":{"forms":[{"href":"bell/rings","op":"subscribeevent"}]},"counts":{"data":{"type":"number"},"forms":[{"href":"bell/counts","op":"subscribeevent"}]}}}`), "")
	require.NoError(t, err)
	require.Empty(t, d.Unreachable)
	b.gateways.Give(map[string]*thing.Described{"urn:bell": d})
	b.broker.Allow(mqtt.Client{Name: "bell", Key: "k", Publish: []string{"bell/#"}})
	bell, err := b.join(t, "bell", "k")
	require.NoError(t, err)
	publish(t, bell, "bell/rings", "")
	publish(t, bell, "bell/rings", `{"by":"Tove"}`)
	publish(t, bell, "bell/rings", "true")
	publish(t, bell, "bell/counts", "")
	publish(t, bell, "bell/counts", "7")
	publish(t, bell, "bell/level", "")
	publish(t, bell, "bell/level", "3")
	b.heard.Await(t, "urn:bell level 3")
	assert.Equal(t, 3, b.heard.Count("urn:bell rings!"))
	assert.Equal(t, 1, b.heard.Count("urn:bell counts!"))
	b.heard.AwaitLast(t, "urn:bell counts!", "7")
}

// listening is a sink that wants to know what goes over its connection.
type listening struct {
	connect.Sink
	messages chan connect.Message
}

func (l *listening) Heard(m connect.Message) connect.Sink { l.messages <- m; return l }
func (l *listening) Again() connect.Sink                  { return l }

// Over the hub's own broker all is seen that others say, once, whether anything in the home listens to it or not; what the hub
// says itself is told where it is sent.
func TestWhatNothingListensToIsSeenToo(t *testing.T) {
	broker, err := mqtt.Listen("127.0.0.1:0", slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	b := &bench{broker: broker, heard: connecttest.NewHeard(), gateways: mqtt.NewGateways(broker, connecttest.Profiles(t))}
	sink := &listening{b.heard, make(chan connect.Message, 100)}
	d, err := thing.ParseDescription([]byte(`{"@context":"https://www.w3.org/2022/wot/td/v1.1","id":"urn:shed","title":"Shed","base":"mqtt://broker.test/",
		"properties":{"level":{"type":"number","forms":[{"href":"shed/level","op":["readproperty","observeproperty"]}]}}}`), "")
	require.NoError(t, err)
	b.gateways.Give(map[string]*thing.Described{"urn:shed": d})
	ctx, cancel := context.WithCancel(t.Context())
	var running sync.WaitGroup
	running.Go(func() { b.gateways.Run(ctx, sink) })
	defer func() { cancel(); running.Wait(); _ = broker.Close() }()
	broker.Allow(mqtt.Client{Name: "shed", Key: "k", Publish: []string{"#"}})
	client, err := b.join(t, "shed", "k")
	require.NoError(t, err)
	_, err = client.Publish(ctx, &paho.Publish{Topic: "shed/level", Payload: []byte("1"), Retain: true, QoS: 1})
	require.NoError(t, err)
	for m := range sink.messages { // it listens by now
		if m.Place == "shed/level" {
			break
		}
	}
	require.NoError(t, b.gateways.Say("shed/own", "by the hub"))
	for _, topic := range []string{"shed/level", "shed/other", "quillet/g9/alive", "shed/last"} {
		publish(t, client, topic, "2")
	}
	var places []string
	for m := range sink.messages {
		if places = append(places, m.Place); m.Place == "shed/last" {
			break
		}
	}
	assert.Equal(t, []string{"shed/level", "shed/other", "quillet/g9/alive", "shed/last"}, places)
}
