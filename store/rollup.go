package store

import (
	"math"
	"time"
)

// The spans into which readings are rolled up as they are written, in seconds.
const (
	spanTen  = 600
	spanHour = 3600
	spanDay  = 86400
)

var spans = [...]int64{spanTen, spanHour, spanDay}

// heldFor is for how long a reading counts when none follows it: a property keeps its value until it says another,
// but of one that was not heard for long nothing is known.
const heldFor = 6 * time.Hour

// bucket is a roll-up in the making: the readings of one span of time.
type bucket struct {
	at            int64 // where the span begins, in milliseconds since 1970
	least, most   float64
	area, seconds float64
}

func (b *bucket) add(value, seconds float64) {
	if b.seconds == 0 {
		b.least, b.most = value, value
	}
	b.least, b.most = min(b.least, value), max(b.most, value)
	b.area += value * seconds
	b.seconds += seconds
}

func (b *bucket) merge(c *bucket) {
	if c.seconds == 0 {
		return
	}
	if b.seconds == 0 {
		b.least, b.most = c.least, c.most
	}
	b.least, b.most = min(b.least, c.least), max(b.most, c.most)
	b.area += c.area
	b.seconds += c.seconds
}

// floor returns where the span begins that a moment is in.
func floor(at, span int64) int64 {
	span *= 1000
	begin := at / span * span
	if begin > at {
		begin -= span
	}
	return begin
}

// rolling is a series being written: its last reading, and the spans that it is in. It belongs to the writer.
type rolling struct {
	id      int64
	known   bool // whether there is a last reading
	last    int64
	value   float64
	behind  bool // readings older than the last have come, the oldest at from
	from    int64
	buckets [len(spans)]bucket
}

// roll takes the next reading of a series, and hands the spans that it closes to write, shortest first.
func (r *rolling) roll(at int64, value float64, write func(span int64, b bucket) error) error {
	if r.known {
		if err := r.hold(at, write); err != nil {
			return err
		}
	} else {
		for i, span := range spans {
			r.buckets[i] = bucket{at: floor(at, span)}
		}
	}
	// A value that lasts for no time counts as one that was there.
	r.buckets[0].add(value, 0.001)
	r.known, r.last, r.value = true, at, value
	return nil
}

// hold lets the last value count up to a moment, span by span.
func (r *rolling) hold(until int64, write func(span int64, b bucket) error) error {
	end := min(until, r.last+heldFor.Milliseconds())
	for from := r.last; ; {
		b := &r.buckets[0]
		next := b.at + spanTen*1000
		if upTo := min(end, next); upTo > from {
			b.add(r.value, float64(upTo-from)/1000)
			from = upTo
		}
		if until < next {
			return nil
		}
		begin := next
		if from >= end {
			begin = floor(until, spanTen) // nothing is known of the spans between
		}
		if err := r.close(begin, write); err != nil {
			return err
		}
	}
}

// close writes the present span, and those above that end with it, and begins another.
func (r *rolling) close(begin int64, write func(span int64, b bucket) error) error {
	for i := range spans {
		b := &r.buckets[i]
		next := floor(begin, spans[i])
		if next == b.at {
			return nil
		}
		if b.seconds > 0 {
			if err := write(spans[i], *b); err != nil {
				return err
			}
			if i+1 < len(spans) {
				r.buckets[i+1].merge(b)
			}
		}
		*b = bucket{at: next}
	}
	return nil
}

// mean returns the mean over the time for which the value was known.
func (b *bucket) mean() float64 {
	if b.seconds == 0 {
		return math.NaN()
	}
	return b.area / b.seconds
}
