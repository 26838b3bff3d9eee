package server

import (
	"encoding/json"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/contrib/v3/websocket"
	"github.com/gofiber/fiber/v3"

	"amvek/hub"
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

// audience returns who gets the home itself and some of what is told to those only who look at it.
func audience(look []string) show.Audience {
	look = slices.DeleteFunc(slices.Clone(look), func(of string) bool { return !slices.Contains(hub.LookedAt(), of) })
	slices.Sort(look)
	unwanted := slices.DeleteFunc(hub.LookedAt(), func(of string) bool { return slices.Contains(look, of) })
	return show.Audience{Name: strings.Join(look, " "), May: func(k show.Key) bool { return !slices.Contains(unwanted, k.Of) }}
}

// live is the feed of changes: each message is one JSON object. A browser that was away tells the run and the number that
// it knows, and gets what it missed; where that is not known any more it is told to begin anew. When the hub closes the
// feed, the browser joins again.
func (s *Server) live() fiber.Handler {
	return websocket.New(func(c *websocket.Conn) {
		since, err := strconv.ParseUint(c.Query("since"), 10, 64)
		run := c.Query("run")
		if err != nil {
			run = ""
		}
		look := strings.FieldsFunc(c.Query("look"), func(r rune) bool { return r == ',' })
		subscription := s.hub.Feed.Subscribe(audience(look), run, since)
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
					subscription.For(audience(looking.Look))
					select {
					case <-looks: // was not told yet: the newest counts
					default:
					}
					looks <- looking.Look
				}
			}
		}()
		s.feed(c, subscription, looks, gone)
		_ = c.Close()
		<-gone
	})
}

func (s *Server) feed(c *websocket.Conn, subscription *show.Subscription, looks <-chan []string, gone <-chan struct{}) {
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
	ping := time.NewTicker(pingEvery)
	defer ping.Stop()
	for {
		select {
		case frame, open := <-subscription.C:
			if !open {
				return
			}
			if turn := subscription.Turn % turns; turn > 0 {
				time.Sleep(time.Duration(turn) * apart)
			}
			if !say(subscription.Text(frame)) {
				return
			}
		case look := <-looks:
			if len(look) > 0 && !say(json.Marshal(show.Message{Looked: look, Changes: []show.Update{}})) {
				return
			}
		case <-ping.C:
			if !send(websocket.PingMessage, nil) {
				return
			}
		case <-gone:
			return
		case <-s.closing:
			return
		}
	}
}
