package sessions

import (
	"crypto/rand"
	"crypto/sha256"
	"strings"
	"time"
)

const (
	// CodeFor is how long a picture code lets somebody in.
	CodeFor = 5 * time.Minute
	// codeLetters is how many letters it has, of five bits each.
	codeLetters = 20
)

// invitation is what a picture code stands for.
type invitation struct {
	person string
	made   time.Time
}

// Invite makes a code by which one browser is let in as a person, within [CodeFor]; one that was made for them before is void.
func (s *Sessions) Invite(person string) (code string, until time.Time) {
	s.withdraw(person)
	code, now := strings.ToLower(rand.Text()[:codeLetters]), s.now()
	s.mu.Lock()
	defer s.mu.Unlock()
	s.codes[sha256.Sum256([]byte(code))] = invitation{person, now}
	return code, now.Add(CodeFor)
}

// Accept returns whom a code lets in; it does so once. Where the clock was set back meanwhile, it does not.
func (s *Sessions) Accept(code string) (person string, accepted bool) {
	key, now := sha256.Sum256([]byte(strings.ToLower(strings.TrimSpace(code)))), s.now()
	s.mu.Lock()
	defer s.mu.Unlock()
	for k, other := range s.codes {
		if since := now.Sub(other.made); since < 0 || since >= CodeFor {
			delete(s.codes, k)
		}
	}
	of, there := s.codes[key]
	delete(s.codes, key)
	return of.person, there
}

// withdraw voids the codes that were made for a person.
func (s *Sessions) withdraw(person string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for key, of := range s.codes {
		if of.person == person {
			delete(s.codes, key)
		}
	}
}
