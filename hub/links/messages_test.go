package links

import (
	"fmt"
	"log/slog"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/core/thing"
)

func noon() time.Time { return time.Date(2026, 11, 14, 12, 0, 0, 0, time.UTC) }

func TestAMessageSaysWhatItBecame(t *testing.T) {
	h := &loop{}
	messages := NewMessages(noon)
	l := New(Options{
		ID: "gateways", Inbox: h, Home: h, Log: slog.New(slog.DiscardHandler), Messages: messages, Devices: map[string]string{"qt-1": "device-lamp"},
	})
	sink := connect.Heard(l, "quillet/g/n1/say", []byte(`{"br":254,"tn":3}`))
	sink.Report("qt-1", "brightness", thing.Number(100))
	sink.Event("qt-2", "turn", thing.Number(3))
	sink.Fault("The message is not whole.")
	connect.Heard(sink, "within", []byte("x")).Report("qt-1", "on", thing.Boolean(true)) // belongs to the same
	l.Report("qt-1", "watts", thing.Number(4))                                           // told without its message

	all, lost := messages.Read(Wanted{Limit: 10})
	require.Len(t, all, 2)
	assert.Zero(t, lost)
	assert.Equal(t, WireMessage{
		Number: 1, At: noon(), Connection: "gateways", Place: "quillet/g/n1/say", Text: `{"br":254,"tn":3}`,
		Became: []Became{
			{Kind: "report", Hardware: "qt-1", Device: "device-lamp", Name: "brightness", Value: thing.Number(100)},
			{Kind: "event", Hardware: "qt-2", Name: "turn", Value: thing.Number(3)},
			{Kind: "refused", Reason: "The message is not whole."},
			{Kind: "report", Hardware: "qt-1", Device: "device-lamp", Name: "on", Value: thing.Boolean(true)},
		},
	}, all[0])
	assert.Empty(t, all[1].Text)

	for name, c := range map[string]struct {
		wanted Wanted
		count  int
	}{
		"by its device":           {Wanted{Device: "device-lamp"}, 2},
		"by strange hardware":     {Wanted{Device: "qt-2"}, 1},
		"by its connection":       {Wanted{Connection: "bridge"}, 0},
		"by its way":              {Wanted{Way: "out"}, 0},
		"by its topic":            {Wanted{Words: "N1 say"}, 1},
		"by its text":             {Wanted{Words: "254"}, 1},
		"by what it became":       {Wanted{Words: "refused whole"}, 1},
		"by words that are apart": {Wanted{Words: "254 nowhere"}, 0},
		"by what came after":      {Wanted{After: 1}, 1},
	} {
		c.wanted.Limit = 10
		list, _ := messages.Read(c.wanted)
		assert.Len(t, list, c.count, name)
	}
	all[0].Became[0].Name = "changed outside"
	again, _ := messages.Read(Wanted{Limit: 1, Words: "254"})
	assert.Equal(t, "brightness", again[0].Became[0].Name)
}

func TestMessagesAreBoundedAndWhatIsLostIsSaid(t *testing.T) {
	h := &loop{}
	messages := NewMessages(noon)
	l := New(Options{ID: "g", Inbox: h, Home: h, Log: slog.New(slog.DiscardHandler), Messages: messages})
	const many = 10_000
	for i := range many {
		connect.Heard(l, fmt.Sprintf("topic/%d", i), []byte("said"))
	}
	list, lost := messages.Read(Wanted{After: 1, Limit: many})
	assert.Len(t, list, 4000)
	assert.Equal(t, uint64(many-4000-1), lost)
	assert.Equal(t, "topic/9999", list[len(list)-1].Place)
	assert.Equal(t, uint64(many), messages.Newest())

	// Long ones are cut, and together they stay within their room.
	for range 4000 {
		connect.Heard(l, "picture", []byte(strings.Repeat("ä", 50_000)))
	}
	list, _ = messages.Read(Wanted{Limit: many})
	bytes := 0
	for _, m := range list {
		bytes += len(m.Text)
		assert.True(t, m.Cut)
	}
	assert.LessOrEqual(t, bytes, 4<<20)
	assert.Greater(t, bytes, 3<<20)

	// So does what they became: a bridge tells of all its lamps in one answer.
	for range 4000 {
		sink := connect.Heard(l, "bridge", nil)
		for range 300 {
			sink.Report("lamp", "brightness", thing.Number(1))
		}
	}
	list, _ = messages.Read(Wanted{Limit: many})
	became := 0
	for _, m := range list {
		assert.LessOrEqual(t, len(m.Became), 200)
		became += len(m.Became)
	}
	assert.Less(t, became, 4<<20/100)
	assert.Greater(t, became, 4<<20/200)
}

func TestWhatCameLatelyIsToldByItsPlace(t *testing.T) {
	m := NewMessages(time.Now)
	say := func(connection, place, text string, sent bool) {
		m.add(written(connection, connect.Message{Place: place, Body: []byte(text), Sent: sent}))
	}
	assert.Empty(t, m.Lately("wire"))
	say("wire", "a", "1", false)
	say("wire", "b", "2", false)
	say("other", "c", "3", false)
	say("wire", "a", "4", false)
	say("wire", "a", "set", true)
	say("wire", "", "no place", false)
	lately := m.Lately("wire")
	require.Len(t, lately, 2)
	assert.Equal(t, Arrived{Place: "a", Text: "4", Count: 2, At: lately[0].At}, lately[0])
	assert.Equal(t, "2", lately[1].Text)
}
