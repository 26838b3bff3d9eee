package server_test

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/fasthttp/websocket"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/hub/show"
)

func TestTheFeedSaysFromWhenOnWhatIsLookedAtIsTold(t *testing.T) {
	url, home := serveHome(t, deaf{})
	feed, answered, err := websocket.DefaultDialer.Dial(strings.Replace(url, "http", "ws", 1)+"/api/live?look=bench", nil)
	require.NoError(t, err)
	defer func() { _ = answered.Body.Close(); _ = feed.Close() }()
	next := func(wanted func(show.Message) bool) (m show.Message) {
		require.NoError(t, feed.SetReadDeadline(time.Now().Add(20*time.Second)))
		for {
			_, data, err := feed.ReadMessage()
			require.NoError(t, err)
			m = show.Message{}
			require.NoError(t, json.Unmarshal(data, &m))
			if wanted(m) {
				return m
			}
		}
	}
	first := next(func(show.Message) bool { return true })
	assert.True(t, first.Anew)
	assert.NotEmpty(t, first.Run)
	looked := func(m show.Message) bool { return m.Looked != nil }
	assert.Equal(t, []string{"bench"}, next(looked).Looked)

	require.NoError(t, feed.WriteMessage(websocket.TextMessage, []byte("nonsense")))
	require.NoError(t, feed.WriteMessage(websocket.TextMessage, []byte(`{"look":["journal"]}`)))
	assert.Equal(t, []string{"journal"}, next(looked).Looked)
	made := call(t, "POST", url+"/api/rules", `{"title":"Wait","enabled":true,"do":[{"kind":"wait","forSeconds":1}]}`)
	require.Less(t, made.status, 300, made.body)
	rules, err := home.Rules(t.Context())
	require.NoError(t, err)
	require.Less(t, call(t, "POST", url+"/api/rules/"+rules[0].ID+"/run", "").status, 300)
	next(func(m show.Message) bool {
		for _, u := range m.Changes {
			if u.Of == "journal" {
				return true
			}
		}
		return false
	})
}
