package document

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strconv"
	"strings"
)

// Side says whose change counts where two were made at the same place.
type Side string

// The sides.
const (
	Neither Side = ""       // the place is told and nothing is decided
	Mine    Side = "mine"   // the change that comes later
	Theirs  Side = "theirs" // the one that is there already
)

// Join lays two changes of one document over each other: mine, from before to mine, and theirs, from before to theirs. All are
// JSON. What only one of them changed is as they made it. Objects are joined member by member, lists of things that have an
// identity (an id, or a device with a property) thing by thing, and other lists where the changed stretches do not touch.
//
// The clashes are the places that both changed, each in another way, as paths such as targets/2/value. There the document has
// what the side says; with [Neither], what theirs is, and the caller asks.
func Join(before, mine, theirs []byte, side Side) (joined []byte, clashes []string, err error) {
	j := joiner{side: side}
	var trees [3]any
	for i, text := range [][]byte{before, mine, theirs} {
		decoder := json.NewDecoder(bytes.NewReader(text))
		decoder.UseNumber()
		if err := decoder.Decode(&trees[i]); err != nil {
			return nil, nil, fmt.Errorf("joining documents: %w", err)
		}
	}
	both, there := j.value("", part{trees[0], true}, part{trees[1], true}, part{trees[2], true})
	if !there {
		both = nil
	}
	joined, err = json.Marshal(both)
	return joined, j.clashes, err
}

// part is a value of a document, or that there is none.
type part struct {
	value any
	there bool
}

func (p part) same(q part) bool {
	return p.there == q.there && reflect.DeepEqual(p.value, q.value)
}

type joiner struct {
	side    Side
	clashes []string
}

// value joins one value; there is none in the joined document where it is false.
func (j *joiner) value(path string, before, mine, theirs part) (value any, there bool) {
	switch {
	case mine.same(theirs), before.same(theirs):
		return mine.value, mine.there
	case before.same(mine):
		return theirs.value, theirs.there
	}
	if b, m, t, are := each[map[string]any](before, mine, theirs); are {
		return j.object(path, b, m, t), true
	}
	if b, m, t, are := each[[]any](before, mine, theirs); are {
		if value, could := j.list(path, b, m, t); could {
			return value, true
		}
	}
	j.clashes = append(j.clashes, path)
	if j.side == Mine {
		return mine.value, mine.there
	}
	return theirs.value, theirs.there
}

// each returns three parts as values of one type; before may be absent where both sides made a new one.
func each[T map[string]any | []any](before, mine, theirs part) (b, m, t T, are bool) {
	m, first := mine.value.(T)
	t, second := theirs.value.(T)
	b, third := before.value.(T)
	return b, m, t, first && second && (third || !before.there)
}

func at(path, name string) string { return strings.TrimPrefix(path+"/"+name, "/") }

func (j *joiner) object(path string, before, mine, theirs map[string]any) map[string]any {
	joined := map[string]any{}
	names := map[string]struct{}{}
	for _, o := range []map[string]any{before, mine, theirs} {
		for name := range o {
			names[name] = struct{}{}
		}
	}
	for _, name := range slices.Sorted(maps.Keys(names)) {
		if value, there := j.value(at(path, name), member(before, name), member(mine, name), member(theirs, name)); there {
			joined[name] = value
		}
	}
	return joined
}

func member(o map[string]any, name string) part {
	value, there := o[name]
	return part{value, there}
}

// list joins two changes of a list; it is false where they cannot be told apart.
func (j *joiner) list(path string, before, mine, theirs []any) ([]any, bool) {
	b, first := identities(before)
	m, second := identities(mine)
	t, third := identities(theirs)
	if !first || !second || !third {
		return stretches(before, mine, theirs)
	}
	order, could := ordered(b.order, m.order, t.order)
	if !could {
		return nil, false
	}
	joined := []any{}
	for _, id := range order {
		if value, there := j.value(at(path, m.place(id, t)), b.part(id), m.part(id), t.part(id)); there {
			joined = append(joined, value)
		}
	}
	return joined, true
}

// identified are the things of a list by what they are.
type identified struct {
	order []string
	of    map[string]any
}

func (i identified) part(id string) part { return member(i.of, id) }

// place is where a thing stands in a list, or in the other where it is not in this one.
func (i identified) place(id string, other identified) string {
	at := slices.Index(i.order, id)
	if at < 0 {
		at = slices.Index(other.order, id)
	}
	return strconv.Itoa(at)
}

// identities returns the things of a list by what they are; it is false where one has no identity, or two have the same.
func identities(list []any) (identified, bool) {
	all := identified{of: map[string]any{}}
	for _, one := range list {
		o, is := one.(map[string]any)
		if !is {
			return all, false
		}
		id, has := o["id"].(string)
		if !has {
			device, first := o["device"].(string)
			property, second := o["property"].(string)
			if _, step := o["kind"]; !first || !second || step {
				return all, false
			}
			id = device + "\n" + property
		}
		if _, twice := all.of[id]; twice {
			return all, false
		}
		all.order = append(all.order, id)
		all.of[id] = o
	}
	return all, true
}

// ordered returns the order of all things: that of the side which moved some, with what the other side added after the thing
// that it was added after. It is false where both moved some, each in another way.
func ordered(before, mine, theirs []string) ([]string, bool) {
	m, t := only(mine, theirs), only(theirs, mine)
	b := only(only(before, mine), theirs)
	lead, other := theirs, mine
	switch {
	case slices.Equal(m, t), slices.Equal(only(m, b), b):
	case slices.Equal(only(t, b), b):
		lead, other = mine, theirs
	default:
		return nil, false
	}
	order := slices.Clone(lead)
	for i, id := range other {
		if slices.Contains(order, id) {
			continue
		}
		place := 0
		if i > 0 {
			place = slices.Index(order, other[i-1]) + 1
		}
		order = slices.Insert(order, place, id)
	}
	return order, true
}

// only returns those of a list that another has, too.
func only(list, other []string) []string {
	return slices.DeleteFunc(slices.Clone(list), func(id string) bool { return !slices.Contains(other, id) })
}

// stretches joins two changes of a list of things without identity: each changed one stretch of it, from the first thing that
// differs to the last. It is false where the stretches touch.
func stretches(before, mine, theirs []any) ([]any, bool) {
	a, b := stretch(before, mine), stretch(before, theirs)
	switch {
	case a.to < b.from:
	case b.to < a.from:
		a, b = b, a
	default:
		return nil, false
	}
	return slices.Concat(before[:a.from], a.now, before[a.to:b.from], b.now, before[b.to:]), true
}

// changed is a stretch of a list, and what takes its place.
type changed struct {
	from, to int
	now      []any
}

func stretch(before, after []any) changed {
	from := 0
	for from < len(before) && from < len(after) && reflect.DeepEqual(before[from], after[from]) {
		from++
	}
	tail := 0
	for tail < len(before)-from && tail < len(after)-from && reflect.DeepEqual(before[len(before)-1-tail], after[len(after)-1-tail]) {
		tail++
	}
	return changed{from, len(before) - tail, after[from : len(after)-tail]}
}
