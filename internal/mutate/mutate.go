// Package mutate makes wrong documents out of right ones, for tests: not noise, which is refused at the first look, but
// documents that are almost as they should be. The same source of chance gives the same documents.
package mutate

import (
	"encoding/json"
	"math/rand/v2"
	"slices"
	"strings"
)

// Mutator changes documents at random, with parts of other documents.
type Mutator struct {
	chance *rand.Rand
	parts  []any
	keys   []string
}

// New returns a mutator that takes parts from the given documents, which must be JSON.
func New(seed uint64, documents ...[]byte) *Mutator {
	m := &Mutator{chance: rand.New(rand.NewPCG(seed, 7))}
	for _, d := range documents {
		var tree any
		if json.Unmarshal(d, &tree) == nil {
			m.collect(tree)
		}
	}
	slices.Sort(m.keys)
	m.keys = slices.Compact(m.keys)
	return m
}

func (m *Mutator) collect(v any) {
	m.parts = append(m.parts, v)
	switch v := v.(type) {
	case map[string]any:
		for _, key := range sorted(v) {
			m.keys = append(m.keys, key)
			m.collect(v[key])
		}
	case []any:
		for _, inner := range v {
			m.collect(inner)
		}
	}
}

func sorted(v map[string]any) []string {
	keys := make([]string, 0, len(v))
	for key := range v {
		keys = append(keys, key)
	}
	slices.Sort(keys)
	return keys
}

// extremes are values at the edges of what a field may be.
var extremes = []any{
	nil,
	true,
	false,
	0.0,
	-1.0,
	1e-12,
	0.5,
	1e9,
	-1e9,
	1e300,
	604800.0,
	604801.0,
	"",
	" ",
	"member",
	"own",
	"x",
	strings.Repeat("a", 2001),
	"{",
	"{{",
	"\u0000",
	"1/0",
	"value(\"own\", \"mode\")",
	[]any{},
	map[string]any{},
}

// Document returns a document with one to four changes. It is JSON, and may be of any shape.
func (m *Mutator) Document(document []byte) []byte {
	var tree any
	if json.Unmarshal(document, &tree) != nil {
		return document
	}
	for range 1 + m.chance.IntN(4) {
		tree = m.change(tree)
	}
	changed, err := json.Marshal(tree)
	if err != nil {
		return document
	}
	return changed
}

// change changes a value, or something within it.
func (m *Mutator) change(v any) any {
	switch v := v.(type) {
	case map[string]any:
		if len(v) > 0 && m.chance.IntN(5) > 0 {
			keys := sorted(v)
			key := keys[m.chance.IntN(len(keys))]
			v[key] = m.change(v[key])
			return v
		}
		switch key := m.keys[m.chance.IntN(len(m.keys))]; m.chance.IntN(3) {
		case 0:
			delete(v, key)
		case 1:
			v[key] = m.any()
		default:
			if keys := sorted(v); len(keys) > 0 {
				v[key] = v[keys[m.chance.IntN(len(keys))]]
			}
		}
		return v
	case []any:
		if len(v) > 0 && m.chance.IntN(4) > 0 {
			i := m.chance.IntN(len(v))
			v[i] = m.change(v[i])
			return v
		}
		switch m.chance.IntN(4) {
		case 0:
			return append(v, m.any())
		case 1:
			return append(v, v...)
		case 2:
			return v[:len(v)/2]
		default:
			m.chance.Shuffle(len(v), func(i, j int) { v[i], v[j] = v[j], v[i] })
			return v
		}
	default:
		return m.any()
	}
}

// any returns a part of some document, or an extreme.
func (m *Mutator) any() any {
	if m.chance.IntN(3) == 0 {
		return extremes[m.chance.IntN(len(extremes))]
	}
	part := m.parts[m.chance.IntN(len(m.parts))]
	if m.chance.IntN(8) == 0 { // deep within itself
		for range m.chance.IntN(70) {
			part = []any{part}
		}
	}
	return copied(part)
}

// copied returns a copy, so that a change of it does not change what it was taken from.
func copied(v any) any {
	data, err := json.Marshal(v)
	if err != nil {
		return nil
	}
	var copy any
	_ = json.Unmarshal(data, &copy)
	return copy
}
