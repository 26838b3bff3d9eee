package link_test

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/link"
)

var start = time.Date(2026, 11, 14, 19, 0, 0, 0, time.UTC)

// around is what stages are told in tests; what passes them is written down.
type around struct {
	at     float64
	known  bool
	passed map[int][]float64
}

func (a *around) At() (float64, bool) { return a.at, a.known }
func (a *around) Expression(_ int, coming float64) (float64, bool) {
	return 2 * coming, coming >= 0
}
func (a *around) Passed(stage int, _ time.Time, v float64) {
	if a.passed == nil {
		a.passed = map[int][]float64{}
	}
	a.passed[stage] = append(a.passed[stage], v)
}

type moment struct {
	ms int
	v  float64
}

// carried returns what leaves stages, and when, while values come in.
func carried(a *around, stages []link.Stage, in ...moment) (out []moment) {
	f := link.NewFlow(stages)
	at := func(ms int) time.Time { return start.Add(time.Duration(ms) * time.Millisecond) }
	var now time.Time
	take := func(v float64) { out = append(out, moment{int(now.Sub(start).Milliseconds()), v}) }
	until := func(end time.Time) {
		for due := f.Due(); !due.IsZero() && !due.After(end); due = f.Due() {
			now = due
			f.Wake(now, a, take)
		}
	}
	for _, m := range in {
		until(at(m.ms))
		now = at(m.ms)
		f.Take(now, m.v, a, take)
	}
	until(at(in[len(in)-1].ms).Add(time.Hour))
	return out
}

func TestStages(t *testing.T) {
	percent := &link.Range{From: 0, To: 100}
	cases := map[string]struct {
		stages []link.Stage
		in     []moment
		out    []moment
	}{
		"only changes": {[]link.Stage{{Kind: link.Changes}}, []moment{{0, 5}, {10, 5}, {20, 6}, {30, 5}}, []moment{{0, 5}, {20, 6}, {30, 5}}},
		"dead band from what passed": {
			[]link.Stage{{Kind: link.DeadBand, Width: 2}},
			[]moment{{0, 5}, {10, 6}, {20, 6.9}, {30, 7}, {40, 6}}, []moment{{0, 5}, {30, 7}},
		},
		"at most five a second, the last never lost": {
			[]link.Stage{{Kind: link.Limit, PerSecond: 5}},
			[]moment{{0, 1}, {50, 2}, {100, 3}, {250, 4}, {1000, 5}},
			[]moment{{0, 1}, {200, 3}, {400, 4}, {1000, 5}},
		},
		"a delay keeps what comes apart": {
			[]link.Stage{{Kind: link.Delay, Seconds: 0.3}},
			[]moment{{0, 1}, {100, 2}, {500, 3}}, []moment{{300, 1}, {400, 2}, {800, 3}},
		},
		"from one range to another": {
			[]link.Stage{{Kind: link.Map, In: &link.Range{From: 0, To: 255}, Out: percent}},
			[]moment{{0, 0}, {1, 51}, {2, 300}}, []moment{{0, 0}, {1, 20}, {2, 100}},
		},
		"a range that is turned": {[]link.Stage{{Kind: link.Map, In: percent, Out: &link.Range{From: 100, To: 0}}}, []moment{{0, 25}}, []moment{{0, 75}}},
		"points": {
			[]link.Stage{{Kind: link.Map, In: percent, Out: percent, Curve: link.Points, Points: []link.CurvePoint{{X: 0.25, Y: 0}, {X: 0.75, Y: 0.5}, {X: 1, Y: 1}}}},
			[]moment{{0, 10}, {1, 50}, {2, 87.5}},
			[]moment{{0, 0}, {1, 25}, {2, 75}},
		},
		"bounds":            {[]link.Stage{{Kind: link.Bounds, Low: 1, High: 80}}, []moment{{0, -4}, {1, 40}, {2, 90}}, []moment{{0, 1}, {1, 40}, {2, 80}}},
		"zero is off":       {[]link.Stage{{Kind: link.ZeroOff, Below: 3}}, []moment{{0, 2}, {1, 3}, {2, 4}}, []moment{{0, 0}, {1, 0}, {2, 4}}},
		"an expression":     {[]link.Stage{{Kind: link.Expression, Text: "coming * 2"}}, []moment{{0, 2}, {1, -1}}, []moment{{0, 4}}},
		"what is no number": {nil, []moment{{0, math.NaN()}, {1, math.Inf(1)}, {2, 3}}, []moment{{2, 3}}},
		"turned from where the lamps are": {
			[]link.Stage{{Kind: link.Relative, Step: 2, High: 100}},
			[]moment{{0, 1}, {1, 1}, {2, -50}, {3, 4}},
			[]moment{{0, 42}, {1, 44}, {2, 0}, {3, 8}},
		},
	}
	for name, c := range cases {
		t.Run(name, func(t *testing.T) {
			assert.Equal(t, c.out, carried(&around{at: 40, known: true}, c.stages, c.in...))
		})
	}
}

// Published values of CIE 1976 lightness: L* 50 is a luminance of 0.18419, L* 8 of 0.008856.
func TestEvenToTheEye(t *testing.T) {
	percent := &link.Range{From: 0, To: 100}
	eye := []link.Stage{{Kind: link.Map, In: percent, Out: percent, Curve: link.Eye}}
	out := carried(&around{}, eye, moment{0, 0}, moment{1, 8}, moment{2, 50}, moment{3, 100})
	for i, want := range []float64{0, 0.8856, 18.419, 100} {
		assert.InDelta(t, want, out[i].v, 0.001)
	}
	// A dial begins where the lamp looks to be.
	turned := append([]link.Stage{{Kind: link.Relative, Step: 1, High: 100}}, eye...)
	a := &around{at: 18.419, known: true}
	assert.InDelta(t, 19.27, carried(a, turned, moment{0, 1})[0].v, 0.01, "one step above L* 50")
	assert.InDelta(t, 51, a.passed[0][0], 0.001)
}

func TestSmoothingGoesThereAndRests(t *testing.T) {
	out := carried(&around{}, []link.Stage{{Kind: link.Smooth, Seconds: 1}}, moment{0, 0}, moment{1000, 100})
	require.NotEmpty(t, out)
	for _, m := range out[1:] {
		if m.ms == 2000 {
			assert.InDelta(t, 100*(1-1/math.E), m.v, 0.01, "after one time constant")
		}
	}
	assert.InDelta(t, 100, out[len(out)-1].v, 1e-9)
	assert.Less(t, out[len(out)-1].ms, 9000)
}

func TestWhatSomebodyElseSetIsWhereATurnBegins(t *testing.T) {
	f := link.NewFlow([]link.Stage{{Kind: link.Relative, Step: 1, High: 100}})
	a := &around{at: 10, known: true}
	var last float64
	take := func(v float64) { last = v }
	f.Take(start, 5, a, take)
	assert.InDelta(t, 15, last, 1e-9)
	a.at = 60
	f.Take(start, 5, a, take)
	assert.InDelta(t, 20, last, 1e-9, "the lamp is late, the turn goes on")
	f.Forget()
	f.Take(start, 5, a, take)
	assert.InDelta(t, 65, last, 1e-9)
}

// TestALimitIsKeptAndTheLastNeverLost is a law: whatever comes and whenever, no two values leave sooner after each other than
// the limit says, and the last that leaves is the last that came.
func TestALimitIsKeptAndTheLastNeverLost(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		perSecond := rapid.Float64Range(0.5, 50).Draw(t, "per second")
		stages := []link.Stage{{Kind: link.Limit, PerSecond: perSecond}}
		if rapid.Bool().Draw(t, "only changes") {
			stages = append([]link.Stage{{Kind: link.Changes}}, stages...)
		}
		var in []moment
		at := 0
		for range rapid.IntRange(1, 60).Draw(t, "values") {
			at += rapid.IntRange(0, 400).Draw(t, "pause")
			in = append(in, moment{at, float64(rapid.IntRange(0, 9).Draw(t, "value"))})
		}
		out := carried(&around{}, stages, in...)
		require.InDelta(t, in[len(in)-1].v, out[len(out)-1].v, 0)
		for i := 1; i < len(out); i++ {
			require.GreaterOrEqual(t, out[i].ms-out[i-1].ms, int(1000/perSecond)-1)
		}
		require.LessOrEqual(t, out[len(out)-1].ms, at+int(1000/perSecond)+1)
	})
}

// FuzzStages: whatever the stages and values, what leaves is a number, and it comes to an end.
func FuzzStages(f *testing.F) {
	f.Add([]byte{5, 3, 4, 2, 9, 0, 1, 7, 8, 6}, []byte{0, 1, 20, 200, 3, 9}, 3.5, 0.2)
	kinds := []link.Kind{link.Changes, link.DeadBand, link.Limit, link.Smooth, link.Delay, link.Map, link.Bounds, link.Relative, link.ZeroOff, link.Expression}
	f.Fuzz(func(t *testing.T, made, values []byte, a, b float64) {
		if len(made) > 12 || len(values) > 64 || len(values) == 0 {
			return
		}
		if math.IsNaN(a+b) || math.Abs(a)+math.Abs(b) > 1e6 {
			return
		}
		l := link.Link{Title: "x", Sources: []link.Source{{Device: "d", Event: "turn"}}, Targets: []link.Driven{{Device: "l", Property: "brightness"}}}
		for i, m := range made {
			s := link.Stage{
				Kind: kinds[int(m)%len(kinds)], Width: math.Abs(a), PerSecond: math.Mod(math.Abs(b), 100),
				Seconds: math.Mod(math.Abs(a), 10), Low: a, High: b, Step: b, Below: a, Text: "coming",
			}
			s.In, s.Out = &link.Range{From: a, To: b}, &link.Range{From: b, To: a + float64(i)}
			if m >= 128 {
				s.Curve, s.Points = link.Points, []link.CurvePoint{{X: 0, Y: 1}, {X: 0.5, Y: 0.2}, {X: 1, Y: float64(m%3) / 3}}
			}
			l.Stages = append(l.Stages, s)
		}
		if len(l.Check(lookup{})) > 0 {
			return
		}
		var in []moment
		for i, v := range values {
			in = append(in, moment{i * int(v), float64(v) - 100})
		}
		for i := 1; i < len(in); i++ {
			in[i].ms = max(in[i].ms, in[i-1].ms)
		}
		for _, m := range carried(&around{at: a, known: true}, l.Stages, in...) {
			require.False(t, math.IsNaN(m.v) || math.IsInf(m.v, 0), "%v", m)
		}
	})
}
