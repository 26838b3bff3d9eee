package trial_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amvek/core/trial"
)

func TestTheLeastSteadyLevelIsFoundByHalving(t *testing.T) {
	for least := 1; least <= 45; least++ {
		var seen []bool
		s := trial.SearchSteady(nil)
		assert.Equal(t, trial.Steady{Level: 1, Step: 1, Steps: 8}, s, "first as low as it goes")
		for !s.Done {
			assert.Equal(t, len(seen)+1, s.Step)
			assert.LessOrEqual(t, s.Step, s.Steps)
			seen = append(seen, s.Level < float64(least))
			s = trial.SearchSteady(seen)
		}
		if assert.Equal(t, least > 40, s.Never, "%d %%", least); !s.Never {
			assert.InDelta(t, float64(least), s.Level, 0)
		}
		assert.Equal(t, s, trial.SearchSteady(append(seen, true)), "what comes after the end changes nothing")
	}
}
