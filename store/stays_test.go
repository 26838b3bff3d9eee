package store_test

import (
	"context"
	"fmt"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// What a property was at is what an independent count by the minute finds, with repetitions, late words, silence, a restart
// and what was given up.
func TestStaysAreWhatWasSaid(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		ctx := context.Background()
		const minutes = 600
		folder, err := os.MkdirTemp("", "amvek-stays-")
		require.NoError(rt, err)
		defer func() { _ = os.RemoveAll(folder) }()
		s := reopened(t, folder)
		truth := [minutes]string{}
		said := map[int]string{}
		for range rapid.IntRange(0, 40).Draw(rt, "words") {
			at := rapid.IntRange(0, minutes-1).Draw(rt, "at")
			word := rapid.SampledFrom([]string{`"in"`, `"out"`, `"asleep"`, ""}).Draw(rt, "word")
			var value []byte
			if word != "" {
				value = []byte(word)
			}
			// What is so already, and nothing known after nothing known, is no news.
			if before, _ := last(said, at); before != word {
				said[at] = word
			}
			s.AddStay("own", "mode", dawn.Add(time.Duration(at)*time.Minute), value)
			if rapid.IntRange(0, 9).Draw(rt, "restart") == 0 {
				require.NoError(rt, s.Close())
				s = reopened(t, folder)
			}
		}
		word := ""
		for m := range minutes {
			if w, there := said[m]; there {
				word = w
			}
			truth[m] = word
		}
		require.NoError(rt, s.Flush(ctx))
		begin := rapid.IntRange(0, minutes-2).Draw(rt, "from")
		if rapid.Bool().Draw(rt, "forget") {
			_, err := s.Forget(ctx, dawn.Add(time.Duration(begin)*time.Minute))
			require.NoError(rt, err)
		}
		list, shares, err := s.Stays(ctx, "own", "mode", dawn.Add(time.Duration(begin)*time.Minute), dawn.Add(minutes*time.Minute))
		require.NoError(rt, err)
		count := map[string]time.Duration{}
		for m := begin; m < minutes; m++ {
			if truth[m] != "" {
				count[truth[m]] += time.Minute
			}
		}
		require.Equal(rt, fmt.Sprint(count), fmt.Sprint(shares))
		for _, stay := range list {
			for at := stay.From; at.Before(stay.To); at = at.Add(time.Minute) {
				require.Equal(rt, truth[int(at.Sub(dawn)/time.Minute)], string(stay.Value))
			}
		}
		require.NoError(rt, s.Close())
	})
}

// last returns the word that holds at a minute.
func last(said map[int]string, at int) (word string, there bool) {
	for m := at; m >= 0; m-- {
		if w, is := said[m]; is {
			return w, true
		}
	}
	return "", false
}
