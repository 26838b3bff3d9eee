package engine

import "amvek/core/thing"

// readAhead reads what the comparisons that a change turns are about to touch: their tests, their rules, and where each
// writes down what it became. A processor fetches these side by side, but would wait for each in turn where one comparison is
// made after the other (docs/decisions/0031-what-every-report-touches-stands-together.md). What it returns is only there so that the
// reading is not left out.
func readAhead(tests []dependent) (read int) {
	if len(tests) == 1 {
		return 0
	}
	for i := range tests {
		d := &tests[i]
		read += d.test.ReadAhead() + int(d.rule.oldest) + len(d.rule.flips)
	}
	for i := range tests {
		d := &tests[i]
		if flips := d.rule.flips; len(flips) == keptFlips {
			next := &flips[d.rule.oldest]
			read += len(next.Path) + len(next.Value.Text)
		}
		read += d.test.ReadAbove()
	}
	return read
}

// turns reports whether a comparison is to be made anew at a value.
func (d *dependent) turns(v *thing.Value) bool {
	return v.Kind != thing.KindNumber || v.Number < d.low || v.Number > d.high
}
