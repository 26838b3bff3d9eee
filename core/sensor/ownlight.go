package sensor

import (
	"errors"
	"math"
	"slices"
	"sort"
	"time"
)

// Lamp is a lamp that hangs where a sensor may see it: how much of its full light it gave, from 0 to 1, whenever that became another.
type Lamp struct {
	Device string
	Light  []Sample
}

// LampShare is what a lamp gives a sensor at full light.
type LampShare struct {
	Device string  `json:"device"`
	Lux    float64 `json:"lux" doc:"What it gives the sensor at full light, in lux."`
	// Spread is the standard error of Lux.
	Spread float64 `json:"spread" doc:"How sure that is: its standard error, in lux."`
	Times  int     `json:"times" doc:"Of how many times that it was switched, or dimmed, the sensor said something within two minutes."`
	Unseen int     `json:"unseen,omitempty" doc:"How many times it was switched and the sensor said nothing within two minutes."`
	Sure   bool    `json:"sure" doc:"Whether that is sure: of lamps that were always switched together none is, though their sum may be."`
}

// Switching is a moment at which lamps were switched or dimmed, and what a sensor read before and after it.
type Switching struct {
	At        time.Time `json:"at"`
	Before    float64   `json:"before" doc:"What the sensor read before, in lux."`
	After     float64   `json:"after" doc:"What it read after."`
	Explained float64   `json:"explained" doc:"By how much that should differ by what is learned of its lamps, in lux."`

	changes []float64 // of each lamp's light
	noise   float64
}

// OwnLight is what lamps give a sensor that sees them.
type OwnLight struct {
	Lamps      []LampShare `json:"lamps"`
	Switchings []Switching `json:"switchings" doc:"What it is learned from, in order."`
	// Left is the median of what is left unexplained of a change.
	Left float64 `json:"left" doc:"How far the explained changes lie from those that were read: the median, in lux."`
	Sure bool    `json:"sure" doc:"Whether the lamps together explain what was read well enough to be taken off."`
}

const (
	// settles is how close changes of lamps lie that are one: a scene, a fade.
	settles = 20 * time.Second
	// longestChange is how long one may take; what is slower cannot be told from the daylight.
	longestChange = 2 * time.Minute
	// answersWithin is how long after it a sensor may take to say what it sees then.
	answersWithin = 2 * time.Minute
	// oldest is how old a reading may be that is what it read before: of one that reads the same there is none in its history.
	oldest = 12 * time.Hour
	// knownLate is how much later than a sensor sees it a change of a lamp may become known.
	knownLate = 5 * time.Second
	// leastChange is the least change of a lamp's light that something is learned from.
	leastChange = 0.1
	// fewestTimes is how often a lamp must have been switched for its share to be sure, and sureWithin which part of it its standard
	// error may be, or doubtful, in lux, where it is little.
	fewestTimes = 3
	sureWithin  = 0.25
	doubtful    = 1.0
	// The daylight changes, too, by about a part of itself, and sensors are never exact.
	exactTo   = 0.5
	unsteady  = 0.04
	huber     = 1.345 // P. J. Huber, 1981: Robust Statistics, for 95 % of the efficiency where all noise is normal
	rounds    = 12
	descents  = 200
	smoothing = 1e-4 // tells apart, evenly, what was always switched together
)

// Why nothing is learned of the share of a sensor's own lamps.
var (
	ErrNoReadings  = errors.New("the sensor has no readings yet")
	ErrNeverChange = errors.New("its lamps were not switched yet while the sensor said something within two minutes")
)

// LearnOwnLight learns from the record what lamps give a sensor: at each moment at which lamps were switched, the sensor's readings
// before and after differ by the sum of what the lamps give, times how far each one's light changed, and by what the daylight did
// meanwhile. That is fitted by least squares with no share below 0; changes that do not go with the others count less (Huber).
func LearnOwnLight(readings []Sample, lamps []Lamp) (OwnLight, error) {
	readings = sane(readings)
	if len(readings) == 0 {
		return OwnLight{}, ErrNoReadings
	}
	lamps = slices.Clone(lamps)
	for i := range lamps {
		lamps[i].Light = sane(lamps[i].Light)
	}
	o := OwnLight{Lamps: make([]LampShare, len(lamps)), Switchings: []Switching{}}
	for i, l := range lamps {
		o.Lamps[i].Device = l.Device
	}
	changes := changesOf(lamps)
	for i, c := range changes {
		if c.to.Sub(c.from) > longestChange {
			continue
		}
		until := c.to.Add(answersWithin)
		if i+1 < len(changes) {
			until = earlier(until, changes[i+1].from.Add(-knownLate))
		}
		o.learnFrom(readings, lamps, c, until)
	}
	if len(o.Switchings) == 0 {
		return o, ErrNeverChange
	}
	o.fit()
	return o, nil
}

// span is from when to when lamps changed.
type span struct{ from, to time.Time }

// changesOf returns when lamps changed: what lies close together is one change.
func changesOf(lamps []Lamp) (all []span) {
	var moments []time.Time
	for _, l := range lamps {
		for i := 1; i < len(l.Light); i++ {
			if l.Light[i].Value != l.Light[i-1].Value {
				moments = append(moments, l.Light[i].At)
			}
		}
	}
	slices.SortFunc(moments, time.Time.Compare)
	for _, at := range moments {
		if n := len(all); n > 0 && at.Sub(all[n-1].to) <= settles {
			all[n-1].to = at
		} else {
			all = append(all, span{at, at})
		}
	}
	return all
}

// learnFrom takes what a sensor read before and after a change. What a lamp did since the reading before belongs to it.
func (o *OwnLight) learnFrom(readings []Sample, lamps []Lamp, c span, until time.Time) {
	before := sort.Search(len(readings), func(i int) bool { return !readings[i].At.Before(c.from.Add(-knownLate)) }) - 1
	after := sort.Search(len(readings), func(i int) bool { return readings[i].At.After(until) }) - 1
	if before < 0 || c.from.Sub(readings[before].At) > oldest {
		return
	}
	s := Switching{At: c.from, Before: readings[before].Value, After: readings[after].Value, changes: make([]float64, len(lamps))}
	largest := 0.0
	for i, l := range lamps {
		s.changes[i] = held(l.Light, c.to) - held(l.Light, readings[before].At)
		largest = max(largest, math.Abs(s.changes[i]))
	}
	if largest < leastChange {
		return
	}
	answered := after > before
	for i, by := range s.changes {
		switch {
		case math.Abs(by) < leastChange:
		case answered:
			o.Lamps[i].Times++
		default:
			o.Lamps[i].Unseen++
		}
	}
	if answered {
		s.noise = exactTo + unsteady*math.Min(s.Before, s.After)
		o.Switchings = append(o.Switchings, s)
	}
}

// held is what a lamp's light was at a moment; before the first that is known of it, what it was then.
func held(list []Sample, at time.Time) float64 {
	if len(list) == 0 {
		return 0
	}
	return list[max(0, sort.Search(len(list), func(i int) bool { return list[i].At.After(at) })-1)].Value
}

// fit finds the shares by which the changes are explained best, and how sure each is.
func (o *OwnLight) fit() {
	shares, weights := make([]float64, len(o.Lamps)), make([]float64, len(o.Switchings))
	for i, s := range o.Switchings {
		weights[i] = 1 / (s.noise * s.noise)
	}
	for range rounds {
		o.descend(shares, weights)
		for i, s := range o.Switchings {
			by := math.Abs(o.residual(i, shares)) / s.noise
			weights[i] = math.Min(1, huber/math.Max(by, 1e-9)) / (s.noise * s.noise)
		}
	}
	left, read, squares := make([]float64, len(o.Switchings)), make([]float64, len(o.Switchings)), 0.0
	for i := range o.Switchings {
		rest := o.residual(i, shares)
		o.Switchings[i].Explained = o.Switchings[i].After - o.Switchings[i].Before - rest
		left[i], read[i] = math.Abs(rest), math.Abs(o.Switchings[i].After-o.Switchings[i].Before)
		squares += weights[i] * rest * rest
	}
	o.Left = median(left)
	o.Sure = len(left) >= fewestTimes && o.Left <= math.Max(doubtful, sureWithin*median(read))
	// Of as many changes as there are lamps any can be explained: then their noise is what is presumed of it.
	scale := 1.0
	if free := len(o.Switchings) - len(o.Lamps); free > 0 {
		scale = math.Max(0.25, squares/float64(free))
	}
	variances := inverseDiagonal(o.normal(weights))
	for i := range o.Lamps {
		l := &o.Lamps[i]
		l.Lux, l.Spread = shares[i], math.Sqrt(variances[i]*scale)
		if l.Times == 0 {
			l.Lux, l.Spread = 0, 0
		}
		l.Sure = l.Times >= fewestTimes && l.Spread <= math.Max(doubtful, sureWithin*l.Lux)
	}
}

// residual is what is left of a change that was read, beside what shares explain of it.
func (o *OwnLight) residual(i int, shares []float64) float64 {
	s := &o.Switchings[i]
	rest := s.After - s.Before
	for k, by := range s.changes {
		rest -= by * shares[k]
	}
	return rest
}

// descend improves one share after the other, none below 0, until that is the least of the weighted squares.
func (o *OwnLight) descend(shares, weights []float64) {
	for range descents {
		most := 0.0
		for k := range shares {
			up, down := 0.0, smoothing
			for i, s := range o.Switchings {
				up += weights[i] * s.changes[k] * (o.residual(i, shares) + s.changes[k]*shares[k])
				down += weights[i] * s.changes[k] * s.changes[k]
			}
			next := math.Max(0, up/down)
			most, shares[k] = math.Max(most, math.Abs(next-shares[k])), next
		}
		if most < 1e-6 {
			return
		}
	}
}

// normal is the matrix of the weighted squares.
func (o *OwnLight) normal(weights []float64) [][]float64 {
	n := len(o.Lamps)
	m := make([][]float64, n)
	for a := range n {
		m[a] = make([]float64, n)
		for b := range n {
			for i, s := range o.Switchings {
				m[a][b] += weights[i] * s.changes[a] * s.changes[b]
			}
		}
		m[a][a] += smoothing
	}
	return m
}

// inverseDiagonal returns the diagonal of the inverse of a symmetric matrix whose diagonal is above 0, by elimination (Gauss, Jordan).
func inverseDiagonal(m [][]float64) []float64 {
	n := len(m)
	inverse := make([][]float64, n)
	for i := range n {
		inverse[i] = make([]float64, n)
		inverse[i][i] = 1
	}
	for i := range n {
		pivot := m[i][i]
		for k := range n {
			m[i][k] /= pivot
			inverse[i][k] /= pivot
		}
		for j := range n {
			if j == i {
				continue
			}
			by := m[j][i]
			for k := range n {
				m[j][k] -= by * m[i][k]
				inverse[j][k] -= by * inverse[i][k]
			}
		}
	}
	out := make([]float64, n)
	for i := range n {
		out[i] = math.Max(0, inverse[i][i])
	}
	return out
}
