package engine

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"amvek/core/thing"
)

// Whatever devices are called, and however many come and go, each is found, and nothing else is.
func TestTheIndexFindsWhatTheMapHas(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		ids := rapid.SliceOfDistinct(rapid.OneOf(rapid.StringN(0, 12, 24), rapid.Custom(func(t *rapid.T) string {
			return fmt.Sprintf("%ddevice-alike", rapid.IntRange(0, 500).Draw(t, "n")) // alike where the hash looks
		})), func(s string) string { return s }).Draw(t, "ids")
		byDevice := map[string][]slot{}
		for _, id := range ids {
			byDevice[id] = []slot{{ref: thing.Ref{Device: id}}}
		}
		x := newIndex(byDevice)
		for _, id := range ids {
			assert.Equal(t, id, x.of(id)[0].ref.Device)
		}
		other := rapid.String().Draw(t, "other")
		if _, there := byDevice[other]; !there {
			assert.Nil(t, x.of(other))
		}
	})
}
