package links

import (
	"cmp"
	"context"
	"slices"
	"strings"
	"sync"
	"time"

	"amvek/connect"
	"amvek/core/thing"
)

// Frame is what a property of a device is to be at now, as an effect moves it.
type Frame struct {
	Ref      thing.Ref
	Address  string
	Hardware string
	Value    thing.Value
}

// frames are the values of effects that wait to be sent: of each property the latest alone, however slow the connection is. A command
// to a device takes back what waits for it.
type frames struct {
	mu      sync.Mutex
	waiting map[thing.Ref]Frame
	order   []string // devices for which something waits, the one that waits longest first
	over    time.Duration
	ready   chan struct{}
}

func newFrames() *frames {
	return &frames{waiting: map[thing.Ref]Frame{}, ready: make(chan struct{}, 1)}
}

func (f *frames) put(values []Frame, over time.Duration) {
	f.mu.Lock()
	for _, v := range values {
		if !slices.Contains(f.order, v.Ref.Device) {
			f.order = append(f.order, v.Ref.Device)
		}
		f.waiting[v.Ref] = v
	}
	f.over = over
	f.mu.Unlock()
	select {
	case f.ready <- struct{}{}:
	default:
	}
}

// forget takes back what waits for devices.
func (f *frames) forget(device string) {
	f.mu.Lock()
	defer f.mu.Unlock()
	f.drop(device)
}

func (f *frames) drop(device string) (dropped []Frame) {
	if !slices.Contains(f.order, device) {
		return nil
	}
	f.order = slices.DeleteFunc(f.order, func(d string) bool { return d == device })
	for ref, v := range f.waiting {
		if ref.Device == device {
			dropped = append(dropped, v)
			delete(f.waiting, ref)
		}
	}
	return dropped
}

// take returns what waits for as many devices as are wanted that can be claimed, and claims them. Those that have a command under way
// wait on.
func (f *frames) take(most int, claim func(device string) bool) (values []Frame, over time.Duration) {
	f.mu.Lock()
	defer f.mu.Unlock()
	for _, device := range slices.Clone(f.order) {
		if most == 0 {
			break
		}
		if claim(device) {
			values = append(values, f.drop(device)...)
			most--
		}
	}
	// The tone of a lamp before how bright it is, by the alphabet.
	slices.SortFunc(values, func(a, b Frame) int {
		return cmp.Or(strings.Compare(a.Ref.Device, b.Ref.Device), strings.Compare(b.Ref.Name, a.Ref.Name))
	})
	return values, f.over
}

// Glow puts values of an effect on their way, in place of those that wait.
func (l *Link) Glow(values []Frame, over time.Duration) {
	if !l.Running() {
		return
	}
	for i := range values {
		values[i].Address = l.AddressOf(values[i].Hardware, values[i].Address)
	}
	l.frames.put(values, over)
}

// Still takes back what waits of an effect for a device.
func (l *Link) Still(device string) { l.frames.forget(device) }

// The pace of connections that set one device at a time, and how long one waits that did not take a frame.
const (
	onePace    = 10 * time.Millisecond
	afterFault = time.Second
)

// glow sends frames, in a goroutine of its own, as fast as the connection takes them.
func (l *Link) glow(ctx context.Context) {
	framer, many := l.Connection.(connect.Framer)
	pace, most := onePace, 1
	if many {
		pace, most = framer.Pace(), -1
	}
	for {
		select {
		case <-ctx.Done():
			return
		case <-l.frames.ready:
		}
		for {
			values, over := l.frames.take(most, l.outbox.claim)
			if len(values) == 0 {
				break
			}
			began := time.Now()
			outcome := l.send(ctx, framer, values, max(over, pace))
			l.traffic.count(began)
			for i := range values {
				if i == 0 || values[i].Ref.Device != values[i-1].Ref.Device {
					l.outbox.free(values[i].Ref.Device)
				}
			}
			wait := pace - time.Since(began)
			if !outcome.OK {
				wait = afterFault
			}
			select {
			case <-ctx.Done():
				return
			case <-time.After(wait):
			}
		}
	}
}

func (l *Link) send(ctx context.Context, framer connect.Framer, values []Frame, over time.Duration) (outcome connect.Outcome) {
	if framer != nil {
		settings := make([]connect.Setting, len(values))
		for i, v := range values {
			settings[i] = connect.Setting{Address: v.Address, Property: v.Ref.Name, Value: v.Value}
		}
		return framer.WriteFrame(ctx, settings, over)
	}
	for _, v := range values {
		if outcome = l.Connection.Write(ctx, v.Address, v.Ref.Name, v.Value, over); !outcome.OK {
			return outcome
		}
	}
	return outcome
}
