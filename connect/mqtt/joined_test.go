package mqtt_test

import (
	"bufio"
	"context"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"io"
	"math/big"
	"net"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect/connecttest"
	"amvek/connect/mqtt"
	"amvek/core/thing"
)

// front passes on to a broker what comes in at a listener; look sees each first packet and may answer
// in the broker's place, which ends that conversation.
type front struct {
	mu     sync.Mutex
	open   []net.Conn
	levels []byte // the protocol levels of all who asked to join
}

func newFront(t *testing.T, at net.Listener, broker string, look func(level byte) (answer []byte)) *front {
	f := &front{}
	var working sync.WaitGroup
	working.Go(func() {
		for {
			c, err := at.Accept()
			if err != nil {
				return
			}
			working.Go(func() { f.pass(c, broker, look) })
		}
	})
	t.Cleanup(func() { _ = at.Close(); f.cut(); working.Wait() })
	return f
}

func (f *front) pass(c net.Conn, broker string, look func(level byte) []byte) {
	defer func() { _ = c.Close() }()
	reader := bufio.NewReader(c)
	first, err := reader.Peek(9) // a short CONNECT: type, length, "MQTT" with its length, level
	if err != nil {
		return
	}
	level := first[len(first)-1]
	if first[1]&0x80 != 0 { // its length takes two bytes
		if first, err = reader.Peek(10); err != nil {
			return
		}
		level = first[9]
	}
	f.mu.Lock()
	f.levels = append(f.levels, level)
	f.mu.Unlock()
	if answer := look(level); answer != nil {
		_, _ = c.Write(answer)
		return
	}
	behind, err := net.Dial("tcp", broker)
	if err != nil {
		return
	}
	f.mu.Lock()
	f.open = append(f.open, c, behind)
	f.mu.Unlock()
	go func() { _, _ = io.Copy(behind, reader); _ = behind.Close() }()
	_, _ = io.Copy(c, behind)
}

// cut ends all conversations.
func (f *front) cut() {
	f.mu.Lock()
	defer f.mu.Unlock()
	for _, c := range f.open {
		_ = c.Close()
	}
	f.open = nil
}

func everyone(byte) []byte { return nil }

// olderOnly answers as a broker that speaks MQTT 3.1.1 alone (§3.1.2.2 and §3.2.2.3).
func olderOnly(level byte) []byte {
	if level != 4 {
		return []byte{0x20, 0x02, 0x00, 0x01}
	}
	return nil
}

// follow joins a broker elsewhere as the hub does.
func follow(t *testing.T, to mqtt.External) *connecttest.Heard {
	heard := connecttest.NewHeard()
	gateways := mqtt.NewExternal(to, connecttest.Profiles(t))
	ctx, cancel := context.WithCancel(context.Background())
	var running sync.WaitGroup
	running.Go(func() { gateways.Run(ctx, heard) })
	t.Cleanup(func() { cancel(); running.Wait() })
	t.Cleanup(func() {
		if t.Failed() {
			t.Log(heard.Lines())
		}
	})
	heard.Until(t, "neither joined nor refused", func() bool { return heard.Count("up ") > 0 })
	return heard
}

func listen(t *testing.T) net.Listener {
	at, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	return at
}

func TestABrokerThatSpeaksOnlyTheOlderProtocolIsJoined(t *testing.T) {
	b := newBench(t)
	b.broker.Allow(mqtt.Client{Name: "hub", Key: "hk", Publish: []string{"#"}, Subscribe: []string{"#"}})
	for name, look := range map[string]func(byte) []byte{
		"it says so": olderOnly,
		"it just hangs up": func(level byte) []byte {
			if level != 4 {
				return []byte{}
			}
			return nil
		},
	} {
		t.Run(name, func(t *testing.T) {
			at := listen(t)
			f := newFront(t, at, b.broker.Address(), look)
			to := mqtt.External{Address: at.Addr().String(), User: "hub", Password: "hk"}
			require.NoError(t, mqtt.TryJoin(t.Context(), to))
			heard := follow(t, to)
			heard.AwaitLast(t, "up", "true")
			c, err := b.join(t, "g1", "k1")
			require.NoError(t, err)
			publish(t, c, "quillet/g1/roster", roster)
			heard.Await(t, "found 3")
			publish(t, c, "quillet/g1/n1/say", `{"lx":420}`)
			heard.Await(t, "hw1 light 42")
			f.cut()
			heard.AwaitLast(t, "up", "false")
			heard.AwaitLast(t, "up", "true")
			publish(t, c, "quillet/g1/n1/say", `{"lx":550}`)
			heard.Await(t, "hw1 light 55")
			f.mu.Lock()
			assert.Contains(t, f.levels, byte(4))
			assert.Contains(t, f.levels, byte(5), "the newer one is tried first")
			f.mu.Unlock()
		})
	}
}

func TestTheOlderProtocolTellsAWrongKeyApart(t *testing.T) {
	b := newBench(t)
	at := listen(t)
	newFront(t, at, b.broker.Address(), olderOnly)
	heard := follow(t, mqtt.External{Address: at.Addr().String(), User: "hub", Password: "wrong"})
	heard.AwaitLast(t, "up", "false The broker does not accept user and password.")
}

func TestWhatTheHubSaysReachesABrokerOfTheOlderProtocol(t *testing.T) {
	b := newBench(t)
	b.broker.Allow(mqtt.Client{Name: "hub", Key: "hk", Publish: []string{"#"}, Subscribe: []string{"#"}})
	at := listen(t)
	newFront(t, at, b.broker.Address(), olderOnly)
	heard := connecttest.NewHeard()
	gateways := mqtt.NewExternal(mqtt.External{Address: at.Addr().String(), User: "hub", Password: "hk"}, connecttest.Profiles(t))
	ctx, cancel := context.WithCancel(t.Context())
	var running sync.WaitGroup
	running.Go(func() { gateways.Run(ctx, heard) })
	t.Cleanup(func() { cancel(); running.Wait() })
	heard.AwaitLast(t, "up", "true")
	c, err := b.join(t, "g1", "k1")
	require.NoError(t, err)
	publish(t, c, "quillet/g1/roster", roster)
	heard.Await(t, "found 3")
	assert.True(t, gateways.Invoke(ctx, "g1/n1", string(thing.RoleIdentify), nil).OK)
}

// authority makes a certificate authority and a certificate of it for the loopback address.
func authority(t *testing.T) (pemText string, server tls.Certificate) {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	own := &x509.Certificate{
		SerialNumber: big.NewInt(
			1,
		), Subject: pkix.Name{CommonName: "Mill authority"}, NotBefore: time.Now().Add(-time.Hour), NotAfter: time.Now().Add(time.Hour),
		IsCA: true, BasicConstraintsValid: true, KeyUsage: x509.KeyUsageCertSign | x509.KeyUsageDigitalSignature,
		IPAddresses: []net.IP{net.IPv4(127, 0, 0, 1)}, ExtKeyUsage: []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
	}
	der, err := x509.CreateCertificate(rand.Reader, own, own, &key.PublicKey, key)
	require.NoError(t, err)
	return string(pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der})), tls.Certificate{Certificate: [][]byte{der}, PrivateKey: key}
}

func TestABrokerOverTLSIsJoinedOnlyWhenItsAuthorityIsTrusted(t *testing.T) {
	b := newBench(t)
	b.broker.Allow(mqtt.Client{Name: "hub", Key: "hk", Publish: []string{"#"}, Subscribe: []string{"#"}})
	text, certificate := authority(t)
	for name, look := range map[string]func(byte) []byte{"MQTT 5": everyone, "MQTT 3.1.1": olderOnly} {
		t.Run(name, func(t *testing.T) {
			at := tls.NewListener(listen(t), &tls.Config{Certificates: []tls.Certificate{certificate}})
			newFront(t, at, b.broker.Address(), look)
			to := mqtt.External{Address: at.Addr().String(), User: "hub", Password: "hk", TLS: true}
			follow(t, to).AwaitLast(t, "up", "false The broker's certificate is not trusted")
			to.Authority = "no certificate"
			follow(t, to).AwaitLast(t, "up", "false The certificate authority is not a PEM certificate.")
			to.Authority = text
			follow(t, to).AwaitLast(t, "up", "true")
		})
	}
}
