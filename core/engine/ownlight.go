package engine

import (
	"math"
	"time"

	"amvek/core/home"
	"amvek/core/state"
	"amvek/core/thing"
)

// ownLight is what the lamps that a sensor sees give it, and the reading without them. A reading and what is known of the lamps come on
// different ways, so of a reading that is new it is not known for sure whether the lamps were already as they are known to be: that is
// taken which explains better by how much the reading is another than before.
type ownLight struct {
	to *slot // the reading without the lamps
	// lamps is what they were taken to give last, in lux, and readings what was read since then or lately, and the last before that.
	lamps    float64
	readings []reading
	differs  time.Time // since when the lamps give something else; zero while they do not
	looks    time.Time // when it is looked at again what of the lamps became known after a reading
}

// reading is what a sensor read from a moment on.
type reading struct {
	at  time.Time
	lux float64
}

func (o *ownLight) shift(move func(times ...*time.Time)) {
	move(&o.looks, &o.differs)
	for i := range o.readings {
		move(&o.readings[i].at)
	}
}

// recall forgets what was read too long ago to be compared with what is read now.
func (o *ownLight) recall(now time.Time) {
	if !o.differs.IsZero() {
		return
	}
	for len(o.readings) > 1 && (now.Sub(o.readings[1].at) > lampsLate || len(o.readings) > readingsAtMost) {
		o.readings = o.readings[1:]
	}
}

const (
	// lampsLate is how long after a reading a change of a lamp may become known that it was of.
	lampsLate = 30 * time.Second
	// readingLate is how long after a lamp changed a reading may come that does not know of it yet.
	readingLate = 2 * time.Minute
	// underWay is for how long a lamp that was told something is taken to be there already.
	underWay = 10 * time.Second
	// readingsAtMost bounds what is recalled of a sensor that says much.
	readingsAtMost = 100
	// lightGrains is into how many parts a lux is rounded.
	lightGrains = 10
)

// bindOwnLight puts the readings of a device to work that are without the lamps that it sees.
func (e *Engine) bindOwnLight(id string, d *home.Device) {
	slots := e.byDevice[id]
	for i := range slots {
		s := &slots[i]
		to := d.Description.WithoutLamps(s.ref.Name)
		if s.ownLight == nil && to == nil {
			continue
		}
		s.ownLight = nil
		if to != nil {
			s.ownLight = &ownLight{to: e.find(id, to.Name)}
		}
		s.attach()
		if s.ownLight != nil && !e.loading && s.Reported.Kind == thing.KindNumber {
			e.takeOffLamps(s)
		}
	}
}

// takeOffLamps takes what a sensor reads now for the reading without the lamps that it sees.
func (e *Engine) takeOffLamps(s *slot) {
	if s.Reported.Kind != thing.KindNumber {
		return
	}
	o := s.ownLight
	e.account(s)
	if s.ChangedAt.Equal(e.now) {
		o.looks = e.now.Add(lampsLate)
		e.schedule(timer{at: o.looks, kind: timerOwnLight, slot: s})
	}
}

// account takes into account what the lamps give, as far as the reading is of that.
func (e *Engine) account(s *slot) {
	o, reads, lamps := s.ownLight, s.Reported.Number, e.lampsGive(s.ownLight.to.property.Without)
	o.recall(e.now)
	if len(o.readings) == 0 {
		o.lamps = lamps
	} else {
		jump, by := reads-o.readings[0].lux, lamps-o.lamps
		switch {
		case by == 0:
			o.differs = time.Time{}
		case math.Abs(jump-by) < math.Abs(jump), !o.differs.IsZero() && e.now.Sub(o.differs) >= readingLate:
			o.lamps, o.readings, o.differs = lamps, nil, time.Time{}
		case o.differs.IsZero():
			o.differs = e.now
		}
	}
	if n := len(o.readings); n == 0 || o.readings[n-1].lux != reads {
		o.readings = append(o.readings, reading{e.now, reads})
	}
	v := thing.Number(math.Round(math.Max(0, reads-o.lamps)*lightGrains) / lightGrains)
	o.to.ReportedAt = e.now
	if v != o.to.Reported {
		o.to.state.Certainty = state.Confirmed
		e.change(o.to, v, why{})
	}
}

// lampsGive returns what lamps give a sensor as they are known to be, in lux. The level of a lamp is taken for its share of full light.
func (e *Engine) lampsGive(w *thing.Without) (lux float64) {
	for _, id := range sortedKeys(w.Lamps) {
		d, full := e.devices[id], w.Lamps[id]
		if d == nil {
			continue
		}
		s := e.find(id, d.Light())
		if s == nil {
			continue
		}
		is := s.Reported
		if s.state.Certainty == state.Pending && e.now.Sub(s.state.AskedAt) < underWay {
			is = s.state.Target
		}
		switch {
		case is.Kind == thing.KindNumber && s.maximum > s.minimum:
			lux += full * (is.Number - s.minimum) / (s.maximum - s.minimum)
		case is.True():
			lux += full
		}
	}
	return lux
}
