// Package show keeps what browsers are shown of the home, as entries of JSON by kind and id, and tells what became different:
// an entry once it is there, then what changed of it (JSON Merge Patch, RFC 7396), with a number by which a browser that was
// away catches up. It computes no view itself and knows nothing of the home.
package show

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"sync"
	"time"
)

// Key names an entry: what kind of thing it is, its id, and of a part of it its name, such as a property of a device.
type Key struct{ Of, ID, Name string }

// Update is what became of an entry.
type Update struct {
	Of   string `json:"of" doc:"The kind of what changed."`
	ID   string `json:"id,omitempty"`
	Name string `json:"name,omitempty" doc:"Of a property: its name; the id is its device's."`
	// Put is the whole of an entry that was not there before, or of which too much changed.
	Put json.RawMessage `json:"put,omitempty" doc:"The whole of it, where it is new or much of it changed."`
	// Patch is what changed of it.
	Patch json.RawMessage `json:"patch,omitempty" doc:"What changed of it: a JSON Merge Patch (RFC 7396)."`
	Gone  bool            `json:"gone,omitempty"`
	// View is what the entry was made of, for readers in this process.
	View any `json:"-"`
}

// Key returns which entry changed.
func (c *Update) Key() Key { return Key{c.Of, c.ID, c.Name} }

// entry is what an entry is shown as, where it stands among those of its id, and what it is called.
type entry struct {
	key   Key
	text  []byte
	place int
	title string
}

// Placed is a view that stands at a place among those of its id.
type Placed interface{ Place() int }

// Titled is a view that has a title, by which lists are sorted.
type Titled interface{ ShownTitle() string }

// Board keeps the entries. Touch, Later, Due and Take belong to one goroutine, Put to one
// that may be another; all else may be called from any.
type Board struct {
	many  []string // kinds of which there are so many that not all can be looked at in one go
	few   map[Key]struct{}
	dirty map[Key]struct{} // those of many
	later map[Key]time.Time

	mu      sync.Mutex
	entries map[string]map[Key]*entry // by what they are of
	order   map[string][]*entry       // of each kind by ids, places and names; absent where that is to be found out anew
	number  uint64
}

// NewBoard returns a board without entries. Of the kinds of which there are many a few are looked at in one go; changes of
// all others at one moment are told together.
func NewBoard(many ...string) *Board {
	return &Board{
		many: many, few: map[Key]struct{}{}, dirty: map[Key]struct{}{}, later: map[Key]time.Time{},
		entries: map[string]map[Key]*entry{}, order: map[string][]*entry{},
	}
}

// Touch says that an entry may have changed.
func (b *Board) Touch(k Key) {
	b.of(k)[k] = struct{}{}
	delete(b.later, k)
}

func (b *Board) of(k Key) map[Key]struct{} {
	if slices.Contains(b.many, k.Of) {
		return b.dirty
	}
	return b.few
}

// TouchAll says so of every entry of a kind.
func (b *Board) TouchAll(of string) {
	b.mu.Lock()
	defer b.mu.Unlock()
	for k := range b.entries[of] {
		b.of(k)[k] = struct{}{}
	}
}

// Later says that an entry may have changed in a way that can wait until a time: what goes with every reading, for example.
func (b *Board) Later(k Key, at time.Time) {
	if _, soon := b.of(k)[k]; soon {
		return
	}
	if _, waits := b.later[k]; !waits {
		b.later[k] = at
	}
}

// Due makes what waited until a time be looked at, all of it where everything is wanted, and reports whether anything is.
func (b *Board) Due(now time.Time, everything bool) bool {
	for k, at := range b.later {
		if everything || !at.After(now) {
			b.Touch(k)
		}
	}
	return len(b.few)+len(b.dirty) > 0
}

// Waits returns how many entries may have changed.
func (b *Board) Waits() int { return len(b.few) + len(b.dirty) + len(b.later) }

// Waiting returns when the next of what can wait is due.
func (b *Board) Waiting() (at time.Time, waits bool) {
	for _, t := range b.later {
		if !waits || t.Before(at) {
			at, waits = t, true
		}
	}
	return at, waits
}

// Taken is an entry that may have changed, as it is now; its view is nil where there is no such entry any more.
type Taken struct {
	Key  Key
	View any
}

// Take takes entries that may have changed as they are now: all, but of those of which there are many as long as it may take.
// It is quick, since views are only made; what became of the entries is found out by [Board.Put], which may be done elsewhere.
func (b *Board) Take(budget time.Duration, view func(Key) any) (taken []Taken) {
	began := time.Now()
	for k := range b.few {
		delete(b.few, k)
		taken = append(taken, Taken{k, view(k)})
	}
	for k := range b.dirty {
		delete(b.dirty, k)
		taken = append(taken, Taken{k, view(k)})
		if time.Since(began) >= budget {
			break
		}
	}
	return taken
}

// Put puts entries on the board as they were taken, and returns which of them changed. What was taken first is to be put first.
func (b *Board) Put(taken []Taken) (changes []Update, err error) {
	for _, t := range taken {
		c, is, failed := b.put(t.Key, t.View)
		if failed != nil {
			err = errors.Join(err, failed)
		} else if is {
			changes = append(changes, c)
		}
	}
	return changes, err
}

func (b *Board) put(k Key, view any) (c Update, is bool, err error) {
	c = Update{Of: k.Of, ID: k.ID, Name: k.Name, View: view}
	var text []byte
	if view != nil {
		if text, err = json.Marshal(view); err != nil {
			return c, false, fmt.Errorf("putting %v: %w", k, err)
		}
	}
	b.mu.Lock()
	var before []byte
	standing, there := b.entries[k.Of][k]
	if there {
		before = standing.text
	}
	b.mu.Unlock()
	switch {
	case view == nil && !there:
		return c, false, nil
	case view == nil:
		c.Gone = true
	case !there:
		c.Put = text
	default:
		patch, could := Patch(before, text)
		switch {
		case could && patch == nil:
			return c, false, nil
		case could && len(patch) < len(text):
			c.Patch = patch
		default:
			c.Put = text
		}
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	b.number++
	if view == nil {
		delete(b.entries[k.Of], k)
		delete(b.order, k.Of)
		return c, true, nil
	}
	now := &entry{key: k, text: text}
	if placed, is := view.(Placed); is {
		now.place = placed.Place()
	}
	if titled, is := view.(Titled); is {
		now.title = titled.ShownTitle()
	}
	if b.entries[k.Of] == nil {
		b.entries[k.Of] = map[Key]*entry{}
	}
	if there && standing.place == now.place {
		*standing = *now // it keeps its place in the order
	} else {
		b.entries[k.Of][k] = now
		delete(b.order, k.Of)
	}
	return c, true, nil
}

// Next counts a change that is told and not kept, and returns its number.
func (b *Board) Next() uint64 {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.number++
	return b.number
}

// Number is that of the newest change.
func (b *Board) Number() uint64 {
	b.mu.Lock()
	defer b.mu.Unlock()
	return b.number
}

// Shown is an entry as it is shown.
type Shown struct {
	Key  Key
	Text []byte
	// Title is what it is called, where it is called anything.
	Title string
}

// All returns the entries of a kind as they were last looked at, in the order of their ids and, of one id, of their
// places and names, and the number of the newest change that they contain.
func (b *Board) All(of string) (all []Shown, number uint64) {
	b.mu.Lock()
	defer b.mu.Unlock()
	order, known := b.order[of]
	if !known {
		order = slices.Collect(maps.Values(b.entries[of]))
		slices.SortFunc(order, func(x, y *entry) int {
			return cmp.Or(strings.Compare(x.key.ID, y.key.ID), cmp.Compare(x.place, y.place), strings.Compare(x.key.Name, y.key.Name))
		})
		b.order[of] = order
	}
	all = make([]Shown, len(order))
	for i, e := range order {
		all[i] = Shown{e.key, e.text, e.title}
	}
	return all, b.number
}
