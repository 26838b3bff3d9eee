package engine

import (
	"slices"
	"time"

	"amvek/core/hold"
	"amvek/core/light"
	"amvek/core/thing"
)

// What is in effect of a property may follow a source: a day curve, or a formula. Its value is worked out whenever it comes into effect,
// so that the very first command is right, and from then on as often as the difference could be seen.

// followFade is over how long a lamp goes to where its day curve has got.
const followFade = 2 * time.Second

// curveState is a day curve at work.
type curveState struct {
	doc    *light.DayCurve
	course *light.Course // on the day that was last asked for; nil where none was
}

// HasCurve reports whether there is such a day curve.
func (e *Engine) HasCurve(id string) bool { return e.curves[id] != nil }

// courseOf returns the course of a day curve on the present day; nil where there is no such curve.
func (e *Engine) courseOf(id string) *light.Course {
	c := e.curves[id]
	if c == nil {
		return nil
	}
	if now := e.Moment(); c.course == nil || now.Before(c.course.From) || !now.Before(c.course.Until.Add(-24*time.Hour)) {
		c.course = c.doc.Course(now, e.place)
	}
	return c.course
}

func (e *Engine) defineCurve(id string, doc *light.DayCurve) {
	e.curves[id] = &curveState{doc: doc}
	if !e.loading {
		e.followAnew()
	}
}

func (e *Engine) removeCurve(id string) {
	delete(e.curves, id)
	e.followAnew()
}

// forgetCourses takes that the house lies elsewhere, or in another zone.
func (e *Engine) forgetCourses() {
	for _, c := range e.curves {
		c.course = nil
	}
}

// curveOf returns the day curve that a lamp follows by the light of its room; of several the one of the light of its own room, or
// else the first by id.
func (e *Engine) curveOf(device string) (curve string) {
	d := e.devices[device]
	if d == nil {
		return ""
	}
	s := e.find(device, d.Light())
	if s == nil {
		return ""
	}
	for _, l := range s.lights {
		own := slices.Contains(l.doc.Rooms, d.Room)
		if id := l.doc.CurveOf(device); id != "" && (curve == "" || own) && e.curves[id] != nil {
			if curve = id; own {
				return curve
			}
		}
	}
	return curve
}

// CurveOf returns the day curve that a lamp follows by the light of its room once it is switched on; "" for none.
func (e *Engine) CurveOf(device string) string { return e.curveOf(device) }

// trackOf returns the course and the track by which a source says what a property is at; nil where it says nothing of it.
func (e *Engine) trackOf(s *slot, source hold.Source) (*light.Course, light.Track) {
	track := light.TrackOf(s.property)
	if track == "" {
		return nil, ""
	}
	id, is := source.Curve()
	if source == hold.OwnCurve {
		id, is = e.curveOf(s.ref.Device), true
	}
	course := e.courseOf(id)
	if !is || course == nil {
		return nil, ""
	}
	if _, says := course.At(track, e.Moment()); !says {
		return nil, ""
	}
	return course, track
}

// sourced returns what a source comes to now for a property; none where it says nothing of it, or is not known.
func (e *Engine) sourced(s *slot, source hold.Source) thing.Value {
	if text, is := source.Expression(); is {
		v := e.within(s, e.workedOut(text))
		if v.IsNone() || s.property.Check(v) != nil {
			return thing.Value{}
		}
		return v
	}
	course, track := e.trackOf(s, source)
	if course == nil {
		return thing.Value{}
	}
	v, _ := course.At(track, e.Moment())
	return light.ValueOf(s.property, light.ReachOf(s.property).Within(v))
}

// renew works out anew what the value in effect of a property follows, and plans when it is worked out next. What cannot be told apart
// from what the lamp was asked for stays as it is.
func (e *Engine) renew(s *slot) {
	source, planned := s.state.Stack.Source(), s.followsNext
	if source == "" {
		e.followNoMore(s)
		return
	}
	if text, is := source.Expression(); is {
		e.followExpression(s, text)
		if v := e.sourced(s, source); !v.IsNone() {
			s.state.Stack.Renew(v)
		}
		return
	}
	e.followNoMore(s)
	if e.dark(s) {
		return // of a lamp that is off nobody sees the white
	}
	course, track := e.trackOf(s, source)
	if course == nil {
		return // the curve is gone, or says nothing of this any more: it stays as it is
	}
	reach, now := light.ReachOf(s.property), e.Moment()
	shown, known := light.ShownOf(s.property, s.state.Target)
	if !known || !stays(course, track, shown, reach, now) {
		v, _ := course.At(track, now)
		shown = reach.Within(v)
		s.state.Stack.Renew(light.ValueOf(s.property, shown))
	} else {
		s.state.Stack.Renew(s.state.Target)
	}
	next, moves := course.Leaves(track, shown, reach, now.Add(time.Second))
	if !moves {
		next = course.Until.Add(-time.Hour) // and by then the course of another day
	}
	if s.followsNext = next; !next.Equal(planned) {
		e.schedule(timer{at: next, kind: timerFollow, slot: s})
	}
}

// stays reports whether what a lamp shows cannot be told apart from what its curve says; what is off shows nothing.
func stays(course *light.Course, track light.Track, shown float64, reach light.Reach, now time.Time) bool {
	if track == light.LevelTrack && shown <= 0 {
		return false
	}
	at, leaves := course.Leaves(track, shown, reach, now)
	return !leaves || at.After(now)
}

// followNoMore ends what made a property follow.
func (e *Engine) followNoMore(s *slot) {
	s.followsNext = time.Time{}
	if s.follower != nil {
		e.unbindExpression(s.follower)
		s.follower = nil
	}
}

// followExpression lets a property follow a formula.
func (e *Engine) followExpression(s *slot, text string) {
	s.followsNext = time.Time{}
	x, _ := e.Expression(text)
	if s.follower != nil && s.follower.expression == x {
		return
	}
	e.followNoMore(s)
	if x == nil {
		return
	}
	s.follower = &weigher{expression: x, follows: s}
	e.bindExpression(s.follower)
	e.weighAgain(s.follower)
}

// followOn commands what a source has become. It is in nobody's journal: that the property follows is there since it does.
func (e *Engine) followOn(s *slot) {
	e.apply(s, followFade, why{silent: true})
}

// followAnew lets all that follows a source look at it anew: a curve was changed, or who follows which.
func (e *Engine) followAnew() {
	for _, id := range sortedKeys(e.byDevice) {
		slots := e.byDevice[id]
		for i := range slots {
			if s := &slots[i]; s.property.Writable && s.state.Stack.Source() != "" {
				e.followOn(s)
			}
		}
	}
}

// followIn lets the lamps of a room's light that follow its curve look at it anew: it may follow another one.
func (e *Engine) followIn(devices []string) {
	for _, id := range devices {
		slots := e.byDevice[id]
		for i := range slots {
			if s := &slots[i]; s.state.Stack.Source() == hold.OwnCurve {
				e.followOn(s)
			}
		}
	}
}

// comesOn returns what a lamp comes on with that is switched on without saying how bright, and what that follows: what its day curve
// says, or else what it was last on with, or full. It is none for what is no lamp that can be dimmed.
func (e *Engine) comesOn(s *slot) (thing.Value, hold.Source) {
	p := s.property
	if p.Role != thing.RoleBrightness || p.Type != thing.TypeNumber {
		return thing.Value{}, ""
	}
	if v := e.sourced(s, hold.OwnCurve); !v.IsNone() {
		return v, hold.OwnCurve
	}
	if now := aimed(s); now.Kind == thing.KindNumber && !p.Extinguishes(now) {
		return now, s.state.Stack.Source()
	}
	if s.state.LastOn > p.Minimum {
		return thing.Number(min(s.state.LastOn, p.Maximum)), ""
	}
	return thing.Number(p.Maximum), ""
}

// comesTo returns what a value that is set comes to, and what it follows: a light that is switched comes on as it does, or is off.
func (e *Engine) comesTo(s *slot, v thing.Value) (thing.Value, hold.Source) {
	switch {
	case !s.property.Switches(v):
		return v, ""
	case v.True():
		return e.comesOn(s)
	}
	return s.property.Rest(), ""
}

// comesOn reports whether a lamp that is off comes on at a value of its light.
func (s *slot) comesOn(v thing.Value) bool {
	p := s.property
	return p.Extinguishes(s.state.Target) && !v.IsNone() && !p.Extinguishes(v)
}

// justSwitched reports whether a lamp that was switched on at itself came on by itself: with what it was last on with, or full. At
// another level it was set to that.
func (s *slot) justSwitched(v thing.Value) bool {
	return v.Near(thing.Number(s.state.LastOn), s.property.Resolution) || v.Near(thing.Number(s.property.Maximum), s.property.Resolution)
}

// lightsUp lets the white of a lamp that comes on follow its day curve, where nobody has set its tone at this very moment.
func (e *Engine) lightsUp(lamp *slot, w why) {
	if e.curveOf(lamp.ref.Device) == "" {
		return
	}
	var tone *slot
	set := false
	e.tones(lamp.ref.Device, func(s *slot) {
		set = set || s.appliedIn == e.instant
		if tone == nil || s.property.Role == thing.RoleColorTemperature {
			tone = s
		}
	})
	if tone == nil || set {
		return
	}
	if v := e.sourced(tone, hold.OwnCurve); !v.IsNone() {
		tone.state.Stack.Write(hold.Base{Value: v, Source: hold.OwnCurve, Since: e.now, By: byCurve, Cause: e.resolve(w)})
		e.apply(tone, 0, w)
	}
}

// tones calls f for what gives the light of a device its tone.
func (e *Engine) tones(device string, f func(s *slot)) {
	slots := e.byDevice[device]
	for i := range slots {
		if s := &slots[i]; light.TrackOf(s.property) == light.WhiteTrack {
			f(s)
		}
	}
}

// dark reports whether a property gives a light its tone that is off.
func (e *Engine) dark(s *slot) bool {
	if light.TrackOf(s.property) != light.WhiteTrack {
		return false
	}
	d := e.devices[s.ref.Device]
	if d == nil {
		return false
	}
	lamp := e.find(s.ref.Device, d.Light())
	return lamp != nil && lamp.property.Extinguishes(lamp.state.Target)
}

// byCurve is who set what a lamp follows by itself as it comes on.
const byCurve = "curve"

// InCurve describes what a property follows at present: the id of the day curve, and whether it is the room's own.
func (e *Engine) InCurve(ref thing.Ref) (id string, is bool) {
	s := e.at(ref)
	if s == nil {
		return "", false
	}
	source := s.state.Stack.Source()
	if source == hold.OwnCurve {
		id = e.curveOf(ref.Device)
		return id, id != ""
	}
	id, is = source.Curve()
	return id, is && e.curves[id] != nil
}

// tonesFirst returns targets with the tones of lamps before how bright they are: so a lamp comes on in its tone.
func (e *Engine) tonesFirst(targets []light.Target) []light.Target {
	tone := func(t light.Target) bool {
		s := e.find(t.Device, t.Property)
		return s != nil && light.TrackOf(s.property) == light.WhiteTrack
	}
	ordered := slices.Clone(targets)
	slices.SortStableFunc(ordered, func(a, b light.Target) int {
		switch at, bt := tone(a), tone(b); {
		case at && !bt:
			return -1
		case bt && !at:
			return 1
		}
		return 0
	})
	return ordered
}
