package light

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"amvek/core/almanac"
	"amvek/core/document"
	"amvek/core/thing"
)

// DayCurve is how bright and how white light is over the day: points at times by the clock or by the sun, smooth between. The points of
// a day are taken in the order of their times on that day, so the seasons move those that go by the sun past others.
type DayCurve struct {
	Title  string     `json:"title" minLength:"1" maxLength:"120"`
	Note   string     `json:"note,omitempty" maxLength:"2000"`
	Points []DayPoint `json:"points" maxItems:"48" doc:"In any order; each counts at its own time of the day."`
}

// DayPoint is where a curve goes through. Of level and kelvin one at least is said; of what none of the points says, the curve
// leaves lamps as they are.
type DayPoint struct {
	At almanac.Daily `json:"at"`
	// Level is how bright, in percent; 0 where this point does not say.
	Level float64 `json:"level,omitempty" minimum:"0" maximum:"100" doc:"How bright, in percent; absent where this point does not say."`
	// Kelvin is the temperature of the white; 0 where this point does not say.
	Kelvin float64 `json:"kelvin,omitempty" minimum:"0" maximum:"25000" doc:"Temperature of the white, in kelvin; absent where this point does not say."`
}

// MostPoints is how many points a curve has at most.
const MostPoints = 48

// Check returns an error naming the field that is wrong.
func (c *DayCurve) Check() error {
	if strings.TrimSpace(c.Title) == "" {
		return document.Wrong("title", "a curve needs a name")
	}
	if len(c.Points) == 0 {
		return document.Wrong("points", "a curve needs a point")
	}
	if len(c.Points) > MostPoints {
		return document.Wrong("points", "a curve has %d points at most", MostPoints)
	}
	for i := range c.Points {
		p, at := &c.Points[i], fmt.Sprintf("points[%d]", i)
		if err := p.At.Check(); err != nil {
			return document.In(at+"/at", err)
		}
		switch {
		case len(p.At.Weekdays) > 0:
			return document.Wrong(at, "a curve is the same on every day of the week")
		case p.Level == 0 && p.Kelvin == 0:
			return document.Wrong(at, "say how bright, or how white")
		case p.Level != 0 && !(p.Level >= 1 && p.Level <= 100):
			return document.Wrong(at, "a level is from 1 to 100 %%")
		case p.Kelvin != 0 && !(p.Kelvin >= Warmest && p.Kelvin <= Coolest):
			return document.Wrong(at, "white is from %d to %d K", Warmest, Coolest)
		}
	}
	return nil
}

// Track is one of the two things that a curve says.
type Track string

// The tracks.
const (
	LevelTrack Track = "level" // how bright, in percent
	WhiteTrack Track = "white" // the temperature of the white, in kelvin
)

// Says reports whether any point of the curve says something of a track.
func (c *DayCurve) Says(track Track) bool {
	return slices.ContainsFunc(c.Points, func(p DayPoint) bool { return p.of(track) != 0 })
}

func (p *DayPoint) of(track Track) float64 {
	if track == LevelTrack {
		return p.Level
	}
	return p.Kelvin
}

// What can just be noticed when it changes in one step.
const (
	// noticeableLightness is a difference of CIE L*: about 2.3 is just noticeable. (Mahy, Van Eycken and Oosterlinck, Color Research
	// and Application 19, 1994.)
	noticeableLightness = 2.3
	// noticeableWhite is a distance in u′v′: three times 0.0011, which is the radius of a circle as large as the ellipse of one
	// standard deviation of matching colors (CIE TN 001:2014). Three of these are just noticeable. (Wyszecki and Stiles, Color
	// Science, 1982, 5.4.)
	noticeableWhite = 3 * 0.0011
)

// Noticeable is how large the difference between two values of a track looks; 1 is just noticeable.
func (track Track) Noticeable(a, b float64) float64 {
	if track == LevelTrack {
		return math.Abs(Lightness(a/100)-Lightness(b/100)) * fullLight / noticeableLightness
	}
	au, av := OfWhite(a).UV()
	bu, bv := OfWhite(b).UV()
	return math.Hypot(au-bu, av-bv) / noticeableWhite
}

// even is a value on a scale on which equal distances look about equally large: CIE lightness, or reciprocal megakelvin.
func (track Track) even(v float64) float64 {
	if track == LevelTrack {
		return Lightness(v / 100)
	}
	return 1e6 / v
}

func (track Track) uneven(v float64) float64 {
	if track == LevelTrack {
		return Luminance(v) * 100
	}
	return 1e6 / v
}

// Course is a curve on the days around a moment, each point at its time. The zero value says nothing.
type Course struct {
	From, Until time.Time // between which it may be asked
	level       []knot
	white       []knot
}

type knot struct {
	at    time.Time
	value float64 // as the point says
	even  float64
	slope float64 // of even, per second
}

// daysAround is how many days before and after one a course knows, so that on that day and the next one it is as on any other.
const daysAround = 3

// Course returns the curve on the day of a moment, in that moment's zone, and on the days around it.
func (c *DayCurve) Course(around time.Time, place almanac.Place) *Course {
	y, m, d := around.Date()
	day := func(off int) time.Time { return time.Date(y, m, d+off, 0, 0, 0, 0, around.Location()) }
	course := &Course{From: day(0), Until: day(2)}
	for _, track := range []Track{LevelTrack, WhiteTrack} {
		var all []knot
		for off := -daysAround; off <= daysAround+1; off++ {
			noon := day(off).Add(12 * time.Hour)
			for i := range c.Points {
				p := &c.Points[i]
				if v := p.of(track); v != 0 {
					all = append(all, knot{at: p.on(noon, place), value: v, even: track.even(v)})
				}
			}
		}
		all = inOrder(all)
		smooth(all)
		if track == LevelTrack {
			course.level = all
		} else {
			course.white = all
		}
	}
	return course
}

// On returns when each point of the curve comes on the day of a moment.
func (c *DayCurve) On(day time.Time, place almanac.Place) []time.Time {
	y, m, d := day.Date()
	noon := time.Date(y, m, d, 12, 0, 0, 0, day.Location())
	all := make([]time.Time, len(c.Points))
	for i := range c.Points {
		all[i] = c.Points[i].on(noon, place)
	}
	return all
}

// on returns when a point comes on a day. Where the sun does not rise, it is taken to rise and to set at noon, and where it does not
// set, at the midnights around: what the days before and after lead to.
func (p *DayPoint) on(day time.Time, place almanac.Place) time.Time {
	if at, ok := p.At.On(day, place); ok {
		return at
	}
	sun := place.On(day)
	at := sun.Noon
	if sun.Polar == almanac.PolarDay {
		if p.At.Anchor == almanac.BySunset {
			at = at.Add(12 * time.Hour)
		} else {
			at = at.Add(-12 * time.Hour)
		}
	}
	return at.Add(time.Duration(p.At.OffsetMinutes) * time.Minute)
}

// closest is how near two points may come before they are one: of these the one that is written later counts.
const closest = time.Minute

// inOrder sorts knots by time, and of those that come together keeps the last.
func inOrder(all []knot) []knot {
	slices.SortStableFunc(all, func(a, b knot) int { return a.at.Compare(b.at) })
	kept := all[:0]
	for _, k := range all {
		if n := len(kept); n > 0 && k.at.Sub(kept[n-1].at) < closest {
			kept[n-1] = k
			continue
		}
		kept = append(kept, k)
	}
	return kept
}

// smooth gives knots the slopes of a cubic between each two that never goes beyond them. (Fritsch and Carlson, SIAM Journal on
// Numerical Analysis 17, 1980, with the harmonic mean of Fritsch and Butland, SIAM Journal on Scientific Computing 5, 1984.)
func smooth(all []knot) {
	for i := 1; i < len(all)-1; i++ {
		before, after := all[i].at.Sub(all[i-1].at).Seconds(), all[i+1].at.Sub(all[i].at).Seconds()
		a, b := (all[i].even-all[i-1].even)/before, (all[i+1].even-all[i].even)/after
		if a*b <= 0 {
			continue // the top of a hill, or the bottom of a valley
		}
		wa, wb := 2*after+before, after+2*before
		all[i].slope = (wa + wb) / (wa/a + wb/b)
	}
}

func (c *Course) of(track Track) []knot {
	if track == LevelTrack {
		return c.level
	}
	return c.white
}

// At returns the value of a track at a moment, in percent or kelvin; it is false where the curve says nothing of it.
func (c *Course) At(track Track, moment time.Time) (float64, bool) {
	all := c.of(track)
	if len(all) == 0 {
		return 0, false
	}
	i, _ := slices.BinarySearchFunc(all, moment, func(k knot, t time.Time) int { return k.at.Compare(t) })
	switch i {
	case 0:
		return all[0].value, true
	case len(all):
		return all[len(all)-1].value, true
	}
	return between(track, &all[i-1], &all[i], moment), true
}

// between is a curve between two of its points, by Hermite's cubic.
func between(track Track, a, b *knot, moment time.Time) float64 {
	span := b.at.Sub(a.at).Seconds()
	t := moment.Sub(a.at).Seconds() / span
	switch {
	case t <= 0:
		return a.value
	case t >= 1:
		return b.value
	}
	t2, t3 := t*t, t*t*t
	even := (2*t3-3*t2+1)*a.even + (t3-2*t2+t)*span*a.slope + (3*t2-2*t3)*b.even + (t3-t2)*span*b.slope
	// What rounding adds never leads beyond the points.
	return track.uneven(min(max(even, min(a.even, b.even)), max(a.even, b.even)))
}

// Reach is what a lamp can show of a track: from low to high, and no finer than its grain.
type Reach struct{ Low, High, Grain float64 }

// Within brings a value to the nearest that the lamp can show.
func (r Reach) Within(v float64) float64 {
	if r.Grain > 0 {
		v = r.Low + math.Round((v-r.Low)/r.Grain)*r.Grain
	}
	return min(max(v, r.Low), r.High)
}

// Leaves returns when a lamp that shows a value is to be told another: as soon as what the curve says can be told apart from it, by the
// eye and by the lamp. It is false where that is not so before the course ends.
func (c *Course) Leaves(track Track, shown float64, reach Reach, now time.Time) (time.Time, bool) {
	all := c.of(track)
	far := func(t time.Time) bool {
		v, ok := c.At(track, t)
		if !ok {
			return false
		}
		v = min(max(v, reach.Low), reach.High)
		return track.Noticeable(v, shown) >= 1 && math.Abs(v-shown) >= reach.Grain
	}
	from := now
	if far(from) {
		return from, true
	}
	// Between two points a curve only rises or only falls, so it leaves what is shown once at most.
	i, _ := slices.BinarySearchFunc(all, now, func(k knot, t time.Time) int { return k.at.Compare(t) })
	for ; i <= len(all); i++ {
		to := c.Until
		if i < len(all) && all[i].at.Before(to) {
			to = all[i].at
		}
		if !from.Before(to) {
			if !to.Before(c.Until) {
				return time.Time{}, false
			}
			continue
		}
		if far(to) {
			for to.Sub(from) > time.Second {
				if middle := from.Add(to.Sub(from) / 2); far(middle) {
					to = middle
				} else {
					from = middle
				}
			}
			return to, true
		}
		from = to
	}
	return time.Time{}, false
}

// TrackOf returns which track of a curve says what a property is at; "" for none.
func TrackOf(p *thing.Property) Track {
	switch {
	case !p.Writable:
	case p.Role == thing.RoleBrightness && p.Type == thing.TypeNumber:
		return LevelTrack
	case p.Role == thing.RoleColorTemperature, p.Role == thing.RoleColor:
		return WhiteTrack
	}
	return ""
}

// Follows reports whether a property can follow a curve.
func Follows(p *thing.Property) bool { return TrackOf(p) != "" }

// ReachOf is what a lamp can show of a track by a property, in the track's unit.
func ReachOf(p *thing.Property) Reach {
	switch {
	case p.Role == thing.RoleColor:
		return Reach{Low: Warmest, High: Coolest}
	case p.Role == thing.RoleColorTemperature:
		return Reach{Low: p.Minimum, High: p.Maximum, Grain: p.Resolution}
	}
	per := 100 / (p.Maximum - p.Minimum)
	grain := p.Resolution * per
	return Reach{Low: max(grain, 1), High: 100, Grain: grain} // what is on is never put out by a curve
}

// ValueOf is a value of a track as a property has it: the level of a lamp as its brightness, white as its temperature, or as a color.
func ValueOf(p *thing.Property, v float64) thing.Value {
	switch p.Role {
	case thing.RoleColor:
		return OfWhite(v).Value()
	case thing.RoleColorTemperature:
		return thing.Number(v)
	}
	return thing.Number(p.Minimum + v/100*(p.Maximum-p.Minimum))
}

// ShownOf is what [ValueOf] undoes; it is false for a value that is none of the track's.
func ShownOf(p *thing.Property, v thing.Value) (float64, bool) {
	switch {
	case p.Role == thing.RoleColor && v.Kind == thing.KindColor:
		kelvin, _ := Of(v).Temperature()
		return kelvin, true
	case p.Role == thing.RoleColor || v.Kind != thing.KindNumber:
		return 0, false
	case p.Role == thing.RoleColorTemperature:
		return v.Number, true
	}
	return (v.Number - p.Minimum) / (p.Maximum - p.Minimum) * 100, true
}
