package show

import (
	"encoding/json"
	"fmt"
	"sync"
	"time"
)

const (
	// lagging is how many frames a browser may be behind before it is told to begin anew.
	lagging = 512
	// bytesPerChange is what a change takes besides what it says, about.
	bytesPerChange = 200
	// kept is how many frames are kept for browsers that come back.
	kept = 2000
	// keptBytes is how long the kept frames are together, at most.
	keptBytes = 8 << 20
	// keptFor is how long frames go on being made after the last browser left, so that it can catch up.
	keptFor = 5 * time.Minute
)

// Frame is what changed at once. Those who get the same of it share one text.
type Frame struct {
	Number  uint64
	Changes []Update

	bytes int // about

	mu    sync.Mutex
	texts map[string][]byte // by who gets it
}

// Message is a frame as it is sent.
type Message struct {
	// Run is told with the first message.
	Run    string `json:"run,omitempty" doc:"Names the start of the hub, in the first message: numbers of other starts say nothing."`
	Number uint64 `json:"number" doc:"That of the newest change in it, 0 where there is none."`
	// Looked says from when on what is looked at is told.
	Looked []string `json:"looked,omitempty" doc:"What the browser said it looks at: changes of it are told from now on, so read now what was before."`
	// Anew says that changes are missing between this frame and the last.
	Anew    bool     `json:"anew,omitempty" doc:"Changes before it are missing: ask for everything anew."`
	Changes []Update `json:"changes"`
}

// Audience is who gets what: those of the same name get the same.
type Audience struct {
	Name string
	// May reports whether they get changes of an entry; nil is all.
	May func(Key) bool
	// Trim returns what of an entry, or of a patch of one, they get; nil is nothing. Where it is nil they get all.
	Trim func(of string, text json.RawMessage, patch bool) json.RawMessage
}

// Feed spreads changes to all who listen. Its methods may be called from any goroutine.
type Feed struct {
	run    string
	joined func()

	mu          sync.Mutex
	subscribers map[*Subscription]struct{}
	frames      []*Frame // the newest last
	bytes       int      // of the frames
	left        time.Time
	number      uint64
}

// NewFeed returns a feed; run names the start of the hub, and joined is called when somebody begins to listen.
func NewFeed(run string, joined func()) *Feed {
	return &Feed{run: run, joined: joined, subscribers: map[*Subscription]struct{}{}}
}

// Run names the start of the hub.
func (f *Feed) Run() string { return f.run }

// Subscription receives frames until it is closed; its channel is closed when it lags too far behind.
type Subscription struct {
	C    chan *Frame
	feed *Feed
	// Turn is the place among those who listen, from 0: who sends what is told to each may do so one after the other.
	Turn int

	mu       sync.Mutex
	audience Audience

	// Missed are the frames since the one that it knew, and Anew that they are not all there.
	Missed []*Frame
	Anew   bool
}

// Subscribe begins a subscription. A browser that knows a frame of this run, by its number, gets those since then.
func (f *Feed) Subscribe(audience Audience, run string, since uint64) *Subscription {
	s := &Subscription{C: make(chan *Frame, lagging), feed: f, audience: audience, Anew: true}
	defer f.joined()
	f.mu.Lock()
	defer f.mu.Unlock()
	taken := map[int]bool{}
	for other := range f.subscribers {
		taken[other.Turn] = true
	}
	for taken[s.Turn] {
		s.Turn++
	}
	f.subscribers[s] = struct{}{}
	if run == f.run && (since == f.number || len(f.frames) > 0 && f.frames[0].Number <= since) {
		s.Anew = false
		for _, frame := range f.frames {
			if frame.Number > since {
				s.Missed = append(s.Missed, frame)
			}
		}
	}
	return s
}

// For makes the subscription another audience's from now on.
func (s *Subscription) For(audience Audience) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.audience = audience
}

func (s *Subscription) whose() Audience {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.audience
}

// Close ends the subscription.
func (s *Subscription) Close() {
	s.feed.mu.Lock()
	defer s.feed.mu.Unlock()
	s.feed.drop(s)
}

func (f *Feed) drop(s *Subscription) {
	if _, there := f.subscribers[s]; there {
		delete(f.subscribers, s)
		close(s.C)
		if len(f.subscribers) == 0 {
			f.left = time.Now()
		}
	}
}

// Listened reports whether anybody listens, or did until shortly.
func (f *Feed) Listened() bool {
	f.mu.Lock()
	defer f.mu.Unlock()
	if len(f.subscribers) == 0 && len(f.frames) > 0 && time.Since(f.left) > keptFor {
		f.frames, f.bytes = nil, 0
	}
	return len(f.subscribers) > 0 || len(f.frames) > 0
}

// Looks reports whether anybody who listens gets what is of a kind.
func (f *Feed) Looks(of string) bool {
	f.mu.Lock()
	defer f.mu.Unlock()
	for s := range f.subscribers {
		if whose := s.whose(); whose.May == nil || whose.May(Key{Of: of}) {
			return true
		}
	}
	return false
}

// Publish tells what changed to all who listen; it never waits for any of them. The number is that of the newest change,
// and grows from frame to frame.
func (f *Feed) Publish(number uint64, changes []Update) {
	frame := &Frame{Number: number, Changes: changes}
	for i := range changes {
		frame.bytes += len(changes[i].Put) + len(changes[i].Patch) + bytesPerChange
	}
	f.mu.Lock()
	defer f.mu.Unlock()
	f.number = number
	f.frames, f.bytes = append(f.frames, frame), f.bytes+frame.bytes
	gone := 0
	for ; len(f.frames)-gone > kept || f.bytes > keptBytes; gone++ {
		f.bytes -= f.frames[gone].bytes
		f.frames[gone] = nil
	}
	f.frames = f.frames[gone:]
	for s := range f.subscribers {
		select {
		case s.C <- frame:
		default:
			f.drop(s)
		}
	}
}

// First returns the text with which a subscription begins: what it missed, or that it begins anew.
func (s *Subscription) First() ([]byte, error) {
	message := Message{Run: s.feed.run, Anew: s.Anew, Changes: []Update{}}
	for _, frame := range s.Missed {
		message.Changes = append(message.Changes, s.whose().of(frame)...)
	}
	s.feed.mu.Lock()
	message.Number = s.feed.number
	s.feed.mu.Unlock()
	if len(s.Missed) > 0 {
		message.Number = s.Missed[len(s.Missed)-1].Number
	}
	return json.Marshal(message)
}

// Text returns a frame as the subscription gets it, encoded once for its audience; nil where it has nothing for it.
func (s *Subscription) Text(frame *Frame) ([]byte, error) {
	audience := s.whose()
	frame.mu.Lock()
	defer frame.mu.Unlock()
	if text, there := frame.texts[audience.Name]; there {
		return text, nil
	}
	var text []byte
	if changes := audience.of(frame); len(changes) > 0 {
		var err error
		if text, err = json.Marshal(Message{Number: frame.Number, Changes: changes}); err != nil {
			return nil, fmt.Errorf("encoding a frame: %w", err)
		}
	}
	if frame.texts == nil {
		frame.texts = map[string][]byte{}
	}
	frame.texts[audience.Name] = text
	return text, nil
}

func (a Audience) of(frame *Frame) []Update {
	if a.May == nil {
		return frame.Changes
	}
	var changes []Update
	for i := range frame.Changes {
		if change := frame.Changes[i]; a.May(change.Key()) && a.trim(&change) {
			changes = append(changes, change)
		}
	}
	return changes
}

// trim leaves of a change what the audience gets, and reports whether that is anything.
func (a Audience) trim(change *Update) bool {
	if a.Trim == nil || change.Gone {
		return true
	}
	put, patch := change.Put, change.Patch
	if put != nil {
		change.Put = a.Trim(change.Of, put, false)
	}
	if patch != nil {
		change.Patch = a.Trim(change.Of, patch, true)
	}
	return change.Put != nil || change.Patch != nil
}

// Gets returns an entry as the audience gets it, nil where it does not.
func (a Audience) Gets(k Key, text json.RawMessage) json.RawMessage {
	if a.May != nil && !a.May(k) {
		return nil
	}
	if a.Trim == nil {
		return text
	}
	return a.Trim(k.Of, text, false)
}
