//go:build race

package engine_test

// raced says that the race detector is at work, which takes ten times as long.
const raced = true
