package hub

import (
	"context"
	"time"

	"amvek/core/document"
	"amvek/core/light"
	"amvek/core/thing"
)

// EffectAhead is what an effect is going to make of its lamps, before anything is sent.
type EffectAhead struct {
	Seconds float64 `json:"seconds" doc:"How far ahead it is told."`
	// RoundSeconds, Depth and Travel are what counts where the effect does not say.
	RoundSeconds float64      `json:"roundSeconds" doc:"How long a round takes; 0 for what has none."`
	Depth        float64      `json:"depth" doc:"How much its brightness moves, in percent, where nothing is said."`
	Travel       light.Travel `json:"travel" enum:"together,onward,chance" doc:"How its lamps go together, where nothing is said."`
	Palette      []string     `json:"palette" doc:"Its colors as #rrggbb."`
	FramesPerS   float64      `json:"framesPerSecond" doc:"How many frames go out a second, at most."`
	Lamps        []LampAhead  `json:"lamps" doc:"Its lamps in the order in which it travels; of many the first ones."`
	More         int          `json:"more" doc:"How many lamps there are besides."`
	Left         []string     `json:"left" doc:"Ids of lamps that it leaves as they are, since they only switch."`
	// Able are lamps that can do it by themselves.
	Able []string `json:"able" doc:"Ids of the lamps that can do it by themselves."`
}

// LampAhead is what becomes of a lamp, evenly over the time.
type LampAhead struct {
	Device   string    `json:"device"`
	Levels   []float64 `json:"levels" doc:"In percent."`
	Swatches []string  `json:"swatches" doc:"As #rrggbb."`
}

const (
	aheadLamps = 8
	aheadCells = 240
)

// EffectAhead returns what an effect is going to do, be it saved or not.
func (h *Hub) EffectAhead(ctx context.Context, doc light.Effect) (v EffectAhead, err error) {
	var lamps []light.Lamp
	failed := h.do(ctx, func() {
		home := lampsOf{&h.definitions}
		if err = doc.Check(home.HasLight, home.HasLamp); err == nil {
			lamps = h.engine.LampsMoved(&doc)
		}
	})
	if failed != nil {
		return v, failed
	}
	if err != nil {
		return v, placed(document.In("effect", err))
	}
	round, depth, travel := doc.Usual()
	span := max(time.Minute, doc.Round())
	v = EffectAhead{
		Seconds: span.Seconds(), RoundSeconds: round.Seconds(), Depth: depth, Travel: travel, Palette: []string{}, Lamps: []LampAhead{}, Left: []string{}, Able: []string{},
		FramesPerS: float64(time.Second) / float64(doc.Every()),
	}
	for _, c := range doc.Colors() {
		v.Palette = append(v.Palette, light.Swatch(c))
	}
	for i := range lamps {
		l := &lamps[i]
		if l.Does(doc.Kind) {
			v.Able = append(v.Able, l.Device)
		}
		switch first := doc.Shown(doc.At(0, i, len(lamps), h.chance), l); {
		case len(first) == 0:
			v.Left = append(v.Left, l.Device)
		case len(v.Lamps) == aheadLamps:
			v.More++
		default:
			v.Lamps = append(v.Lamps, ahead(&doc, l, i, len(lamps), span, h.chance))
		}
	}
	return v, nil
}

// ahead is what an effect makes of one of its lamps over a time, by what that can.
func ahead(doc *light.Effect, l *light.Lamp, index, of int, span time.Duration, seed uint64) LampAhead {
	a := LampAhead{Device: l.Device}
	for cell := range aheadCells {
		at := time.Duration(float64(span) * float64(cell) / aheadCells)
		level, swatch := 0.0, light.Swatch(light.OfWhite(light.UsualWhite))
		for _, t := range doc.Shown(doc.At(at, index, of, seed), l) {
			switch {
			case t.Value.Kind == thing.KindBoolean && t.Value.True():
				level = 100
			case l.White != nil && t.Property == l.White.Name:
				swatch = light.Swatch(light.OfWhite(t.Value.Number))
			case t.Value.Kind == thing.KindColor:
				swatch = light.Swatch(light.Of(t.Value))
			case t.Value.Kind == thing.KindNumber:
				level, _ = light.ShownOf(l.Light, t.Value)
			}
		}
		a.Levels, a.Swatches = append(a.Levels, level), append(a.Swatches, swatch)
	}
	return a
}
