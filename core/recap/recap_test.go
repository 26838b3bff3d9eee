package recap_test

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/recap"
	"amvek/core/rule"
	"amvek/core/thing"
)

var first = time.Date(2026, 11, 1, 18, 0, 0, 0, time.UTC)

func evening(n int, after time.Duration) time.Time { return first.AddDate(0, 0, n).Add(after) }

func number(at time.Time, n float64) recap.Set { return recap.Set{At: at, Value: thing.Number(n)} }

// lit is that a rule lit a lamp on so many evenings.
func lit(evenings int) (acts []recap.Set) {
	for n := range evenings {
		acts = append(acts, number(evening(n, 0), 60))
	}
	return acts
}

func TestHandsThatTurnALampDownOnSevenOfNineEvenings(t *testing.T) {
	var hands []recap.Set
	for n, to := range []float64{25, 30, 20, 25, 25, 20, 40} {
		hands = append(hands, number(evening(n, 3*time.Minute), to))
	}
	c := recap.Corrections(lit(9), hands, first, evening(9, 0))
	assert.Equal(t, recap.Correction{Acts: 9, Corrected: 7, Lower: true, From: thing.Number(60), To: thing.Number(25), Chance: c.Chance}, c)
	// 2 (36·4 + 9·2 + 1) / 3^9
	assert.InDelta(t, 2*163.0/19683, c.Chance, 1e-9)
	assert.True(t, c.Significant())

	c = recap.Corrections(lit(9), hands[:3], first, evening(9, 0))
	assert.Equal(t, 3, c.Corrected)
	assert.False(t, c.Significant(), "three of nine may be chance")
	assert.Equal(t, 1.0, c.Chance)
}

func TestWhatCountsAsACorrection(t *testing.T) {
	acts := []recap.Set{number(evening(0, 0), 60), number(evening(0, 5*time.Minute), 80)}
	for _, c := range []struct {
		after     time.Duration
		to        float64
		corrected int
		lower     bool
	}{
		{4 * time.Minute, 30, 1, true},
		{4 * time.Minute, 90, 1, false},
		{4 * time.Minute, 60, 0, false}, // as the rule had it
		{0, 30, 0, false},               // with the rule, not after it
		{5 * time.Minute, 70, 1, false}, // of the first, at the moment of the second
		{20 * time.Minute, 30, 1, true}, // of the second, at the end of its time
		{20*time.Minute + 1, 30, 0, false},
	} {
		got := recap.Corrections(acts, []recap.Set{number(evening(0, c.after), c.to)}, first, evening(1, 0))
		assert.Equal(t, c.corrected, got.Corrected, "%+v", c)
		assert.Equal(t, c.lower, got.Lower, "%+v", c)
	}
	// Of several by hand the last counts.
	got := recap.Corrections(acts[:1], []recap.Set{number(evening(0, 1), 20), number(evening(0, 2), 90)}, first, evening(1, 0))
	assert.Equal(t, thing.Number(90), got.To)
	assert.False(t, got.Lower)
	assert.Equal(t, recap.Correction{Chance: 1}, recap.Corrections(nil, nil, first, first))
	assert.False(t, recap.Correction{}.Significant())
}

func TestHandsThatSetItAllDayProveNothing(t *testing.T) {
	var all, after []recap.Set
	for n := range 9 {
		hand := number(evening(n, 3*time.Minute), 25)
		all, after = append(all, hand), append(after, hand)
		for minute := 20; minute < 24*60; minute += 5 {
			all = append(all, number(evening(n, time.Duration(minute)*time.Minute), 25))
		}
	}
	assert.True(t, recap.Corrections(lit(9), after, first, evening(9, 0)).Significant())
	seldom := recap.Corrections(lit(7), after[:6], first, evening(9, 0))
	often := recap.Corrections(lit(7), all[:6*285], first, evening(9, 0))
	assert.True(t, seldom.Significant())
	assert.Greater(t, often.Chance, seldom.Chance)
	assert.False(t, often.Significant())
}

// The more evenings are corrected, of as many, the less likely it is chance; and values in between do not matter.
func TestMoreCorrectionsAreLessLikelyChance(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		evenings := rapid.IntRange(1, 60).Draw(t, "evenings")
		corrected := rapid.IntRange(0, evenings-1).Draw(t, "corrected")
		at := func(count int) recap.Correction {
			var hands []recap.Set
			for n := range count {
				hands = append(hands, number(evening(n, time.Minute), rapid.Float64Range(0, 59).Draw(t, "to")))
			}
			return recap.Corrections(lit(evenings), hands, first, evening(evenings, 0))
		}
		fewer, more := at(corrected), at(corrected+1)
		assert.LessOrEqual(t, more.Chance, fewer.Chance)
		assert.Equal(t, corrected+1, more.Corrected)
	})
}

func TestTheChangeThatWouldHaveSparedIt(t *testing.T) {
	lamp, other := thing.Ref{Device: "lamp", Name: "brightness"}, thing.Ref{Device: "other", Name: "brightness"}
	hold := func(of thing.Ref, to float64) rule.Step {
		return rule.Step{Kind: rule.StepHold, Device: of.Device, Property: of.Name, Value: thing.Number(to)}
	}
	by := hold(lamp, 60)
	by.By = true
	doc := &rule.Rule{Title: "Stair light", Do: []rule.Step{
		hold(other, 60),
		{Kind: rule.StepIf, Then: []rule.Step{hold(lamp, 60)}, Else: []rule.Step{hold(lamp, 10)}},
		by,
	}}
	spared, there := recap.Spare(doc, lamp, thing.Number(60), thing.Number(25))
	require.True(t, there)
	assert.Equal(t, []rule.Step{hold(other, 60), {Kind: rule.StepIf, Then: []rule.Step{hold(lamp, 25)}, Else: []rule.Step{hold(lamp, 10)}}, by}, spared.Do)
	assert.Equal(t, thing.Number(60), doc.Do[1].Then[0].Value, "the rule itself stays")

	_, there = recap.Spare(doc, lamp, thing.Number(70), thing.Number(25))
	assert.False(t, there)
}

// Where hands set a property often anyway, that is what they would do by chance; what they do after an act is not counted with it.
func TestChanceIsHowOftenHandsSetItAnyway(t *testing.T) {
	var acts, hands []recap.Set
	for n, to := range []float64{40, 10, 30, 20} {
		at := first.Add(time.Duration(n+1) * time.Hour)
		acts = append(acts, number(at, 60))
		hands = append(hands, number(at.Add(time.Minute), to))
	}
	for n := range 60 {
		hands = append(hands, number(first.Add(5*time.Hour+time.Duration(n)*5*time.Minute), 60))
	}
	c := recap.Corrections(acts, hands, first, first.Add(10*time.Hour))
	byChance := (1 - math.Exp(-60.0/9*0.25)) / 2 // 60 in the nine hours that follow no act, a quarter of an hour each
	assert.InDelta(t, 2*math.Pow(byChance, 4), c.Chance, 1e-9)
	assert.Equal(t, thing.Number(20), c.To, "of four the lower of the two in the middle")
}

func TestWhatIsJustAtTheLevelProvesNothing(t *testing.T) {
	assert.False(t, recap.Correction{Corrected: 1, Chance: recap.Significance}.Significant())
	assert.True(t, recap.Correction{Corrected: 1, Chance: 0.04}.Significant())
}
