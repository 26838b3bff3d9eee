package lumbrook

import (
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestALampDoesAfterAPowerCutAsItIsSetUp(t *testing.T) {
	b := newBench(t)
	on := func(id string) bool { return b.bridge.lamp(id).Lit }
	for id, back := range map[string]string{"3": "off", "4": "on", "7": "last", "9": "last"} {
		status, _ := b.call(http.MethodPut, "/lumbrook/lamps/"+id, `{"back":"`+back+`"}`)
		assert.Equal(t, http.StatusNoContent, status)
	}
	b.call(http.MethodPut, "/lumbrook/lamps/3", `{"lit":true}`)
	b.call(http.MethodPut, "/lumbrook/lamps/9", `{"lit":true}`)
	b.bridge.PowerCut()
	assert.False(t, on("3"))
	assert.True(t, on("4"))
	assert.False(t, on("7"))
	assert.True(t, on("9"))
	for _, body := range []string{`{"back":"sometimes"}`, `{"floor":101}`, `{"soft":-1}`} {
		status, _ := b.call(http.MethodPut, "/lumbrook/lamps/4", body)
		assert.Equal(t, http.StatusBadRequest, status, body)
	}
	status, _ := b.call(http.MethodPut, "/lumbrook/lamps/3", `{"floor":10}`)
	assert.Equal(t, http.StatusBadRequest, status, "a unit that does not dim has no lowest level")
}

func TestALampDrivenTooLowFlickersUntilItsLowestLevelIsRaised(t *testing.T) {
	b := newBench(t)
	seen := func() Seen {
		lamps, _, _ := b.bridge.Seen()
		for _, l := range lamps {
			if l.ID == "4" {
				return l
			}
		}
		return Seen{}
	}
	b.call(http.MethodPut, "/lumbrook/lamps/4", `{"lit":true,"level":3}`)
	assert.True(t, seen().Flickering)
	b.call(http.MethodPut, "/lumbrook/lamps/4", `{"floor":30}`)
	assert.False(t, seen().Flickering)
	assert.InDelta(t, 33.0/250, seen().Level, 0.01)
}

func TestALampFadesByItselfAsLongAsItIsSetUp(t *testing.T) {
	b := newBench(t)
	b.call(http.MethodPut, "/lumbrook/lamps/4", `{"soft":20}`)
	b.call(http.MethodPut, "/lumbrook/lamps/4", `{"lit":true,"level":200}`)
	b.now = b.now.Add(time.Second)
	assert.InDelta(t, 100, b.bridge.lamp("4").level(b.now), 1)
	b.now = b.now.Add(2 * time.Second)
	assert.InDelta(t, 200, b.bridge.lamp("4").level(b.now), 1)
}

func TestADimmerDrivesItsLampAsItsOutputIsSetUp(t *testing.T) {
	b := newBench(t)
	seen := func() Seen {
		lamps, _, _ := b.bridge.Seen()
		return lamps[1] // the lamp 4, which dims
	}
	b.call(http.MethodPut, "/lumbrook/lamps/4", `{"lit":true,"level":40}`)
	assert.False(t, seen().Flickering)
	b.call(http.MethodPut, "/lumbrook/lamps/4", `{"output":"leading"}`)
	assert.True(t, seen().Flickering, "by the wrong edge it is steady only high up")
	b.call(http.MethodPut, "/lumbrook/lamps/4", `{"output":"switched"}`)
	assert.Equal(t, 1.0, seen().Level)
	status, _ := b.call(http.MethodPut, "/lumbrook/lamps/4", `{"output":"sideways"}`)
	assert.Equal(t, http.StatusBadRequest, status)
	status, _ = b.call(http.MethodPut, "/lumbrook/lamps/7", `{"output":"leading"}`)
	assert.Equal(t, http.StatusBadRequest, status, "only a dimmer has an output to set up")
}
