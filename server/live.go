package server

import (
	"time"

	"github.com/gofiber/contrib/v3/websocket"
	"github.com/gofiber/fiber/v3"
)

const (
	pingEvery  = 15 * time.Second
	writeLimit = 10 * time.Second
)

// live is the feed of changes: each message is one JSON object. When the hub closes it, the
// browser joins again and asks for everything anew.
func (s *Server) live() fiber.Handler {
	return websocket.New(func(c *websocket.Conn) {
		subscription := s.hub.Feed.Subscribe()
		defer subscription.Close()
		gone := make(chan struct{})
		go func() {
			defer close(gone)
			for {
				// Nothing is expected from the browser; reading notices that it left.
				if _, _, err := c.ReadMessage(); err != nil {
					return
				}
			}
		}()
		s.feed(c, subscription.C, gone)
		_ = c.Close()
		<-gone
	})
}

func (s *Server) feed(c *websocket.Conn, messages <-chan []byte, gone <-chan struct{}) {
	ping := time.NewTicker(pingEvery)
	defer ping.Stop()
	for {
		kind, data := websocket.TextMessage, []byte(nil)
		select {
		case m, open := <-messages:
			if !open {
				return
			}
			data = m
		case <-ping.C:
			kind = websocket.PingMessage
		case <-gone:
			return
		case <-s.closing:
			return
		}
		if c.SetWriteDeadline(time.Now().Add(writeLimit)) != nil || c.WriteMessage(kind, data) != nil {
			return
		}
	}
}
