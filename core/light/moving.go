package light

import (
	"math"
	"slices"
	"time"

	"amvek/core/thing"
)

// Glow is what an effect makes of a lamp at a moment.
type Glow struct {
	// Level is how much light, of the most that the lamp gives, from 0 to 1.
	Level float64
	Color XY
}

// At returns what the effect makes of a lamp, the first of them 0, so long after it began. The seed is what is left to chance: with the
// same seed it is always the same.
func (e *Effect) At(since time.Duration, lamp, lamps int, seed uint64) Glow {
	since = max(since, 0)
	c := chance{seed: seed}
	place := 0.0 // by how much of a round the lamp is later
	switch e.travel() {
	case Onward:
		place = float64(lamp) / float64(max(lamps, 1))
	case ByChance:
		c.seed = c.mixed(uint64(lamp) + 1)
	}
	var g Glow
	switch e.Kind {
	case Candle:
		g = e.candle(since.Seconds()*e.pace()+place, c)
	case Embers:
		g = e.embers(since.Seconds()*e.pace()+place*emberSeconds, c)
	case Storm:
		g = e.storm(since.Seconds(), c)
	case Pulse:
		g = e.pulse(since.Seconds()/e.Round().Seconds()-place, c)
	case Sunrise:
		g = e.sunrise(min(since.Seconds()/e.Round().Seconds(), 1))
	default:
		g = e.drift(since.Seconds()/e.Round().Seconds(), place, c)
	}
	g.Level = min(max(g.Level, 0), 1) * e.level()
	return g
}

// around is the color at a share of a palette that comes back to its first, from one to the next evenly in OKLab.
func around(palette []XY, share float64) XY {
	n := float64(len(palette))
	at := (share - math.Floor(share)) * n
	i := int(at)
	return palette[i%len(palette)].Between(palette[(i+1)%len(palette)], at-float64(i))
}

// drift goes around the palette; by chance each lamp goes from any color to any other. Its brightness swells with depth, once a round.
func (e *Effect) drift(rounds, place float64, c chance) Glow {
	palette := e.palette()
	g := Glow{Level: e.ebb(0.5 + 0.5*math.Cos(2*math.Pi*(rounds-place)))}
	if e.travel() != ByChance {
		g.Color = around(palette, rounds-place)
		return g
	}
	at := rounds * float64(len(palette))
	step := math.Floor(at)
	pick := func(step float64) XY { return palette[int(c.of(uint64(step))*float64(len(palette)))] }
	g.Color = pick(step).Between(pick(step+1), smoothed(at-step))
	g.Level = e.ebb(c.noise(at, 7))
	return g
}

// ebb is a share of light that goes down from full by the depth of the effect, evenly to the eye.
func (e *Effect) ebb(share float64) float64 { return Luminance(1 - e.depth()*(1-share)) }

// candle burns calmly, now and then disturbed by a breath of air, with a slight quick flicker over all of it.
func (e *Effect) candle(t float64, c chance) Glow {
	calm := 0.75 + 0.25*c.noise(t*e.slowed(0.9), 1)
	breath := math.Max(0, c.noise(t*e.slowed(0.35), 2)-0.55) / 0.45
	flame := calm - breath*c.noise(t*e.slowed(1.4), 3)
	quick := (c.noise(t*7, 4) - 0.5) * 2 * slightest / 2 * e.depth()
	g := Glow{Level: e.ebb(min(max(flame, 0), 1)) + quick, Color: e.palette()[0]}
	if p := e.palette(); len(p) > 1 {
		g.Color = Along(p, flame)
	}
	return g
}

// slowed is how often a second something may swing that is seen as light and dark: not so fast that it counts as flashing, whatever
// the pace. Two swings of noise make at most one flash, and a candle has three voices.
func (e *Effect) slowed(perSecond float64) float64 {
	const most = 1.5
	if e.Flashing {
		return perSecond
	}
	return min(perSecond, most/e.pace())
}

const emberSeconds = 9

// embers glow up and fade, each in its time, redder the darker.
func (e *Effect) embers(t float64, c chance) Glow {
	heat := 0.65*c.noise(t*e.slowed(1.0/emberSeconds*2), 1) + 0.35*c.noise(t*e.slowed(0.6), 2)
	return Glow{Level: e.ebb(heat), Color: Along(e.palette(), heat)}
}

// A storm is counted in stretches of time, with lightning in some.
const (
	stormSeconds = 5.0
	// strikes are so many flashes at most in a stretch of lightning, so far apart that three come within a second at most.
	strikes     = 4
	strikeGap   = 0.36
	strikeFades = 0.16
)

// storm is a dark and restless sky, and lightning that lights it for moments: always together, as all see the same sky.
func (e *Effect) storm(t float64, c chance) Glow {
	palette := e.palette()
	pace := e.pace()
	gap := strikeGap
	if e.Flashing {
		gap /= max(pace, 1)
	}
	lasts := max(stormSeconds/pace, (strikes+2)*gap)
	sky := Luminance(0.18 + 0.2*c.noise(t*e.slowed(0.25)*pace, 1))
	g := Glow{Level: sky, Color: palette[0]}
	stretch := math.Floor(t / lasts)
	bright := c.lightning(stretch, t-stretch*lasts, lasts, gap) * e.depth()
	g.Level = math.Max(sky, bright)
	if bright > sky {
		g.Color = palette[len(palette)-1]
	}
	return g
}

// lightning is how bright the sky is by the lightning of a stretch, so long after that began: a few strikes, each fading.
func (c chance) lightning(stretch, since, lasts, gap float64) (bright float64) {
	n := uint64(int64(stretch) + 1<<20)
	if c.of(n^0xA5) < 0.35 {
		return 0 // calm
	}
	// It is over before the next stretch may begin.
	room := lasts - (strikes+1)*gap
	at := c.of(n^0x5A) * room
	for i := range 1 + int(c.of(n^0x77)*strikes) {
		after := since - at - float64(i)*gap
		if after >= 0 && after < gap {
			bright = (0.45 + 0.55*c.of(n^uint64(i)<<8)) * math.Exp(-after/strikeFades)
		}
	}
	return bright
}

// pulse swells and ebbs, with the next color of the palette each time.
func (e *Effect) pulse(rounds float64, c chance) Glow {
	palette := e.palette()
	if e.travel() == ByChance {
		rounds += c.of(3)
	}
	n := math.Floor(rounds)
	i := (int(math.Mod(n, float64(len(palette)))) + len(palette)) % len(palette)
	// A color is changed around where it is darkest.
	const changing = 0.15
	color := palette[i].Between(palette[(i+1)%len(palette)], smoothed(max(0, (rounds-n-1+changing)/changing)))
	return Glow{Level: e.ebb(0.5 - 0.5*math.Cos(2*math.Pi*(rounds-n))), Color: color}
}

// sunrise goes from dark to full, evenly to the eye, through its colors once, and stays there.
func (e *Effect) sunrise(share float64) Glow {
	least := 1 - e.depth()
	return Glow{Level: Luminance(math.Max(0.06, least+(1-least)*share)), Color: Along(e.palette(), share)}
}

// chance is what is left to chance, the same for the same seed.
type chance struct{ seed uint64 }

// mixed mixes a number into the seed. (The finalizer of SplitMix64: Steele, Lea and Flood, OOPSLA 2014.)
func (c chance) mixed(n uint64) uint64 {
	z := c.seed + n*0x9E3779B97F4A7C15
	z = (z ^ z>>30) * 0xBF58476D1CE4E5B9
	z = (z ^ z>>27) * 0x94D049BB133111EB
	return z ^ z>>31
}

// of is a number from 0 to below 1.
func (c chance) of(n uint64) float64 { return float64(c.mixed(n)>>11) / (1 << 53) }

// noise wanders smoothly between 0 and 1, to another value with every whole t. Each voice is another.
func (c chance) noise(t float64, voice uint64) float64 {
	step := math.Floor(t)
	at := func(n float64) float64 { return c.of(voice<<48 ^ uint64(int64(n)+1<<40)) }
	return at(step) + (at(step+1)-at(step))*smoothed(t-step)
}

// smoothed goes from 0 to 1 without a corner.
func smoothed(t float64) float64 { return t * t * (3 - 2*t) }

// Shown is what a glow makes of a lamp by what the lamp can: its light and its color, or the white nearest to that; of a lamp without
// both its light alone. A lamp that only switches is left as it is but by a sunrise, which it joins from its level on: relays are not
// made to flicker.
func (e *Effect) Shown(g Glow, l *Lamp) (targets []Target) {
	if !l.dims() {
		if e.Kind == Sunrise {
			targets = append(targets, Target{Device: l.Device, Property: l.Light.Name, Value: thing.Boolean(g.Level*100 >= l.Joins())})
		}
		return targets
	}
	targets = append(targets, Target{Device: l.Device, Property: l.Light.Name, Value: l.at(math.Max(g.Level*100, 1))})
	switch {
	case l.OwnTone:
	case l.Color != nil:
		targets = append(targets, Target{Device: l.Device, Property: l.Color.Name, Value: g.Color.rounded().Value()})
	case l.White != nil:
		p, v := l.white(g.Color.NearestWhite(l.White.Minimum, l.White.Maximum))
		if p != nil {
			targets = append(targets, Target{Device: l.Device, Property: p.Name, Value: v})
		}
	}
	return targets
}

// ByItself returns what a lamp is told that does the effect by itself: how bright, in which color, and that. It is nil for one that
// cannot, or where the hub is to move it.
func (e *Effect) ByItself(g Glow, l *Lamp) []Target {
	if !e.ByLamps || !l.Does(e.Kind) {
		return nil
	}
	g.Level = 1
	if e.Level > 0 {
		g.Level = e.Level / 100
	}
	return append(e.Shown(g, l), Target{Device: l.Device, Property: l.Effect.Name, Value: thing.Text(string(e.Kind))})
}

// Does reports whether the lamp can do an effect by itself.
func (l *Lamp) Does(kind EffectKind) bool {
	return l.Effect != nil && l.dims() && slices.Contains(l.Effect.Options, string(kind))
}

// FadeIn is how long an effect takes from what is on to where it begins: those that are slow begin softly.
func (e *Effect) FadeIn() time.Duration {
	if e.Kind == Drift || e.Kind == Sunrise {
		return softly
	}
	return 0
}

// softly is how long a slow effect takes to begin.
const softly = 2 * time.Second

// rounded is a color to four digits, finer than any lamp tells apart.
func (c XY) rounded() XY {
	const grain = 1e4
	return XY{math.Round(c.X*grain) / grain, math.Round(c.Y*grain) / grain}
}
