package main

import (
	"context"
	"encoding/binary"
	"fmt"
	"io"
	"log/slog"
	"net"
	"runtime"
	"sync"
	"time"

	"amvek/connect/mqtt"
)

const (
	hostileClients = 4
	hostileTopics  = 3000  // that each tries to have something retained under
	hostileFlood   = 2000  // messages to its own connection, which never reads
	hostileSockets = 1000  // that say nothing at all
	hostilePayload = 60000 // bytes of each message
)

// measureHostile returns by how much the memory of the broker grows at most while clients with a key each retain, subscribe and
// send as much as they can and never read, beside sockets that say nothing.
func measureHostile(_ context.Context) ([]figure, error) {
	broker, err := mqtt.Listen("127.0.0.1:0", slog.New(slog.DiscardHandler))
	if err != nil {
		return nil, err
	}
	defer func() { _ = broker.Close() }()
	for i := range hostileClients {
		topics := []string{fmt.Sprintf("c%d/#", i)}
		broker.Allow(mqtt.Client{Name: fmt.Sprintf("c%d", i), Key: "key", Publish: topics, Subscribe: topics})
	}
	heap := func() float64 {
		var m runtime.MemStats
		runtime.ReadMemStats(&m)
		return float64(m.HeapInuse+m.StackInuse) / 1e6
	}
	runtime.GC()
	before, most := heap(), 0.0
	done := make(chan struct{})
	var watching sync.WaitGroup
	watching.Go(func() {
		ticker := time.NewTicker(20 * time.Millisecond)
		defer ticker.Stop()
		for {
			select {
			case <-done:
				return
			case <-ticker.C:
				most = max(most, heap())
			}
		}
	})
	var mute []net.Conn
	for range hostileSockets {
		if c, err := net.Dial("tcp", broker.Address()); err == nil {
			mute = append(mute, c)
		}
	}
	var clients sync.WaitGroup
	for i := range hostileClients {
		clients.Go(func() { beHostile(broker.Address(), fmt.Sprintf("c%d", i)) })
	}
	clients.Wait()
	close(done)
	watching.Wait()
	for _, c := range mute {
		_ = c.Close()
	}
	return []figure{{Name: "broker_hostile_mb", Value: most - before, Unit: "MB"}}, nil
}

// beHostile does all that a client with a key can do to take memory, over connections that it reads nothing of; what the broker
// refuses ends its connection, and it comes again.
func beHostile(broker, name string) {
	payload := make([]byte, hostilePayload)
	session := 0
	connect := func() net.Conn {
		c, err := net.Dial("tcp", broker)
		if err != nil {
			return nil
		}
		session++
		_ = c.SetDeadline(time.Now().Add(30 * time.Second))
		_, _ = c.Write(packet(0x10, text("MQTT"), []byte{4, 0xc0, 0, 0}, text(fmt.Sprint(name, session)), text(name), text("key"))) // a session that stays
		_, _ = io.ReadFull(c, make([]byte, 4))
		return c
	}
	c := connect()
	send := func(data []byte) {
		if c == nil {
			return
		}
		if _, err := c.Write(data); err != nil {
			_ = c.Close()
			c = connect()
		}
	}
	for i := range hostileTopics {
		send(packet(0x31, text(fmt.Sprintf("%s/kept/%d", name, i)), payload)) // retained
	}
	for i := range hostileTopics {
		send(packet(0x82, []byte{0, 1}, text(fmt.Sprintf("%s/sub/%d/#", name, i)), []byte{0}))
	}
	send(packet(0x82, []byte{0, 2}, text(name+"/flood"), []byte{0}))
	for range hostileFlood {
		send(packet(0x30, text(name+"/flood"), payload))
	}
	if c != nil {
		_ = c.Close()
	}
}

// packet makes a control packet of MQTT 3.1.1 (§2).
func packet(kind byte, parts ...[]byte) []byte {
	var body []byte
	for _, p := range parts {
		body = append(body, p...)
	}
	return append(binary.AppendUvarint([]byte{kind}, uint64(len(body))), body...)
}

func text(s string) []byte { return append(binary.BigEndian.AppendUint16(nil, uint16(len(s))), s...) }
