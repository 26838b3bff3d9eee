package document_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/document"
)

func TestJoin(t *testing.T) {
	for name, c := range map[string]struct {
		before, mine, theirs, joined string
		clashes                      []string
	}{
		"different members": {
			`{"title":"A","note":"n"}`, `{"title":"B","note":"n"}`, `{"title":"A","note":"m"}`, `{"title":"B","note":"m"}`, nil,
		},
		"the same member": {
			`{"title":"A"}`, `{"title":"B"}`, `{"title":"C"}`, `{"title":"C"}`, []string{"title"},
		},
		"the same member to the same value": {
			`{"title":"A"}`, `{"title":"B"}`, `{"title":"B"}`, `{"title":"B"}`, nil,
		},
		"a member that one took away and the other left alone": {
			`{"title":"A","note":"n"}`, `{"title":"A"}`, `{"title":"B","note":"n"}`, `{"title":"B"}`, nil,
		},
		"a member that one took away and the other changed": {
			`{"title":"A","note":"n"}`, `{"title":"A"}`, `{"title":"A","note":"m"}`, `{"title":"A","note":"m"}`, []string{"note"},
		},
		"things with ids": {
			`{"c":[{"id":"a","x":1},{"id":"b","x":1}]}`,
			`{"c":[{"id":"a","x":2},{"id":"b","x":1},{"id":"m"}]}`,
			`{"c":[{"id":"t"},{"id":"a","x":1},{"id":"b","x":3}]}`,
			`{"c":[{"id":"t"},{"id":"a","x":2},{"id":"b","x":3},{"id":"m"}]}`, nil,
		},
		"a thing that one took away and the other changed": {
			`{"c":[{"id":"a","x":1}]}`, `{"c":[]}`, `{"c":[{"id":"a","x":2}]}`, `{"c":[{"id":"a","x":2}]}`, []string{"c/0"},
		},
		"one moved things, the other changed one": {
			`[{"id":"a"},{"id":"b"},{"id":"c"}]`, `[{"id":"c"},{"id":"a"},{"id":"b"}]`,
			`[{"id":"a"},{"id":"b","x":1},{"id":"c"}]`, `[{"id":"c"},{"id":"a"},{"id":"b","x":1}]`, nil,
		},
		"both moved things": {
			`[{"id":"a"},{"id":"b"},{"id":"c"}]`, `[{"id":"c"},{"id":"a"},{"id":"b"}]`,
			`[{"id":"b"},{"id":"a"},{"id":"c"}]`, `[{"id":"b"},{"id":"a"},{"id":"c"}]`, []string{""},
		},
		"values of a scene": {
			`{"targets":[{"device":"l","property":"on","value":1},{"device":"l","property":"ct","value":1}]}`,
			`{"targets":[{"device":"l","property":"on","value":2},{"device":"l","property":"ct","value":1}]}`,
			`{"targets":[{"device":"l","property":"on","value":1},{"device":"l","property":"ct","value":3}]}`,
			`{"targets":[{"device":"l","property":"on","value":2},{"device":"l","property":"ct","value":3}]}`, nil,
		},
		"stretches that do not touch": {
			`[1,2,3,4,5]`, `[9,2,3,4,5]`, `[1,2,3,4,5,6]`, `[9,2,3,4,5,6]`, nil,
		},
		"stretches that touch": {
			`[1,2,3]`, `[1,8,3]`, `[1,9,3]`, `[1,9,3]`, []string{""},
		},
		"both appended to a list": {
			`[1]`, `[1,2]`, `[1,3]`, `[1,3]`, []string{""},
		},
		"steps are not told apart by what they are about": {
			`[{"kind":"set","device":"l","property":"on","value":1}]`, `[{"kind":"set","device":"l","property":"on","value":2}]`,
			`[{"kind":"set","device":"l","property":"on","value":3}]`, `[{"kind":"set","device":"l","property":"on","value":3}]`, []string{""},
		},
		"both made the same new member, with different parts": {
			`{}`, `{"at":{"a":1}}`, `{"at":{"b":2}}`, `{"at":{"a":1,"b":2}}`, nil,
		},
		"large numbers stay as they were written": {
			`{"n":12345678901234567890,"t":"a"}`, `{"n":12345678901234567890,"t":"b"}`, `{"n":12345678901234567891,"t":"a"}`, `{"n":12345678901234567891,"t":"b"}`, nil,
		},
	} {
		t.Run(name, func(t *testing.T) {
			joined, clashes, err := document.Join([]byte(c.before), []byte(c.mine), []byte(c.theirs), document.Neither)
			require.NoError(t, err)
			assert.JSONEq(t, c.joined, string(joined))
			assert.Equal(t, c.clashes, clashes)
		})
	}
	_, _, err := document.Join([]byte(`{}`), []byte(`{`), []byte(`{}`), document.Neither)
	assert.Error(t, err)
}

// random returns a document of one of a few shapes, so that changes often meet.
func random(chance *rand.Rand) map[string]any {
	doc := map[string]any{}
	for _, name := range []string{"title", "note"} {
		if chance.IntN(3) > 0 {
			doc[name] = fmt.Sprint(chance.IntN(3))
		}
	}
	things := []any{}
	for _, id := range []string{"a", "b", "c", "d"} {
		if chance.IntN(3) > 0 {
			things = append(things, map[string]any{"id": id, "x": chance.IntN(2), "y": chance.IntN(2)})
		}
	}
	chance.Shuffle(len(things), func(i, k int) { things[i], things[k] = things[k], things[i] })
	doc["things"] = things
	plain := []any{}
	for range chance.IntN(4) {
		plain = append(plain, chance.IntN(3))
	}
	doc["plain"] = plain
	return doc
}

// Nobody's change is lost: what only one side changed is as that side made it, and what is not so is told as a clash.
func TestLawsOfJoining(t *testing.T) {
	chance := rand.New(rand.NewPCG(7, 11))
	text := func(doc any) []byte {
		data, err := json.Marshal(doc)
		require.NoError(t, err)
		return data
	}
	for range 5000 {
		before, mine, theirs := text(random(chance)), text(random(chance)), text(random(chance))
		join := func(m, th []byte, side document.Side) (string, []string) {
			joined, clashes, err := document.Join(before, m, th, side)
			require.NoError(t, err)
			return string(joined), clashes
		}
		alone, clashes := join(mine, before, document.Neither)
		require.JSONEq(t, string(mine), alone, "theirs changed nothing")
		require.Empty(t, clashes)
		alone, clashes = join(before, theirs, document.Neither)
		require.JSONEq(t, string(theirs), alone, "mine changed nothing")
		require.Empty(t, clashes)
		same, clashes := join(mine, mine, document.Neither)
		require.JSONEq(t, string(mine), same, "both did the same")
		require.Empty(t, clashes)

		ours, first := join(mine, theirs, document.Mine)
		yours, second := join(mine, theirs, document.Theirs)
		require.Equal(t, first, second, "who counts says nothing of where they clash")
		if len(first) == 0 {
			require.JSONEq(t, ours, yours)
		}
		// Each member by itself.
		var b, m, th, o map[string]any
		for data, into := range map[*map[string]any][]byte{&b: before, &m: mine, &th: theirs, &o: []byte(ours)} {
			require.NoError(t, json.Unmarshal(into, data))
		}
		for _, name := range []string{"title", "note"} {
			switch {
			case m[name] != b[name]:
				require.Equal(t, m[name], o[name], "mine counts")
			default:
				require.Equal(t, th[name], o[name], "only theirs changed it")
			}
		}
	}
}

func FuzzJoin(f *testing.F) {
	f.Add(`{"a":1}`, `{"a":2}`, `{"b":[{"id":"x"}]}`)
	f.Add(`[1,2]`, `[]`, `null`)
	f.Fuzz(func(t *testing.T, before, mine, theirs string) {
		joined, _, err := document.Join([]byte(before), []byte(mine), []byte(theirs), document.Mine)
		if err == nil {
			require.True(t, json.Valid(joined))
		}
	})
}
