package views

import (
	"time"

	"amvek/core/almanac"
	"amvek/core/light"
	"amvek/hub/docs"
)

// CurveView is a day curve.
type CurveView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	light.DayCurve
	UsedBy []docs.Use `json:"usedBy"`
}

// ShownTitle implements [show.Titled].
func (v CurveView) ShownTitle() string { return v.Title }

// Curve returns a day curve that there is.
func (r *Reader) Curve(id string) CurveView {
	kept := r.Definitions.Curves[id]
	return CurveView{ID: id, Revision: kept.Revision, DayCurve: *kept.Doc, UsedBy: r.Definitions.UsedBy(id)}
}

// CurveDay is a day curve on one day.
type CurveDay struct {
	Day    string    `json:"day" doc:"The date, such as 2026-06-21."`
	Points []CurveAt `json:"points" doc:"Where each of its points comes on that day, in the order of the document."`
	Along  []CurveAt `json:"along" doc:"What it says over the day, in the order of time."`
	Now    *CurveAt  `json:"now,omitempty" doc:"What it says now; absent for another day than today."`
	Rise   float64   `json:"rise,omitempty" doc:"Sunrise in hours after midnight by the clock; absent where the sun does not rise."`
	Set    float64   `json:"set,omitempty" doc:"Sunset in hours after midnight by the clock."`
	Steps  int       `json:"steps" doc:"How many steps that can just be noticed it goes over the day, brightness and white together."`
}

// CurveAt is what a day curve says at a time.
type CurveAt struct {
	Hour   float64 `json:"hour" doc:"Hours after midnight by the clock."`
	Level  float64 `json:"level,omitempty" doc:"How bright, in percent; absent where it says nothing of it."`
	Kelvin float64 `json:"kelvin,omitempty"`
	Swatch string  `json:"swatch,omitempty" doc:"The white as #rrggbb."`
}

// along is how far apart what a curve says over a day is shown.
const along = 10 * time.Minute

// CurveOn returns a day curve, saved or not, on a day in the zone of the house.
func CurveOn(doc *light.DayCurve, day, now time.Time, place almanac.Place) CurveDay {
	y, m, d := day.Date()
	midnight := time.Date(y, m, d, 0, 0, 0, 0, day.Location())
	course, sun := doc.Course(midnight, place), place.On(midnight.Add(12*time.Hour))
	v := CurveDay{Day: midnight.Format(time.DateOnly), Points: []CurveAt{}, Along: []CurveAt{}}
	if sun.Polar == almanac.NotPolar {
		v.Rise, v.Set = clockHours(sun.Rise), clockHours(sun.Set)
	}
	said := func(at time.Time, hour float64) CurveAt {
		a := CurveAt{Hour: hour}
		if level, ok := course.At(light.LevelTrack, at); ok {
			a.Level = tenths(level)
		}
		if kelvin, ok := course.At(light.WhiteTrack, at); ok {
			a.Kelvin, a.Swatch = float64(int(kelvin+0.5)), light.Swatch(light.OfWhite(kelvin))
		}
		return a
	}
	for _, at := range doc.On(midnight, place) {
		v.Points = append(v.Points, said(at, at.Sub(midnight).Hours()-skipped(midnight, at)))
	}
	end := midnight.AddDate(0, 0, 1)
	for at := midnight; at.Before(end); at = at.Add(along) {
		v.Along = append(v.Along, said(at, clockHours(at)))
	}
	v.Along = append(v.Along, said(end, 24))
	var steps float64
	for _, track := range []light.Track{light.LevelTrack, light.WhiteTrack} {
		before, ok := course.At(track, midnight)
		for at := midnight.Add(along); ok && !at.After(end); at = at.Add(along) {
			v, _ := course.At(track, at)
			steps += track.Noticeable(before, v)
			before = v
		}
	}
	v.Steps = int(steps + 0.5)
	if !now.Before(midnight) && now.Before(end) {
		present := said(now, clockHours(now))
		v.Now = &present
	}
	return v
}

// clockHours is a time of day as its clock shows it.
func clockHours(t time.Time) float64 {
	hour, minute, second := t.Clock()
	return float64(hour) + float64(minute)/60 + float64(second)/3600
}

// skipped is by how many hours the clock was moved on between two moments.
func skipped(from, to time.Time) float64 {
	_, a := from.Zone()
	_, b := to.Zone()
	return float64(a-b) / 3600
}
