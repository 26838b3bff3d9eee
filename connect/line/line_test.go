package line_test

import (
	"bufio"
	"context"
	"net"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/connect/connecttest"
	"amvek/connect/line"
	"amvek/core/thing"
)

// box is a device that answers messages, framed as it likes.
type box struct {
	address string
	mu      sync.Mutex
	heard   []string
	lines   []net.Conn
}

func (b *box) say(text string) {
	b.mu.Lock()
	defer b.mu.Unlock()
	for _, c := range b.lines {
		_, _ = c.Write([]byte(text))
	}
}

func (b *box) all() []string {
	b.mu.Lock()
	defer b.mu.Unlock()
	return append([]string{}, b.heard...)
}

func device(t *testing.T, framing thing.Line, answer func(message string) string) *box {
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	b := &box{address: listener.Addr().String()}
	var all sync.WaitGroup
	all.Go(func() {
		for {
			c, err := listener.Accept()
			if err != nil {
				return
			}
			b.mu.Lock()
			b.lines = append(b.lines, c)
			b.mu.Unlock()
			all.Go(func() {
				messages := bufio.NewScanner(c)
				messages.Split(line.Splitter(&framing))
				for messages.Scan() {
					b.mu.Lock()
					b.heard = append(b.heard, messages.Text())
					b.mu.Unlock()
					_, _ = c.Write([]byte(answer(messages.Text())))
				}
			})
		}
	})
	t.Cleanup(func() {
		_ = listener.Close()
		b.mu.Lock()
		for _, c := range b.lines {
			_ = c.Close()
		}
		b.mu.Unlock()
		all.Wait()
	})
	return b
}

func model(t *testing.T, framing, properties string) *thing.Model {
	m, err := thing.ParseModel(
		[]byte(`{"@type":"tm:ThingModel","title":"Box","amvek:model":"B","amvek:line":` + framing + `,"properties":{` + properties + `}}`),
	)
	require.NoError(t, err)
	return m
}

func running(t *testing.T, b *box, m *thing.Model) (*line.Session, *connecttest.Heard) {
	h := connecttest.NewHeard()
	s := line.New(connect.Announcement{Hardware: "box", Label: "Box", Address: b.address, Profile: m}, h, line.Options{Every: time.Hour})
	require.NoError(t, s.Broken())
	ctx, cancel := context.WithCancel(context.Background())
	var all sync.WaitGroup
	all.Go(func() { s.Run(ctx) })
	t.Cleanup(func() { cancel(); all.Wait() })
	return s, h
}

const level = `"level":{"type":"number","minimum":0,"maximum":99,"forms":[{"href":"x:l","op":["readproperty"],"amvek:query":"L?","amvek:reply":"L(\\d+)"},{"href":"x:l","op":["writeproperty"],"amvek:send":"L{value}"}]}`

func TestMessagesAreFramedAsTheDeviceWantsThem(t *testing.T) {
	framing := thing.Line{Begin: "\x02", End: "\x03"}
	at := "7"
	b := device(t, framing, func(m string) string {
		if value, set := strings.CutPrefix(m, "L"); set && value != "?" {
			at = value
			return "\x02OK\x03"
		}
		if m == "L?" {
			return "noise\x02L" + at + "\x03"
		}
		return ""
	})
	s, h := running(t, b, model(t, `{"begin":"\u0002","end":"\u0003","opening":["HELLO"]}`, level))
	h.AwaitLast(t, "box level", "7")
	h.AwaitLast(t, "reach box", "true")
	assert.Equal(t, "HELLO", b.all()[0], "what opens the line comes first")
	require.True(t, s.Write(context.Background(), "level", thing.Number(42)).OK)
	h.AwaitLast(t, "box level", "42") // asked for, since OK does not say it
	b.say("\x02L43\x03\x02chatter\x03")
	h.AwaitLast(t, "box level", "43") // told by itself
	assert.Zero(t, h.Count("fault"), "what nothing tells how to read is left aside")
}

func TestADeviceThatAnswersNothingIsToldAllTheSame(t *testing.T) {
	b := device(t, thing.Line{}, func(string) string { return "" })
	s, h := running(
		t,
		b,
		model(
			t,
			`{"unanswered":true,"alive":"PING"}`,
			`"on":{"type":"boolean","amvek:native":{"field":"on","words":["0","1"]},"forms":[{"href":"x:o","op":["writeproperty"],"amvek:send":"R{value}"}]}`,
		),
	)
	h.AwaitLast(t, "reach box", "true")
	require.True(t, s.Write(context.Background(), "on", thing.Boolean(true)).OK)
	assert.Eventually(t, func() bool { return len(b.all()) == 1 && b.all()[0] == "R1" }, 5*time.Second, time.Millisecond)
}

func TestTheSessionOutlivesALineThatIsLost(t *testing.T) {
	b := device(t, thing.Line{}, func(m string) string {
		if m == "L?" {
			return "L5\n"
		}
		return "NO\n"
	})
	s, h := running(t, b, model(t, `{"refused":"NO"}`, level))
	h.AwaitLast(t, "reach box", "true")
	no := s.Write(context.Background(), "level", thing.Number(3))
	assert.False(t, no.OK || no.Unreached)
	assert.Equal(t, "The device refuses: NO.", no.Reason)
	b.mu.Lock()
	_ = b.lines[0].Close()
	b.mu.Unlock()
	h.AwaitLast(t, "reach box", "false The device closed the line.")
	h.AwaitLast(t, "reach box", "true")
}

func TestAFirstLookSaysWhatWentOverTheWire(t *testing.T) {
	b := device(t, thing.Line{}, func(m string) string { return "YOU SAID " + m + "\r\n" })
	wire, err := line.Hear(context.Background(), b.address, thing.Line{}, []string{"VER"}, 200*time.Millisecond)
	require.NoError(t, err)
	assert.Equal(t, []connect.Wire{{Sent: true, Text: "VER"}, {Text: "YOU SAID VER"}}, wire)
	wire, err = line.Hear(context.Background(), b.address, thing.Line{}, []string{"VER"}, time.Hour)
	require.NoError(t, err, "what has answered is not listened to for an hour")
	assert.Len(t, wire, 2)
	_, err = line.Hear(context.Background(), "127.0.0.1:1", thing.Line{}, nil, time.Millisecond)
	assert.ErrorContains(t, err, "cannot be reached")
	assert.Equal(t, `a\x02"b`, line.Shown("a\x02\"b"))

	a := connect.Announcement{Hardware: "box", Label: "Box", Address: b.address, Profile: model(t, `{}`, level)}
	heard := connecttest.NewHeard()
	wire, outcome := line.Exchange(context.Background(), a, heard, time.Millisecond, func(ctx context.Context, s *line.Session) connect.Outcome {
		return s.Write(ctx, "level", thing.Number(8))
	})
	require.True(t, outcome.OK)
	assert.Contains(t, wire, connect.Wire{Sent: true, Text: "L8"})
	assert.Contains(t, wire, connect.Wire{Text: "YOU SAID L8"})
}
