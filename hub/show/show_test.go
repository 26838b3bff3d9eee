package show_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/hub/show"
)

// merge applies a JSON Merge Patch as RFC 7396 §2 says.
func merge(target, patch any) any {
	p, is := patch.(map[string]any)
	if !is {
		return patch
	}
	t, is := target.(map[string]any)
	if !is {
		t = map[string]any{}
	}
	merged := map[string]any{}
	for name, value := range t {
		merged[name] = value
	}
	for name, value := range p {
		if value == nil {
			delete(merged, name)
		} else {
			merged[name] = merge(merged[name], value)
		}
	}
	return merged
}

func random(chance *rand.Rand, depth int) any {
	switch chance.IntN(6) {
	case 0:
		return nil
	case 1:
		return float64(chance.IntN(3))
	case 2:
		return fmt.Sprint(chance.IntN(3))
	case 3:
		return []any{float64(chance.IntN(2)), nil}
	default:
		o := map[string]any{}
		for _, name := range []string{"a", "b", "c"} {
			if depth > 0 && chance.IntN(3) > 0 {
				o[name] = random(chance, depth-1)
			}
		}
		return o
	}
}

// A patch, where there is one, makes of what was what is.
func TestAPatchTurnsWhatWasIntoWhatIs(t *testing.T) {
	chance := rand.New(rand.NewPCG(3, 5))
	patched := 0
	for range 20_000 {
		was, is := random(chance, 3), random(chance, 3)
		before, err := json.Marshal(was)
		require.NoError(t, err)
		after, err := json.Marshal(is)
		require.NoError(t, err)
		patch, could := show.Patch(before, after)
		if !could {
			continue
		}
		if patch == nil {
			require.Equal(t, was, is)
			continue
		}
		patched++
		var p any
		require.NoError(t, json.Unmarshal(patch, &p))
		require.Equal(t, is, merge(was, p), "%s to %s by %s", before, after, patch)
	}
	assert.Greater(t, patched, 1000)
}

func TestAPatchHasOnlyWhatChanged(t *testing.T) {
	for _, c := range []struct {
		before, after, patch string
		could                bool
	}{
		{`{"a":1,"b":{"c":2,"d":3}}`, `{"a":1,"b":{"c":2,"d":4}}`, `{"b":{"d":4}}`, true},
		{`{"a":1,"b":2}`, `{"a":1}`, `{"b":null}`, true},
		{`{"a":[1,2]}`, `{"a":[1,3]}`, `{"a":[1,3]}`, true},
		{`{"a":1}`, `{"a":1}`, ``, true},
		{`{"a":1}`, `{"a":null}`, ``, false},
		{`{"a":1}`, `{"a":{"b":null}}`, ``, false},
		{`[1]`, `[2]`, ``, false},
	} {
		patch, could := show.Patch([]byte(c.before), []byte(c.after))
		assert.Equal(t, c.could, could, c.after)
		assert.Equal(t, c.patch, string(patch), c.after)
	}
}

type view struct {
	Title string `json:"title"`
	Value int    `json:"value"`
	place int
}

func (v view) Place() int { return v.place }

func TestTheBoardTellsWhatBecameOfEntries(t *testing.T) {
	board := show.NewBoard()
	now := map[show.Key]any{}
	look := func() []show.Update {
		changes, err := board.Put(board.Take(time.Hour, func(k show.Key) any { return now[k] }))
		require.NoError(t, err)
		return changes
	}
	a, b := show.Key{Of: "device", ID: "a"}, show.Key{Of: "property", ID: "a", Name: "on"}
	now[a] = view{Title: "Lamp", Value: 1}
	board.Touch(a)
	board.Touch(b)
	changes := look()
	require.Len(t, changes, 1, "what is not there is not told")
	assert.JSONEq(t, `{"title":"Lamp","value":1}`, string(changes[0].Put))
	assert.Empty(t, look(), "nobody touched anything")

	now[a] = view{Title: "Lamp", Value: 2}
	assert.Empty(t, look())
	board.Touch(a)
	changes = look()
	require.Len(t, changes, 1)
	assert.JSONEq(t, `{"value":2}`, string(changes[0].Patch))
	assert.Nil(t, changes[0].Put)
	number := board.Number()
	board.Touch(a)
	assert.Empty(t, look(), "touched, and as it was")
	assert.Equal(t, number, board.Number())

	delete(now, a)
	board.TouchAll("device")
	changes = look()
	require.Len(t, changes, 1)
	assert.True(t, changes[0].Gone)
	all, _ := board.All("device")
	assert.Empty(t, all)
}

// However little time there is, what changed at one moment is told together, but of kinds of which there are many.
func TestChangesOfFewAreToldTogether(t *testing.T) {
	board := show.NewBoard("property")
	for i := range 50 {
		board.Touch(show.Key{Of: "room", ID: fmt.Sprint(i)})
		board.Touch(show.Key{Of: "property", ID: fmt.Sprint(i)})
	}
	rooms, rounds := 0, 0
	for board.Due(time.Now(), false) {
		taken := board.Take(time.Nanosecond, func(show.Key) any { return view{} })
		if rounds++; rounds == 1 {
			rooms = len(taken)
		}
		if rounds > 1 {
			break
		}
	}
	assert.GreaterOrEqual(t, rooms, 50)
	assert.Less(t, rooms, 100)
}

func TestEntriesOfOneIDStandInTheirPlaces(t *testing.T) {
	board := show.NewBoard()
	for i, name := range []string{"z", "m", "a"} {
		k := show.Key{Of: "property", ID: "one", Name: name}
		board.Touch(k)
		_, err := board.Put(board.Take(time.Hour, func(show.Key) any { return view{Title: name, place: i} }))
		require.NoError(t, err)
	}
	all, number := board.All("property")
	var names []string
	for _, e := range all {
		names = append(names, e.Key.Name)
	}
	assert.Equal(t, []string{"z", "m", "a"}, names)
	assert.Equal(t, uint64(3), number)
}

func TestWhatCanWaitIsLookedAtOnceItIsDue(t *testing.T) {
	board, now := show.NewBoard(), time.Now()
	k := show.Key{Of: "device", ID: "a"}
	board.Later(k, now.Add(2*time.Second))
	board.Later(k, now.Add(5*time.Second)) // the first word counts
	assert.False(t, board.Due(now, false))
	at, waits := board.Waiting()
	assert.True(t, waits)
	assert.Equal(t, now.Add(2*time.Second), at)
	assert.True(t, board.Due(now.Add(3*time.Second), false))
	_, waits = board.Waiting()
	assert.False(t, waits)
	board.Later(k, now.Add(time.Hour)) // looked at soon anyway
	_, waits = board.Waiting()
	assert.False(t, waits)
	other := show.Key{Of: "device", ID: "b"}
	board.Later(other, now.Add(time.Hour))
	board.Due(now, true)
	seen := map[show.Key]bool{}
	board.Take(time.Hour, func(k show.Key) any { seen[k] = true; return nil })
	assert.True(t, seen[k] && seen[other])
}

func said(of string) []show.Update {
	return []show.Update{{Of: of, Put: json.RawMessage(`{}`)}}
}

func text(t *testing.T, s *show.Subscription, frame *show.Frame) show.Message {
	t.Helper()
	data, err := s.Text(frame)
	require.NoError(t, err)
	var m show.Message
	if data != nil {
		require.NoError(t, json.Unmarshal(data, &m))
	}
	return m
}

func TestWhoComesBackGetsWhatWasMissedOrBeginsAnew(t *testing.T) {
	feed := show.NewFeed("run", func() {})
	first := feed.Subscribe(show.Audience{}, "", 0)
	assert.True(t, first.Anew)
	feed.Publish(1, said("a"))
	feed.Publish(3, said("b"))
	assert.Equal(t, uint64(3), text(t, first, last(first)).Number)
	first.Close()
	feed.Publish(4, said("c"))

	back := feed.Subscribe(show.Audience{}, "run", 3)
	defer back.Close()
	assert.False(t, back.Anew)
	data, err := back.First()
	require.NoError(t, err)
	var m show.Message
	require.NoError(t, json.Unmarshal(data, &m))
	assert.Equal(t, uint64(4), m.Number)
	require.Len(t, m.Changes, 1)
	assert.Equal(t, "c", m.Changes[0].Of)

	for _, stranger := range []*show.Subscription{feed.Subscribe(show.Audience{}, "another run", 4), feed.Subscribe(show.Audience{}, "run", 0)} {
		assert.True(t, stranger.Anew)
		stranger.Close()
	}
	for n := range uint64(5000) {
		feed.Publish(5+n, said("d"))
		for len(back.C) > 0 {
			<-back.C
		}
	}
	tooLong := feed.Subscribe(show.Audience{}, "run", 4)
	assert.True(t, tooLong.Anew, "frames are not kept without bound")
	tooLong.Close()
}

// last returns the newest frame that waits.
func last(s *show.Subscription) (frame *show.Frame) {
	for len(s.C) > 0 {
		frame = <-s.C
	}
	return frame
}

// However much changed at once, what is kept for those who come back is bounded.
func TestWhatIsKeptForThoseWhoComeBackIsBounded(t *testing.T) {
	feed := show.NewFeed("run", func() {})
	here := feed.Subscribe(show.Audience{}, "", 0)
	defer here.Close()
	large := []show.Update{{Of: "a", Put: json.RawMessage(`"` + strings.Repeat("x", 1<<20) + `"`)}}
	for n := range uint64(100) {
		feed.Publish(n+1, large)
		last(here)
	}
	recent, long := feed.Subscribe(show.Audience{}, "run", 98), feed.Subscribe(show.Audience{}, "run", 50)
	defer recent.Close()
	defer long.Close()
	assert.False(t, recent.Anew)
	assert.Len(t, recent.Missed, 2)
	assert.True(t, long.Anew)
}

func TestEachAudienceGetsItsOwnEncodedOnce(t *testing.T) {
	feed := show.NewFeed("run", func() {})
	onlyA := show.Audience{Name: "a", May: func(k show.Key) bool { return k.Of == "a" }}
	one, two, all := feed.Subscribe(onlyA, "", 0), feed.Subscribe(onlyA, "", 0), feed.Subscribe(show.Audience{}, "", 0)
	feed.Publish(2, append(said("a"), said("b")...))
	frame := <-one.C
	assert.Same(t, frame, <-two.C)
	first, err := one.Text(frame)
	require.NoError(t, err)
	second, err := two.Text(frame)
	require.NoError(t, err)
	assert.Same(t, &first[0], &second[0], "the same text")
	assert.Len(t, text(t, one, frame).Changes, 1)
	assert.Len(t, text(t, all, <-all.C).Changes, 2)
	feed.Publish(3, said("b"))
	nothing, err := one.Text(<-one.C)
	require.NoError(t, err)
	assert.Nil(t, nothing)
	one.For(show.Audience{})
	feed.Publish(4, said("b"))
	assert.Len(t, text(t, one, <-one.C).Changes, 1)
}

func TestWhoLagsIsLetGoAndHoldsUpNobody(t *testing.T) {
	feed := show.NewFeed("run", func() {})
	slow, fast := feed.Subscribe(show.Audience{}, "", 0), feed.Subscribe(show.Audience{}, "", 0)
	for n := range uint64(3000) {
		feed.Publish(n+1, said("a"))
		last(fast)
	}
	for range slow.C { // ends only when the feed has closed it
	}
	slow.Close()
	assert.True(t, feed.Listened())
}
