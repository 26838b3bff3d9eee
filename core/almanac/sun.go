// Package almanac knows the sun and the calendar: when the sun rises and sets at
// a place, and when a daily or weekly time comes next, right across clock
// changes. It takes the time as an argument and does no I/O.
package almanac

import (
	"math"
	"time"
)

// Place is a point on the globe, in degrees; north and east are positive.
type Place struct {
	Latitude, Longitude float64
}

// Polar says whether the sun crosses the horizon on a day.
type Polar string

// The sun stays above the horizon all day, or below, or neither.
const (
	NotPolar   Polar = ""
	PolarDay   Polar = "day"
	PolarNight Polar = "night"
)

// Sun is one day's sun at a place. On a polar day or night Rise and Set are zero;
// Dawn and Dusk are zero when the sun does not reach 6° below the horizon, or never leaves it.
type Sun struct {
	Dawn  time.Time // begin of civil twilight, sun at −6°
	Rise  time.Time // upper limb at the horizon, sun at −0.833°
	Noon  time.Time
	Set   time.Time
	Dusk  time.Time // end of civil twilight
	Polar Polar
}

const (
	horizon  = -0.833 // refraction 34′ and the sun's radius 16′
	twilight = -6.0
)

// On returns the sun of the calendar day of t in t's own zone. The equations are
// those of the NOAA Solar Calculation Details (after Meeus, Astronomical
// Algorithms, ch. 25), good to about a minute between 72° N and 72° S.
func (p Place) On(t time.Time) Sun {
	year, month, day := t.Date()
	midday := time.Date(year, month, day, 12, 0, 0, 0, t.Location())
	noon := p.noonNear(midday)
	sun := Sun{Noon: noon.In(t.Location())}
	var crosses bool
	sun.Rise, sun.Set, crosses = p.crossings(noon, horizon)
	if !crosses {
		sun.Polar = PolarNight
		if p.Height(noon) > horizon {
			sun.Polar = PolarDay
		}
	} else {
		sun.Rise, sun.Set = sun.Rise.In(t.Location()), sun.Set.In(t.Location())
	}
	if dawn, dusk, ok := p.crossings(noon, twilight); ok {
		sun.Dawn, sun.Dusk = dawn.In(t.Location()), dusk.In(t.Location())
	}
	return sun
}

// noonNear returns the transit of the sun nearest to t.
func (p Place) noonNear(t time.Time) time.Time {
	noon := t
	for range 3 {
		_, equation := solar(noon)
		utc := noon.UTC()
		minutes := float64(utc.Hour()*60+utc.Minute()) + float64(utc.Second())/60 + float64(utc.Nanosecond())/6e10
		off := 720 - 4*p.Longitude - equation - minutes
		off = math.Mod(off+720+1440, 1440) - 720
		noon = noon.Add(time.Duration(off * float64(time.Minute)))
	}
	return noon.Round(time.Second)
}

// crossings returns when the sun passes the height (degrees) before and after the given noon.
func (p Place) crossings(noon time.Time, height float64) (before, after time.Time, ok bool) {
	find := func(sign float64) (time.Time, bool) {
		at := noon
		// The declination moves while the sun does, so the hour angle is refined at the found time.
		for range 4 {
			declination, equation := solar(at)
			cos := (sine(height) - sine(p.Latitude)*sine(declination)) / (cosine(p.Latitude) * cosine(declination))
			if math.IsNaN(cos) || cos < -1 || cos > 1 {
				return time.Time{}, false
			}
			_, noonEquation := solar(noon)
			minutes := sign*4*math.Acos(cos)*180/math.Pi - (equation - noonEquation)
			at = noon.Add(time.Duration(minutes * float64(time.Minute)))
		}
		return at.Round(time.Second), true
	}
	before, okBefore := find(-1)
	after, okAfter := find(1)
	return before, after, okBefore && okAfter
}

// Height returns how high the sun's center stands above the horizon, in degrees, without refraction.
func (p Place) Height(t time.Time) float64 {
	declination, angle := p.position(t)
	return math.Asin(sine(p.Latitude)*sine(declination)+cosine(p.Latitude)*cosine(declination)*cosine(angle)) * 180 / math.Pi
}

func (p Place) position(t time.Time) (declination, hourAngle float64) {
	declination, equation := solar(t)
	utc := t.UTC()
	minutes := float64(utc.Hour()*60+utc.Minute()) + float64(utc.Second())/60
	return declination, (minutes+equation+4*p.Longitude)/4 - 180
}

// solar returns the sun's declination in degrees and the equation of time in minutes.
func solar(t time.Time) (declination, equation float64) {
	century := (float64(t.Unix())/86400 + 2440587.5 - 2451545) / 36525
	meanLongitude := math.Mod(280.46646+century*(36000.76983+century*0.0003032), 360)
	anomaly := 357.52911 + century*(35999.05029-0.0001537*century)
	eccentricity := 0.016708634 - century*(0.000042037+0.0000001267*century)
	center := sine(anomaly)*(1.914602-century*(0.004817+0.000014*century)) +
		sine(2*anomaly)*(0.019993-0.000101*century) + sine(3*anomaly)*0.000289
	node := 125.04 - 1934.136*century
	apparent := meanLongitude + center - 0.00569 - 0.00478*sine(node)
	obliquity := 23 + (26+(21.448-century*(46.815+century*(0.00059-century*0.001813)))/60)/60 + 0.00256*cosine(node)
	declination = math.Asin(sine(obliquity)*sine(apparent)) * 180 / math.Pi
	y := math.Pow(math.Tan(obliquity/2*math.Pi/180), 2)
	radians := y*sine(2*meanLongitude) - 2*eccentricity*sine(anomaly) + 4*eccentricity*y*sine(anomaly)*cosine(2*meanLongitude) -
		y*y/2*sine(4*meanLongitude) - 1.25*eccentricity*eccentricity*sine(2*anomaly)
	return declination, radians * 4 * 180 / math.Pi
}

func sine(degrees float64) float64   { return math.Sin(degrees * math.Pi / 180) }
func cosine(degrees float64) float64 { return math.Cos(degrees * math.Pi / 180) }
