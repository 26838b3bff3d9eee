// Package sessions knows which browsers were let in, and lets them in: by a password, by a code that an owner shows, or by the
// code of the machine itself. It decides nothing of what they may then do, and knows people by their ids alone.
package sessions

import (
	"bytes"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"slices"
	"sync"
	"time"

	"amvek/store"
)

const (
	// unusedFor is how long a session may lie unused until it is over.
	unusedFor = 180 * 24 * time.Hour
	// usedEvery is how often it is kept that a session is used.
	usedEvery = time.Minute
	// secretBytes is how long the secret of a session is.
	secretBytes = 32
	// eachAtMost is how many browsers a person may be in with: the one that was used longest ago makes room.
	eachAtMost = 50
	// deviceAtMost is how much is kept of what a browser says of itself.
	deviceAtMost = 120
)

// Kept is where sessions and passwords are kept.
type Kept interface {
	Sessions(ctx context.Context) ([]store.Session, error)
	PutSession(ctx context.Context, one store.Session) error
	DropSessions(ctx context.Context, keys [][]byte) error
	Secret(ctx context.Context, name string) (string, error)
	PutSecret(ctx context.Context, name, secret string) error
}

// Session is a browser that was let in, as others see it.
type Session struct {
	// ID names it; it is not what lets anybody in.
	ID      string    `json:"id"`
	Person  string    `json:"person"`
	LooksAs string    `json:"looksAs,omitempty"`
	Device  string    `json:"device"`
	Address string    `json:"address"`
	Began   time.Time `json:"began"`
	Used    time.Time `json:"used"`
}

// Sessions are those of one hub. Its methods may be called from any goroutine.
type Sessions struct {
	kept Kept
	now  func() time.Time

	hashing chan struct{} // a place for each password that is worked on at once
	slow    slow

	passkeys sync.Mutex // held while those of somebody are read and written anew

	mu         sync.Mutex
	byKey      map[[sha256.Size]byte]*store.Session
	codes      map[[sha256.Size]byte]invitation
	ceremonies map[string]ceremony
}

// Open reads the sessions that there are; now is the machine's clock.
func Open(ctx context.Context, kept Kept, now func() time.Time) (*Sessions, error) {
	all, err := kept.Sessions(ctx)
	if err != nil {
		return nil, err
	}
	s := &Sessions{
		kept: kept, now: now, hashing: make(chan struct{}, hashedAtOnce), slow: slow{now: now},
		byKey: map[[sha256.Size]byte]*store.Session{}, codes: map[[sha256.Size]byte]invitation{},
	}
	for _, one := range all {
		if len(one.Key) == sha256.Size {
			s.byKey[[sha256.Size]byte(one.Key)] = &one
		}
	}
	return s, nil
}

// Begin lets a browser in as a person, and returns the secret that it is to show.
func (s *Sessions) Begin(ctx context.Context, person, device, address string) (secret string, err error) {
	random := make([]byte, secretBytes)
	_, _ = rand.Read(random) // never fails
	secret = base64.RawURLEncoding.EncodeToString(random)
	key, now := sha256.Sum256([]byte(secret)), s.now()
	if len(device) > deviceAtMost {
		device = device[:deviceAtMost]
	}
	one := store.Session{Key: key[:], Person: person, Device: device, Address: address, Began: now, Used: now}
	if err := s.kept.PutSession(ctx, one); err != nil {
		return "", err
	}
	s.mu.Lock()
	s.byKey[key] = &one
	s.mu.Unlock()
	return secret, s.makeRoom(ctx, person)
}

// makeRoom ends the sessions of a person that were used longest ago, where they have too many.
func (s *Sessions) makeRoom(ctx context.Context, person string) error {
	count := 0
	for _, one := range s.All() { // those last used first
		if one.Person != person {
			continue
		}
		if count++; count > eachAtMost {
			if err := s.End(ctx, one.ID); err != nil {
				return err
			}
		}
	}
	return nil
}

// Known reports whether a secret is that of a session, without taking it for a use.
func (s *Sessions) Known(secret string) bool {
	if secret == "" {
		return false
	}
	key := sha256.Sum256([]byte(secret))
	s.mu.Lock()
	defer s.mu.Unlock()
	_, there := s.byKey[key]
	return there
}

// Find returns the session whose secret a browser shows, used from an address; it is false where there is none.
func (s *Sessions) Find(ctx context.Context, secret, address string) (Session, bool) {
	if secret == "" {
		return Session{}, false
	}
	key, now := sha256.Sum256([]byte(secret)), s.now()
	s.mu.Lock()
	one, there := s.byKey[key]
	if !there {
		s.mu.Unlock()
		return Session{}, false
	}
	if now.Sub(one.Used) > unusedFor {
		s.mu.Unlock()
		_ = s.end(ctx, func(o *store.Session) bool { return bytes.Equal(o.Key, key[:]) })
		return Session{}, false
	}
	var keep store.Session
	one.Address = address
	if now.Sub(one.Used) > usedEvery || now.Before(one.Used) {
		one.Used = now
		keep = *one
	}
	view := viewOf(one)
	s.mu.Unlock()
	if keep.Key != nil {
		_ = s.kept.PutSession(ctx, keep) // what is lost is when it was last used
	}
	return view, true
}

// LookAs has an owner look through somebody's eyes for now; "" is their own again.
func (s *Sessions) LookAs(ctx context.Context, id, person string) error {
	s.mu.Lock()
	var changed *store.Session
	for _, one := range s.byKey {
		if idOf(one.Key) == id {
			one.LooksAs = person
			copied := *one
			changed = &copied
		}
	}
	s.mu.Unlock()
	if changed == nil {
		return nil
	}
	return s.kept.PutSession(ctx, *changed)
}

// All returns all sessions, those last used first.
func (s *Sessions) All() []Session {
	s.mu.Lock()
	defer s.mu.Unlock()
	all := make([]Session, 0, len(s.byKey))
	for _, one := range s.byKey {
		all = append(all, viewOf(one))
	}
	slices.SortFunc(all, func(a, b Session) int {
		if c := b.Used.Compare(a.Used); c != 0 {
			return c
		}
		return bytes.Compare([]byte(a.ID), []byte(b.ID))
	})
	return all
}

// End ends a session by its id.
func (s *Sessions) End(ctx context.Context, id string) error {
	return s.end(ctx, func(one *store.Session) bool { return idOf(one.Key) == id })
}

// EndOf ends all sessions of a person, but one where its id is given.
func (s *Sessions) EndOf(ctx context.Context, person, but string) error {
	return s.end(ctx, func(one *store.Session) bool { return one.Person == person && idOf(one.Key) != but })
}

func (s *Sessions) end(ctx context.Context, which func(*store.Session) bool) error {
	var keys [][]byte
	s.mu.Lock()
	for key, one := range s.byKey {
		if which(one) {
			keys = append(keys, one.Key)
			delete(s.byKey, key)
		}
	}
	s.mu.Unlock()
	if len(keys) == 0 {
		return nil
	}
	return s.kept.DropSessions(ctx, keys)
}

func viewOf(one *store.Session) Session {
	return Session{
		ID: idOf(one.Key), Person: one.Person, LooksAs: one.LooksAs, Device: one.Device, Address: one.Address, Began: one.Began, Used: one.Used,
	}
}

// idOf names a session by the beginning of its key, which does not let anybody in.
func idOf(key []byte) string { return hex.EncodeToString(key[:min(8, len(key))]) }
