package penrook

import (
	"fmt"
	"math"
	"net/http"
	"strings"
)

// What a camera sees, in its own pixels.
const (
	pictureWidth  = 640
	pictureHeight = 360
	horizon       = 190
)

// picture answers with what a camera sees now: a drawn picture, lighter by day, with its place and time in a corner. The lock
// is held.
func (b *Box) picture(w http.ResponseWriter, d *Device) {
	now := b.now()
	hours := float64(now.Hour()) + float64(now.Minute())/60
	// From 0 at night to 1 at noon; a camera sees a little by night, too.
	day := math.Max(0.12, math.Sin((hours-5.5)/14*math.Pi))
	gray := func(share float64) string {
		level := int(40 + 190*day*share)
		return fmt.Sprintf("rgb(%d,%d,%d)", level, level+4, level+8)
	}
	var s strings.Builder
	_, _ = fmt.Fprintf(&s, `<svg xmlns="http://www.w3.org/2000/svg" width="%[1]d" height="%[2]d" viewBox="0 0 %[1]d %[2]d">`, pictureWidth, pictureHeight)
	_, _ = fmt.Fprintf(&s, `<path fill=%q d="M0 0h%dv%dh-%dz"/>`, gray(1), pictureWidth, horizon, pictureWidth)
	_, _ = fmt.Fprintf(&s, `<path fill=%q d="M0 %dh%dv%dh-%dz"/>`, gray(0.55), horizon, pictureWidth, pictureHeight-horizon, pictureWidth)
	if d.Spot == "Weir" {
		// Water that runs, and the wall of the weir.
		for line := range 9 {
			y := horizon + 12 + 18*line
			shift := (now.Second()*7 + 23*line) % 80
			_, _ = fmt.Fprintf(&s, `<path fill="none" stroke=%q stroke-width="3" d="M%d %dq20 -8 40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0t40 0"/>`, gray(0.8), -shift, y)
		}
		_, _ = fmt.Fprintf(&s, `<path fill=%q d="M0 150h250l30 60h-280z"/>`, gray(0.3))
	} else {
		// The mill, its door, and a fence.
		_, _ = fmt.Fprintf(&s, `<path fill=%q d="M60 230v-130l90 -60l90 60v130z"/>`, gray(0.4))
		_, _ = fmt.Fprintf(&s, `<path fill=%q d="M130 230v-60h40v60z"/>`, gray(0.15))
		for post := range 9 {
			_, _ = fmt.Fprintf(&s, `<path stroke=%q stroke-width="6" d="M%d 180v60"/>`, gray(0.25), 290+40*post)
		}
		_, _ = fmt.Fprintf(&s, `<path stroke=%q stroke-width="5" d="M280 196h360M280 216h360"/>`, gray(0.25))
	}
	_, _ = fmt.Fprintf(&s, `<text x="12" y="346" font-family="monospace" font-size="18" fill="white">%s  %s</text></svg>`,
		d.Spot, now.Format("2006-01-02 15:04:05"))
	w.Header().Set("Content-Type", "image/svg+xml")
	_, _ = w.Write([]byte(s.String()))
}
