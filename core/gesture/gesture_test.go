package gesture_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/gesture"
)

var start = time.Date(2026, 11, 14, 19, 0, 0, 0, time.UTC)

// played returns what a key gives, each with its time in milliseconds, while it sends texts such as "down" at milliseconds.
func played(wanted gesture.Wanted, sent ...any) []string {
	var key gesture.Key
	var given []string
	say := func(at time.Time, gestures []string) {
		for _, g := range gestures {
			given = append(given, g+"@"+at.Sub(start).String())
		}
	}
	until := func(end time.Time) {
		for due := key.Due(); !due.IsZero() && !due.After(end); due = key.Due() {
			say(due, key.Wake(due, wanted, gesture.Usual()))
		}
	}
	for i := 0; i < len(sent); i += 2 {
		at := start.Add(time.Duration(sent[i].(int)) * time.Millisecond)
		until(at)
		say(at, key.Take(at, sent[i+1].(string), wanted, gesture.Usual()))
	}
	until(start.Add(time.Hour))
	return given
}

func TestGesturesAreMadeFromWhatAKeySends(t *testing.T) {
	all := gesture.Wanted{Presses: 3, Held: true}
	two := gesture.Wanted{Presses: 2}
	cases := map[string]struct {
		wanted gesture.Wanted
		sent   []any
		given  []string
	}{
		"a press counts at once where it can become nothing else": {gesture.Wanted{}, []any{0, "down", 80, "up"}, []string{"press@0s"}},
		"also a long one": {gesture.Wanted{}, []any{0, "down", 3000, "up"}, []string{"press@0s"}},
		"a press that could be a hold counts as it ends":     {gesture.Wanted{Held: true}, []any{0, "down", 80, "up"}, []string{"press@80ms"}},
		"a press that could be the first of two waits":       {two, []any{0, "press"}, []string{"press@400ms"}},
		"two within the time are one gesture":                {two, []any{0, "press", 399, "press"}, []string{"double@399ms"}},
		"two that are further apart are two":                 {two, []any{0, "press", 401, "press"}, []string{"press@400ms", "press@801ms"}},
		"the third is not waited for where it means nothing": {two, []any{0, "press", 100, "press", 200, "press"}, []string{"double@100ms", "press@600ms"}},
		"three":                         {all, []any{0, "down", 50, "up", 150, "down", 200, "up", 300, "down", 350, "up"}, []string{"triple@350ms"}},
		"held and released":             {all, []any{0, "down", 1400, "up"}, []string{"hold@500ms", "release@1.4s"}},
		"pressed, then held":            {all, []any{0, "down", 50, "up", 200, "down", 900, "up"}, []string{"press@700ms", "hold@700ms", "release@900ms"}},
		"a release that never comes":    {all, []any{0, "down"}, []string{"hold@500ms", "release@1m0.5s"}},
		"an up alone is nothing":        {all, []any{0, "up"}, nil},
		"a down twice: its up was lost": {all, []any{0, "down", 100, "down", 200, "up"}, []string{"double@600ms"}},
		"a hold that the key sends itself completes the press before": {two, []any{0, "press", 100, "hold", 900, "release"}, []string{"press@100ms"}},
	}
	for name, c := range cases {
		t.Run(name, func(t *testing.T) {
			assert.Equal(t, c.given, played(c.wanted, c.sent...))
		})
	}
}

func TestWhatCanBeMadeIsWhatIsNotSent(t *testing.T) {
	assert.Equal(t, []string{"press", "double", "triple", "hold", "release"}, gesture.Made([]string{"down", "up"}))
	assert.Equal(t, []string{"double", "triple"}, gesture.Made([]string{"press", "hold", "release"}))
	assert.Equal(t, []string{"triple", "hold", "release"}, gesture.Made([]string{"down", "up", "press", "double"}))
	assert.Empty(t, gesture.Made([]string{"press", "double"}), "what is pressed three times would be told as two gestures")
	assert.Empty(t, gesture.Made(nil))
}

// FuzzAnyStreamEndsWithAKeyThatIsUp: whatever comes in whatever order, each hold is released, no gesture is given before what
// it is made of, and no more presses are given than began.
func FuzzAnyStreamEndsWithAKeyThatIsUp(f *testing.F) {
	f.Add([]byte{0, 1, 1, 2, 0, 200, 1, 255, 2, 3}, uint8(3), true)
	f.Fuzz(func(t *testing.T, stream []byte, presses uint8, held bool) {
		wanted := gesture.Wanted{Presses: int(presses % 4), Held: held}
		kinds := []string{"down", "up", "press", "hold", "else"}
		var sent []any
		at, began := 0, 0
		for i := 0; i+1 < len(stream); i += 2 {
			kind := kinds[int(stream[i])%len(kinds)]
			at += int(stream[i+1]) * 5
			if kind == "down" || kind == "press" {
				began++
			}
			sent = append(sent, at, kind)
		}
		counts := map[string]int{}
		holding := false
		for _, g := range played(wanted, sent...) {
			name, _, _ := strings.Cut(g, "@")
			counts[name]++
			switch name {
			case "hold":
				require.False(t, holding, "held twice without a release")
				holding = true
			case "release":
				require.True(t, holding, "released without having been held")
				holding = false
			}
		}
		require.False(t, holding)
		require.LessOrEqual(t, counts["press"]+2*counts["double"]+3*counts["triple"]+counts["hold"], began)
		if !held {
			require.Zero(t, counts["hold"])
		}
		require.LessOrEqual(t, counts["triple"]*3, began*max(0, wanted.Presses-2))
	})
}
