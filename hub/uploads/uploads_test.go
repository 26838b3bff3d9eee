package uploads

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// halves is a picture that is dark on its left and light on its right.
func halves(width, height int) *image.RGBA {
	p := image.NewRGBA(image.Rect(0, 0, width, height))
	for y := range height {
		for x := range width {
			c := color.RGBA{A: 255}
			if x >= width/2 {
				c = color.RGBA{255, 255, 255, 255}
			}
			p.SetRGBA(x, y, c)
		}
	}
	return p
}

func encoded(t *testing.T, p image.Image) []byte {
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, p))
	return out.Bytes()
}

// taken is a JPEG as a camera takes it that was held in an orientation of Exif.
func taken(t *testing.T, p image.Image, orientation uint16, order binary.AppendByteOrder, mark string) []byte {
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, p, &jpeg.Options{Quality: 95}))
	exif := append([]byte("Exif\x00\x00"), mark...)
	exif = order.AppendUint16(exif, 42)
	exif = order.AppendUint32(exif, 8)
	exif = order.AppendUint16(exif, 1)
	exif = order.AppendUint16(exif, 0x0112)
	exif = order.AppendUint16(exif, 3)
	exif = order.AppendUint32(exif, 1)
	exif = order.AppendUint16(exif, orientation)
	exif = order.AppendUint16(exif, 0)
	segment := binary.BigEndian.AppendUint16([]byte{0xff, 0xe1}, uint16(len(exif)+2))
	data := append([]byte{0xff, 0xd8}, append(segment, exif...)...)
	return append(data, out.Bytes()[2:]...)
}

func TestAPictureIsScaledAndMeasured(t *testing.T) {
	var taker Taker
	p, err := taker.Take(encoded(t, halves(3840, 960)))
	require.NoError(t, err)
	assert.Equal(t, []int{1920, 480}, []int{p.Width, p.Height})
	assert.Less(t, p.Darkest, 0.02)
	assert.Greater(t, p.Lightest, 0.98)
	again, err := jpeg.Decode(bytes.NewReader(p.JPEG))
	require.NoError(t, err)
	assert.Equal(t, 1920, again.Bounds().Dx())

	small, err := taker.Take(encoded(t, halves(2, 1)))
	require.NoError(t, err)
	assert.Equal(t, 2, small.Width, "a small one stays as it is")
	clear, err := taker.Take(encoded(t, image.NewRGBA(image.Rect(0, 0, 20, 20))))
	require.NoError(t, err)
	assert.Greater(t, clear.Darkest, 0.95, "what is transparent is white")
}

// The light half of the picture is on the right as it was stored; where it is shown says how it was turned.
func TestAPictureIsShownAsItsCameraWasHeld(t *testing.T) {
	var taker Taker
	for orientation, c := range map[uint16]struct {
		width, height, x, y int // of the picture, and a place that is light
	}{
		1: {64, 32, 60, 16}, 2: {64, 32, 4, 16}, 3: {64, 32, 4, 16}, 4: {64, 32, 60, 16},
		5: {32, 64, 16, 60}, 6: {32, 64, 16, 60}, 7: {32, 64, 16, 4}, 8: {32, 64, 16, 4}, 9: {64, 32, 60, 16},
	} {
		for mark, order := range map[string]binary.AppendByteOrder{"II": binary.LittleEndian, "MM": binary.BigEndian} {
			p, err := taker.Take(taken(t, halves(64, 32), orientation, order, mark))
			require.NoError(t, err)
			assert.Equal(t, []int{c.width, c.height}, []int{p.Width, p.Height}, "%d %s", orientation, mark)
			shown, err := jpeg.Decode(bytes.NewReader(p.JPEG))
			require.NoError(t, err)
			light, _, _, _ := shown.At(c.x, c.y).RGBA()
			dark, _, _, _ := shown.At(c.width-1-c.x, c.height-1-c.y).RGBA()
			assert.Greater(t, light, dark, "%d %s", orientation, mark)
		}
	}
}

func TestWhatIsNoPictureOrTooLargeIsRefused(t *testing.T) {
	var taker Taker
	for _, data := range [][]byte{nil, []byte("no picture"), []byte("<svg/>"), encoded(t, halves(8, 8))[:40]} {
		_, err := taker.Take(data)
		assert.ErrorIs(t, err, ErrNoPicture)
	}
	_, err := taker.Take(make([]byte, MaximumBytes+1))
	assert.ErrorIs(t, err, ErrTooLarge)
	// A bomb is a small file that says that it is huge.
	bomb := encoded(t, halves(8, 8))
	binary.BigEndian.PutUint32(bomb[16:], 60_000)
	binary.BigEndian.PutUint32(bomb[20:], 60_000)
	_, err = taker.Take(reckoned(bomb))
	assert.ErrorIs(t, err, ErrTooLarge)
}

// reckoned gives the head of a PNG its checksum anew.
func reckoned(data []byte) []byte {
	binary.BigEndian.PutUint32(data[29:], crc32.ChecksumIEEE(data[12:29]))
	return data
}

func FuzzOrientation(f *testing.F) {
	f.Add([]byte{0xff, 0xd8, 0xff, 0xe1, 0, 30, 'E', 'x', 'i', 'f', 0, 0, 'I', 'I', 42, 0, 8, 0, 0, 0, 1, 0, 0x12, 1, 3, 0, 1, 0, 0, 0, 6, 0, 0, 0})
	f.Add([]byte{0xff, 0xd8, 0xff, 0xe1, 0, 2})
	f.Fuzz(func(_ *testing.T, data []byte) { _ = orientation(data) })
}
