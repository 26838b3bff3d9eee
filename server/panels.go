package server

import (
	"context"
	"encoding/json"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gofiber/contrib/v3/websocket"
	"github.com/gofiber/fiber/v3"

	"amvek/connect/panel"
	"amvek/hub"
)

// Panels are the tablets on the walls, as whoever has a connection to one attaches it.
type Panels interface {
	// Attach takes a panel that opened a connection; what it says goes to heard, and detach ends it.
	Attach(address string, send func(panel.Order) error) (heard func([]byte), detach func())
}

func (s *Server) registerPanels(api huma.API) {
	operation(s, api, "add-panel", http.MethodPost, "/panels", "Set a panel up: a tablet is let in as it by a code",
		func(ctx context.Context, in *struct{ Body hub.NewPanel }) (*body[Saved], error) {
			id, err := s.hub.AddPanel(ctx, in.Body)
			return &body[Saved]{Saved{id, 1}}, err
		})
	operation(s, api, "panel-pictures", http.MethodGet, "/panels/{id}/pictures", "When a panel took the pictures that are kept, the newest first",
		func(ctx context.Context, in *IDPath) (*body[[]hub.PanelPicture], error) {
			list, err := s.hub.PanelPictures(ctx, in.ID)
			return &body[[]hub.PanelPicture]{list}, err
		})
	operation(s, api, "panel-picture", http.MethodGet, "/panels/{id}/pictures/{at}", "A picture that a panel took", func(ctx context.Context, in *struct {
		IDPath
		At int64 `path:"at"`
	}) (*shown, error) {
		data, err := s.hub.PanelPictureOf(ctx, in.ID, in.At)
		return &shown{ContentType: "image/jpeg", Policy: "default-src 'none'", Caching: "private, max-age=31536000, immutable", Body: data}, err
	})
}

// panelKey is where the request of a panel keeps which it is.
const panelKey = "panel"

// ordersWait is how many orders wait for a slow tablet before it is taken for gone.
const ordersWait = 32

// panel is the connection of a tablet that was let in as a panel: it says how it is, and is told what to do.
func (s *Server) panel() fiber.Handler {
	speak := websocket.New(s.speak, websocket.Config{ReadBufferSize: 4 << 10, WriteBufferSize: 4 << 10})
	return func(c fiber.Ctx) error {
		asks := s.recognise(c.Context(), s.shows(c))
		if _, is := s.hub.Panel(asks.session.Person); !is || s.panels == nil {
			return fiber.NewError(http.StatusForbidden, "Only a panel speaks here.")
		}
		c.Locals(panelKey, &listener{s.shows(c), asks, s.hub.GateVersion()})
		return speak(c)
	}
}

func (s *Server) speak(c *websocket.Conn) {
	who, is := c.Locals(panelKey).(*listener)
	if !is {
		return
	}
	orders := make(chan panel.Order, ordersWait)
	gone := make(chan struct{})
	heard, detach := s.panels.Attach(who.who.session.Person, func(order panel.Order) error {
		select {
		case orders <- order:
			return nil
		case <-gone:
			return errPanelGone
		default:
			return errPanelSlow
		}
	})
	defer detach()
	c.SetReadLimit(panel.LongestMessage)
	go func() {
		defer close(gone)
		for {
			_, data, err := c.ReadMessage()
			if err != nil {
				return
			}
			heard(data)
		}
	}()
	s.tell(c, who, orders, gone)
	_ = c.SetReadDeadline(time.Now())
	<-gone
}

// tell sends a panel its orders until it is gone, is no panel any more, or the server closes.
func (s *Server) tell(c *websocket.Conn, who *listener, orders <-chan panel.Order, gone <-chan struct{}) {
	ping, look := time.NewTicker(pingEvery), time.NewTicker(looksEvery)
	defer ping.Stop()
	defer look.Stop()
	id := who.who.session.Person
	for {
		kind, data := websocket.PingMessage, []byte(nil)
		select {
		case <-look.C:
			if !s.stillPanel(who, id) {
				return
			}
			continue
		case order := <-orders:
			text, err := json.Marshal(order)
			if err != nil {
				s.log.Error("a panel could not be told", "error", err)
				continue
			}
			kind, data = websocket.TextMessage, text
		case <-ping.C:
		case <-gone:
			return
		case <-s.closing:
			return
		}
		if !s.stillPanel(who, id) {
			return
		}
		if c.SetWriteDeadline(time.Now().Add(writeLimit)) != nil || c.WriteMessage(kind, data) != nil {
			return
		}
	}
}

// looksEvery is how soon a panel that was ended is out, and how soon somebody hears that they may see other things.
const looksEvery = time.Second

// stillPanel reports whether whoever has a panel's connection is that panel still.
func (s *Server) stillPanel(who *listener, id string) bool {
	listens, _ := s.still(who)
	_, is := s.hub.Panel(id)
	return listens && is && who.who.session.Person == id
}

// panelError is why a panel cannot be told what to do.
type panelError string

func (e panelError) Error() string { return string(e) }

const (
	errPanelGone panelError = "the panel is not connected"
	errPanelSlow panelError = "the panel does not keep up"
)
