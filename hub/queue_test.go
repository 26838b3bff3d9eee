package hub

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

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

// Whatever is pushed and taken in whatever order: commands to one device never overlap, the last one to each
// property goes out, and no more wait than there are properties.
func TestTheOutboxKeepsItsLaws(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		q := newOutbox()
		wanted, delivered := map[thing.Ref]float64{}, map[thing.Ref]float64{}
		var under []delivery
		finish := func(i int) {
			d := under[i]
			delivered[thing.Ref{Device: d.output.Device, Name: d.output.Name}] = d.output.Value.Number
			under = append(under[:i], under[i+1:]...)
			q.done(d)
		}
		take := func(d delivery) {
			for _, other := range under {
				if other.output.Device == d.output.Device {
					t.Fatalf("two commands to device %s at once", d.output.Device)
				}
			}
			under = append(under, d)
		}
		steps := rapid.IntRange(1, 80).Draw(t, "steps")
		for n := range steps {
			switch rapid.IntRange(0, 2).Draw(t, "what") {
			case 0:
				ref := thing.Ref{Device: fmt.Sprint(rapid.IntRange(0, 3).Draw(t, "device")), Name: rapid.SampledFrom([]string{"a", "b"}).Draw(t, "name")}
				wanted[ref] = float64(n)
				d := delivery{output: engine.Output{Kind: engine.OutputCommand, Device: ref.Device, Name: ref.Name, Value: thing.Number(float64(n))}}
				if rapid.Bool().Draw(t, "at once") && q.claim(ref.Device) {
					take(d)
				} else {
					q.push(d)
				}
				if q.waits() > 8 {
					t.Fatalf("%d commands wait for 8 properties", q.waits())
				}
			case 1:
				if d, there := q.next(); there {
					take(d)
				}
			case 2:
				if len(under) > 0 {
					finish(rapid.IntRange(0, len(under)-1).Draw(t, "which"))
				}
			}
		}
		for {
			for len(under) > 0 {
				finish(0)
			}
			d, there := q.next()
			if !there {
				break
			}
			under = append(under, d)
		}
		q.wait() // returns, since nothing is under way
		if fmt.Sprint(wanted) != fmt.Sprint(delivered) {
			t.Fatalf("wanted %v, delivered %v", wanted, delivered)
		}
	})
}
