// Package uploads takes in pictures that people put on their dashboards: it finds out whether they are pictures, turns and scales
// them, and measures how dark and how light they are, so that text on them can be made readable. It keeps nothing.
package uploads

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/color"
	_ "image/gif" // one of the formats that are read
	"image/jpeg"
	_ "image/png" // one of the formats that are read
	"math"
	"sync"

	"golang.org/x/image/draw"
	_ "golang.org/x/image/webp" // one of the formats that are read
)

// The limits of what is taken in.
const (
	MaximumBytes  = 16 << 20
	maximumPixels = 40_000_000
	// longestSide is to which a picture is scaled down, in pixels.
	longestSide = 1920
	quality     = 82
)

// Picture is a picture as it was taken in.
type Picture struct {
	JPEG          []byte
	Width, Height int
	// Darkest and Lightest are the relative luminances between which all but a hundredth of the picture lies at each end, from 0 to 1
	// (WCAG 2.2, relative luminance).
	Darkest, Lightest float64
}

// The ways in which what was sent is no picture that can be taken in.
var (
	ErrNoPicture = errors.New("this is not a picture: PNG, JPEG, GIF and WebP can be read")
	ErrTooLarge  = fmt.Errorf("the picture is too large: it may have %d megapixels and %d MB", maximumPixels/1_000_000, MaximumBytes>>20)
)

// Taker takes pictures in, one at a time, since each needs much memory. The zero value is ready.
type Taker struct{ one sync.Mutex }

// Take reads a picture, turned as its camera was held.
func (t *Taker) Take(data []byte) (*Picture, error) {
	if len(data) > MaximumBytes {
		return nil, ErrTooLarge
	}
	config, format, err := image.DecodeConfig(bytes.NewReader(data))
	switch {
	case err != nil || config.Width < 1 || config.Height < 1:
		return nil, ErrNoPicture
	case config.Width > maximumPixels/config.Height:
		return nil, ErrTooLarge
	}
	t.one.Lock()
	defer t.one.Unlock()
	whole, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, ErrNoPicture
	}
	scaled := scale(whole)
	if format == "jpeg" {
		scaled = turn(scaled, orientation(data))
	}
	var out bytes.Buffer
	if err := jpeg.Encode(&out, scaled, &jpeg.Options{Quality: quality}); err != nil {
		return nil, fmt.Errorf("writing the picture: %w", err)
	}
	p := &Picture{JPEG: out.Bytes(), Width: scaled.Rect.Dx(), Height: scaled.Rect.Dy()}
	p.Darkest, p.Lightest = measure(scaled)
	return p, nil
}

// scale returns a picture no larger than is shown, on white where it is transparent.
func scale(whole image.Image) *image.RGBA {
	width, height := whole.Bounds().Dx(), whole.Bounds().Dy()
	if side := max(width, height); side > longestSide {
		width, height = max(1, width*longestSide/side), max(1, height*longestSide/side)
	}
	out := image.NewRGBA(image.Rect(0, 0, width, height))
	draw.Draw(out, out.Rect, image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.ApproxBiLinear.Scale(out, out.Rect, whole, whole.Bounds(), draw.Over, nil)
	return out
}

// turn returns a picture upright that was taken in an orientation of Exif (CIPA DC-008, tag 0x0112), from 1 to 8.
func turn(p *image.RGBA, orientation int) *image.RGBA {
	if orientation < 2 || orientation > 8 {
		return p
	}
	w, h := p.Rect.Dx(), p.Rect.Dy()
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	if orientation >= 5 {
		out = image.NewRGBA(image.Rect(0, 0, h, w))
	}
	for y := range out.Rect.Dy() {
		for x := range out.Rect.Dx() {
			var fromX, fromY int
			switch orientation {
			case 2:
				fromX, fromY = w-1-x, y
			case 3:
				fromX, fromY = w-1-x, h-1-y
			case 4:
				fromX, fromY = x, h-1-y
			case 5:
				fromX, fromY = y, x
			case 6:
				fromX, fromY = y, h-1-x
			case 7:
				fromX, fromY = w-1-y, h-1-x
			case 8:
				fromX, fromY = w-1-y, x
			}
			out.SetRGBA(x, y, p.RGBAAt(fromX, fromY))
		}
	}
	return out
}

// block is the side of what is taken together when a picture is measured, in pixels: about as large as a letter.
const block = 8

// measure returns how dark and how light a picture is: the luminances of its blocks, but for a hundredth at each end.
func measure(p *image.RGBA) (darkest, lightest float64) {
	const steps = 1000
	var counts [steps + 1]int
	total := 0
	for top := 0; top < p.Rect.Dy(); top += block {
		for left := 0; left < p.Rect.Dx(); left += block {
			sum, n := 0.0, 0
			for y := top; y < min(top+block, p.Rect.Dy()); y++ {
				for x := left; x < min(left+block, p.Rect.Dx()); x++ {
					sum += luminance(p.RGBAAt(x, y))
					n++
				}
			}
			counts[int(math.Round(sum/float64(n)*steps))]++
			total++
		}
	}
	at := func(share float64) float64 {
		before := 0
		for i, n := range counts {
			if before += n; float64(before) > share*float64(total) {
				return float64(i) / steps
			}
		}
		return 1
	}
	const left = 0.01
	return at(left), at(1 - left - 1e-9)
}

// luminance is the relative luminance of a color of sRGB (WCAG 2.2).
func luminance(c color.RGBA) float64 {
	linear := func(part uint8) float64 {
		v := float64(part) / 255
		if v <= 0.04045 {
			return v / 12.92
		}
		return math.Pow((v+0.055)/1.055, 2.4)
	}
	return 0.2126*linear(c.R) + 0.7152*linear(c.G) + 0.0722*linear(c.B)
}

// sampled is the side of the square to which a picture is scaled to read its colors, in pixels.
const sampled = 48

// Pixels returns some thousand pixels of a picture that was taken in, spread over all of it, in sRGB.
func Pixels(picture []byte) ([][3]uint8, error) {
	whole, err := jpeg.Decode(bytes.NewReader(picture))
	if err != nil {
		return nil, ErrNoPicture
	}
	small := image.NewRGBA(image.Rect(0, 0, sampled, sampled))
	draw.ApproxBiLinear.Scale(small, small.Rect, whole, whole.Bounds(), draw.Src, nil)
	pixels := make([][3]uint8, 0, sampled*sampled)
	for i := 0; i+3 < len(small.Pix); i += 4 {
		pixels = append(pixels, [3]uint8{small.Pix[i], small.Pix[i+1], small.Pix[i+2]})
	}
	return pixels, nil
}
