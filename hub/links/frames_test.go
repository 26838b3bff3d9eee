package links

import (
	"context"
	"sync"
	"testing"
	"testing/synctest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/core/engine"
	"amvek/core/thing"
)

// framed is a connection that takes frames, and refuses them while it is told to.
type framed struct {
	wire
	mu      sync.Mutex
	refuses bool
	began   time.Time
	frames  []frameSent
	written int
}

type frameSent struct {
	after  time.Duration
	levels map[string]float64
}

func (f *framed) Pace() time.Duration { return 60 * time.Millisecond }

func (f *framed) WriteFrame(_ context.Context, settings []connect.Setting, _ time.Duration) connect.Outcome {
	f.mu.Lock()
	defer f.mu.Unlock()
	levels := map[string]float64{}
	for _, s := range settings {
		levels[s.Address] = s.Value.Number
	}
	f.frames = append(f.frames, frameSent{time.Since(f.began), levels})
	if f.refuses {
		return connect.Failed("too-fast")
	}
	return connect.Outcome{OK: true}
}

func (f *framed) Write(context.Context, string, string, thing.Value, time.Duration) connect.Outcome {
	f.mu.Lock()
	defer f.mu.Unlock()
	f.written++
	return connect.Outcome{OK: true}
}

func (f *framed) sent() []frameSent {
	f.mu.Lock()
	defer f.mu.Unlock()
	sent := f.frames
	f.frames = nil
	return sent
}

func glowing(l *Link, device string, level float64) {
	l.Glow([]Frame{{Ref: thing.Ref{Device: device, Name: "brightness"}, Address: device, Value: thing.Number(level)}}, 50*time.Millisecond)
}

func TestFramesGoOutAtThePaceOfTheirConnectionAndTheLatestAlone(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		c, workers := &framed{began: time.Now()}, &sync.WaitGroup{}
		l := newLink(&loop{}, c)
		ctx, stop := context.WithCancel(t.Context())
		l.Begin(ctx, workers, nil)
		synctest.Wait()
		for n := range 100 { // a hundred a second, of two lamps
			glowing(l, "lamp", float64(n))
			glowing(l, "shutter", float64(n))
			time.Sleep(10 * time.Millisecond)
		}
		time.Sleep(time.Second)
		sent := c.sent()
		assert.InDelta(t, 17, len(sent), 2, "one every 60 ms")
		for i := 1; i < len(sent); i++ {
			assert.GreaterOrEqual(t, sent[i].after-sent[i-1].after, 60*time.Millisecond)
		}
		assert.Equal(t, map[string]float64{"lamp": 99, "shutter": 99}, sent[len(sent)-1].levels, "both in one, and the latest of each")
		stop()
		workers.Wait()
	})
}

// A bridge that takes no frame now is left alone for a second; then it is told where its lamps are by then, and of what was refused
// nothing. Commands go their own way meanwhile.
func TestABridgeThatRefusesAFrameIsLeftAloneForASecond(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		c, workers := &framed{began: time.Now(), refuses: true}, &sync.WaitGroup{}
		l := newLink(&loop{}, c)
		ctx, stop := context.WithCancel(t.Context())
		l.Begin(ctx, workers, nil)
		synctest.Wait()
		for n := range 30 {
			glowing(l, "lamp", float64(n))
			time.Sleep(50 * time.Millisecond)
		}
		sent := c.sent()
		require.Len(t, sent, 2, "at once, and after a second")
		assert.InDelta(t, 1, sent[1].after.Seconds(), 0.06)
		assert.InDelta(t, 20, sent[1].levels["lamp"], 1, "where it is by then")

		l.Deliver(engine.Output{Kind: engine.OutputCommand, Device: "shutter", Name: "on"}, "shutter", "w2")
		synctest.Wait()
		c.mu.Lock()
		assert.Equal(t, 1, c.written, "a command does not wait for that")
		c.refuses = false
		c.mu.Unlock()
		time.Sleep(2 * time.Second)
		c.sent()
		glowing(l, "lamp", 77)
		synctest.Wait()
		assert.Equal(t, map[string]float64{"lamp": 77}, c.sent()[0].levels)

		// What waits is taken back, and a command to a device takes the place of its frames.
		glowing(l, "lamp", 78)
		l.Still("lamp")
		time.Sleep(time.Second)
		assert.Empty(t, c.sent())
		stop()
		workers.Wait()
	})
}
