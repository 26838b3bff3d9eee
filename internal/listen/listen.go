// Package listen opens listeners that no stranger can wear down: the connections at one time are bounded, whoever connects
// must say something soon, whoever does not read is let go, and running out of files ends nothing. It knows no protocol.
package listen

import (
	"errors"
	"log/slog"
	"net"
	"os"
	"sync"
	"sync/atomic"
	"syscall"
	"time"
)

// Bounds are those of a listener. Zero fields bound nothing.
type Bounds struct {
	// Connections is how many there may be at one time; any more are closed at once.
	Connections int
	// FirstWord is within what time the first bytes must come, unless the protocol sets a deadline of its own meanwhile.
	FirstWord time.Duration
	// Write is how long one write may take, of a peer that does not read.
	Write time.Duration
}

// Listener is a bounded listener on TCP. Make one with [Open].
type Listener struct {
	net.Listener
	bounds Bounds
	log    *slog.Logger
	closed chan struct{}
	once   sync.Once
	turned atomic.Int64

	mu   sync.Mutex
	open map[*conn]struct{}
}

// Open listens on a TCP address.
func Open(address string, b Bounds, log *slog.Logger) (*Listener, error) {
	inner, err := net.Listen("tcp", address)
	if err != nil {
		return nil, err
	}
	return &Listener{Listener: inner, bounds: b, log: log, closed: make(chan struct{}), open: map[*conn]struct{}{}}, nil
}

// Turned returns how many connections were closed at once because there were too many.
func (l *Listener) Turned() int64 { return l.turned.Load() }

// Accept implements [net.Listener]. It ends with the listener alone: where no file is left for a connection, it tries again.
func (l *Listener) Accept() (net.Conn, error) {
	for pause := 5 * time.Millisecond; ; {
		c, err := l.Listener.Accept()
		if err == nil {
			if kept := l.admit(c); kept != nil {
				return kept, nil
			}
			continue
		}
		if errors.Is(err, net.ErrClosed) || !passes(err) {
			return nil, err
		}
		l.log.Warn("no connection could be taken; trying again", "error", err)
		select {
		case <-l.closed:
			return nil, net.ErrClosed
		case <-time.After(pause):
			pause = min(2*pause, time.Second)
		}
	}
}

// passes reports whether an error of accepting is one that passes by itself.
func passes(err error) bool {
	return errors.Is(err, syscall.EMFILE) || errors.Is(err, syscall.ENFILE) || errors.Is(err, syscall.ECONNABORTED) || errors.Is(err, syscall.ENOBUFS) ||
		errors.Is(err, syscall.ENOMEM) ||
		os.IsTimeout(err)
}

func (l *Listener) admit(c net.Conn) net.Conn {
	kept := &conn{Conn: c, listener: l}
	l.mu.Lock()
	full := l.bounds.Connections > 0 && len(l.open) >= l.bounds.Connections
	if !full {
		l.open[kept] = struct{}{}
	}
	l.mu.Unlock()
	if full {
		l.turned.Add(1)
		_ = c.Close()
		return nil
	}
	if l.bounds.FirstWord > 0 {
		_ = c.SetReadDeadline(time.Now().Add(l.bounds.FirstWord))
	}
	return kept
}

// Close implements [net.Listener]. Connections that are open stay so.
func (l *Listener) Close() error {
	l.once.Do(func() { close(l.closed) })
	return l.Listener.Close()
}

// CloseConnections closes all connections that are open, whatever they are doing.
func (l *Listener) CloseConnections() {
	l.mu.Lock()
	open := make([]*conn, 0, len(l.open))
	for c := range l.open {
		open = append(open, c)
	}
	l.mu.Unlock()
	for _, c := range open {
		_ = c.Close()
	}
}

// Open returns how many connections are open.
func (l *Listener) Open() int {
	l.mu.Lock()
	defer l.mu.Unlock()
	return len(l.open)
}

type conn struct {
	net.Conn
	listener *Listener
}

// Write gives up on a peer that does not read.
func (c *conn) Write(p []byte) (int, error) {
	if d := c.listener.bounds.Write; d > 0 {
		_ = c.Conn.SetWriteDeadline(time.Now().Add(d))
	}
	n, err := c.Conn.Write(p)
	if os.IsTimeout(err) {
		_ = c.Close()
	}
	return n, err
}

func (c *conn) Close() error {
	c.listener.mu.Lock()
	delete(c.listener.open, c)
	c.listener.mu.Unlock()
	return c.Conn.Close()
}

// Share returns a share of the files that this process may open, from least to most, for the bound of a listener: the rest
// is for the database, the devices and whatever else there is.
func Share(part float64, least, most int) int {
	var limit syscall.Rlimit
	if err := syscall.Getrlimit(syscall.RLIMIT_NOFILE, &limit); err != nil {
		return least
	}
	return int(min(max(float64(limit.Cur)*part, float64(least)), float64(most)))
}
