//go:build race

package store_test

import "flag"

// Under the race detector, which takes ten times as long, laws over what is stored are tried with a few; make test tries them with
// all without it.
func init() { _ = flag.Set("rapid.checks", "12") }
