package thing_test

import (
	"encoding/json"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"amvek/core/thing"
)

// What devices are told is written as encoding/json writes it.
func TestEncodeIsJSON(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		value := rapid.OneOf(
			rapid.Bool().AsAny(), rapid.Int().AsAny(), rapid.Float64().AsAny(), rapid.String().AsAny(), rapid.Float64Range(0, 100).AsAny(),
			rapid.SampledFrom([]any{nil, 0.0, math.Copysign(0, -1), 1e-6, 1e-7, 1e20, 1e21, math.NaN(), math.Inf(1), []any{1.0}, map[string]any{"a": true}}),
		)
		key := rapid.OneOf(rapid.StringMatching(`[a-z]{1,6}`), rapid.String())
		fields := rapid.MapOfN(key, value, 0, 3).Draw(t, "fields")
		wanted, problem := json.Marshal(fields)
		got, err := thing.Encode(fields)
		assert.Equal(t, problem != nil, err != nil)
		assert.Equal(t, string(wanted), string(got))
	})
}
