package listen_test

import (
	"context"
	"errors"
	"io"
	"log/slog"
	"net"
	"os"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/internal/listen"
)

func open(t *testing.T, b listen.Bounds) *listen.Listener {
	t.Helper()
	l, err := listen.Open("127.0.0.1:0", b, slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	t.Cleanup(func() { _ = l.Close(); l.CloseConnections() })
	return l
}

func dial(t *testing.T, l net.Listener) net.Conn {
	t.Helper()
	c, err := net.Dial("tcp", l.Addr().String())
	require.NoError(t, err)
	t.Cleanup(func() { _ = c.Close() })
	return c
}

func accept(t *testing.T, l net.Listener) net.Conn {
	t.Helper()
	c, err := l.Accept()
	require.NoError(t, err)
	return c
}

// ended reports whether the other side closed a connection.
func ended(t *testing.T, c net.Conn) bool {
	t.Helper()
	require.NoError(t, c.SetReadDeadline(time.Now().Add(5*time.Second)))
	_, err := c.Read(make([]byte, 1))
	return errors.Is(err, io.EOF) || errors.Is(err, syscall.ECONNRESET)
}

func TestNoMoreConnectionsThanTheBound(t *testing.T) {
	l := open(t, listen.Bounds{Connections: 1})
	dial(t, l)
	first := accept(t, l)
	turned := dial(t, l)
	taken := make(chan net.Conn, 1)
	go func() {
		c, err := l.Accept()
		if err == nil {
			taken <- c
		}
	}()
	assert.True(t, ended(t, turned), "the second is closed at once")
	assert.Equal(t, int64(1), l.Turned())
	require.NoError(t, first.Close())
	dial(t, l)
	<-taken
	assert.Equal(t, 1, l.Open())
}

func TestWhoSaysNothingIsLetGo(t *testing.T) {
	l := open(t, listen.Bounds{FirstWord: time.Millisecond})
	dial(t, l)
	_, err := accept(t, l).Read(make([]byte, 1))
	assert.True(t, os.IsTimeout(err), "%v", err)
}

func TestWhoDoesNotReadIsLetGo(t *testing.T) {
	l := open(t, listen.Bounds{Write: time.Millisecond})
	dial(t, l)
	c := accept(t, l)
	var err error
	for err == nil { // until the buffers between are full
		_, err = c.Write(make([]byte, 1<<20))
	}
	assert.True(t, os.IsTimeout(err), "%v", err)
	assert.Zero(t, l.Open())
}

func TestAllConnectionsCloseAtOnce(t *testing.T) {
	l := open(t, listen.Bounds{})
	c := dial(t, l)
	accept(t, l)
	require.NoError(t, l.Close())
	l.CloseConnections()
	assert.True(t, ended(t, c))
	_, err := l.Accept()
	assert.ErrorIs(t, err, net.ErrClosed)
}

// warned tells of warnings.
type warned struct {
	slog.Handler
	told chan struct{}
}

func (w warned) Enabled(context.Context, slog.Level) bool { return true }
func (w warned) Handle(context.Context, slog.Record) error {
	select {
	case w.told <- struct{}{}:
	default:
	}
	return nil
}

// Where no file is left, the listener waits until there is one, instead of ending.
func TestRunningOutOfFilesEndsNothing(t *testing.T) {
	w := warned{slog.DiscardHandler, make(chan struct{}, 1)}
	l, err := listen.Open("127.0.0.1:0", listen.Bounds{}, slog.New(w))
	require.NoError(t, err)
	t.Cleanup(func() { _ = l.Close(); l.CloseConnections() })
	before := syscall.Rlimit{}
	require.NoError(t, syscall.Getrlimit(syscall.RLIMIT_NOFILE, &before))
	dial(t, l)
	none := before
	none.Cur = 3
	require.NoError(t, syscall.Setrlimit(syscall.RLIMIT_NOFILE, &none))
	taken := make(chan error, 1)
	go func() {
		_, err := l.Accept()
		taken <- err
	}()
	<-w.told // a try has failed
	require.NoError(t, syscall.Setrlimit(syscall.RLIMIT_NOFILE, &before))
	require.NoError(t, <-taken)
}
