package cover_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cover"
)

var settings = cover.Settings{Travel: cover.Travel{UpSeconds: 20, DownSeconds: 10}, Dead: cover.DefaultDead}

// at returns a shutter that rests at a place, known for long.
func at(place float64) cover.State {
	long := zero.Add(-time.Hour)
	off := cover.Output{Heard: true, Since: long}
	return cover.State{Place: place, Known: true, At: long, Outputs: [2]cover.Output{off, off}}
}

// running returns a shutter that a hand set going at zero from a place.
func running(t *testing.T, side cover.Side, place float64) cover.State {
	s := at(place)
	s.Report(side, true, zero, settings)
	moving, is := s.Moving()
	require.True(t, is && moving == side)
	return s
}

func TestTravelTimesAreChecked(t *testing.T) {
	for _, c := range []struct {
		up, down float64
		well     bool
	}{{1, 120, true}, {120, 1, true}, {0.99, 10, false}, {10, 120.5, false}, {0, 0, false}, {-5, 10, false}} {
		assert.Equal(t, c.well, cover.Travel{UpSeconds: c.up, DownSeconds: c.down}.Check() == nil, "%v", c)
	}
	assert.True(t, cover.Travel{UpSeconds: 1, DownSeconds: 1}.Known())
	assert.False(t, cover.Travel{UpSeconds: 0, DownSeconds: 1}.Known())
	assert.False(t, cover.Travel{UpSeconds: 1, DownSeconds: 0}.Known())
}

func TestWhereItStandsIsReckonedByItsOwnTimes(t *testing.T) {
	after := func(s cover.State, d time.Duration) float64 {
		place, known := s.Estimate(zero.Add(d), settings)
		assert.True(t, known)
		return place
	}
	up, down := running(t, cover.Up, 30), running(t, cover.Down, 70)
	assert.InDelta(t, 55, after(up, 5*time.Second), 1e-9, "a quarter of 20 s is a quarter of the way")
	assert.InDelta(t, 20, after(down, 5*time.Second), 1e-9, "half of 10 s is half of it")
	assert.InDelta(t, 100, after(up, 15*time.Second), 1e-9, "not beyond its ends")
	assert.InDelta(t, 0, after(down, 8*time.Second), 1e-9)
	assert.InDelta(t, 30, after(up, -time.Second), 1e-9, "nor backwards, should the clock be")

	// Wherever it began: after its whole time and a tenth it is at the end.
	nowhere := cover.State{Outputs: at(0).Outputs}
	nowhere.Report(cover.Down, true, zero, settings)
	_, known := nowhere.Estimate(zero.Add(11*time.Second-1), settings)
	assert.False(t, known)
	place, known := nowhere.Estimate(zero.Add(11*time.Second), settings)
	assert.True(t, known)
	assert.Zero(t, place)
	untimed := cover.Settings{Dead: cover.DefaultDead}
	_, known = up.Estimate(zero.Add(time.Minute), untimed)
	assert.False(t, known, "without times nothing is reckoned")
}

func TestARunLastsAsLongAsItsWay(t *testing.T) {
	ends := func(from, to float64) time.Duration {
		s := at(from)
		r := s.Go(to, zero, settings)
		require.Len(t, r.Switch, 1)
		require.True(t, r.Switch[0].On)
		s.Report(r.Switch[0].Side, true, zero, settings)
		return s.StopAt.Sub(zero)
	}
	assert.Equal(t, 5*time.Second, ends(25, 50))
	assert.Equal(t, 3*time.Second, ends(80, 50))
	assert.Equal(t, 23*time.Second, ends(25, 100), "to an end for the whole way, a tenth more and a second")
	assert.Equal(t, 12*time.Second, ends(25, 0))
}

func TestSmallDifferencesAreNotWorthARun(t *testing.T) {
	goes := func(to float64) (side cover.Side, runs bool) {
		s := at(50)
		r := s.Go(to, zero, settings)
		if len(r.Switch) == 0 {
			assert.Equal(t, cover.Arrived, r.Done)
			return 0, false
		}
		return r.Switch[0].Side, true
	}
	for to, side := range map[float64]cover.Side{51: cover.Up, 49: cover.Down, 90: cover.Up, 10: cover.Down} {
		at, runs := goes(to)
		assert.True(t, runs && at == side, "%v", to)
	}
	for _, to := range []float64{50, 50.99, 49.01} {
		_, runs := goes(to)
		assert.False(t, runs, "%v", to)
	}
	// From nowhere the half decides.
	for to, side := range map[float64]cover.Side{50: cover.Up, 49.9: cover.Down} {
		s := cover.State{Outputs: at(0).Outputs}
		r := s.Go(to, zero, settings)
		require.Len(t, r.Switch, 1)
		assert.Equal(t, side, r.Switch[0].Side, "%v", to)
	}
}

// A goal is corrected where it was missed by more than a little, and not for ever.
func TestAMissedGoalIsCorrectedAFewTimes(t *testing.T) {
	tried := func(tries int, place float64) cover.Result {
		s := at(place)
		s.Sent, s.Goal, s.Tries = true, 50, tries
		return s.Tick(zero, settings)
	}
	assert.Equal(t, cover.Arrived, tried(1, 47.5).Done, "near enough")
	assert.Equal(t, cover.Arrived, tried(1, 52.5).Done)
	assert.NotEmpty(t, tried(1, 47).Switch, "three percent are worth another run")
	assert.NotEmpty(t, tried(1, 53).Switch)
	assert.NotEmpty(t, tried(3, 20).Switch)
	assert.Equal(t, cover.Arrived, tried(4, 20).Done, "four runs are enough")
	assert.NotEmpty(t, tried(0, 48).Switch, "the first run is for less")
}

func TestUnderWayAGoalAheadIsRunToAndOneBehindTurnsItRound(t *testing.T) {
	s := running(t, cover.Up, 30)
	now := zero.Add(2 * time.Second) // at 40
	r := s.Go(41, now, settings)
	assert.Empty(t, r.Switch, "one percent ahead is run to, by the run of the hand")
	assert.Equal(t, 200*time.Millisecond, s.StopAt.Sub(now))
	s = running(t, cover.Up, 30)
	r = s.Go(40.5, now, settings)
	assert.Equal(t, []cover.Switch{{Side: cover.Up, On: false}}, r.Switch, "less is not")
	s = running(t, cover.Down, 70)
	now = zero.Add(time.Second) // at 60
	assert.Empty(t, s.Go(59, now, settings).Switch)
	assert.Equal(t, 100*time.Millisecond, s.StopAt.Sub(now))
	s = running(t, cover.Down, 70)
	assert.NotEmpty(t, s.Go(59.5, now, settings).Switch)
}

func TestWhatIsSaidSoonAfterItWasToldMayBeOlder(t *testing.T) {
	s := at(0)
	r := s.Go(100, zero, settings)
	require.Equal(t, []cover.Switch{{Side: cover.Up, On: true}}, r.Switch)
	r = s.Tick(zero.Add(cover.Transit-1), settings)
	assert.Equal(t, cover.Nothing, r.Done)
	r = s.Tick(zero.Add(cover.Transit), settings)
	assert.Equal(t, cover.Failed, r.Done)
	assert.Equal(t, "It did not start.", r.Reason)
	assert.Equal(t, []cover.Switch{{Side: cover.Up, On: false}}, r.Switch, "and it is told off, since it may yet")
}

// An output that stays on is told off again after one second, then two, then four; after four times that is said.
func TestAnOutputThatStaysOnIsToldAgainAndAgain(t *testing.T) {
	s := running(t, cover.Up, 30)
	told := []time.Duration{}
	said := time.Duration(0)
	note := func(r cover.Result, at time.Duration) {
		for _, w := range r.Switch {
			assert.Equal(t, cover.Switch{Side: cover.Up, On: false}, w)
			told = append(told, at)
		}
		if r.Done == cover.Failed && said == 0 {
			said = at
			assert.Contains(t, r.Reason, "does not switch off")
		}
	}
	note(s.Stop(zero.Add(time.Second), settings), time.Second)
	for range 8 {
		next := s.Next(settings)
		require.False(t, next.IsZero())
		note(s.Tick(next.Add(-1), settings), next.Sub(zero)-1)
		note(s.Tick(next, settings), next.Sub(zero))
	}
	second := time.Second
	assert.Equal(t, []time.Duration{1 * second, 2 * second, 4 * second, 8 * second, 16 * second, 32 * second, 64 * second, 96 * second, 128 * second}, told)
	assert.Equal(t, 8*second, said)
}

func TestAMotorThatDrawsNothingStandsAtItsEnd(t *testing.T) {
	s := running(t, cover.Up, 30)
	s.Draw(4.9, zero.Add(time.Second), settings)
	s.Tick(zero.Add(1700*time.Millisecond-1), settings)
	assert.False(t, s.AtEnd)
	s.Tick(zero.Add(1700*time.Millisecond), settings)
	assert.True(t, s.AtEnd)
	assert.Equal(t, 100.0, s.Place)
	s = running(t, cover.Up, 30)
	s.Draw(5, zero.Add(time.Second), settings)
	s.Tick(zero.Add(5*time.Second), settings)
	assert.False(t, s.AtEnd, "five watts are a motor that runs")
}

func TestACopySharesNothing(t *testing.T) {
	var none *cover.State
	assert.Nil(t, none.Clone())
	s := at(40)
	s.Learn(zero, settings)
	clone := s.Clone()
	require.NotSame(t, s.Learning, clone.Learning)
	assert.Equal(t, s, *clone)
}

func TestTurnedRoundItStandsTheOtherWay(t *testing.T) {
	s := at(30)
	s.Outputs[cover.Up].Since = zero.Add(-2 * time.Hour)
	s.Turn(zero, settings)
	assert.Equal(t, 70.0, s.Place)
	assert.Equal(t, zero.Add(-2*time.Hour), s.Outputs[cover.Down].Since)
}

// A hand that moves it half learned is heard, and so is what both outputs say at once.
func TestNothingRunsBeforeWhatWasToldHasArrived(t *testing.T) {
	s := at(30)
	s.Doubt(zero)
	r := s.Go(100, zero, settings)
	assert.Empty(t, r.Switch)
	assert.Equal(t, zero.Add(cover.Transit), s.Next(settings))
	assert.Empty(t, s.Tick(zero.Add(cover.Transit-1), settings).Switch)
	assert.NotEmpty(t, s.Tick(zero.Add(cover.Transit), settings).Switch)
}

func TestItWaitsForItsOutputsToBeHeardAndGivesUp(t *testing.T) {
	var s cover.State // nobody has said anything
	r := s.Go(100, zero, settings)
	assert.Empty(t, r.Switch)
	assert.Equal(t, zero.Add(cover.LongestRun+time.Second), s.Next(settings))
	assert.Equal(t, cover.Nothing, s.Tick(zero.Add(cover.LongestRun), settings).Done)
	r = s.Tick(zero.Add(cover.LongestRun+1), settings)
	assert.Equal(t, cover.Failed, r.Done)
	assert.Equal(t, "Its outputs do not do what they are told.", r.Reason)
}

func TestTheDeadTimeIsKept(t *testing.T) {
	s := running(t, cover.Up, 30)
	off := zero.Add(2 * time.Second)
	s.Report(cover.Up, false, off, settings)
	now := off.Add(500 * time.Millisecond)
	assert.Empty(t, s.Go(0, now, settings).Switch)
	assert.Equal(t, off.Add(cover.DefaultDead), s.Next(settings))
	assert.Empty(t, s.Tick(off.Add(cover.DefaultDead-1), settings).Switch)
	assert.Equal(t, []cover.Switch{{Side: cover.Down, On: true}}, s.Tick(off.Add(cover.DefaultDead), settings).Switch)
}
