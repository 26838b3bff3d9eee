package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/state"
	"amvek/core/thing"
)

// missed lets the last command have reached nobody.
func (b *bench) missed() {
	c := b.commands[len(b.commands)-1]
	b.commands = nil
	b.do(engine.Input{Kind: engine.InputOutcome, Device: c.Device, Name: c.Name, Command: c.Command, Reason: "It cannot be reached.", Unreached: true})
}

// nextTold lets time pass until the next command, and returns how long that was; it is false where none comes within an hour.
func (b *bench) nextTold() (time.Duration, bool) {
	for before := b.now; ; {
		next, more := b.engine.NextDeadline()
		if !more || next.After(before.Add(time.Hour)) {
			return 0, false
		}
		b.now = next
		b.do(engine.Input{Kind: engine.InputTick})
		if len(b.commands) > 0 {
			return b.now.Sub(before), true
		}
	}
}

func TestWhatReachedNobodyIsTriedAgainWhileItsConnectionIsUp(t *testing.T) {
	b := newBench(t)
	b.hand("lamp", 40)
	b.missed()
	for _, wait := range []time.Duration{2, 4, 8, 16, 32} {
		after, told := b.nextTold()
		assert.True(t, told)
		assert.Equal(t, wait*time.Second, after)
		b.missed()
	}
	_, told := b.nextTold()
	assert.False(t, told, "but not for ever")
	kinds := map[cause.Kind]int{}
	for _, e := range b.entries {
		kinds[e.Kind]++
	}
	assert.Equal(t, []int{1, 1}, []int{kinds[cause.Commanded], kinds[cause.Failed]}, "it is said once")
	assert.Equal(t, state.Failed, b.state("lamp").Certainty)

	b.hand("lamp", 43)
	b.missed()
	_, told = b.nextTold()
	assert.True(t, told, "who wants it anew has it tried anew")
	b.report("lamp", "brightness", thing.Number(43))
	assert.Equal(t, state.Confirmed, b.state("lamp").Certainty)
}

func TestWhatReachedNobodyIsNotTriedWhileItsConnectionIsDown(t *testing.T) {
	b := newBench(t)
	b.hand("lamp", 40)
	b.missed()
	b.do(engine.Input{Kind: engine.InputConnection, Connection: "wire", Reason: "It is gone."})
	_, told := b.nextTold()
	assert.False(t, told)
	b.do(engine.Input{Kind: engine.InputConnection, Connection: "wire", Up: true})
	assert.Len(t, b.commands, 1, "it is told once the way is open")
}
