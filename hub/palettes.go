package hub

import (
	"context"
	"fmt"

	"amvek/core/light"
	"amvek/hub/uploads"
)

// PaletteView is colors that go together, as they are shown.
type PaletteView struct {
	ID     string   `json:"id"`
	Title  string   `json:"title"`
	Colors []string `json:"colors" doc:"As #rrggbb."`
}

// Palettes returns those that a scene can be made of.
func (h *Hub) Palettes() []PaletteView {
	var all []PaletteView
	for _, p := range light.Palettes() {
		all = append(all, PaletteView{p.ID, p.Title, swatches(p.Colors)})
	}
	return all
}

func swatches(colors []light.XY) []string {
	all := make([]string, len(colors))
	for i, c := range colors {
		all[i] = light.Swatch(c)
	}
	return all
}

// FromPalette is which lamps are to be in which colors: of a palette, of their own, or of a picture that was uploaded.
type FromPalette struct {
	Devices []string `json:"devices" minItems:"1" maxItems:"1000" doc:"Ids of lamps, in the order in which they get the colors."`
	Colors  []string `json:"colors,omitempty" maxItems:"20" doc:"Colors as #rrggbb."`
	Picture string   `json:"picture,omitempty" doc:"Id of an uploaded picture whose colors they get, instead of colors."`
	Level   float64  `json:"level" minimum:"1" maximum:"100" doc:"How bright, in percent."`
}

// InColors is what lamps are to be at, and the colors that were spread over them.
type InColors struct {
	Targets []light.Target `json:"targets"`
	Colors  []string       `json:"colors" doc:"As #rrggbb."`
}

// tonesOfPicture is how many colors are taken from a picture at most.
const tonesOfPicture = 5

// InColors spreads colors over lamps.
func (h *Hub) InColors(ctx context.Context, of FromPalette) (InColors, error) {
	var palette []light.XY
	for i, swatch := range of.Colors {
		c, is := light.FromSwatch(swatch)
		if !is {
			return InColors{}, Invalid(fmt.Sprintf("colors[%d]", i), "This is no color of a light.")
		}
		palette = append(palette, c)
	}
	if of.Picture != "" {
		picture, err := h.UploadedPicture(ctx, of.Picture)
		if err != nil {
			return InColors{}, err
		}
		pixels, err := uploads.Pixels(picture)
		if err != nil {
			return InColors{}, Invalid("picture", capital(err.Error())+".")
		}
		palette = light.Tones(pixels, tonesOfPicture)
	}
	if len(palette) == 0 {
		return InColors{}, Invalid("colors", "Choose colors, or a picture that is not dark all over.")
	}
	in := InColors{Targets: []light.Target{}, Colors: swatches(palette)}
	return in, h.do(ctx, func() {
		if targets := light.FromPalette(h.engine.Lamps(of.Devices), palette, of.Level); targets != nil {
			in.Targets = targets
		}
	})
}
