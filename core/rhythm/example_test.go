package rhythm_test

import (
	"fmt"
	"time"

	"amvek/core/rhythm"
)

// A sensor that speaks every five minutes is missed after two and a half times that, on a grid of minutes.
func ExampleRhythm_SilentAt() {
	var r rhythm.Rhythm
	now := time.Date(2026, 11, 20, 6, 0, 0, 0, time.UTC)
	for range 10 {
		r.Hear(now)
		now = now.Add(5 * time.Minute)
	}
	at, known := r.SilentAt(now, true)
	fmt.Println(r.Heard.Format("15:04"), at.Format("15:04"), known)
	// Output:
	// 06:45 06:58 true
}
