package hub_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/rule"
	"amvek/hub"
)

func TestADraftIsThereAfterAStartAndInEveryBrowser(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	half := map[string]any{"title": "", "enabled": true, "do": []any{map[string]any{"kind": "set"}}}
	note, err := b.hub.SaveDraft(b.ctx, "stair", 0, 1, half)
	require.NoError(t, err)

	var refused *hub.ConflictError
	_, err = b.hub.SaveDraft(b.ctx, "stair", 0, 1, half)
	assert.ErrorAs(t, err, &refused, "another browser")
	var wrong *hub.InvalidError
	_, err = b.hub.SaveDraft(b.ctx, "stair", note.Version, 1, map[string]any{"do": "something"})
	assert.ErrorAs(t, err, &wrong)
	var absent *hub.AbsentError
	_, err = b.hub.SaveDraft(b.ctx, "gone", 0, 1, half)
	assert.ErrorAs(t, err, &absent)

	b.stop()
	b.start()
	rules, err := b.hub.Rules(b.ctx)
	require.NoError(t, err)
	require.NotNil(t, rules[0].Draft)
	assert.Equal(t, note.Version, rules[0].Draft.Version)
	lines, err := b.hub.CompareDraft(b.ctx, "stair", &rule.Rule{Title: "Mine"})
	require.NoError(t, err)
	assert.NotEmpty(t, lines)

	require.NoError(t, b.hub.DropDraft(b.ctx, "stair", note.Version))
	_, err = b.hub.Draft(b.ctx, "stair")
	assert.ErrorAs(t, err, &absent)
}
