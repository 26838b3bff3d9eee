package mqtt

import (
	"log/slog"
	"net"
	"sync"

	mochi "github.com/mochi-mqtt/server/v2"
	"github.com/mochi-mqtt/server/v2/listeners"
	"github.com/mochi-mqtt/server/v2/packets"
)

// acceptor hands the connections of a listener to the broker. When it is closed it takes none any more, before clients are
// told, and waits until all have ended: none is begun while the broker waits for the last.
type acceptor struct {
	listener net.Listener
	server   *mochi.Server
	log      *slog.Logger

	mu        sync.Mutex
	ended     bool
	accepting sync.WaitGroup
	clients   sync.WaitGroup
}

const acceptorID = "tcp"

func (a *acceptor) Init(log *slog.Logger) error {
	a.log = log
	return nil
}

func (a *acceptor) ID() string       { return acceptorID }
func (a *acceptor) Address() string  { return a.listener.Addr().String() }
func (a *acceptor) Protocol() string { return "tcp" }

// Serve takes connections until it is closed.
func (a *acceptor) Serve(establish listeners.EstablishFn) {
	a.mu.Lock()
	if a.ended {
		a.mu.Unlock()
		return
	}
	a.accepting.Add(1)
	a.mu.Unlock()
	defer a.accepting.Done()
	for {
		connection, err := a.listener.Accept()
		if err != nil {
			return
		}
		a.clients.Go(func() {
			if err := establish(acceptorID, connection); err != nil {
				a.log.Info("a connection ended", "error", err)
			}
		})
	}
}

// Close takes no more connections, tells those there are, and waits for their end.
func (a *acceptor) Close(listeners.CloseFn) {
	a.mu.Lock()
	ended := a.ended
	a.ended = true
	a.mu.Unlock()
	if ended {
		return
	}
	_ = a.listener.Close()
	a.accepting.Wait()
	a.tellAll()
	a.clients.Wait()
}

// tellAll tells the clients that the broker ends. The broker's own way to do so asks twice for the lock of its clients, and for
// ever when one of them goes in between.
func (a *acceptor) tellAll() {
	for _, client := range a.server.Clients.GetAll() {
		if client.Net.Listener == acceptorID && !client.Closed() {
			_ = a.server.DisconnectClient(client, packets.ErrServerShuttingDown)
		}
	}
}
