//go:build race

package hub_test

// raced says that the race detector is at work, which takes ten times as long: laws over documents are tried with a few then,
// and with all without it.
const raced = true
