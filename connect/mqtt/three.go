package mqtt

import (
	"context"
	"crypto/tls"
	"errors"

	paho3 "github.com/eclipse/paho.mqtt.golang"
	"github.com/eclipse/paho.mqtt.golang/packets"
)

const (
	version311      = 4         // the protocol level of MQTT 3.1.1 (§3.1.2.2)
	subscribeFailed = 0x80      // SUBACK (MQTT 3.1.1 §3.9.3)
	partingTime     = uint(100) // milliseconds in which what is under way may end
)

// runThree joins the broker by MQTT 3.1.1 and keeps the way open until it is lost or the context ends.
func (w *joined) runThree(ctx context.Context, trust *tls.Config, state func(up bool, reason string)) error {
	scheme := "tcp"
	if trust != nil {
		scheme = "ssl"
	}
	lost := make(chan struct{})
	options := paho3.NewClientOptions().AddBroker(scheme + "://" + w.to.Address).SetClientID(clientID()).
		SetUsername(w.to.User).SetPassword(w.to.Password).SetProtocolVersion(version311).SetCleanSession(true).
		SetKeepAlive(keepAlive).SetConnectTimeout(joinLimit).SetWriteTimeout(sayLimit).
		SetAutoReconnect(false).SetConnectRetry(false).SetOrderMatters(true).
		SetDefaultPublishHandler(func(_ paho3.Client, m paho3.Message) { w.received(m.Topic(), m.Payload()) }).
		SetConnectionLostHandler(func(paho3.Client, error) { close(lost) })
	if trust != nil {
		options.SetTLSConfig(trust)
	}
	client := paho3.NewClient(options)
	if err := settled(client.Connect()); err != nil {
		if errors.Is(err, packets.ErrorRefusedBadUsernameOrPassword) || errors.Is(err, packets.ErrorRefusedNotAuthorised) {
			return &refusedError{keys: true, reason: err.Error()}
		}
		return err
	}
	defer w.down()
	w.up(&three{client}, state)
	select {
	case <-ctx.Done():
		client.Disconnect(partingTime)
		return nil
	case <-lost:
		state(false, closedByBroker)
		return nil
	}
}

// settled waits for what was asked of a broker.
func settled(token paho3.Token) error {
	if !token.WaitTimeout(joinLimit) {
		return errors.New("timeout")
	}
	return token.Error()
}

// three speaks MQTT 3.1.1 with a joined broker.
type three struct{ client paho3.Client }

func (t *three) subscribe(filter string) error {
	token := t.client.Subscribe(filter, 1, nil)
	if err := settled(token); err != nil {
		return err
	}
	if s, is := token.(*paho3.SubscribeToken); is && s.Result()[filter] == subscribeFailed {
		return errors.New("not authorized")
	}
	return nil
}

func (t *three) unsubscribe(filter string) error { return settled(t.client.Unsubscribe(filter)) }

func (t *three) publish(topic string, payload []byte, retain bool) error {
	return settled(t.client.Publish(topic, 1, retain, payload))
}
