package store

import "math"

// The spans into which readings are rolled up as they are written, in seconds. Days are put together of them when they are
// read, since a day begins where the home's clock says.
const (
	spanTen  = 600
	spanHour = 3600
	day      = 86400
)

var spans = [...]int64{spanTen, spanHour}

// unknown stands among the readings for that nothing is known from there on: the device fell silent. No reading is infinite.
var unknown = math.Inf(1)

func isKnown(value float64) bool { return !math.IsInf(value, 1) }

// bucket is what is known of a span of time.
type bucket struct {
	at            int64 // where the span begins, in milliseconds since 1970
	some          bool  // whether anything is known
	least, most   float64
	area, seconds float64
	// held is the value with which the span ended; unknown where nothing was known then.
	held float64
}

// touch takes a value that was there, for however short a time.
func (b *bucket) touch(value float64) {
	if !b.some {
		b.some, b.least, b.most = true, value, value
	}
	b.least, b.most = min(b.least, value), max(b.most, value)
}

// add takes a value that was there for some seconds.
func (b *bucket) add(value, seconds float64) {
	if !isKnown(value) || seconds <= 0 {
		return
	}
	b.touch(value)
	b.area += value * seconds
	b.seconds += seconds
}

func (b *bucket) merge(c *bucket) {
	if !c.some {
		return
	}
	b.touch(c.least)
	b.touch(c.most)
	b.area += c.area
	b.seconds += c.seconds
}

// mean returns the mean over the time for which the value was known.
func (b *bucket) mean() float64 {
	if b.seconds == 0 {
		return b.most // it was there for no time
	}
	return b.area / b.seconds
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

// rolling is a series being written: its last reading, and the spans that it is in. It belongs to the writer. A value holds
// until the next reading, however long that takes: spans in which nothing comes have no row, since what was held into them
// is in the row before.
type rolling struct {
	id      int64
	known   bool // whether there is a last reading
	last    int64
	value   float64 // unknown once the device fell silent
	behind  bool    // readings older than the last have come, the oldest at from
	from    int64
	buckets [len(spans)]bucket
}

// roll takes the next reading of a series, and hands the spans that it closes to write.
func (r *rolling) roll(at int64, value float64, write func(span int64, b bucket)) {
	if !r.known {
		r.begin(at, unknown)
	}
	for i, span := range spans {
		b := &r.buckets[i]
		if next := b.at + span*1000; at >= next {
			b.add(r.value, float64(next-r.last)/1000)
			b.held = r.value
			write(span, *b)
			*b = bucket{at: floor(at, span)}
			b.add(r.value, float64(at-b.at)/1000)
		} else {
			b.add(r.value, float64(at-r.last)/1000)
		}
		if isKnown(value) {
			b.touch(value)
		}
	}
	r.last, r.value = at, value
}

// begin takes up a series at a moment, with the value that it has then.
func (r *rolling) begin(at int64, value float64) {
	r.known, r.last, r.value = true, at, value
	for i, span := range spans {
		r.buckets[i] = bucket{at: floor(at, span)}
	}
}
