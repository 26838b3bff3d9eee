package hub

import (
	"testing"
	"testing/synctest"
	"time"

	"github.com/stretchr/testify/assert"

	"amvek/core/thing"
)

// asideOf returns for how long a loop steps aside while something happens after some time, and whether it looks at its inbox
// then. Whatever is patient waits from the start.
func asideOf(t *testing.T, after time.Duration, happens func(q *inbox)) (took time.Duration, looks bool) {
	synctest.Test(t, func(t *testing.T) {
		h := &Hub{inbox: newInbox(), context: t.Context()}
		h.inbox.push(item{patient: true, job: func() {}})
		go func() {
			time.Sleep(after)
			happens(h.inbox)
		}()
		began := time.Now()
		h.stepAside(time.NewTimer(0))
		took, looks = time.Since(began), len(h.inbox.ready) == 1
	})
	return took, looks
}

func TestTheLoopStepsAsideUntilSomethingComesInForWhichSomebodyWaits(t *testing.T) {
	took, looks := asideOf(t, asideFor/2, func(q *inbox) { q.push(item{patient: true, job: func() {}}) })
	assert.Equal(t, asideFor, took, "what is patient waits")
	assert.True(t, looks, "and is looked at then")

	took, looks = asideOf(t, asideFor/2, func(q *inbox) { q.push(said("eye", thing.Boolean(true))) })
	assert.Equal(t, asideFor/2, took)
	assert.True(t, looks)
}

func TestALoopThatIsBusyIsNotCalm(t *testing.T) {
	h, now := &Hub{}, time.Now()
	assert.True(t, h.press(now))
	assert.False(t, h.press(now.Add(calmAfter/2)))
	assert.False(t, h.press(now.Add(calmAfter)), "it counts from the last")
	assert.True(t, h.press(now.Add(2*calmAfter)))
}
