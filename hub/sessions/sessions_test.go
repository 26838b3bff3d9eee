package sessions_test

import (
	"context"
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/hub/sessions"
	"amvek/store"
)

// memory keeps what a store would.
type memory struct {
	mu      sync.Mutex
	all     map[string]store.Session
	secrets map[string]string
}

func (m *memory) Sessions(context.Context) ([]store.Session, error) {
	m.mu.Lock()
	defer m.mu.Unlock()
	all := []store.Session{}
	for _, one := range m.all {
		all = append(all, one)
	}
	return all, nil
}

func (m *memory) PutSession(_ context.Context, one store.Session) error {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.all[string(one.Key)] = one
	return nil
}

func (m *memory) DropSessions(_ context.Context, keys [][]byte) error {
	m.mu.Lock()
	defer m.mu.Unlock()
	for _, key := range keys {
		delete(m.all, string(key))
	}
	return nil
}

func (m *memory) Secret(_ context.Context, name string) (string, error) {
	m.mu.Lock()
	defer m.mu.Unlock()
	return m.secrets[name], nil
}

func (m *memory) PutSecret(_ context.Context, name, secret string) error {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.secrets[name] = secret
	return nil
}

type clock struct{ at time.Time }

func (c *clock) now() time.Time { return c.at }

func opened(t *testing.T) (*sessions.Sessions, *memory, *clock) {
	m, c := &memory{all: map[string]store.Session{}, secrets: map[string]string{}}, &clock{time.Date(2026, 11, 30, 12, 0, 0, 0, time.UTC)}
	s, err := sessions.Open(t.Context(), m, c.now)
	require.NoError(t, err)
	return s, m, c
}

func TestASessionIsFoundByItsSecretAloneAlsoAfterARestart(t *testing.T) {
	s, kept, c := opened(t)
	secret, err := s.Begin(t.Context(), "tove", strings.Repeat("browser ", 100), "192.168.1.7")
	require.NoError(t, err)
	other, err := s.Begin(t.Context(), "nell", "tablet", "192.168.1.8")
	require.NoError(t, err)
	assert.NotEqual(t, secret, other)
	for _, one := range kept.all {
		assert.NotContains(t, fmt.Sprint(one), secret, "what lets somebody in is not kept")
		assert.LessOrEqual(t, len(one.Device), 120)
	}
	s, err = sessions.Open(t.Context(), kept, c.now)
	require.NoError(t, err)
	found, there := s.Find(t.Context(), secret, "192.168.1.7")
	require.True(t, there)
	assert.Equal(t, "tove", found.Person)
	for _, wrong := range []string{"", "x", found.ID, secret + "A", strings.ToUpper(secret)} {
		_, there := s.Find(t.Context(), wrong, "192.168.1.7")
		assert.False(t, there, wrong)
	}

	require.NoError(t, s.LookAs(t.Context(), found.ID, "ada"))
	found, _ = s.Find(t.Context(), secret, "192.168.1.7")
	assert.Equal(t, "ada", found.LooksAs)

	require.NoError(t, s.End(t.Context(), found.ID))
	_, there = s.Find(t.Context(), secret, "192.168.1.7")
	assert.False(t, there)
	require.Len(t, s.All(), 1)
	require.NoError(t, s.EndOf(t.Context(), "nell", s.All()[0].ID))
	assert.Len(t, s.All(), 1, "all but this one")
	require.NoError(t, s.EndOf(t.Context(), "nell", ""))
	assert.Empty(t, s.All())
	assert.Empty(t, kept.all)
}

func TestASessionThatNobodyUsesIsOver(t *testing.T) {
	s, kept, c := opened(t)
	secret, err := s.Begin(t.Context(), "tove", "", "a")
	require.NoError(t, err)
	for range 3 {
		c.at = c.at.Add(179 * 24 * time.Hour)
		found, there := s.Find(t.Context(), secret, "b")
		require.True(t, there)
		assert.Equal(t, c.at, found.Used)
		assert.Equal(t, "b", found.Address)
	}
	c.at = c.at.Add(181 * 24 * time.Hour)
	_, there := s.Find(t.Context(), secret, "b")
	assert.False(t, there)
	assert.Empty(t, kept.all)
}

func TestAPersonHasSoManySessionsAtMost(t *testing.T) {
	s, _, c := opened(t)
	first, err := s.Begin(t.Context(), "tove", "", "")
	require.NoError(t, err)
	other, err := s.Begin(t.Context(), "nell", "", "")
	require.NoError(t, err)
	last := ""
	for range 50 {
		c.at = c.at.Add(time.Second)
		last, err = s.Begin(t.Context(), "tove", "", "")
		require.NoError(t, err)
	}
	assert.Len(t, s.All(), 51)
	_, there := s.Find(t.Context(), first, "")
	assert.False(t, there)
	for _, kept := range []string{other, last} {
		_, there := s.Find(t.Context(), kept, "")
		assert.True(t, there)
	}
}

func TestAPassword(t *testing.T) {
	s, kept, _ := opened(t)
	require.NoError(t, s.SetPassword(t.Context(), "tove", "under the weir"))
	assert.Contains(t, kept.secrets["password of tove"], "$argon2id$v=19$m=19456,t=2,p=1$")
	assert.True(t, s.HasPassword(t.Context(), "tove"))
	for _, c := range []struct {
		person, password string
		right            bool
	}{{"tove", "under the weir", true}, {"tove", "Under the weir", false}, {"tove", "", false}, {"nell", "under the weir", false}, {"", "nobody has this one", false}, {"tove", strings.Repeat("x", 1<<20), false}} {
		right, err := s.Right(t.Context(), c.person, c.password)
		require.NoError(t, err)
		assert.Equal(t, c.right, right, "%s %.20s", c.person, c.password)
	}
	for _, wrong := range []string{"", "1234567", strings.Repeat("x", 201)} {
		assert.ErrorIs(t, s.SetPassword(t.Context(), "tove", wrong), sessions.ErrPassword)
	}
	assert.NoError(t, s.SetPassword(t.Context(), "tove", "ßßßßßßßß"), "characters are counted, not bytes")
	for _, damaged := range []string{"x", "$argon2id$v=19$m=4000000,t=2,p=1$AAAA$AAAA", "$argon2id$v=19$m=64,t=1,p=0$AAAA$AAAA", "$argon2id$v=19$m=64,t=1,p=1$AAAA$"} {
		kept.secrets["password of tove"] = damaged
		_, err := s.Right(t.Context(), "tove", "under the weir")
		assert.Error(t, err, damaged)
	}
	secret, err := s.Begin(t.Context(), "tove", "", "")
	require.NoError(t, err)
	code, _ := s.Invite("tove")
	require.NoError(t, s.Forget(t.Context(), "tove"))
	assert.False(t, s.HasPassword(t.Context(), "tove"))
	_, there := s.Find(t.Context(), secret, "")
	assert.False(t, there)
	_, accepted := s.Accept(code)
	assert.False(t, accepted)
}

func TestACodeLetsInOnceWithinFiveMinutes(t *testing.T) {
	s, _, c := opened(t)
	first, until := s.Invite("tove")
	assert.Equal(t, c.at.Add(5*time.Minute), until)
	code, _ := s.Invite("tove")
	nells, _ := s.Invite("nell")
	_, accepted := s.Accept(first)
	assert.False(t, accepted, "a newer one was made")
	person, accepted := s.Accept(" " + strings.ToUpper(code) + "\n")
	assert.True(t, accepted)
	assert.Equal(t, "tove", person)
	_, accepted = s.Accept(code)
	assert.False(t, accepted, "it was used")
	c.at = c.at.Add(5 * time.Minute)
	_, accepted = s.Accept(nells)
	assert.False(t, accepted, "it is late")

	code, _ = s.Invite("tove")
	c.at = c.at.Add(-time.Hour)
	_, accepted = s.Accept(code)
	assert.False(t, accepted, "the clock was set back")
	_, accepted = s.Accept("")
	assert.False(t, accepted)
}

func TestWrongOnesAreSlowedByWhomTheyAreForAndFromWhereTheyCome(t *testing.T) {
	s, _, c := opened(t)
	there, elsewhere, here := sessions.From{Address: "192.168.1.9"}, sessions.From{Address: "192.168.1.10"}, sessions.From{Address: "127.0.0.1", Here: true}
	for range 3 {
		require.NoError(t, s.Slowed("tove", there))
		s.Wrong("tove", there)
	}
	var slowed *sessions.SlowedError
	require.ErrorAs(t, s.Slowed("tove", there), &slowed)
	assert.Equal(t, time.Second, slowed.For)
	assert.EqualError(t, slowed, "There were too many wrong ones. Try again in a second.")
	assert.Error(t, s.Slowed("tove", elsewhere), "by whom it is for")
	assert.Error(t, s.Slowed("nell", there), "by where it comes from")
	assert.NoError(t, s.Slowed("nell", elsewhere))
	assert.NoError(t, s.Slowed("tove", here), "the owner at the machine itself is not kept out by others")

	c.at = c.at.Add(time.Second)
	assert.NoError(t, s.Slowed("tove", there))
	for range 20 {
		s.Wrong("tove", there)
	}
	require.ErrorAs(t, s.Slowed("tove", there), &slowed)
	assert.Equal(t, 15*time.Minute, slowed.For)
	assert.EqualError(t, slowed, "There were too many wrong ones. Try again in 15 minutes.")
	s.WasRight("tove", elsewhere)
	assert.NoError(t, s.Slowed("tove", elsewhere))
	assert.Error(t, s.Slowed("tove", there))
	for range 100 {
		s.Wrong("tove", here)
	}
	require.ErrorAs(t, s.Slowed("tove", here), &slowed)
	assert.Equal(t, 4*time.Second, slowed.For)
	c.at = c.at.Add(2 * time.Hour)
	assert.NoError(t, s.Slowed("tove", there))
	assert.Equal(t, 1, s.Wrong("tove", there), "what is long ago does not count")
}

func TestManyAddressesDoNotMakeItForgetWhomTheWrongOnesAreFor(t *testing.T) {
	s, _, _ := opened(t)
	for i := range 12_000 {
		s.Wrong("tove", sessions.From{Address: fmt.Sprint(i)})
	}
	assert.Error(t, s.Slowed("tove", sessions.From{Address: "new"}))
}
