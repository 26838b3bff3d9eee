package server

import (
	"context"
	"encoding/json"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/contrib/v3/websocket"
	"github.com/gofiber/fiber/v3"

	"amvek/core/gate"
	"amvek/hub/show"
)

const (
	pingEvery  = 15 * time.Second
	writeLimit = 10 * time.Second
	// apart is how long after each other browsers are told the same, so that twenty of them do not keep the house waiting
	// at once; the turns of so many come before the first is told again.
	apart = 2 * time.Millisecond
	turns = 16
)

// Looking is what a browser sends: what it looks at besides the home itself.
type Looking struct {
	Look []string `json:"look" doc:"What is looked at besides the home itself: journal, bench or trial."`
}

// live is the feed of changes: each message is one JSON object. A browser that was away tells the run and the number that
// it knows, and gets what it missed; where that is not known any more it is told to begin anew. When the hub closes the
// feed, the browser joins again.
func (s *Server) live() fiber.Handler {
	follow := s.follow()
	return func(c fiber.Ctx) error {
		shown := s.shows(c)
		asks := s.recognise(c.Context(), shown)
		if !asks.May(gate.SignedIn, gate.Thing{}) {
			status, text := s.refusal(asks)
			return fiber.NewError(status, text)
		}
		c.Locals(listenerKey, &listener{shown, asks, s.hub.GateVersion()})
		return follow(c)
	}
}

// listenerKey is where the request for a feed keeps who asks for it.
const listenerKey = "listener"

// listener is whoever a feed is told to.
type listener struct {
	shown   credentials
	who     *caller
	version uint64
}

// still reports whether somebody may go on listening, and whether they are told other things than before: what they may see may
// have changed.
func (s *Server) still(l *listener) (listens, changed bool) {
	version := s.hub.GateVersion()
	if version == l.version && !l.who.mayEnd {
		return true, false
	}
	now := s.recognise(context.Background(), l.shown)
	changed = now.Class != l.who.Class
	l.who, l.version = now, version
	return now.May(gate.SignedIn, gate.Thing{}), changed
}

func (s *Server) follow() fiber.Handler {
	return websocket.New(func(c *websocket.Conn) {
		who, is := c.Locals(listenerKey).(*listener)
		if !is {
			return
		}
		since, err := strconv.ParseUint(c.Query("since"), 10, 64)
		run := c.Query("run")
		if err != nil {
			run = ""
		}
		look := strings.FieldsFunc(c.Query("look"), func(r rune) bool { return r == ',' })
		subscription := s.hub.Feed.Subscribe(who.who.audience(look), run, since)
		defer subscription.Close()
		gone, looks := make(chan struct{}), make(chan []string, 1)
		looks <- look
		go func() {
			defer close(gone)
			for {
				_, data, err := c.ReadMessage()
				if err != nil {
					return
				}
				var looking Looking
				if json.Unmarshal(data, &looking) == nil {
					select {
					case <-looks: // was not told yet: the newest counts
					default:
					}
					looks <- looking.Look
				}
			}
		}()
		s.feed(c, who, subscription, looks, gone)
		// Closing it does nothing until this function returns (fasthttp closes what it gave away), so the reader is ended by time.
		_ = c.SetReadDeadline(time.Now())
		<-gone
	})
}

func (s *Server) feed(c *websocket.Conn, who *listener, subscription *show.Subscription, looks <-chan []string, gone <-chan struct{}) {
	send := func(kind int, data []byte) bool {
		return c.SetWriteDeadline(time.Now().Add(writeLimit)) == nil && c.WriteMessage(kind, data) == nil
	}
	say := func(data []byte, err error) bool {
		if err != nil {
			s.log.Error("a change could not be told", "error", err)
			return false
		}
		return data == nil || send(websocket.TextMessage, data)
	}
	if !say(subscription.First()) {
		return
	}
	ping, again := time.NewTicker(pingEvery), time.NewTicker(looksEvery)
	defer ping.Stop()
	defer again.Stop()
	var looked []string
	// What somebody may not see any more they are not told any more, from the very frame in which that changed.
	may := func() bool {
		listens, changed := s.still(who)
		if !listens {
			return false
		}
		if changed {
			looked = who.who.lookedAt(looked)
			subscription.For(who.who.audience(looked))
			return say(json.Marshal(show.Message{Anew: true, Changes: []show.Update{}}))
		}
		return true
	}
	for {
		select {
		case frame, open := <-subscription.C:
			if !open {
				return
			}
			if turn := subscription.Turn % turns; turn > 0 {
				time.Sleep(time.Duration(turn) * apart)
			}
			if !may() || !say(subscription.Text(frame)) {
				return
			}
		case look := <-looks:
			looked = who.who.lookedAt(look)
			subscription.For(who.who.audience(looked))
			if len(look) > 0 && !say(json.Marshal(show.Message{Looked: looked, Changes: []show.Update{}})) {
				return
			}
		case <-again.C:
			if !may() {
				return
			}
		case <-ping.C:
			if !may() || !send(websocket.PingMessage, nil) {
				return
			}
		case <-gone:
			return
		case <-s.closing:
			return
		}
	}
}
