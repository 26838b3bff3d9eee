package engine

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/thing"
)

// Whatever is put in and taken out, in whatever order, an index finds what a map does.
func TestAnIndexFindsWhatAMapFinds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var x index
		want := map[thing.Ref]*slot{}
		refs := rapid.Custom(func(t *rapid.T) thing.Ref {
			return thing.Ref{
				Device: fmt.Sprint("d", rapid.IntRange(0, 40).Draw(t, "device")),
				Name:   rapid.SampledFrom([]string{"", "a", "on", "or", "power1", "power2", "p1ower"}).Draw(t, "name"),
			}
		})
		t.Repeat(map[string]func(*rapid.T){
			"put": func(t *rapid.T) {
				s := &slot{ref: refs.Draw(t, "ref")}
				want[s.ref] = s
				x.put(s)
			},
			"remove": func(t *rapid.T) {
				if s := want[refs.Draw(t, "ref")]; s != nil {
					delete(want, s.ref)
					x.remove(s)
				}
			},
			"remove what is not there": func(t *rapid.T) { x.remove(&slot{ref: refs.Draw(t, "ref")}) },
			"": func(t *rapid.T) {
				require.Equal(t, len(want), x.count)
				for range 5 {
					ref := refs.Draw(t, "sought")
					require.Same(t, want[ref], x.find(ref.Device, ref.Name))
				}
				for ref, s := range want {
					require.Same(t, s, x.find(ref.Device, ref.Name))
				}
			},
		})
	})
}
