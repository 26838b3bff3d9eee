package links

import (
	"fmt"
	"testing"

	"pgregory.net/rapid"

	"amvek/core/engine"
	"amvek/core/thing"
)

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
