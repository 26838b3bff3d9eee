package hold_test

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/hold"
	"amvek/core/thing"
)

var start = time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)

func value(t *rapid.T) thing.Value {
	return thing.Number(float64(rapid.IntRange(0, 100).Draw(t, "value")))
}

func placed(t *rapid.T, owner int) hold.Hold {
	return hold.Hold{
		Owner: fmt.Sprintf("rule:%d", owner),
		Level: hold.Level(rapid.IntRange(1, 4).Draw(t, "level")),
		Value: value(t),
		Since: start,
		Firm:  rapid.Bool().Draw(t, "firm"),
	}
}

// anything makes a stack by a random history.
func anything(t *rapid.T) *hold.Stack {
	s := &hold.Stack{}
	s.Write(hold.Base{Value: value(t), Since: start})
	for i := range rapid.IntRange(0, 30).Draw(t, "length") {
		switch rapid.IntRange(0, 3).Draw(t, "what") {
		case 0:
			s.Write(hold.Base{Value: value(t), ByHand: rapid.Bool().Draw(t, "by hand")})
		case 1:
			s.Place(placed(t, i%7))
		case 2:
			s.Release(fmt.Sprintf("rule:%d", rapid.IntRange(0, 6).Draw(t, "owner")))
		default:
			s.Write(hold.Base{Value: value(t)})
		}
	}
	return s
}

// model says independently what should be in effect: the highest level that is not suspended, the newest within it.
func model(s *hold.Stack) thing.Value {
	best := -1
	for i, h := range s.Holds {
		if h.Suspended {
			continue
		}
		if best < 0 || h.Level > s.Holds[best].Level {
			best = i
		}
	}
	if best < 0 {
		return s.Base.Value
	}
	return s.Holds[best].Value
}

func TestEffectiveIsTheHighestNewestHoldOrTheBase(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := anything(t)
		require.Equal(t, model(s), s.Effective())
		for i := 1; i < len(s.Holds); i++ {
			require.GreaterOrEqual(t, s.Holds[i-1].Level, s.Holds[i].Level)
		}
	})
}

func TestNewestOfALevelWins(t *testing.T) {
	var s hold.Stack
	s.Place(hold.Hold{Owner: "a", Level: hold.Rule, Value: thing.Number(1)})
	s.Place(hold.Hold{Owner: "b", Level: hold.Rule, Value: thing.Number(2)})
	assert.Equal(t, thing.Number(2), s.Effective())
	s.Place(hold.Hold{Owner: "a", Level: hold.Rule, Value: thing.Number(3)})
	assert.Equal(t, thing.Number(3), s.Effective(), "placing again makes it the newest")
	assert.Len(t, s.Holds, 2)
}

func TestLettingGoLeavesNoTrace(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := anything(t)
		before, effective := s.Clone(), s.Effective()
		s.Place(hold.Hold{Owner: "rule:new", Level: hold.Level(rapid.IntRange(1, 4).Draw(t, "level")), Value: value(t)})
		require.True(t, s.Release("rule:new"))
		require.Equal(t, effective, s.Effective())
		require.Equal(t, len(before.Holds), len(s.Holds))
	})
}

func TestOrderOfEndingDoesNotMatter(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := anything(t)
		other := s.Clone()
		for _, owner := range rapid.Permutation([]int{0, 1, 2, 3, 4, 5, 6}).Draw(t, "one order") {
			s.Release(fmt.Sprintf("rule:%d", owner))
		}
		for _, owner := range rapid.Permutation([]int{0, 1, 2, 3, 4, 5, 6}).Draw(t, "other order") {
			other.Release(fmt.Sprintf("rule:%d", owner))
		}
		require.Equal(t, s.Effective(), other.Effective())
		require.Equal(t, s.Base.Value, s.Effective(), "without holds the base shows through")
	})
}

func TestAHandLeadsUnlessSomethingIsFirm(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := anything(t)
		v := value(t)
		s.Write(hold.Base{Value: v, ByHand: true})
		if top := s.Top(); top != nil {
			require.True(t, top.Firm || top.Level == hold.Safety)
			return
		}
		require.Equal(t, v, s.Effective())
	})
}

func TestASuspendedOwnerCountsAgainOnceItStartsAnew(t *testing.T) {
	var s hold.Stack
	s.Place(hold.Hold{Owner: "rule:a", Level: hold.Rule, Value: thing.Number(60)})
	assert.Equal(t, 1, s.Write(hold.Base{Value: thing.Number(20), ByHand: true}))
	assert.Equal(t, thing.Number(20), s.Effective())
	s.Release("rule:a")
	s.Place(hold.Hold{Owner: "rule:a", Level: hold.Rule, Value: thing.Number(60)})
	assert.Equal(t, thing.Number(60), s.Effective())
}

func TestAutomationWaitsBelowHolds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := anything(t)
		held, effective := s.Top() != nil, s.Effective()
		v := value(t)
		s.Write(hold.Base{Value: v})
		if held {
			require.Equal(t, effective, s.Effective())
		} else {
			require.Equal(t, v, s.Effective())
		}
	})
}

func TestARestartChangesNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := anything(t)
		data, err := json.Marshal(s)
		require.NoError(t, err)
		var back hold.Stack
		require.NoError(t, json.Unmarshal(data, &back))
		require.Equal(t, s.Effective(), back.Effective())
		again, err := json.Marshal(back)
		require.NoError(t, err)
		require.JSONEq(t, string(data), string(again))
	})
}
