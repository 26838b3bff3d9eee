package hub

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amvek/core/engine"
	"amvek/core/thing"
)

func said(device string, value thing.Value) item {
	return item{report: report{Ref: thing.Ref{Device: device, Name: "x"}, value: value}}
}

func TestAFloodOfNumbersShrinksToTheLast(t *testing.T) {
	q := newInbox()
	for i := range 100_000 {
		q.push(said("dial", thing.Number(float64(i))))
	}
	items := q.take()
	assert.Len(t, items, 1)
	assert.Equal(t, thing.Number(99_999), items[0].report.value)
}

func TestAFullInboxKeepsWhatMattersAndRefusesTheRest(t *testing.T) {
	q, refused := newInbox(), 0
	for range inboxLimit + 100 {
		if !q.push(item{input: &engine.Input{Kind: engine.InputEvent, Device: "plate", Name: "press"}}) {
			refused++
		}
	}
	ran := false
	q.push(item{job: func() { ran = true }})
	q.push(said("lamp", thing.Boolean(true)))
	q.push(said("lamp", thing.Boolean(false)))
	items := q.take()
	assert.Equal(t, 100, refused)
	assert.Len(t, items, inboxLimit+2, "past the limit also yes and no shrink to the last")
	items[inboxLimit].job()
	assert.True(t, ran, "what the owner asks for is never dropped")
	assert.Equal(t, thing.Boolean(false), items[inboxLimit+1].report.value)
}
