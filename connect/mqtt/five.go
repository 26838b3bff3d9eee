package mqtt

import (
	"context"
	"crypto/rand"
	"crypto/tls"
	"errors"
	"fmt"
	"net/url"
	"strings"
	"sync/atomic"
	"time"

	"github.com/eclipse/paho.golang/autopaho"
	"github.com/eclipse/paho.golang/paho"

	"amvek/connect"
)

// Reason codes of a CONNACK (MQTT 5.0 §3.2.2.2).
const (
	unsupportedVersion   = 0x84
	badUserNameOrKey     = 0x86
	notAuthorized        = 0x87
	unacceptableVersion3 = 0x01 // how a broker of MQTT 3.1.1 says it (MQTT 3.1.1 §3.2.2.3)
)

func clientID() string { return "amvek-" + strings.ToLower(rand.Text()[:8]) }

// runFive keeps the way open by MQTT 5 until the context ends. It returns errOlder when the broker
// turned out not to speak it.
func (w *joined) runFive(ctx context.Context, trust *tls.Config, state func(up bool, reason string)) error {
	scheme := "mqtt"
	if trust != nil {
		scheme = "mqtts"
	}
	address, err := url.Parse(scheme + "://" + w.to.Address)
	if err != nil || address.Host == "" {
		return fmt.Errorf("%q is no address of a broker", w.to.Address)
	}
	attempt, stop := context.WithCancelCause(ctx)
	defer stop(nil)
	var spoke atomic.Bool // once it spoke MQTT 5 it is not taken for an older one
	client, err := autopaho.NewConnection(attempt, autopaho.ClientConfig{
		ServerUrls: []*url.URL{address}, TlsCfg: trust,
		KeepAlive: uint16(keepAlive / time.Second), ConnectTimeout: joinLimit, CleanStartOnInitialConnection: true,
		ConnectUsername: w.to.User, ConnectPassword: []byte(w.to.Password),
		ReconnectBackoff: autopaho.NewExponentialBackoff(firstBackoff, lastBackoff, 2*firstBackoff, 2),
		OnConnectionUp: func(client *autopaho.ConnectionManager, _ *paho.Connack) {
			spoke.Store(true)
			w.up(&five{ctx, client}, state)
		},
		OnConnectionDown: func() bool {
			w.down()
			state(false, closedByBroker)
			return true
		},
		OnConnectError: func(err error) {
			if err = fiveError(err); !spoke.Load() && errors.Is(err, errOlder) {
				stop(errOlder)
				return
			}
			state(false, joinError(err))
		},
		ClientConfig: paho.ClientConfig{
			ClientID: clientID(),
			OnPublishReceived: []func(paho.PublishReceived) (bool, error){func(p paho.PublishReceived) (bool, error) {
				w.received(p.Packet.Topic, p.Packet.Payload)
				return true, nil
			}},
		},
	})
	if err != nil {
		return err
	}
	<-attempt.Done()
	<-client.Done()
	w.down()
	if cause := context.Cause(attempt); ctx.Err() == nil {
		return cause
	}
	return nil
}

// fiveError tells apart why joining by MQTT 5 failed. A broker that ends the conversation without a proper
// answer is taken for one that does not understand it.
func fiveError(err error) error {
	var answer *autopaho.ConnackError
	switch {
	case errors.As(err, &answer) && (answer.ReasonCode == unsupportedVersion || answer.ReasonCode == unacceptableVersion3):
		return errOlder
	case errors.As(err, &answer) && answer.ReasonCode >= 0x80:
		return &refusedError{keys: answer.ReasonCode == badUserNameOrKey || answer.ReasonCode == notAuthorized, reason: answer.Reason}
	case connect.Distrust(err) != "", connect.Unanswered(err):
		return err
	default:
		return errOlder
	}
}

// five speaks MQTT 5 with a joined broker.
type five struct {
	running context.Context
	client  *autopaho.ConnectionManager
}

func (f *five) subscribe(filter string) error {
	ctx, cancel := context.WithTimeout(f.running, sayLimit)
	defer cancel()
	_, err := f.client.Subscribe(ctx, &paho.Subscribe{Subscriptions: []paho.SubscribeOptions{{Topic: filter, QoS: 1}}})
	return err
}

func (f *five) unsubscribe(filter string) error {
	ctx, cancel := context.WithTimeout(f.running, sayLimit)
	defer cancel()
	_, err := f.client.Unsubscribe(ctx, &paho.Unsubscribe{Topics: []string{filter}})
	return err
}

func (f *five) publish(topic string, payload []byte, retain bool) error {
	ctx, cancel := context.WithTimeout(f.running, sayLimit)
	defer cancel()
	_, err := f.client.Publish(ctx, &paho.Publish{Topic: topic, Payload: payload, Retain: retain, QoS: 1})
	return err
}
