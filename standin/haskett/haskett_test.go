package haskett

import (
	"bufio"
	"net"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAnAnswerComesHoweverLongAfterTheLastTelegram(t *testing.T) {
	a := New(time.Now, func(string) float64 { return 8 }, func() {})
	require.NoError(t, a.Serve("127.0.0.1:0"))
	defer func() { assert.NoError(t, a.Close()) }()
	client, err := net.Dial("tcp", a.Address())
	require.NoError(t, err)
	defer func() { _ = client.Close() }()
	_ = client.SetReadDeadline(time.Now().Add(20 * time.Second))
	lines := bufio.NewScanner(client)
	require.True(t, lines.Scan())
	assert.Contains(t, lines.Text(), "HASKETT")
	a.mu.Lock()
	for c := range a.clients {
		_ = c.SetWriteDeadline(time.Now().Add(-time.Second)) // as the telegram of some time ago left it
	}
	a.mu.Unlock()
	_, err = client.Write([]byte("PING\r\n"))
	require.NoError(t, err)
	require.True(t, lines.Scan(), "no answer")
	assert.Equal(t, "PONG", lines.Text())
}
