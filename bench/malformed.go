package main

import (
	"context"
	"fmt"
	"time"

	"github.com/eclipse/paho.golang/paho"

	"amvek/connect/mqtt"
	"amvek/core/home"
	"amvek/hub"
)

const (
	malformedRate    = 12_000
	malformedDevices = 10_000
)

// measureMalformed measures what 12,000 messages a second that cannot be read do to everybody else in a home of 10,000
// devices: the p99 of the relay beside them, divided by that without. The floor is the same of a bare relay on the same
// broker, beside as many messages that nobody listens to.
func measureMalformed(ctx context.Context) ([]figure, error) {
	made, err := furnished(ctx, manyDevices(malformedDevices))
	if err != nil {
		return nil, err
	}
	defer made.close()
	made.broker.Allow(mqtt.Client{Name: "broken", Key: "broken", Publish: []string{"#"}})
	broken, err := join(ctx, made.broker.Address(), "broken", "broken", nil, func(string, []byte) {})
	if err != nil {
		return nil, err
	}
	bare, closeBare, err := bareRelay(ctx, made.broker.Address())
	if err != nil {
		return nil, err
	}
	defer closeBare()
	sent := 0
	ratio, floor, err := made.beside(ctx, bare, func(ctx context.Context, through *post) {
		topic := "nobody/listens"
		if through != bare {
			topic = saidBy(0)
		}
		began := time.Now()
		for i := 0; ctx.Err() == nil; i++ {
			if i%100 == 0 {
				time.Sleep(time.Until(began.Add(time.Duration(i) * time.Second / malformedRate)))
			}
			if _, err := broken.Publish(ctx, &paho.Publish{Topic: topic, Payload: []byte(`{"count":`)}); err == nil && through != bare {
				sent++
			}
		}
	})
	if err != nil {
		return nil, err
	}
	connections, err := made.hub.Connections(ctx)
	if err != nil {
		return nil, err
	}
	return []figure{
		{Name: "malformed_others_p99_ratio_10000", Value: ratio, Unit: "ratio", Floor: &floor},
		{Name: "malformed_counted_share", Value: float64(connections[0].Faults) / float64(sent), Unit: "share"},
		{Name: "malformed_per_s", Value: float64(sent) / (disturbRounds * disturbSeconds), Unit: "1/s"},
	}, nil
}

// manyDevices are devices that stand beside what is measured and say nothing.
func manyDevices(count int) map[string]home.Device {
	devices := make(map[string]home.Device, count)
	for i := range count {
		id := fmt.Sprintf("device-%05d", i)
		devices[id] = home.Device{Title: id, Connection: hub.GatewaysID, Hardware: id, Address: id, Description: slowLamp.Description}
	}
	return devices
}
