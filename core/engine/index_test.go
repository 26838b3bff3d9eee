package engine

import (
	"fmt"
	"math/rand/v2"
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

// Many that are taken out one after the other leave the others where they are found, though most stand in places that are not
// their first.
func TestAnIndexClosesUpWhereMuchIsTakenOut(t *testing.T) {
	chance := rand.New(rand.NewPCG(1, 2))
	for range 20 {
		var x index
		var all []*slot
		for i := range 32 { // as many as go into the first places, so that they crowd there
			s := &slot{ref: thing.Ref{Device: fmt.Sprint("d", chance.IntN(1000), "-", i), Name: "on"}}
			all = append(all, s)
			x.put(s)
		}
		require.Len(t, x.places, leastPlaces)
		chance.Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
		for len(all) > 0 {
			x.remove(all[0])
			require.Nil(t, x.find(all[0].ref.Device, "on"))
			all = all[1:]
			require.Equal(t, len(all), x.count)
			for _, s := range all {
				require.Same(t, s, x.find(s.ref.Device, "on"))
			}
		}
	}
}
