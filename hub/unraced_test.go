//go:build !race

package hub_test

const raced = false
