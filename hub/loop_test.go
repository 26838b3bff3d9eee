package hub_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cause"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/store"
)

// Of what waits together for the loop nothing is lost: each is decided, sent and written down before the next.
func TestWhatCameTogetherIsAllSentAndWrittenDown(t *testing.T) {
	for _, prompt := range []bool{false, true} {
		b := newBenchOver(t, prompt)
		b.stairLight()
		b.save(docs.KindRule, "tell", &rule.Rule{
			Title: "Tell", Enabled: true,
			When: []rule.Trigger{{Device: b.eye, Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)}},
			Do:   []rule.Step{{Kind: rule.StepNotify, Text: "Somebody is there."}},
		})
		require.NoError(t, b.hub.InLoop(b.ctx, func() {
			for _, moving := range []bool{true, false, true} {
				b.wire.sink.Report("hw-eye", "motion", thing.Boolean(moving))
			}
		}))
		b.quiet()
		require.NoError(t, b.store.Flush(b.ctx))
		said, err := b.hub.Journal(b.ctx, store.JournalQuery{Kinds: []cause.Kind{cause.Reported}, Device: b.eye, Limit: 10})
		require.NoError(t, err)
		assert.Len(t, said, 4, "prompt %t: three, and what the sensor said at first", prompt)
		notices, err := b.hub.Notices(b.ctx)
		require.NoError(t, err)
		assert.Len(t, notices, 2, "prompt %t: each is told once", prompt)
		assert.Equal(t, []thing.Value{thing.Number(60)}, b.wire.written(), "prompt %t", prompt)
	}
}
