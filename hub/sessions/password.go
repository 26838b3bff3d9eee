package sessions

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"unicode/utf8"

	"golang.org/x/crypto/argon2"
)

// ShortestPassword and LongestPassword are how many characters a password has (NIST SP 800-63B §3.1.1.2).
const (
	ShortestPassword = 8
	LongestPassword  = 200
)

// What argon2id costs: 19 MiB, two passes (OWASP Password Storage).
const (
	hashMemory   = 19 << 10 // KiB
	hashPasses   = 2
	hashThreads  = 1
	hashBytes    = 32
	saltBytes    = 16
	hashedAtOnce = 2
)

// ErrPassword is that a password is too short or too long.
var ErrPassword = fmt.Errorf("a password has from %d to %d characters", ShortestPassword, LongestPassword)

var encoding = base64.RawStdEncoding

// hash returns a password in the form of the reference implementation of Argon2 (RFC 9106).
func hash(password string) string {
	salt := make([]byte, saltBytes)
	_, _ = rand.Read(salt) // never fails
	key := argon2.IDKey([]byte(password), salt, hashPasses, hashMemory, hashThreads, hashBytes)
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, hashMemory, hashPasses, hashThreads,
		encoding.EncodeToString(salt), encoding.EncodeToString(key))
}

// matches reports whether a password is the one that was hashed.
func matches(hashed, password string) (bool, error) {
	var version, memory, passes int
	var threads uint8
	var rest string
	if _, err := fmt.Sscanf(hashed, "$argon2id$v=%d$m=%d,t=%d,p=%d$%s", &version, &memory, &passes, &threads, &rest); err != nil {
		return false, errors.New("the password that is kept cannot be read")
	}
	salted, keyed, _ := strings.Cut(rest, "$")
	salt, err := encoding.DecodeString(salted)
	if err != nil {
		return false, errors.New("the password that is kept cannot be read")
	}
	key, err := encoding.DecodeString(keyed)
	if err != nil || len(key) == 0 || version != argon2.Version || memory < 8 || memory > 1<<20 || passes < 1 || passes > 100 || threads == 0 {
		return false, errors.New("the password that is kept cannot be read")
	}
	given := argon2.IDKey([]byte(password), salt, uint32(passes), uint32(memory), threads, uint32(len(key)))
	return subtle.ConstantTimeCompare(given, key) == 1, nil
}

// nobody is what a password is compared with of somebody who is not there, so that an answer takes as long.
var nobody = hash("nobody has this one")

// SetPassword gives a person a password.
func (s *Sessions) SetPassword(ctx context.Context, person, password string) error {
	if n := utf8.RuneCountInString(password); n < ShortestPassword || n > LongestPassword {
		return ErrPassword
	}
	if err := s.place(ctx); err != nil {
		return err
	}
	hashed := hash(password)
	<-s.hashing
	return s.kept.PutSecret(ctx, passwordOf(person), hashed)
}

// Forget takes a person's password and passkeys away, and ends their sessions.
func (s *Sessions) Forget(ctx context.Context, person string) error {
	if err := s.EndOf(ctx, person, ""); err != nil {
		return err
	}
	s.withdraw(person)
	s.passkeys.Lock()
	defer s.passkeys.Unlock()
	return errors.Join(s.kept.PutSecret(ctx, passwordOf(person), ""), s.kept.PutSecret(ctx, passkeysOf(person), ""))
}

// HasPassword reports whether a person has a password.
func (s *Sessions) HasPassword(ctx context.Context, person string) bool {
	hashed, err := s.kept.Secret(ctx, passwordOf(person))
	return err == nil && hashed != ""
}

// Right reports whether a person has this password; "" is nobody, who has none.
func (s *Sessions) Right(ctx context.Context, person, password string) (bool, error) {
	hashed := ""
	if person != "" {
		var err error
		if hashed, err = s.kept.Secret(ctx, passwordOf(person)); err != nil {
			return false, err
		}
	}
	if utf8.RuneCountInString(password) > LongestPassword {
		return false, nil
	}
	if err := s.place(ctx); err != nil {
		return false, err
	}
	defer func() { <-s.hashing }()
	if hashed == "" {
		_, _ = matches(nobody, password)
		return false, nil
	}
	return matches(hashed, password)
}

// place waits until a password may be worked on: each takes memory, and nobody is to take all of it.
func (s *Sessions) place(ctx context.Context) error {
	select {
	case s.hashing <- struct{}{}:
		return nil
	case <-ctx.Done():
		return ctx.Err()
	}
}

func passwordOf(person string) string { return "password of " + person }
