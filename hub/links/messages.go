package links

import (
	"cmp"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"amvek/connect"
	"amvek/core/cause"
	"amvek/core/thing"
)

const (
	// messagesKept is how many messages of all connections are kept together, and bytesKept how much they take together, with
	// what they became.
	messagesKept = 4000
	bytesKept    = 4 << 20
	// longestShown is how many bytes of a message are kept.
	longestShown = 4096
	// becameAtMost is how much of what a message became is kept: a bridge tells of all its lamps at once.
	becameAtMost = 200
	// becameSize is about what one thing that a message became takes besides its texts.
	becameSize = 160
)

// Became is what a message became, or where it came from.
type Became struct {
	// Kind tells what it is.
	Kind     string      `json:"kind" enum:"report,event,refused,command,action,done,failed" doc:"What it became: a report or an event of a device, or refused; or what it was sent for, and what became of that."`
	Hardware string      `json:"hardware,omitempty"`
	Device   string      `json:"device,omitempty" doc:"Id of the device; absent for what is not in the home."`
	Name     string      `json:"name,omitempty" doc:"The property, event or action."`
	Value    thing.Value `json:"value,omitzero"`
	Reason   string      `json:"reason,omitempty"`
}

// WireMessage is what went over a connection.
type WireMessage struct {
	Number     uint64    `json:"number" doc:"Counts the messages since the start, from 1."`
	At         time.Time `json:"at"`
	Connection string    `json:"connection"`
	Sent       bool      `json:"sent,omitempty" doc:"The hub sent it; else it came in."`
	Place      string    `json:"place,omitempty" doc:"The topic, the request or the address."`
	Text       string    `json:"text,omitempty" doc:"What was said, as it was; absent where the connection tells only what it became."`
	Cut        bool      `json:"cut,omitempty" doc:"It was longer than what is kept of it."`
	Became     []Became  `json:"became,omitempty"`
	// Cause is the entry of the journal that a command follows from.
	Cause cause.ID `json:"cause,omitempty" doc:"The entry of the journal that it follows from."`
}

// Messages keeps what went over all connections lately. Its methods may be called from any goroutine; none waits for anybody who
// looks. What is too much is left out, the oldest first.
type Messages struct {
	now func() time.Time

	mu     sync.Mutex
	ring   []WireMessage // by number modulo its length
	first  uint64        // the oldest that is kept
	number uint64        // the newest
	bytes  int           // that those that are kept take, see [WireMessage.size]
}

// NewMessages returns a record of messages that are timed by a clock.
func NewMessages(now func() time.Time) *Messages { return &Messages{now: now, first: 1} }

func (m *Messages) at(number uint64) *WireMessage { return &m.ring[number%messagesKept] }

// add takes a message, numbers and times it, and returns its number.
func (m *Messages) add(e WireMessage) uint64 {
	e.At = m.now()
	m.mu.Lock()
	defer m.mu.Unlock()
	if m.ring == nil {
		m.ring = make([]WireMessage, messagesKept)
	}
	m.number++
	if m.number-m.first >= messagesKept {
		m.drop()
	}
	e.Number = m.number
	*m.at(m.number) = e
	m.bytes += e.size()
	m.fit()
	return m.number
}

// drop leaves the oldest message out.
func (m *Messages) drop() {
	old := m.at(m.first)
	m.bytes -= old.size()
	*old = WireMessage{}
	m.first++
}

// fit leaves out the oldest messages until all that is kept has room; the newest stays.
func (m *Messages) fit() {
	for m.bytes > bytesKept && m.first < m.number {
		m.drop()
	}
}

// size is about how many bytes it takes.
func (e *WireMessage) size() int {
	n := len(e.Text) + len(e.Place)
	for i := range e.Became {
		n += e.Became[i].size()
	}
	return n
}

func (b *Became) size() int { return becameSize + len(b.Reason) + len(b.Value.Text) }

// written is a message of a connection as it is kept.
func written(connection string, m connect.Message) WireMessage {
	text, cut := shownText(m.Body)
	return WireMessage{Connection: connection, Sent: m.Sent, Place: m.Place, Text: text, Cut: cut}
}

// shownText is a message as it can be read.
func shownText(body []byte) (text string, cut bool) {
	if len(body) > longestShown {
		body, cut = body[:longestShown], true
	}
	if utf8.Valid(body) {
		return string(body), cut
	}
	return strings.ToValidUTF8(string(body), "\uFFFD"), cut
}

// kept returns a message that is still kept, else nil.
func (m *Messages) kept(number uint64) *WireMessage {
	if number == 0 || number < m.first || number > m.number {
		return nil
	}
	return m.at(number)
}

// change changes a message that is still kept.
func (m *Messages) change(number uint64, f func(*WireMessage)) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if of := m.kept(number); of != nil {
		before := of.size()
		f(of)
		m.bytes += of.size() - before
		m.fit()
	}
}

func (m *Messages) became(number uint64, b Became) {
	m.mu.Lock()
	defer m.mu.Unlock()
	of := m.kept(number)
	if of == nil || len(of.Became) >= becameAtMost {
		return
	}
	of.Became = append(of.Became, b)
	m.bytes += b.size()
	m.fit()
}

// Newest returns the number of the newest message.
func (m *Messages) Newest() uint64 {
	m.mu.Lock()
	defer m.mu.Unlock()
	return m.number
}

// Wanted says which messages are asked for; what is empty does not matter.
type Wanted struct {
	After      uint64
	Connection string
	Device     string
	// Way is "in" or "out".
	Way   string
	Words string
	Limit int
}

// Read returns the newest messages that are wanted, the oldest first, and how many of those after the number were left out
// before they could be read.
func (m *Messages) Read(w Wanted) (list []WireMessage, lost uint64) {
	words := strings.Fields(strings.ToLower(w.Words))
	m.mu.Lock()
	defer m.mu.Unlock()
	if w.After > 0 && w.After+1 < m.first {
		lost = m.first - w.After - 1
	}
	for n := m.number; n >= max(m.first, w.After+1) && len(list) < w.Limit; n-- {
		if e := m.at(n); e.wanted(w, words) {
			copied := *e
			copied.Became = append([]Became(nil), e.Became...)
			list = append(list, copied)
		}
	}
	for i, j := 0, len(list)-1; i < j; i, j = i+1, j-1 {
		list[i], list[j] = list[j], list[i]
	}
	return list, lost
}

// Arrived is what came in at a place.
type Arrived struct {
	Place string
	Text  string
	At    time.Time
	Count int
}

// Lately returns what came in over a connection by its place, each as it came last, of all that is kept, the newest first.
func (m *Messages) Lately(connection string) (list []Arrived) {
	seen := map[string]int{}
	m.mu.Lock()
	defer m.mu.Unlock()
	for n := m.number; n >= m.first && n > 0; n-- {
		e := m.at(n)
		if e.Connection != connection || e.Sent || e.Place == "" {
			continue
		}
		at, there := seen[e.Place]
		if !there {
			at = len(list)
			seen[e.Place] = at
			list = append(list, Arrived{Place: e.Place, Text: e.Text, At: e.At})
		}
		list[at].Count++
	}
	return list
}

func (e *WireMessage) wanted(w Wanted, words []string) bool {
	switch {
	case w.Connection != "" && e.Connection != w.Connection,
		w.Way == "in" && e.Sent,
		w.Way == "out" && !e.Sent:
		return false
	}
	if w.Device != "" {
		found := false
		for i := range e.Became {
			found = found || cmp.Or(e.Became[i].Device, e.Became[i].Hardware) == w.Device
		}
		if !found {
			return false
		}
	}
	for _, word := range words {
		if !strings.Contains(strings.ToLower(e.Place), word) && !strings.Contains(strings.ToLower(e.Text), word) && !e.says(word) {
			return false
		}
	}
	return true
}

func (e *WireMessage) says(word string) bool {
	for i := range e.Became {
		b := &e.Became[i]
		if strings.Contains(strings.ToLower(b.Kind+" "+b.Name+" "+b.Hardware+" "+b.Reason), word) {
			return true
		}
	}
	return false
}

// hearing is a link that is told what a message became.
type hearing struct {
	*Link
	number uint64
}

// Heard implements [connect.Listener].
func (l *Link) Heard(m connect.Message) connect.Sink {
	return hearing{l, l.messages.add(written(l.ID, m))}
}

// Report implements [connect.Sink].
func (h hearing) Report(hardware, property string, value thing.Value) {
	h.messages.became(h.number, Became{Kind: "report", Hardware: hardware, Device: h.Device(hardware), Name: property, Value: value})
	h.report(hardware, property, value)
}

// Event implements [connect.Sink].
func (h hearing) Event(hardware, event string, value thing.Value) {
	h.messages.became(h.number, Became{Kind: "event", Hardware: hardware, Device: h.Device(hardware), Name: event, Value: value})
	h.event(hardware, event, value)
}

// Fault implements [connect.Sink].
func (h hearing) Fault(reason string) {
	h.messages.became(h.number, Became{Kind: "refused", Reason: reason})
	h.fault(reason)
}

// Again implements [connect.Listener].
func (l *Link) Again() connect.Sink { return hearing{l, 0} }

// Heard implements [connect.Listener]: what is said while a message is dealt with belongs to that.
func (h hearing) Heard(connect.Message) connect.Sink { return h }
