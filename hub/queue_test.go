package hub

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amvek/core/engine"
	"amvek/core/thing"
)

func report(name string, v thing.Value) item {
	return item{input: engine.Input{Kind: engine.InputReport, Device: "d", Name: name, Value: v}}
}

func TestAFloodOfReportsShrinksToTheLast(t *testing.T) {
	q := newInbox()
	for i := range 100_000 {
		q.push(report("light", thing.Number(float64(i))))
	}
	items, _ := q.take()
	assert.Len(t, items, 1)
	assert.Equal(t, thing.Number(99_999), items[0].input.Value)
}

func TestAShortFlipIsNotLost(t *testing.T) {
	q := newInbox()
	q.push(report("motion", thing.Boolean(true)))
	q.push(report("motion", thing.Boolean(false)))
	items, _ := q.take()
	assert.Len(t, items, 2)
}

func TestAFloodOfEventsIsBoundedAndCounted(t *testing.T) {
	q := newInbox()
	for range inboxLimit + 500 {
		q.push(item{input: engine.Input{Kind: engine.InputEvent, Device: "d", Name: "turn"}})
	}
	q.push(report("motion", thing.Boolean(true)))
	q.push(report("motion", thing.Boolean(false)))
	q.push(item{job: func() {}})
	items, dropped := q.take()
	assert.Equal(t, 500, dropped)
	assert.Len(t, items, inboxLimit+2, "past the limit a property still has its last value, and jobs are never dropped")
}

func TestOutboxKeepsTheLastOfEachPropertyInTurn(t *testing.T) {
	q := newOutbox()
	for i, name := range []string{"a", "b", "a"} {
		q.push(delivery{output: engine.Output{Device: "d", Name: name, Command: uint64(i + 1)}})
	}
	first, _ := q.next()
	second, _ := q.next()
	_, more := q.next()
	assert.False(t, more)
	assert.Equal(t, []uint64{3, 2}, []uint64{first.output.Command, second.output.Command})
	q.done()
	q.done()
	q.wait()
}
