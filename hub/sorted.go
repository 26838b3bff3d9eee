package hub

import (
	"maps"
	"slices"
)

// sortedKeys returns the keys of a map in order, so that what is done for each is done in the same order each time.
func sortedKeys[T any](m map[string]T) []string { return slices.Sorted(maps.Keys(m)) }
