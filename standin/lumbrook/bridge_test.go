package lumbrook

import (
	"bytes"
	"context"
	"encoding/json"
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type bench struct {
	*testing.T
	bridge *Bridge
	now    time.Time
	key    string
}

func newBench(t *testing.T) *bench {
	b := &bench{T: t, now: time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)}
	b.bridge = New(func() time.Time { return b.now }, func() {})
	require.NoError(t, b.bridge.Serve("127.0.0.1:0"))
	t.Cleanup(func() { _ = b.bridge.Close(context.Background()) })
	b.bridge.keys["k"], b.key = "test", "k"
	return b
}

func (b *bench) call(method, path, body string) (int, map[string]any) {
	request, err := http.NewRequest(method, "http://"+b.bridge.Address()+path, bytes.NewBufferString(body))
	require.NoError(b, err)
	request.Header.Set("Lumbrook-Key", b.key)
	response, err := http.DefaultClient.Do(request)
	require.NoError(b, err)
	defer func() { _ = response.Body.Close() }()
	var answer map[string]any
	_ = json.NewDecoder(response.Body).Decode(&answer)
	return response.StatusCode, answer
}

func (b *bench) lamp(id string) map[string]any {
	_, answer := b.call("GET", "/lumbrook/lamps", "")
	return answer["lamps"].(map[string]any)[id].(map[string]any)
}

func TestTheKeyComesOnlyWithinThePress(t *testing.T) {
	b := newBench(t)
	b.bridge.Press()
	b.now = b.now.Add(PressWindow + time.Second)
	status, _ := b.call("POST", "/lumbrook/keys", `{"for":"x"}`)
	assert.Equal(t, 403, status)
	b.bridge.Press()
	status, _ = b.call("POST", "/lumbrook/keys", `{}`)
	assert.Equal(t, 400, status)
	status, answer := b.call("POST", "/lumbrook/keys", `{"for":"x"}`)
	assert.Equal(t, 200, status)
	assert.NotEmpty(t, answer["key"])
}

func TestWhatALampCannotDoIsRefused(t *testing.T) {
	b := newBench(t)
	for path, body := range map[string]string{
		"/lumbrook/lamps/4": `{"level":251}`, "/lumbrook/lamps/3": `{"level":10}`, "/lumbrook/lamps/7": `{"chroma":[0.3,0.3]}`,
		"/lumbrook/lamps/9": `{"mired":20}`, "/lumbrook/lamps/77": `{"lit":true}`, "/lumbrook/lamps/8": `{"sing":1}`,
	} {
		status, answer := b.call("PUT", path, body)
		assert.GreaterOrEqual(t, status, 400, path)
		assert.NotEmpty(t, answer["fault"], path)
	}
	assert.Equal(t, 200.0, b.lamp("4")["level"])
}

func TestAFadePassesThroughTheLevelsBetween(t *testing.T) {
	b := newBench(t)
	b.call("PUT", "/lumbrook/lamps/4", `{"lit":true,"level":250,"over":10000}`)
	b.now = b.now.Add(5 * time.Second)
	assert.InDelta(t, 125, b.lamp("4")["level"], 2)
	end, fading := b.bridge.Next()
	assert.True(t, fading)
	assert.Equal(t, b.now.Add(5*time.Second), end)
	b.now = end
	assert.Equal(t, 250.0, b.lamp("4")["level"])
	assert.Equal(t, 240.0, b.bridge.Light("Galley"))
	_, fading = b.bridge.Next()
	assert.False(t, fading)
}

func TestEveryFifthCommandIsFollowedByAnOldState(t *testing.T) {
	b := newBench(t)
	for range 4 {
		b.call("PUT", "/lumbrook/lamps/4", `{"lit":true}`)
	}
	b.call("PUT", "/lumbrook/lamps/4", `{"lit":false}`)
	assert.Equal(t, true, b.lamp("4")["lit"])
	assert.Equal(t, false, b.lamp("4")["lit"])
}

func TestKeysAndLampsOutliveAPowerCut(t *testing.T) {
	b := newBench(t)
	b.call("PUT", "/lumbrook/lamps/4", `{"lit":true,"level":99}`)
	data, err := b.bridge.Save()
	require.NoError(t, err)
	again := newBench(t)
	delete(again.bridge.keys, "k")
	status, _ := again.call("GET", "/lumbrook/lamps", "")
	assert.Equal(t, 401, status)
	require.NoError(t, again.bridge.Restore(data))
	assert.Equal(t, 99.0, again.lamp("4")["level"])
	assert.Error(t, again.bridge.Restore([]byte("none")))
}
