package cover_test

import (
	"encoding/json"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cover"
)

var zero = time.Date(2026, 5, 4, 9, 0, 0, 0, time.UTC)

// motor is a shutter with its relay: what is told and what it says take their time to arrive.
type motor struct {
	t      testing.TB
	now    time.Time
	by     cover.Settings
	state  cover.State
	up     float64 // true travel times, in seconds
	down   float64
	place  float64
	placed time.Time
	on     [2]bool
	off    [2]time.Time // since when each is truly off
	hand   [2]bool      // which a hand at the wall switched on last
	draws  bool
	told   []message // on the way to the relay
	says   []message // on the way to the hub
	delay  func() time.Duration
	burnt  string
	done   []cover.Result
	count  int
}

type message struct {
	at   time.Time
	side cover.Side
	on   bool
	draw float64
	kind string
}

func newMotor(t testing.TB, place float64) *motor {
	m := &motor{
		t: t, now: zero, place: place, placed: zero, up: 24, down: 20, delay: func() time.Duration { return 0 },
		by: cover.Settings{Travel: cover.Travel{UpSeconds: 24, DownSeconds: 20}, Dead: cover.DefaultDead},
	}
	m.off = [2]time.Time{zero.Add(-time.Hour), zero.Add(-time.Hour)}
	m.take(m.state.Report(cover.Up, false, m.now, m.by))
	m.take(m.state.Report(cover.Down, false, m.now, m.by))
	m.now, m.placed = zero.Add(time.Minute), zero.Add(time.Minute)
	return m
}

func (m *motor) take(r cover.Result) {
	for _, s := range r.Switch {
		m.count++
		m.told = append(m.told, message{at: m.arrival(m.told), side: s.Side, on: s.On})
	}
	if r.Done != cover.Nothing {
		m.done = append(m.done, r)
	}
}

// arrival keeps what goes one way in order.
func (m *motor) arrival(before []message) time.Time {
	at := m.now.Add(m.delay())
	if n := len(before); n > 0 && before[n-1].at.After(at) {
		at = before[n-1].at
	}
	return at
}

func (m *motor) move() {
	ran := m.now.Sub(m.placed).Seconds()
	m.placed = m.now
	if m.on[cover.Up] {
		m.place += ran / m.up * 100
	} else if m.on[cover.Down] {
		m.place -= ran / m.down * 100
	}
	if m.place = min(max(m.place, 0), 100); m.draws && ((m.on[cover.Up] && m.place == 100) || (m.on[cover.Down] && m.place == 0)) {
		m.say(message{kind: "draw"})
	}
}

func (m *motor) say(s message) {
	s.at = m.arrival(m.says)
	m.says = append(m.says, s)
}

// set switches an output of the relay, which breaks when that powers the motor both ways, or turns it without a rest.
func (m *motor) set(side cover.Side, on bool) {
	m.move()
	if on && m.on[1-side] {
		m.burnt = "both ways"
	}
	if on && m.now.Sub(m.off[1-side]) < 300*time.Millisecond {
		m.burnt = "no rest"
	}
	if m.on[side] && !on {
		m.off[side] = m.now
	}
	m.on[side] = on
	if m.draws {
		m.say(message{kind: "draw", draw: map[bool]float64{true: 140}[on]})
	}
	m.say(message{side: side, on: on})
}

// press is a hand at the wall: it stops what runs, or else runs that way. The plate itself keeps the two apart.
func (m *motor) press(side cover.Side) {
	switch {
	case m.on[0] || m.on[1]:
		m.set(cover.Up, false)
		m.set(cover.Down, false)
	case m.now.Sub(m.off[1-side]) >= time.Second:
		m.set(side, true)
		m.hand[side] = true
	}
}

// pass lets time go by, with everything that happens in it.
func (m *motor) pass(d time.Duration) {
	for end := m.now.Add(d); ; {
		next := end
		for _, list := range [][]message{m.told, m.says} {
			if len(list) > 0 && list[0].at.Before(next) {
				next = list[0].at
			}
		}
		if at := m.state.Next(m.by); !at.IsZero() && at.Before(next) {
			next = at
		}
		if m.draws && (m.on[0] || m.on[1]) {
			left := (100 - m.place) / 100 * m.up
			if m.on[cover.Down] {
				left = m.place / 100 * m.down
			}
			if at := m.placed.Add(time.Duration(left * float64(time.Second))); left > 0 && at.Before(next) {
				next = at.Add(time.Nanosecond)
			}
		}
		if next.After(m.now) {
			m.now = next
		}
		m.move()
		m.arrive()
		if at := m.state.Next(m.by); !at.IsZero() && !at.After(m.now) {
			m.take(m.state.Tick(m.now, m.by))
			if again := m.state.Next(m.by); !again.IsZero() && !again.After(m.now) && again.Equal(at) && len(m.told)+len(m.says) == 0 {
				m.t.Fatalf("it wants to be woken again at %s, for ever: %+v", again, m.state)
			}
		}
		if !m.now.Before(end) && (len(m.told) == 0 || m.told[0].at.After(end)) && (len(m.says) == 0 || m.says[0].at.After(end)) {
			return
		}
	}
}

func (m *motor) arrive() {
	for len(m.told) > 0 && !m.told[0].at.After(m.now) {
		s := m.told[0]
		m.told = m.told[1:]
		if s.on && m.hand[1-s.side] && (m.on[1-s.side] || m.now.Sub(m.off[1-s.side]) < time.Second) {
			continue // the relay keeps what it is told apart from what its own buttons do, never from itself
		}
		if s.on {
			m.hand[s.side] = false
		}
		m.set(s.side, s.on)
	}
	for len(m.says) > 0 && !m.says[0].at.After(m.now) {
		s := m.says[0]
		m.says = m.says[1:]
		if s.kind == "draw" {
			m.take(m.state.Draw(s.draw, m.now, m.by))
			continue
		}
		m.take(m.state.Report(s.side, s.on, m.now, m.by))
	}
}

func (m *motor) goTo(to float64) { m.take(m.state.Go(to, m.now, m.by)) }

func (m *motor) last() cover.Result {
	require.NotEmpty(m.t, m.done)
	return m.done[len(m.done)-1]
}

func (m *motor) believed() float64 {
	place, known := m.state.Estimate(m.now, m.by)
	require.True(m.t, known)
	return place
}

func TestItFindsItsWayFromNowhere(t *testing.T) {
	m := newMotor(t, 63)
	_, known := m.state.Estimate(m.now, m.by)
	assert.False(t, known, "nobody has seen it yet")
	m.goTo(40)
	m.pass(time.Minute)
	assert.Equal(t, cover.Arrived, m.last().Done)
	assert.InDelta(t, 40, m.place, 1, "to an end first, then where it was sent")
	assert.InDelta(t, 40, m.believed(), 1)
	m.goTo(75)
	m.pass(5 * time.Second)
	assert.InDelta(t, m.place, m.believed(), 0.5, "its place is known on the way")
	m.pass(time.Minute)
	assert.InDelta(t, 75, m.place, 1)
}

func TestTheEndStopsCorrectWhatWasBelieved(t *testing.T) {
	m := newMotor(t, 50)
	m.state.Place, m.state.Known = 80, true // wrong by far
	m.goTo(0)
	m.pass(time.Minute)
	assert.Equal(t, cover.Arrived, m.last().Done)
	assert.Zero(t, m.place)
	m.state.Place = 20
	m.press(cover.Up)
	m.pass(30 * time.Second)
	assert.Equal(t, 100.0, m.believed(), "a hand that runs it for longer than the whole way shows where it is")
	m.press(cover.Up)
	m.pass(time.Second)
	assert.Equal(t, cover.ByHand, m.last().Done)
	assert.InDelta(t, m.place, m.believed(), 0.1)
}

func TestAHandAtTheWallStopsItMidway(t *testing.T) {
	m := newMotor(t, 0)
	m.state.Known = true
	m.goTo(100)
	m.pass(6 * time.Second)
	m.press(cover.Down)
	m.pass(10 * time.Second)
	assert.Equal(t, cover.ByHand, m.last().Done)
	assert.InDelta(t, 25, m.place, 0.5)
	assert.InDelta(t, 25, m.believed(), 0.5)
	assert.False(t, m.on[0] || m.on[1])
	m.take(m.state.Stop(m.now, m.by))
	assert.Equal(t, cover.Halted, m.last().Done, "stopping what stands is done at once")
}

func TestBothDirectionsInARowRestBetween(t *testing.T) {
	m := newMotor(t, 50)
	m.state.Place, m.state.Known = 50, true
	m.goTo(100)
	m.pass(4 * time.Second)
	m.goTo(0)
	assert.True(t, m.on[cover.Up], "before what was told arrives")
	m.pass(500 * time.Millisecond)
	assert.False(t, m.on[0] || m.on[1], "it rests")
	m.pass(600 * time.Millisecond)
	assert.True(t, m.on[cover.Down])
	m.pass(time.Minute)
	assert.Empty(t, m.burnt)
	assert.Zero(t, m.place)
}

func TestTravelTimesAreLearnedByTheMotorsDraw(t *testing.T) {
	m := newMotor(t, 30)
	m.draws, m.up, m.down = true, 31.5, 27.25
	m.by.Travel = cover.Travel{}
	m.goTo(40)
	assert.Equal(t, cover.Failed, m.last().Done, "without travel times there is no forty percent")
	m.take(m.state.Learn(m.now, m.by))
	m.pass(2 * time.Minute)
	require.Equal(t, cover.Learned, m.last().Done)
	assert.InDelta(t, 31.5, m.state.Learning.Travel.UpSeconds, 0.1)
	assert.InDelta(t, 27.25, m.state.Learning.Travel.DownSeconds, 0.1)
	assert.Zero(t, m.believed())
}

func TestForgettingWhatWasMeasuredStopsNothingElse(t *testing.T) {
	m := newMotor(t, 30)
	m.draws = true
	m.take(m.state.Learn(m.now, m.by))
	m.pass(2 * time.Minute)
	require.Equal(t, cover.Learned, m.last().Done)
	m.goTo(100)
	m.pass(3 * time.Second)
	m.take(m.state.Forget(m.now, m.by))
	m.pass(time.Minute)
	assert.Nil(t, m.state.Learning)
	assert.InDelta(t, 100, m.place, 1, "it was on its way, and goes on")

	m.take(m.state.Learn(m.now, m.by))
	m.pass(3 * time.Second)
	m.take(m.state.Forget(m.now, m.by))
	m.pass(time.Second)
	assert.False(t, m.on[0] || m.on[1], "a measuring that is ended stops")
}

func TestTravelTimesAreLearnedByWhoWatches(t *testing.T) {
	m := newMotor(t, 30)
	m.by.Travel = cover.Travel{}
	m.take(m.state.Learn(m.now, m.by))
	m.pass(8 * time.Second)
	m.take(m.state.Here(m.now, m.by))
	m.pass(2*time.Second + 24*time.Second - time.Second)
	m.take(m.state.Here(m.now, m.by))
	m.pass(1*time.Second + 20*time.Second)
	m.take(m.state.Here(m.now, m.by))
	require.Equal(t, cover.Learned, m.last().Done)
	assert.InDelta(t, 24, m.state.Learning.Travel.UpSeconds, 1)
	assert.InDelta(t, 20, m.state.Learning.Travel.DownSeconds, 1)
	m.pass(5 * time.Second)
	assert.False(t, m.on[0] || m.on[1])
}

func TestLearningEndsWhenSomebodyPressesOrNothingEnds(t *testing.T) {
	m := newMotor(t, 30)
	m.take(m.state.Learn(m.now, m.by))
	m.pass(2 * time.Second)
	m.press(cover.Up)
	m.pass(time.Second)
	assert.Equal(t, cover.Unlearnt, m.last().Done)
	assert.Contains(t, m.last().Reason, "at the wall")
	assert.False(t, m.on[0] || m.on[1])

	m.take(m.state.Learn(m.now, m.by))
	m.pass(3 * time.Minute)
	assert.Contains(t, m.last().Reason, "No end")
	assert.False(t, m.on[0] || m.on[1])
}

func TestPowerCutInMidTravel(t *testing.T) {
	m := newMotor(t, 50)
	m.state.Place, m.state.Known = 50, true
	m.goTo(100)
	m.pass(3 * time.Second)
	m.on = [2]bool{}
	m.take(m.state.Lost(m.now, m.by))
	assert.Equal(t, cover.Failed, m.last().Done)
	_, known := m.state.Estimate(m.now, m.by)
	assert.False(t, known)
	m.goTo(30)
	m.pass(10 * time.Second)
	assert.False(t, m.on[0] || m.on[1], "nothing runs before the relay has said how it stands")
	m.say(message{side: cover.Up})
	m.say(message{side: cover.Down})
	m.pass(time.Minute)
	assert.InDelta(t, 30, m.place, 1, "to an end first")
}

func TestARelayThatDoesNotAnswer(t *testing.T) {
	m := newMotor(t, 50)
	m.delay = func() time.Duration { return time.Hour }
	m.goTo(100)
	m.pass(10 * time.Second)
	assert.Equal(t, cover.Failed, m.last().Done)
	assert.Equal(t, "It did not start.", m.last().Reason)
}

func TestItGoesOnFromWhatWasKept(t *testing.T) {
	m := newMotor(t, 0)
	m.state.Known = true
	m.goTo(50)
	m.pass(4 * time.Second)
	kept, err := json.Marshal(m.state)
	require.NoError(t, err)
	var again cover.State
	require.NoError(t, json.Unmarshal(kept, &again))
	m.now = m.now.Add(5 * time.Second) // the hub was off, and the motor ran on
	m.move()
	m.state = again
	m.pass(10 * time.Second)
	assert.Equal(t, cover.Arrived, m.last().Done)
	assert.InDelta(t, 50, m.believed(), 3)
	assert.InDelta(t, m.place, m.believed(), 1)
}

// Invariant 2: two outputs that exclude each other are never both on, and the dead time holds, whatever comes
// in and in whatever order, as long as what is told arrives within cover.Transit.
func TestNothingEverBurns(t *testing.T) {
	commands := 300_000
	if testing.Short() {
		commands = 30_000
	}
	for seed := uint64(1); commands > 0; seed++ {
		random := rand.New(rand.NewPCG(seed, 7))
		m := newMotor(t, float64(random.IntN(101)))
		m.draws = random.IntN(2) == 0
		slowest := []time.Duration{0, 20 * time.Millisecond, 200 * time.Millisecond, 900 * time.Millisecond}[random.IntN(4)]
		m.delay = func() time.Duration { return time.Duration(random.Int64N(int64(slowest) + 1)) }
		var story []int
		for range 400 {
			act := random.IntN(12)
			story = append(story, act)
			switch act {
			case 0, 1, 2:
				m.goTo(float64(random.IntN(101)))
			case 3:
				m.goTo(float64(random.IntN(2) * 100))
			case 4, 5:
				m.take(m.state.Stop(m.now, m.by))
			case 6:
				m.press(cover.Side(random.IntN(2)))
			case 7:
				m.take(m.state.Learn(m.now, m.by))
			case 8:
				m.take(m.state.Here(m.now, m.by))
			case 9:
				kept, _ := json.Marshal(m.state)
				m.state = cover.State{}
				require.NoError(t, json.Unmarshal(kept, &m.state))
			case 10:
				m.take(m.state.Forget(m.now, m.by))
			case 11:
				m.pass(time.Duration(random.IntN(60)) * time.Second)
			}
			m.pass(time.Duration(random.IntN(400)) * time.Millisecond)
			commands--
			if m.burnt != "" {
				t.Fatalf("seed %d after %v: burnt, %s", seed, story, m.burnt)
			}
		}
		m.delay = func() time.Duration { return 0 }
		m.pass(10 * time.Second)
		m.take(m.state.Forget(m.now, m.by))
		m.take(m.state.Stop(m.now, m.by))
		m.pass(10 * time.Second)
		if m.on[0] || m.on[1] {
			t.Fatalf("seed %d: it runs on after %v\n%+v", seed, story[max(0, len(story)-20):], m.state)
		}
		// Once at an end, what is believed is true.
		for _, end := range []float64{0, 100} {
			m.goTo(end)
			m.pass(2 * time.Minute)
		}
		m.goTo(40)
		m.pass(2 * time.Minute)
		if math.Abs(m.place-m.believed()) > 1 || !slices.ContainsFunc(m.done, func(r cover.Result) bool { return r.Done == cover.Arrived }) {
			t.Fatalf(
				"seed %d: it is at %.1f and believed at %.1f\n%+v\n%v %v draws %v slowest %s",
				seed,
				m.place,
				m.believed(),
				m.state,
				m.done[len(m.done)-3:],
				story[380:],
				m.draws,
				slowest,
			)
		}
	}
}
