package light

// Palette is colors that go together.
type Palette struct {
	ID     string
	Title  string
	Colors []XY
}

// Palettes returns those that a scene can be made of from the beginning.
func Palettes() []Palette {
	of := func(id, title string, tones ...[2]float64) Palette {
		p := Palette{ID: id, Title: title}
		for _, t := range tones {
			p.Colors = append(p.Colors, FromHueSaturation(t[0], t[1]))
		}
		return p
	}
	return []Palette{
		of("kiln", "Kiln", [2]float64{8, 95}, [2]float64{18, 92}, [2]float64{30, 85}, [2]float64{42, 70}),
		of("harvest", "Harvest", [2]float64{48, 75}, [2]float64{38, 85}, [2]float64{28, 90}, [2]float64{12, 80}),
		of("orchard", "Orchard", [2]float64{95, 60}, [2]float64{60, 55}, [2]float64{20, 60}, [2]float64{340, 45}),
		of("dusk", "Dusk over the weir", [2]float64{25, 80}, [2]float64{345, 60}, [2]float64{285, 55}, [2]float64{240, 65}),
		of("hedgerow", "Hedgerow", [2]float64{20, 45}, [2]float64{330, 60}, [2]float64{300, 55}, [2]float64{275, 50}),
		of("millpond", "Millpond", [2]float64{170, 35}, [2]float64{185, 55}, [2]float64{200, 70}, [2]float64{215, 80}),
		of("slate", "Slate", [2]float64{205, 20}, [2]float64{220, 35}, [2]float64{235, 28}),
		of("frost", "First frost", [2]float64{180, 10}, [2]float64{195, 18}, [2]float64{210, 25}),
	}
}

// FromPalette returns a scene of lamps in the colors of a palette, at a level in percent. The lamps of colors get them in their order,
// evenly spread; one that has only whites the white nearest to the color of its place among all; one that only switches is on from
// where it joins.
func FromPalette(lamps []Lamp, palette []XY, level float64) (targets []Target) {
	shades := 0
	for i := range lamps {
		if lamps[i].Color != nil {
			shades++
		}
	}
	colors := Spread(palette, shades)
	next := 0
	for i := range lamps {
		l := &lamps[i]
		if !l.dims() && level < l.Joins() {
			targets = append(targets, Target{Device: l.Device, Property: l.Light.Name, Value: l.at(0)})
			continue
		}
		targets = append(targets, Target{Device: l.Device, Property: l.Light.Name, Value: l.at(level)})
		switch {
		case level <= 0:
		case l.Color != nil:
			targets = append(targets, Target{Device: l.Device, Property: l.Color.Name, Value: colors[next].Value()})
			next++
		case l.White != nil:
			at := 0.0
			if len(lamps) > 1 {
				at = float64(i) / float64(len(lamps)-1)
			}
			p, v := l.white(Along(palette, at).NearestWhite(l.White.Minimum, l.White.Maximum))
			targets = append(targets, Target{Device: l.Device, Property: p.Name, Value: v})
		}
	}
	return targets
}
