//go:build !race

package engine_test

const raced = false
